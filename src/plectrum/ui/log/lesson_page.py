"""The lesson: its sheet at the left, what is entered after it at the right."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from datetime import date

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent, QShowEvent
from PySide6.QtWidgets import (
    QCheckBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QListWidget,
    QListWidgetItem,
    QPlainTextEdit,
    QPushButton,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from plectrum.core.advice.care import LONG_DAY_MINUTES
from plectrum.core.document.homework import Outcome
from plectrum.core.log.lesson import LessonSheet
from plectrum.core.log.records import CHECKS, Lesson, Practised, Record, StepDone, Student
from plectrum.core.wording import in_words, say, tr
from plectrum.core.wording.dates import day_month
from plectrum.ui.look import theme
from plectrum.ui.look.labels import label, scrolling, set_side_width
from plectrum.ui.look.outcomes import with_outcome

STEP = Qt.ItemDataRole.UserRole
LONG = say(
    "More than {long_day_minutes} minutes: was that in several short sessions with pauses?",
    long_day_minutes=LONG_DAY_MINUTES,
)
_PARTS = (
    ("given", tr("GIVEN")), ("done", tr("PRACTISED")), ("went", tr("STEPS")),
    ("measured", tr("MEASURED")),
    ("next", tr("WHAT COMES NEXT")),
)  # fmt: skip


class StepList(QListWidget):
    """Steps marked by G and A; U takes a mark back."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("boxed")
        self.setAccessibleName(tr("Steps: G went well, A again, U not marked"))
        self.marks: dict[int, Outcome] = {}

    def show_steps(self, steps: Sequence[StepDone]) -> None:
        self.clear()
        self.marks = {}
        for step in steps:
            item = QListWidgetItem(with_outcome(step.title, None))
            item.setData(STEP, step)
            self.addItem(item)
        if steps:
            self.setCurrentRow(0)

    def mark(self, row: int, mark: Outcome | None) -> None:
        if not 0 <= row < self.count():
            return
        self.marks.pop(row, None)
        if mark is not None:
            self.marks[row] = mark
        item = self.item(row)
        item.setText(with_outcome(item.data(STEP).title, mark))
        self.setCurrentRow(min(row + 1, self.count() - 1))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        keys = {Qt.Key.Key_G: Outcome.GOOD, Qt.Key.Key_A: Outcome.AGAIN, Qt.Key.Key_U: None}
        if Qt.Key(event.key()) in keys and not event.modifiers():
            self.mark(self.currentRow(), keys[Qt.Key(event.key())])
            return
        super().keyPressEvent(event)


