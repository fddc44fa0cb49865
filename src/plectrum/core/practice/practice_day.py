"""A day's practice as it is timed: one stage after another, with pauses between.

A pause after every ten minutes of playing, for a minute, is an own default.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from plectrum.core.advice.care import CAUTION, PAUSE_TEXT
from plectrum.core.practice.exercises.catalogue import Made
from plectrum.core.practice.exercises.routine import Planned
from plectrum.core.practice.programme import Programme
from plectrum.core.practice.week import DRILL_PREFIX, Day, TaskKind
from plectrum.core.wording import say, sentence_like, several, tr

PAUSE_EVERY_S, PAUSE_S = 600.0, 60.0


@dataclass(frozen=True, slots=True)
class TimedTask:
    """One thing to do for a time.

    Attributes:
        key: of its task; empty for a pause.
        made: the exercise it is, done over and over; None for a step of a piece or a pause.
    """

    title: str
    what: str
    good: str
    seconds: float
    key: str = ""
    caution: str = CAUTION
    made: Made | None = None

    @property
    def is_pause(self) -> bool:
        return not self.key


def exercise_stage(key: str, made: Made, seconds: float | None = None) -> TimedTask:
    """An exercise by the clock, for a time or once through."""
    caution = made.drill.caution if made.drill is not None else CAUTION
    lasts_s = made.seconds if seconds is None else seconds
    return TimedTask(made.title, made.today, made.good, lasts_s, key, caution, made)


def stages_of(day: Day, programme: Programme) -> tuple[TimedTask, ...]:
    """The stages of a day, with a pause wherever ten minutes have been played."""
    return _with_pauses(_tasks(day, programme))


def routine_stages(items: Iterable[Planned]) -> tuple[TimedTask, ...]:
    """The stages of a routine, each for its minutes, with pauses."""
    return _with_pauses(
        exercise_stage(f"{DRILL_PREFIX}{p.item.exercise}", p.made, 60.0 * p.item.minutes)
        for p in items
    )


def _with_pauses(tasks: Iterable[TimedTask]) -> tuple[TimedTask, ...]:
    stages: list[TimedTask] = []
    played_s = 0.0
    for stage in tasks:
        if played_s and played_s + stage.seconds > PAUSE_EVERY_S:
            stages.append(TimedTask(tr("Pause"), PAUSE_TEXT, tr("the hands feel loose"), PAUSE_S))
            played_s = 0.0
        stages.append(stage)
        played_s += stage.seconds
    return tuple(stages)


def _tasks(day: Day, programme: Programme) -> Iterable[TimedTask]:
    for entry in day.entries:
        seconds, key = 60.0 * entry.minutes, entry.task.key
        made, step = programme.made_of(key), programme.steps.get(key)
        if made is not None:
            yield exercise_stage(key, made, seconds)
        elif step is not None:
            times = (
                tr("once through")
                if entry.kind is TaskKind.REVIEW
                else several("{n} time", "{n} times", step.repetitions)
            )
            what = say(
                "{what} {times}, at {bpm:.0f}.",
                what=step.what,
                times=sentence_like(times),
                bpm=step.bpm,
            )
            yield TimedTask(entry.title, what, step.good, seconds, key)
