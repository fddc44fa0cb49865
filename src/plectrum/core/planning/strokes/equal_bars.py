"""Equal bars: bars of the same rhythm want the same bows, whatever strings they lie on."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from functools import lru_cache

from plectrum.core.document.choices import Pin
from plectrum.core.planning.strokes.dynamic_program import TURN, Step
from plectrum.core.planning.strokes.units import Unit, Units
from plectrum.core.score.model import Note, Part

Key = tuple[object, ...]


IN_BOW = 6  # the code of a unit in the bow of the one before
Classes = tuple[tuple[tuple[int, ...], ...], ...]


def single_bars(part: Part, units: Units) -> Classes:
    """Every bar as a class of its own."""
    return tuple((members,) for _, _, members in bars_of(part, units))


def bars_of(part: Part, units: Units) -> list[tuple[int, int, tuple[int, ...]]]:
    """Every bar with its number and units; kept."""
    kept = units.base.kept
    if "bars" not in kept:
        kept["bars"] = _bars_made(part, units.base.units)
    found: list[tuple[int, int, tuple[int, ...]]] = kept["bars"]
    return found


def find_equals(part: Part, units: Units) -> Classes:
    """Group bars of the same rhythm, slurs and marks.

    Returns:
        For every class of equal bars with more than one member, the units of each member.
    """
    pinned: dict[int, list[tuple[int, Pin]]] = {}
    for index in units.touched:
        unit = units[index]
        pinned.setdefault(part.notes[unit.first].bar_index, []).append((index, unit.pin))
    grouped: dict[object, list[tuple[int, ...]]] = {}
    for bar, key, members in bars_of(part, units):
        own: object = key
        if bar in pinned:
            own = key, tuple((index - members[0], pin) for index, pin in pinned[bar])
        grouped.setdefault(own, []).append(members)
    return tuple(tuple(b) for b in grouped.values() if len(b) > 1)


def _bars_made(part: Part, units: Sequence[Unit]) -> list[tuple[int, int, tuple[int, ...]]]:
    """Every bar with a number that bars of the same content share, and its units."""
    by_bar: dict[int, list[Unit]] = {}
    for unit in units:
        by_bar.setdefault(part.notes[unit.first].bar_index, []).append(unit)
    numbers: dict[Key, int] = {}
    found = []
    for bar, members in by_bar.items():
        number = numbers.setdefault(_bar_key(part, bar, members), len(numbers))
        found.append((bar, number, tuple(u.index for u in members)))
    return found


def _bar_key(part: Part, bar: int, units: Sequence[Unit]) -> Key:
    written = _written(part)
    rows: list[object] = []
    for unit in units:
        for index in range(unit.first, unit.last + 1):
            rows.append(written[index])
        rows.append(None)
    return (part.bars[bar].metre, part.bars[bar].pad_q, tuple(rows))


@lru_cache(maxsize=8)
def _written(part: Part) -> tuple[int, ...]:
    """A number for what is written at each note, the same for notes written alike in their
    bars; kept, because no choice changes it."""
    kinds: dict[Key, int] = {}
    return tuple(kinds.setdefault(_note_key(part, note), len(kinds)) for note in part.notes)


def _note_key(part: Part, note: Note) -> Key:
    onset, duration, bar = note.onset_q, note.duration_q, part.bars[note.bar_index].onset_q
    inside = onset.numerator / onset.denominator - bar.numerator / bar.denominator
    return (
        round(inside, 6),  # fractions take three times as long
        round(duration.numerator / duration.denominator, 6),
        note.grace,
        note.slurred,
        note.mark,
    )


def wishes_of(classes: Classes, bows: Mapping[int, Step], units_n: int) -> dict[int, bytes]:
    """What a solution asks of the next: every bar like the commonest of its equals.

    Returns:
        The first unit of every bar that is asked to, and a byte for each of its units: three
        times the direction, and the join; `IN_BOW` for a unit in the bow of the one before.
    """
    codes = bytearray([IN_BOW]) * units_n
    for first, step in bows.items():
        codes[first] = 3 * step.direction + step.join
    if codes:
        codes[0] = codes[0] // 3 * 3 + TURN
    same: dict[int, bytes] = {}
    for bars in classes:
        patterns = [bytes(codes[bar[0] : bar[-1] + 1]) for bar in bars]
        common = patterns[0] if len(bars) == 1 else _commonest(Counter(patterns))
        if common[0] != IN_BOW:
            common = bytes([common[0] // 3 * 3]) + common[1:]  # how it is entered is free
        same.update((bar[0], common) for bar in bars)
    return same


def _commonest(patterns: Counter[bytes]) -> bytes:
    """Ties go to the one that begins down, then turns before hooks."""
    if len(patterns) == 1:
        return next(iter(patterns))
    return max(patterns, key=lambda p: (patterns[p], tuple(-code for code in p)))
