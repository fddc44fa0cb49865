"""The costs of every bow, term by term, and the problem they make together.

Each term is a small table of whole millionths; the planner's costs are gathered from these
tables, and so are the terms of a finished plan. That is why they add up exactly.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable, Mapping, Sequence
from copy import copy
from dataclasses import dataclass, replace
from typing import TypeVar

import numpy as np

from plectrum.core.document.choices import Choices, Join
from plectrum.core.planning import rules
from plectrum.core.planning.strokes.amounts import school_range
from plectrum.core.planning.strokes.context import (
    Bows,
    Columns,
    columns_of,
    direction_features,
    rest_before_s,
)
from plectrum.core.planning.strokes.dynamic_program import (
    HOOK,
    RETAKE,
    TURN,
    Ints,
    Problem,
    Step,
)
from plectrum.core.planning.strokes.preferences import (
    Boundary,
    balancing_ups,
    direction_worths,
    join_costs,
)
from plectrum.core.planning.strokes.stroke_tables import (
    Kind,
    evenness_tables,
    kind_of,
    stroke_tables,
    whole,
)
from plectrum.core.planning.strokes.units import Unit, Units
from plectrum.core.player.player import Player
from plectrum.core.score.model import Direction, Part

Made = TypeVar("Made")
_JOIN_CODES = {Join.TURN: TURN, Join.HOOK: HOOK, Join.RETAKE: RETAKE}
DIRECTION_CODES = {Direction.DOWN: 0, Direction.UP: 1}


@dataclass(frozen=True, slots=True)
class Nudges:
    """Costs that come from outside a bow: its equal bars, and the other part.

    Attributes:
        same: first unit of a bar to what its equals do, a byte a unit: three times the
            direction and the join; how the bar is entered is free.
        together: unit to the direction the other part goes in the same rhythm.
    """

    same: Mapping[int, bytes]
    together: Mapping[int, int]


NO_NUDGES = Nudges({}, {})


class CostTables:
    """All terms of a piece's costs, and the `Problem` built from them."""

    def __init__(
        self, part: Part, units: Units, choices: Choices, nudges: Nudges = NO_NUDGES
    ) -> None:
        self.units = units
        self.choices = choices
        self.nudges = nudges
        self.player = choices.player.on(choices.own)
        self._kept = units.base.kept
        self.kind, kinds = _kinds(units)
        self.strokes = stroke_tables(
            kinds,
            choices.bow,
            self.player,
            usable_cells(choices),
            choices.school.direction,
        )
        columns = self._keep("columns", lambda: columns_of(part))
        school = choices.school
        learnt = self.player.can_hook, self.player.can_retake
        self.metre = self._keep(
            ("metre", school.direction), lambda: _metre(columns, units, choices)
        )
        self.join = self._keep(
            ("join", school.direction, school.dotted, learnt),
            lambda: _joins(columns, units, choices, self.player),
        )
        self.marks = _score_marks(units)
        self.together = _together(units, nudges.together)
        self.same_direction, self.same_join = _same(units, nudges.same, choices)
        self.pins_direction, self.pins_join = _pins(units)
        hair_mm = choices.bow.hair_mm
        self.problem = Problem(
            strokes=self.strokes.strokes,
            speed_of=self.strokes.speed_of,
            kind=self.kind[:, None],
            direction=self._directions(),
            join=self._join_table(),
            reach=self._keep(
                ("reach", self.player, hair_mm), lambda: _reach(units, self.player, hair_mm)
            ),
            travel=whole(rules.TRAVEL * np.arange(rules.CELLS_N + 1) / rules.CELLS_N),
            even=self._keep("even", lambda: _even(columns, units)),
            evenness=evenness_tables(),
        )

    def _keep(self, key: Hashable, make: Callable[[], Made]) -> Made:
        """What pins do not change is made once for the units of a part."""
        if key not in self._kept:
            self._kept[key] = make()
        made: Made = self._kept[key]
        return made

    def _directions(self) -> Ints:
        own = self.metre + self.marks + self.pins_direction
        own += self.together + self.same_direction
        return own[:, None, :]

    def _join_table(self) -> Ints:
        own: Ints = self.join + (self.same_join + self.pins_join)[:, None, :]
        return own[:, None, None]

    def nudged(self, nudges: Nudges) -> CostTables:
        """The same costs with other nudges; made once without any, then nudged as needed."""
        other = copy(self)
        other.nudges = nudges
        other.together = _together(self.units, nudges.together)
        other.same_direction, other.same_join = _same(self.units, nudges.same, self.choices)
        other.problem = replace(
            self.problem, direction=other._directions(), join=other._join_table()
        )
        return other

    def terms_of(self, i: int, step: Step, before: Step | None) -> dict[str, int]:
        """The cost of one bow, term by term, in millionths; absent terms are zero."""
        d = step.direction
        terms = self.strokes.terms_of(int(self.kind[i]), step)
        terms["pin"] += int(self.pins_direction[i, d])
        terms["metre"] = int(self.metre[i, d])
        terms["same"] = int(self.same_direction[i, d])
        terms["together"] = int(self.together[i, d])
        terms["score_mark"] = int(self.marks[i, d])
        if before is not None:
            terms["join"] = int(self.join[i, d, step.join])
            terms["same"] += int(self.same_join[i, step.join])
            terms["pin"] += int(self.pins_join[i, step.join])
            terms.update(self._change(i, step, before))
        return {name: cost for name, cost in terms.items() if cost}

    def _change(self, i: int, step: Step, before: Step) -> dict[str, int]:
        """What lies between two bows: the way through the air, or the change of speed."""
        p = self.problem
        if step.join == RETAKE:
            return {"travel": int(p.travel[abs(step.start - before.end)])}
        first = i - before.units_n
        speeds = (
            p.speed(first, before.units_n, before.length),
            p.speed(i, step.units_n, step.length),
        )
        return {"even": int(p.evenness[p.even[i], speeds[0], speeds[1]])}

    def own_constraints(self, i: int) -> Ints:
        """Cost of each direction and join by a unit's own mark and pins, shape (2, 3)."""
        directions = self.marks[i] + self.pins_direction[i]
        own: Ints = directions[:, None] + self.pins_join[i][None, :]
        return own


