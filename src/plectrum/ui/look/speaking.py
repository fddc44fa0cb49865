"""What a screen reader is told of pictures: their description, and what has changed in it."""

from __future__ import annotations

from PySide6.QtGui import QAccessible, QAccessibleAnnouncementEvent
from PySide6.QtWidgets import QWidget


def describe(widget: QWidget, words: str, place: object = None) -> None:
    """Describe a picture in words; while it has the focus, what is new is spoken at once.

    Args:
        place: what the words are of; the same words of another place are new.
    """
    if (words, place) == (widget.accessibleDescription(), widget.property("spoken_of")):
        return
    widget.setProperty("spoken_of", place)
    widget.setAccessibleDescription(words)
    if words and QAccessible.isActive() and widget.hasFocus():
        QAccessible.updateAccessibility(QAccessibleAnnouncementEvent(widget, words))
