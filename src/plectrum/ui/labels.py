"""Labels whose look comes from the style sheet by their role."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel


def label(role: str, text: str = "", *, wrap: bool = False) -> QLabel:
    """A plain-text label; `role` is its name in the style sheet."""
    made = QLabel(text)
    made.setObjectName(role)
    made.setWordWrap(wrap)
    made.setTextFormat(Qt.TextFormat.PlainText)
    return made