def usable_cells(choices: Choices) -> tuple[int, int]:
    """The cells a plan may use, from frog side to tip side."""
    usable_from, usable_to = school_range(choices)
    low = int(np.ceil(usable_from * rules.CELLS_N - 1e-6))
    high = int(np.floor(usable_to * rules.CELLS_N + 1e-6))
    return low, max(high, low + 1)


def _kinds(units: Units) -> tuple[Ints, tuple[Kind, ...]]:
    """The kind of every unit, and the kinds there are."""
    kept = units.base.kept
    if "kinds" not in kept:
        numbers: dict[Kind, int] = {}
        found = [numbers.setdefault(kind_of(u), len(numbers)) for u in units.base.units]
        kept["kinds"] = np.array(found, dtype=np.int64), numbers
    kinds, numbers = kept["kinds"]
    if not units.touched:
        return kinds, tuple(numbers)
    kinds, numbers = kinds.copy(), dict(numbers)
    for i in units.touched:
        kinds[i] = numbers.setdefault(kind_of(units[i]), len(numbers))
    return kinds, tuple(numbers)


def _bows(units: Sequence[Unit]) -> Bows:
    first = np.array([u.first for u in units], dtype=np.int64)
    return Bows(first, np.array([u.last for u in units], dtype=np.int64))


def _before(bows: Bows) -> Bows:
    """The bow before each; the first is its own."""
    return Bows(*(np.concatenate([side[:1], side[:-1]]) for side in bows))


def _metre(columns: Columns, units: Units, choices: Choices) -> Ints:
    bows = _bows(units)
    following = np.append(bows.first, -1)[1:]
    features = direction_features(columns, bows, following)
    worth = direction_worths(features, rules.LEARNT, choices.school.direction)
    return whole(worth[:, None] * np.array([[-1.0, 1.0]]))


def _joins(columns: Columns, units: Units, choices: Choices, player: Player) -> Ints:
    bows = _bows(units)
    before = _before(bows)
    pair = np.array([u.short_after_long for u in units], dtype=bool)
    balances = balancing_ups(columns, bows.first, bows.last)
    at = Boundary(columns, before, bows, pair, balances)
    costs = join_costs(at, rules.LEARNT, choices.school, player)
    costs[:1] = 0
    return costs


def _even(columns: Columns, units: Units) -> Ints:
    """Which table of evenness holds before each unit: none after a long rest, half after a short
    one."""
    bows = _bows(units)
    rest_s = rest_before_s(columns, _before(bows), bows)
    return (rest_s < rules.REST_S).astype(np.int64) + (rest_s < rules.EVEN_REST_S)


def _score_marks(units: Units) -> Ints:
    """Cost of going against the score's mark; a pinned direction takes its place."""
    costs = np.zeros((len(units), 2), dtype=np.int64)
    kept = units.base.kept
    if "marked" not in kept:
        kept["marked"] = [u.index for u in units.base.units if u.mark is not None]
    for i in kept["marked"]:
        mark = units[i].mark
        if mark is not None and units[i].pin.direction is None:
            costs[i, DIRECTION_CODES[mark.other]] = rules.millionths(rules.MARK)
    return costs


def _together(units: Sequence[Unit], wanted: Mapping[int, int]) -> Ints:
    costs = np.zeros((len(units), 2), dtype=np.int64)
    for i, direction in wanted.items():
        costs[i, 1 - direction] = rules.millionths(rules.TOGETHER)
    return costs


def _same(
    units: Sequence[Unit], wanted: Mapping[int, bytes], choices: Choices
) -> tuple[Ints, Ints]:
    other = rules.millionths(rules.SAME[choices.school.direction])
    directions = np.zeros((len(units), 2), dtype=np.int64)
    joins = np.zeros((len(units), 3), dtype=np.int64)
    asked = np.array([k for f, p in wanted.items() for k in range(f, f + len(p))], dtype=np.int64)
    codes = np.frombuffer(b"".join(wanted.values()), dtype=np.uint8).astype(np.int64)
    directions[asked, 1 - codes // 3] = other
    joins[asked] = other
    joins[asked, codes % 3] = 0
    joins[list(wanted)] = 0
    return directions, joins


def _pins(units: Units) -> tuple[Ints, Ints]:
    directions = np.zeros((len(units), 2), dtype=np.int64)
    joins = np.zeros((len(units), 3), dtype=np.int64)
    for i in units.touched:
        unit = units[i]
        if unit.pin.direction is not None:
            directions[i, DIRECTION_CODES[unit.pin.direction.other]] = rules.millionths(rules.PIN)
        if unit.pin.join is not None and i:
            joins[i] = rules.millionths(rules.PIN)
            joins[i, _JOIN_CODES[unit.pin.join]] = 0
    return directions, joins


def _reach(units: Sequence[Unit], player: Player, hair_mm: float) -> Ints:
    """How far the bow can be carried before each unit, in cells; −1 where there is no time."""
    free_s = np.array([u.free_s for u in units], dtype=float)
    cells = (free_s - player.lift_s) * player.travel_mm_s / hair_mm * rules.CELLS_N
    return np.where(free_s < player.lift_s, -1, np.floor(cells + 1e-9)).astype(np.int64)
