"""What an exercise is: strokes on strings, so many times, with what to say and when it is good.

The shipped ones are rows of `exercises.json`; a teacher's own are files of the same shape. How
often, how long and where is common practice without a source.
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from enum import StrEnum
from functools import cache
from importlib import resources
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from plectrum.core.document.places import REGIONS, mark_on
from plectrum.core.errors import ChoiceError
from plectrum.core.instrument.bow import Bow
from plectrum.core.plain_text import one_line
from plectrum.core.practice.exercises import own_file
from plectrum.core.score.model import Direction

ROWS = "exercises.json"
WHOLE = "whole"
MOST_STEPS = 600  # a longer exercise is not done in one go


class Moves(StrEnum):
    """What moves."""

    SOUND = "the bow sounding"
    ROLL = "the bow silent on the string"
    CARRY = "the bow in the air"


class _Row(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


_Share = Annotated[float, Field(ge=0, le=1)]
_Beats = Annotated[float, Field(ge=0.25, le=60)]
_Word = Annotated[str, Field(max_length=40)]
_Line = Annotated[str, Field(max_length=300)]


class Stroke(_Row):
    """One stroke, or what is done in silence.

    Attributes:
        way: "down" or "up"; None for what does not sound.
        start, end: shares of the part of the bow that is used, 0 at its end nearer the frog.
        beats: how long. word: said while it is done. string: 0, or 1 for the other of a pair.
    """

    way: Direction | None = None
    start: _Share = 0.0
    end: _Share = 1.0
    beats: _Beats = 1.0
    word: _Word = ""
    string: Literal[0, 1] = 0


class Growth(_Row):
    """What grows by how much a practice day, up to a most."""

    field: Literal["times", "bpm", "counts"]
    by: Annotated[float, Field(gt=0, le=60)]
    most: Annotated[float, Field(gt=0, le=480)]


class Exercise(_Row):
    """One exercise.

    Attributes:
        strings: "each", "pairs" of neighbours, or names such as "G, D" and "G-D".
        order: how the strings follow one another.
        part: of the bow: "whole", "upper-half", "lower-half", "middle", or MARK..MARK.
        times: how often on each string. look_beats: a pause after each time, to look.
        counts: how many times longer every stroke is than it is written.
        good: how to know that it is good. stop: when to stop and mend.
    """

    format: Literal["plectrum-exercise"] = "plectrum-exercise"
    version: Literal["1.0"] = "1.0"
    key: Annotated[str, Field(pattern=r"^[a-z][a-z0-9-]{1,40}$")]
    title: Annotated[str, Field(min_length=1, max_length=80)]
    purpose: _Line
    moves: Moves = Moves.SOUND
    strings: Annotated[str, Field(max_length=80)] = "each"
    order: Literal["up", "down", "up and back"] = "up"
    part: Annotated[str, Field(max_length=80)] = WHOLE
    strokes: Annotated[tuple[Stroke, ...], Field(min_length=1, max_length=64)]
    times: Annotated[int, Field(ge=1, le=40)] = 1
    look_beats: Annotated[float, Field(ge=0, le=60)] = 0.0
    look_word: _Word = "look"
    counts: Annotated[float, Field(ge=0.25, le=16)] = 1.0
    bpm: Annotated[float, Field(ge=20, le=240)] = 60.0
    what: _Line
    good: _Line
    stop: _Line = ""
    grows: Growth | None = None

    def on_day(self, day: int) -> Exercise:
        """As it is on a practice day, from 1 on."""
        if self.grows is None or day <= 1:
            return self
        now = getattr(self, self.grows.field) + self.grows.by * (day - 1)
        now = min(now, self.grows.most)
        kind = int if self.grows.field == "times" else float
        return self.model_copy(update={self.grows.field: kind(now)})


@dataclass(frozen=True, slots=True)
class Changes:
    """What is asked otherwise than the exercise has it; None leaves it."""

    strings: str | None = None
    part: str | None = None
    play_beats: float | None = None
    look_beats: float | None = None
    times: int | None = None

    def made_in(self, exercise: Exercise) -> Exercise:
        """The exercise with these changes.

        Raises:
            ChoiceError: one of them cannot be.
        """
        looks_inside = any(s.way is None for s in exercise.strokes)
        values: dict[str, Any] = {
            "strings": self.strings,
            "part": self.part,
            "look_beats": None if looks_inside else self.look_beats,
            "times": self.times,
        }
        if self.play_beats is not None or self.look_beats is not None:
            values["strokes"] = [self._timed(stroke) for stroke in exercise.strokes]
            values["counts"] = 1.0
        asked = {k: v for k, v in values.items() if v is not None}
        raw = {**exercise.model_dump(mode="json"), **asked}
        return own_file.checked(Exercise, raw, exercise.key)

    def _timed(self, stroke: Stroke) -> dict[str, Any]:
        """A stroke with the beats asked for: to play, or to look."""
        beats = self.play_beats if stroke.way is not None else self.look_beats
        return {**stroke.model_dump(mode="json"), "beats": beats or stroke.beats}


def exercise_from_bytes(data: bytes, name: str) -> Exercise:
    """A teacher's own exercise.

    Raises:
        PlectrumError: damaged, or no exercise.
    """
    return own_file.read(Exercise, data, name)


def exercise_bytes(exercise: Exercise) -> bytes:
    """The file of an exercise."""
    return own_file.written(exercise)


@cache
def shipped() -> dict[str, Exercise]:
    """The exercises that come with the program, by key, in their order."""
    text = resources.files(__package__).joinpath(ROWS).read_text("utf-8")
    rows = [own_file.checked(Exercise, row, ROWS) for row in json.loads(text)]
    return {row.key: row for row in rows}


def part_of_bow(part: str, bow: Bow, usable: tuple[float, float]) -> tuple[float, float]:
    """From where to where a part of the bow goes for a player, as fractions of the hair.

    Raises:
        ChoiceError: no such part, or this player does not use it.
    """
    low, high = usable
    if part == WHOLE:
        return low, high
    if part in REGIONS:
        first, last = (min(max(at, low), high) for at in REGIONS[part])
    else:
        start, dots, end = part.partition("..")
        if not dots:
            raise ChoiceError(
                f"{one_line(part, 40)!r} is no part of the bow",
                remedy=f"Use whole, {', '.join(REGIONS)}, or MARK..MARK",
            )
        first, last = sorted(mark_on(name, bow, usable) for name in (start, end))
    if last - first < 1e-6:
        raise ChoiceError(f"this player does not use the {one_line(part, 40)}")
    return first, last
