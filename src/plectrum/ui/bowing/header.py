"""The line above the score: what is open, for whom, by which school, how fast."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QComboBox, QDoubleSpinBox, QHBoxLayout, QLabel, QVBoxLayout, QWidget

from plectrum.core.files.exports import BEAT_UNITS
from plectrum.core.planning.choices import Choices
from plectrum.core.planning.document import Document
from plectrum.core.planning.plan import Plan
from plectrum.core.player.player import STAGES, stage
from plectrum.core.player.school import DirectionSchool
from plectrum.ui.labels import label

_BEAT_SIGNS = {
    "whole": "whole",
    "half": "half",
    "dotted-half": "dotted half",
    "quarter": "♩",
    "dotted-quarter": "♩.",
    "eighth": "♪",
    "dotted-eighth": "♪.",
    "16th": "16th",
}


def _part_words(plan: Plan) -> str:
    name, instrument = plan.part.name, plan.choices.instrument
    return name if instrument in name.lower() else f"{name}, {instrument}"


class Header(QWidget):
    """Emits whole new choices with the words for the undo list."""

    choices_wanted = Signal(object, str)
    part_wanted = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("header")
        self._document: Document | None = None
        self.title = label("title")
        self.subtitle = label("muted")
        self.part = self._combo("Part")
        self.player = self._combo("Player")
        for name in STAGES:
            self.player.addItem(stage(name).title, name)
            self.player.setItemData(self.player.count() - 1, stage(name).sentence, 3)
        self.school = self._combo("Direction school")
        for school in DirectionSchool:
            self.school.addItem(str(school).capitalize(), school)
            self.school.setItemData(self.school.count() - 1, school.sentence, 3)
        self.tempo = QDoubleSpinBox()
        self.tempo.setRange(10, 480)
        self.tempo.setDecimals(0)
        self.tempo.setKeyboardTracking(False)
        self.tempo.setAccessibleName("Tempo, beats a minute")
        self.tempo.setToolTip("Tempo in beats a minute; the plan follows it")
        self._lay_out()
        self.player.activated.connect(self._player_chosen)
        self.school.activated.connect(self._school_chosen)
        self.part.activated.connect(lambda _: self.part_wanted.emit(self.part.currentData()))
        self.tempo.valueChanged.connect(self._tempo_chosen)

    def _combo(self, name: str) -> QComboBox:
        combo = QComboBox()
        combo.setAccessibleName(name)
        return combo

    def _lay_out(self) -> None:
        names = QVBoxLayout()
        names.setSpacing(0)
        names.addWidget(self.title)
        names.addWidget(self.subtitle)
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 6, 16, 8)
        row.setSpacing(8)
        row.addLayout(names, 1)
        self._labels = []
        for text, widget in (
            ("&Part", self.part),
            ("P&layer", self.player),
            ("&School", self.school),
            ("&Tempo", self.tempo),
        ):
            name = QLabel(text)
            name.setObjectName("muted")
            name.setBuddy(widget)
            row.addSpacing(8)
            row.addWidget(name)
            row.addWidget(widget)
            self._labels.append(name)

    def show_document(self, document: Document, plan: Plan) -> None:
        """Set every control from the document, without emitting anything."""
        self._document = document
        choices = document.choices
        self.title.setText(document.title)
        self.subtitle.setText(f"{_part_words(plan)} · {plan.part.bars_n} bars")
        self.player.setToolTip(choices.player.sentence)
        self.school.setToolTip(choices.school.direction.sentence)
        self.part.clear()
        with_notes = [p for p in document.score.parts if p.notes_n]
        for info in with_notes:
            self.part.addItem(info.name, info.id)
        self.part.setCurrentIndex(self.part.findData(document.part_id))
        for widget in (self._labels[0], self.part):
            widget.setVisible(len(with_notes) > 1)
        known = self.player.findData(choices.player.name)
        if known < 0:
            self.player.addItem(choices.player.title, choices.player.name)
            known = self.player.count() - 1
        self.player.setCurrentIndex(known)
        self.school.setCurrentIndex(self.school.findData(choices.school.direction))
        self.tempo.blockSignals(True)
        sign = _BEAT_SIGNS[BEAT_UNITS.get(plan.part.tempo.beat_q, "quarter")]
        self.tempo.setPrefix(f"{sign} = ")
        self.tempo.setValue(plan.part.tempo.bpm)
        self.tempo.blockSignals(False)

    def _emit(self, choices: Choices, text: str) -> None:
        self.choices_wanted.emit(choices, text)

    def _player_chosen(self, index: int) -> None:
        name = self.player.itemData(index)
        if self._document is not None and name in STAGES:
            self._emit(
                replace(self._document.choices, player=stage(name)), f"player {stage(name).title}"
            )

    def _school_chosen(self, index: int) -> None:
        if self._document is not None:
            direction = DirectionSchool(self.school.itemData(index))
            school = replace(self._document.choices.school, direction=direction)
            self._emit(replace(self._document.choices, school=school), f"school {direction}")

    def _tempo_chosen(self, bpm: float) -> None:
        if self._document is not None:
            self._emit(replace(self._document.choices, tempo_bpm=bpm), f"tempo {bpm:.0f}")
