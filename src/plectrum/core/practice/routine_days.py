"""A routine in the week: its exercises as tasks of every day."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import date

from plectrum.core.practice.exercises.routine import Planned
from plectrum.core.practice.week import DRILL_PREFIX, Day, Entry, Task, TaskKind


def routine_days(items: Sequence[Planned], days: Iterable[date]) -> tuple[Day, ...]:
    """The days of a routine as the week knows them."""
    entries = tuple(Entry(task, task.minutes, task.kind) for task in routine_tasks(items))
    return tuple(Day(on, entries) for on in days)


def routine_tasks(items: Sequence[Planned]) -> list[Task]:
    """The exercises of a routine as tasks of a day."""
    return [
        Task(f"{DRILL_PREFIX}{p.item.exercise}", TaskKind.DRILL, p.made.title, p.item.minutes)
        for p in items
    ]
