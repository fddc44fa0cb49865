"""An exercise chosen, shaped and seen before it is opened as a tune, kept, or printed."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from pathlib import Path
from typing import Any

from PySide6.QtCore import QSignalBlocker, Qt, QTimer, Signal
from PySide6.QtWidgets import (
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QDoubleSpinBox,
    QFileDialog,
    QFormLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from plectrum.core.document.choices import Choices
from plectrum.core.errors import PlectrumError
from plectrum.core.instrument.specification import instrument_names
from plectrum.core.planning.plan import Plan, plan_of
from plectrum.core.playing.performance import Kind
from plectrum.core.practice.exercises.catalogue import Made, exercise_named, listed, made_of
from plectrum.core.practice.exercises.model import Changes, Exercise, shipped
from plectrum.core.practice.exercises.patterns import MAJOR, MINOR, PATTERNS, Asked
from plectrum.core.practice.exercises.routine import alone
from plectrum.core.practice.exercises.shelf import ExerciseShelf, key_of_title
from plectrum.core.practice.handout import HandoutOptions
from plectrum.ui.drawing.study_view import StudyView
from plectrum.ui.editing.runner import Runner
from plectrum.ui.engraving.client import EngravingClient
from plectrum.ui.handout.routine_page import write_routine
from plectrum.ui.look import theme
from plectrum.ui.look.labels import label
from plectrum.ui.look.plain import tip

SOON_MS = 200
NAME = Qt.ItemDataRole.UserRole
PARTS = ("whole", "upper-half", "lower-half", "middle")
RHYTHMS = (
    "long",
    "short",
    "long short short",
    "short short long",
    "quick quick short",
    "long quick quick",
)
AS_IT_IS = "as it is"


@dataclass(frozen=True)
class _Preview:
    """What a request has become."""

    made: Made
    plan: Plan | None


class ExerciseDialog(QDialog):
    """Signals: opened with what was made; kept with the title of an own exercise."""

    opened = Signal(object)
    kept = Signal(str)

    def __init__(
        self,
        choices: Choices,
        engraver: EngravingClient,
        shelf: ExerciseShelf,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle("Exercise without a tune")
        self._choices, self._shelf = choices, shelf
        self._own: dict[str, Exercise] = {}
        self.made: Made | None = None
        self._runner = Runner(self)
        self._soon = QTimer(self, singleShot=True, interval=SOON_MS)
        self._soon.timeout.connect(self._make)
        self.search = QLineEdit()
        self.search.setPlaceholderText("Find by name or purpose")
        self.search.setAccessibleName("Find an exercise")
        self.list = QListWidget()
        self.list.setObjectName("boxed")
        self.list.setAccessibleName("Exercises")
        self.what, self.good, self.facts = (label(role, wrap=True) for role in
                                            ("sentence", "why", "key"))  # fmt: skip
        self.faults = label("muted", wrap=True)
        self.view = StudyView(engraver, "exercise")
        self._make_fields()
        self._lay_out()
        self._fill()
        self._connect()

    # making

    def _make_fields(self) -> None:
        self.instrument = _combo(instrument_names())
        self.instrument.setCurrentText(self._choices.instrument)
        self.strings = QLineEdit()
        self.strings.setPlaceholderText("each, pairs, or G, D, G-D")
        self.part = _combo((AS_IT_IS, *PARTS), editable=True)
        self.play, self.look = _beats(), _beats()
        self.times, self.day = _count(0, 40, AS_IT_IS), _count(1, 60)
        self.key = _combo(("one that lies well", *MAJOR, *(f"{k} minor" for k in MINOR)))
        self.octaves, self.bow_notes = _count(1, 3), _count(1, 8)
        self.rhythm = _combo(RHYTHMS, editable=True)
        self.fingers = QLineEdit()
        self.fingers.setPlaceholderText("0 1 2 3 2 1")
        self.tempo = _count(20, 240)
        self.tempo.setValue(72)
        self.name = QLineEdit()
        self.name.setPlaceholderText("a title, to keep it as your own")

    def _lay_out(self) -> None:
        self._form = QFormLayout()
        rows: tuple[tuple[str, QWidget], ...] = (
            ("&Instrument", self.instrument), ("&Strings", self.strings),
            ("&Part of the bow", self.part), ("P&lay", self.play), ("Loo&k", self.look),
            ("&Times", self.times), ("&Day of practice", self.day), ("Ke&y", self.key),
            ("Oc&taves", self.octaves), ("&Notes in a bow", self.bow_notes),
            ("&Rhythm", self.rhythm), ("&Fingers", self.fingers), ("Te&mpo", self.tempo),
            ("&Keep it as", self.name),
        )  # fmt: skip
        for text, field in rows:
            head = QLabel(text)
            head.setBuddy(field)
            field.setAccessibleName(text.replace("&", ""))
            self._form.addRow(head, field)
        self.of_row = (self.strings, self.part, self.play, self.look, self.times, self.day,
                       self.name)  # fmt: skip
        self.of_pattern = (self.key, self.octaves, self.bow_notes, self.rhythm, self.fingers,
                           self.tempo)  # fmt: skip
        self.buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        self.open_button = self.buttons.addButton(
            "&Open as a tune", QDialogButtonBox.ButtonRole.AcceptRole
        )
        self.page_button = self.buttons.addButton(
            "Save a pa&ge …", QDialogButtonBox.ButtonRole.ActionRole
        )
        self.keep_button = self.buttons.addButton("Kee&p", QDialogButtonBox.ButtonRole.ActionRole)
        left = QVBoxLayout()
        left.addWidget(self.search)
        left.addWidget(self.list, 1)
        left.addWidget(self.faults)
        right = QVBoxLayout()
        for words in (self.what, self.good, self.facts):
            right.addWidget(words)
        middle = QHBoxLayout()
        middle.addLayout(self._form)
        middle.addWidget(self.view, 1)
        right.addLayout(middle, 1)
        right.addWidget(self.buttons)
        whole = QHBoxLayout(self)
        whole.addLayout(left, 2)
        whole.addLayout(right, 5)
        self.resize(theme.px(1120), theme.px(680))

    def _connect(self) -> None:
        self.search.textChanged.connect(lambda _: self._fill())
        self.list.currentItemChanged.connect(lambda *_: self._chosen())
        for combo in (self.instrument, self.part, self.key, self.rhythm):
            combo.currentTextChanged.connect(lambda _: self._soon.start())
        for box in (self.times, self.day, self.octaves, self.bow_notes, self.tempo):
            box.valueChanged.connect(lambda _: self._soon.start())
        for beats in (self.play, self.look):
            beats.valueChanged.connect(lambda _: self._soon.start())
        for line in (self.strings, self.fingers):
            line.textChanged.connect(lambda _: self._soon.start())
        self.name.textChanged.connect(lambda _: self._show_buttons())
        self.buttons.accepted.connect(self._open)
        self.buttons.rejected.connect(self.reject)
        self.keep_button.clicked.connect(self._keep)
        self.page_button.clicked.connect(self._save_page)
        self._chosen()

    # choosing

    def _fill(self) -> None:
        """The exercises that fit what is looked for, own ones first."""
        own, faults = self._shelf.all()
        self._own = {f"own:{e.key}": e for e in own}
        rows = [(name, e.title, f"own: {e.purpose}") for name, e in self._own.items()]
        rows += [(row.name, row.title, row.purpose) for row in listed()]
        wanted = self.search.text().lower().split()
        now = self.chosen
        with QSignalBlocker(self.list):
            self.list.clear()
            for name, title, purpose in rows:
                if all(word in f"{title} {purpose}".lower() for word in wanted):
                    item = QListWidgetItem(title)
                    item.setToolTip(tip(purpose))
                    item.setData(NAME, name)
                    self.list.addItem(item)
            places = self._names()
            self.list.setCurrentRow(places.index(now) if now in places else 0)
        self.faults.setText("\n".join(f"Not read: {fault}" for fault in faults))
        self.faults.setVisible(bool(faults))
        if self.chosen != now:
            self._chosen()

    def _names(self) -> list[str]:
        """The names of the listed exercises."""
        items = (self.list.item(k) for k in range(self.list.count()))
        return [str(item.data(NAME)) for item in items if item is not None]

    @property
    def chosen(self) -> str:
        """The name of the chosen exercise; empty without any."""
        item = self.list.currentItem()
        return str(item.data(NAME)) if item is not None else ""

    def _chosen(self) -> None:
        pattern = self.chosen in PATTERNS
        shaped = self.chosen in shipped() or self.chosen in self._own
        for field in self.of_row:
            self._form.setRowVisible(field, shaped)
        for field in self.of_pattern:
            self._form.setRowVisible(field, pattern)
        self._form.setRowVisible(self.fingers, self.chosen == "finger-pattern")
        self._make()

    # showing

    def _make(self) -> None:
        """Make what is asked, aside; only the newest counts."""
        name, own = self.chosen, self._own.get(self.chosen)
        if not name:
            return
        choices = self._of_instrument()
        part = self.part.currentText().strip()
        changes = Changes(
            self.strings.text().strip() or None, None if part in ("", AS_IT_IS) else part,
            self.play.value() or None, self.look.value() or None, self.times.value() or None,
        )  # fmt: skip
        key = "" if self.key.currentIndex() == 0 else self.key.currentText()
        asked = Asked(key, self.octaves.value(), self.bow_notes.value(), self.rhythm.currentText(),
                      self.fingers.text(), float(self.tempo.value()))  # fmt: skip
        if name not in shipped() and own is None:
            changes = Changes()
        day = self.day.value()

        def work() -> object:
            if own is not None:
                made = made_of(own, choices, changes, day)
            else:
                made = exercise_named(name, choices, changes, asked, day)
            return _Preview(made, None if made.document is None else plan_of(made.document))

        self._runner.run(work, self._show, self._not_made)

    def _show(self, result: Any) -> None:
        preview: _Preview = result
        made = self.made = preview.made
        self.what.setText(made.what)
        self.good.setText(f"Good when: {made.good}.")
        minutes, seconds = divmod(round(made.seconds), 60)
        self.facts.setText(f"{minutes} min {seconds} s" if minutes else f"{seconds} s")
        if made.document is not None and preview.plan is not None:
            self.view.show_study(made.document, preview.plan, bowed=made.kind is Kind.WRITTEN)
        else:
            self.view.clear()
        self._show_buttons()

    def _not_made(self, error: Exception) -> None:
        self.made = None
        self.view.clear()
        self.good.setText("")
        self.what.setText("")
        text = str(error)
        self.facts.setText(f"{text[0].upper()}{text[1:]}." if text else "This cannot be made.")
        self._show_buttons()
        if not isinstance(error, PlectrumError):
            raise error

    def _show_buttons(self) -> None:
        made = self.made
        sounds = made is not None and made.document is not None and made.kind is Kind.WRITTEN
        self.open_button.setEnabled(sounds)
        self.page_button.setEnabled(made is not None)
        silent = made is not None and not sounds
        self.open_button.setToolTip("It is done in silence: nothing to open" if silent else "")
        self.keep_button.setEnabled(
            made is not None and made.exercise is not None and bool(self.name.text().strip())
        )

    # taking

    def _open(self) -> None:
        if self.made is not None and self.open_button.isEnabled():
            self.accept()
            self.opened.emit(self.made)

    def _save_page(self) -> None:
        """What to do, where on the bow, when it is good, and boxes to tick: for any exercise."""
        made = self.made
        if made is None:
            return
        suggested = f"{key_of_title(made.title)}.pdf"
        name, _ = QFileDialog.getSaveFileName(self, "Save the page", suggested, "PDF (*.pdf)")
        if not name:
            return
        routine, items = alone(made)
        try:
            write_routine(Path(name), routine, items, self._of_instrument(),
                          routine.days(date.today()), HandoutOptions())  # fmt: skip
        except PlectrumError as error:
            self.facts.setText(str(error))
            return
        self.facts.setText(f"Saved {Path(name).name}")

    def _of_instrument(self) -> Choices:
        """The player's choices, or a beginner's on another instrument."""
        name = self.instrument.currentText()
        return self._choices if name == self._choices.instrument else Choices.default(name)

    def _keep(self) -> None:
        """Keep the exercise as it is now under its own title."""
        made, title = self.made, self.name.text().strip()[:80]
        if made is None or made.exercise is None or not title:
            return
        try:
            own = self._shelf.keep(made.exercise.model_copy(update={"title": title}))
        except PlectrumError as error:
            self.facts.setText(str(error))
            return
        self.kept.emit(title)
        self.name.clear()
        self.search.clear()
        self._fill()
        names = self._names()
        if f"own:{own.key}" in names:
            self.list.setCurrentRow(names.index(f"own:{own.key}"))


def _combo(items: Any, *, editable: bool = False) -> QComboBox:
    combo = QComboBox()
    combo.addItems(list(items))
    combo.setEditable(editable)
    return combo


def _beats() -> QDoubleSpinBox:
    box = QDoubleSpinBox()
    box.setRange(0, 16)
    box.setDecimals(1)
    box.setSingleStep(0.5)
    box.setSuffix(" beats")
    box.setSpecialValueText(AS_IT_IS)
    return box


def _count(low: int, high: int, special: str = "") -> QSpinBox:
    box = QSpinBox()
    box.setRange(low, high)
    box.setSpecialValueText(special)
    return box
