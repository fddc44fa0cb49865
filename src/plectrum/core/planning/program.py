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

import numpy as np
from numpy.typing import NDArray

from plectrum.core.planning.weights import CELLS_N, IMPOSSIBLE

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
    kind: NDArray[np.intp]
    direction: Ints
    join: Ints
    reach: NDArray[np.intp]
    travel: Ints

    def travel_within(self, reach_cells: int) -> Ints:
        """Cost of the lift alone by (from, to), barred beyond the reach; shape (K+1, K+1)."""
        cells = np.arange(POSITIONS_N)
        far = np.abs(cells[:, None] - cells[None, :]) > reach_cells
        return np.where(far, IMPOSSIBLE, self.travel)


@dataclass(frozen=True, slots=True)
class Step:
    """What one unit does: direction, join, and the cells it runs between."""

    direction: int
    join: int
    start: int
    end: int


class Solution:
    """The optimum of a problem, and everything that lies beside it.

    Attributes:
        steps: one `Step` a unit.
        total: cost of the optimum in millionths.
        extra: shape (N, 2, 3), exact extra cost of forcing each direction and join at one
            unit and solving all the rest for the best; `IMPOSSIBLE` if it cannot be.
    """

    def __init__(self, problem: Problem, known: list[Step] | None = None) -> None:
        """Solve a problem.

        Args:
            known: steps that are known to be the optimum; then nothing is solved until
                alternatives are asked for.
        """
        self.problem = problem
        self._lifts = {
            int(r): problem.travel_within(int(r)) for r in np.unique(problem.reach) if r >= 0
        }
        self.steps = self._trace(0, None, {}) if known is None else known
        self.total = cost_of(problem, self.steps)

    @cached_property
    def _backwards(self) -> tuple[Ints, Ints]:
        """Onward[i, d, k0]: best cost of unit i and all after it when it starts at k0.
        After[i, d, k1]: best cost of all after unit i when it ends at k1."""
        p = self.problem
        n = len(p.kind)
        onwards = np.zeros((max(n, 1), 2, POSITIONS_N), dtype=np.int64)
        afters = np.zeros((max(n, 1), 2, POSITIONS_N), dtype=np.int64)
        kinds, reaches = p.kind.tolist(), p.reach.tolist()
        turns, hooks, retakes = (p.join[:, k].tolist() for k in (TURN, HOOK, RETAKE))
        for i in range(n - 1, -1, -1):
            after = afters[i]
            if i + 1 < n:
                onward = onwards[i + 1]
                np.minimum(onward[::-1] + turns[i + 1], onward + hooks[i + 1], out=after)
                if reaches[i + 1] >= 0:
                    lifted = (self._lifts[reaches[i + 1]] + onward.min(axis=0)).min(axis=1)
                    np.minimum(after, lifted + retakes[i + 1], out=after)
            np.minimum.reduce(p.strokes[kinds[i]] + after[:, None, :], axis=2, out=onwards[i])
            onwards[i] += p.direction[i][:, None]
        return onwards, afters

    @cached_property
    def _forwards(self) -> tuple[Ints, Ints]:
        """Entries[i, join, d, k0]: best cost of all before unit i, the join included.
        Befores[i, d, k1]: best cost up to and with unit i when it ends at k1.
        Made when alternatives are first asked for; the optimum itself needs only the way back.
        """
        p = self.problem
        n = len(p.kind)
        entries = np.full((max(n, 1), 3, 2, POSITIONS_N), IMPOSSIBLE, dtype=np.int64)
        befores = np.zeros((max(n, 1), 2, POSITIONS_N), dtype=np.int64)
        entries[0, TURN] = 0
        for i in range(n):
            entry = entries[i]
            if i:
                before = befores[i - 1]
                np.add(before[::-1], p.join[i, TURN], out=entry[TURN])
                np.add(before, p.join[i, HOOK], out=entry[HOOK])
                reach = int(p.reach[i])
                if reach >= 0:
                    lifted = (self._lifts[reach] + before.min(axis=0)[:, None]).min(axis=0)
                    entry[RETAKE] = lifted + p.join[i, RETAKE]
            reached = p.strokes[p.kind[i]] + entry.min(axis=0)[:, :, None]
            befores[i] = reached.min(axis=1) + p.direction[i][:, None]
        return entries, befores

    @cached_property
    def extra(self) -> Ints:
        """Exact extra cost of each direction and join of each unit, shape (N, 2, 3)."""
        n = len(self.problem.kind)
        through = (self._forwards[0][:n] + self._backwards[0][:n, None]).min(axis=3)
        extra: Ints = np.minimum(through - self.total, IMPOSSIBLE).transpose(0, 2, 1)
        return extra

    def _leave(self, i: int, step: Step | None) -> tuple[int, int, int]:
        """Best (direction, join, start) of unit i after a step; of the first unit, the start."""
        p = self.problem
        onward = self._backwards[0][i]
        if step is None:
            d, k0 = np.unravel_index(int(onward.argmin()), onward.shape)
            return int(d), TURN, int(k0)
        options = [
            (int(onward[1 - step.direction, step.end] + p.join[i, TURN]), TURN, step.end),
            (int(onward[step.direction, step.end] + p.join[i, HOOK]), HOOK, step.end),
        ]
        directions = [1 - step.direction, step.direction]
        reach = int(p.reach[i])
        if reach >= 0:
            costs = onward + self._lifts[reach][step.end][None, :] + p.join[i, RETAKE]
            d, k0 = np.unravel_index(int(costs.argmin()), costs.shape)
            options.append((int(costs[d, k0]), RETAKE, int(k0)))
            directions.append(int(d))
        best = min(range(len(options)), key=lambda k: options[k][0])
        return directions[best], options[best][1], options[best][2]

    def _end(self, i: int, direction: int, start: int) -> int:
        p = self.problem
        costs = p.strokes[p.kind[i], direction, start] + self._backwards[1][i, direction]
        return int(costs.argmin())

    def _trace(self, i: int, step: Step | None, known: dict[int, Step]) -> list[Step]:
        """Best steps from unit i on; stops early where it meets a step already `known`."""
        steps: list[Step] = []
        for k in range(i, len(self.problem.kind)):
            direction, join, start = self._leave(k, step)
            step = Step(direction, join, start, self._end(k, direction, start))
            if known.get(k) == step:
                break
            steps.append(step)
        return steps

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
        changed.update(enumerate(self._trace(i + 1, forced, known), start=i + 1))
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
        costs = before + self._lifts[int(self.problem.reach[i])][:, step.start][None, :]
        direction, end = np.unravel_index(int(costs.argmin()), costs.shape)
        return int(end), int(direction)


def cost_of(problem: Problem, steps: Sequence[Step]) -> int:
    """Cost of any list of steps, optimal or not, in millionths.

    Returns:
        The sum; `IMPOSSIBLE` or more if a step is barred or two steps do not meet.
    """
    total = 0
    for i, s in enumerate(steps):
        total += int(problem.strokes[problem.kind[i], s.direction, s.start, s.end])
        total += int(problem.direction[i, s.direction])
        if i == 0:
            continue
        before = steps[i - 1]
        total += int(problem.join[i, s.join])
        turned = s.direction != before.direction
        if s.join == RETAKE:
            reach = int(problem.reach[i])
            far = abs(s.start - before.end) > reach
            total += IMPOSSIBLE if far else int(problem.travel[before.end, s.start])
        elif s.start != before.end or turned != (s.join == TURN):
            total += IMPOSSIBLE
    return total
