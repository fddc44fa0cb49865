"""What strokes cost by themselves, in parts that thousands of kinds of bows can share."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

Ints = NDArray[np.int64]


@dataclass(frozen=True, eq=False)
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

    @cached_property
    def keys(self) -> list[tuple[bytes, bytes, bytes]]:
        """What each kind costs beside its ends: by length, by place, and in extra."""
        extra = [*(table.tobytes() for table in self.extra), b""]
        lengths, places = (map(bytes, costs) for costs in (self.by_length, self.by_place))
        return [(*key, extra[k]) for *key, k in zip(lengths, places, self.extra_of, strict=True)]

    def with_kinds(self, old: Ints, by_length: Ints, by_place: Ints) -> StrokeCosts:
        """Kinds with other costs that have the extra costs of old ones."""
        return replace(self, by_length=by_length, by_place=by_place, extra_of=self.extra_of[old])

    def with_extra(self, old: Ints, extra: Ints) -> StrokeCosts:
        """More kinds, each with the costs of an old one and extra costs of its own.

        Args:
            old: which, shape (V,). extra: shape (V, 2, P, P).
        """
        like = np.concatenate([np.arange(self.kinds_n), old])
        own = len(self.extra) + np.arange(len(old))
        made = StrokeCosts(
            self.by_length[like],
            self.by_place[like],
            self.ends,
            np.concatenate([self.extra, extra]),
            np.concatenate([self.extra_of, own]),
        )
        keys = [(*self.keys[k][:2], table.tobytes()) for k, table in zip(old, extra, strict=True)]
        vars(made)["keys"] = self.keys + keys  # they are many, and known
        return made


def by_halves(by_sum: Ints) -> Ints:
    """Costs by the sum of both ends, shape (U, 2P − 1), as `StrokeCosts.by_place` has them."""
    halves = np.zeros((len(by_sum), 2, by_sum.shape[1] // 2 + 1), dtype=np.int64)
    halves[:, 0], halves[:, 1, :-1] = by_sum[:, ::2], by_sum[:, 1::2]
    return halves
