"""The list of exercises: own ones first, found by words and by what moves."""

from __future__ import annotations

from collections.abc import Collection

from PySide6.QtCore import QSignalBlocker, Qt, Signal
from PySide6.QtWidgets import (
    QComboBox,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QVBoxLayout,
    QWidget,
)

from plectrum.core.errors import PlectrumError
from plectrum.core.instrument.specification import Instrument
from plectrum.core.practice.exercises.catalogue import listed
from plectrum.core.practice.exercises.drills import Moves
from plectrum.core.practice.exercises.model import Exercise, shipped
from plectrum.core.practice.exercises.patterns import PATTERNS
from plectrum.core.practice.exercises.shelf import Shelf
from plectrum.core.practice.exercises.steps import strings_of
from plectrum.core.wording import say, tr
from plectrum.ui.look.labels import label
from plectrum.ui.look.plain import tip

NAME = Qt.ItemDataRole.UserRole
OWN = "own:"  # before the key of an own exercise
ALL, OWN_ONLY, NOTES = tr("All exercises"), tr("My own"), tr("Scales and patterns")
KINDS = {
    tr("With sound"): (Moves.SOUND,),
    tr("In silence"): (Moves.ROLL, Moves.CARRY),
    tr("Thrown"): (Moves.THROW,),
    tr("Hand and hold"): (Moves.HAND, Moves.GLIDE, Moves.CARE),
}


class ExerciseList(QWidget):
    """Signals: chosen_changed: another one is chosen. ticked: a name, and whether it is to be in
    the week."""

    chosen_changed = Signal()
    ticked = Signal(str, bool)

    def __init__(self, shelf: Shelf[Exercise], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._shelf = shelf
        self.own: dict[str, Exercise] = {}
        self._set: Collection[str] = ()
        self._instrument: Instrument | None = None
        self.search = QLineEdit()
        self.search.setPlaceholderText(tr("Find by name or purpose"))
        self.search.setAccessibleName(tr("Find an exercise"))
        self.kind = QComboBox()
        self.kind.addItems([ALL, OWN_ONLY, *KINDS, NOTES])
        self.kind.setAccessibleName(tr("Kind of exercise"))
        self.list = QListWidget()
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setAccessibleName(tr("Exercises; ticked ones are in the week"))
        self.faults = label("muted", wrap=True)
        column = QVBoxLayout(self)
        column.setContentsMargins(8, 8, 0, 4)
        column.setSpacing(6)
        for widget in (self.search, self.kind):
            column.addWidget(widget)
        column.addWidget(self.list, 1)
        column.addWidget(self.faults)
        self.search.textChanged.connect(lambda _: self.fill())
        self.kind.currentIndexChanged.connect(lambda _: self.fill())
        self.list.currentItemChanged.connect(lambda *_: self.chosen_changed.emit())
        self.list.itemChanged.connect(self._ticked)

    def show_for(self, instrument: Instrument, in_the_week: Collection[str]) -> None:
        """The exercises of an instrument; some are in the week."""
        self._instrument, self._set = instrument, in_the_week
        self.fill()

    def fill(self) -> None:
        """The exercises that fit what is looked for, own ones first."""
        own, faults = self._shelf.all()
        self.own = {f"{OWN}{e.key}": e for e in own if self._fits(e)}
        now = self.chosen
        with QSignalBlocker(self.list):
            self.list.clear()
            for name, title, purpose in self._rows():
                self._add(name, title, purpose)
            names = self.names()
            self.list.setCurrentRow(names.index(now) if now in names else 0)
        self.faults.setText("\n".join(say("Not read: {fault}", fault=fault) for fault in faults))
        self.faults.setVisible(bool(faults))
        if self.chosen != now:
            self.chosen_changed.emit()

    def _rows(self) -> list[tuple[str, str, str]]:
        rows = [
            (name, e.title, say("own: {purpose}", purpose=e.purpose))
            for name, e in self.own.items()
        ]
        rows += [(row.name, row.title, row.purpose) for row in listed()]
        wanted = self.search.text().lower().split()
        kind = self.kind.currentText()
        return [
            row for row in rows
            if self._is_of(row[0], kind) and all(w in f"{row[1]} {row[2]}".lower() for w in wanted)
        ]  # fmt: skip

    def _is_of(self, name: str, kind: str) -> bool:
        if kind == ALL:
            return True
        if kind == OWN_ONLY:
            return name in self.own
        if kind == NOTES or name in PATTERNS:
            return kind == NOTES and name in PATTERNS
        exercise = self.exercise(name)
        return exercise is not None and exercise.moves in KINDS[kind]

    def _fits(self, exercise: Exercise) -> bool:
        """Whether the instrument has the strings that an own exercise names."""
        if self._instrument is None:
            return True
        try:
            strings_of(exercise, self._instrument)
        except PlectrumError:
            return False
        return True

    def _add(self, name: str, title: str, purpose: str) -> None:
        item = QListWidgetItem(title)
        item.setToolTip(tip(purpose))
        item.setData(NAME, name)
        if name not in PATTERNS:
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            ticked = self.set_name(name) in self._set
            item.setCheckState(Qt.CheckState.Checked if ticked else Qt.CheckState.Unchecked)
        self.list.addItem(item)

    @staticmethod
    def set_name(name: str) -> str:
        """The name under which an exercise is set in the week."""
        return name.removeprefix(OWN)

    def names(self) -> list[str]:
        """The names of the listed exercises."""
        items = (self.list.item(k) for k in range(self.list.count()))
        return [str(item.data(NAME)) for item in items if item is not None]

    @property
    def chosen(self) -> str:
        """The name of the chosen exercise; empty without any."""
        item = self.list.currentItem()
        return str(item.data(NAME)) if item is not None else ""

    def choose(self, name: str) -> bool:
        """Choose an exercise by its name, however the list was narrowed; False without it."""
        self.search.clear()
        self.kind.setCurrentIndex(0)
        for wanted in (name, f"{OWN}{name}"):
            if wanted in self.names():
                self.list.setCurrentRow(self.names().index(wanted))
                return True
        return False

    def exercise(self, name: str) -> Exercise | None:
        """An own or a shipped exercise; None for a pattern."""
        return self.own.get(name) or shipped().get(name)

    def _ticked(self, item: QListWidgetItem) -> None:
        self.ticked.emit(str(item.data(NAME)), item.checkState() is Qt.CheckState.Checked)
