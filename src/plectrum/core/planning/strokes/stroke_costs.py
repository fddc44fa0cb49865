"""What strokes cost by themselves, in parts that thousands of kinds of bows can share."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

Ints = NDArray[np.int64]


@dataclass(frozen=True, slots=True, eq=False)
class StrokeCosts:
    """Costs of the strokes of U kinds of bows on P places, in millionths; nothing is written into
    them. A stroke is given by its direction, its length and its lower end, the one nearer the frog.

    Attributes:
        by_length: shape (U, P).
        by_place: shape (U, 2, P), by the sum of both ends: whether it is odd, and its half.
        ends: shape (P, P), by length and lower end, the same for all kinds; `IMPOSSIBLE` where
            there is no bow.
        extra: shape (E, 2, P, P), by direction, length and lower end.
        extra_of: shape (U,), which extra costs a kind has; −1 for none.
    """

    by_length: Ints
    by_place: Ints
    ends: Ints
    extra: Ints
    extra_of: Ints

    @property
    def table(self) -> Ints:
        """All costs one by one, shape (U, 2, P, P)."""
        shape = (*self.extra_of.shape, 2, *self.ends.shape)
        kind, way, length, low = np.indices(shape, sparse=True)
        odd, half = length % 2, np.minimum(length // 2 + low, self.ends.shape[0] - 1)
        costs = self.by_length[kind, length] + self.by_place[kind, odd, half]
        costs = costs + self.ends[length, low] + 0 * way
        extra = self.extra_of >= 0
        costs[extra] += self.extra[self.extra_of[extra]]
        whole: Ints = costs
        return whole

    def __getitem__(self, stroke: tuple[Any, Any, Any, Any]) -> Any:
        """The cost of strokes given by kind, direction, length and lower end."""
        kind, way, length, low = stroke
        places = length + 2 * low
        costs = self.by_length[kind, length] + self.by_place[kind, places % 2, places // 2]
        costs = costs + self.ends[length, low]
        extra = self.extra_of[kind]
        if not len(self.extra):
            return costs
        return costs + np.where(extra >= 0, self.extra[extra, way, length, low], 0)

    @property
    def kinds_n(self) -> int:
        return len(self.by_length)

    def differ(self, other: StrokeCosts) -> NDArray[np.bool_]:
        """Which kinds cost something else than the kinds of the same numbers among others; those
        that only one has are left out."""
        shared = slice(min(self.kinds_n, other.kinds_n))
        differ: NDArray[np.bool_] = (self.by_length[shared] != other.by_length[shared]).any(axis=1)
        differ |= (self.by_place[shared] != other.by_place[shared]).any(axis=(1, 2))
        differ |= (self.ends != other.ends).any()
        both = np.stack([self.extra_of[shared], other.extra_of[shared]])
        for mine, theirs in {tuple(pair) for pair in both.T.tolist()}:
            if not _alike(self.extra, mine, other.extra, theirs):
                differ |= (both[0] == mine) & (both[1] == theirs)
        return differ

    def with_kinds(self, old: Ints, by_length: Ints, by_place: Ints) -> StrokeCosts:
        """Kinds with other costs that have the extra costs of old ones."""
        return replace(self, by_length=by_length, by_place=by_place, extra_of=self.extra_of[old])


def _alike(one: Ints, i: int, other: Ints, k: int) -> bool:
    if min(i, k) < 0:
        return i == k
    return np.array_equal(one[i], other[k])


def by_halves(by_sum: Ints) -> Ints:
    """Costs by the sum of both ends, shape (U, 2P − 1), as `StrokeCosts.by_place` has them."""
    halves = np.zeros((len(by_sum), 2, by_sum.shape[1] // 2 + 1), dtype=np.int64)
    halves[:, 0], halves[:, 1, :-1] = by_sum[:, ::2], by_sum[:, 1::2]
    return halves
