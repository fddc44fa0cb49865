"""What is larger than the screen gives way: windows open within it, and what needs more scrolls."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QObject, QSize, Qt
from PySide6.QtWidgets import QFrame, QScrollArea, QWidget

from plectrum.ui.look import theme

LEAST = QSize(320, 160)  # what a part of the window asks for at most, in pixels of any scale
FRAME = QSize(16, 48)  # what the border and title bar of a window take (own default)
FOOT_SHARE = 0.45  # of the height there is, what controls below may take (own default)


def open_within(window: QWidget, size: QSize) -> None:
    """Open a window at a size, or as large as its screen has room for.

    Args:
        size: in pixels at the scale of 100 %.
    """
    wanted = QSize(theme.px(size.width()), theme.px(size.height()))
    within(window, wanted)


def within(window: QWidget, wanted: QSize) -> None:
    """The same with a size in pixels as they are."""
    window.resize(wanted.boundedTo(window.screen().availableSize() - FRAME))


class Yielding(QScrollArea):
    """Holds a widget that asks for more room than there may be: then it scrolls."""

    def __init__(self, inner: QWidget | None = None) -> None:
        super().__init__()
        self.setObjectName("yielding")
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setWidgetResizable(True)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        if inner is not None:
            self.setWidget(inner)

    def minimumSizeHint(self) -> QSize:
        inner = self.widget()
        wanted = LEAST if inner is None else inner.minimumSizeHint()
        return wanted.boundedTo(LEAST)


class Foot(Yielding):
    """Controls below what they control: as high as they need, up to a share of the height there is;
    beyond it they scroll, so that neither is ever out of sight."""

    def __init__(self, inner: QWidget) -> None:
        super().__init__(inner)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        inner.installEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if watched is self.widget() and event.type() == QEvent.Type.LayoutRequest:
            self.fit()
        return super().eventFilter(watched, event)

    def fit(self) -> None:
        """Be as high as is needed; called when the height there is has changed."""
        inner, parent = self.widget(), self.parentWidget()
        if inner is not None and parent is not None:
            needed = inner.heightForWidth(self.viewport().width())
            self.setFixedHeight(min(needed, round(parent.height() * FOOT_SHARE)))
