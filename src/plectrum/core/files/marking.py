"""What of a plan is written into a score: by default the teacher's pencil, and more by wish."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import asdict, dataclass
from enum import StrEnum
from typing import Any

from plectrum.core.advice.region_words import region_of
from plectrum.core.document.choices import Join
from plectrum.core.planning.plan import Plan
from plectrum.core.planning.strokes.units import Unit
from plectrum.core.practice.said import short_place
from plectrum.core.score.bow_signs import Bowing, Fingers
from plectrum.core.score.model import Articulation

# The places a player can find by eye, as fractions of the hair (own default).
_FRACTIONS = (
    (0.0, "0"), (1 / 8, "⅛"), (1 / 4, "¼"), (1 / 3, "⅓"), (3 / 8, "⅜"), (1 / 2, "½"),
    (5 / 8, "⅝"), (2 / 3, "⅔"), (3 / 4, "¾"), (7 / 8, "⅞"), (1.0, "1"),
)  # fmt: skip
_SEPARATE = {Articulation.STACCATO, Articulation.TENUTO}


class Division(StrEnum):
    """How the division of the bow is said: "¼–¾"; "upper half", where it changes; "frog–middle",
    by the player's marks."""

    OFF = "off"
    FRACTIONS = "fractions"
    REGIONS = "regions"
    MARKS = "marks"


class Under(StrEnum):
    """As what it is written: a line of lyrics, or words."""

    LYRICS = "lyrics"
    WORDS = "words"


@dataclass(frozen=True, slots=True)
class Marking:
    """What is written beside the bow marks; nothing, unless it is asked for.

    Attributes:
        joins: hooks as dots under a slur, lifts as breath marks, on a rest where there is one.
        fingerings, strings: those the plan has chosen, where none are written.
    """

    division: Division = Division.OFF
    under: Under = Under.LYRICS
    joins: bool = False
    fingerings: bool = False
    strings: bool = False

    def as_dict(self) -> dict[str, Any]:
        """Plain values, to be remembered."""
        return asdict(self)

    @classmethod
    def from_dict(cls, kept: dict[str, Any]) -> Marking:
        """From what was remembered; what does not fit is as by default."""
        flags = {name: kept.get(name) is True for name in ("joins", "fingerings", "strings")}
        division, under = kept.get("division"), kept.get("under")
        return cls(
            Division(division) if division in list(Division) else Division.OFF,
            Under(under) if under in list(Under) else Under.LYRICS,
            **flags,
        )


PENCIL = Marking()


def bowing_of(plan: Plan, marking: Marking = PENCIL) -> Bowing:
    """What a plan writes into its part."""
    notes = plan.part.notes
    heads = {unit.first for unit in plan.units}
    return Bowing(
        marks={p.note.id: p.direction for p in plan.notes if p and p.note.index in heads},
        bows=[(notes[u.first].id, notes[u.last].ids[-1]) for u in plan.units if u.last > u.first],
        changed_slurs=[
            note.id
            for note, planned in zip(notes, plan.notes, strict=True)
            if planned is not None
            and note.index > 0
            and note.slurred == (note.index in heads)
            and plan.notes[note.index - 1] is not None
        ],
        texts=dict(_texts(plan, marking.division)),
        as_lyrics=marking.under is Under.LYRICS,
        lifts=[notes[u.first].id for u in _joined(plan, Join.RETAKE)] if marking.joins else [],
        hooks=list(_hooks(plan)) if marking.joins else [],
        dotted=list(_dotted(plan)) if marking.joins else [],
        fingers=dict(_fingers(plan, marking)),
    )


def _texts(plan: Plan, division: Division) -> Iterator[tuple[str, str]]:
    """Note id to the words at every bow; a region only where it changes."""
    before = ""
    for unit, step in zip(plan.units, plan.steps, strict=True):
        first, last = plan.notes[unit.first], plan.notes[unit.last]
        if division is Division.OFF or first is None or last is None:
            continue
        if division is Division.REGIONS:
            text = region_of(step)
            if text == before:
                continue
            before = text
        elif division is Division.FRACTIONS:
            text = _between(fraction_words(first.start), fraction_words(last.end))
        else:
            bow = plan.choices.bow
            text = _between(short_place(first.start, bow), short_place(last.end, bow))
        yield first.note.id, text


def _between(start: str, end: str) -> str:
    return start if start == end else f"{start}–{end}"


def fraction_words(at: float) -> str:
    """A place as the nearest fraction of the hair from the frog: "¾"."""
    return min(_FRACTIONS, key=lambda row: abs(row[0] - at))[1]


def _joined(plan: Plan, join: Join) -> list[Unit]:
    """The units that follow the one before in a certain way."""
    return [u for u in plan.units[1:] if (p := plan.notes[u.first]) and p.join is join]


def _chains(plan: Plan) -> Iterator[tuple[int, int]]:
    """First and last unit of every bow that is stopped inside and is not slurred in print."""
    first = 0
    for k in range(1, len(plan.units) + 1):
        planned = plan.notes[plan.units[k].first] if k < len(plan.units) else None
        follows = planned is not None and plan.unit_before[k] == k - 1
        if follows and planned is not None and planned.join is Join.HOOK:
            continue
        heads = [plan.part.notes[u.first] for u in plan.units[first + 1 : k]]
        if heads and not all(note.slurred for note in heads):
            yield first, k - 1
        first = k


def _hooks(plan: Plan) -> Iterator[tuple[str, str]]:
    """Ids of the first and last note of every hooked bow."""
    notes = plan.part.notes
    for first, last in _chains(plan):
        yield notes[plan.units[first].first].id, notes[plan.units[last].last].ids[-1]


def _dotted(plan: Plan) -> Iterator[str]:
    """Notes of hooked bows before and after a stop, that have no sign of it yet."""
    for first, last in _chains(plan):
        for unit in plan.units[first : last + 1]:
            for index in {unit.first, unit.last}:
                note = plan.part.notes[index]
                if not note.articulations & _SEPARATE:
                    yield note.id


def _fingers(plan: Plan, marking: Marking) -> Iterator[tuple[str, Fingers]]:
    """Note id to fingers and strings, the lowest pitch first; written ones are left alone."""
    if not (marking.fingerings or marking.strings):
        return
    for note, fingered in zip(plan.part.notes, plan.fingered, strict=True):
        if fingered.grip is None:
            continue
        strings_n = len(fingered.string_names)
        own = sorted(fingered.grip.fingers, key=lambda f: f.string)
        with_fingers = marking.fingerings and not note.fingerings and not note.open_string
        with_strings = marking.strings and not note.strings
        if with_fingers or with_strings:
            yield (
                note.id,
                Fingers(
                    tuple(str(f.finger) for f in own) if with_fingers else (),
                    tuple(strings_n - f.string for f in own) if with_strings else (),
                ),
            )
