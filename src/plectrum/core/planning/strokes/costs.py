"""The costs of every unit, term by term, and the problem they make together.

Each term is a small table of whole millionths; the planner's stroke costs are gathered from
these tables, and so are the terms of a finished plan. That is why they add up exactly.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable, Mapping, Sequence
from copy import copy
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from plectrum.core.document.choices import Choices, Join
from plectrum.core.instrument.bow import Bow
from plectrum.core.planning import rules as w
from plectrum.core.planning.strokes.amounts import school_range
from plectrum.core.planning.strokes.dynamic_program import (
    HOOK,
    POSITIONS_N,
    RETAKE,
    TURN,
    Ints,
    Problem,
    Step,
)
from plectrum.core.planning.strokes.units import Unit, Units
from plectrum.core.player.player import Player
from plectrum.core.player.school import DottedSchool
from plectrum.core.score.model import Direction

_CELLS = np.arange(POSITIONS_N)
_LENGTH = np.abs(_CELLS[:, None] - _CELLS[None, :])
_SUM = _CELLS[:, None] + _CELLS[None, :]
_SIGNED = _CELLS[None, :] - _CELLS[:, None]
_JOIN_CODES = {Join.TURN: TURN, Join.HOOK: HOOK, Join.RETAKE: RETAKE}
DIRECTION_CODES = {Direction.DOWN: 0, Direction.UP: 1}


def _whole(costs: NDArray[np.float64]) -> Ints:
    return np.rint(costs * w.MILLIONTHS).astype(np.int64)


@dataclass(frozen=True, slots=True)
class Seam:
    """A repeated section goes from unit `first` to unit `last` and on to its start: the
    direction and cell that start is aimed at."""

    first: int
    last: int
    direction: int
    start: int


@dataclass(frozen=True, slots=True)
class Nudges:
    """Costs that come from outside a unit: its equal bars, repeats, and the other part.

    Attributes:
        same: first unit of a bar to what its equals do, a byte a unit: three times the
            direction and the join; how the bar is entered is free.
        seams: the repeated sections.
        together: unit to the direction the other part goes in the same rhythm.
    """

    same: Mapping[int, bytes]
    seams: tuple[Seam, ...]
    together: Mapping[int, int]


NO_NUDGES = Nudges({}, (), {})


@dataclass(frozen=True, slots=True)
class _Kind:
    """What two units must share to have the same stroke costs."""

    ideal_length: float
    ideal_place: float
    moving_s: float
    crossings: tuple[tuple[float, float], ...]
    start_cell: int | None
    length_cells: int | None


def _kind_of(unit: Unit) -> _Kind:
    return _Kind(
        round(unit.ideal_length, 4),
        round(unit.ideal_place, 3),
        round(unit.moving_s, 4),
        unit.crossings,
        unit.pin.start_cell,
        unit.pin.length_cells,
    )


@dataclass(frozen=True, slots=True)
class _StrokeTables:
    """Costs of the strokes of each kind, term by term and in all; nothing is written into them."""

    amount: Ints
    place: Ints
    speed: Ints
    tape: Ints
    crossing: Ints
    placed: Ints
    strokes: Ints


@lru_cache(maxsize=4)
def _stroke_tables(
    kinds: tuple[_Kind, ...], bow: Bow, player: Player, usable: tuple[int, int]
) -> _StrokeTables:
    """Kept, because most edits change the way of a stroke and not what it wishes for."""
    amount, place = _whole(_amount(kinds)), _whole(_place(kinds))
    speed = _whole(_speed(kinds, player, bow.hair_mm))
    tape, crossing = _whole(_tape(bow, player.mark_weight)), _whole(_crossing(kinds))
    placed = _placed_pins(kinds)
    base = amount[:, _LENGTH] + speed[:, _LENGTH] + place[:, _SUM]
    base += tape + placed + crossing
    low, high = usable
    inside = (low <= _CELLS) & (high >= _CELLS)
    both = inside[:, None] & inside[None, :]
    grows = _CELLS[None, :] > _CELLS[:, None]
    strokes = np.empty((len(kinds), 2, POSITIONS_N, POSITIONS_N), dtype=np.int64)
    strokes[:, 0] = np.where(both & grows, base, w.IMPOSSIBLE)
    strokes[:, 1] = np.where(both & grows.T, base, w.IMPOSSIBLE)
    for table in (amount, place, speed, tape, crossing, placed):
        table.setflags(write=False)
    return _StrokeTables(amount, place, speed, tape, crossing, placed, strokes)


def _kept(units: Sequence[Unit], key: Hashable, make: Callable[[Sequence[Unit]], Ints]) -> Ints:
    """A table that pins do not change: made once for the units of a part."""
    if not isinstance(units, Units):
        return make(units)
    kept = units.base.kept
    if key not in kept:
        kept[key] = make(units.base.units)
        kept[key].setflags(write=False)
    found: Ints = kept[key]
    return found


def _some(units: Sequence[Unit], name: str, wanted: Callable[[Unit], bool]) -> Sequence[Unit]:
    """The units of a kind that pins do not change; looked for once for the units of a part."""
    if not isinstance(units, Units):
        return [u for u in units if wanted(u)]
    kept = units.base.kept
    if name not in kept:
        kept[name] = [u for u in units.base.units if wanted(u)]
    found: Sequence[Unit] = kept[name]
    return found


def _kinds(units: Sequence[Unit]) -> tuple[Ints, tuple[_Kind, ...]]:
    """The kind of every unit, and the kinds there are."""
    if not isinstance(units, Units):
        return _numbered(units)
    kept = units.base.kept
    if "kinds" not in kept:
        kept["kinds"] = _numbered(units.base.units)
    kind, kinds = kept["kinds"]
    placed = [i for i in units.touched if units[i].pin.start_cell or units[i].pin.length_cells
              or units[i].pin.start_cell == 0]  # fmt: skip
    if placed:
        kind = kind.copy()
        known = {k: number for number, k in enumerate(kinds)}
        for i in placed:
            kind[i] = known.setdefault(_kind_of(units[i]), len(known))
        kinds = tuple(known)
    return kind, kinds


def _numbered(units: Sequence[Unit]) -> tuple[Ints, tuple[_Kind, ...]]:
    kinds: dict[_Kind, int] = {}
    numbers = [kinds.setdefault(_kind_of(u), len(kinds)) for u in units]
    return np.array(numbers, dtype=np.int64), tuple(kinds)


class CostTables:
    """All terms of a piece's costs, and the `Problem` built from them."""

    def __init__(self, units: Sequence[Unit], choices: Choices, nudges: Nudges = NO_NUDGES) -> None:
        self.units = units
        self.choices = choices
        self.nudges = nudges
        self.player = choices.player.on(choices.own)
        self.kind, shared = _kinds(units)
        tables = _stroke_tables(shared, choices.bow, self.player, usable_cells(choices))
        self.amount, self.place, self.speed = tables.amount, tables.place, tables.speed
        self.tape, self.crossing, self.placed = tables.tape, tables.crossing, tables.placed
        self.hook = w.millionths(w.HOOK if self.player.can_hook else w.NOT_LEARNT)
        self.metre = _kept(units, ("metre", choices.school.direction), lambda u: _metre(u, choices))
        dotted = choices.school.dotted
        learnt = self.player.can_hook, self.player.can_retake
        self.join = _kept(units, ("join", dotted, learnt), lambda u: _joins(u, self.player, dotted))
        self.marks = _score_marks(units)
        self.together = _together(units, nudges.together)
        self.same_direction, self.same_join = _same(units, nudges.same, choices)
        self.pins_direction, self.pins_join = _pins(units)
        self.kinds_n = len(shared)
        self.seam_start: dict[int, Ints] = {}
        self.seam_end: dict[int, Ints] = {}
        self.problem = Problem(
            strokes=tables.strokes,
            kind=self.kind,
            direction=self._directions(),
            join=self.join + self.same_join + self.pins_join,
            reach=_kept(
                units,
                ("reach", self.player, choices.bow.hair_mm),
                lambda u: _reach(u, self.player, choices.bow.hair_mm),
            ),
            travel=_whole(w.TRAVEL * _LENGTH / w.CELLS_N),
        )

    def _directions(self) -> Ints:
        own = self.metre + self.marks + self.pins_direction
        return own + self.together + self.same_direction

    def nudged(self, nudges: Nudges) -> CostTables:
        """The same costs with other nudges; made once without any, then nudged as needed."""
        other = copy(self)
        other.nudges = Nudges(nudges.same, (), nudges.together)
        other.together = _together(self.units, nudges.together)
        other.same_direction, other.same_join = _same(self.units, nudges.same, self.choices)
        other.problem = replace(
            self.problem,
            strokes=self.problem.strokes[: self.kinds_n],
            kind=self.kind,
            direction=other._directions(),
            join=other.join + other.same_join + other.pins_join,
        )
        return other.with_seams(nudges.seams)

    def with_seams(self, seams: tuple[Seam, ...]) -> CostTables:
        """The same costs with these seams and no others: first and last units of repeated
        sections get stroke costs of their own."""
        other = copy(self)
        other.nudges = replace(self.nudges, seams=seams)
        other.seam_start, other.seam_end = {}, {}
        for seam in seams:
            started, ended = missed(seam, self.hook)
            other.seam_start[seam.first] = started
            other.seam_end[seam.last] = ended
        touched = sorted({*other.seam_start, *other.seam_end})
        kind = self.kind.copy()
        rows = []
        for k, i in enumerate(touched):
            own = self.problem.strokes[self.kind[i]].copy()
            if i in other.seam_start:
                own += other.seam_start[i][:, :, None]
            if i in other.seam_end:
                own += other.seam_end[i][:, None, :]
            rows.append(own)
            kind[i] = self.kinds_n + k
        base = self.problem.strokes[: self.kinds_n]
        strokes = np.concatenate([base, np.stack(rows)]) if rows else base
        other.problem = replace(self.problem, strokes=strokes, kind=kind)
        return other

    def terms_of(self, i: int, step: Step, before: Step | None) -> dict[str, int]:
        """The cost of one step, term by term, in millionths; absent terms are zero."""
        k = int(self.kind[i])
        length = abs(step.end - step.start)
        pin = int(self.placed[k, step.start, step.end])
        pin += int(self.pins_direction[i, step.direction])
        terms = {
            "amount": int(self.amount[k, length]),
            "place": int(self.place[k, step.start + step.end]),
            "speed": int(self.speed[k, length]),
            "tape": int(self.tape[step.start, step.end]),
            "crossing": int(self.crossing[k, step.start, step.end]),
            "metre": int(self.metre[i, step.direction]),
            "same": int(self.same_direction[i, step.direction]),
            "seam": self._seam_cost(i, step),
            "together": int(self.together[i, step.direction]),
            "score_mark": int(self.marks[i, step.direction]),
        }
        if before is not None:
            terms["join"] = int(self.join[i, step.join])
            terms["same"] += int(self.same_join[i, step.join])
            pin += int(self.pins_join[i, step.join])
            if step.join == RETAKE:
                terms["travel"] = int(self.problem.travel[before.end, step.start])
        terms["pin"] = pin
        return {name: cost for name, cost in terms.items() if cost}

    def _seam_cost(self, i: int, step: Step) -> int:
        cost = 0
        if i in self.seam_start:
            cost += int(self.seam_start[i][step.direction, step.start])
        if i in self.seam_end:
            cost += int(self.seam_end[i][step.direction, step.end])
        return cost

    def own_constraints(self, i: int) -> Ints:
        """Cost of each direction and join by a unit's own mark and pins, shape (2, 3)."""
        directions = self.marks[i] + self.pins_direction[i]
        own: Ints = directions[:, None] + self.pins_join[i][None, :]
        return own


