"""What a screen reader is told of pictures: their description, and what has changed in it."""

from __future__ import annotations

from PySide6.QtCore import QObject
from PySide6.QtGui import QAccessible, QAccessibleAnnouncementEvent, QAccessibleInterface
from PySide6.QtWidgets import QAccessibleWidget, QComboBox, QWidget


class Question(QAccessibleWidget):
    """A list to choose from, named by what it asks: the toolkit names it by its answer."""

    def __init__(self, asked: QComboBox) -> None:
        super().__init__(asked, QAccessible.Role.ComboBox)
        self._asked = asked

    def text(self, kind: QAccessible.Text) -> str:
        if kind == QAccessible.Text.Value:
            return self._asked.currentText()
        return super().text(kind)


def name_questions() -> None:
    """From now on every list to choose from is named by its question."""
    QAccessible.installFactory(_question)


def _question(_kind: str, asked: QObject) -> QAccessibleInterface | None:
    return Question(asked) if isinstance(asked, QComboBox) else None


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
