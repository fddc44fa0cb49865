"""The exact dynamic program over bows: direction × place on the bow × join × speed × slur.

Question it answers: which units share a bow, which way each bow goes, how it joins the one
before and between which two places it runs, so that the sum of all costs is least.

Conventions: N units in order; a bow takes 1 … L of them (L is 1 where the slurs are as printed).
Positions are cells 0 … K (K = 48) from the frog; directions are 0 down, 1 up; joins are 0 turn,
1 hook, 2 retake. A stroke's speed class says how much longer or shorter it is than its notes
wish; from one bow to the next its change costs evenness, unless the bow is lifted between.
Costs are int64 millionths, so sums are exact. Tables from both ends together give the exact
extra cost of every choice of every unit. Work is O(N·L·(K² + S²K + LSK)) for S speed classes.
Ties: turn before hook before retake, down before up, lower position first, shorter slur first.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import chain
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from plectrum.core.planning.rules import CELLS_N, IMPOSSIBLE
from plectrum.core.planning.strokes import kernels
from plectrum.core.planning.strokes.cost_arrays import Costs
from plectrum.core.planning.strokes.stroke_costs import StrokeCosts

Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]
TURN, HOOK, RETAKE = 0, 1, 2
_FEW, _MANY = 0.25, 0.75  # of the rows of a table
DOWN, UP = 0, 1
POSITIONS_N = CELLS_N + 1


@dataclass(frozen=True, slots=True)
class Problem:
    """All costs of a piece, in millionths, for N units and U kinds of bows.

    Attributes:
        strokes: cost of each kind by direction, length and the end that lies nearer the frog;
            `IMPOSSIBLE` or more if barred.
        speed_of: shape (U, K+1), the speed class of each length, 0 … S − 1.
        kind: shape (N, L), which kind a bow over 1 … L units from unit i is; −1 if barred.
        direction: shape (N, L, 2), cost of each direction (metre, marks, pins).
        join: shape (N, L, L, 2, 3), cost at unit i after a bow of l′ units, for one of l units
            in each direction by each join; the first unit's rows are not used.
        reach: shape (N,), cells the bow can be carried before the unit; −1 for no lift.
        travel: shape (K+1,), cost of carrying the bow so far.
        even: shape (N,), which table of evenness holds before the unit.
        evenness: shape (G, S, S), cost of going from one speed class to another.
    """

    strokes: StrokeCosts
    speed_of: Ints
    kind: Ints
    direction: Ints
    join: Ints
    reach: Ints
    travel: Ints
    even: Ints
    evenness: Ints

    @property
    def costs(self) -> Costs:
        """The arrays, as the inner loops take them."""
        s = self.strokes
        return Costs(
            s.by_length, s.by_place, s.ends, s.extra, s.extra_of, self.speed_of, self.kind,
            self.direction, self.join, self.reach, self.travel, self.even, self.evenness,
        )  # fmt: skip

    @property
    def units_n(self) -> int:
        return len(self.kind)

    @property
    def longest_n(self) -> int:
        return int(self.kind.shape[1])

    def speed(self, first: int, units_n: int, length: int) -> int:
        """The speed class of a bow."""
        return int(self.speed_of[self.kind[first, units_n - 1], length])

    def fits(self, other: Problem) -> bool:
        """Whether another problem has the same units, as far as the bows go that they allow."""
        return self.kind.shape == other.kind.shape

    def differs(self, other: Problem) -> NDArray[np.bool_]:
        """The units of which anything differs from another problem of the same units."""
        differs = self._kinds_differ(other)
        for name in ("reach", "even", "direction", "join"):
            own, others = getattr(self, name), getattr(other, name)
            if own is not others:
                differs |= (own != others).reshape(len(differs), -1).any(axis=1)
        return differs

    def _kinds_differ(self, other: Problem) -> NDArray[np.bool_]:
        differs: NDArray[np.bool_] = (self.kind != other.kind).any(axis=1)
        if self.strokes is not other.strokes:
            differ = self.strokes.differ(other.strokes)
            shared = len(differ)
            alike = np.zeros(max(self.strokes.kinds_n, other.strokes.kinds_n) + 1, dtype=bool)
            alike[:shared] = ~differ
            alike[:shared] &= (self.speed_of[:shared] == other.speed_of[:shared]).all(axis=1)
            alike[-1] = True  # a barred bow
            differs |= ~alike[self.kind].all(axis=1)
        return differs


class Step(NamedTuple):
    """What one bow does: direction, join, the cells it runs between, the units it takes."""

    direction: int
    join: int
    start: int
    end: int
    units_n: int = 1

    @property
    def length(self) -> int:
        return abs(self.end - self.start)


class Onward(NamedTuple):
    """The table of the way back: best cost of a bow of so many units from each unit and all after
    it, by its speed class, direction and start; shape (N, L, S, 2, K+1).

    Two problems that are nearly alike share nearly all of it: a unit's costs are a row of `base`
    or, for negative numbers, of `own`, counted from −1 down, and as much more as `shift` says. For
    some bows after a change all costs are others by one and the same amount.
    """

    base: Ints
    own: Ints
    where: Ints
    shift: Ints

    def on_base(self) -> Onward:
        """The same with all rows in a base of its own."""
        base = np.empty((len(self.where), *self.own.shape[1:]), dtype=np.int64)
        shared = self.where >= 0
        base[shared] = self.base[self.where[shared]]
        base[~shared] = self.own[-1 - self.where[~shared]]
        return Onward(base, self.own[:0], np.arange(len(base)), self.shift)

    @property
    def whole(self) -> Ints:
        """The table, written out."""
        table = self.on_base().base
        table += self.shift[:, None, None, None, None]
        return table

    @property
    def least(self) -> int:
        """The least cost of all."""
        if not len(self.where):
            return 0
        at = int(self.where[0])
        row = self.base[at] if at >= 0 else self.own[-1 - at]
        return int(row.min() + self.shift[0])


class WayBack(NamedTuple):
    """What solving a problem has worked out: its table, and the bows as rows of numbers, to go on
    from where the next problem is the same from some unit on.

    `rows` has a row a unit, shape (N, 6): first unit, units, direction, join, start and end of the
    bow that begins there; −1 where none does.
    """

    problem: Problem
    onward: Onward
    rows: Ints


class Solution:
    """The optimum of a problem, and everything that lies beside it.

    Everything is worked out when it is first asked for.
    """

    def __init__(
        self,
        problem: Problem,
        known: Ints | None = None,
        earlier: WayBack | None = None,
    ) -> None:
        """Solve a problem.

        Args:
            known: the optimum as rows (see `WayBack`), where it is known; then nothing is solved
                until alternatives are asked for.
            earlier: a problem of the same units that has been solved; of its table and bows
                those are taken over that must be the same.
        """
        self.problem = problem
        self._earlier = earlier if earlier and problem.fits(earlier.problem) else None
        self._given = known

    @cached_property
    def total(self) -> int:
        """Cost of the optimum in millionths."""
        if self._given is not None:
            return cost_of_rows(self.problem, self.rows)
        return self._onward.least

    @cached_property
    def bows(self) -> dict[int, Step]:
        """The optimum: the first unit of every bow, and what the bow does."""
        return steps_of(self.bow_rows)

    @cached_property
    def steps(self) -> list[Step]:
        """The optimum, one `Step` a bow."""
        return list(self.bows.values())

    @cached_property
    def _changed(self) -> Bools:
        """The units of which something is not as it was in the earlier problem."""
        if self._earlier is None:
            return np.ones(self.problem.units_n, dtype=bool)
        return self.problem.differs(self._earlier.problem)

    @cached_property
    def _solved(self) -> tuple[Onward, Bools]:
        """The way back; and the units whose costs are not the earlier ones but for a shift."""
        p = self.problem
        own = np.empty(_shape(p), dtype=np.int64)
        where, shift = np.empty((2, p.units_n), dtype=np.int64)
        differs = np.zeros(p.units_n, dtype=bool)
        none = np.empty(0, dtype=np.int64)
        before = Onward(own[:0], own[:0], none, none)
        if self._earlier is not None:
            before = self._earlier.onward
        rows_n = kernels.run_backwards(*p.costs, *before, self._changed, own, where, shift, differs)
        if not len(before.where):
            return Onward(own, own[:0], -1 - where, shift), differs
        if rows_n < _FEW * p.units_n:
            own = own[:rows_n].copy()  # else all its room would be kept
        onward = Onward(before.base, own, where, shift)
        return onward.on_base() if rows_n > _MANY * p.units_n else onward, differs

    @property
    def _onward(self) -> Onward:
        return self._solved[0]

    @cached_property
    def _whole(self) -> Ints:
        return self._onward.whole

    @property
    def way_back(self) -> WayBack:
        """What was worked out, for a problem like this one."""
        return WayBack(self.problem, self._onward, self.rows)

    @cached_property
    def _forwards(self) -> tuple[Ints, Ints]:
        """Before[i, l, s, d, k1]: best cost up to and with the bow of l + 1 units that ends with
        unit i at k1. Through[i, l, d, join]: least cost of the whole with such a bow from unit i.
        Made when alternatives are first asked for; the optimum itself needs only the way back.
        """
        before, through = kernels.run_forwards(*self.problem.costs, self._whole)
        return before, through

    @cached_property
    def extra(self) -> Ints:
        """Exact extra cost of a bow that begins with each unit in each direction and join, all the
        rest solved for the best, shape (N, 2, 3); `IMPOSSIBLE` if it cannot be."""
        return self._extra_of(self._forwards[1].min(axis=1))

    def _extra_of(self, through: Ints) -> Ints:
        """How much more than the optimum; what cannot be may cost a little less than it should."""
        extra: Ints = np.where(through < IMPOSSIBLE // 2, through - self.total, IMPOSSIBLE)
        return extra

    @cached_property
    def extra_joined(self) -> Ints:
        """Exact extra cost of each unit being in one bow with the unit before, shape (N,)."""
        whole = self._forwards[1].min(axis=(2, 3))
        n, longest = whole.shape
        least = np.full(n, IMPOSSIBLE, dtype=np.int64)
        for units in range(2, longest + 1):
            for inside in range(1, units):
                reached = whole[: n - inside, units - 1]
                least[inside:] = np.minimum(least[inside:], reached)
        return self._extra_of(least)

    @property
    def bow_rows(self) -> Ints:
        """The optimum, a row a bow (see `WayBack`)."""
        return self.rows[self.rows[:, 0] >= 0]

    @cached_property
    def rows(self) -> Ints:
        """The optimum by first unit, as the inner loops take it (see `WayBack`)."""
        return self._first_rows() if self._given is None else self._given

    def _first_rows(self) -> Ints:
        """The optimum; where nothing is changed, the earlier one."""
        earlier, n = self._earlier, self.problem.units_n
        rows = np.full((n, 6), -1, dtype=np.int64)
        known = rows[:0] if earlier is None else earlier.rows
        begun = self._trace(0, np.zeros(4, dtype=np.int64), known, self._changed, self._solved[1])
        rows[begun[:, 0]] = begun
        self._earlier = None  # all that was to be had of it
        return rows

    def _trace(self, first: int, came: Ints, known: Ints, changed: Bools, differs: Bools) -> Ints:
        """Best bows from unit `first` on, as rows (see `kernels.trace`)."""
        base, own, where, _ = self._onward
        rows: Ints = kernels.trace(
            *self.problem.costs, base, own, where, first, came, known, changed, differs
        )
        return rows

    def _other_bows(self, first: int, came: Step) -> dict[int, Step]:
        """Best bows from unit `first` on after one that is forced, as far as they are others."""
        p = self.problem
        if first >= p.units_n:
            return {}
        speed = p.speed(first - came.units_n, came.units_n, came.length)
        before = np.array([came.units_n, speed, came.direction, came.end], dtype=np.int64)
        same = np.zeros(p.units_n, dtype=bool)
        rows = self._trace(first, before, self.rows, same, same)
        return steps_of(rows[(rows != self.rows[rows[:, 0]]).any(axis=1)])

    def changed_by(self, i: int, direction: int, join: int) -> dict[int, Step]:
        """The bows that would go otherwise if a bow with this direction and join began at unit i.

        Returns:
            The new bows by first unit; empty if the choice is the plan's own.
        """
        units = int(self._forwards[1][i, :, direction, join].argmin()) + 1
        forced = self._forced(i, units, direction, join)
        changed = {i: forced}
        changed.update(self._other_bows(i + units, forced))
        changed.update(self._trace_back(i, forced))
        return {k: s for k, s in sorted(changed.items()) if self.bows.get(k) != s}

    def _forced(self, i: int, units: int, direction: int, join: int) -> Step:
        """The best bow of so many units from i with this direction and join."""
        p = self.problem
        onward = self._whole[i, units - 1, :, direction]
        whole = self._entries(i, units)[join][:, direction] + onward
        speed, start = np.unravel_index(int(whole.argmin()), whole.shape)
        kind = p.kind[i, units - 1]
        goal = onward[speed, start]
        for end in range(POSITIONS_N):
            length = (end - start) if direction == DOWN else (start - end)
            if length < 1 or p.speed_of[kind, length] != speed:
                continue
            step = Step(direction, join if i else TURN, int(start), end, units)
            if self._onward_by(i, step) == goal:
                return step
        raise ValueError("a bow without an end")

    def _onward_by(self, i: int, step: Step) -> int:
        """Cost of one bow and the best of all after it."""
        p, after = self.problem, i + step.units_n
        cost = stroke_cost(p, i, step)
        if after >= p.units_n:
            return cost
        speed = p.speed(i, step.units_n, step.length)
        onward, join = self._whole[after], p.join[after, step.units_n - 1]
        even = p.evenness[p.even[after], speed]
        d, end = step.direction, step.end
        best = [
            (onward[:, :, 1 - d, end] + join[:, 1 - d, TURN, None] + even).min(),
            (onward[:, :, d, end] + join[:, d, HOOK, None] + even).min(),
        ]
        if p.reach[after] >= 0:
            cells = np.arange(POSITIONS_N)
            far = np.abs(cells - end)
            lifted = onward.min(axis=1) + join[:, :, RETAKE, None] + p.travel[far]
            best.append(np.where(far <= p.reach[after], lifted, IMPOSSIBLE).min())
        return cost + int(min(best))

    def _entries(self, i: int, units: int) -> Ints:
        """Cost of all before a bow of so many units from i, by join, speed class, direction and
        start; shape (3, S, 2, K+1)."""
        p = self.problem
        found = np.full((3, p.evenness.shape[1], 2, POSITIONS_N), IMPOSSIBLE, dtype=np.int64)
        if i == 0:
            found[TURN] = 0
            return found
        even = p.evenness[p.even[i]]
        for came in range(1, min(p.longest_n, i) + 1):
            if p.kind[i - came, came - 1] < 0:
                continue
            before = self._forwards[0][i - 1, came - 1]
            held = (before[:, None] + even[:, :, None, None]).min(axis=0)
            join = p.join[i, came - 1, units - 1]
            found[TURN] = np.minimum(found[TURN], held[:, ::-1] + join[None, :, TURN, None])
            found[HOOK] = np.minimum(found[HOOK], held + join[None, :, HOOK, None])
            if p.reach[i] >= 0:
                free = before.min(axis=(0, 1))
                lifted = (free[:, None] + p.costs.lifts(i)).min(axis=0)
                found[RETAKE] = np.minimum(
                    found[RETAKE], lifted[None, None, :] + join[None, :, RETAKE, None]
                )
        return found

    def _trace_back(self, i: int, forced: Step) -> dict[int, Step]:
        """Best bows before unit i, given how it is entered."""
        found: dict[int, Step] = {}
        step = forced
        while i > 0:
            units, speed, direction, end = self._came_from(i, step)
            i -= units
            step = self._back_step(i, units, speed, direction, end)
            if self.bows.get(i) == step:
                break
            found[i] = step
        return found

    def _came_from(self, i: int, step: Step) -> tuple[int, int, int, int]:
        """Units, speed class, direction and end of the best bow before unit i, given its own."""
        p = self.problem
        own_speed = p.speed(i, step.units_n, step.length)
        best, found = IMPOSSIBLE * 8, (1, 0, 0, 0)
        for came in range(1, min(p.longest_n, i) + 1):
            if p.kind[i - came, came - 1] < 0:
                continue
            before = self._forwards[0][i - 1, came - 1]
            costs = np.full_like(before, IMPOSSIBLE)
            join = int(p.join[i, came - 1, step.units_n - 1, step.direction, step.join])
            if step.join == RETAKE:
                costs = before + p.costs.lifts(i)[:, step.start]
            else:
                d = 1 - step.direction if step.join == TURN else step.direction
                even = p.evenness[p.even[i], :, own_speed]
                costs[:, d, step.start] = before[:, d, step.start] + even
            if int(costs.min()) + join < best:
                best = int(costs.min()) + join
                at = np.unravel_index(int(costs.argmin()), costs.shape)
                found = came, int(at[0]), int(at[1]), int(at[2])
        return found

    def _back_step(self, i: int, units: int, speed: int, direction: int, end: int) -> Step:
        """The best bow of so many units from i with this speed class, direction and end."""
        p = self.problem
        kind = p.kind[i, units - 1]
        entries = self._entries(i, units)[:, speed, direction]
        best, found = IMPOSSIBLE * 8, Step(direction, TURN, 0, end, units)
        for start in range(POSITIONS_N):
            length = (end - start) if direction == DOWN else (start - end)
            if length < 1 or p.speed_of[kind, length] != speed:
                continue
            join = int(entries[:, start].argmin())
            step = Step(direction, join, start, end, units)
            cost = stroke_cost(p, i, step) + int(entries[join, start])
            if cost < best:
                best, found = cost, step
        return found


def steps_of(rows: Ints) -> dict[int, Step]:
    """Bows as steps by first unit, from rows of numbers (see `WayBack`)."""
    steps = map(Step._make, rows[:, [2, 3, 4, 5, 1]].tolist())
    return dict(zip(rows[:, 0].tolist(), steps, strict=True))


def _shape(p: Problem) -> tuple[int, ...]:
    return p.units_n, p.longest_n, p.evenness.shape[1], 2, POSITIONS_N


def _flat(steps: Sequence[Step]) -> Ints:
    flat = np.fromiter(chain.from_iterable(steps), dtype=np.int64, count=5 * len(steps))
    return flat.reshape(-1, 5)


def stroke_cost(problem: Problem, first: int, step: Step) -> int:
    """Cost of one bow by itself, its joins left out."""
    p, d = problem, step.direction
    kind = p.kind[first, step.units_n - 1]
    own = p.strokes[kind, d, step.length, min(step.start, step.end)]
    return int(own + p.direction[first, step.units_n - 1, d])


def cost_of(problem: Problem, steps: Sequence[Step]) -> int:
    """Cost of any list of bows, optimal or not, in millionths.

    Returns:
        The sum; `IMPOSSIBLE` or more if a bow is barred or two bows do not meet.
    """
    units_n = np.array([step.units_n for step in steps], dtype=np.int64)
    first = np.cumsum(units_n) - units_n
    rows = np.column_stack([first, units_n, _flat(steps)[:, :4]])
    return cost_of_rows(problem, rows)


def cost_of_rows(problem: Problem, rows: Ints) -> int:
    """The same of bows as rows (see `WayBack`); rows where none begins are left out."""
    first, units, d, join, start, end = rows[rows[:, 0] >= 0].T
    if not len(first):
        return 0
    p = problem
    kind = p.kind[first, units - 1]
    length = np.abs(end - start)
    wrong = ((end > start) != (d == DOWN)) | (kind < 0)
    total = int(p.strokes[kind, d, length, np.minimum(start, end)].sum())
    total += int(p.direction[first, units - 1, d].sum())
    i = first[1:]
    total += int(p.join[i, units[:-1] - 1, units[1:] - 1, d[1:], join[1:]].sum())
    lifted = join[1:] == RETAKE
    way = np.abs(start[1:] - end[:-1])
    far = lifted & (way > p.reach[i])
    total += int(p.travel[way][lifted & ~far].sum())
    speed = p.speed_of[kind, length]
    total += int(p.evenness[p.even[i], speed[:-1], speed[1:]][~lifted].sum())
    meets = (start[1:] == end[:-1]) & ((d[1:] != d[:-1]) == (join[1:] == TURN))
    return total + IMPOSSIBLE * int(far.sum() + (~lifted & ~meets).sum() + wrong.sum())
