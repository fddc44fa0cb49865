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


def scrolling(inner: QWidget, role: str = "panelscroll", holds: str = "") -> QScrollArea:
    """A frameless area in which a widget scrolls up and down.

    Args:
        holds: the name of what is read in it, to be scrolled by keys; empty where it holds
            controls, which take the keys themselves.
    """
    area = QScrollArea()
    area.setObjectName(role)
    area.setWidget(inner)
    area.setWidgetResizable(True)
    area.setFrameShape(QFrame.Shape.NoFrame)
    area.setFocusPolicy(Qt.FocusPolicy.StrongFocus if holds else Qt.FocusPolicy.NoFocus)
    area.setAccessibleName(holds)
    return area
