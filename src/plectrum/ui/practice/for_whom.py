"""For whom an exercise is, and on which instrument."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QComboBox, QLabel, QWidget

from plectrum.core.document.choices import Choices
from plectrum.core.instrument.specification import instrument_names
from plectrum.core.player.player import STAGES, stage
from plectrum.core.wording import in_words, tr
from plectrum.ui.look.flow_layout import FlowLayout


class ForWhom(QWidget):
    """Signals: choices_wanted with the choices of a stage; named_wanted with a player's name."""

    choices_wanted = Signal(object)
    named_wanted = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._players: list[str] = []
        self.who, self.instrument = QComboBox(), QComboBox()
        for name in instrument_names():
            self.instrument.addItem(in_words(name), name)
        row = FlowLayout(self, gap=8)
        row.setContentsMargins(0, 0, 0, 0)
        for text, box in ((tr("Fo&r"), self.who), (tr("&on"), self.instrument)):
            head = QLabel(text)
            head.setBuddy(box)
            box.setAccessibleName(text.replace("&", ""))
            box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
            box.activated.connect(lambda _: self._chosen())
            row.addWidget(head)
            row.addWidget(box)

    def show_for(self, choices: Choices, players: Mapping[str, str], *, alone: bool) -> None:
        """Whose choices these are.

        Args:
            players: names of the players kept, with their instruments.
            alone: no piece is open, so that it can be someone else.
        """
        self._players = list(players)
        self.who.clear()
        titles = [f"{name}, {in_words(own)}" for name, own in players.items()]
        self.who.addItems([*titles, *(stage(name).called for name in STAGES)])
        title = choices.player.title
        title = title.lower() if title.lower() in STAGES else title
        places = [*players, *STAGES]
        self.who.setCurrentIndex(places.index(title) if title in places else -1)
        if self.who.currentIndex() < 0:
            self.who.addItem(title)
            self.who.setCurrentIndex(self.who.count() - 1)
        self.instrument.setCurrentIndex(self.instrument.findData(choices.instrument))
        self.who.setEnabled(alone)
        self.instrument.setEnabled(alone and title not in players)

    def _chosen(self) -> None:
        k = self.who.currentIndex()
        if k < len(self._players):
            self.named_wanted.emit(self._players[k])
            return
        k -= len(self._players)
        name = STAGES[k] if k < len(STAGES) else STAGES[1]
        usual = Choices.default(self.instrument.currentData())
        self.choices_wanted.emit(replace(usual, player=stage(name)))
