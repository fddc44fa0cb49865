"""The bar that holds a second plan against the first: what is compared, and what differs."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QComboBox, QLabel, QPushButton, QSpinBox, QWidget

from plectrum.core.advice.comparison import compare
from plectrum.core.document.choices import Choices
from plectrum.core.document.document import Document
from plectrum.core.planning.plan import Plan
from plectrum.core.player.player import STAGES, Player, stage
from plectrum.core.player.school import QUESTIONS
from plectrum.core.wording import say, sentence_like, tr
from plectrum.ui.drawing.path_row import PathRow
from plectrum.ui.editing.planner import drawn_plan
from plectrum.ui.editing.runner import Runner
from plectrum.ui.look import theme
from plectrum.ui.look.flow_layout import FlowLayout


@dataclass(frozen=True)
class Compared:
    """A second plan beside the first, ready to be shown.

    Attributes:
        rows: the two paths. places: notes of the first plan at which they differ.
        choices: what the second plan was made from.
    """

    rows: tuple[PathRow, PathRow]
    places: tuple[int, ...]
    words: str
    choices: Choices


class CompareBar(QWidget):
    """Lets the teacher choose the other plan; makes it in a thread."""

    compared = Signal(object)
    closed = Signal()
    taken = Signal(object, str)
    place_wanted = Signal(int)
    failed = Signal(object)

    def __init__(self, named_players: Callable[[], list[Player]], parent: QWidget | None = None):
        super().__init__(parent)
        self.setObjectName("toolstrip")
        self._document: Document | None = None
        self._plan: Plan | None = None
        self._named_players = named_players
        self._runner = Runner(self)
        self.result: Compared | None = None
        self.kind = QComboBox()
        self.kind.setAccessibleName(tr("Compare with another"))
        self.value = QComboBox()
        self.value.setAccessibleName(tr("Which one"))
        self.value.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        self.value.setMaximumWidth(theme.px(420))
        self.tempo = QSpinBox()
        self.tempo.setRange(20, 300)
        self.tempo.setKeyboardTracking(False)
        self.tempo.setAccessibleName(tr("Tempo to compare with"))
        self.said = QLabel(textFormat=Qt.TextFormat.PlainText)
        self.said.setAccessibleName(tr("What differs"))
        self.back = QPushButton(tr("&Before"))
        self.next = QPushButton(tr("&Next"))
        self.take = QPushButton(tr("Ta&ke B"))
        self.close_button = QPushButton(tr("Close (Esc)"))
        self._lay_out()
        self.kind.activated.connect(lambda _: self._fill_values())
        self.value.activated.connect(lambda _: self._make())
        self.tempo.valueChanged.connect(lambda _: self._make())
        self.back.clicked.connect(lambda: self._step(-1))
        self.next.clicked.connect(lambda: self._step(1))
        self.take.clicked.connect(self._take)
        self.close_button.clicked.connect(self.closed)
        self._place = -1

    def _lay_out(self) -> None:
        row = FlowLayout(self, gap=8)
        row.setContentsMargins(16, 6, 12, 6)
        name = QLabel(tr("&Compare with"))
        name.setBuddy(self.kind)
        for widget in (name, self.kind, self.value, self.tempo):
            row.addWidget(widget)
        row.addWidget(self.said)
        for button in (self.back, self.next, self.take, self.close_button):
            button.setObjectName("small")
            row.addWidget(button)

    def begin(self, document: Document, plan: Plan) -> None:
        """Compare the open document; the choice made last stays if it still fits."""
        self._document, self._plan = document, plan
        kept = self.kind.currentData()
        self.kind.clear()
        for kind, words in self._kinds(document):
            self.kind.addItem(sentence_like(words), kind)
        self.kind.setCurrentIndex(max(0, self.kind.findData(kept)))
        self._fill_values()
        self.kind.setFocus()

    def choose(self, kind: str) -> None:
        """Compare with another of a kind, as if it had been chosen."""
        self.kind.setCurrentIndex(max(0, self.kind.findData(kind)))
        self._fill_values()

    def update_plan(self, document: Document, plan: Plan) -> None:
        """The first plan has changed: make the second anew."""
        if document.variants.keys() != (self._document.variants.keys() if self._document else ()):
            self.begin(document, plan)
            return
        self._document, self._plan = document, plan
        self._make()

    def _kinds(self, document: Document) -> list[tuple[str, str]]:
        """What the other plan can differ in, with its words."""
        kinds = [("player", tr("player")), ("tempo", tr("tempo"))]
        kinds += [(question, title) for question, title, _ in QUESTIONS]
        if document.variants:
            kinds.insert(0, ("variant", tr("variant")))
        if document.choices.kept is not None:
            kinds.insert(0, ("today", tr("the planner of today")))
        return kinds

    def _fill_values(self) -> None:
        document, kind = self._document, self.kind.currentData()
        if document is None or self._plan is None:
            return
        self.value.clear()
        self.tempo.setVisible(kind == "tempo")
        self.value.setVisible(kind not in ("tempo", "today"))
        if kind == "variant":
            for name in document.variants:
                self.value.addItem(name, name)
        elif kind == "player":
            players = [*map(stage, STAGES), *self._named_players()]
            for player in players:
                if player != document.choices.player:
                    self.value.addItem(player.called, player)
        elif kind == "tempo":
            self.tempo.blockSignals(True)
            self.tempo.setValue(round(self._plan.part.tempo.bpm * 0.75))
            self.tempo.blockSignals(False)
        elif kind != "today":
            self._fill_school(kind, document)
        self._make()

    def _fill_school(self, kind: str, document: Document) -> None:
        for question, _, answers in QUESTIONS:
            if question != kind:
                continue
            for answer, words in answers.items():
                if getattr(document.choices.school, question) != answer:
                    self.value.addItem(words, f"{question} {answer}")

    def _wanted(self) -> tuple[Choices, str] | None:
        """The other choices, and what they are called."""
        document, kind = self._document, self.kind.currentData()
        if document is None:
            return None
        choices, data = document.choices, self.value.currentData()
        if kind == "tempo":
            bpm = float(self.tempo.value())
            return replace(choices, tempo_bpm=bpm), say("at {bpm:.0f}", bpm=bpm)
        if kind == "today":
            return replace(choices, kept=None), tr("planned today")
        if data is None:
            return None
        if kind == "variant":
            return document.variant(data), str(data)
        if kind == "player":
            return replace(choices, player=data), data.called
        wanted = {
            f"{question} {answer}": {question: answer}
            for question, _, answers in QUESTIONS
            for answer in answers
        }
        school = replace(choices.school, **wanted[data])  # type: ignore[arg-type]
        return replace(choices, school=school), self.value.currentText().split(":")[0].lower()

    def _make(self) -> None:
        document, plan = self._document, self._plan
        if document is None or plan is None or not plan.notes:
            return
        if [n.id for n in plan.part.notes] != [n.id for n in document.part.notes]:
            return  # the notes have just been edited; the plan of them is on its way
        wanted = self._wanted()
        if wanted is not None:
            self._runner.run(
                lambda: _with_choices(document, plan, *wanted), self._show, self.failed.emit
            )

    def _show(self, result: Compared) -> None:
        self.result = result
        self._place = -1
        self.said.setText(f"{result.words[0].upper()}{result.words[1:]}.")
        for button in (self.back, self.next):
            button.setEnabled(bool(result.places))
        self.compared.emit(result)

    def _step(self, steps: int) -> None:
        if self.result is None or not self.result.places:
            return
        self._place = (self._place + steps) % len(self.result.places)
        if self._place < 0:
            self._place += len(self.result.places)
        self.place_wanted.emit(self.result.places[self._place])

    def step(self, steps: int) -> None:
        """To the next place that differs, or an earlier one."""
        self._step(steps)

    def _take(self) -> None:
        if self.result is not None:
            self.taken.emit(
                self.result.choices, say("take “{label}”", label=self.result.rows[1].label[3:])
            )


def _with_choices(document: Document, plan: Plan, choices: Choices, name: str) -> Compared:
    other = drawn_plan(document.with_choices(choices))
    found = compare(plan, other)
    places = _starts(plan, sorted(found.notes))
    return Compared(
        (PathRow(plan, tr("A  this plan"), found.notes), PathRow(other, f"B  {name}", found.notes)),
        places,
        found.words,
        choices,
    )


def _starts(plan: Plan, notes: list[int]) -> tuple[int, ...]:
    """The first note of each run of notes that differ."""
    return tuple(n for k, n in enumerate(notes) if k == 0 or notes[k - 1] != n - 1)
