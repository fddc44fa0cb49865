"""The planner's inner loops where no compiler was there when the program was set up.

The same tables, steps and ties as `_compiled`, some five times slower. Shapes and codes are those
of `dynamic_program`; U kinds, N units, P = K + 1.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from plectrum.core.planning.rules import IMPOSSIBLE

Ints = NDArray[np.int64]


def _ways(places: int) -> Ints:
    """Where a stroke may end, by direction and start: 0, or barred; shape (2, P, P)."""
    grows = np.triu(np.ones((places, places), dtype=bool), 1)
    return np.where(np.stack([grows, grows.T]), 0, IMPOSSIBLE).astype(np.int64)


def _within(reach: int, costs: Ints) -> Ints:
    """Costs by the (from, to) of a lift, barred where the bow is not carried so far."""
    cells = np.arange(len(costs))
    return np.where(np.abs(cells[:, None] - cells) > reach, IMPOSSIBLE, costs)


def run_backwards(
    strokes: Ints,
    kind: Ints,
    direction: Ints,
    join: Ints,
    reach: Ints,
    travel: Ints,
    onward: Ints,
    after: Ints,
    units_n: int,
) -> None:
    """Fill in onward[i, d, k0], best cost of unit i and all after it from k0, and
    after[i, d, k1], best cost of all after unit i from k1, both of shape (N, 2, P).

    Args:
        units_n: so many units from the first are worked out; the tables hold the others.
    """
    n, places = len(kind), strokes.shape[2]
    barred = _ways(places) > 0
    for i in range(units_n - 1, -1, -1):
        if i + 1 < n:
            on, j = onward[i + 1], join[i + 1]
            after[i] = np.minimum(on[::-1] + j[0], on + j[1])
            if reach[i + 1] >= 0:
                lifted = _within(int(reach[i + 1]), travel + on.min(axis=0) + j[2]).min(axis=1)
                after[i] = np.minimum(after[i], np.minimum(lifted, IMPOSSIBLE))
            else:
                after[i] = np.minimum(after[i], IMPOSSIBLE)
        costs = strokes[kind[i]] + after[i][:, None, :]
        best = np.where(barred, IMPOSSIBLE, costs).min(axis=2)
        onward[i] = np.minimum(best, IMPOSSIBLE) + direction[i][:, None]


def run_forwards(
    strokes: Ints, kind: Ints, direction: Ints, join: Ints, reach: Ints, travel: Ints
) -> tuple[Ints, Ints]:
    """Entry[i, join, d, k0], best cost of all before unit i with the join, shape (N, 3, 2, P);
    before[i, d, k1], best cost up to and with unit i, shape (N, 2, P)."""
    n, places = len(kind), strokes.shape[2]
    entry = np.full((n, 3, 2, places), IMPOSSIBLE, dtype=np.int64)
    before = np.full((n, 2, places), IMPOSSIBLE, dtype=np.int64)
    barred = _ways(places) > 0
    for i in range(n):
        if i == 0:
            entry[0, 0] = 0
        else:
            came, j = before[i - 1], join[i]
            entry[i, 0], entry[i, 1] = came[::-1] + j[0], came + j[1]
            if reach[i] >= 0:
                costs = _within(int(reach[i]), travel + came.min(axis=0)[:, None] + j[2])
                entry[i, 2] = np.minimum(costs.min(axis=0), IMPOSSIBLE)
        start = entry[i].min(axis=0)
        costs = start[:, :, None] + strokes[kind[i]] + direction[i][:, None, None]
        before[i] = np.minimum(np.where(barred, IMPOSSIBLE, costs).min(axis=1), IMPOSSIBLE)
    return entry, before


def trace(
    strokes: Ints,
    kind: Ints,
    join: Ints,
    reach: Ints,
    travel: Ints,
    onward: Ints,
    after: Ints,
    first: int,
    came: Ints,
    known: Ints,
) -> Ints:
    """Best steps (direction, join, start, end) from unit `first` on, shape (M, 4).

    Args:
        came: direction and end of the unit before; (−1, −1) at the start of the piece.
        known: steps by unit, shape (N, 4) or (0, 4); the trace stops before one it meets.
    """
    steps: list[tuple[int, int, int, int]] = []
    d_before, end = int(came[0]), int(came[1])
    for i in range(first, len(kind)):
        d, code, start = _entered(i, d_before, end, join, reach, travel, onward)
        end = int((strokes[kind[i], d, start] + after[i, d]).argmin())
        step = (d, code, start, end)
        if len(known) and tuple(known[i].tolist()) == step:
            break
        steps.append(step)
        d_before = d
    return np.array(steps, dtype=np.int64).reshape(-1, 4)


def _entered(
    i: int, d_before: int, end: int, join: Ints, reach: Ints, travel: Ints, onward: Ints
) -> tuple[int, int, int]:
    """Direction, join and start of a unit: turn before hook before lift, down before up."""
    if d_before < 0:
        d, start = divmod(int(onward[i].argmin()), onward.shape[2])
        return d, 0, start
    best, found = int(onward[i, 1 - d_before, end] + join[i, 0]), (1 - d_before, 0, end)
    hooked = int(onward[i, d_before, end] + join[i, 1])
    if hooked < best:
        best, found = hooked, (d_before, 1, end)
    if reach[i] >= 0:
        low = max(0, end - int(reach[i]))
        lifts = onward[i, :, low : end + int(reach[i]) + 1]
        lifts = lifts + travel[end, low : low + lifts.shape[1]] + join[i, 2]
        if int(lifts.min()) < best:
            d, k = divmod(int(lifts.argmin()), lifts.shape[1])
            found = d, 2, low + k
    return found
