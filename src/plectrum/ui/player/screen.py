"""The Player screen: whose bow it is, what the player can do, and what each of it changes."""

from __future__ import annotations

import json
from dataclasses import replace
from functools import partial
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import (
    QComboBox,
    QGridLayout,
    QGroupBox,
    QHBoxLayout,
    QInputDialog,
    QLabel,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from plectrum.core.advice.care import LIMITS_CAUTION
from plectrum.core.advice.comparison import compare
from plectrum.core.document.choices import Choices
from plectrum.core.document.rebase import rebased
from plectrum.core.errors import PlayerError, PlectrumError
from plectrum.core.instrument.bow import Bow
from plectrum.core.instrument.specification import SIZES
from plectrum.core.planning.plan import Plan
from plectrum.core.player.player import STAGES, Player, stage
from plectrum.core.player.player_file import player_from_json
from plectrum.core.player.records import NamedPlayer
from plectrum.core.player.school import QUESTIONS
from plectrum.core.wording import in_words, say, sentence_like, tr
from plectrum.ui.desk.desk import Desk
from plectrum.ui.desk.screen import Screen
from plectrum.ui.look import theme
from plectrum.ui.look.flow_layout import FlowLayout
from plectrum.ui.look.labels import label, scrolling
from plectrum.ui.look.plain import tip
from plectrum.ui.player.bow_editor import BowEditor, BowSetup
from plectrum.ui.player.boxes import AbilitiesBox, LimitsBox, set_quietly, spin_box
from plectrum.ui.player.miniature import Miniature

WIDTH = 348


class PlayerScreen(Screen):
    """Shows the document's player, bow and school; every change replans."""

    def __init__(self, desk: Desk, parent: QWidget | None = None) -> None:
        super().__init__(desk, parent)
        self.shelf = desk.shelf
        self._shown: Plan | None = None
        self._before: Plan | None = None
        self.who = QComboBox()
        self.who.setAccessibleName(tr("Player"))
        self.keep = QPushButton(tr("&Keep as …"))
        self.forget = QPushButton(tr("&Forget"))
        self.about = label("muted", wrap=True)
        self.bow = BowEditor()
        self.limits = LimitsBox()
        self.abilities = AbilitiesBox()
        self.schools: dict[str, QComboBox] = {}
        self.miniature = Miniature()
        self.change = label("why", wrap=True)
        self._lay_out()
        self._connect()
        self._fill_players()

    # building

    def _lay_out(self) -> None:
        inner = QWidget()
        column = QVBoxLayout(inner)
        column.setContentsMargins(20, 14, 20, 20)
        column.setSpacing(12)
        column.addLayout(self._top_row())
        column.addWidget(self.about)
        column.addWidget(self._bow_box())
        column.addWidget(self.limits)
        column.addWidget(self.abilities)
        column.addWidget(self._school_box())
        column.addWidget(label("muted", LIMITS_CAUTION, wrap=True))
        column.addStretch(1)
        scroll = scrolling(inner, "plain")
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(scroll, 1)
        row.addWidget(self._side())
        self.fit()

    def _side(self) -> QWidget:
        panel = QWidget()
        panel.setObjectName("panel")
        column = QVBoxLayout(panel)
        column.setContentsMargins(16, 12, 16, 16)
        column.setSpacing(6)
        column.addWidget(label("notetitle", tr("The tune for this player")))
        column.addWidget(
            label("muted", tr("Dotted: how it went before the last change."), wrap=True)
        )
        column.addWidget(self.miniature)
        column.addWidget(label("section", tr("WHAT THE LAST CHANGE DID")))
        column.addWidget(self.change)
        column.addStretch(1)
        self.side = scrolling(panel)
        self.side.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        return self.side

    def catch_up(self) -> None:
        self._forget_before()
        self._show()

    @property
    def focus_target(self) -> QWidget:
        return self.bow

    def refresh_look(self) -> None:
        self.fit()

    def fit(self) -> None:
        """As wide as the interface scale wants it."""
        self.side.setFixedWidth(theme.px(WIDTH))
        self.bow.updateGeometry()
        self.miniature.updateGeometry()

    def _top_row(self) -> FlowLayout:
        row = FlowLayout(gap=8)
        name = QLabel(tr("&Player"))
        name.setBuddy(self.who)
        row.addWidget(name)
        row.addWidget(self.who)
        row.addWidget(self.keep)
        row.addWidget(self.forget)
        return row

    def _bow_box(self) -> QWidget:
        box = QGroupBox(tr("The bow"))
        column = QVBoxLayout(box)
        column.addWidget(self.bow)
        row = FlowLayout(gap=8)
        self.bow_size = QComboBox()
        self.bow_size.setAccessibleName(tr("Size of the instrument and its bow"))
        for size in SIZES:
            self.bow_size.addItem(size, size)
        self.hair = spin_box(tr(" mm hair"), 100, 1000, 1, 0, tr("Length of the hair"))
        self.mass = spin_box(" g", 10, 400, 1, 0, tr("Mass of the bow"))
        name = QLabel(tr("Si&ze"))
        name.setBuddy(self.bow_size)
        self.add_tape = QPushButton(tr("Add a &tape"))
        self.remove_tape = QPushButton(tr("&Remove it"))
        self.whose = label("muted")
        for widget in (self.whose, name, self.bow_size, self.hair, self.mass):
            row.addWidget(widget)
        for button in (self.add_tape, self.remove_tape):
            button.setObjectName("small")
            row.addWidget(button)
        column.addLayout(row)
        hint = tr(
            "Drag the tapes, the balance point (triangle) and the ends of the used part, or "
            "choose them with Up and Down and move them with Left and Right."
        )
        column.addWidget(label("muted", hint, wrap=True))
        return box

    def _school_box(self) -> QWidget:
        box = QGroupBox(tr("School"))
        grid = QGridLayout(box)
        grid.setColumnStretch(1, 1)
        grid.setHorizontalSpacing(12)
        for row, (question, title, answers) in enumerate(QUESTIONS):
            combo = QComboBox()
            combo.setAccessibleName(title)
            combo.setSizeAdjustPolicy(
                QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon
            )
            combo.setMinimumContentsLength(16)
            for answer, words in answers.items():
                combo.addItem(words, answer)
            combo.activated.connect(partial(self._school_changed, question))
            self.schools[question] = combo
            grid.addWidget(QLabel(title), row, 0)
            grid.addWidget(combo, row, 1)
        return box

    def _connect(self) -> None:
        self.session.planned.connect(lambda _: self._show())
        self.session.opened.connect(self._forget_before)
        self.who.activated.connect(self._choose)
        self.limits.wanted.connect(self._edit_player)
        self.abilities.wanted.connect(self._edit_player)
        self.keep.clicked.connect(self.ask_keep)
        self.forget.clicked.connect(self._forget)
        self.bow.settled.connect(self._bow_changed)
        self.bow_size.activated.connect(self._size_chosen)
        self.hair.valueChanged.connect(lambda v: self._bow_number("hair_mm", v))
        self.mass.valueChanged.connect(lambda v: self._bow_number("mass_g", v))
        self.add_tape.clicked.connect(self.bow.add_tape)
        self.remove_tape.clicked.connect(self.bow.remove_tape)

    # showing

    def _fill_players(self) -> None:
        self.who.clear()
        self._own = -1  # where a player stands that is neither a stage nor kept
        for name in STAGES:
            self.who.addItem(
                say("{title} (stage)", title=stage(name).called), NamedPlayerOrStage(stage(name))
            )
        found, faults = self.shelf.all()
        if found:
            self.who.insertSeparator(self.who.count())
        for named in found:
            self.who.addItem(named.name, NamedPlayerOrStage(named.player, named))
        if faults:
            self.message.emit(faults[0])

    def _forget_before(self) -> None:
        self._shown = self._before = None

    def _show(self) -> None:
        """Set every control from the document, without emitting anything."""
        document, plan = self.session.both
        if document is None or plan is None:
            return
        if plan is not self._shown:
            self._before, self._shown = self._shown, plan
        if not self.isVisible():
            return
        choices = document.choices
        player = choices.player
        self._show_who(player)
        self.about.setText(player.described)
        self.bow.show_setup(BowSetup(choices.bow, player.usable_from, player.usable_to))
        self.whose.setText(
            say("{instrument} bow", instrument=sentence_like(in_words(choices.instrument)))
        )
        set_quietly(self.hair, choices.bow.hair_mm)
        set_quietly(self.mass, choices.bow.mass_g)
        self.bow_size.setCurrentIndex(self.bow_size.findData(choices.bow.size))
        self.limits.show_player(player)
        self.abilities.show_player(player)
        for question, combo in self.schools.items():
            combo.setCurrentIndex(combo.findData(getattr(choices.school, question)))
            combo.setToolTip(tip(combo.currentText()))
        self.miniature.show_plans(plan, self._before)
        self.change.setText(self._change_words(plan))

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self._show()

    def _show_who(self, player: Player) -> None:
        for k in range(self.who.count()):
            data = self.who.itemData(k)
            if data is not None and data.player == player:
                self.who.setCurrentIndex(k)
                self.forget.setEnabled(data.named is not None)
                return
        if self._own < 0:
            self.who.addItem("")
            self._own = self.who.count() - 1
        self.who.setItemText(self._own, player.called)
        self.who.setItemData(self._own, NamedPlayerOrStage(player))
        self.who.setCurrentIndex(self._own)
        self.forget.setEnabled(False)

    def _change_words(self, plan: Plan) -> str:
        before = self._before
        if before is None or [n.id for n in before.part.notes] != [n.id for n in plan.part.notes]:
            return tr("Nothing yet. Change something and see.")
        found = compare(before, plan)
        words = f"{sentence_like(found.words)}."
        a, b = before.tempo_window, plan.tempo_window
        if a is not None and b is not None and [round(t) for t in a] != [round(t) for t in b]:
            words += say(
                " Plays from {low:.0f} to {high:.0f}; before it was "
                "{low_before:.0f} to {high_before:.0f}.",
                low=b[0],
                high=b[1],
                low_before=a[0],
                high_before=a[1],
            )
        return words

    # changing

    def _edit_player(self, changes: dict[str, Any], text: str) -> None:
        """Another player made from this one; nonsense is refused with the reason."""
        document = self.session.document
        if document is None:
            return
        old = document.choices.player
        fields = old.as_dict() | changes
        if fields == old.as_dict():
            return
        if old.name in STAGES:
            fields |= {"name": "own", "title": say("{title}, changed", title=old.title)}
        try:
            player = player_from_json(json.dumps(fields), "player")
        except PlayerError as error:
            self.message.emit(say("Not changed: {what}.", what=error.what))
            self._show()
            return
        self.session.edit(lambda c: replace(c, player=rebased(c.player, old, player)), text)

    def _school_changed(self, question: str, index: int) -> None:
        answer = next(list(answers) for q, _, answers in QUESTIONS if q == question)[index]
        self.session.edit(
            lambda c: c.with_school(question, answer),
            say("school, {answer}", answer=self.schools[question].currentText()),
        )

    def _bow_changed(self, setup: BowSetup) -> None:
        document = self.session.document
        if document is None:
            return
        player = document.choices.player
        if (setup.usable_from, setup.usable_to) != (player.usable_from, player.usable_to):
            ends = {"usable_from": setup.usable_from, "usable_to": setup.usable_to}
            self._edit_player(ends, tr("part of the bow used"))
        elif setup.bow != document.choices.bow:
            self.session.take_choices(
                replace(document.choices, bow=setup.bow), tr("set up the bow")
            )

    def _size_chosen(self, _index: int) -> None:
        document, size = self.session.document, self.bow_size.currentData()
        if document is not None and size is not None:
            self.session.edit(lambda choices: _sized(choices, size), say("size {size}", size=size))

    def _bow_number(self, name: str, value: float) -> None:
        document = self.session.document
        if document is not None and round(getattr(document.choices.bow, name)) != round(value):
            changes: dict[str, Any] = {name: value}
            self.session.edit(
                lambda choices: replace(choices, bow=replace(choices.bow, **changes)),
                tr("measured bow"),
            )

    # the shelf

    def _choose(self, index: int) -> None:
        document, data = self.session.document, self.who.itemData(index)
        if document is None or data is None:
            return
        named, player = data.named, data.player

        def change(choices: Choices) -> Choices:
            if named is None:
                return replace(choices, player=player)
            bow = named.bow if named.bow.instrument == choices.instrument else choices.bow
            return replace(choices, player=player, school=named.school, bow=bow)

        self.session.edit(change, say("player {name}", name=player.called))

    def ask_keep(self) -> None:
        """Ask for a name and keep the player under it."""
        document = self.session.document
        if document is None:
            return
        name, ok = QInputDialog.getText(self, tr("Keep this player"), tr("Name of the player:"))
        if ok and name.strip():
            self.keep_as(name.strip())

    def keep_as(self, name: str) -> None:
        """Keep the player, with bow and school, under a name."""
        document = self.session.document
        if document is None:
            return
        choices = document.choices
        player = replace(choices.player, name=name, title=name)
        try:
            self.shelf.save(NamedPlayer(player, choices.bow, choices.school))
        except PlectrumError as error:
            self.session.failed.emit(error)
            return
        self._fill_players()
        self.desk.players_changed.emit()
        self.message.emit(say("Kept as {name}.", name=name))
        self.session.edit(lambda now: replace(now, player=player), say("player {name}", name=name))
        self._show()

    def _forget(self) -> None:
        data = self.who.currentData()
        if data is not None and data.named is not None:
            self.shelf.forget(data.named.name)
            self._fill_players()
            self.desk.players_changed.emit()
            self.message.emit(
                say("{name} is no longer kept; the plan stays as it is.", name=data.named.name)
            )
            self._show()


class NamedPlayerOrStage:
    """What an entry of the list of players stands for; `named` is None for a stage."""

    def __init__(self, player: Player, named: NamedPlayer | None = None) -> None:
        self.player = player
        self.named = named


def _sized(choices: Choices, size: str) -> Choices:
    """Instrument and bow of another size, with the tapes where they were."""
    bow = Bow.sized(choices.instrument, size)
    return replace(choices, bow=replace(bow, marks=choices.bow.marks))
