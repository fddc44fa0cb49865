"""The planner's inner loops, compiled on first use and kept compiled on disk.

They work on plain arrays and release the interpreter lock, so a window stays live while a long
part is planned. Shapes, codes and tie rules are those of `program`; U kinds, N units, P = K+1.
"""

# mypy: disable-error-code="untyped-decorator"

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

from plectrum.core.planning.strokes.rules import IMPOSSIBLE

Ints = NDArray[np.int64]
BARRED = IMPOSSIBLE


@njit(cache=True, nogil=True)
def run_backwards(
    strokes: Ints, kind: Ints, direction: Ints, join: Ints, reach: Ints, travel: Ints
) -> tuple[Ints, Ints]:
    """Onward[i, d, k0], best cost of unit i and all after it from k0; after[i, d, k1], best
    cost of all after unit i from k1. Both have shape (N, 2, P)."""
    n, places = len(kind), strokes.shape[2]
    onward = np.zeros((n, 2, places), dtype=np.int64)
    after = np.zeros((n, 2, places), dtype=np.int64)
    for i in range(n - 1, -1, -1):
        if i + 1 < n:
            _leave_costs(onward[i + 1], join[i + 1], reach[i + 1], travel, after[i])
        for d in range(2):
            costs = strokes[kind[i], d]
            for k0 in range(places):
                best = BARRED
                first, last = (k0 + 1, places) if d == 0 else (0, k0)
                for k1 in range(first, last):
                    cost = costs[k0, k1] + after[i, d, k1]
                    best = min(best, cost)
                onward[i, d, k0] = best + direction[i, d]
    return onward, after


@njit(cache=True, nogil=True)
def _leave_costs(onward: Ints, join: Ints, reach: int, travel: Ints, after: Ints) -> None:
    """Best cost of going on from each direction and cell: turn, hook, or lift."""
    places = onward.shape[1]
    for k in range(places):
        lifted = BARRED
        if reach >= 0:
            for k0 in range(max(0, k - reach), min(places, k + reach + 1)):
                cost = travel[k, k0] + min(onward[0, k0], onward[1, k0]) + join[2]
                lifted = min(lifted, cost)
        for d in range(2):
            best = min(onward[1 - d, k] + join[0], onward[d, k] + join[1])
            after[d, k] = min(best, lifted)


@njit(cache=True, nogil=True)
def run_forwards(
    strokes: Ints, kind: Ints, direction: Ints, join: Ints, reach: Ints, travel: Ints
) -> tuple[Ints, Ints]:
    """Entry[i, join, d, k0], best cost of all before unit i with the join, shape (N, 3, 2, P);
    before[i, d, k1], best cost up to and with unit i, shape (N, 2, P)."""
    n, places = len(kind), strokes.shape[2]
    entry = np.full((n, 3, 2, places), BARRED, dtype=np.int64)
    before = np.full((n, 2, places), BARRED, dtype=np.int64)
    for i in range(n):
        if i == 0:
            entry[0, 0] = 0
        else:
            _enter_costs(before[i - 1], join[i], reach[i], travel, entry[i])
        for d in range(2):
            costs = strokes[kind[i], d]
            for k0 in range(places):
                start = min(entry[i, 0, d, k0], entry[i, 1, d, k0], entry[i, 2, d, k0])
                first, last = (k0 + 1, places) if d == 0 else (0, k0)
                for k1 in range(first, last):
                    cost = start + costs[k0, k1] + direction[i, d]
                    before[i, d, k1] = min(before[i, d, k1], cost)
    return entry, before


@njit(cache=True, nogil=True)
def _enter_costs(before: Ints, join: Ints, reach: int, travel: Ints, entry: Ints) -> None:
    places = before.shape[1]
    for k0 in range(places):
        lifted = BARRED
        if reach >= 0:
            for k in range(max(0, k0 - reach), min(places, k0 + reach + 1)):
                cost = travel[k, k0] + min(before[0, k], before[1, k]) + join[2]
                lifted = min(lifted, cost)
        for d in range(2):
            entry[0, d, k0] = before[1 - d, k0] + join[0]
            entry[1, d, k0] = before[d, k0] + join[1]
            entry[2, d, k0] = lifted


@njit(cache=True, nogil=True)
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
    n, places = len(kind), strokes.shape[2]
    steps = np.zeros((n - first, 4), dtype=np.int64)
    d_before, end = came[0], came[1]
    for i in range(first, n):
        d, code, start = 0, 0, 0
        if d_before < 0:
            best = onward[i, 0, 0]
            for e in range(2):
                for k in range(places):
                    if onward[i, e, k] < best:
                        best, d, start = onward[i, e, k], e, k
        else:
            d, code, start = 1 - d_before, 0, end
            best = onward[i, d, end] + join[i, 0]
            cost = onward[i, d_before, end] + join[i, 1]
            if cost < best:
                best, d, code = cost, d_before, 1
            if reach[i] >= 0:
                for e in range(2):
                    for k in range(max(0, end - reach[i]), min(places, end + reach[i] + 1)):
                        cost = onward[i, e, k] + travel[end, k] + join[i, 2]
                        if cost < best:
                            best, d, code, start = cost, e, 2, k
        best = BARRED * 4
        for k in range(places):
            cost = strokes[kind[i], d, start, k] + after[i, d, k]
            if cost < best:
                best, end = cost, k
        if len(known) and (
            known[i, 0] == d and known[i, 1] == code and known[i, 2] == start and known[i, 3] == end
        ):
            return steps[: i - first]
        steps[i - first] = np.array([d, code, start, end])
        d_before = d
    return steps
