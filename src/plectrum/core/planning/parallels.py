"""Places like a place: bars of the same rhythm and fingers, on the same or other strings.

What a teacher corrects in one he means in all. Pins do not count: whether something was corrected
there before is not what makes two places alike.
"""

from __future__ import annotations

from collections.abc import Sequence

from plectrum.core.planning.plan import Plan
from plectrum.core.planning.strokes.equal_bars import bars_of

Key = tuple[object, ...]


def notes_like(plan: Plan, notes: Sequence[int]) -> list[tuple[int, ...]]:
    """Other places of a piece that are like that of some notes: for each, the notes that match
    these, in the order of the piece. Places do not overlap.

    Args:
        notes: indices, in order; all bars from the first to the last count.
    """
    if not notes:
        return []
    inside, keys = _bars(plan)
    bars = [plan.part.notes[i].bar_index for i in notes]
    first, last = bars[0], bars[-1]
    count = last - first + 1
    wanted = keys[first : last + 1]
    if -1 in wanted:
        return []
    found, free_from = [], 0
    for k in (k for k, key in enumerate(keys) if key == wanted[0]):
        apart = k > last or k + count <= first
        if apart and k >= free_from and keys[k : k + count] == wanted:
            there = [
                inside[k + bar - first][inside[bar].index(i)]
                for i, bar in zip(notes, bars, strict=True)
            ]
            found.append(tuple(there))
            free_from = k + count
    return found


def _bars(plan: Plan) -> tuple[dict[int, list[int]], list[int]]:
    """The notes of every bar, and a number that bars alike share, −1 where there is no bow; kept,
    because no pin of the bow changes them."""
    kept = plan.tables.units.base.kept
    if "alike" not in kept:
        inside = _notes_by_bar(plan)
        keys = _keys(plan, inside)
        numbers: dict[Key, int] = {}
        number = {bar: numbers.setdefault(key, len(numbers)) for bar, key in keys.items()}
        kept["alike"] = inside, [number.get(k, -1) for k in range(len(plan.part.bars))]
    found: tuple[dict[int, list[int]], list[int]] = kept["alike"]
    return found


def _notes_by_bar(plan: Plan) -> dict[int, list[int]]:
    inside: dict[int, list[int]] = {}
    for note in plan.part.notes:
        inside.setdefault(note.bar_index, []).append(note.index)
    return inside


def _keys(plan: Plan, inside: dict[int, list[int]]) -> dict[int, Key]:
    """Of every bar: rhythm and marks, and the fingers on strings counted from the first note's."""
    found: dict[int, Key] = {}
    for bar, number, _ in bars_of(plan.part, plan.tables.units):
        rows: list[tuple[int, int]] = []
        for index in inside[bar]:
            grip = plan.fingered[index].grip
            rows += [(-1, 9)] if grip is None else [(f.string, f.finger) for f in grip.fingers]
        lowest = rows[0][0] if rows else 0
        fingers = tuple((string - lowest, finger) for string, finger in rows)
        found[bar] = number, len(inside[bar]), fingers
    return found
