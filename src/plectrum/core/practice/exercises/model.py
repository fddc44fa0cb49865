"""What an exercise is: strokes on strings, so many times, with what to say and when it is good.

The shipped ones are rows of `exercises.json`; a teacher's own are files of the same shape. How
often, how long and where is common practice without a source.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass, fields
from functools import cache
from importlib import resources
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from plectrum.core.document.places import REGIONS, mark_on
from plectrum.core.errors import ChoiceError
from plectrum.core.instrument.bow import Bow
from plectrum.core.plain_text import one_line
from plectrum.core.practice.exercises import own_file
from plectrum.core.practice.exercises.drills import Moves
from plectrum.core.score.model import Direction
from plectrum.core.wording import say, tr

ROWS = "exercises.json"
WHOLE = "whole"
SOUNDING = {Moves.SOUND, Moves.THROW}  # in the others nothing does
MOST_STEPS = 600  # a longer exercise is not done in one go


class _Row(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


_Share = Annotated[float, Field(ge=0, le=1)]
_Beats = Annotated[float, Field(ge=0.25, le=60)]
_Word = Annotated[str, Field(max_length=40)]
_Line = Annotated[str, Field(max_length=600)]  # a translation may be half as long again


class Stroke(_Row):
    """One stroke, or what is done in silence.

    Attributes:
        way: "down" or "up"; None for what does not sound.
        start, end: shares of the part of the bow that is used, 0 at its end nearer the frog.
        beats: how long. word: said while it is done. string: 0, or 1 for the other of a pair.
        bounces: of a thrown bow. finger: the one that does it.
    """

    way: Direction | None = None
    start: _Share = 0.0
    end: _Share = 1.0
    beats: _Beats = 1.0
    word: _Word = ""
    string: Literal[0, 1] = 0
    bounces: Annotated[int, Field(ge=0, le=8)] = 0
    finger: Literal["", "thumb", "index", "middle", "ring", "little"] = ""


def _goes_its_way(stroke: Stroke) -> bool:
    """Whether a stroke that sounds goes towards the tip when it is down, to the frog when up."""
    if stroke.way is None:
        return True
    return (stroke.end > stroke.start) == (stroke.way is Direction.DOWN) and (
        stroke.end != stroke.start
    )


class Growth(_Row):
    """What changes by how much a practice day, until it is at its limit."""

    field: Literal["times", "bpm", "counts", "hand_mm", "height_mm"]
    by: Annotated[float, Field(ge=-60, le=60)]
    most: Annotated[float, Field(ge=0, le=480)]


class Exercise(_Row):
    """One exercise.

    Attributes:
        strings: "each", "pairs" of neighbours, "levels" with two together between, "none", or
            names such as "G, D", "G-D" for a pair and "G+D" for two together.
        order: how the strings follow one another; "random" calls so many as there are times.
        part: of the bow: "whole", "upper-half", "lower-half", "middle", or MARK..MARK.
        spread: every stroke goes over all strings, divided among them.
        times: how often on each string. look_beats: a pause after each time, to look.
        pace: what a beat is: of the metronome, or as much as this player needs for the slowest
            bow, for a bow carried so far, for a roll to the next level.
        ease: how quick its strokes may be for this player.
        counts: how many times slower the beats are than `bpm`.
        height_mm: from which a bow is thrown. hand_mm: where the hand stands above the frog.
        checks: what is looked at one by one, kept in the log.
        good: how to know that it is good. stop: when to stop and mend. caution: besides the one
            that every exercise has.
    """

    format: Literal["plectrum-exercise"] = "plectrum-exercise"
    version: Literal["1.0", "1.1"] = "1.1"
    key: Annotated[str, Field(pattern=r"^[a-z][a-z0-9-]{1,40}$")]
    title: Annotated[str, Field(min_length=1, max_length=80)]
    purpose: _Line
    moves: Moves = Moves.SOUND
    strings: Annotated[str, Field(max_length=80)] = "each"
    order: Literal["up", "down", "up and back", "skipping", "random"] = "up"
    part: Annotated[str, Field(max_length=80)] = WHOLE
    spread: bool = False
    strokes: Annotated[tuple[Stroke, ...], Field(min_length=1, max_length=64)]
    times: Annotated[int, Field(ge=1, le=40)] = 1
    look_beats: Annotated[float, Field(ge=0, le=60)] = 0.0
    look_word: _Word = "look"
    pace: Literal["counts", "slowest bow", "carry", "roll"] = "counts"
    ease: Literal["comfortable", "brisk"] = "brisk"
    counts: Annotated[float, Field(ge=0.25, le=16)] = 1.0
    bpm: Annotated[float, Field(ge=20, le=240)] = 60.0
    height_mm: Annotated[float, Field(ge=5, le=300)] = 40.0
    hand_mm: Annotated[float, Field(ge=0, le=480)] = 0.0
    what: _Line
    good: _Line
    stop: _Line = ""
    caution: _Line = ""
    checks: Annotated[tuple[_Word, ...], Field(max_length=8)] = ()
    grows: Growth | None = None

    @model_validator(mode="after")
    def _strokes_fit(self) -> Exercise:
        """A stroke that sounds goes its way, and only in an exercise in which something sounds."""
        for number, stroke in enumerate(self.strokes, start=1):
            if not _goes_its_way(stroke):
                raise ValueError(
                    say(
                        "stroke {number} goes {way} the other way along the bow",
                        number=number,
                        way=stroke.way,
                    )
                )
            if stroke.way is not None and self.moves not in SOUNDING:
                raise ValueError(
                    say(
                        "stroke {number} would sound, but what moves is {moves}",
                        number=number,
                        moves=self.moves,
                    )
                )
        return self

    def on_day(self, day: int) -> Exercise:
        """As it is on a practice day, from 1 on."""
        if self.grows is None or day <= 1:
            return self
        now = getattr(self, self.grows.field) + self.grows.by * (day - 1)
        bound = min if self.grows.by > 0 else max
        now = bound(now, self.grows.most)
        kind = int if self.grows.field == "times" else float
        return self.model_copy(update={self.grows.field: kind(now)})


@dataclass(frozen=True, slots=True)
class Changes:
    """What is asked otherwise than the exercise has it; None leaves it.

    Attributes:
        say: a word for each stroke, with commas between; an empty one leaves its word.
    """

    strings: str | None = None
    part: str | None = None
    play_beats: float | None = None
    look_beats: float | None = None
    times: int | None = None
    order: str | None = None
    bpm: float | None = None
    say: str | None = None
    good: str | None = None

    @classmethod
    def of_values(cls, values: Mapping[str, float | str]) -> Changes:
        """From the values a plan keeps; ones not known, or of another kind, are left out."""
        numbers = {"play_beats": float, "look_beats": float, "times": int, "bpm": float}
        found: dict[str, Any] = {}
        for name in (f.name for f in fields(cls)):
            value = values.get(name)
            if name in numbers and isinstance(value, (int, float)):
                found[name] = numbers[name](value)
            elif name not in numbers and isinstance(value, str):
                found[name] = value
        return cls(**found)

    @property
    def values(self) -> dict[str, float | str]:
        """As a plan keeps them."""
        return {f.name: v for f in fields(self) if (v := getattr(self, f.name)) is not None}

    def made_in(self, exercise: Exercise) -> Exercise:
        """The exercise with these changes.

        Raises:
            ChoiceError: one of them cannot be.
        """
        looks_inside = any(s.way is None for s in exercise.strokes)
        values: dict[str, Any] = {
            "strings": self.strings,
            "order": self.order,
            "part": self.part,
            "look_beats": None if looks_inside else self.look_beats,
            "times": self.times,
            "bpm": self.bpm,
            "good": self.good,
        }
        if self.play_beats is not None or self.look_beats is not None or self.say is not None:
            said = [word.strip() for word in (self.say or "").split(",")]
            said += [""] * (len(exercise.strokes) - len(said))
            pairs = zip(exercise.strokes, said, strict=False)
            values["strokes"] = [self._changed(stroke, word) for stroke, word in pairs]
            values["counts"] = 1.0 if self.play_beats or self.look_beats else None
        asked = {k: v for k, v in values.items() if v is not None}
        raw = {**exercise.model_dump(mode="json"), **asked}
        return own_file.checked(Exercise, raw, exercise.key)

    def _changed(self, stroke: Stroke, word: str) -> dict[str, Any]:
        """A stroke with the beats asked for, to play or to look, and its word."""
        beats = self.play_beats if stroke.way is not None else self.look_beats
        raw = stroke.model_dump(mode="json")
        return {**raw, "beats": beats or stroke.beats, "word": word or stroke.word}


def exercise_from_bytes(data: bytes, name: str) -> Exercise:
    """A teacher's own exercise.

    Raises:
        PlectrumError: damaged, or no exercise.
    """
    return own_file.read(Exercise, data, name)


def exercise_bytes(exercise: Exercise) -> bytes:
    """The file of an exercise."""
    return own_file.written(exercise)


# What is kept by its words, as the checks are in the log, is not among them.
READ_BY_PEOPLE = ("title", "purpose", "what", "good", "stop", "caution")


@cache
def shipped() -> dict[str, Exercise]:
    """The exercises that come with the program, by key, in their order, in the user's words."""
    text = resources.files(__package__).joinpath(ROWS).read_text("utf-8")
    rows = [own_file.checked(Exercise, row, ROWS) for row in json.loads(text)]
    return {
        row.key: row.model_copy(update={name: tr(getattr(row, name)) for name in READ_BY_PEOPLE})
        for row in rows
    }


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
                say("{part!r} is no part of the bow", part=one_line(part, 40)),
                remedy=say("Use whole, {list}, or MARK..MARK", list=", ".join(REGIONS)),
            )
        first, last = sorted(mark_on(name, bow, usable) for name in (start, end))
    if last - first < 1e-6:
        raise ChoiceError(say("this player does not use the {part}", part=one_line(part, 40)))
    return first, last
