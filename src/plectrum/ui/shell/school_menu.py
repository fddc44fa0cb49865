"""The School menu: the questions on which teachers differ, one answer each."""

from __future__ import annotations

from dataclasses import replace
from enum import StrEnum
from functools import partial

from PySide6.QtCore import QSignalBlocker, Qt
from PySide6.QtGui import QAction, QActionGroup
from PySide6.QtWidgets import QHBoxLayout, QLabel, QMenu, QSlider, QWidget, QWidgetAction

from plectrum.core.document.choices import SLUR_AMOUNT_MOST
from plectrum.core.player.school import QUESTIONS, SlurSchool
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
            if question == "slurs":
                menu.addSeparator()
                menu.addAction(self._amount_action(menu))
        session.planned.connect(self._show)

    def _amount_action(self, menu: QMenu) -> QWidgetAction:
        """A slider from fewer slurs to more."""
        whole = QWidget(menu)
        row = QHBoxLayout(whole)
        self.amount = QSlider(Qt.Orientation.Horizontal)
        self.amount.setRange(0, SLUR_AMOUNT_MOST)
        self.amount.setSingleStep(10)
        self.amount.setPageStep(10)
        self.amount.setTickInterval(10)
        self.amount.setTickPosition(QSlider.TickPosition.TicksBelow)
        self.amount.setAccessibleName("How many slurs, fewer to more")
        for widget in (QLabel("fewer"), self.amount, QLabel("more")):
            row.addWidget(widget)
        self.amount.valueChanged.connect(self._choose_amount)
        action = QWidgetAction(menu)
        action.setDefaultWidget(whole)
        return action

    def _choose_amount(self, amount: int) -> None:
        document = self._session.document
        if document is not None and document.choices.slur_amount != amount:
            self._session.edit(
                lambda choices: replace(choices, slur_amount=amount), f"slurs, {amount} of 100"
            )

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
        self.amount.setEnabled(document.choices.school.slurs is SlurSchool.SONG)
        with QSignalBlocker(self.amount):
            self.amount.setValue(document.choices.slur_amount)
