"""The exact dynamic program over direction × bow position × join.

Question it answers: which way each unit goes, how it joins the one before and between which
two places on the bow it runs, so that the sum of all costs is least.

Conventions: positions are cells 0 … K (K = 48) from the frog; directions are 0 down, 1 up;
joins are 0 turn, 1 hook, 2 retake. Costs are int64 millionths, so sums are exact. A unit's
stroke costs C[d, k0, k1]; entering it at k0 costs the join. Forwards and backwards tables
together give the exact extra cost of every choice of every unit.
Work is O(N·K²). Ties: turn before hook before retake, down before up, lower position first.
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

Ints = NDArray[np.int64]
TURN, HOOK, RETAKE = 0, 1, 2
DOWN, UP = 0, 1
POSITIONS_N = CELLS_N + 1


@dataclass(frozen=True, slots=True)
class Problem:
    """All costs of a piece, in millionths, for N units of U different kinds.

    Attributes:
        strokes: shape (U, 2, K+1, K+1), C[d, k0, k1] of each kind; `IMPOSSIBLE` if barred.
        kind: shape (N,), which kind each unit is.
        direction: shape (N, 2), cost of each direction (metre, marks, pins).
        join: shape (N, 3), cost of each join; the first unit's row is not used.
        reach: shape (N,), cells the bow can be carried before the unit; −1 for no lift.
        travel: shape (K+1, K+1), cost of carrying the bow from one cell to another.
    """

    strokes: Ints
    kind: Ints
    direction: Ints
    join: Ints
    reach: Ints
    travel: Ints

    def travel_within(self, reach_cells: int) -> Ints:
        """Cost of the lift alone by (from, to), barred beyond the reach; shape (K+1, K+1)."""
        cells = np.arange(POSITIONS_N)
        far = np.abs(cells[:, None] - cells[None, :]) > reach_cells
        return np.where(far, IMPOSSIBLE, self.travel)

    def alike_from(self, other: Problem) -> int:
        """The first unit from which on all is as in another problem of the same units."""
        differs = self._kinds_differ(other) | (self.reach != other.reach)
        differs |= (self.direction != other.direction).any(axis=1)
        differs |= (self.join != other.join).any(axis=1)
        found = np.flatnonzero(differs)
        return int(found[-1]) + 1 if len(found) else 0

    def _kinds_differ(self, other: Problem) -> NDArray[np.bool_]:
        a, b = self.strokes, other.strokes
        differs: NDArray[np.bool_] = self.kind != other.kind
        if _owner(a) is not _owner(b):  # else both are the first kinds of one table
            shared = min(len(a), len(b))
            alike = np.zeros(max(len(a), len(b)), dtype=bool)
            alike[:shared] = (a[:shared] == b[:shared]).all(axis=(1, 2, 3))
            differs |= ~alike[self.kind]
        return differs


def _owner(array: Ints) -> object:
    return array if array.base is None else array.base


class Step(NamedTuple):
    """What one unit does: direction, join, and the cells it runs between."""

    direction: int
    join: int
    start: int
    end: int


class WayBack(NamedTuple):
    """What solving a problem has worked out: tables, and steps also as rows of numbers, to go
    on from where the next problem is the same from some unit on."""

    problem: Problem
    onward: Ints
    after: Ints
    steps: list[Step]
    rows: Ints


class Solution:
    """The optimum of a problem, and everything that lies beside it.

    Everything is worked out when it is first asked for.
    """

    def __init__(
        self, problem: Problem, known: list[Step] | None = None, earlier: WayBack | None = None
    ) -> None:
        """Solve a problem.

        Args:
            known: steps that are known to be the optimum; then nothing is solved until
                alternatives are asked for.
            earlier: a problem of the same units that has been solved; of its tables and steps
                those are taken over that must be the same.
        """
        self.problem = problem
        self._earlier = earlier
        self._alike_from = problem.alike_from(earlier.problem) if earlier else len(problem.kind)
        self._given = known

    @cached_property
    def total(self) -> int:
        """Cost of the optimum in millionths."""
        if self._given is not None:
            return cost_of(self.problem, self._given)
        return int(self._backwards[0][0].min()) if len(self.problem.kind) else 0

    @cached_property
    def steps(self) -> list[Step]:
        """The optimum, one `Step` a unit."""
        return self._first_steps() if self._given is None else self._given

    @cached_property
    def _backwards(self) -> tuple[Ints, Ints]:
        """Onward[i, d, k0]: best cost of unit i and all after it when it starts at k0.
        After[i, d, k1]: best cost of all after unit i when it ends at k1."""
        p, earlier, self._earlier = self.problem, self._earlier, None
        if earlier is None:
            shape = (len(p.kind), 2, POSITIONS_N)
            onward, after = np.zeros(shape, dtype=np.int64), np.zeros(shape, dtype=np.int64)
        else:
            onward, after = earlier.onward.copy(), earlier.after.copy()
        fill_backwards(p, onward, after, self._alike_from)
        return onward, after

    def tables_of(self, units: slice) -> tuple[Ints, Ints]:
        """A copy of the way back of some units, as `fill_backwards` takes it."""
        onward, after = self._backwards
        return onward[units].copy(), after[units].copy()

    def cost_before(self, i: int) -> Ints:
        """Least cost of all before unit i, its join included, at each direction and cell that it
        is entered at; shape (2, K+1)."""
        least: Ints = self._forwards[0][i].min(axis=0)
        return least

    @property
    def way_back(self) -> WayBack:
        """What was worked out, for a problem like this one."""
        steps = self.steps  # first, while what came earlier is at hand
        return WayBack(self.problem, *self._backwards, steps, self._known)

    @cached_property
    def _forwards(self) -> tuple[Ints, Ints]:
        """Entries[i, join, d, k0]: best cost of all before unit i, the join included.
        Befores[i, d, k1]: best cost up to and with unit i when it ends at k1.
        Made when alternatives are first asked for; the optimum itself needs only the way back.
        """
        p = self.problem
        entries, befores = kernels.run_forwards(
            p.strokes, p.kind, p.direction, p.join, p.reach, p.travel
        )
        return entries, befores

    @cached_property
    def extra(self) -> Ints:
        """Exact extra cost of forcing each direction and join at one unit and solving all the
        rest for the best, shape (N, 2, 3); `IMPOSSIBLE` if it cannot be."""
        through = (self._forwards[0] + self._backwards[0][:, None]).min(axis=3)
        extra: Ints = np.minimum(through - self.total, IMPOSSIBLE).transpose(0, 2, 1)
        return extra

    def cost_from(self, i: int) -> Ints:
        """Least cost of the whole if unit i starts in each direction and cell, shape (2, K+1)."""
        whole: Ints = self.cost_before(i) + self._backwards[0][i]
        return whole

    @cached_property
    def _known(self) -> Ints:
        """The optimum's steps as rows (direction, join, start, end)."""
        return _rows_of(self.steps)

    def _first_steps(self) -> list[Step]:
        """The optimum; the steps of the problem before from where they must be the same."""
        earlier = self._earlier
        if earlier is None:
            return self._trace(0, None, None)
        met = earlier.rows.copy()
        met[: self._alike_from] = -1  # no step is met there
        begun = self._trace(0, None, met)
        return begun + earlier.steps[len(begun) :]

    def _trace(self, first: int, came: Step | None, known: Ints | None) -> list[Step]:
        """Best steps from unit `first` on; stops early where it meets a step already known."""
        p = self.problem
        if first >= len(p.kind):
            return []
        onward, after = self._backwards
        rows = kernels.trace(
            p.strokes,
            p.kind,
            p.join,
            p.reach,
            p.travel,
            onward,
            after,
            first,
            np.array([-1, -1] if came is None else [came.direction, came.end], dtype=np.int64),
            np.zeros((0, 4), dtype=np.int64) if known is None else known,
        )
        return list(map(Step._make, rows.tolist()))

    def _end(self, i: int, direction: int, start: int) -> int:
        p = self.problem
        costs = p.strokes[p.kind[i], direction, start] + self._backwards[1][i, direction]
        return int(costs.argmin())

    def changed_by(self, i: int, direction: int, join: int) -> dict[int, Step]:
        """The units that would go otherwise if unit i had this direction and join.

        Returns:
            The new steps by unit; empty if the choice is the plan's own.
        """
        known = dict(enumerate(self.steps))
        start = int(
            (self._forwards[0][i, join, direction] + self._backwards[0][i, direction]).argmin()
        )
        forced = Step(direction, join if i else TURN, start, self._end(i, direction, start))
        changed = {i: forced}
        changed.update(enumerate(self._trace(i + 1, forced, self._known), start=i + 1))
        changed.update(self._trace_back(i, forced, known))
        return {k: s for k, s in changed.items() if known[k] != s}

    def _trace_back(self, i: int, forced: Step, known: dict[int, Step]) -> dict[int, Step]:
        """Best steps before unit i, given how it is entered."""
        p = self.problem
        entries, _ = self._forwards
        found: dict[int, Step] = {}
        step = forced
        for k in range(i, 0, -1):
            end, direction = self._came_from(k, step)
            costs = (
                entries[k - 1].min(axis=0)[direction] + p.strokes[p.kind[k - 1], direction, :, end]
            )
            start = int(costs.argmin())
            join = int(entries[k - 1, :, direction, start].argmin())
            step = Step(direction, join, start, end)
            if known[k - 1] == step:
                break
            found[k - 1] = step
        return found

    def _came_from(self, i: int, step: Step) -> tuple[int, int]:
        """Where and in which direction the unit before i ended, given how i is entered."""
        before = self._forwards[1][i - 1]
        if step.join == TURN:
            return step.start, 1 - step.direction
        if step.join == HOOK:
            return step.start, step.direction
        lifts = self.problem.travel_within(int(self.problem.reach[i]))
        costs = before + lifts[:, step.start][None, :]
        direction, end = np.unravel_index(int(costs.argmin()), costs.shape)
        return int(end), int(direction)


