"""The Log screen: one student at a time, or the class."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from datetime import date, timedelta
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import Signal
from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import (
    QComboBox,
    QFileDialog,
    QHBoxLayout,
    QInputDialog,
    QLabel,
    QPushButton,
    QTabWidget,
    QVBoxLayout,
    QWidget,
)

from plectrum.core.errors import PlectrumError
from plectrum.core.instrument.bow import Bow
from plectrum.core.instrument.specification import instrument, instrument_names
from plectrum.core.log.lesson import lesson_sheet
from plectrum.core.log.limits import RECENT, Proposal, proposals, with_proposals
from plectrum.core.log.measuring import longest_bow_aim_s, measured_by_bow, strokes_seen
from plectrum.core.log.records import Measure, Measured, PlanGiven, StepDone, Student
from plectrum.core.player.player import STAGES, stage
from plectrum.core.tracking.sensor import SensorReader
from plectrum.core.wording import in_words, say, tr
from plectrum.core.wording.dates import day_month
from plectrum.ui.desk.desk import Desk
from plectrum.ui.desk.screen import Screen
from plectrum.ui.editing.runner import Runner
from plectrum.ui.log.lesson_page import LessonPage
from plectrum.ui.log.measure_page import Aim, MeasurePage
from plectrum.ui.log.pictures_page import PicturesPage
from plectrum.ui.log.whole_log import WholeLog
from plectrum.ui.look.labels import label

if TYPE_CHECKING:
    from plectrum.core.player.records import NamedPlayer

LESSON, MEASURE, PICTURES = range(3)
STEPS_N, STEPS_BACK = 12, timedelta(weeks=8)
NOBODY = tr(
    "No student yet. “New student” adds one; a player kept under the same name belongs to it."
)


class LogScreen(Screen):
    """Shows and keeps what was done and measured."""

    failed = Signal(object)

    def __init__(
        self,
        desk: Desk,
        today: Callable[[], date] = date.today,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(desk, parent)
        self.link, self.store, self.shelf = desk.log, desk.log.store, desk.shelf
        self._today = today
        self._runner = Runner(self)
        self._stale = True
        self.whole = WholeLog(self.store, today, self)
        self.students: list[Student] = []
        self.who = QComboBox()
        self.who.setAccessibleName(tr("Student"))
        self.who.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        self.who.setMinimumContentsLength(14)
        self.new = QPushButton(tr("&New student …"))
        self.new.setObjectName("small")
        self.pain = label("trial", wrap=True)
        self.pain_over = QPushButton(tr("All right again"))
        self.pain_over.setObjectName("small")
        self.nobody = label("banner", NOBODY, wrap=True)
        self.lesson = LessonPage(today)
        self.measure = MeasurePage(today=today)
        self.pictures = PicturesPage(self.store, today)
        self.tabs = QTabWidget()
        self._lay_out()
        self._connect()

    def _lay_out(self) -> None:
        head = QHBoxLayout()
        head.setContentsMargins(16, 8, 16, 4)
        head.setSpacing(8)
        name = QLabel(tr("&Student"))
        name.setBuddy(self.who)
        for widget in (name, self.who, self.new):
            head.addWidget(widget)
        head.addStretch(1)
        hurts = QHBoxLayout()
        hurts.setContentsMargins(16, 0, 16, 4)
        hurts.addWidget(self.pain, 1)
        hurts.addWidget(self.pain_over)
        self.tabs.setDocumentMode(True)
        self.tabs.tabBar().setDrawBase(False)
        for page, title in (
            (self.lesson, tr("&Lesson")),
            (self.measure, tr("&Measure")),
            (self.pictures, tr("&Pictures")),
        ):
            self.tabs.addTab(page, title)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addLayout(head)
        column.addLayout(hurts)
        self.nobody.setContentsMargins(16, 0, 16, 4)
        column.addWidget(self.nobody)
        column.addWidget(self.tabs, 1)
        column.addStretch(0)

    @property
    def focus_target(self) -> QWidget:
        page: QWidget = self.tabs.currentWidget().focus_target  # type: ignore[attr-defined]
        return page

    def refresh_look(self) -> None:
        self.fit()

    def fit(self) -> None:
        """Sizes and colours of the present scale and theme."""
        for page in (self.lesson, self.measure, self.pictures):
            page.fit()

    def _connect(self) -> None:
        self.who.activated.connect(lambda _: self._chosen())
        self.new.clicked.connect(self.ask_new)
        self.pain_over.clicked.connect(self._pain_is_over)
        self.tabs.currentChanged.connect(lambda _: self._show_page())
        self.lesson.save_wanted.connect(self._keep_lesson)
        self.lesson.give_wanted.connect(self.give_plan)
        self.lesson.handout_wanted.connect(self._hand_out)
        self.measure.measured.connect(self._keep_measured)
        self.measure.follow_wanted.connect(self.read_bow)
        self.measure.take_wanted.connect(self.take_limits)
        self.measure.failed.connect(self.failed)
        self.whole.changed.connect(self._whole_changed)
        self.whole.failed.connect(self.failed)
        self.link.changed.connect(self.refresh)
        self.failed.connect(self.session.failed)

    # whom it shows

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        here = self.link.student_here()
        self.refresh(here.id if here is not None else None)

    @property
    def student(self) -> Student | None:
        index = self.who.currentIndex()
        return self.students[index] if 0 <= index < len(self.students) else None

    def refresh(self, wanted: str | None = None) -> None:
        """Read the students anew, and show the one that was shown, or another that is wanted."""
        if not self.isVisible():
            return
        before = self.student
        keep = wanted or (before.id if before is not None else None)
        try:
            self.students = self.store.all(Student, archived=False)
        except PlectrumError as error:
            self.failed.emit(error)
            return
        self.who.clear()
        self.who.addItems([f"{s.name}, {in_words(s.instrument)}" for s in self.students])
        index = next((k for k, s in enumerate(self.students) if s.id == keep), 0)
        self.who.setCurrentIndex(index if self.students else -1)
        self._chosen()

    def _chosen(self) -> None:
        student = self.student
        self.nobody.setVisible(student is None)
        self.tabs.setVisible(student is not None)
        hurts = student is not None and student.pain_since is not None
        self.pain.setVisible(hurts)
        self.pain_over.setVisible(hurts)
        if student is None:
            return
        if student.pain_since is not None:
            self.pain.setText(
                say(
                    "Since {day} something hurts: no ladder, no measuring, until "
                    "teacher and, if it stays, doctor say so.",
                    day=day_month(student.pain_since),
                )
            )
        self._show_page()

    def _show_page(self) -> None:
        """Fill the page that is seen."""
        student = self.student
        if student is None or not self.isVisible():
            return
        try:
            {LESSON: self._show_lesson, MEASURE: self._show_measure, PICTURES: self._show_pictures}[
                self.tabs.currentIndex()
            ](student)
        except PlectrumError as error:
            self.failed.emit(error)

    def _show_lesson(self, student: Student) -> None:
        sheet = lesson_sheet(self.store, student, self._today(), self._proposals(student))
        self.lesson.show_sheet(sheet, self._steps(student))

    def _show_measure(self, student: Student) -> None:
        self.measure.show_student(student, lambda string, way: self._aim(student, string, way))
        self.measure.setEnabled(student.pain_since is None)
        named = self._named(student)
        found = self._proposals(student)
        self.measure.show_proposals(found, (), named is not None)
        if named is None:
            return
        from plectrum.core.log.plans import out_of_date  # only here: it loads the planner

        plans = self.store.all(PlanGiven, student_id=student.id)
        player = with_proposals(named.player, found) if found else named.player
        self._runner.run(
            lambda: out_of_date(plans, player),
            lambda flagged: self.measure.show_proposals(found, flagged, True),
            self.failed.emit,
        )

    def _aim(self, student: Student, string: int, way: str) -> Aim:
        """How long the next longest bow of a student is to be."""
        named = self._named(student)
        bow = named.bow if named is not None else Bow.full_size(student.instrument)
        own = (named.player if named is not None else stage(STAGES[1])).on(
            instrument(student.instrument, bow.size)
        )
        measured = self.store.all(Measured, student_id=student.id, measure=Measure.LONGEST_BOW)
        usable_mm = (own.usable_to - own.usable_from) * bow.hair_mm
        seconds = longest_bow_aim_s(measured, string, way, usable_mm, own.slowest_mm_s)
        return Aim(seconds, bow, (own.usable_from, own.usable_to))

    def _show_pictures(self, student: Student) -> None:
        self.pictures.show_student(student)

    @property
    def busy(self) -> bool:
        return self._runner.busy

    def _named(self, student: Student) -> NamedPlayer | None:
        found = [p for p in self.shelf.all()[0] if p.name == student.name]
        own = [p for p in found if p.bow.instrument == student.instrument]
        return own[0] if own else None

    def _proposals(self, student: Student) -> tuple[Proposal, ...]:
        named = self._named(student)
        if named is None:
            return ()
        today = self._today()
        measured = self.store.all(Measured, since=today - RECENT, student_id=student.id)
        return proposals(measured, named.player, named.bow, self._today())

    def _steps(self, student: Student) -> list[StepDone]:
        """Steps to be marked: those that did not go well, then the newest."""
        latest: dict[tuple[str | None, str], StepDone] = {}
        since = self._today() - STEPS_BACK
        for step in self.store.all(StepDone, since=since, student_id=student.id):
            latest[step.piece_id, step.key] = step
        rows = sorted(latest.values(), key=lambda s: s.on, reverse=True)
        rows.sort(key=lambda s: s.mark != "again")
        return rows[:STEPS_N]

    # commands

    def ask_new(self) -> None:
        """A new student, by name and instrument."""
        name, ok = QInputDialog.getText(self, tr("New student"), tr("Name:"))
        if not ok or not name.strip():
            return
        kinds = {in_words(kind): kind for kind in instrument_names()}
        chosen, ok = QInputDialog.getItem(
            self, tr("New student"), tr("Instrument:"), list(kinds), 0, False
        )
        if ok:
            self.add_student(name.strip()[:120], kinds[chosen])

    def add_student(self, name: str, kind: str) -> None:
        """Add a student and show it."""
        student = Student(name, kind)
        if self.link.put(student):
            self.refresh(student.id)
            self.message.emit(say("{name} is in the log.", name=name))

    def _keep_lesson(self, records: Sequence[Any]) -> None:
        if self.link.put(*records):
            self.lesson.saved()
            self._show_page()
            self.message.emit(tr("The lesson is kept."))

    def _keep_measured(self, records: Sequence[Any]) -> None:
        if records[0].measure == Measure.TEMPO:
            piece = self.link.piece_here()
            if piece is None:
                self.message.emit(tr("Open the piece first: a tempo belongs to a piece."))
                return
            records = [piece, *(replace(r, piece_id=piece.id) for r in records)]
        if self.link.put(*records):
            records = [r for r in records if isinstance(r, Measured)]
            self.message.emit(
                say(
                    "Kept: {measure}, {value:.3g}.",
                    measure=records[0].measure,
                    value=records[0].value,
                )
            )

    def _pain_is_over(self) -> None:
        if self.student is not None:
            self.link.put(replace(self.student, pain_since=None))

    def give_plan(self) -> None:
        """The open plan is noted as given."""
        student = self.student
        if student is None:
            return
        if self.link.give_plan(student):
            self.message.emit(say("The open plan is noted as given to {name}.", name=student.name))
        else:
            self.message.emit(tr("Open a plan first."))

    def take_limits(self, taken: Sequence[Proposal]) -> None:
        """The player of that name gets the limits."""
        student = self.student
        named = self._named(student) if student is not None else None
        if named is None or not taken:
            return
        new = replace(named, player=with_proposals(named.player, taken))
        try:
            self.shelf.save(new)
        except PlectrumError as error:
            self.failed.emit(error)
            return
        self._plan_with(new)
        self.message.emit(say("{name} has new limits.", name=new.name))
        self._show_page()

    def _plan_with(self, named: NamedPlayer) -> None:
        """A player has new limits: the open plan follows if it is that player's."""
        self.desk.players_changed.emit()
        document = self.session.document
        if document is not None and document.choices.player.title == named.name:
            self.session.edit(lambda c: replace(c, player=named.player), tr("limits from the log"))

    def _hand_out(self) -> None:
        """The page of the student of the lesson; never another's that happens to be open."""
        student, here = self.student, self.link.student_here()
        if student is None or here is None or here.id != student.id:
            name = student.name if student is not None else tr("the student")
            self.message.emit(say("Open a tune and choose {name} as its player first.", name=name))
            return
        self.desk.hand_out_wanted.emit()

    def read_bow(self) -> None:
        """What a followed bow's file tells of long, fast and quick bows."""
        name, _ = QFileDialog.getOpenFileName(self, tr("A followed bow: a file of its lines"))
        student = self.student
        if not name or student is None:
            return
        named = self._named(student)
        hair_mm = named.bow.hair_mm if named is not None else 650.0
        path, today = Path(name), self._today()
        string, measure = self.measure.string.currentIndex(), self.measure.chosen

        def work() -> object:
            from plectrum.core.incoming.files import read_file

            text = read_file(path).decode("utf-8", "replace")
            samples = SensorReader().feed(text)
            strokes = strokes_seen(samples, hair_mm)
            return measured_by_bow(strokes, measure, student.id, today, string)

        def take(found: Any) -> None:
            if found:
                self._keep_measured(found)
            else:
                self.message.emit(tr("No stroke of that bow was long enough, or too few in a row."))

        self._runner.run(work, take, self.failed.emit)

    def _whole_changed(self, said: str) -> None:
        self.link.changed.emit()
        self.message.emit(said)
