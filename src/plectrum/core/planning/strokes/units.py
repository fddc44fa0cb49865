"""Notes grouped into units: what one bow must take in one go, and what it wishes for.

A slur's notes are one unit, unless the teacher splits it; every other note is its own.
Notes without bow (pizzicato) are in no unit. Numbers without a source are own defaults.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import repeat
from types import MappingProxyType
from typing import Any, NamedTuple

import numpy as np

from plectrum.core.document.choices import NO_PIN, Choices, Join, Pin
from plectrum.core.document.places import of_bow
from plectrum.core.planning.fingering.grips import Fingered
from plectrum.core.planning.strokes.amounts import Amounts, amounts_of
from plectrum.core.planning.strokes.bow_columns import (
    Bools,
    BowColumns,
    Crossings,
    Ints,
    NoteColumns,
    bow_columns,
)
from plectrum.core.planning.strokes.context import columns_of, forks
from plectrum.core.planning.strokes.kept import kept_of
from plectrum.core.player.school import SlurSchool
from plectrum.core.score.model import Direction, Note, Part, note_numbers, note_table

NOT_FED: Mapping[int, float] = MappingProxyType({})


class Unit(NamedTuple):
    """One or more notes in one bow; lengths and places as in `BowColumns`.

    A named tuple, because a long part makes thousands. `crossings` holds (share of the unit's bow
    at which the level changes, how much it troubles) for the change into the unit and those
    inside it.
    """

    index: int  # type: ignore[assignment]
    first: int
    last: int
    duration_s: float
    moving_s: float
    ideal_length: float
    usual_length: float
    ideal_place: float
    metric_weight: float
    free_s: float
    short_after_long: bool
    mark: Direction | None = None
    pin: Pin = NO_PIN
    crossings: Crossings = ()


@dataclass(frozen=True)
class BaseUnits:
    """The units of a part without pins, and what else is kept of them from plan to plan.

    `before` is the unit that is played before each, `came` the last note of it that is; −1 before
    the first. `fed` is how much more or less bow the sound asks of a note than its wish: index to
    times.
    """

    units: tuple[Unit, ...]
    columns: BowColumns
    before: Ints
    came: Ints
    notes: NoteColumns
    unit_of_note: Mapping[str, int]
    fed: Mapping[int, float]
    kept: dict[Hashable, Any]

    @cached_property
    def after_even(self) -> Bools:
        """The units before which the bow has gone there and back again: after a tremolo of an even
        number of strokes, the same way again turns the bow."""
        return self._after(lambda a: a.counted & (a.strokes % 2 == 0))

    @cached_property
    def after_uncounted(self) -> Bools:
        """The units after a tremolo that nobody counts: either way turns the bow."""
        return self._after(lambda a: ~a.counted)

    def _after(self, what: Callable[[Amounts], Bools]) -> Bools:
        found: Bools = what(self.notes.amounts)[self.came] & (self.came >= 0)
        return found

    @cached_property
    def forks(self) -> tuple[int, ...]:
        """The units that are not played after the one that is written before them."""
        return tuple(np.flatnonzero(self.before[1:] != np.arange(len(self.before) - 1)) + 1)


class Units(list[Unit]):
    """The units of a plan. `touched` are those that differ from the base by what is pinned."""

    def __init__(self, base: BaseUnits, pinned: Mapping[int, Unit]) -> None:
        super().__init__(base.units)
        self.base = base
        self.touched = tuple(sorted(pinned))
        for index, unit in pinned.items():
            self[index] = unit


def slurs_are_free(choices: Choices) -> bool:
    """Whether the plan decides which notes share a bow."""
    return choices.school.slurs is not SlurSchool.WRITTEN


def _spans(part: Part, choices: Choices, notes: NoteColumns) -> tuple[Ints, Ints]:
    """First and last note of every unit."""
    table = note_table(part)
    bowed = ~np.array(table["pizzicato"], dtype=bool)
    slurred = np.array(table["slurred"], dtype=bool)
    if slurs_are_free(choices):  # after a grace, a stop or where the way parts, they stay printed
        after_grace = np.roll(np.array(table["grace"], dtype=bool), 1)
        slurred &= after_grace | notes.stops | forks(columns_of(part))
    for k in _rejoined(part, choices):
        slurred[k] = not slurred[k]
    tremolo = notes.amounts.strokes > 1  # a bow of its own
    slurred &= ~(tremolo | np.roll(tremolo, 1))
    starts = bowed & ~(slurred & np.roll(bowed, 1))
    starts[:1] = bowed[:1]
    at = np.flatnonzero(bowed)
    begins = np.flatnonzero(starts[at])
    return at[begins], at[np.append(begins[1:], len(at))[: len(begins)] - 1]


def _rejoined(part: Part, choices: Choices) -> frozenset[int]:
    """The notes that pins slur, or part from a slur, otherwise than on the page."""
    if slurs_are_free(choices):
        return frozenset()
    slurred, number = note_table(part)["slurred"], note_numbers(part)
    joined = ((number.get(i), p.join) for i, p in choices.pins.items() if p.join is not None)
    return frozenset(
        k for k, join in joined if k is not None and (join is Join.SLUR) != bool(slurred[k])
    )


def build_units(
    part: Part,
    choices: Choices,
    fingered: Sequence[Fingered],
    fed: Mapping[int, float] = NOT_FED,
) -> Units:
    """The units of a part, in order, with what each would like.

    All but the pins is kept: an edit changes few of them.

    Args:
        fed: note index to times its wished length.
    """
    kept = kept_of(part, choices, fingered)
    joins = _rejoined(part, choices)
    base = plain = kept.few(
        "units", joins, lambda: _base_units(part, choices, fingered), _give_back
    )
    if fed:
        key = joins, tuple(fed.items())
        base = kept.few("fed", key, lambda: _fed(plain, fed), _give_back)
    return Units(base, _pinned(part, choices, base))


def _pinned(part: Part, choices: Choices, base: BaseUnits) -> dict[int, Unit]:
    """The units that are pinned; those of which nothing is pinned otherwise than in the plan
    before are the same ones."""
    was: Mapping[str, Pin]
    before: dict[int, Unit]
    was, before = base.kept.get("pinned", ({}, {}))
    pins, found = choices.pins, dict(before)
    others = {i for i in {*was, *pins} if was.get(i) is not pins.get(i)}
    for index in {base.unit_of_note[i] for i in others if i in base.unit_of_note}:
        unit = base.units[index]
        pin = pin_of(part.notes[unit.first : unit.last + 1], choices)
        found.pop(index, None)
        if not pin.is_empty:
            found[index] = unit._replace(pin=pin)
    base.kept["pinned"] = pins, found
    return found


def _give_back(base: BaseUnits) -> None:
    """No plan goes on from these units any more; those that were made still show them."""
    base.kept.pop("solved", None)


def _base_units(part: Part, choices: Choices, fingered: Sequence[Fingered]) -> BaseUnits:
    notes = note_columns(part, choices, fingered)
    first, last = _spans(part, choices, notes)
    before, came = before_each(columns_of(part).before, first, last)
    columns = bow_columns(notes, first, last, came, NOT_FED)
    units = tuple(units_of(columns, notes))
    ids = note_table(part)["id"]
    of_note = {ids[k]: i for i, u in enumerate(units) for k in range(u.first, u.last + 1)}
    return BaseUnits(units, columns, before, came, notes, of_note, NOT_FED, {})


def before_each(played: Ints, first: Ints, last: Ints) -> tuple[Ints, Ints]:
    """The unit that is played before each, and the note of it that is; −1 before the first.

    Args:
        played: the note that is played before each note.
    """
    before = np.arange(-1, len(first) - 1)
    came = np.append(-1, last)[: len(last)].astype(np.int64)
    if (played == np.arange(-1, len(played) - 1)).all():
        return before, came
    unit_of = np.full(len(played), -1, dtype=np.int64)
    for i, (a, b) in enumerate(zip(first.tolist(), last.tolist(), strict=True)):
        unit_of[a : b + 1] = i
    for i, note in enumerate(played[first].tolist()):
        while note >= 0 and unit_of[note] < 0:  # not bowed
            note = int(played[note])
        if note >= 0:
            before[i], came[i] = unit_of[note], note
    return before, came


def units_of(c: BowColumns, notes: NoteColumns) -> Iterable[Unit]:
    """Bows as units, numbered from 0."""
    spans = zip(c.first.tolist(), c.last.tolist(), strict=True)
    marks = (notes.mark(*span) for span in spans) if notes.marked else repeat(None)
    crossings: list[Crossings] = [()] * len(c.first)
    for i in np.flatnonzero(c.trouble > 0).tolist():
        crossings[i] = notes.crossings(c.first.item(i), c.last.item(i))
    return map(Unit._make, zip(
        range(len(crossings)), c.first.tolist(), c.last.tolist(), c.duration_s.tolist(),
        c.moving_s.tolist(), c.ideal_length.tolist(), c.usual_length.tolist(),
        c.ideal_place.tolist(), c.metric_weight.tolist(), c.free_s.tolist(),
        c.short_after_long.tolist(), marks, repeat(NO_PIN), crossings,
    ))  # fmt: skip


def _fed(base: BaseUnits, fed: Mapping[int, float]) -> BaseUnits:
    """The same units with other wishes; what does not depend on wishes is kept in common."""
    c = base.columns
    columns = bow_columns(base.notes, c.first, c.last, base.came, fed)
    units = list(base.units)
    for i in np.flatnonzero(columns.ideal_length != c.ideal_length).tolist():
        units[i] = units[i]._replace(ideal_length=float(columns.ideal_length[i]))
    kept = {k: value for k, value in base.kept.items() if k not in ("kinds", "pinned")}
    return replace(base, units=tuple(units), columns=columns, fed=fed, kept=kept)


def note_columns(part: Part, choices: Choices, fingered: Sequence[Fingered]) -> NoteColumns:
    """The columns of a part's notes; kept, because pins do not change them."""
    kept = kept_of(part, choices, fingered)
    key = "columns", choices.school.crossing
    if key not in kept:
        kept[key] = NoteColumns(part, choices, fingered, amounts_of(part, choices))
    found: NoteColumns = kept[key]
    return found


def pin_of(members: Sequence[Note], choices: Choices) -> Pin:
    """The pin of a unit: its first note's, and a direction pinned anywhere inside. What is said of
    the first note alone is no pin of a bow of several (see `sharing`)."""
    pins = choices.pins
    if not any(note.id in pins for note in members):
        return NO_PIN
    head = pins.get(members[0].id, NO_PIN)
    direction = head.direction
    for note in members[1:]:
        inner = choices.pins.get(note.id)
        if direction is None and inner is not None:
            direction = inner.direction
    join = head.join if head.join in (Join.TURN, Join.HOOK, Join.RETAKE) else None
    place, amount = head.place, head.amount
    if len(members) > 1:
        place, amount = of_bow(place), of_bow(amount)
    return Pin(direction, join, head.start_cell, head.length_cells, place=place, amount=amount)
