"""A piece cut into phrases of two to four bars (common practice), as sections to propose.

The cuts are found exactly: of all ways to cut a stretch the one with the least cost, where four
bars are best, and a cut is better at the end of a phrase than inside a slur. The costs are own
defaults. A pickup belongs to the phrase it leads into (common practice).
"""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from itertools import pairwise

from plectrum.core.score.model import Bar, Note, Part

LENGTH_COSTS = {1: 4.0, 2: 0.6, 3: 0.7, 4: 0.0}
PHRASE_END, BOUND_OVER = -0.4, 1.5  # a cut after a breath or rest; inside a slur
LONG_END = -0.2  # a cut after a bar that ends with its longest note


def phrases_of(part: Part) -> list[tuple[int, int]]:
    """First and last note of every phrase: the piece cut at repeats and double bars, and those
    stretches where it breathes."""
    if not part.notes:
        return []
    cuts = [cut for first, last in _stretches(part) for cut, _ in _phrases(part, first, last)]
    begins = {0} | {k for bar in cuts if (k := _begin_of(part, bar)) is not None}
    return _spans(sorted(begins), len(part.notes))


def _spans(begins: Sequence[int], notes_n: int) -> list[tuple[int, int]]:
    ends = [*begins[1:], notes_n]
    return [(begin, end - 1) for begin, end in zip(begins, ends, strict=True)]


def _stretches(part: Part) -> list[tuple[int, int]]:
    """First and last bar between repeats and double bars; a pickup alone is no stretch."""
    found = []
    start = 0
    for bar in part.bars:
        ends = bar.section_end or bar.index == len(part.bars) - 1
        begins_next = bar.index + 1 < len(part.bars) and part.bars[bar.index + 1].repeat_start
        if bar.index == 0 and _is_pickup(bar) and len(part.bars) > 1:
            continue
        if ends or begins_next:
            found.append((start, bar.index))
            start = bar.index + 1
    return found


def _is_pickup(bar: Bar) -> bool:
    return bar.number == 0 or bar.pad_q > 0


def _begin_of(part: Part, bar_index: int) -> int | None:
    """The note that a phrase from a bar on begins with: its pickup, where it has one as long as
    the piece's own; None where nothing follows."""
    at_q = part.bars[bar_index].onset_q
    first = next((n for n in part.notes if n.bar_index >= bar_index), None)
    pickup_q = part.bars[0].duration_q if _is_pickup(part.bars[0]) else Fraction(0)
    if first is None or not pickup_q or bar_index <= 1:
        return None if first is None else first.index
    led = next((n for n in part.notes if n.onset_q == at_q - pickup_q and not n.grace), None)
    if led is None or led.slurred or led.index == 0 or first.slurred:
        return first.index
    return led.index


def _cut_costs(part: Part) -> list[float]:
    """What a cut after each bar costs."""
    costs = [0.0] * len(part.bars)
    last_of: dict[int, Note] = {}
    longest: dict[int, float] = {}
    for note in part.notes:
        last_of[note.bar_index] = note
        longest[note.bar_index] = max(longest.get(note.bar_index, 0.0), float(note.duration_q))
    for bar, note in last_of.items():
        end_q = part.bars[bar].onset_q + part.bars[bar].duration_q
        if note.phrase_end or note.end_q < end_q:
            costs[bar] += PHRASE_END
        if float(note.duration_q) >= longest[bar] and note.end_q <= end_q:
            costs[bar] += LONG_END
        if note.end_q > end_q:
            costs[bar] += BOUND_OVER
    for before, after in pairwise(part.notes):
        if after.slurred and after.bar_index > before.bar_index:
            costs[before.bar_index] += BOUND_OVER
    return costs


def _phrases(part: Part, first: int, last: int) -> list[tuple[int, int]]:
    """The cheapest way to cut a stretch, as first and last bars; a pickup bar belongs to the
    phrase it leads into."""
    cut_costs = _cut_costs(part)
    extra = int(first < last and _is_pickup(part.bars[first]))
    count = last - first + 1
    best: list[tuple[float, int]] = [(0.0, 0)]
    for end in range(1, count + 1):
        choices = []
        for length in range(1, 5 + extra):
            begin = end - length
            full = length - extra if begin == 0 else length
            if begin < 0 or (begin and begin <= extra - 1) or full not in LENGTH_COSTS:
                continue
            cut = cut_costs[first + end - 1] if end < count else 0.0
            choices.append((best[begin][0] + LENGTH_COSTS[full] + cut, begin))
        best.append(min(choices, default=(float("inf"), 0)))
    spans = []
    end = count
    while end > 0:
        begin = best[end][1]
        spans.append((first + begin, first + end - 1))
        end = begin
    return spans[::-1]
