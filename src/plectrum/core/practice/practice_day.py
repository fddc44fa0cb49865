"""A day's practice as it is timed: one stage after another, with pauses between.

A pause after every ten minutes of playing, for a minute, is an own default.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from plectrum.core.practice.care import CAUTION, PAUSE_TEXT
from plectrum.core.practice.drills import DrillStep
from plectrum.core.practice.programme import Programme
from plectrum.core.practice.week import Day, TaskKind

PAUSE_EVERY_S, PAUSE_S = 600.0, 60.0


@dataclass(frozen=True, slots=True)
class TimedTask:
    """One thing to do for a time.

    Attributes:
        key: of its task; empty for a pause.
        steps: of a drill, which are called one after another, over and over.
    """

    title: str
    what: str
    good: str
    seconds: float
    key: str = ""
    caution: str = CAUTION
    steps: tuple[DrillStep, ...] = ()

    @property
    def is_pause(self) -> bool:
        return not self.key

    def step_at(self, at_s: float) -> tuple[DrillStep, float] | None:
        """The step of a drill at a time of the stage, and how long it still lasts."""
        length_s = sum(step.seconds for step in self.steps)
        if length_s <= 0:
            return None
        at_s %= length_s
        for step in self.steps:
            if at_s < step.seconds:
                return step, step.seconds - at_s
            at_s -= step.seconds
        return self.steps[-1], 0.0


def stages_of(day: Day, programme: Programme) -> tuple[TimedTask, ...]:
    """The stages of a day, with a pause wherever ten minutes have been played."""
    stages: list[TimedTask] = []
    played_s = 0.0
    for stage in _tasks(day, programme):
        if played_s and played_s + stage.seconds > PAUSE_EVERY_S:
            stages.append(TimedTask("Pause", PAUSE_TEXT, "the hands feel loose", PAUSE_S))
            played_s = 0.0
        stages.append(stage)
        played_s += stage.seconds
    return tuple(stages)


def _tasks(day: Day, programme: Programme) -> Iterable[TimedTask]:
    for entry in day.entries:
        seconds, key = 60.0 * entry.minutes, entry.task.key
        drill = programme.drill_of(key)
        step = programme.steps.get(key)
        if drill is not None:
            made = drill.drill
            yield TimedTask(
                entry.title, made.what, made.good, seconds, key, made.caution, made.steps
            )
        elif step is not None:
            times = "once through" if entry.kind is TaskKind.REVIEW else f"{step.repetitions} times"
            what = f"{step.what} {times[0].upper()}{times[1:]}, at {step.bpm:.0f}."
            yield TimedTask(entry.title, what, step.good, seconds, key)
