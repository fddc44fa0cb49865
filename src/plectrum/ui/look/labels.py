"""Labels and panels whose look comes from the style sheet by their role."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFrame, QLabel, QScrollArea, QWidget


def label(role: str, text: str = "", *, wrap: bool = False) -> QLabel:
    """A plain-text label; `role` is its name in the style sheet."""
    made = QLabel(text)
    made.setObjectName(role)
    made.setWordWrap(wrap)
    made.setTextFormat(Qt.TextFormat.PlainText)
    return made


def set_side_width(area: QScrollArea, wanted_px: int) -> None:
    """A side panel is as wide as wanted, or wider where a language has longer words."""
    inner, bar = area.widget(), area.verticalScrollBar().sizeHint().width()
    needed = inner.minimumSizeHint().width() + bar if inner is not None else 0
    area.setFixedWidth(max(wanted_px, needed))


def scrolling(inner: QWidget, role: str = "panelscroll") -> QScrollArea:
    """A frameless area in which a widget scrolls up and down."""
    area = QScrollArea()
    area.setObjectName(role)
    area.setWidget(inner)
    area.setWidgetResizable(True)
    area.setFrameShape(QFrame.Shape.NoFrame)
    return area
