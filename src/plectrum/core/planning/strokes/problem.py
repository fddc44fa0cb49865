"""What a piece costs, bow by bow, and what bows cost under it.

Conventions: N units in order; a bow takes 1 … L of them (L is 1 where the slurs are as printed).
Positions are cells 0 … K (K = 48) from the frog; directions are 0 down, 1 up; joins are 0 turn,
1 hook, 2 retake. A stroke's speed class says how much longer or shorter it is than its notes
wish; from one bow to the next its change costs evenness, unless the bow is lifted between.
Costs are int64 millionths, so sums are exact.

Bows as rows of numbers, shape (N, 6): first unit, units, direction, join, start and end of the bow
that begins with each unit; −1 where none does, or left out.
"""

from __future__ import annotations

from collections.abc import Hashable, Mapping, Sequence
from dataclasses import dataclass
from itertools import accumulate, chain
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from plectrum.core.planning.rules import CELLS_N, IMPOSSIBLE
from plectrum.core.planning.strokes.cost_arrays import Costs
from plectrum.core.planning.strokes.stroke_costs import StrokeCosts

Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]
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
        before: shape (N,), the unit that is played before each, i − 1 but where endings or a jump
            part the way; −1 at the first. No bow goes over a fork.
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
    before: Ints
    even: Ints
    evenness: Ints

    @property
    def costs(self) -> Costs:
        """The arrays, as the inner loops take them."""
        s = self.strokes
        return Costs(
            s.by_length, s.by_place, s.ends, s.extra, s.extra_of, self.speed_of, self.kind,
            self.direction, self.join, self.reach, self.travel, self.before, self.even,
            self.evenness,
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

    def differs(self, other: Problem) -> Bools:
        """The units of which anything differs from another problem of the same units."""
        differs = self._kinds_differ(other)
        if not len(differs):
            return differs
        for name in ("reach", "before", "even", "direction", "join"):
            own, others = getattr(self, name), getattr(other, name)
            if own is not others:
                differs |= (own != others).reshape(len(differs), -1).any(axis=1)
        return differs

    def _kinds_differ(self, other: Problem) -> Bools:
        if self.strokes is other.strokes:
            same: Bools = (self.kind != other.kind).any(axis=1)
            return same
        if not np.array_equal(self.strokes.ends, other.strokes.ends):
            return np.ones(self.units_n, dtype=bool)
        numbers: dict[Hashable, int] = {}
        differs: Bools = (self._numbered(numbers) != other._numbered(numbers)).any(axis=1)
        return differs

    def _numbered(self, numbers: dict[Hashable, int]) -> Ints:
        """The kind of each bow by a number that kinds of the same costs share; −1 if barred."""
        costs = zip(self.strokes.keys, map(bytes, self.speed_of), strict=True)
        of_kind = [numbers.setdefault(key, len(numbers)) for key in costs]
        found: Ints = np.array([*of_kind, -1])[self.kind]
        return found


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


def steps_of(rows: Ints) -> dict[int, Step]:
    """Bows as steps by first unit, from rows."""
    steps = map(Step._make, rows[:, [2, 3, 4, 5, 1]].tolist())
    return dict(zip(rows[:, 0].tolist(), steps, strict=True))


def rows_of(bows: Mapping[int, Step]) -> Ints:
    """The same the other way: a row a bow."""
    flat = np.fromiter(chain.from_iterable(bows.values()), dtype=np.int64, count=5 * len(bows))
    first = np.fromiter(bows, dtype=np.int64, count=len(bows))
    return np.column_stack([first, flat.reshape(-1, 5)[:, [4, 0, 1, 2, 3]]])


def rows_before(problem: Problem, rows: Ints) -> Ints:
    """Of each bow (see the head of the module; left-out rows are passed over) the number of the
    one that is played before it; −1 before the first, and where it is not among them."""
    first, units_n = rows[rows[:, 0] >= 0].T[:2]
    if not len(first):
        return rows[:0, 0]
    ends, before = first + units_n - 1, problem.before[first]
    at = np.minimum(np.searchsorted(ends, before), len(ends) - 1)
    found: Ints = np.where(ends[at] == before, at, -1)
    return found


def unlike_rows(problem: Problem, rows: Ints, others: Ints) -> tuple[Ints, Ints]:
    """The bows that go otherwise than others, or after one that does, and the bow before each; a
    row of −1 before the first."""
    theirs = np.full((problem.units_n, 6), -1, dtype=np.int64)
    theirs[others[:, 0]] = others
    at = rows_before(problem, rows)
    came = np.where(at[:, None] >= 0, rows[at], -1)
    other = (theirs[rows[:, 0]] != rows).any(axis=1)
    unlike = other | ((at >= 0) & (theirs[came[:, 0]] != came).any(axis=1))
    return rows[unlike], came[unlike]


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
    firsts = accumulate((step.units_n for step in steps), initial=0)
    return cost_of_rows(problem, rows_of(dict(zip(firsts, steps, strict=False))))


def cost_of_rows(problem: Problem, rows: Ints) -> int:
    """The same of bows as rows."""
    first, units, d, join, start, end = rows[rows[:, 0] >= 0].T
    if not len(first):
        return 0
    p = problem
    kind = p.kind[first, units - 1]
    length = np.abs(end - start)
    wrong = ((end > start) != (d == DOWN)) | (kind < 0)
    total = int(p.strokes[kind, d, length, np.minimum(start, end)].sum())
    total += int(p.direction[first, units - 1, d].sum())
    i, came = first[1:], rows_before(p, rows)[1:]
    total += int(p.join[i, units[came] - 1, units[1:] - 1, d[1:], join[1:]].sum())
    lifted = join[1:] == RETAKE
    way = np.abs(start[1:] - end[came])
    far = lifted & (way > p.reach[i])
    total += int(p.travel[way][lifted & ~far].sum())
    speed = p.speed_of[kind, length]
    total += int(p.evenness[p.even[i], speed[came], speed[1:]][~lifted].sum())
    meets = (start[1:] == end[came]) & ((d[1:] != d[came]) == (join[1:] == TURN))
    return total + IMPOSSIBLE * int(far.sum() + (~lifted & ~meets).sum() + wrong.sum())
