"""The bows a plan can choose from: each unit by itself, or with those that follow it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from plectrum.core.document.choices import NO_PIN, Choices, Join, Pin
from plectrum.core.document.places import of_bow
from plectrum.core.planning.fingering.grips import Fingered
from plectrum.core.planning.strokes.amounts import school_range
from plectrum.core.planning.strokes.bow_columns import BowColumns, bow_columns
from plectrum.core.planning.strokes.context import Bows
from plectrum.core.planning.strokes.slurs import SlurCosts, slur_costs
from plectrum.core.planning.strokes.units import Unit, Units, slurs_are_free, units_of
from plectrum.core.score.model import Part

Ints = NDArray[np.int64]
Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]


@dataclass(frozen=True)
class Segments:
    """B bows over N units, of at most L units each; the units by themselves come first.

    Attributes:
        units: those by themselves.
        columns: what each bow would like.
        pins: of the bows that have any.
        first, count: first unit and number of units of each, shape (B,).
        index: shape (N, L), which bow takes 1 … L units from each; −1 where there is none.
        slur: what each bow costs for the notes it joins, shape (B,).
        follows: the same of a bow after another, at each unit by whether they join; (N, 2, 2).
    """

    units: Units
    columns: BowColumns
    pins: Mapping[int, Pin]
    first: Ints
    count: Ints
    index: Ints
    slur: Floats
    follows: Floats

    @property
    def bows(self) -> Bows:
        """First and last note of each."""
        return Bows(self.columns.first, self.columns.last)

    @property
    def pairs(self) -> tuple[Ints, Ints]:
        """Every two bows of which one can follow the other, as bow numbers."""
        after = [np.zeros(0, dtype=np.int64)]
        before = [np.zeros(0, dtype=np.int64)]
        came, longest = self.units.base.before, self.index.shape[1]
        of_end = self.index_by_end
        for units in range(1, longest + 1):
            at = np.flatnonzero((came >= 0) & (of_end[came, units - 1] >= 0))
            ends = of_end[came[at], units - 1]
            following = self.index[at]
            row, column = np.nonzero(following >= 0)
            before.append(ends[row])
            after.append(following[row, column])
        return np.concatenate(before), np.concatenate(after)

    @cached_property
    def index_by_end(self) -> Ints:
        """Which bow takes 1 … L units and ends with each; shape (N, L), −1 where there is none."""
        found = np.full(self.index.shape, -1, dtype=np.int64)
        found[self.first + self.count - 1, self.count - 1] = np.arange(len(self.first))
        return found

    def chosen(self, bows: Ints) -> list[Unit]:
        """Some of the bows as units, numbered anew."""
        made = units_of(self.columns.some(bows), self.units.base.notes)
        pins = (self.pins.get(b, NO_PIN) for b in bows.tolist())
        return [u._replace(pin=pin) for u, pin in zip(made, pins, strict=True)]


def segments_of(
    part: Part, choices: Choices, fingered: Sequence[Fingered], units: Units
) -> Segments:
    """The bows of a plan under its way of slurring."""
    n = len(units)
    alone = np.arange(n)
    one = np.ones(n, dtype=np.int64)
    columns = units.base.columns
    pins = {i: units[i].pin for i in units.touched}
    if not slurs_are_free(choices) or n < 2:
        none = np.zeros((n, 2, 2))
        return Segments(units, columns, pins, alone, one, alone[:, None], np.zeros(n), none)
    costs = _slur_costs(part, choices, fingered, units)
    first, last = columns.first[costs.first], columns.last[costs.first + costs.units - 1]
    came = units.base.came[costs.first]
    merged = bow_columns(units.base.notes, first, last, came, units.base.fed)
    fits = merged.moving_s <= _longest_s(choices)
    pinned = _pinned(units, costs.first, costs.units, fits)
    count = np.concatenate([one, costs.units[fits]])
    number = n + np.cumsum(fits) - 1  # of each that fits
    index = np.full((n, int(count.max())), -1, dtype=np.int64)
    starts = np.concatenate([alone, costs.first[fits]])
    index[starts, count - 1] = np.arange(len(starts))
    return Segments(
        units,
        columns.joined(merged.some(fits)),
        pins | {int(number[k]): pin for k, pin in pinned.items() if fits[k]},
        starts,
        count,
        index,
        np.concatenate([np.zeros(n), costs.group[fits]]),
        costs.follows,
    )


def _slur_costs(
    part: Part, choices: Choices, fingered: Sequence[Fingered], units: Units
) -> SlurCosts:
    """What slurs cost; kept without pins, because wishes do not change it, and with the joins that
    are pinned last."""
    kept, joins = units.base.kept, _pinned_joins(choices)
    key, asked = ("slurs", bool(joins)), (choices.slur_amount, joins)
    known: tuple[object, SlurCosts] | None = kept.get(key)
    if known is None or known[0] != asked:
        heads, player = [part.notes[u.first] for u in units], choices.player.on(choices.own)
        known = asked, slur_costs(part, heads, choices, fingered, player)
        kept[key] = known
    return known[1]


def _pinned_joins(choices: Choices) -> dict[str, Join]:
    """What pins say of slurring, by note."""
    return {i: pin.join for i, pin in choices.pins.items() if pin.join is not None}


def _longest_s(choices: Choices) -> float:
    """The longest that the player can draw one bow."""
    low, high = school_range(choices)
    return (high - low) * choices.bow.hair_mm / choices.player.on(choices.own).slowest_mm_s


def _pinned(units: Units, first: Ints, count: Ints, fits: Bools) -> dict[int, Pin]:
    """The pins of bows of several units, by their numbers; what pins forbid fits no more."""
    touched = np.zeros(len(units), dtype=np.int64)
    touched[list(units.touched)] = 1
    sums = np.append(0, np.cumsum(touched))
    found: dict[int, Pin] = {}
    for k in np.flatnonzero(sums[first + count] > sums[first]).tolist():
        pin = _shared_pin(units[first[k] : first[k] + count[k]])
        if pin is None:
            fits[k] = False
        else:
            found[k] = pin
    return found


def _shared_pin(members: Sequence[Unit]) -> Pin | None:
    """The pin of units in one bow; None if a pin forbids it."""
    head = members[0].pin
    for unit in members[1:]:
        pin = unit.pin
        if pin.join or pin.start_cell is not None or pin.length_cells is not None:
            return None
        place, amount = of_bow(pin.place), of_bow(pin.amount)
        if amount is not None or place not in (None, head.place):
            return None
    head = replace(head, place=of_bow(head.place), amount=of_bow(head.amount))
    ways = [u.pin.direction for u in members if u.pin.direction is not None]
    return replace(head, direction=ways[0]) if ways and head.direction is None else head
