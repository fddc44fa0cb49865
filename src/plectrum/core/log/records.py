"""The rows of the log as immutable values. Every row has an id of its own; days are dates."""

from __future__ import annotations

import uuid
from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date
from enum import StrEnum
from typing import Any

CHECKS = (
    "hold", "thumb", "little finger", "straight bow", "lane", "crossings clean", "shoulders loose",
)  # fmt: skip


def new_id() -> str:
    """An id that no other window gives."""
    return uuid.uuid4().hex


class Measure(StrEnum):
    """What can be measured; the unit stands behind the name."""

    LONGEST_BOW = "longest bow"  # s
    FASTEST_BOW = "fastest clean bow"  # mm/s
    STROKES = "quickest clean strokes"  # a second
    REACH_FROM = "nearest the frog"  # mm from the frog
    REACH_TO = "nearest the tip"  # mm from the frog
    LEVEL_CHANGE = "level change"  # s
    PLACEMENTS = "placements hit of ten"
    LEVEL_CALLS = "level calls right of twenty"
    TEMPO = "tempo reached"  # beats a minute
    HAIR_TURNS = "turns of the screw"
    ROSIN = "rosin"
    REHAIR = "rehair"
    TRIES = "tries hit"  # of a hundred, in an exercise


UNITS = {
    Measure.LONGEST_BOW: "s",
    Measure.FASTEST_BOW: "mm/s",
    Measure.STROKES: "a second",
    Measure.REACH_FROM: "mm",
    Measure.REACH_TO: "mm",
    Measure.LEVEL_CHANGE: "s",
    Measure.PLACEMENTS: "of 10",
    Measure.LEVEL_CALLS: "of 20",
    Measure.TRIES: "%",
    Measure.TEMPO: "a minute",
    Measure.HAIR_TURNS: "turns",
    Measure.ROSIN: "",
    Measure.REHAIR: "",
}
# The least and most that is taken: what lies beyond was a slip of the finger (own defaults).
BOUNDS = {
    Measure.LONGEST_BOW: (0.5, 180.0),
    Measure.FASTEST_BOW: (50.0, 5000.0),
    Measure.STROKES: (1.0, 30.0),
    Measure.REACH_FROM: (0.0, 1000.0),
    Measure.REACH_TO: (0.0, 1000.0),
    Measure.LEVEL_CHANGE: (0.02, 5.0),
    Measure.PLACEMENTS: (0.0, 10.0),
    Measure.LEVEL_CALLS: (0.0, 20.0),
    Measure.TRIES: (0.0, 100.0),
    Measure.TEMPO: (10.0, 480.0),
    Measure.HAIR_TURNS: (0.0, 20.0),
    Measure.ROSIN: (1.0, 1.0),
    Measure.REHAIR: (1.0, 1.0),
}


@dataclass(frozen=True, slots=True)
class Student:
    """Someone who learns. `pain_since` is set while something hurts."""

    name: str
    instrument: str
    note: str = ""
    archived: bool = False
    pain_since: date | None = None
    id: str = field(default_factory=new_id)


@dataclass(frozen=True, slots=True)
class BowOwned:
    """A student's bow."""

    student_id: str
    name: str
    hair_mm: float
    note: str = ""
    id: str = field(default_factory=new_id)


@dataclass(frozen=True, slots=True)
class Piece:
    """A piece that is learnt. `goal_bpm` is its tempo."""

    title: str
    instrument: str
    goal_bpm: float
    bars_n: int = 0
    id: str = field(default_factory=new_id)


@dataclass(frozen=True, slots=True)
class PlanGiven:
    """A plan that a student was given: the plan file as it was."""

    student_id: str
    piece_id: str
    on: date
    document: bytes
    note: str = ""
    id: str = field(default_factory=new_id)


@dataclass(frozen=True, slots=True)
class Practised:
    """One session of practice."""

    student_id: str
    on: date
    minutes: int
    pain: bool = False
    note: str = ""
    id: str = field(default_factory=new_id)


@dataclass(frozen=True, slots=True)
class StepDone:
    """How one step or drill went. `mark` is "good" or "again"."""

    student_id: str
    on: date
    key: str
    title: str
    mark: str
    piece_id: str | None = None
    bpm: float | None = None
    section: str = ""
    id: str = field(default_factory=new_id)


@dataclass(frozen=True, slots=True)
class Measured:
    """One thing measured. `value` is the median of the tries; string counts from the lowest, 0."""

    student_id: str
    on: date
    measure: str
    value: float
    tries: tuple[float, ...] = ()
    string: int | None = None
    direction: str | None = None
    piece_id: str | None = None
    section: str = ""
    note: str = ""
    id: str = field(default_factory=new_id)


@dataclass(frozen=True, slots=True)
class FaultSeen:
    """Where something went wrong. `place` is a fraction of the hair."""

    student_id: str
    on: date
    kind: str
    piece_id: str | None = None
    bar: int | None = None
    place: float | None = None
    id: str = field(default_factory=new_id)


@dataclass(frozen=True, slots=True)
class Lesson:
    """A lesson: what was looked at, and what comes next."""

    student_id: str
    on: date
    note: str = ""
    next_note: str = ""
    checks: Mapping[str, bool] = field(default_factory=dict)
    pain: bool = False
    id: str = field(default_factory=new_id)


Record = (
    Student | BowOwned | Piece | PlanGiven | Practised | StepDone | Measured | FaultSeen | Lesson
)
OF_A_STUDENT: tuple[type[Any], ...] = (
    BowOwned, PlanGiven, Practised, StepDone, Measured, FaultSeen, Lesson,
)  # fmt: skip
KINDS: tuple[type[Any], ...] = (Student, Piece, *OF_A_STUDENT)
