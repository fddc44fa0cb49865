"""A routine: exercises in their order, with minutes, on so many days a week.

Five days a week and ten to fifteen minutes for young beginners are common practice without a
source.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from functools import cache
from importlib import resources
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from plectrum.core.document.choices import Choices
from plectrum.core.errors import ChoiceError
from plectrum.core.incoming.numbers import decimal
from plectrum.core.plain_text import one_line
from plectrum.core.practice.exercises import own_file
from plectrum.core.practice.exercises.catalogue import Made, exercise_named, made_of
from plectrum.core.practice.exercises.model import Changes, Exercise
from plectrum.core.practice.exercises.patterns import Asked
from plectrum.core.wording import say, tr

ROWS = "routines.json"


class _Row(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Item(_Row):
    """One exercise of a routine; what is not said is as the exercise has it.

    Attributes:
        own: a teacher's own exercise, whole, so that it goes wherever the routine goes.
        asked: what a pattern is to be; None for the usual.
    """

    exercise: Annotated[str, Field(min_length=1, max_length=60)]
    minutes: Annotated[int, Field(ge=1, le=60)]
    strings: Annotated[str, Field(max_length=80)] | None = None
    part: Annotated[str, Field(max_length=80)] | None = None
    counts: Annotated[str, Field(max_length=20)] | None = None
    times: Annotated[int, Field(ge=1, le=40)] | None = None
    own: Exercise | None = None
    asked: Asked | None = None

    @property
    def changes(self) -> Changes:
        """What is asked otherwise of the exercise.

        Raises:
            ChoiceError: the counts are none.
        """
        play, look = counts_of(self.counts)
        return Changes(self.strings, self.part, play, look, self.times)


class Routine(_Row):
    """Exercises in their order."""

    format: Literal["plectrum-routine"] = "plectrum-routine"
    version: Literal["1.0"] = "1.0"
    key: Annotated[str, Field(pattern=r"^[a-z][a-z0-9-]{1,40}$")]
    title: Annotated[str, Field(min_length=1, max_length=80)]
    what: Annotated[str, Field(max_length=600)]
    days_a_week: Annotated[int, Field(ge=1, le=7)] = 5
    weeks: Annotated[int, Field(ge=1, le=12)] = 1
    items: Annotated[tuple[Item, ...], Field(min_length=1, max_length=20)]

    @property
    def minutes(self) -> int:
        return sum(item.minutes for item in self.items)

    def days(self, start: date) -> list[date]:
        """The days of practice from a date on: the first ones of each week from there."""
        return [
            start + timedelta(days=7 * week + day)
            for week in range(self.weeks)
            for day in range(self.days_a_week)
        ]


@dataclass(frozen=True)
class Planned:
    """One exercise of a routine made for a player."""

    item: Item
    made: Made

    @property
    def rounds(self) -> int:
        """How often it fits its minutes, once at least."""
        return max(1, round(60 * self.item.minutes / max(self.made.seconds, 1.0)))


def counts_of(text: str | None) -> tuple[float | None, float | None]:
    """ "2+4" as beats to play and to look; either alone leaves the other.

    Raises:
        ChoiceError: it is neither.
    """
    if text is None:
        return None, None
    play, plus, look = text.partition("+")
    found = decimal(play), decimal(look) if plus else None
    if found[0] is None or (plus and found[1] is None):
        raise ChoiceError(
            say("{text!r} is no count", text=one_line(text, 20)), remedy=tr("Write 2+4, or 4")
        )
    return found


def planned_items(
    routine: Routine, choices: Choices, day: int = 1, days: Mapping[str, int] | None = None
) -> list[Planned]:
    """The exercises of a routine for a player on a practice day.

    Args:
        days: which day of practice it is for an exercise, by its name, where it is another.

    Raises:
        ChoiceError: one is not known, or cannot be on this instrument.
    """
    return [
        Planned(item, item_made(item, choices, (days or {}).get(item.exercise, day)))
        for item in routine.items
    ]


def item_made(item: Item, choices: Choices, day: int = 1) -> Made:
    """One exercise of a routine for a player.

    Raises:
        ChoiceError: it is not known, or cannot be on this instrument.
    """
    if item.own is not None:
        return made_of(item.own, choices, item.changes, day)
    return exercise_named(item.exercise, choices, item.changes, item.asked or Asked(), day)


def alone(made: Made) -> tuple[Routine, list[Planned]]:
    """An exercise as a routine of its own, for as long as it lasts once."""
    minutes = min(max(1, round(made.seconds / 60)), 60)
    item = Item(exercise=made.title[:60], minutes=minutes)
    routine = Routine(key="alone", title=made.title[:80], what=tr("One exercise."), items=(item,))
    return routine, [Planned(item, made)]


@cache
def shipped_routines() -> dict[str, Routine]:
    """The routines that come with the program, by key, in the user's words."""
    text = resources.files(__package__).joinpath(ROWS).read_text("utf-8")
    rows = [own_file.checked(Routine, row, ROWS) for row in json.loads(text)]
    texts = {row.key: {"title": tr(row.title), "what": tr(row.what)} for row in rows}
    return {row.key: row.model_copy(update=texts[row.key]) for row in rows}


def routine_named(name: str) -> Routine:
    """A shipped routine.

    Raises:
        ChoiceError: there is none of that name.
    """
    found = shipped_routines().get(name)
    if found is None:
        raise ChoiceError(
            say("there is no routine {name!r}", name=one_line(name, 40)),
            remedy=say(
                "There are {list}, and files that end with .json",
                list=", ".join(shipped_routines()),
            ),
        )
    return found


def routine_from_bytes(data: bytes, name: str) -> Routine:
    """A teacher's own routine.

    Raises:
        PlectrumError: damaged, or no routine.
    """
    return own_file.read(Routine, data, name)


def routine_bytes(routine: Routine) -> bytes:
    """The file of a routine."""
    return own_file.written(routine)
