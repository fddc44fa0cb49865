"""The Practice screen: from the plan to what is done each day."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date, time
from pathlib import Path
from typing import Any

from PySide6.QtCore import QTimer
from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import QFileDialog, QTabWidget, QVBoxLayout, QWidget

from plectrum.core.atomic import write_atomically
from plectrum.core.document.document import Document
from plectrum.core.document.homework import Homework, Outcome, Result
from plectrum.core.errors import PlectrumError
from plectrum.core.files.exports import plan_as_musicxml
from plectrum.core.files.ics import programme_as_ics
from plectrum.core.planning.plan import Plan, plan_of
from plectrum.core.playing.performance import Kind
from plectrum.core.practice.care import CAUTION, PAIN_TEXT
from plectrum.core.practice.catalogue import Setting
from plectrum.core.practice.drill_music import drill_document, has_music
from plectrum.core.practice.drills import Drill
from plectrum.core.practice.ladder import LadderStep, step_study
from plectrum.core.practice.practice_day import TimedTask, stages_of
from plectrum.core.practice.programme import Programme, class_programme, programme_of
from plectrum.core.practice.studies import StudyKind
from plectrum.ui.desk.desk import Desk
from plectrum.ui.desk.guest import Guest
from plectrum.ui.desk.screen import Screen
from plectrum.ui.drawing.study_view import StudyView
from plectrum.ui.editing.runner import Runner
from plectrum.ui.look.labels import label
from plectrum.ui.practice.drills_page import DrillsPage
from plectrum.ui.practice.ladder_page import LadderPage
from plectrum.ui.practice.timer_page import TimerPage
from plectrum.ui.practice.week_page import WeekPage

LADDER, DRILLS, WEEK, TODAY = range(4)
UNBOWED = (StudyKind.PLUCK, StudyKind.CROSSINGS)
AT = time(16, 0)
NOTHING = "There is nothing to practise yet: type the notes on the Piece screen (Ctrl+1)."


class PracticeScreen(Screen):
    """Shows what is to be practised of the session's plan."""

    def __init__(self, desk: Desk, parent: QWidget | None = None) -> None:
        super().__init__(desk, parent)
        engraver = desk.engraver
        self.programme: Programme | None = None
        self.guest: Guest | None = None
        self.ladder = LadderPage(StudyView(engraver, "study"))
        self.drills = DrillsPage(StudyView(engraver, "drill"))
        self.week = WeekPage()
        self.timer = TimerPage()
        self.nothing = label("banner", NOTHING, wrap=True)
        self.caution = label("muted", CAUTION, wrap=True)
        self.hurts = label("trial", wrap=True)
        self.tabs = QTabWidget()
        self._programmer = Runner(self)
        self._writer = Runner(self)
        self._stale = True
        self._sore = False
        self._step_shown: tuple[object, ...] = ()
        self._drill_shown: tuple[object, ...] = ()
        self._guests: dict[int, Guest | None] = {LADDER: None, DRILLS: None}
        self._soon = QTimer(self, singleShot=True, interval=0)
        self._soon.timeout.connect(self._make)
        self._lay_out()
        self._connect()

    def _lay_out(self) -> None:
        self.tabs.setDocumentMode(True)
        self.tabs.tabBar().setDrawBase(False)
        for page, title in (
            (self.ladder, "&Ladder"),
            (self.drills, "&Drills"),
            (self.week, "&Week"),
            (self.timer, "&Today"),
        ):
            self.tabs.addTab(page, title)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.nothing)
        column.addWidget(self.hurts)
        column.addWidget(self.tabs, 1)
        self.hurts.hide()
        self.caution.setContentsMargins(16, 2, 16, 4)
        column.addWidget(self.caution)
        self.nothing.hide()

    def catch_up(self) -> None:
        self._opened()
        self._changed()

    @property
    def focus_target(self) -> QWidget:
        return self.tabs.currentWidget()

    def fit(self) -> None:
        """As wide as the interface scale wants it."""
        self.ladder.fit()
        self.drills.fit()

    def refresh_look(self) -> None:
        self.fit()
        for study in (self.ladder.study, self.drills.study):
            study.repaint_all()
        if self.week.programme is not None:
            self.week.fill()

    def _connect(self) -> None:
        session = self.session
        session.opened.connect(self._opened)
        session.planned.connect(lambda _: self._changed())
        session.homework_changed.connect(self._changed)
        self.tabs.currentChanged.connect(self._turned)
        for marked_as in (self.ladder.marked_as, self.week.marked_as, self.timer.marked_as):
            marked_as.connect(self.mark)
        self.ladder.step_chosen.connect(self._show_step)
        self.ladder.show_wanted.connect(self.show_it)
        self.ladder.export_wanted.connect(self.export)
        self.ladder.stay_wanted.connect(self._stay)
        self.drills.drill_shown.connect(self._show_drill)
        self.drills.set_wanted.connect(self._set_drill)
        self.drills.show_wanted.connect(self.show_it)
        self.drills.export_wanted.connect(self.export)
        self.drills.start_wanted.connect(self.time_drill)
        self.week.homework_wanted.connect(self._set_homework)
        self.week.task_opened.connect(self.open_task)
        self.week.class_changed.connect(self._changed)
        self.week.ics_wanted.connect(self.save_calendar)
        self.week.start_wanted.connect(self.practise_today)
        self.timer.finished.connect(self.desk.log.practised)
        self.desk.log.changed.connect(self._show_pain)
        self.timer.hurt.connect(self._hurt)
        for study in (self.ladder.study, self.drills.study):
            study.failed.connect(self._not_engraved)

    def _not_engraved(self, reason: str) -> None:
        self.session.failed.emit(PlectrumError(f"the study cannot be drawn: {reason}"))

    # making

    def _opened(self) -> None:
        self._step_shown = self._drill_shown = ()
        self._guests = {LADDER: None, DRILLS: None}
        self.programme = None
        self.ladder.programme = None
        self.ladder.tree.clear()
        self.week.programme = None
        self.timer.load(())

    def _changed(self) -> None:
        self._stale = True
        if self.isVisible():
            self._soon.start()

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self._show_class()
        self._show_pain()
        if self._stale:
            self._soon.start()

    def _show_class(self) -> None:
        document = self.session.document
        own = document.choices.instrument if document is not None else ""
        names = [p.name for p in self.desk.named_players() if p.bow.instrument == own]
        self.week.show_class(names, self.week.class_members())

    @property
    def busy(self) -> bool:
        """Whether something is being made."""
        return self._stale or self._soon.isActive() or self._programmer.busy or self._writer.busy

    def _make(self) -> None:
        document, plan = self.session.document, self.session.plan
        if document is None or plan is None:
            return
        self._stale = False
        has_notes = bool(plan.part.notes)
        self.nothing.setVisible(not has_notes)
        self.tabs.setEnabled(has_notes)
        members = self._members(document, plan)
        today = date.today()

        def work() -> Programme:
            if len(members) == 1:
                return programme_of(members[0][1], members[0][2] or plan_of(members[0][1]), today)
            return class_programme([(n, d, p or plan_of(d)) for n, d, p in members], today)

        def make() -> object:
            made = work()
            _ = made.days
            return made, document, plan

        self._programmer.run(make, self._take, self.session.failed.emit)

    def _members(self, document: Document, plan: Plan) -> list[tuple[str, Document, Plan | None]]:
        """The document as it is, or for each player of the class."""
        chosen = self.week.class_members()
        players = [p for p in self.desk.named_players() if p.name in chosen]
        if not players:
            return [(document.choices.player.title, document, plan)]
        return [(p.name, document.for_player(p), None) for p in players]

    def _take(self, made: Any) -> None:
        programme: Programme
        document: Document
        plan: Plan
        programme, document, plan = made
        if plan is not self.session.plan:
            self._changed()
            return
        # Marks made meanwhile belong to the document as it is now.
        now = self.session.document
        if now is not None and now.homework != document.homework:
            self._changed()
            return
        self.programme = programme
        self._planned = plan, document
        self.ladder.show_programme(programme)
        self.drills.show_homework(programme.homework, Setting.of(plan.choices))
        self.week.show_programme(programme)
        if not self.timer.stages or (self.timer.at == 0 and not self.timer.running):
            self._load_today()

    # ladder and drills

    def _show_step(self, step: LadderStep | None) -> None:
        if step is None or self.programme is None:
            self._guests[LADDER] = None
            return
        plan, document = self._planned
        key = (plan, step.key, step.bpm)
        if key == self._step_shown:
            return
        self._step_shown = key

        def work() -> object:
            study = step_study(document, plan, step)
            made = plan_of(study.document)
            _ = made.contact
            return Guest(study.document.title, study.document, made, step.shown_as)

        def take(guest: Any) -> None:
            self._guests[LADDER] = guest
            bowed = step.kind not in UNBOWED
            self.ladder.study.show_study(guest.document, guest.plan, bowed=bowed)

        self._writer.run(work, take, self.session.failed.emit)

    def _show_drill(self, drill: Drill) -> None:
        plan = self.session.plan
        if plan is None or not self.drills.isVisible() or not plan.part.notes:
            return
        key = (drill, plan.choices.bow, plan.choices.player)
        if key == self._drill_shown:
            return
        self._drill_shown = key
        musical = has_music(drill)
        self.drills.show_button.setEnabled(musical)
        self.drills.export_button.setEnabled(musical)
        self.drills.study.setVisible(musical)
        if not musical:
            self._guests[DRILLS] = None
            return
        choices = plan.choices

        def work() -> object:
            document = drill_document(drill, choices)
            made = plan_of(document)
            _ = made.contact
            silent = all(step.direction is None for step in drill.steps)
            kind = Kind.SILENT if silent else Kind.WRITTEN
            return Guest(document.title, document, made, kind)

        def take(guest: Any) -> None:
            self._guests[DRILLS] = guest
            bowed = guest.kind is Kind.WRITTEN
            self.drills.study.show_study(guest.document, guest.plan, bowed=bowed)

        self._writer.run(work, take, self.session.failed.emit)

    def _turned(self, index: int) -> None:
        self.caution.setVisible(index in (LADDER, WEEK))  # the others say their own
        if index == DRILLS and self.drills.drill is not None:
            self._show_drill(self.drills.drill)
        if index == LADDER:
            self._show_step(self.ladder.chosen)

    def _guest(self) -> Guest | None:
        return self._guests.get(self.tabs.currentIndex())

    def show_it(self) -> None:
        """The chosen study or drill on the Show screen."""
        guest = self._guest()
        if guest is None:
            self.message.emit("Choose a step or a drill with music first.")
            return
        self.desk.guest_wanted.emit(guest)

    def export(self) -> None:
        """The chosen study or drill as MusicXML."""
        guest = self._guest()
        if guest is None:
            self.message.emit("Choose a step or a drill with music first.")
            return
        suggested = f"{guest.title.replace(':', ',')}.musicxml"
        name, _ = QFileDialog.getSaveFileName(
            self, "Export the study", suggested, "MusicXML (*.musicxml)"
        )
        if name:
            self._write(Path(name), plan_as_musicxml(guest.document, guest.plan), "Exported")

    def _write(self, path: Path, data: bytes, said: str) -> None:
        try:
            write_atomically(path, data)
        except PlectrumError as error:
            self.session.failed.emit(error)
            return
        self.message.emit(f"{said} {path.name}")

    # homework

    def mark(self, key: str, mark: Outcome | None) -> None:
        """How a task went; None takes that back. Undoable."""
        result = Result(mark, date.today()) if mark is not None else None
        words = f"mark “{key}”" if mark is None else f"mark “{key}” {mark}"
        self.session.change(lambda d: d.with_homework(d.homework.marked(key, result)), words)
        if mark is not None and self.programme is not None:
            self._tell_mark(self.programme, key, mark)

    def _tell_mark(self, programme: Programme, key: str, mark: Outcome) -> None:
        """A mark for the log: with the tempo where the step is one at a tempo."""
        task = next((t for t in programme.tasks if t.key == key), None)
        step = programme.steps.get(key)
        if task is None:
            return
        bpm = step.bpm if step is not None and step.kind is StudyKind.HANDS else None
        section = next((r.section.name for r in programme.ladders if step in r.steps), "")
        self.desk.log.step_marked(key, task.short or task.title, str(mark), bpm, section)

    def _hurt(self, minutes: int) -> None:
        self.message.emit("Practice is stopped for today.")
        self.desk.log.practised(minutes, pain=True)

    def _show_pain(self) -> None:
        """Where something hurts there is no ladder."""
        student = self.desk.log.student_here()
        self.set_pain(student.pain_since if student is not None else None)

    def set_pain(self, since: date | None) -> None:
        """Something hurts: no ladder until it is over."""
        self.hurts.setVisible(since is not None)
        if since is not None:
            self.hurts.setText(f"Since {since.day} {since:%B} something hurts. {PAIN_TEXT}")
        for page in (self.ladder, self.drills):
            page.setEnabled(since is None)
        self._sore = since is not None
        if self._sore and not self.timer.running:
            self.timer.load(())

    def mark_chosen(self, mark: Outcome | None) -> None:
        """How what is chosen on the page shown went."""
        page = self.tabs.currentWidget()
        if page is self.timer and mark is not None:
            self.timer.mark(mark)
        elif page is self.ladder:
            self.ladder.mark(mark)
        elif page is self.week:
            self.week.mark(mark)

    def _set_drill(self, key: str, values: dict[str, float] | None) -> None:
        self.session.change(
            lambda d: d.with_homework(d.homework.with_drill(key, values)), "set a drill"
        )

    def _stay(self, kind: str, days: int) -> None:
        words = f"{kind}: {days} day{'s' * (days != 1)}"
        self.session.change(lambda d: d.with_homework(d.homework.staying(kind, days)), words)

    def _set_homework(self, change: Callable[[Homework], Homework], words: str) -> None:
        self.session.change(lambda d: d.with_homework(change(d.homework)), words)

    def open_task(self, key: str) -> None:
        """The step or drill of a task."""
        if self.programme is None:
            return
        drill = self.programme.drill_of(key)
        if drill is not None:
            self.tabs.setCurrentIndex(DRILLS)
            for k in range(self.drills.list.count()):
                if self.drills.list.item(k).text() == drill.kind.title:
                    self.drills.list.setCurrentRow(k)
        elif self.ladder.choose(key):
            self.tabs.setCurrentIndex(LADDER)

    def save_calendar(self) -> None:
        """The days as a calendar file."""
        programme, document = self.programme, self.session.document
        if programme is None or document is None:
            return
        name, _ = QFileDialog.getSaveFileName(
            self, "Save the calendar", f"{document.title} practice.ics", "Calendar (*.ics)"
        )
        if name:
            self._write(Path(name), programme_as_ics(programme, document.title, AT), "Saved")

    # today

    def _load_today(self) -> None:
        programme = self.programme
        days = [d for d in programme.days if d.entries] if programme is not None else []
        if programme is None or not days or self._sore:
            self.timer.load(())
            return
        today = next((d for d in days if d.on == programme.today), days[0])
        self.timer.load(stages_of(today, programme))

    def practise_today(self) -> None:
        """The clock, with today's stages, or those of the next practice day."""
        if self._sore:
            self.message.emit("Something hurts: no practice until it is over.")
            return
        if not self.timer.running:
            self._load_today()
        self.tabs.setCurrentIndex(TODAY)
        self.timer.play.setFocus()

    def time_drill(self) -> None:
        """The chosen drill alone by the clock, once through."""
        drill, kind = self.drills.drill, self.drills.kind
        if drill is None or kind is None:
            return
        key = f"drill.{kind.key}"
        stage = TimedTask(
            kind.title, drill.what, drill.good, drill.seconds, key, drill.caution, drill.steps
        )
        self.timer.load((stage,))
        self.tabs.setCurrentIndex(TODAY)
        self.timer.play.setFocus()