def fill_backwards(problem: Problem, onward: Ints, after: Ints, units_n: int) -> None:
    """Work out the way back of so many units from the first; the tables hold that of the others.

    Args:
        onward, after: shape (N, 2, K+1); written into. See `Solution`.
    """
    p = problem
    costs = p.strokes, p.kind, p.direction, p.join, p.reach, p.travel
    kernels.run_backwards(*costs, onward, after, units_n)


def _rows_of(steps: Sequence[Step]) -> Ints:
    flat = np.fromiter(chain.from_iterable(steps), dtype=np.int64, count=4 * len(steps))
    return flat.reshape(-1, 4)


def cost_of(problem: Problem, steps: Sequence[Step]) -> int:
    """Cost of any list of steps, optimal or not, in millionths.

    Returns:
        The sum; `IMPOSSIBLE` or more if a step is barred or two steps do not meet.
    """
    if not steps:
        return 0
    p = problem
    d, join, start, end = _rows_of(steps).T
    n = np.arange(len(steps))
    total = int(p.strokes[p.kind, d, start, end].sum() + p.direction[n, d].sum())
    total += int(p.join[n[1:], join[1:]].sum())
    lifted = join[1:] == RETAKE
    far = lifted & (np.abs(start[1:] - end[:-1]) > p.reach[1:])
    total += int(p.travel[end[:-1], start[1:]][lifted & ~far].sum())
    meets = (start[1:] == end[:-1]) & ((d[1:] != d[:-1]) == (join[1:] == TURN))
    return total + IMPOSSIBLE * int(far.sum() + (~lifted & ~meets).sum())
