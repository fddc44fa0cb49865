"""The fields in which an exercise is shaped: strings, part, counts, times, words; or a pattern."""

from __future__ import annotations

from collections.abc import Iterable

from PySide6.QtCore import QSignalBlocker, Signal
from PySide6.QtWidgets import (
    QComboBox,
    QDoubleSpinBox,
    QFormLayout,
    QLabel,
    QLineEdit,
    QSpinBox,
    QWidget,
)

from plectrum.core.practice.exercises.model import Changes, Exercise
from plectrum.core.practice.exercises.patterns import MAJOR, MINOR, Asked
from plectrum.core.score.note_names import minor_words, note_name, spelt
from plectrum.core.wording import in_words, say, tr

AS_IT_IS = tr("as it is")
PARTS = ("whole", "upper-half", "lower-half", "middle")
ORDERS = ("up", "down", "up and back", "skipping", "random")
RHYTHMS = (
    "long",
    "short",
    "long short short",
    "short short long",
    "quick quick short",
    "long quick quick",
)
LIES_WELL = tr("one that lies well")


class ExerciseForm(QWidget):
    """Signals: edited: something is asked otherwise."""

    edited = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.strings, self.say, self.good = QLineEdit(), QLineEdit(), QLineEdit()
        self.strings.setPlaceholderText(tr("each, pairs, or G, D, G-D"))
        self.say.setPlaceholderText(tr("a word for each stroke, with commas"))
        self.order = _combo(ORDERS, first=AS_IT_IS)
        self.part = _combo(PARTS, first=AS_IT_IS, editable=True)
        self.play, self.look = _beats(), _beats()
        self.times, self.tempo = _count(0, 40, AS_IT_IS), _count(19, 240, AS_IT_IS)
        self.day = _count(0, 400, tr("from the log"))
        self.key = _combo((), first=LIES_WELL)
        for name in MAJOR:
            self.key.addItem(note_name(*spelt(name)), name)
        for name in MINOR:
            self.key.addItem(minor_words(*spelt(name)), f"{name} minor")
        self.octaves, self.bow_notes = _count(1, 3), _count(1, 8)
        self.rhythm = _combo(RHYTHMS, editable=True)
        self.fingers = QLineEdit()
        self.fingers.setPlaceholderText("0 1 2 3 2 1")
        self.of_row = (self.strings, self.order, self.part, self.play, self.look, self.times,
                       self.say, self.good, self.day)  # fmt: skip
        self.of_pattern = (self.key, self.octaves, self.bow_notes, self.rhythm, self.fingers)
        self._lay_out()
        self._connect()

    def _lay_out(self) -> None:
        self._form = QFormLayout(self)
        self._form.setContentsMargins(0, 0, 0, 0)
        rows: tuple[tuple[str, QWidget], ...] = (
            (tr("Strin&gs"), self.strings),
            (tr("&Order"), self.order),
            (tr("&Part of the bow"), self.part),
            (tr("Pla&y"), self.play),
            (tr("Loo&k"), self.look),
            (tr("&Times"), self.times),
            (tr("Ke&y"), self.key),
            (tr("Octaves"), self.octaves),
            (tr("&Notes in a bow"), self.bow_notes),
            (tr("&Rhythm"), self.rhythm),
            (tr("&Fingers"), self.fingers),
            (tr("Te&mpo"), self.tempo),
            (tr("Sa&y"), self.say),
            (tr("&Good when"), self.good),
            (tr("Da&y of practice"), self.day),
        )
        for text, field in rows:
            head = QLabel(text)
            head.setBuddy(field)
            field.setAccessibleName(text.replace("&", ""))
            self._form.addRow(head, field)

    def _connect(self) -> None:
        for combo in (self.order, self.part, self.key, self.rhythm):
            combo.currentTextChanged.connect(self.edited)
        for box in (self.times, self.tempo, self.day, self.octaves, self.bow_notes):
            box.valueChanged.connect(self.edited)
        for beats in (self.play, self.look):
            beats.valueChanged.connect(self.edited)
        for line in (self.strings, self.say, self.good, self.fingers):
            line.textChanged.connect(self.edited)

    def show_kind(self, *, row: bool, strings: bool, pattern: bool, fingers: bool) -> None:
        """Show the fields that the chosen exercise has; some are done without a string."""
        for field in self.of_row:
            on_string = field in (self.strings, self.order, self.part, self.look)
            self._form.setRowVisible(field, row and (strings or not on_string))
        for field in self.of_pattern:
            self._form.setRowVisible(field, pattern)
        self._form.setRowVisible(self.fingers, fingers)

    def show_exercise(self, exercise: Exercise | None, changes: Changes) -> None:
        """Stand as it is set; what it has itself is shown in grey."""
        with QSignalBlocker(self):
            self.strings.setText(changes.strings or "")
            _set(self.order, changes.order)
            _set(self.part, changes.part)
            self.play.setValue(changes.play_beats or 0)
            self.look.setValue(changes.look_beats or 0)
            self.times.setValue(changes.times or 0)
            self.tempo.setValue(round(changes.bpm or 0))
            self.say.setText(changes.say or "")
            self.good.setText(changes.good or "")
            self.day.setValue(0)
        if exercise is not None:
            self.strings.setPlaceholderText(
                say("{strings}; or each, pairs, G, D, G-D", strings=exercise.strings)
            )
            words = ", ".join(stroke.word for stroke in exercise.strokes)
            self.say.setPlaceholderText(
                words.strip(", ") or tr("a word for each stroke, with commas")
            )
            self.good.setPlaceholderText(exercise.good)

    @property
    def changes(self) -> Changes:
        """What is asked otherwise of the exercise."""
        part, order = _kept(self.part), _kept(self.order)
        tempo = self.tempo.value()
        return Changes(
            self.strings.text().strip() or None,
            part or None,
            self.play.value() or None,
            self.look.value() or None,
            self.times.value() or None,
            order or None,
            float(tempo) if tempo > self.tempo.minimum() else None,
            self.say.text().strip() or None,
            self.good.text().strip() or None,
        )

    @property
    def asked(self) -> Asked:
        """What a pattern is to be."""
        tempo = self.tempo.value()
        bpm = float(tempo) if tempo > self.tempo.minimum() else Asked().bpm
        return Asked(_kept(self.key), self.octaves.value(), self.bow_notes.value(),
                     _kept(self.rhythm), self.fingers.text(), bpm)  # fmt: skip


def _combo(kept: Iterable[str], *, first: str = "", editable: bool = False) -> QComboBox:
    """Kept words as people read them; `first` stands for nothing chosen."""
    combo = QComboBox()
    if first:
        combo.addItem(first, "")
    for word in kept:
        combo.addItem(in_words(word), word)
    combo.setEditable(editable)
    return combo


def _kept(combo: QComboBox) -> str:
    """The kept word that is chosen, or what was typed."""
    at = combo.findText(combo.currentText().strip())
    return str(combo.itemData(at)) if at >= 0 else combo.currentText().strip()


def _set(combo: QComboBox, kept: str | None) -> None:
    at = combo.findData(kept or "")
    combo.setCurrentIndex(at) if at >= 0 else combo.setCurrentText(kept or "")


def _beats() -> QDoubleSpinBox:
    box = QDoubleSpinBox()
    box.setRange(0, 16)
    box.setDecimals(1)
    box.setSingleStep(0.5)
    box.setSuffix(tr(" counts"))
    box.setSpecialValueText(AS_IT_IS)
    return box


def _count(low: int, high: int, special: str = "") -> QSpinBox:
    box = QSpinBox()
    box.setRange(low, high)
    box.setSpecialValueText(special)
    return box
