"""The costs of every bow, term by term, and the problem they make together.

Each term is a small table of whole millionths; the planner's costs are gathered from these
tables, and so are the terms of a finished plan. That is why they add up exactly.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Hashable, Mapping, Sequence
from copy import copy
from dataclasses import replace
from typing import TypeVar

import numpy as np

from plectrum.core.document.choices import NO_PIN, Choices, Pin
from plectrum.core.planning import rules
from plectrum.core.planning.strokes.amounts import school_range
from plectrum.core.planning.strokes.context import columns_of
from plectrum.core.planning.strokes.held_inside import HeldInside
from plectrum.core.planning.strokes.problem import RETAKE, Ints, Problem
from plectrum.core.planning.strokes.segments import Segments
from plectrum.core.planning.strokes.stroke_tables import (
    NOT_HELD,
    Kind,
    StrokeTables,
    evenness_tables,
    held_by,
    kinds_of,
    near_kinds_of,
    numbered,
    stroke_tables,
    whole,
)
from plectrum.core.planning.strokes.terms import (
    NO_NUDGES,
    Asked,
    Nudges,
    evenness_kinds,
    joining_costs,
    mark_costs,
    metre_costs,
    pin_costs,
    reach_cells,
    same_costs,
    slur_pin_costs,
)
from plectrum.core.planning.strokes.units import Unit, Units
from plectrum.core.score.model import Part

Made = TypeVar("Made")


class CostTables:
    """All terms of a piece's costs, and the `Problem` built from them."""

    def __init__(
        self,
        part: Part,
        units: Units,
        choices: Choices,
        segments: Segments,
        nudges: Nudges = NO_NUDGES,
        usual: bool = False,
    ) -> None:
        """Make the tables.

        Args:
            usual: as if every note lay on the usual, highest string.
        """
        self._part = part
        self.units = units
        self.segments = segments
        self.choices = choices
        self.nudges = nudges
        self.player = choices.player.on(choices.own)
        self._kept = units.base.kept
        self._free = segments.index.shape[1] > 1
        self._within = HeldInside(part, choices)
        self.kind, self.strokes = self._stroke_tables(usual)
        columns = columns_of(part)
        school = choices.school
        learnt = self.player.can_hook, self.player.can_retake
        self.metre = self._keep_written(
            ("metre", school.direction, choices.bowing),
            lambda: metre_costs(columns, segments, choices),
        )
        self.join = self._keep_written(
            ("join", school.direction, school.dotted, choices.bowing, learnt),
            lambda: joining_costs(part, columns, segments, choices, self.player),
        )
        self.slur = self._keep_written("slur", lambda: whole(segments.slur))
        self.follows = self._keep_written("follows", lambda: whole(segments.follows))
        self.marks = mark_costs(units)
        self.asked = nudges.asked or Asked.ways(len(units), {})
        self.same_direction, self.same_join = same_costs(units, nudges, choices)
        self.pins_direction, self.pins_join = pin_costs(units)
        self.pins_slur = slur_pin_costs(part, units, choices) if self._free else None
        hair_mm = choices.bow.hair_mm
        self.problem = Problem(
            strokes=self.strokes.strokes,
            speed_of=self.strokes.speed_of,
            kind=self._kind_of_bows(),
            direction=self._directions(),
            join=self._join_table(),
            reach=self._keep(
                ("reach", self.player, hair_mm), lambda: reach_cells(units, self.player, hair_mm)
            ),
            travel=self._keep(
                "travel",
                lambda: whole(rules.TRAVEL * np.arange(rules.CELLS_N + 1) / rules.CELLS_N),
            ),
            before=units.base.before,
            even=self._keep("even", lambda: evenness_kinds(columns, units)),
            evenness=evenness_tables(),
        )

    def _keep(self, key: Hashable, make: Callable[[], Made]) -> Made:
        """What pins do not change is made once for the units of a part."""
        if key not in self._kept:
            self._kept[key] = make()
        made: Made = self._kept[key]
        return made

    def _keep_written(self, key: Hashable, make: Callable[[], Made]) -> Made:
        """The same for what depends on the slurs, which are then as they are printed."""
        return make() if self._free else self._keep(key, make)

    def _directions(self) -> Ints:
        """Costs of directions, shape (N, L, 2): of a bow as such, and of all units in it."""
        own = self.marks + self.pins_direction + self.asked.direction + self.same_direction
        if not self._free:
            return (self.metre + own)[:, None, :]
        sums = np.concatenate([np.zeros((1, 2), dtype=np.int64), np.cumsum(own, axis=0)])
        first, count = self.segments.first, self.segments.count
        costs = np.zeros((*self.segments.index.shape, 2), dtype=np.int64)
        costs[first, count - 1] = (
            self.metre + self.slur[:, None] + sums[first + count] - sums[first]
        )
        return costs

    def _join_table(self) -> Ints:
        """Costs of joins, shape (N, L, L, 2, 3)."""
        own = (self.same_join + self.pins_join + self.asked.join)[:, None, :]
        if not self._free:
            one: Ints = self.join + own
            return one[:, None, None]
        n, longest = self.segments.index.shape
        before, after = self.segments.pairs
        first, count = self.segments.first, self.segments.count
        at, was, now = first[after], count[before] - 1, count[after] - 1
        costs = np.zeros((n, longest, longest, 2, 3), dtype=np.int64)
        joined = self.follows[at, (was > 0).astype(int), (now > 0).astype(int)]
        costs[at, was, now] = self.join + own[at] + joined[:, None, None]
        if self.pins_slur is not None:
            costs += self.pins_slur[:, None, None, None, None]
        return costs

    def on_own_strings(self) -> CostTables:
        """The same costs with the bow wished for that the strings ask."""
        other = copy(self)
        other._wish()
        return other

    def with_units(self, units: Units, segments: Segments) -> CostTables:
        """The same costs of the same notes that wish for other lengths."""
        other = copy(self)
        other.units, other.segments = units, segments
        other._wish()
        return other

    def _wish(self) -> None:
        self.kind, self.strokes = self._stroke_tables(usual=False)
        self.problem = replace(
            self.problem,
            strokes=self.strokes.strokes,
            speed_of=self.strokes.speed_of,
            kind=self._kind_of_bows(),
        )

    def _kind_of_bows(self) -> Ints:
        """The kind of the bow over each number of units from each, shape (N, L)."""
        if not self._free:
            return self.kind[:, None]
        index = self.segments.index
        return np.where(index >= 0, self.kind[index], -1)

    def _stroke_tables(self, usual: bool) -> tuple[Ints, StrokeTables]:
        """The kind of every bow, and what the kinds cost."""
        choices = self.choices
        if self._free:
            kind, kinds = near_kinds_of(self.segments.columns, usual)
            pins: Mapping[int, Pin] = self.segments.pins
        else:
            kind, kinds = _unit_kinds(self.units, usual)
            pins = {i: self.units[i].pin for i in self.units.touched}
        tables = stroke_tables(
            kinds, choices.bow, self.player, usable_cells(choices), choices.school.direction
        )
        usable = school_range(choices)
        held = {i: held_by(pin, choices.bow, usable) for i, pin in pins.items() if pin.says_where}
        columns = self.segments.columns if self._free else self.units.base.columns
        for i in held:
            head = self._part.notes[columns.first[i]]
            said = replace(pins[i], direction=None, join=None)
            if head.stroke_q is None and said == Pin(place=head.written_part):
                held[i] = held[i]._replace(written=True)
        for i in self._within.bows(columns.first, columns.last):
            pin = pins.get(i, NO_PIN)
            held[i] = self._within.held(columns, i, pin, held.get(i, NOT_HELD))
        return tables.holding(kind, held)

    def nudged(self, nudges: Nudges) -> CostTables:
        """The same costs with other nudges; made once without any, then nudged as needed."""
        other = copy(self)
        other.nudges = nudges
        if nudges.asked is not self.nudges.asked:
            other.asked = nudges.asked or Asked.ways(len(self.units), {})
        other.same_direction, other.same_join = same_costs(self.units, nudges, self.choices)
        other.problem = replace(
            self.problem, direction=other._directions(), join=other._join_table()
        )
        return other

    def goes_as_asked(self, rows: Ints) -> bool:
        """Whether bows (see `problem`) cost nothing for equal bars."""
        first, units_n, direction, join = rows[rows[:, 0] >= 0].T[:4]
        ways = np.repeat(direction, units_n)
        against = self.same_direction[np.arange(len(ways)), ways].any()
        return not against and not self.same_join[first[1:], join[1:]].any()

    def firm(self) -> CostTables:
        """The same costs with all that no other part may outweigh put out of its reach: the
        teacher's pins, then limits and what is not learnt, then the score's marks."""
        other = copy(self)
        other.strokes = self.strokes.firm()
        guard = rules.millionths(rules.GUARD)
        not_learnt = self.join >= rules.millionths(rules.NOT_LEARNT) // 2
        other.join = self.join + guard * not_learnt
        other.marks = rules.FIRM * self.marks
        other.pins_direction = rules.FIRM * self.pins_direction
        other.pins_join = rules.FIRM * self.pins_join
        if self.pins_slur is not None:
            other.pins_slur = rules.FIRM * self.pins_slur
        other.problem = replace(
            self.problem,
            strokes=other.strokes.strokes,
            direction=other._directions(),
            join=other._join_table(),
        )
        return other

    def asking(self, asked: Asked) -> CostTables:
        """The same costs with what other parts ask, in place of what they asked before."""
        other = copy(self)
        other.asked = asked
        if self.strokes.asked is None and asked.place is not None and not self._free:
            other.kind, other.strokes = self.strokes.asking(self.kind, asked.place)
        other.problem = replace(
            self.problem,
            strokes=other.strokes.strokes,
            speed_of=other.strokes.speed_of,
            kind=other._kind_of_bows(),
            direction=other._directions(),
            join=other._join_table(),
        )
        return other

    def amount_of(self, rows: Ints) -> int:
        """What bows (see `problem`) cost for other lengths than wished, in millionths."""
        bows = self.segments.index[rows[:, 0], rows[:, 1] - 1]
        lengths = np.abs(rows[:, 5] - rows[:, 4])
        return int(self.strokes.amount[self.kind[bows], lengths].sum())

    def terms_of(self, rows: Ints, came: Ints) -> dict[str, int]:
        """What bows (see `problem`) cost, term by term, in millionths; absent terms are zero.

        Args:
            came: the bow before each; a row of −1 costs nothing to come from.
        """
        first, units_n, d, *_ = rows.T
        bow = self.segments.index[first, units_n - 1]
        terms = self.strokes.terms_of(self.kind[bow], rows)
        for name, costs in (
            ("pin", self.pins_direction),
            ("same", self.same_direction),
            ("together", self.asked.direction),
            ("score_mark", self.marks),
        ):
            if costs.any():
                before = np.vstack([0 * costs[:1], np.cumsum(costs, axis=0)])
                more = before[first + units_n, d] - before[first, d]
                terms[name] = terms.get(name, 0) + int(more.sum())
        terms["metre"] = int(self.metre[bow, d].sum())
        terms["slur"] = int(self.slur[bow].sum())
        for name, cost in self._joining(rows[came[:, 0] >= 0], came[came[:, 0] >= 0]).items():
            terms[name] = terms.get(name, 0) + cost
        return {name: cost for name, cost in terms.items() if cost}

    def _joining(self, rows: Ints, came: Ints) -> dict[str, int]:
        """What it costs to follow one bow with another, by term: the join, and what lies between
        them, which is the way through the air, or the change of speed."""
        p = self.problem
        (i, units_n, d, join, start, end), (before, was_n, _, _, was_start, was_end) = (
            rows.T,
            came.T,
        )
        follows = self.follows[i, (was_n > 1).astype(int), (units_n > 1).astype(int)].sum()
        outside = {
            "same": int(self.same_join[i, join].sum()),
            "pin": int(self.pins_join[i, join].sum()),
            "together": int(self.asked.join[i, join].sum()),
            "slur": int(follows),
        }
        if self.pins_slur is not None:
            outside["pin"] += int(self.pins_slur[i].sum())
        lifted = join == RETAKE
        was = p.speed_of[p.kind[before, was_n - 1], np.abs(was_end - was_start)]
        now = p.speed_of[p.kind[i, units_n - 1], np.abs(end - start)]
        return {
            **outside,
            "join": int(p.join[i, was_n - 1, units_n - 1, d, join].sum()) - sum(outside.values()),
            "travel": int(p.travel[np.abs(start - was_end)][lifted].sum()),
            "even": int(p.evenness[p.even[i], was, now][~lifted].sum()),
        }

    def units_of(self, rows: Ints) -> Sequence[Unit]:
        """What is played in one bow under some bows (see `problem`), numbered anew."""
        if not self._free:
            return self.units
        return self.segments.chosen(self.segments.index[rows[:, 0], rows[:, 1] - 1])

    def own_constraints(self, i: int) -> Ints:
        """Cost of each direction and join by a unit's own mark and pins, shape (2, 3)."""
        directions = self.marks[i] + self.pins_direction[i]
        own: Ints = directions[:, None] + self.pins_join[i][None, :]
        return own


def usable_cells(choices: Choices) -> tuple[int, int]:
    """The cells a plan may use, from frog side to tip side."""
    usable_from, usable_to = school_range(choices)
    low = math.ceil(usable_from * rules.CELLS_N - 1e-6)
    high = math.floor(usable_to * rules.CELLS_N + 1e-6)
    return low, max(high, low + 1)


def _unit_kinds(units: Units, usual: bool) -> tuple[Ints, tuple[Kind, ...]]:
    """The kind of every unit, and the kinds there are; kept."""
    base = units.base
    kept = base.kept.setdefault("kinds", {})
    if usual not in kept:
        if "crossings" not in base.kept:  # no wish changes these
            base.kept["crossings"] = numbered(u.crossings for u in base.units)
        kept[usual] = kinds_of(base.columns, base.kept["crossings"], usual)
    found: tuple[Ints, tuple[Kind, ...]] = kept[usual]
    return found
