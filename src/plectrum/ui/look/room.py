"""What is larger than the screen gives way: windows open within it, and what needs more scrolls."""

from __future__ import annotations

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QFrame, QScrollArea, QWidget

from plectrum.ui.look import theme

LEAST = QSize(320, 160)  # what a part of the window asks for at most, in pixels of any scale
FRAME = QSize(16, 48)  # what the border and title bar of a window take (own default)


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
        if inner is not None:
            self.setWidget(inner)

    def minimumSizeHint(self) -> QSize:
        inner = self.widget()
        wanted = LEAST if inner is None else inner.minimumSizeHint()
        return wanted.boundedTo(LEAST)
