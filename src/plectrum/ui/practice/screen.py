"""The Practice screen: from the plan to what is done each day."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import date
from pathlib import Path
from typing import Any

from PySide6.QtCore import QTimer
from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import QTabWidget, QVBoxLayout, QWidget

from plectrum.core.advice.care import CAUTION, PAIN_TEXT
from plectrum.core.atomic import write_atomically
from plectrum.core.document.document import Document
from plectrum.core.document.homework import Homework, Outcome, Result
from plectrum.core.errors import PlectrumError
from plectrum.core.files.exports import plan_as_musicxml
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.planning.plan import Plan
from plectrum.core.practice.exercises.model import Exercise
from plectrum.core.practice.exercises.routine import Routine
from plectrum.core.practice.exercises.shelf import Shelf
from plectrum.core.practice.ladder import LadderStep, step_study
from plectrum.core.practice.practice_day import (
    TimedTask,
    stages_of,
)
from plectrum.core.practice.programme import (
    Programme,
    class_programme,
    exercise_programme,
    programme_of,
)
from plectrum.core.practice.study_kinds import StudyKind
from plectrum.core.practice.week import DRILL_PREFIX
from plectrum.core.wording import say, several, tr
from plectrum.core.wording.dates import day_month
from plectrum.ui.desk.desk import Desk
from plectrum.ui.desk.guest import Guest
from plectrum.ui.desk.screen import Screen
from plectrum.ui.desk.sheets import Sheets
from plectrum.ui.drawing.study_view import StudyView
from plectrum.ui.editing.runner import Runner
from plectrum.ui.look.labels import label
from plectrum.ui.look.where_to import where_to
from plectrum.ui.practice.exercise_work import AT, CALENDAR, MUSIC, ExerciseWork
from plectrum.ui.practice.exercises_page import ExercisesPage
from plectrum.ui.practice.ladder_page import LadderPage
from plectrum.ui.practice.making import (
    moving_exercise,
    moving_step,
)
from plectrum.ui.practice.routines_page import RoutinesPage
from plectrum.ui.practice.timer_page import TimerPage
from plectrum.ui.practice.week_page import WeekPage

LADDER, EXERCISES, ROUTINES, WEEK, TODAY = range(5)
UNBOWED = (StudyKind.PLUCK, StudyKind.CROSSINGS)
NOTHING = tr("There is nothing to practise yet: type the notes on the Piece screen (Ctrl+1).")


class PracticeScreen(Screen):
    """Shows what is to be practised of the session's plan."""

    def __init__(self, desk: Desk, parent: QWidget | None = None) -> None:
        super().__init__(desk, parent)
        engraver = desk.engraver
        self.programme: Programme | None = None
        self._planned: tuple[Plan | None, Document | None] = None, None  # what it was made from
        self.guest: Guest | None = None
        self.ladder = LadderPage(StudyView(engraver, "study"))
        exercises = Shelf(desk.exercises_path, Exercise)
        self.exercises = ExercisesPage(StudyView(engraver, "exercise"), exercises)
        self.routines = RoutinesPage(Shelf(desk.routines_path, Routine))
        self.week = WeekPage()
        self.timer = TimerPage(desk.speaker)
        self.timer.set_voice(desk.settings.voice[0])
        self.nothing = label("banner", NOTHING, wrap=True)
        self.caution = label("muted", CAUTION, wrap=True)
        self.hurts = label("trial", wrap=True)
        self.tabs = QTabWidget()
        self._programmer = Runner(self)
        self._writer = Runner(self)
        self._stale = True
        self.sore = False
        self._step_shown: tuple[object, ...] = ()
        self._guest: Guest | None = None  # the step of the ladder that is shown
        self._mover = Runner(self)
        self._newly_opened = False
        self._soon = QTimer(self, singleShot=True, interval=0)
        self._soon.timeout.connect(self._make)
        self.work = ExerciseWork(self, self)
        self._lay_out()
        self._connect()

    def _lay_out(self) -> None:
        self.tabs.setDocumentMode(True)
        self.tabs.tabBar().setDrawBase(False)
        for page, title in (
            (self.ladder, tr("&Ladder")),
            (self.exercises, tr("&Exercises")),
            (self.routines, tr("Rout&ines")),
            (self.week, tr("&Week")),
            (self.timer, tr("&Today")),
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

    def arrive(self, before: Screen | None) -> None:
        if self.desk.bench.alone and self.tabs.currentIndex() == LADDER:
            self.tabs.setCurrentIndex(EXERCISES)

    @property
    def focus_target(self) -> QWidget:
        page: QWidget = self.tabs.currentWidget().focus_target  # type: ignore[attr-defined]
        return page

    def fit(self) -> None:
        """As wide as the interface scale wants it."""
        self.ladder.fit()
        self.exercises.fit()
        self.timer.fit()

    def refresh_look(self) -> None:
        self.fit()
        for study in (self.ladder.study, self.exercises.study):
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
        self.work.connect_pages()
        self.week.homework_wanted.connect(self._set_homework)
        self.week.task_opened.connect(self.open_task)
        self.week.class_changed.connect(self._changed)
        self.week.ics_wanted.connect(self.save_calendar)
        self.week.start_wanted.connect(self.practise_today)
        self.timer.finished.connect(self.desk.log.practised)
        self.desk.log.changed.connect(self._show_pain)
        self.timer.hurt.connect(self._hurt)
        self.timer.tried.connect(self.work.tell_tries)
        self.timer.stage_begun.connect(self._make_moving)
        self.timer.message.connect(self.message)
        self.timer.heard.volume.valueChanged.connect(self.desk.settings.keep_volume)
        self.desk.bench.changed.connect(self._changed)
        self.desk.players_changed.connect(self._changed)
        for study in (self.ladder.study, self.exercises.study):
            study.failed.connect(self._not_engraved)

    def _not_engraved(self, reason: str) -> None:
        self.session.failed.emit(
            PlectrumError(say("the study cannot be drawn: {reason}", reason=reason))
        )

    # making

    def _opened(self) -> None:
        self._step_shown, self._guest = (), None
        self._newly_opened = True
        self.programme, self._planned = None, (None, None)
        self.ladder.forget()
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
        document, plan = self.session.both
        if document is not None and plan is None:
            return
        self._stale = False
        bench, today = self.desk.bench, date.today()
        days = self.desk.log.practice_days(today)
        has_notes = plan is not None and bool(plan.part.notes)
        self.nothing.setVisible(document is not None and not has_notes)
        self.tabs.setTabVisible(LADDER, has_notes)
        if has_notes and self._newly_opened:
            self.tabs.setCurrentIndex(LADDER)
        self._newly_opened = False
        self._show_exercises(days)
        choices, homework = bench.choices, bench.homework
        members = self._members(document, plan) if document and plan and has_notes else []

        def work() -> Programme:
            if not members:
                return exercise_programme(homework, choices, today, days)
            if len(members) == 1:
                _, own, planned = members[0]
                return programme_of(own, planned or plan_of(own), today, days)
            return class_programme([(n, d, p or plan_of(d)) for n, d, p in members], today)

        def make() -> object:
            made = work()
            _ = made.days
            return made, document, plan, homework

        self._programmer.run(make, self._take, self.session.failed.emit)

    def _show_exercises(self, days: Mapping[str, int]) -> None:
        """The exercises and the routine for whoever practises."""
        bench = self.desk.bench
        named = self.desk.named_players()
        players = {p.name: p.bow.instrument for p in named}
        self.exercises.show_for(bench.choices, bench.homework, players, days, alone=bench.alone)
        own = list(players) if bench.alone else [
            n for n, instrument in players.items() if instrument == bench.choices.instrument
        ]  # fmt: skip
        self.routines.show_for(
            bench.choices, own, self.routines.class_members(), bench.homework.routine, days
        )

    def _members(self, document: Document, plan: Plan) -> list[tuple[str, Document, Plan | None]]:
        """The document as it is, or for each player of the class."""
        chosen = self.week.class_members()
        players = [p for p in self.desk.named_players() if p.name in chosen]
        if not players:
            return [(document.choices.player.called, document, plan)]
        return [(p.name, document.for_player(p), None) for p in players]

    def _take(self, made: Any) -> None:
        programme: Programme
        document: Document | None
        plan: Plan | None
        programme, document, plan, homework = made
        # Plans and marks made meanwhile belong to what there is now.
        if plan is not self.session.plan or homework != self.desk.bench.homework:
            self._changed()
            return
        self.programme = programme
        self._planned = plan, document
        if programme.ladders:
            self.ladder.show_programme(programme)
        self.week.show_programme(programme)
        if not self.timer.stages or (self.timer.at == 0 and not self.timer.running):
            self._load_today()

    # ladder

    def _show_step(self, step: LadderStep | None) -> None:
        if step is None or self.programme is None:
            self._guest = None
            return
        plan, document = self._planned
        if plan is None or document is None:
            return
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
            self._guest = guest
            bowed = step.kind not in UNBOWED
            self.ladder.study.show_study(guest.document, guest.plan, bowed=bowed)

        self._writer.run(work, take, self.session.failed.emit)

    def _turned(self, index: int) -> None:
        self.caution.setVisible(index in (LADDER, WEEK))  # the others say their own
        if index == LADDER:
            self._show_step(self.ladder.chosen)

    def show_it(self) -> None:
        """The chosen step or exercise on the Show screen."""
        if self.tabs.currentIndex() == LADDER:
            if self._guest is None:
                self.message.emit(tr("Choose a step with music first."))
                return
            self.desk.guest_wanted.emit(self._guest)
            return
        self.work.show()

    def export(self) -> None:
        """The chosen step as MusicXML; the exercise as music, sound or its own file; the routine
        as sound."""
        index = self.tabs.currentIndex()
        if index == LADDER and self._guest is not None:
            guest = self._guest
            path = self.ask_path(tr("Export the study"), f"{guest.title}.musicxml", MUSIC)
            if path is not None:
                self.write(path, plan_as_musicxml(guest.document, guest.plan), tr("Exported"))
        elif index in (EXERCISES, ROUTINES):
            self.work.export()
        else:
            self.message.emit(tr("Choose a step or an exercise first."))

    def ask_path(self, words: str, suggested: str, kinds: str) -> Path | None:
        suggested = self.desk.settings.to_be_written(suggested.replace(":", ","))
        return where_to(self, words, suggested, kinds, self.session.files)

    def write(self, path: Path, data: bytes, said: str) -> None:
        try:
            write_atomically(path, data)
        except PlectrumError as error:
            self.session.failed.emit(error)
            return
        self.message.emit(f"{said} {path.name}")

    # exercises and routines

    def choose_exercise(self, name: str = "") -> None:
        """The exercises, with one chosen."""
        self.tabs.setCurrentIndex(EXERCISES)
        if name:
            self.exercises.list.choose(name)
        self.exercises.list.search.setFocus()

    def choose_routine(self, key: str) -> None:
        """The routines, with one chosen."""
        self.tabs.setCurrentIndex(ROUTINES)
        self.routines.choose(key)
        self.routines.list.setFocus()

    def _make_moving(self, stage: TimedTask) -> None:
        """What moves in a stage of the clock, made aside."""
        plan, document = self._planned
        step = self.programme.steps.get(stage.key) if self.programme is not None else None

        def work() -> object:
            if stage.made is not None:
                return moving_exercise(stage.made)
            if step is None or plan is None or document is None:
                return None
            return moving_step(document, plan, step)

        def take(moving: Any) -> None:
            if moving is not None:
                self.timer.show_moving(stage, moving)

        self._mover.run(work, take, self.session.failed.emit)

    @property
    def on_routines(self) -> bool:
        return self.tabs.currentIndex() == ROUTINES

    @property
    def on_the_week(self) -> bool:
        return self.tabs.currentIndex() in (WEEK, TODAY)

    def show_today(self) -> None:
        """The clock, ready to be started."""
        self.tabs.setCurrentIndex(TODAY)
        self.timer.play.setFocus()

    def do_it(self) -> None:
        """The exercise or the routine that is looked at, by the clock."""
        self.work.do()

    def sheets(self) -> Sheets | None:
        """The page of the exercise or the routine that is looked at, for each player."""
        return self.work.sheets()

    # homework

    def mark(self, key: str, mark: Outcome | None) -> None:
        """How a task went; None takes that back. Undoable, where it is a piece's."""
        result = Result(mark, date.today()) if mark is not None else None
        words = (
            say("mark “{key}”", key=key)
            if mark is None
            else say("mark “{key}” {mark}", key=key, mark=mark)
        )
        self.desk.bench.change(lambda h: h.marked(key, result), words)
        if mark is not None and self.programme is not None:
            self._tell_mark(self.programme, key, mark)

    def _tell_mark(self, programme: Programme, key: str, mark: Outcome) -> None:
        """A mark for the log: with the tempo where the step is one at a tempo."""
        task = next((t for t in programme.tasks if t.key == key), None)
        step = programme.steps.get(key)
        if task is None:
            if key.startswith(DRILL_PREFIX):
                self.work.tell_mark(key, mark)
            return
        bpm = step.bpm if step is not None and step.kind is StudyKind.HANDS else None
        section = next((r.section.name for r in programme.ladders if step in r.steps), "")
        self.desk.log.step_marked(key, task.short or task.title, str(mark), bpm, section)

    def _hurt(self, minutes: int) -> None:
        self.message.emit(tr("Practice is stopped for today."))
        self.desk.log.practised(minutes, pain=True)

    def _show_pain(self) -> None:
        """Where something hurts there is no ladder."""
        student = self.desk.log.student_here()
        self.set_pain(student.pain_since if student is not None else None)

    def set_pain(self, since: date | None) -> None:
        """Something hurts: no ladder until it is over."""
        self.hurts.setVisible(since is not None)
        if since is not None:
            self.hurts.setText(
                say(
                    "Since {day} something hurts. {pain_text}",
                    day=day_month(since),
                    pain_text=PAIN_TEXT,
                )
            )
        for page in (self.ladder, self.exercises, self.routines):
            page.setEnabled(since is None)
        self.sore = since is not None
        if self.sore and not self.timer.running:
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

    def _stay(self, kind: str, days: int) -> None:
        words = several("{kind}: {n} day", "{kind}: {n} days", days, kind=kind)
        self.desk.bench.change(lambda h: h.staying(kind, days), words)

    def _set_homework(self, change: Callable[[Homework], Homework], words: str) -> None:
        self.desk.bench.change(change, words)

    def open_task(self, key: str) -> None:
        """The step or exercise of a task."""
        if self.programme is None:
            return
        if key.startswith(DRILL_PREFIX):
            self.choose_exercise(key.removeprefix(DRILL_PREFIX))
        elif self.ladder.choose(key):
            self.tabs.setCurrentIndex(LADDER)

    def save_calendar(self) -> None:
        """The days as a calendar file."""
        programme, document = self.programme, self.session.document
        if self.tabs.currentIndex() == ROUTINES:
            self.work.save_calendar()
            return
        if programme is None:
            return
        title = document.title if document is not None else self.desk.bench.choices.player.called
        path = self.ask_path(tr("Save the calendar"), f"{title} practice.ics", CALENDAR)
        if path is not None:
            from plectrum.core.files.ics import programme_as_ics

            self.write(path, programme_as_ics(programme, title, AT), tr("Saved"))

    # today

    def _load_today(self) -> None:
        programme = self.programme
        days = [d for d in programme.days if d.entries] if programme is not None else []
        if programme is None or not days or self.sore:
            self.timer.load(())
            return
        today = next((d for d in days if d.on == programme.today), days[0])
        self.timer.load(stages_of(today, programme))

    def practise_today(self) -> None:
        """The clock, with today's stages, or those of the next practice day."""
        if self.sore:
            self.message.emit(tr("Something hurts: no practice until it is over."))
            return
        if not self.timer.running:
            self._load_today()
        self.tabs.setCurrentIndex(TODAY)
        self.timer.play.setFocus()
