"""What the teacher sets for practice at home; it is kept with the plan.

Five days a week and ten to fifteen minutes for young beginners are common practice.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from enum import StrEnum

USUAL_MINUTES, LEAST_MINUTES, MOST_MINUTES = 15, 5, 120
MOST_DAYS = 14  # so long at most a step stays
USUAL_WEEKDAYS = frozenset({0, 1, 2, 3, 4})
USUAL_DRILLS = ("straight-bow", "silent-rolls", "placements", "bow-amounts")


# What exercises and the values set in them were called in older plans.
_RENAMED = {"hooked-bows": "hooked"}
_RENAMED_VALUES = {"play": "play_beats", "check": "look_beats", "calls": "times"}

Set = Mapping[str, float | str]  # what is set in an exercise, by name


def renamed_drills(drills: Mapping[str, Set]) -> dict[str, Set]:
    """Exercises with what is set in them, by the names they have now."""
    return {
        _RENAMED.get(name, name): {_RENAMED_VALUES.get(k, k): v for k, v in values.items()}
        for name, values in drills.items()
    }


class Outcome(StrEnum):
    """How something went."""

    GOOD = "good"
    AGAIN = "again"


@dataclass(frozen=True, slots=True)
class Result:
    """How a task went, and when last."""

    mark: Outcome
    on: date


@dataclass(frozen=True)
class WeekSettings:
    """When there is practice. `weekdays` count from Monday, 0.

    Raises:
        ValueError: too few or too many minutes, or no day at all.
    """

    start: date
    minutes_a_day: int = USUAL_MINUTES
    weekdays: frozenset[int] = USUAL_WEEKDAYS
    holidays: frozenset[date] = frozenset()

    def __post_init__(self) -> None:
        if not LEAST_MINUTES <= self.minutes_a_day <= MOST_MINUTES:
            raise ValueError(
                f"minutes_a_day must be {LEAST_MINUTES} to {MOST_MINUTES} "
                f"(got {self.minutes_a_day})"
            )
        if not self.weekdays or not self.weekdays <= set(range(7)):
            raise ValueError("weekdays must name at least one day from 0 to 6")

    def practice_days(self, start: date | None = None) -> Iterator[date]:
        """The days with practice, without end, from a date on."""
        day = max(self.start, start or self.start)
        while True:
            if day.weekday() in self.weekdays and day not in self.holidays:
                yield day
            day += timedelta(days=1)


@dataclass(frozen=True)
class Homework:
    """Everything set for practice.

    Attributes:
        letter: some words to the student.
        start: the first day; None for the day it is looked at.
        drills: names of the exercises, with what is set in each.
        results: how tasks went, by their key.
        routine: the file of a routine that each day begins with, instead of a drill; else empty.
        stays: for how many practice days a step stays, by what is done in it; one if not named.
    """

    letter: str = ""
    start: date | None = None
    minutes_a_day: int = USUAL_MINUTES
    weekdays: frozenset[int] = USUAL_WEEKDAYS
    holidays: frozenset[date] = frozenset()
    drills: Mapping[str, Set] = field(default_factory=lambda: {key: {} for key in USUAL_DRILLS})
    results: Mapping[str, Result] = field(default_factory=dict)
    stays: Mapping[str, int] = field(default_factory=dict)
    routine: str = ""

    def staying(self, kind: str, days: int) -> Homework:
        """With steps of a kind staying for so many practice days."""
        stays = {k: n for k, n in self.stays.items() if k != kind}
        if days > 1:
            stays[kind] = min(days, MOST_DAYS)
        return replace(self, stays=stays)

    def settings(self, today: date) -> WeekSettings:
        """When there is practice, from a day on where no first day is set."""
        return WeekSettings(self.start or today, self.minutes_a_day, self.weekdays, self.holidays)

    def marked(self, key: str, result: Result | None) -> Homework:
        """With the result of a task, or with None as if it had not been done."""
        results = {k: r for k, r in self.results.items() if k != key}
        if result is not None:
            results[key] = result
        return replace(self, results=results)

    def with_drill(self, key: str, values: Set | None) -> Homework:
        """With a drill set, or with None taken out."""
        drills = {k: v for k, v in self.drills.items() if k != key or values is not None}
        if values is not None:
            drills[key] = dict(values)
        return replace(self, drills=drills)
