"""The slim bar at the left: the screens there are, in the order of the work."""

from __future__ import annotations

from collections.abc import Sequence
from importlib import resources

from PySide6.QtCore import QByteArray, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QFontMetrics, QIcon, QPainter, QPixmap
from PySide6.QtSvg import QSvgRenderer
from PySide6.QtWidgets import QButtonGroup, QToolButton, QVBoxLayout, QWidget

from plectrum.core.wording import say
from plectrum.ui.look import theme
from plectrum.ui.look.room import Yielding
from plectrum.ui.shell.screens import ScreenKind

ICON_PX = 26


def themed_icon(name: str, pixels: int, colour: str) -> QIcon:
    """An icon of our own set in a colour of the theme."""
    file = resources.files("plectrum.ui.look.icons").joinpath(f"{name}.svg")
    svg = file.read_text("utf-8").replace("currentColor", colour)
    picture = QPixmap(pixels * 2, pixels * 2)
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    QSvgRenderer(QByteArray(svg.encode())).render(painter, QRectF(picture.rect()))
    painter.end()
    picture.setDevicePixelRatio(2.0)
    return QIcon(picture)


class Rail(Yielding):
    """One button a screen; Ctrl+1 and on choose them too."""

    chosen = Signal(str)

    def __init__(self, screens: Sequence[ScreenKind]) -> None:
        """Make the rail.

        Args:
            screens: in their order.
        """
        super().__init__()
        inner = QWidget()
        inner.setObjectName("rail")
        inner.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._keys = [kind.key for kind in screens]
        self._group = QButtonGroup(self)
        column = QVBoxLayout(inner)
        column.setContentsMargins(0, 8, 0, 8)
        column.setSpacing(2)
        self.buttons: list[QToolButton] = []
        for k, title in enumerate(kind.title for kind in screens):
            button = QToolButton()
            button.setObjectName("screen")
            button.setText(title)
            button.setCheckable(True)
            button.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextUnderIcon)
            button.setToolTip(say("{title}  (Ctrl+{number})", title=title, number=k + 1))
            button.setAccessibleName(say("{title} screen", title=title))
            self._group.addButton(button, k)
            column.addWidget(button)
            self.buttons.append(button)
        column.addStretch(1)
        self.setWidget(inner)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._group.idClicked.connect(lambda k: self.chosen.emit(self._keys[k]))
        self.fit()

    def fit(self) -> None:
        """Size and colours of the present theme and scale."""
        metrics = QFontMetrics(self.buttons[0].font())
        longest = max(metrics.horizontalAdvance(button.text()) for button in self.buttons)
        width = max(theme.px(75), longest + theme.px(14))
        self.setFixedWidth(width + theme.px(1))
        for icon, button in zip(self._keys, self.buttons, strict=True):
            button.setFixedWidth(width)
            button.setIconSize(QSize(theme.px(ICON_PX), theme.px(ICON_PX)))
            ink = theme.colours().ink.name()
            button.setIcon(themed_icon(icon, theme.px(ICON_PX), ink))

    def show_chosen(self, key: str) -> None:
        self.buttons[self._keys.index(key)].setChecked(True)
