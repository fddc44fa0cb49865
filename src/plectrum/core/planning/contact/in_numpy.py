"""The inner loop of the contact point and weight where no compiler was there at set-up."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Ints = NDArray[np.int64]


def _ways(places: Ints, step: int, once: int) -> Ints:
    """Cost of going from each place to each other."""
    far = np.abs(places[:, None] - places[None, :])
    ways: Ints = np.where(far > 0, step * far + once, 0)
    return ways


def settle(own: Ints, apart: Ints, moves: Ints, leans: Ints) -> Ints:
    """The least costly way through the frames: place and weight of each, shape (N, 2).

    Args:
        own: shape (N, X, U), cost of every place and weight by itself.
        apart: shape (X - 1,), how far neighbouring places lie apart.
        moves, leans: shape (N, 2), cost of a step from the frame before, and of moving at all.
    """
    n, _, weights_n = own.shape
    places = np.concatenate([[0], np.cumsum(apart)]).astype(np.int64)
    weights = np.arange(weights_n)
    table = own.copy()
    for i in range(1, n):
        moved = (table[i - 1][:, None] + _ways(places, *moves[i])[:, :, None]).min(axis=0)
        leaned = (moved[:, :, None] + _ways(weights, *leans[i])[None]).min(axis=1)
        table[i] += leaned
    rows = np.zeros((n, 2), dtype=np.int64)
    for i in range(n - 1, -1, -1):
        costs = table[i]
        if i < n - 1:
            a, b = rows[i + 1]
            costs = costs + _ways(places, *moves[i + 1])[:, [a]]
            costs = costs + _ways(weights, *leans[i + 1])[b][None, :]
        rows[i] = np.unravel_index(int(costs.argmin()), costs.shape)
    return rows
