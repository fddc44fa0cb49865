"""Equal bars: bars of the same rhythm want the same bows, whatever strings they lie on; and so do
dotted pairs of one kind, wherever they stand."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from plectrum.core.document.choices import Pin
from plectrum.core.planning import rules
from plectrum.core.planning.strokes.bow_columns import BowColumns
from plectrum.core.planning.strokes.context import columns_of
from plectrum.core.planning.strokes.problem import TURN, Ints
from plectrum.core.planning.strokes.units import Units
from plectrum.core.score.model import Part, note_table

Codes = NDArray[np.uint8]
IN_BOW, ENTERING, FREE, JOINED = 6, 7, 9, 10  # codes of units: see `wishes_of`
_EITHER, _DOWN, _UP = [[0, 0]], [[0, 1]], [[1, 0]]
_EACH_JOIN = [[0, 1, 1], [1, 0, 1], [1, 1, 0]]
_OTHER_WAYS = np.array(
    _DOWN * 3 + _UP * 3 + _EITHER + _DOWN + _UP + _EITHER + _EITHER * 3 + _DOWN * 3 + _UP * 3
)
_OTHER_JOINS = np.array(_EACH_JOIN * 2 + [[1, 1, 1]] + [[0, 0, 0]] * 3 + _EACH_JOIN * 3)
_SAME_Q = 1e-6
Classes = tuple[Ints, ...]


def bar_starts(part: Part, units: Units) -> Ints:
    """The first unit of every bar; kept."""
    kept = units.base.kept
    if "bar starts" not in kept:
        starts = [members[0] for _, _, members in bars_of(part, units)]
        kept["bar starts"] = np.array(starts, dtype=np.int64)
    found: Ints = kept["bar starts"]
    return found


def bars_of(part: Part, units: Units) -> list[tuple[int, int, tuple[int, ...]]]:
    """Every bar with its number and units; kept."""
    kept = units.base.kept
    if "bars" not in kept:
        columns = units.base.columns
        kept["bars"] = _bars_made(part, columns.first, columns.last)
    found: list[tuple[int, int, tuple[int, ...]]] = kept["bars"]
    return found


def find_equals(part: Part, units: Units) -> Classes:
    """Group bars of the same rhythm, slurs, marks and pins.

    Returns:
        For every class of equal bars with more than one member, the units of each member, shape
        (bars, units).
    """
    bars = bars_of(part, units)
    grouped: dict[tuple[int, object], list[tuple[int, ...]]] = {}
    aside: dict[int, list[int]] = {}  # first units of the pinned bars, by their number
    for at, pins in _pins_by_bar(part, units).items():
        _, number, members = bars[at]
        grouped.setdefault((number, tuple(pins)), []).append(members)
        aside.setdefault(number, []).append(members[0])
    classes = [
        alike[(alike[:, :1] != np.array(aside[number])).all(axis=1)] if number in aside else alike
        for number, alike in _written_alike(part, units).items()
    ]
    classes += map(np.array, grouped.values())
    return tuple(equals for equals in classes if len(equals) > 1)


def _pins_by_bar(part: Part, units: Units) -> dict[int, list[tuple[int, Pin]]]:
    """The pins of each bar that has any, by how many units after its first."""
    found: dict[int, list[tuple[int, Pin]]] = {}
    if units.touched:
        starts = bar_starts(part, units)
        at = np.searchsorted(starts, units.touched, side="right") - 1
        after = np.array(units.touched) - starts[at]
        for bar, index, unit in zip(at.tolist(), after.tolist(), units.touched, strict=True):
            found.setdefault(bar, []).append((index, units[unit].pin))
    return found


def _written_alike(part: Part, units: Units) -> dict[int, Ints]:
    """The units of each bar, by the number that bars of the same content share; kept."""
    kept = units.base.kept
    if "written alike" not in kept:
        grouped: dict[int, list[tuple[int, ...]]] = {}
        for _, number, members in bars_of(part, units):
            grouped.setdefault(number, []).append(members)
        kept["written alike"] = {number: np.array(bars) for number, bars in grouped.items()}
    found: dict[int, Ints] = kept["written alike"]
    return found


def _bars_made(part: Part, first: Ints, last: Ints) -> list[tuple[int, int, tuple[int, ...]]]:
    """Every bar with a number that bars of the same content share, and its units.

    Args:
        first, last: the first and last note of each unit.
    """
    bars = columns_of(part).bar[first]
    begins = np.flatnonzero(np.diff(bars, prepend=-1))
    codes, at = _codes_of_notes(_written(part), first, last)
    numbers: dict[object, int] = {}
    found = []
    ends = np.append(begins[1:], len(first))[: len(begins)]
    stops = np.append(at[begins[1:]], len(codes))[: len(begins)]
    spans = np.stack([bars[begins], begins, ends, at[begins], stops], axis=1)
    for bar, unit, end, here, after in spans.tolist():
        key = part.bars[bar].metre, part.bars[bar].pad_q, codes[here:after].tobytes()
        number = numbers.setdefault(key, len(numbers))
        found.append((bar, number, tuple(range(unit, end))))
    return found


def _codes_of_notes(written: Ints, first: Ints, last: Ints) -> tuple[Ints, Ints]:
    """What is written at each note of the units, and whether a unit begins with it, as one number;
    and where in these each unit begins."""
    inside = np.zeros(len(written) + 1, dtype=np.int64)
    inside[first] += 1
    inside[last + 1] -= 1
    bowed = np.cumsum(inside)[:-1] > 0
    codes = 2 * written
    codes[first] += 1
    return codes[bowed], np.cumsum(bowed)[first] - 1


@lru_cache(maxsize=8)
def _written(part: Part) -> Ints:
    """A number for what is written at each note, the same for notes written alike in their
    bars; kept, because no choice changes it."""
    table, columns = note_table(part), columns_of(part)
    bars_q = np.array([float(bar.onset_q) for bar in part.bars])
    inside_q = np.round(columns.onset_q - bars_q[columns.bar], 6).tolist()
    lengths_q = np.round(columns.end_q - columns.onset_q, 6).tolist()
    signs = (table[name] for name in ("grace", "slurred", "mark"))
    keys = zip(inside_q, lengths_q, *signs, strict=True)
    kinds: dict[object, int] = {}
    return np.array([kinds.setdefault(k, len(kinds)) for k in keys], dtype=np.int64)


def find_pairs(part: Part, units: Units) -> Classes:
    """The short notes of dotted pairs, those of one kind in one bar together: whichever way they
    go, they go on alike. As it comes is agreed for other figures inside a bar."""
    kept = units.base.kept
    if "pairs" not in kept:
        written = _pairs_written(part, units.base.columns)
        kept["pairs"] = written, {i: k for k, pairs in enumerate(written) for i in pairs.tolist()}
    found, which_of = kept["pairs"]
    for i in units.touched:
        if i in which_of and (units[i].pin.join, units[i].pin.direction) != (None, None):
            k = which_of[i]
            found = (*found[:k], found[k][found[k] != i], *found[k + 1 :])
    return tuple(pairs for pairs in found if len(pairs) > 1)


def _pairs_written(part: Part, columns: BowColumns) -> Classes:
    """The same, whatever is pinned."""
    c, first, last = columns_of(part), columns.first, columns.last
    if len(first) < 2:
        return ()
    quarters = c.end_q[last] - c.onset_q[first]
    single = first == last
    joined = np.abs(c.onset_q[first[1:]] - c.end_q[last[:-1]]) < _SAME_Q
    pair = joined & single[1:] & single[:-1] & (c.bar[first[1:]] == c.bar[first[:-1]])
    pair &= (quarters[:-1] >= rules.DOTTED_RATIO[0] * quarters[1:]) & (
        quarters[:-1] <= rules.DOTTED_RATIO[1] * quarters[1:]
    )
    grouped: dict[object, list[int]] = {}
    for i in (np.flatnonzero(pair) + 1).tolist():
        long_q, short_q = (round(float(q), 4) for q in quarters[i - 1 : i + 1])
        grouped.setdefault((int(c.bar[first[i]]), long_q, short_q), []).append(i)
    return tuple(np.array(pairs) for pairs in grouped.values() if len(pairs) > 1)


def wishes_of(classes: Classes, rows: Ints, pairs: Classes = ()) -> Codes:
    """What a solution asks of the next: every bar like the commonest of its equals, and every
    dotted pair. How a bar is entered is free.

    Args:
        rows: the solution (see `problem`).
        pairs: units whose joins want to be alike.

    Returns:
        A code a unit: three times the direction, and the join; `IN_BOW` for a unit in the bow of
        the one before, `ENTERING` and the direction where the join is free, `FREE`, or for the
        short note of a pair `JOINED` and the join, and 3 more for down or 6 for up.
    """
    starts = np.concatenate([np.zeros(0, dtype=np.int64), *(bars[:, 0] for bars in classes)])
    codes = _codes(rows)
    codes[starts] -= np.where(codes[starts] < IN_BOW, codes[starts] % 3, 0).astype(np.uint8)
    every = codes.tobytes()  # whichever way a bar's first bow joins
    same = bytearray([FREE]) * len(every)
    for bars in classes:
        width, firsts = bars.shape[1], bars[:, 0].tolist()
        common = _commonest([every[k : k + width] for k in firsts])
        for k in firsts:
            same[k : k + width] = common
    codes = _entered(np.frombuffer(bytes(same), dtype=np.uint8).copy(), starts)
    for members in pairs:
        joins = rows[members, 3][rows[members, 0] >= 0].tolist()
        if joins:
            count = Counter(joins)
            common = min(count, key=lambda join: (-count[join], join))
            asked = members[(codes[members] < IN_BOW) | (codes[members] == FREE)]
            ways = np.where(codes[asked] == FREE, 0, 1 + codes[asked] // 3)
            codes[asked] = JOINED + 3 * ways + common
    return codes


def ways_of(starts: Ints, rows: Ints) -> Codes:
    """The same, every bar asked to go as it does.

    Args:
        starts: the first unit of each bar.
    """
    return _entered(_codes(rows), starts)


def _codes(rows: Ints) -> Codes:
    codes = np.where(rows[:, 0] < 0, IN_BOW, 3 * rows[:, 2] + rows[:, 3]).astype(np.uint8)
    codes[:1] = codes[:1] // 3 * 3 + TURN
    return codes


def _entered(codes: Codes, starts: Ints) -> Codes:
    """Codes with the join free at the first units of bars."""
    starts = starts[codes[starts] < IN_BOW]
    codes[starts] = ENTERING + codes[starts] // 3
    return codes


def other_ways(codes: Codes) -> tuple[Ints, Ints]:
    """Which directions and joins are not what is asked of each unit, shape (N, 2) and (N, 3)."""
    return _OTHER_WAYS[codes], _OTHER_JOINS[codes]


_TURNED_ROUND = bytes([3, 4, 5, 0, 1, 2, *range(IN_BOW, 256)])
_JOINS_ALONE = bytes([JOINED, JOINED + 1, JOINED + 2] * 2 + list(range(IN_BOW, 256)))


def _commonest(patterns: Sequence[bytes]) -> bytes:
    """The commonest; ties go to the one that begins down, then turns before hooks. Where bars come
    as often the other way round, an odd number of bows alternates, as it comes: then only the
    joins inside the bar are asked."""
    count = Counter(patterns)
    common = min(count, key=lambda p: (-count[p], p))
    if 2 * count[common.translate(_TURNED_ROUND)] < count[common]:
        return common
    return bytes([FREE]) + common[1:].translate(_JOINS_ALONE)
