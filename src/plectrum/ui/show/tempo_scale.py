"""The slider of the practice tempo, with the plan's tempo window marked on it."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSlider, QWidget

from plectrum.core.playing.practice_tempo import FASTEST_RATIO, SLOWEST_RATIO
from plectrum.core.wording import say, tr
from plectrum.ui.look import theme

HANDLE = 8.0


class TempoScale(QSlider):
    """Per cent of the plan's own tempo; the green stretch is where the plan stays as it is."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(Qt.Orientation.Horizontal, parent)
        self.setRange(round(SLOWEST_RATIO * 100), round(FASTEST_RATIO * 100))
        self.setValue(100)
        self.setSingleStep(1)
        self.setPageStep(10)
        self._window: tuple[float, float] | None = None
        self.setAccessibleName(tr("Tempo, per cent of the plan's own"))
        self.setToolTip(
            tr("Tempo from 30 to 120 %; in the green stretch the bow plan stays as it is")
        )

    def sizeHint(self) -> QSize:
        return QSize(theme.px(230), theme.px(30))

    def minimumSizeHint(self) -> QSize:
        return QSize(theme.px(140), theme.px(30))

    def set_window(self, low_ratio: float, high_ratio: float) -> None:
        """Where the plan stays as it is, in parts of its own tempo."""
        self._window = (low_ratio, high_ratio)
        self.setAccessibleDescription(
            say(
                "The plan plays as it is from {low_ratio:.0%} to {high_ratio:.0%}.",
                low_ratio=low_ratio,
                high_ratio=high_ratio,
            )
        )
        self.update()

    def clear_window(self) -> None:
        self._window = None
        self.setAccessibleDescription(tr("The plan plays at no tempo as it is."))
        self.update()

    def x_of(self, percent: float) -> float:
        """x of a tempo."""
        left, right = theme.px(HANDLE) + 2, self.width() - theme.px(HANDLE) - 2
        share = (percent - self.minimum()) / (self.maximum() - self.minimum())
        return left + min(1.0, max(0.0, share)) * (right - left)

    def paintEvent(self, event: QPaintEvent) -> None:
        now = theme.colours()
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        y, thick = self.height() / 2, theme.px(8)
        left, right = self.x_of(self.minimum()), self.x_of(self.maximum())
        painter.setPen(QPen(now.edge, 1))
        painter.setBrush(now.field)
        painter.drawRoundedRect(QRectF(left, y - thick / 2, right - left, thick), 4, 4)
        if self._window is not None:
            a, b = (self.x_of(100 * r) for r in self._window)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(now.good_wash)
            painter.drawRect(QRectF(a, y - thick / 2, b - a, thick))
            painter.setPen(QPen(now.muted, 2))
            for x in (a, b):
                painter.drawLine(QPointF(x, y - thick), QPointF(x, y + thick))
        painter.setPen(QPen(now.muted, 1))
        x = self.x_of(100)
        painter.drawLine(QPointF(x, y + thick / 2), QPointF(x, y + thick + 2))
        painter.setPen(QPen(now.ink if self.hasFocus() else now.paper, 2))
        painter.setBrush(now.accent)
        painter.drawEllipse(QPointF(self.x_of(self.value()), y), theme.px(HANDLE), theme.px(HANDLE))
        painter.end()

    def mousePressEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        self._take(event.position().x())
        event.accept()

    def mouseMoveEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        self._take(event.position().x())
        event.accept()

    def _take(self, x: float) -> None:
        left, right = self.x_of(self.minimum()), self.x_of(self.maximum())
        share = min(1.0, max(0.0, (x - left) / (right - left)))
        self.setValue(round(self.minimum() + share * (self.maximum() - self.minimum())))
