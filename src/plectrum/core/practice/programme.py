"""All that is to be practised of a piece: its ladders, its drills, and the days they fall on."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from functools import cached_property

from plectrum.core.document.document import Document
from plectrum.core.document.homework import Homework
from plectrum.core.planning.plan import Plan
from plectrum.core.practice.catalogue import DRILLS, DrillKind, Setting
from plectrum.core.practice.drills import Drill
from plectrum.core.practice.ladder import LadderStep, SectionLadder, ladders_of
from plectrum.core.practice.week import Day, Task, TaskKind, schedule

DRILL_PREFIX = "drill."


@dataclass(frozen=True)
class PlannedDrill:
    """A drill as it is set for this player."""

    kind: DrillKind
    values: Mapping[str, float]
    drill: Drill

    @property
    def key(self) -> str:
        return f"{DRILL_PREFIX}{self.kind.key}"

    @property
    def minutes(self) -> int:
        return max(1, math.ceil(self.drill.seconds / 60))


@dataclass(frozen=True)
class Programme:
    """The practice of one piece for one player, or for a class.

    Attributes:
        players: whom it is for.
        today: the day it was made for.
    """

    ladders: tuple[SectionLadder, ...]
    drills: tuple[PlannedDrill, ...]
    homework: Homework
    today: date
    players: tuple[str, ...] = ()

    @cached_property
    def steps(self) -> dict[str, LadderStep]:
        """Every step by its key."""
        return {step.key: step for ladder in self.ladders for step in ladder.steps}

    @cached_property
    def tasks(self) -> tuple[Task, ...]:
        """Drills and steps, in the order in which they are to come."""
        rows = [Task(d.key, TaskKind.DRILL, d.kind.title, d.minutes) for d in self.drills]
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
        return schedule(self.tasks, settings, self.homework.results, self.today)

    def drill_of(self, key: str) -> PlannedDrill | None:
        """The drill of a task."""
        return next((d for d in self.drills if d.key == key), None)


def programme_of(document: Document, plan: Plan, today: date) -> Programme:
    """The practice of a piece for its player."""
    return Programme(
        ladders_of(document, plan),
        drills_of(document, Setting.of(plan.choices)),
        document.homework,
        today,
        (document.choices.player.title,),
    )


def drills_of(document: Document, setting: Setting) -> tuple[PlannedDrill, ...]:
    """The drills that are set, as the player can do them; ones not known here are left out."""
    wanted = document.homework.drills
    return tuple(
        PlannedDrill(kind, wanted[key], kind.make(setting, wanted[key]))
        for key, kind in DRILLS.items()
        if key in wanted
    )


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
    drills = tuple(
        max((p.drills[k] for _, p in programmes), key=lambda d: d.drill.seconds)
        for k in range(len(first.drills))
    )
    return Programme(ladders, drills, first.homework, today, tuple(n for n, _ in programmes))


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
        notes.append(f"for {_names([n for n, _ in having])} only")
    for text in dict.fromkeys(s.note for _, s in having if s.note):
        notes.append(f"{_names([n for n, s in having if s.note == text])}: {text}")
    return replace(longest, note="; ".join(notes))


def _names(names: Sequence[str]) -> str:
    *head, last = names
    return f"{', '.join(head)} and {last}" if head else last