def usable_cells(choices: Choices) -> tuple[int, int]:
    """The cells a plan may use, from frog side to tip side."""
    usable_from, usable_to = school_range(choices)
    low = int(np.ceil(usable_from * w.CELLS_N - 1e-6))
    high = int(np.floor(usable_to * w.CELLS_N + 1e-6))
    return low, max(high, low + 1)


def _lengths(kinds: Sequence[_Kind], name: str) -> NDArray[np.float64]:
    return np.array([getattr(k, name) for k in kinds], dtype=float).reshape(-1, 1)


def _amount(kinds: Sequence[_Kind]) -> NDArray[np.float64]:
    length = np.maximum(_CELLS, 1) / w.CELLS_N
    ideal = np.maximum(_lengths(kinds, "ideal_length"), 0.25 / w.CELLS_N)
    ratio = np.log(length[None, :] / ideal)
    costs: NDArray[np.float64] = np.where(ratio < 0, w.AMOUNT_LESS, w.AMOUNT_MORE) * ratio**2
    return costs


def _place(kinds: Sequence[_Kind]) -> NDArray[np.float64]:
    middle = np.arange(2 * POSITIONS_N - 1) / (2 * w.CELLS_N)
    return w.PLACE * (middle[None, :] - _lengths(kinds, "ideal_place")) ** 2


