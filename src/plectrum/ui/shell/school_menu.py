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
from plectrum.core.wording import say, tr
from plectrum.ui.editing.session import Session
from plectrum.ui.shell.my_bowing import MyBowing


class SchoolMenu(QMenu):
    """Shows the document's answers and replans when another is chosen."""

    def __init__(
        self, session: Session, my_bowing: MyBowing, parent: QWidget | None = None
    ) -> None:
        super().__init__(tr("&School"), parent)
        self._session = session
        self._my_bowing = my_bowing
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
        self.addSeparator()
        self.addMenu(self._bowing_menu())
        session.planned.connect(self._show)

    def _bowing_menu(self) -> QMenu:
        """What the teacher's own plans have taught."""
        mine, menu = self._my_bowing, QMenu(tr("&My bowing"), self)
        self.use_mine = menu.addAction(tr("&Use it in this plan"))
        self.use_mine.setCheckable(True)
        self.use_mine.triggered.connect(mine.use)
        menu.addSeparator()
        menu.addAction(tr("&Learn it from kept plans …"), mine.ask_learn)
        self.explain_mine = menu.addAction(tr("What it &changes …"), mine.explain)
        menu.addAction(tr("What &print has taught …"), mine.explain_print)
        self.forget_mine = menu.addAction(tr("&Forget it, and bow as print does …"), mine.forget)
        menu.aboutToShow.connect(self._show_mine)
        return menu

    def _show_mine(self) -> None:
        """It may have been learnt, or forgotten, since the menu was last open."""
        document, mine = self._session.document, self._my_bowing
        self.use_mine.setChecked(document is not None and document.choices.bowing is not None)
        self.use_mine.setEnabled(document is not None and mine.is_there)
        self.explain_mine.setEnabled(mine.is_there)
        self.forget_mine.setEnabled(mine.is_there)

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
        self.amount.setAccessibleName(tr("How many slurs, fewer to more"))
        for widget in (QLabel(tr("fewer")), self.amount, QLabel(tr("more"))):
            row.addWidget(widget)
        self.amount.valueChanged.connect(self._choose_amount)
        action = QWidgetAction(menu)
        action.setDefaultWidget(whole)
        return action

    def _choose_amount(self, amount: int) -> None:
        document = self._session.document
        if document is not None and document.choices.slur_amount != amount:
            self._session.edit(
                lambda choices: replace(choices, slur_amount=amount),
                say("slurs, {amount} of 100", amount=amount),
            )

    def _choose(self, question: str, answer: StrEnum, _checked: bool = False) -> None:
        self._session.edit(
            lambda choices: choices.with_school(question, answer),
            say("school, {answer}", answer=self._actions[question, answer].text()),
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
