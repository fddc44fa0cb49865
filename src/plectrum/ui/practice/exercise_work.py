"""What is done with the exercise or the routine that is looked at: shown, done by the clock, handed
out, exported, put in the week; and what of it goes into the log."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, time
from pathlib import Path
from typing import Protocol

from PySide6.QtCore import QObject

from plectrum.core.document.homework import MOST_MINUTES, Homework, Outcome
from plectrum.core.errors import PlectrumError
from plectrum.core.files.exports import plan_as_musicxml
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.practice.exercises.catalogue import Made
from plectrum.core.practice.exercises.routine import (
    Item,
    Routine,
    alone,
    routine_bytes,
)
from plectrum.core.practice.exercises.shelf import key_of_title
from plectrum.core.practice.exercises.tries import Tries, counted_of
from plectrum.core.practice.practice_day import TimedTask, exercise_stage, routine_stages
from plectrum.core.practice.programme import routine_of
from plectrum.core.practice.routine_days import routine_days
from plectrum.core.practice.week import DRILL_PREFIX
from plectrum.core.wording import say, tr
from plectrum.ui.desk.desk import Desk
from plectrum.ui.desk.sheets import Sheets
from plectrum.ui.editing.runner import Runner
from plectrum.ui.practice.exercises_page import ExercisesPage
from plectrum.ui.practice.making import choices_of, guest_of, sheets_of
from plectrum.ui.practice.routines_page import RoutinesPage
from plectrum.ui.practice.timer_page import TimerPage

AT = time(16, 0)
MUSIC, SOUND = tr("MusicXML (*.musicxml)"), tr("Sound (*.wav)")
OWN_FILE, CALENDAR = tr("Exercise (*.json)"), tr("Calendar (*.ics)")
NO_STUDENT = tr("Nobody of this name is in the log: add the student there (Ctrl+7) to keep it.")


class Around(Protocol):
    """What the screen around does."""

    desk: Desk
    sore: bool
    exercises: ExercisesPage
    routines: RoutinesPage
    timer: TimerPage

    @property
    def on_routines(self) -> bool: ...
    @property
    def on_the_week(self) -> bool: ...
    def show_today(self) -> None: ...
    def ask_path(self, words: str, suggested: str, kinds: str) -> Path | None: ...
    def write(self, path: Path, data: bytes, said: str) -> None: ...


class ExerciseWork:
    """Works for the Practice screen."""

    def __init__(self, screen: Around, parent: QObject) -> None:
        self._screen, self._desk = screen, screen.desk
        self._exercises, self._routines, self._timer = (
            screen.exercises, screen.routines, screen.timer,
        )  # fmt: skip
        self._runner = Runner(parent)

    @property
    def _on_routines(self) -> bool:
        return self._screen.on_routines

    def _say(self, text: str) -> None:
        self._desk.message.emit(text)

    def connect_pages(self) -> None:
        """What the pages ask for is done."""
        page, routines = self._exercises, self._routines
        page.set_wanted.connect(self._set_exercise)
        page.show_wanted.connect(self.show)
        page.export_wanted.connect(self.export)
        page.do_wanted.connect(self.do)
        page.open_wanted.connect(self._open_as_tune)
        page.page_wanted.connect(self.hand_out)
        page.routine_wanted.connect(self._add_to_routine)
        page.choices_wanted.connect(self._desk.bench.play_as)
        page.named_wanted.connect(self._play_as_named)
        page.message.connect(self._say)
        routines.do_wanted.connect(self.do)
        routines.page_wanted.connect(self.hand_out)
        routines.calendar_wanted.connect(self.save_calendar)
        routines.sound_wanted.connect(self.export)
        routines.week_wanted.connect(self._set_routine)
        routines.message.connect(self._say)

    @property
    def made(self) -> Made | None:
        """The exercise that is chosen and shaped."""
        preview = self._exercises.preview
        return preview.made if preview is not None else None

    def _chosen_made(self) -> Made | None:
        """The exercise that is looked at: of the exercises, or of the routine."""
        if not self._on_routines:
            return self.made
        planned = self._routines.planned
        return planned[min(self._routines.row, len(planned) - 1)].made if planned else None

    def show(self) -> None:
        """What is looked at on the Show screen."""
        made = self._chosen_made()
        if made is None:
            self._say(tr("Choose an exercise first."))
            return
        self._runner.run(
            lambda: guest_of(made),
            self._desk.guest_wanted.emit,
            self._desk.session.failed.emit,
        )

    def export(self) -> None:
        """The exercise as music, sound or its own file; the routine as sound."""
        if not self._on_routines:
            if self.made is not None:
                self._export_exercise(self.made)
        elif self._routines.planned:
            made = [p.made for p in self._routines.planned]
            self._desk.sound_wanted.emit(self._routines.routine.title, made)

    def do(self) -> None:
        """The exercise alone by the clock, once through; or the routine, one after the other."""
        if self._screen.sore:
            self._say(tr("Something hurts: no practice until it is over."))
            return
        if self._on_routines:
            stages = routine_stages(self._routines.planned)
        elif self.made is not None and self._exercises.preview is not None:
            key = f"{DRILL_PREFIX}{self._exercises.preview.item.exercise}"
            stages = (exercise_stage(key, self.made),)
        else:
            return
        self._timer.load(stages)
        self._screen.show_today()

    def _open_as_tune(self) -> None:
        if self.made is not None and self.made.document is not None:
            self._desk.tune_wanted.emit(self.made.document)

    def _add_to_routine(self, item: Item) -> None:
        if self._routines.add(item):
            self._say(say("In the routine “{title}” now.", title=self._routines.routine.title))

    def _play_as_named(self, name: str) -> None:
        named = next((p for p in self._desk.named_players() if p.name == name), None)
        if named is not None:
            self._desk.bench.play_as(choices_of(named))

    def sheets(self) -> Sheets | None:
        """The page of what is looked at: of the exercise, or of the routine, for each player."""
        bench = self._desk.bench
        routine = self._looked_at()
        if routine is None:
            return None
        chosen = self._routines.class_members()
        players = [p for p in self._desk.named_players() if p.name in chosen]
        days = self._desk.log.practice_days(date.today())
        try:
            return sheets_of(routine, bench.choices, players, bench.homework, days)
        except PlectrumError as error:
            self._desk.session.failed.emit(error)
            return None

    def _looked_at(self) -> Routine | None:
        """The routine that is looked at, the exercise as a routine of its own, or what is in the
        week."""
        if self._on_routines:
            return self._routines.routine
        if self._screen.on_the_week:
            return routine_of(self._desk.bench.homework)
        if self.made is None or self._exercises.preview is None:
            return None
        routine, _ = alone(self.made)
        return routine.model_copy(update={"items": (self._exercises.preview.item,)})

    def hand_out(self) -> None:
        """The page of what is looked at, on the Handout screen."""
        sheets = self.sheets()
        if sheets is not None:
            self._desk.sheets_wanted.emit(sheets)

    def _set_routine(self, routine: Routine | None) -> None:
        text = routine_bytes(routine).decode() if routine is not None else ""
        words = tr("routine in the week") if routine is not None else tr("no routine in the week")
        minutes = routine.minutes if routine is not None else 0

        def change(home: Homework) -> Homework:
            most = max(home.minutes_a_day, minutes)
            return replace(home, routine=text, minutes_a_day=min(most, MOST_MINUTES))

        self._desk.bench.change(change, words)

    def _export_exercise(self, made: Made) -> None:
        kinds = [SOUND, *([MUSIC] if made.document is not None else [])]
        kinds += [OWN_FILE] if made.exercise is not None else []
        suggested = f"{key_of_title(made.title)}.wav"
        path = self._screen.ask_path(tr("Export the exercise"), suggested, ";;".join(kinds))
        if path is None:
            return
        suffix = path.suffix.lower()
        try:
            if suffix == ".json":
                self._exercises.write_file(path)
                self._say(say("Exported {name}", name=path.name))
            elif suffix in (".musicxml", ".xml") and made.document is not None:
                document = made.document
                self._screen.write(
                    path, plan_as_musicxml(document, plan_of(document)), tr("Exported")
                )
            else:
                self._desk.sound_to.emit(path, [made])
        except PlectrumError as error:
            self._desk.session.failed.emit(error)

    def _set_exercise(self, name: str, values: dict[str, float | str] | None) -> None:
        self._desk.bench.change(lambda h: h.with_drill(name, values), tr("set an exercise"))

    def tell_mark(self, key: str, mark: Outcome) -> None:
        """An exercise that is in no week was done by the clock."""
        stage = next((s for s in self._timer.stages if s.key == key), None)
        title = stage.title if stage is not None else key.removeprefix(DRILL_PREFIX)
        bpm = stage.made.drill.bpm if stage and stage.made and stage.made.drill else None
        self._desk.log.step_marked(key, title, str(mark), bpm, "")

    def tell_tries(self, stage: TimedTask, tries: Tries) -> None:
        """What was counted and measured in a stage goes into the log under its name."""
        log = self._desk.log
        if log.student_here() is None:
            self._say(NO_STUDENT)
            return
        log.tried(stage.title, tries.hits)
        log.checked(stage.title, tries.checks)
        counted = counted_of(stage.key.removeprefix(DRILL_PREFIX), tries.hits)
        if counted is not None:
            log.counted(*counted)
        for (string, way), seconds in tries.bows_s.items():
            log.long_bows(stage.title, seconds, string, way)

    def save_calendar(self) -> None:
        """The days of the routine, for all of its class."""
        sheets = self.sheets()
        if sheets is None:
            return
        path = self._screen.ask_path(tr("Save the calendar"), f"{sheets.title}.ics", CALENDAR)
        if path is None:
            return
        first = sheets.players[0]
        days = routine_days(first.items, first.days)
        names = tuple(p.name for p in sheets.players if p.name)
        from plectrum.core.files.ics import days_as_ics

        self._screen.write(path, days_as_ics(days, sheets.title, names, AT), tr("Saved"))