def _speed(kinds: Sequence[_Kind], player: Player, hair_mm: float) -> NDArray[np.float64]:
    length_mm = np.maximum(_CELLS, 1) / w.CELLS_N * hair_mm
    speed = length_mm[None, :] / np.maximum(_lengths(kinds, "moving_s"), 1e-3)
    fast = np.maximum(np.log(speed / player.fastest_mm_s), 0.0)
    slow = np.maximum(np.log(player.slowest_mm_s / speed), 0.0)
    costs: NDArray[np.float64] = w.TOO_FAST * fast**2 + w.TOO_SLOW * slow**2
    return costs


def _tape(bow: Bow, cost: float) -> NDArray[np.float64]:
    """Distance of both ends to the nearest tape mark; frog and tip count as marks."""
    places = np.array([0.0, 1.0, *(mark.at for mark in bow.marks)])
    distance = np.abs(_CELLS[:, None] / w.CELLS_N - places[None, :]).min(axis=1)
    both: NDArray[np.float64] = distance[:, None] + distance[None, :]
    return cost * both


def _crossing(kinds: Sequence[_Kind]) -> NDArray[np.float64]:
    """Crossings want the middle of the bow, where the arm's way is short and balanced."""
    costs = np.zeros((len(kinds), POSITIONS_N, POSITIONS_N))
    for k, kind in enumerate(kinds):
        for share, trouble in kind.crossings:
            place = (_CELLS[:, None] + share * _SIGNED) / w.CELLS_N
            costs[k] += w.CROSSING * trouble * (place - 0.5) ** 2
    return costs


