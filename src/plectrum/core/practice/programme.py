"""All that is to be practised of a piece: its ladders, its drills, and the days they fall on."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from functools import cached_property

from plectrum.core.document.choices import Choices
from plectrum.core.document.document import Document
from plectrum.core.document.homework import Homework
from plectrum.core.errors import PlectrumError
from plectrum.core.planning.plan import Plan
from plectrum.core.practice.exercises.catalogue import Made, made_of
from plectrum.core.practice.exercises.drills import Drill
from plectrum.core.practice.exercises.homework import exercise_set
from plectrum.core.practice.exercises.routine import (
    Item,
    Planned,
    Routine,
    planned_items,
    routine_from_bytes,
)
from plectrum.core.practice.ladder import LadderStep, SectionLadder, ladders_of
from plectrum.core.practice.routine_days import routine_tasks
from plectrum.core.practice.week import DRILL_PREFIX, Day, Task, TaskKind, schedule
from plectrum.core.wording import say, tr

WEEK_MINUTES = 2  # for an exercise of the week on its page
MOST_ITEMS = 20


@dataclass(frozen=True)
class PlannedDrill:
    """An exercise as it is set for this player."""

    name: str
    values: Mapping[str, float | str]
    made: Made

    @property
    def drill(self) -> Drill:
        if self.made.drill is None:
            raise ValueError(f"{self.name} is a pattern of notes")
        return self.made.drill

    @property
    def key(self) -> str:
        return f"{DRILL_PREFIX}{self.name}"

    @property
    def title(self) -> str:
        return self.drill.name

    @property
    def minutes(self) -> int:
        return max(1, math.ceil(self.drill.seconds / 60))


@dataclass(frozen=True)
class Programme:
    """The practice of one piece for one player, or for a class.

    Attributes:
        players: whom it is for.
        today: the day it was made for.
        routine: what each day begins with, made for the player; weeks: so many at least.
    """

    ladders: tuple[SectionLadder, ...]
    drills: tuple[PlannedDrill, ...]
    homework: Homework
    today: date
    players: tuple[str, ...] = ()
    routine: tuple[Planned, ...] = ()
    weeks: int = 1

    @cached_property
    def steps(self) -> dict[str, LadderStep]:
        """Every step by its key."""
        return {step.key: step for ladder in self.ladders for step in ladder.steps}

    @cached_property
    def tasks(self) -> tuple[Task, ...]:
        """Drills and steps, in the order in which they are to come."""
        rows = [Task(d.key, TaskKind.DRILL, d.title, d.minutes) for d in self.drills]
        for ladder in self.ladders:
            name = f"{ladder.section.name} ({ladder.bars})"
            rows += [
                Task(
                    s.key, TaskKind.STEP, f"{name}: {s.title}", s.minutes, name,
                    f"{ladder.section.name}: {s.title}", self.homework.stays.get(s.kind, 1),
                )
                for s in ladder.steps
            ]  # fmt: skip
        return tuple(rows)

    @cached_property
    def days(self) -> tuple[Day, ...]:
        """When what is practised; from the first day set, or from today if that is past."""
        settings = self.homework.settings(self.today)
        first = routine_tasks(self.routine)
        return schedule(self.tasks, settings, self.homework.results, self.today, first, self.weeks)

    def drill_of(self, key: str) -> PlannedDrill | None:
        """The drill of a task."""
        return next((d for d in self.drills if d.key == key), None)

    def made_of(self, key: str) -> Made | None:
        """The exercise of a task, of the routine or of the drills."""
        of_routine = (p.made for p in self.routine if f"{DRILL_PREFIX}{p.item.exercise}" == key)
        drill = self.drill_of(key)
        return next(of_routine, drill.made if drill is not None else None)


def programme_of(
    document: Document, plan: Plan, today: date, days: Mapping[str, int] | None = None
) -> Programme:
    """The practice of a piece for its player.

    Args:
        days: which day of practice it is for an exercise, by its name.
    """
    alone = exercise_programme(document.homework, plan.choices, today, days)
    return replace(alone, ladders=ladders_of(document, plan))


def exercise_programme(
    homework: Homework, choices: Choices, today: date, days: Mapping[str, int] | None = None
) -> Programme:
    """The practice of a player without a piece: the routine, or the exercises that are set."""
    routine, items = _routine_of(homework, choices, days)
    return Programme(
        (),
        drills_of(homework, choices, days),
        homework,
        today,
        (choices.player.called,),
        items,
        routine.weeks if routine is not None else 1,
    )


def _routine_of(
    homework: Homework, choices: Choices, days: Mapping[str, int] | None
) -> tuple[Routine | None, tuple[Planned, ...]]:
    """The routine that is set, as this player can do it; none where it cannot be done."""
    if not homework.routine:
        return None, ()
    try:
        routine = routine_from_bytes(homework.routine.encode(), tr("the routine"))
        return routine, tuple(planned_items(routine, choices, days=days))
    except PlectrumError:
        return None, ()


def routine_of(homework: Homework) -> Routine | None:
    """What every day of the week begins with as a routine: the one that is set, or the exercises
    that are, a minute and more each; None where nothing is.

    Raises:
        PlectrumError: the routine kept is none.
    """
    if homework.routine:
        return routine_from_bytes(homework.routine.encode(), tr("the routine"))
    items = []
    for name, values in homework.drills.items():
        exercise = exercise_set(name, values)
        if exercise is not None:
            items.append(Item(exercise=name[:60], minutes=WEEK_MINUTES, own=exercise))
    if not items:
        return None
    return Routine(
        key="the-week", title=tr("This week"), what=tr("The exercises of the week."),
        days_a_week=len(homework.weekdays), items=tuple(items[:MOST_ITEMS]),
    )  # fmt: skip


def drills_of(
    homework: Homework, choices: Choices, days: Mapping[str, int] | None = None
) -> tuple[PlannedDrill, ...]:
    """The exercises that are set, as the player can do them; what is not known here, or cannot be
    done by this player, is left out.

    Args:
        days: which day of practice it is for an exercise, by its name; the first if not named.
    """
    found = []
    for name, values in homework.drills.items():
        try:
            exercise = exercise_set(name, values)
            if exercise is not None:
                made = made_of(exercise, choices, None, (days or {}).get(name, 1))
                found.append(PlannedDrill(name, values, made))
        except PlectrumError:
            continue
    return tuple(found)


def class_programme(members: Sequence[tuple[str, Document, Plan]], today: date) -> Programme:
    """One programme for several players of the same part.

    Every step that one of them needs is in it, for as long as the slowest takes; a step that not
    all need, or that bows otherwise for some, says for whom.

    Args:
        members: name, document and plan of each; the first one's homework counts.

    Raises:
        ValueError: nobody in the class.
    """
    if not members:
        raise ValueError("a class needs at least one player")
    programmes = [(name, programme_of(document, plan, today)) for name, document, plan in members]
    first = programmes[0][1]
    if len(programmes) == 1:
        return first
    ladders = tuple(
        _joined([(name, p.ladders[k]) for name, p in programmes]) for k in range(len(first.ladders))
    )
    drills = tuple(_longest(d.name, [p.drills for _, p in programmes]) for d in first.drills)
    names = tuple(name for name, _ in programmes)
    return Programme(ladders, drills, first.homework, today, names, first.routine, first.weeks)


def _longest(name: str, sets: Sequence[Sequence[PlannedDrill]]) -> PlannedDrill:
    """A drill as it is for whom it takes longest."""
    found = [d for drills in sets for d in drills if d.name == name]
    return max(found, key=lambda d: d.drill.seconds)


def _joined(ladders: Sequence[tuple[str, SectionLadder]]) -> SectionLadder:
    """The ladders of one section for several players as one."""
    order = max((ladder.steps for _, ladder in ladders), key=len)
    keys = [step.key for step in order]
    for _, ladder in ladders:
        for step in ladder.steps:
            if step.key not in keys:
                keys.insert(_place(keys, step, ladder), step.key)
    steps = []
    for key in keys:
        having = [(n, s) for n, ladder in ladders for s in ladder.steps if s.key == key]
        steps.append(_joined_step(having, len(ladders)))
    return replace(ladders[0][1], steps=tuple(steps))


def _place(keys: list[str], step: LadderStep, ladder: SectionLadder) -> int:
    """After the steps that come before it in its own ladder."""
    own = [s.key for s in ladder.steps]
    before = own[: own.index(step.key)]
    return max((keys.index(k) + 1 for k in before if k in keys), default=0)


def _joined_step(having: Sequence[tuple[str, LadderStep]], all_n: int) -> LadderStep:
    longest = max((s for _, s in having), key=lambda s: s.minutes)
    notes = []
    if len(having) < all_n:
        notes.append(say("for {names} only", names=_names([n for n, _ in having])))
    for text in dict.fromkeys(s.note for _, s in having if s.note):
        notes.append(f"{_names([n for n, s in having if s.note == text])}: {text}")
    return replace(longest, note="; ".join(notes))


def _names(names: Sequence[str]) -> str:
    *head, last = names
    return say("{list} and {last}", list=", ".join(head), last=last) if head else last
