"""Places like a place: bars of the same rhythm and fingers, on the same or other strings.

What a teacher corrects in one he means in all. Pins do not count: whether something was corrected
there before is not what makes two places alike.
"""

from __future__ import annotations

from collections.abc import Sequence

from plectrum.core.planning.plan import Plan
from plectrum.core.planning.strokes.equal_bars import bars_of

Key = tuple[object, ...]


def places_like(plan: Plan, units: Sequence[int]) -> list[tuple[int, ...]]:
    """Other places of a piece that are like that of some bows: for each, the bows that match
    these, in the order of the piece. Places do not overlap.

    Args:
        units: the bows, in order; all bars from the first to the last count.
    """
    if not units:
        return []
    bars = [(number, members) for _, number, members in bars_of(plan.part, plan.tables.units)]
    heads = {plan.tables.units[i].first: i for i in range(len(plan.tables.units))}
    at = {i: k for k, (_, members) in enumerate(bars) for i in members}
    chosen = [heads.get(plan.units[u].first) for u in units]
    if any(i is None for i in chosen):
        return []
    first, last = at[chosen[0]], at[chosen[-1]]  # type: ignore[index]
    wanted = [_key(plan, bars[k]) for k in range(first, last + 1)]
    found, k = [], 0
    while k + len(wanted) <= len(bars):
        here = range(k, k + len(wanted))
        apart = k > last or k + len(wanted) <= first
        if apart and [_key(plan, bars[b]) for b in here] == wanted:
            found.append(_matching(plan, bars, first, k, chosen, at))
            k += len(wanted)
        else:
            k += 1
    return [place for place in found if place]


def _key(plan: Plan, bar: tuple[int, Sequence[int]]) -> Key:
    """Rhythm and marks, and the fingers on strings counted from the first note's."""
    number, members = bar
    units = plan.tables.units
    rows: list[tuple[int, int]] = []
    for index in range(units[members[0]].first, units[members[-1]].last + 1):
        grip = plan.fingered[index].grip
        rows += [(-1, 9)] if grip is None else [(f.string, f.finger) for f in grip.fingers]
    lowest = rows[0][0] if rows else 0
    return number, tuple((string - lowest, finger) for string, finger in rows)


def _matching(
    plan: Plan,
    bars: Sequence[tuple[int, Sequence[int]]],
    first: int,
    start: int,
    chosen: Sequence[int | None],
    at: dict[int, int],
) -> tuple[int, ...]:
    """The bows there that stand where the chosen ones stand here; none where one is slurred."""
    first_of = {plan.units[u].first: u for u in range(len(plan.units))}
    matched = []
    for i in chosen:
        if i is None:
            return ()
        bar = at[i]
        inside = list(bars[bar][1]).index(i)
        other = bars[start + bar - first][1][inside]
        unit = first_of.get(plan.tables.units[other].first)
        if unit is None:
            return ()
        matched.append(unit)
    return tuple(matched)
