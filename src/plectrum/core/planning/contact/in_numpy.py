"""The inner loops of the contact point and weight where no compiler was there at set-up."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Ints = NDArray[np.int64]
Floats = NDArray[np.float64]


def own_costs(
    fixed: Floats,
    by_weight: Floats,
    log_low: Floats,
    log_width: Floats,
    log_weight: Floats,
    wrong: Floats,
    frames: Floats,
    numbers: Floats,
) -> Ints:
    """Cost of every place and weight at every frame by itself in millionths, shape (N, X, U).

    Args:
        fixed: what a place costs with any weight, shape (N, X); by_weight: what a weight costs in
            any place, shape (N, U).
        log_low, log_width: log of the lower limit of weight, and of upper over lower; (N, X).
        log_weight: shape (U,). wrong: steps of loudness too many at neutral weight, (N, X).
        frames: of each frame its neutral share, seconds, and what a limit costs; shape (N, 3).
        numbers: steps a share gives, knee, too soft, too loud, off neutral, the window's two
            ends, and how many parts make one.
    """
    step, knee, soft, loud, off_neutral, low, high, parts = numbers
    neutral, seconds, walls = (frames[:, k, None, None] for k in range(3))
    share = (log_weight[None, None, :] - log_low[:, :, None]) / log_width[:, :, None]
    off = share - neutral
    miss = wrong[:, :, None] + step * off
    size = np.abs(miss)
    bent = np.minimum(size, knee)
    heard = bent * (2 * size - bent)
    heard *= np.where(miss > 0, loud, soft)
    heard += off_neutral * (off * off)
    outside = np.maximum(np.maximum(low - share, share - high), 0.0)
    costs = fixed[:, :, None] + by_weight[:, None, :]
    costs = costs + seconds * heard
    costs += walls * (outside * outside)
    whole: Ints = np.rint(costs * parts).astype(np.int64)
    return whole


def _ways(places: Ints, step: int, once: int) -> Ints:
    """Cost of going from each place to each other."""
    far = np.abs(places[:, None] - places[None, :])
    ways: Ints = np.where(far > 0, step * far + once, 0)
    return ways


def settle(
    own: Ints,
    apart: Ints,
    moves: Ints,
    leans: Ints,
    changed: NDArray[np.bool_],
    table: Ints,
    path: Ints,
) -> None:
    """Write the least costly way through the frames over another: place and weight of each.

    Args:
        own: shape (N, X, U), cost of every place and weight by itself.
        apart: shape (X - 1,), how far neighbouring places lie apart.
        moves, leans: shape (N, 2), cost of a step from the frame before, and of moving at all.
        changed: shape (N,), frames that are not as when table and path were found; all of them if
            they never were. Here all is worked out anew.
        table, path: shapes (N, X, U) and (N, 2), written over. Rows of the table may lack what all
            their costs share.
    """
    n, _, weights_n = own.shape
    places = np.concatenate([[0], np.cumsum(apart)]).astype(np.int64)
    weights = np.arange(weights_n)
    table[:] = own
    for i in range(1, n):
        moved = (table[i - 1][:, None] + _ways(places, *moves[i])[:, :, None]).min(axis=0)
        leaned = (moved[:, :, None] + _ways(weights, *leans[i])[None]).min(axis=1)
        table[i] += leaned
    for i in range(n - 1, -1, -1):
        costs = table[i]
        if i < n - 1:
            a, b = path[i + 1]
            costs = costs + _ways(places, *moves[i + 1])[:, [a]]
            costs = costs + _ways(weights, *leans[i + 1])[b][None, :]
        path[i] = np.unravel_index(int(costs.argmin()), costs.shape)