class LessonPage(QWidget):
    """Signals: save_wanted with the records of the lesson; give_wanted: the open plan;
    handout_wanted; hurts with whether something hurts."""

    save_wanted = Signal(object)
    give_wanted = Signal()
    handout_wanted = Signal()

    def __init__(
        self, today: Callable[[], date] = date.today, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self._today = today
        self.student: Student | None = None
        self.texts = {name: label("why", wrap=True) for name, _ in _PARTS}
        self.since = label("notetitle")
        self.last_note = label("sentence", wrap=True)
        self.checks = {name: QCheckBox(in_words(name)) for name in CHECKS}
        self.steps = StepList()
        self.note, self.next_note = (
            self._text(tr("Notes of the lesson")),
            self._text(tr("For next time")),
        )
        self.minutes = QSpinBox()
        self.minutes.setRange(0, 600)
        self.minutes.setSuffix(f" {tr('min')}")
        self.minutes.setAccessibleName(tr("Practised today"))
        self.long = label("problem", LONG, wrap=True)
        self.minutes.valueChanged.connect(lambda m: self.long.setVisible(m > LONG_DAY_MINUTES))
        self.pain = QCheckBox(tr("Something hurts"))
        self.save = QPushButton(tr("&Keep the lesson"))
        self.save.setObjectName("primary")
        self.save.setShortcut("Ctrl+Return")
        self.save.setToolTip(tr("Keep what is entered  (Ctrl+Enter)"))
        self.give = QPushButton(tr("&Give the open plan"))
        self.handout = QPushButton(tr("&Handout of next week …"))
        self._lay_out()
        self.save.clicked.connect(self._save)
        self.give.clicked.connect(self.give_wanted)
        self.handout.clicked.connect(self.handout_wanted)
        self.long.hide()

    def _text(self, name: str) -> QPlainTextEdit:
        field = QPlainTextEdit()
        field.setTabChangesFocus(True)
        field.setAccessibleName(name)
        field.setPlaceholderText(name)
        return field

    @property
    def focus_target(self) -> QWidget:
        """What answers the keys of the page. No proxy: the Tab key would pass by what is before."""
        return self.steps

    def _lay_out(self) -> None:
        sheet = QWidget()
        left = QVBoxLayout(sheet)
        left.setContentsMargins(20, 12, 16, 12)
        left.setSpacing(3)
        left.addWidget(self.since)
        left.addWidget(self.last_note)
        for name, heading in _PARTS:
            left.addWidget(label("section", heading))
            left.addWidget(self.texts[name])
            left.addSpacing(6)
        left.addStretch(1)
        form = QWidget()
        form.setObjectName("panel")
        right = QVBoxLayout(form)
        right.setContentsMargins(16, 12, 16, 12)
        right.setSpacing(6)
        right.addWidget(label("section", tr("AFTER THE LESSON")))
        grid = QGridLayout()
        for k, box in enumerate(self.checks.values()):
            grid.addWidget(box, k // 2, k % 2)
        grid.addWidget(self.pain, len(self.checks) // 2, 1)
        right.addLayout(grid)
        steps_name = QLabel(tr("&Steps (G went well, A again)"))
        steps_name.setBuddy(self.steps)
        right.addWidget(steps_name)
        right.addWidget(self.steps, 1)
        row = QHBoxLayout()
        practised = QLabel(tr("Practised to&day"))
        practised.setBuddy(self.minutes)
        row.addWidget(practised)
        row.addWidget(self.minutes)
        row.addStretch(1)
        right.addLayout(row)
        for widget in (self.long, self.note, self.next_note):
            right.addWidget(widget)
        right.addWidget(self.save)
        row = QHBoxLayout()
        row.addWidget(self.give)
        row.addWidget(self.handout)
        right.addLayout(row)
        self._form = scrolling(form)
        whole = QHBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        whole.addWidget(scrolling(sheet, "plain", tr("The lesson")), 1)
        whole.addWidget(self._form)
        self.fit()

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.fit()  # only now the words have their sizes

    def fit(self) -> None:
        """As wide as the interface scale wants it."""
        set_side_width(self._form, theme.px(420))
        self.steps.setMinimumHeight(theme.px(110))
        for field in (self.note, self.next_note):
            field.setFixedHeight(theme.px(56))

    def show_sheet(self, sheet: LessonSheet, steps: Sequence[StepDone]) -> None:
        """Show a sheet, and steps to be marked; what is being entered is kept for a student."""
        fresh = self.student is None or self.student.id != sheet.student.id
        self.student = sheet.student
        self.since.setText(say("Since {day}", day=day_month(sheet.since)))
        self.last_note.setText(
            say("Last time: {last_note}", last_note=sheet.last_note) if sheet.last_note else ""
        )
        self.last_note.setVisible(bool(sheet.last_note))
        for name, _ in _PARTS:
            self.texts[name].setText("\n".join(getattr(sheet, name)) or tr("nothing"))
        if fresh:
            self._clear()
        if fresh or not self.steps.marks:
            self.steps.show_steps(steps)

    def _clear(self) -> None:
        for box in (*self.checks.values(), self.pain):
            box.setChecked(False)
        self.pain.setChecked(self.student is not None and self.student.pain_since is not None)
        self.minutes.setValue(0)
        self.note.clear()
        self.next_note.clear()
        self.steps.show_steps([self.steps.item(k).data(STEP) for k in range(self.steps.count())])

    def records(self) -> list[Record]:
        """What has been entered."""
        student = self.student
        if student is None:
            return []
        on, hurts = self._today(), self.pain.isChecked()
        checks = {name: box.isChecked() for name, box in self.checks.items()}
        found: list[Record] = [
            Lesson(
                student.id, on, self.note.toPlainText().strip(),
                self.next_note.toPlainText().strip(), checks, hurts,
            )
        ]  # fmt: skip
        for row, mark in sorted(self.steps.marks.items()):
            step: StepDone = self.steps.item(row).data(STEP)
            found.append(
                StepDone(student.id, on, step.key, step.title, str(mark), step.piece_id,
                         step.bpm, step.section)
            )  # fmt: skip
        if self.minutes.value():
            found.append(Practised(student.id, on, self.minutes.value(), hurts))
        if hurts != (student.pain_since is not None):
            found.append(replace(student, pain_since=on if hurts else None))
        return found

    def _save(self) -> None:
        found = self.records()
        if found:
            self.save_wanted.emit(found)

    def saved(self) -> None:
        """What was entered is kept: the form is empty again."""
        self._clear()
