"""Who plays in a class: an instrument and a player for each student."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Signal
from PySide6.QtWidgets import (
    QComboBox,
    QDialog,
    QGridLayout,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from plectrum.core.document.seats import Seat
from plectrum.core.instrument.bow import Bow
from plectrum.core.instrument.specification import instrument_names
from plectrum.core.player.player import STAGES, stage
from plectrum.core.player.records import NamedPlayer
from plectrum.core.practice.class_tune import MOST_STUDENTS, Student
from plectrum.core.wording import in_words, say, sentence_like, tr
from plectrum.ui.look import theme
from plectrum.ui.look.buttons import answer_buttons
from plectrum.ui.look.labels import label

WORDS = tr(
    "Every student gets a part of this tune, moved by octaves into the range of the instrument, "
    "for his own bow and stage; all of them are planned as one."
)


class _Row(QWidget):
    """One student: a stage with an instrument, or a player kept by name with his own."""

    def __init__(self, named: Sequence[NamedPlayer], instrument: str, number: int) -> None:
        super().__init__()
        self.who = QComboBox()
        self.who.setAccessibleName(say("Student {number}", number=number))
        for name in STAGES:
            self.who.addItem(stage(name).called, stage(name))
        for player in named:
            self.who.addItem(player.name, player)
        self.instrument = QComboBox()
        self.instrument.setAccessibleName(say("Instrument of student {number}", number=number))
        for known in instrument_names():
            self.instrument.addItem(sentence_like(in_words(known)), known)
        self.instrument.setCurrentIndex(self.instrument.findData(instrument))
        self.who.currentIndexChanged.connect(lambda _: self._fit())

    def _fit(self) -> None:
        """A named player has an instrument already."""
        chosen = self.who.currentData()
        own = isinstance(chosen, NamedPlayer)
        self.instrument.setEnabled(not own)
        if own:
            self.instrument.setCurrentIndex(self.instrument.findData(chosen.bow.instrument))

    @property
    def student(self) -> Student:
        chosen = self.who.currentData()
        if isinstance(chosen, NamedPlayer):
            return Student(chosen.name, Seat(chosen.player, chosen.bow))
        bow = Bow.sized(self.instrument.currentData())
        return Student(chosen.title, Seat(chosen, bow))


class ClassDialog(QDialog):
    """Emits the students once they are chosen."""

    wanted = Signal(object)

    def __init__(
        self, named: Sequence[NamedPlayer], instrument: str, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("A class on this tune"))
        self._named, self._instrument = list(named), instrument
        self.rows: list[_Row] = []
        self._grid = QGridLayout()
        self._grid.setHorizontalSpacing(8)
        self.add = QPushButton(tr("&Add a student"))
        self.add.setAutoDefault(False)
        self.less = QPushButton(tr("&Leave the last out"))
        self.less.setAutoDefault(False)
        buttons = answer_buttons(self, tr("Make the class"))
        column = QVBoxLayout(self)
        words = label("", WORDS, wrap=True)
        words.setMinimumWidth(theme.px(420))
        column.addWidget(words)
        column.addLayout(self._grid)
        column.addWidget(self.add)
        column.addWidget(self.less)
        column.addWidget(buttons)
        self.add.clicked.connect(lambda _: self.add_student())
        self.less.clicked.connect(lambda _: self.drop_student())
        for player in self._named or (None, None):
            self.add_student(player)

    def add_student(self, player: NamedPlayer | None = None) -> None:
        """One more line."""
        if len(self.rows) >= MOST_STUDENTS:
            return
        number = len(self.rows) + 1
        row = _Row(self._named, self._instrument, number)
        if player is not None:
            row.who.setCurrentIndex(row.who.findText(player.name))
        self._grid.addWidget(row.who, number, 0)
        self._grid.addWidget(row.instrument, number, 1)
        self.rows.append(row)
        self._fit()

    def drop_student(self) -> None:
        """Without the last line."""
        if len(self.rows) > 1:
            row = self.rows.pop()
            for widget in (row.who, row.instrument):
                self._grid.removeWidget(widget)
                widget.deleteLater()
            row.deleteLater()
            self._fit()

    def _fit(self) -> None:
        self.less.setEnabled(len(self.rows) > 1)
        self.add.setEnabled(len(self.rows) < MOST_STUDENTS)

    def accept(self) -> None:
        super().accept()
        self.wanted.emit([row.student for row in self.rows])
