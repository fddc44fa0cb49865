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
TURN, HOOK, RETAKE = 0, 1, 2
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

    def alike_from(self, other: Problem) -> int:
        """The first unit from which on all is as in another problem of the same units."""
        if self.kind.shape != other.kind.shape:
            return self.units_n
        differs = self._kinds_differ(other)
        for name in ("reach", "even", "direction", "join"):
            own, others = getattr(self, name), getattr(other, name)
            if own is not others:
                differs |= (own != others).reshape(len(differs), -1).any(axis=1)
        found = np.flatnonzero(differs)
        return int(found[-1]) + 1 if len(found) else 0

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
    """The table of the way back, shape (N, L, S, 2, K+1): best cost of a bow of so many units from
    each unit and all after it, by its speed class, direction and start.

    In two parts, so that the units from which on two problems are alike are shared, not copied.
    """

    head: Ints
    tail: Ints

    def of_unit(self, i: int) -> Ints:
        """The costs of one unit."""
        n = len(self.head)
        row: Ints = self.head[i] if i < n else self.tail[i - n]
        return row

    def from_unit(self, i: int) -> Onward:
        """A table that shares all from a unit on, with room for what comes before."""
        n = len(self.head)
        if i < n < n + len(self.tail):
            head = np.empty_like(self.head)
            head[i:] = self.head[i:]
            return Onward(head, self.tail)
        shared = self.tail[i - n :] if i >= n else self.head[i:]
        return Onward(np.empty((i, *self.head.shape[1:]), dtype=np.int64), shared)

    @property
    def whole(self) -> Ints:
        return np.concatenate(self)


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
        self._earlier = earlier
        self._alike_from = problem.alike_from(earlier.problem) if earlier else problem.units_n
        self._given = known

    @cached_property
    def total(self) -> int:
        """Cost of the optimum in millionths."""
        if self._given is not None:
            return cost_of_rows(self.problem, self.rows)
        return int(self._onward.of_unit(0).min()) if self.problem.units_n else 0

    @cached_property
    def bows(self) -> dict[int, Step]:
        """The optimum: the first unit of every bow, and what the bow does."""
        return steps_of(self.bow_rows)

    @cached_property
    def steps(self) -> list[Step]:
        """The optimum, one `Step` a bow."""
        return list(self.bows.values())

    @cached_property
    def _onward(self) -> Onward:
        p, earlier, self._earlier = self.problem, self._earlier, None
        if earlier is not None and earlier.problem.kind.shape == p.kind.shape:
            onward = earlier.onward.from_unit(self._alike_from)
        else:
            onward = _room_for(p)
        kernels.run_backwards(*p.costs, *onward, self._alike_from)
        return onward

    @property
    def way_back(self) -> WayBack:
        """What was worked out, for a problem like this one."""
        rows = self.rows  # first, while what came earlier is at hand
        return WayBack(self.problem, self._onward, rows)

    @cached_property
    def _forwards(self) -> tuple[Ints, Ints]:
        """Before[i, l, s, d, k1]: best cost up to and with the bow of l + 1 units that ends with
        unit i at k1. Through[i, l, d, join]: least cost of the whole with such a bow from unit i.
        Made when alternatives are first asked for; the optimum itself needs only the way back.
        """
        before, through = kernels.run_forwards(*self.problem.costs, self._onward.whole)
        return before, through

    @cached_property
    def extra(self) -> Ints:
        """Exact extra cost of a bow that begins with each unit in each direction and join, all the
        rest solved for the best, shape (N, 2, 3); `IMPOSSIBLE` if it cannot be."""
        through = self._forwards[1].min(axis=1)
        extra: Ints = np.minimum(through - self.total, IMPOSSIBLE)
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
        extra: Ints = np.minimum(least - self.total, IMPOSSIBLE)
        return extra

    @property
    def bow_rows(self) -> Ints:
        """The optimum, a row a bow (see `WayBack`)."""
        return self.rows[self.rows[:, 0] >= 0]

    @cached_property
    def rows(self) -> Ints:
        """The optimum by first unit, as the inner loops take it (see `WayBack`)."""
        return self._first_rows() if self._given is None else self._given

    def _first_rows(self) -> Ints:
        """The optimum; the bows of the problem before from where they must be the same."""
        earlier = self._earlier
        if earlier is None:
            rows, known = np.full((self.problem.units_n, 6), -1, dtype=np.int64), None
        else:
            rows = known = earlier.rows.copy()
            known[: self._alike_from] = -1  # no bow is met there
        begun = self._trace_rows(0, None, known)
        rows[: int(begun[-1, :2].sum()) if len(begun) else 0] = -1
        rows[begun[:, 0]] = begun
        return rows

    def _trace(self, first: int, came: Step | None, known: Ints | None) -> dict[int, Step]:
        """Best bows from unit `first` on; stops early where it meets a bow already known."""
        return steps_of(self._trace_rows(first, came, known))

    def _trace_rows(self, first: int, came: Step | None, known: Ints | None) -> Ints:
        """The same as rows of numbers."""
        p = self.problem
        if first >= p.units_n:
            return np.zeros((0, 6), dtype=np.int64)
        onward = self._onward
        before = [0, 0, 0, 0]
        if came is not None:
            speed = p.speed(first - came.units_n, came.units_n, came.length)
            before = [came.units_n, speed, came.direction, came.end]
        rows: Ints = kernels.trace(
            *p.costs,
            *onward,
            first,
            np.array(before, dtype=np.int64),
            np.zeros((0, 6), dtype=np.int64) if known is None else known,
        )
        return rows

    def changed_by(self, i: int, direction: int, join: int) -> dict[int, Step]:
        """The bows that would go otherwise if a bow with this direction and join began at unit i.

        Returns:
            The new bows by first unit; empty if the choice is the plan's own.
        """
        units = int(self._forwards[1][i, :, direction, join].argmin()) + 1
        forced = self._forced(i, units, direction, join)
        changed = {i: forced}
        changed.update(self._trace(i + units, forced, self.rows))
        changed.update(self._trace_back(i, forced))
        return {k: s for k, s in sorted(changed.items()) if self.bows.get(k) != s}

    def _forced(self, i: int, units: int, direction: int, join: int) -> Step:
        """The best bow of so many units from i with this direction and join."""
        p = self.problem
        onward = self._onward.of_unit(i)[units - 1, :, direction]
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
        onward, join = self._onward.of_unit(after), p.join[after, step.units_n - 1]
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


def _room_for(p: Problem) -> Onward:
    """A table of which nothing is known."""
    shape = p.longest_n, p.evenness.shape[1], 2, POSITIONS_N
    return Onward(np.empty((p.units_n, *shape), np.int64), np.empty((0, *shape), np.int64))


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
