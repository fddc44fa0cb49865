"""The School menu: the six questions on which teachers differ, one answer each."""

from __future__ import annotations

from enum import StrEnum
from functools import partial

from PySide6.QtGui import QAction, QActionGroup
from PySide6.QtWidgets import QMenu, QWidget

from plectrum.core.player.school import QUESTIONS
from plectrum.ui.editing.session import Session


class SchoolMenu(QMenu):
    """Shows the document's answers and replans when another is chosen."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__("&School", parent)
        self._session = session
        self._actions: dict[tuple[str, StrEnum], QAction] = {}
        for question, title, answers in QUESTIONS:
            menu = self.addMenu(title)
            group = QActionGroup(menu)
            for answer, words in answers.items():
                action = menu.addAction(words)
                action.setCheckable(True)
                group.addAction(action)
                action.triggered.connect(partial(self._choose, question, answer))
                self._actions[question, answer] = action
        session.planned.connect(self._show)

    def _choose(self, question: str, answer: StrEnum, _checked: bool = False) -> None:
        self._session.edit(
            lambda choices: choices.with_school(question, answer), f"school, {question} {answer}"
        )

    def _show(self, _changed: tuple[int, ...]) -> None:
        document = self._session.document
        if document is None:
            return
        for (question, answer), action in self._actions.items():
            action.setChecked(getattr(document.choices.school, question) == answer)
