"""The planner's inner loops where no compiler was there when the program was set up.

The same tables, bows and ties as `_compiled`, many times slower. Shapes and codes are those of
`problem` and `dynamic_program`; U kinds, N units, L lengths of a bow, S speed classes, P = K + 1.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from plectrum.core.planning.rules import IMPOSSIBLE
from plectrum.core.planning.strokes.cost_arrays import Costs
from plectrum.core.planning.strokes.stroke_costs import StrokeCosts

Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]


def _strokes(c: Costs, kind: int) -> Ints:
    """Every cost of the strokes of one kind, shape (2, P, P)."""
    one = slice(kind, kind + 1)
    costs: Ints = StrokeCosts(
        c.by_length[one], c.by_place[one], c.ends, c.extra, c.extra_of[one]
    ).table[0]
    return costs


def leave(c: Costs, i: int, came: int, onward: Ints) -> Ints:
    """Best cost of going on at unit i after a bow of `came` units, by its speed, direction and
    end; shape (S, 2, P)."""
    join = c.join[i, came - 1]
    barred = (c.kind[i] < 0)[:, None, None, None]
    on = np.where(barred, IMPOSSIBLE, onward[i])
    turned = (on + join[:, None, :, 0, None]).min(axis=0)[:, ::-1]
    met = np.minimum(turned, (on + join[:, None, :, 1, None]).min(axis=0))
    met = np.minimum(met, IMPOSSIBLE)
    even = c.evenness[c.even[i]]
    after = (met[None] + even[:, :, None, None]).min(axis=1)
    if c.reach[i] >= 0:
        free = (on + join[:, None, :, 2, None]).min(axis=(0, 1, 2))
        after = np.minimum(after, (np.minimum(free, IMPOSSIBLE)[None, :] + c.lifts(i)).min(axis=1))
    best: Ints = np.minimum(after, IMPOSSIBLE)
    return best


def _after(c: Costs, i: int, units: int, onward: Ints) -> Ints:
    """Best cost of all after a bow of so many units from i, on every way that parts there."""
    total = np.zeros(onward.shape[2:], dtype=np.int64)
    for following in np.flatnonzero(c.before == i + units - 1).tolist():
        total += leave(c, following, units, onward)
    return total


def run_backwards(
    by_length: Ints,
    by_place: Ints,
    ends: Ints,
    extra: Ints,
    extra_of: Ints,
    speed_of: Ints,
    kind: Ints,
    direction: Ints,
    join: Ints,
    reach: Ints,
    travel: Ints,
    before: Ints,
    even: Ints,
    evenness: Ints,
    base: Ints,
    known: Ints,
    known_where: Ints,
    known_shift: Ints,
    changed: Bools,
    own: Ints,
    where: Ints,
    shift: Ints,
    differs: Bools,
) -> tuple[int, int]:
    """The table of the way back (see `dynamic_program.Onward`) from an earlier one; here it is
    made anew.

    Args:
        base, known, known_where, known_shift: the earlier table; empty where there is none.
        changed: the units of which something in the problem is not as it was for that table.
        own, where, shift: the new table over the same base, written into.
        differs: written into: units whose costs differ by more than what they all share.

    Returns:
        How many rows of `own` are used, and how many of these are copied from `known`.
    """
    strokes = by_length, by_place, ends, extra, extra_of
    c = Costs(*strokes, speed_of, kind, direction, join, reach, travel, before, even, evenness)
    n = len(kind)
    where[:], shift[:], differs[:] = np.arange(-n, 0), 0, True
    onward = own[n - 1 :: -1] if n else own[:0]
    for i in range(n - 1, -1, -1):
        for more in range(kind.shape[1]):
            onward[i, more] = IMPOSSIBLE
            if kind[i, more] >= 0:
                _start(c, i, more, _after(c, i, more + 1, onward), onward[i, more])
    return n, 0


def _start(c: Costs, i: int, more: int, after: Ints, out: Ints) -> None:
    """Best cost of one bow and all after it, by its speed, direction and start."""
    kind = c.kind[i, more]
    for length in range(1, c.places_n):
        s, n = c.speed_of[kind, length], c.places_n - length
        down, up = _strokes(c, kind)[:, length, :n]
        np.minimum(out[s, 0, :n], down + after[s, 0, length:], out=out[s, 0, :n])
        np.minimum(out[s, 1, length:], up + after[s, 1, :n], out=out[s, 1, length:])
    out += c.direction[i, more][None, :, None]


def run_forwards(
    by_length: Ints,
    by_place: Ints,
    ends: Ints,
    extra: Ints,
    extra_of: Ints,
    speed_of: Ints,
    kind: Ints,
    direction: Ints,
    join: Ints,
    reach: Ints,
    travel: Ints,
    before: Ints,
    even: Ints,
    evenness: Ints,
    onward: Ints,
) -> tuple[Ints, Ints]:
    """Before[i, more, s, d, k1], as onward but up to and with the bow that ends with unit i;
    and through[i, more, d, join], the least cost of the whole with such a bow from unit i."""
    strokes = by_length, by_place, ends, extra, extra_of
    c = Costs(*strokes, speed_of, kind, direction, join, reach, travel, before, even, evenness)
    so_far = np.full(onward.shape, IMPOSSIBLE, dtype=np.int64)
    through = np.full((*kind.shape, 2, 3), IMPOSSIBLE, dtype=np.int64)
    for i in range(c.units_n):
        for more in range(kind.shape[1]):
            if kind[i, more] < 0:
                continue
            entry = _enter(c, i, more, so_far, onward)
            whole = (entry + onward[i, more][None]).min(axis=(1, 3))
            through[i, more] = np.minimum(through[i, more], whole.T)
            _end(c, i, more, entry.min(axis=0), so_far[i + more, more])
    return so_far, through


def _enter(c: Costs, i: int, more: int, so_far: Ints, onward: Ints) -> Ints:
    """Cost of all before a bow of length more, and of the ways that part from its own; shape
    (3, S, 2, P)."""
    entry = np.full((3, *so_far.shape[2:]), IMPOSSIBLE, dtype=np.int64)
    if i == 0:
        entry[0] = 0
        return entry
    even, end = c.evenness[c.even[i]], int(c.before[i])
    others = [k for k in np.flatnonzero(c.before == end).tolist() if k != i]
    for b in range(min(c.kind.shape[1], end + 1)):
        if c.kind[end - b, b] < 0:
            continue
        came, join = so_far[end, b], c.join[i, b, more]
        for other in others:
            came = came + leave(c, other, b + 1, onward)
        held = np.minimum((came[:, None] + even[:, :, None, None]).min(axis=0), IMPOSSIBLE)
        np.minimum(entry[0], held[:, ::-1] + join[None, :, 0, None], out=entry[0])
        np.minimum(entry[1], held + join[None, :, 1, None], out=entry[1])
        if c.reach[i] >= 0:
            free = np.minimum(came.min(axis=(0, 1)), IMPOSSIBLE)
            lifted = np.minimum((free[:, None] + c.lifts(i)).min(axis=0), IMPOSSIBLE)
            np.minimum(entry[2], lifted[None, None] + join[None, :, 2, None], out=entry[2])
    return entry


def _end(c: Costs, i: int, more: int, entry: Ints, out: Ints) -> None:
    """Best cost up to and with one bow, by its speed, direction and end."""
    kind = c.kind[i, more]
    for length in range(1, c.places_n):
        s, n = c.speed_of[kind, length], c.places_n - length
        down, up = _strokes(c, kind)[:, length, :n]
        np.minimum(out[s, 0, length:], down + entry[s, 0, :n], out=out[s, 0, length:])
        np.minimum(out[s, 1, :n], up + entry[s, 1, length:], out=out[s, 1, :n])
    out += c.direction[i, more][None, :, None]


class _Bow(NamedTuple):
    units: int
    speed: int
    direction: int
    join: int
    start: int


def trace(
    by_length: Ints,
    by_place: Ints,
    ends: Ints,
    extra: Ints,
    extra_of: Ints,
    speed_of: Ints,
    kind: Ints,
    direction: Ints,
    join: Ints,
    reach: Ints,
    travel: Ints,
    before: Ints,
    even: Ints,
    evenness: Ints,
    base: Ints,
    own: Ints,
    where: Ints,
    first: int,
    came: Ints,
    known: Ints,
    changed: Bools,
    differs: Bools,
) -> Ints:
    """Best bows (first unit, units, direction, join, start, end) from unit `first` on, of what
    follows in playing.

    Args:
        came: units, speed, direction and end of the bow before; units 0 at the start of the piece.
        known, changed, differs: bows found before, and where they may be others; not used here.
    """
    strokes = by_length, by_place, ends, extra, extra_of
    onward = np.concatenate([base, own[::-1]])[where]  # what is made last stands first
    c = Costs(*strokes, speed_of, kind, direction, join, reach, travel, before, even, evenness)
    rows: list[tuple[int, ...]] = []
    begun = tuple(int(v) for v in came)
    bows: dict[int, tuple[int, ...]] = {}  # by their last unit
    i = first
    while i < c.units_n:
        previous = begun if i == first else bows.get(int(c.before[i]))
        if previous is None:
            i += 1
            continue
        bow = _next(c, i, onward, previous) if previous[0] else _first(onward[i])
        end = _best_end(c, i, bow, _after(c, i, bow.units, onward))
        rows.append((i, bow.units, bow.direction, bow.join, bow.start, end))
        i += bow.units
        bows[i - 1] = bow.units, bow.speed, bow.direction, end
    return np.array(rows, dtype=np.int64).reshape(-1, 6)


def _first(onward: Ints) -> _Bow:
    """The best bow to begin with: down before up, frog before tip."""
    costs = onward.transpose(2, 3, 0, 1)
    d, k, more, s = (int(v) for v in np.unravel_index(int(costs.argmin()), costs.shape))
    return _Bow(more + 1, s, d, 0, k)


def _next(c: Costs, i: int, onward: Ints, came: tuple[int, ...]) -> _Bow:
    """The best bow to follow: turn before hook before lift, down before up, frog before tip."""
    units, speed, way, end = came
    join, even = c.join[i, units - 1], c.evenness[c.even[i], speed]
    best, found = IMPOSSIBLE * 8, _Bow(1, 0, 0, 0, end)
    for j, d in ((0, 1 - way), (1, way)):
        costs = onward[i, :, :, d, end] + join[:, d, j, None] + even[None, :]
        if int(costs.min()) < best:
            more, s = divmod(int(costs.argmin()), costs.shape[1])
            best, found = int(costs.min()), _Bow(more + 1, s, d, j, end)
    if c.reach[i] >= 0:
        low = max(0, end - int(c.reach[i]))
        cells = np.arange(low, min(c.places_n, end + int(c.reach[i]) + 1))
        costs = onward[i][..., cells] + join[:, None, :, 2, None] + c.travel[np.abs(cells - end)]
        costs = costs.transpose(2, 3, 0, 1)
        if int(costs.min()) < best:
            d, k, more, s = (int(v) for v in np.unravel_index(int(costs.argmin()), costs.shape))
            found = _Bow(more + 1, s, d, 2, low + k)
    return found


def _best_end(c: Costs, i: int, bow: _Bow, after: Ints) -> int:
    """Where the best stroke of this start and speed ends."""
    kind, d = c.kind[i, bow.units - 1], bow.direction
    cells = np.arange(c.places_n)
    length = cells - bow.start if d == 0 else bow.start - cells
    fits = (length >= 1) & (c.speed_of[kind, np.maximum(length, 0)] == bow.speed)
    low = np.minimum(cells, bow.start)
    costs = _strokes(c, kind)[d, np.maximum(length, 0), low] + after[bow.speed, d]
    return int(np.where(fits, costs, IMPOSSIBLE * 4).argmin())