def _placed_pins(kinds: Sequence[_Kind]) -> Ints:
    """Cost of leaving a pinned start or length, growing with the distance."""
    costs = np.zeros((len(kinds), POSITIONS_N, POSITIONS_N), dtype=np.int64)
    for k, kind in enumerate(kinds):
        if kind.start_cell is not None:
            costs[k] += w.millionths(w.PIN) * np.abs(_CELLS - kind.start_cell)[:, None]
        if kind.length_cells is not None:
            costs[k] += w.millionths(w.PIN) * np.abs(_LENGTH - kind.length_cells)
    return costs


def missed(seam: Seam, hook: int) -> tuple[Ints, Ints]:
    """Cost of starting a section, and of ending it, at each (direction, cell): of being away from
    where a turn goes on to the seam's start."""
    away = _whole(w.SEAM_MOVE * np.abs(_CELLS - seam.start) / w.CELLS_N)
    started, ended = np.stack([away, away]), np.stack([away, away])
    started[1 - seam.direction] += hook
    ended[seam.direction] += hook
    return started, ended


def _metre(units: Sequence[Unit], choices: Choices) -> Ints:
    cost = w.METRE[choices.school.direction]
    strength = np.array([u.metric_weight for u in units], dtype=float).reshape(-1, 1)
    strength = np.where(strength > 0, strength, w.WEAK_BEAT * strength)
    return _whole(cost * strength * np.array([[-1.0, 1.0]]))


