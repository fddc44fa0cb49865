"""The bows a plan can choose from: each unit by itself, or with those that follow it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from plectrum.core.document.choices import Choices
from plectrum.core.planning.fingering.grips import Fingered
from plectrum.core.planning.strokes.amounts import amounts_of, school_range
from plectrum.core.planning.strokes.context import Bows
from plectrum.core.planning.strokes.slurs import slur_costs
from plectrum.core.planning.strokes.units import Unit, Units, note_rows, slurs_are_free, unit_of
from plectrum.core.score.model import Part

Ints = NDArray[np.int64]
Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Segments:
    """B bows over N units, of at most L units each.

    Attributes:
        units: what each bow is as a unit of its own.
        first, count: first unit and number of units of each, shape (B,).
        index: shape (N, L), which bow takes 1 … L units from each; −1 where there is none.
        slur: what each bow costs for the notes it joins, shape (B,).
        follows: the same of a bow after another, at each unit by whether they join; (N, 2, 2).
    """

    units: Sequence[Unit]
    first: Ints
    count: Ints
    index: Ints
    slur: Floats
    follows: Floats

    @property
    def bows(self) -> Bows:
        """First and last note of each."""
        first = np.array([u.first for u in self.units], dtype=np.int64)
        return Bows(first, np.array([u.last for u in self.units], dtype=np.int64))

    @property
    def pairs(self) -> tuple[Ints, Ints]:
        """Every two bows of which one can follow the other, as bow numbers."""
        after = [np.zeros(0, dtype=np.int64)]
        before = [np.zeros(0, dtype=np.int64)]
        n, longest = self.index.shape
        for units in range(1, longest + 1):
            ends = np.flatnonzero(self.count == units)
            at = self.first[ends] + units
            ends, at = ends[at < n], at[at < n]
            following = self.index[at]
            row, column = np.nonzero(following >= 0)
            before.append(ends[row])
            after.append(following[row, column])
        return np.concatenate(before), np.concatenate(after)


def segments_of(
    part: Part, choices: Choices, fingered: Sequence[Fingered], units: Units
) -> Segments:
    """The bows of a plan under its way of slurring."""
    n = len(units)
    alone = np.arange(n)
    one = np.ones(n, dtype=np.int64)
    if not slurs_are_free(choices) or n < 2:
        none = np.zeros((n, 2, 2))
        return Segments(units, alone, one, alone[:, None], np.zeros(n), none)
    costs = slur_costs(
        part, [part.notes[u.first] for u in units], choices, fingered,
        choices.player.on(choices.own),
    )  # fmt: skip
    merge = _Merger(part, choices, fingered, units)
    merged = [merge(i, k) for i, k in zip(costs.first.tolist(), costs.units.tolist(), strict=True)]
    fits = np.array([m is not None for m in merged], dtype=bool)
    first = np.concatenate([alone, costs.first[fits]])
    count = np.concatenate([one, costs.units[fits]])
    index = np.full((n, int(count.max())), -1, dtype=np.int64)
    index[first, count - 1] = np.arange(len(first))
    return Segments(
        [*units, *(m for m in merged if m is not None)],
        first,
        count,
        index,
        np.concatenate([np.zeros(n), costs.group[fits]]),
        costs.follows,
    )


class _Merger:
    """Makes units of several; what pins do not change is kept."""

    def __init__(
        self, part: Part, choices: Choices, fingered: Sequence[Fingered], units: Units
    ) -> None:
        self._part, self._choices, self._units = part, choices, units
        self._amounts = amounts_of(part, choices)
        self._rows = note_rows(part, choices, fingered, self._amounts)
        self._kept: dict[tuple[int, int], Unit] = units.base.kept.setdefault("merged", {})
        self._pinned = set(units.touched)
        low, high = school_range(choices)
        slowest_mm_s = choices.player.on(choices.own).slowest_mm_s
        self._longest_s = (high - low) * choices.bow.hair_mm / slowest_mm_s

    def __call__(self, i: int, count: int) -> Unit | None:
        """So many units from i in one bow; None if a pin, or the player's slowest bow, forbids
        it."""
        members = self._units[i : i + count]
        whole = self._unpinned(i, members)
        if whole.moving_s > self._longest_s:
            return None
        if self._pinned.isdisjoint(range(i, i + count)):
            return whole
        for unit in members[1:]:
            pin = unit.pin
            if pin.join or pin.start_cell is not None or pin.length_cells is not None:
                return None
            if pin.amount is not None or pin.place not in (None, members[0].pin.place):
                return None
        pin = members[0].pin
        ways = [u.pin.direction for u in members if u.pin.direction is not None]
        if ways and pin.direction is None:
            pin = replace(pin, direction=ways[0])
        return replace(whole, pin=pin)

    def _unpinned(self, i: int, members: Sequence[Unit]) -> Unit:
        key = members[0].first, members[-1].last
        if key not in self._kept:
            before = self._units[i - 1].last if i else None
            self._kept[key] = unit_of(
                self._part.notes,
                self._choices,
                self._rows,
                self._amounts,
                (i, *key, before),
                self._units.base.fed,
            )
        return self._kept[key]