def _joins(units: Sequence[Unit], player: Player, dotted: DottedSchool) -> Ints:
    pair_hook = w.HOOK_SHORT if dotted is DottedSchool.HOOK else w.HOOK_AGAINST_SCHOOL
    pair_lift = w.RETAKE_PAIR if dotted is DottedSchool.LIFT else w.RETAKE
    pair = np.array([u.short_after_long for u in units], dtype=bool)
    costs = np.zeros((len(units), 3), dtype=np.int64)
    costs[:, HOOK] = np.where(pair, w.millionths(pair_hook), w.millionths(w.HOOK))
    costs[:, RETAKE] = np.where(pair, w.millionths(pair_lift), w.millionths(w.RETAKE))
    if not player.can_hook:
        costs[:, HOOK] = w.millionths(w.NOT_LEARNT)
    if not player.can_retake:
        costs[:, RETAKE] = w.millionths(w.NOT_LEARNT)
    return costs


def _score_marks(units: Sequence[Unit]) -> Ints:
    """Cost of going against the score's mark; a pinned direction takes its place."""
    costs = np.zeros((len(units), 2), dtype=np.int64)
    for unit in _some(units, "marked", lambda u: u.mark is not None):
        now = units[unit.index]
        if now.mark is not None and now.pin.direction is None:
            costs[unit.index, DIRECTION_CODES[now.mark.other]] = w.millionths(w.MARK)
    return costs


def _together(units: Sequence[Unit], wanted: Mapping[int, int]) -> Ints:
    costs = np.zeros((len(units), 2), dtype=np.int64)
    for i, direction in wanted.items():
        costs[i, 1 - direction] = w.millionths(w.TOGETHER)
    return costs


def _same(
    units: Sequence[Unit], wanted: Mapping[int, bytes], choices: Choices
) -> tuple[Ints, Ints]:
    other = w.millionths(w.SAME[choices.school.direction])
    directions = np.zeros((len(units), 2), dtype=np.int64)
    joins = np.zeros((len(units), 3), dtype=np.int64)
    asked = np.array([k for f, p in wanted.items() for k in range(f, f + len(p))], dtype=np.int64)
    codes = np.frombuffer(b"".join(wanted.values()), dtype=np.uint8).astype(np.int64)
    directions[asked, 1 - codes // 3] = other
    joins[asked] = other
    joins[asked, codes % 3] = 0
    joins[list(wanted)] = 0
    return directions, joins


def _pins(units: Sequence[Unit]) -> tuple[Ints, Ints]:
    directions = np.zeros((len(units), 2), dtype=np.int64)
    joins = np.zeros((len(units), 3), dtype=np.int64)
    touched = units.touched if isinstance(units, Units) else range(len(units))
    for i in touched:
        unit = units[i]
        if unit.pin.direction is not None:
            directions[i, DIRECTION_CODES[unit.pin.direction.other]] = w.millionths(w.PIN)
        if unit.pin.join is not None and i:
            joins[i] = w.millionths(w.PIN)
            joins[i, _JOIN_CODES[unit.pin.join]] = 0
    return directions, joins


def _reach(units: Sequence[Unit], player: Player, hair_mm: float) -> Ints:
    """How far the bow can be carried before each unit, in cells; −1 where there is no time."""
    free_s = np.array([u.free_s for u in units], dtype=float)
    cells = (free_s - player.lift_s) * player.travel_mm_s / hair_mm * w.CELLS_N
    return np.where(free_s < player.lift_s, -1, np.floor(cells + 1e-9)).astype(np.int64)
