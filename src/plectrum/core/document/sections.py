"""A piece cut into sections of two to four bars along its phrases (common practice).

The cuts are found exactly: of all ways to cut a stretch the one with the least cost, where four
bars are best, and a cut is better at the end of a phrase than inside a slur. The costs are own
defaults.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from plectrum.core.score.model import Bar, Note, Part

LENGTH_COSTS = {1: 4.0, 2: 0.6, 3: 0.7, 4: 0.0}
PHRASE_END, BOUND_OVER = -0.4, 1.5  # a cut after a breath or rest; inside a slur
LONG_END = -0.2  # a cut after a bar that ends with its longest note
ALIKE_SHARE = 0.5  # a section is a variant of another if this share of its bars is the same


@dataclass(frozen=True, slots=True)
class Section:
    """A run of bars, by bar index; sections with the same letter are alike, with a dash after
    it nearly alike."""

    name: str
    first_bar: int
    last_bar: int
    repeated: bool


def bars_name(first: int, last: int) -> str:
    """Bars by their printed numbers: "bar 3", "bars 5–8", "pickup to bar 4"."""
    if first == last:
        return f"bar {first}" if first else "pickup"
    return f"bars {first}–{last}" if first else f"pickup to bar {last}"


def section_bars(part: Part, first_bar: int, last_bar: int) -> str:
    """The name of a run of bars given by index."""
    return bars_name(part.bars[first_bar].number, part.bars[last_bar].number)


def sections_of(part: Part, equal: Sequence[Sequence[int]]) -> tuple[Section, ...]:
    """The piece cut at repeats and double bars, and those stretches into phrases.

    Args:
        equal: groups of bars that are the same, to name sections that are alike.
    """
    classes = {bar: k for k, bars in enumerate(equal) for bar in bars}
    cut_costs = _cut_costs(part)
    spans: list[tuple[int, int, bool]] = []
    start = 0
    for bar in part.bars:
        ends = bar.section_end or bar.index == len(part.bars) - 1
        begins_next = bar.index + 1 < len(part.bars) and part.bars[bar.index + 1].repeat_start
        if ends or begins_next:
            cuts = _phrases(part.bars, start, bar.index, cut_costs)
            spans += [(first, last, bar.repeat_end > 0) for first, last in cuts]
            start = bar.index + 1
    return tuple(_named(spans, classes))


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


def _phrases(
    bars: Sequence[Bar], first: int, last: int, cut_costs: Sequence[float]
) -> list[tuple[int, int]]:
    """The cheapest way to cut a stretch; a pickup belongs to the section it leads into."""
    extra = int(first < last and (bars[first].number == 0 or bars[first].pad_q > 0))
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


def _named(spans: Sequence[tuple[int, int, bool]], classes: dict[int, int]) -> list[Section]:
    letters: list[tuple[str, list[int]]] = []
    sections = []
    for first, last, repeated in spans:
        content = [classes.get(bar, -1 - bar) for bar in range(first, last + 1)]
        name = ""
        for letter, other in letters:
            same = sum(1 for a, b in zip(content, other, strict=False) if a == b)
            if content == other:
                name = letter
                break
            if not name and same >= ALIKE_SHARE * max(len(content), len(other)):
                name = f"{letter}′"
        if not name:
            name = _letter(len(letters))
            letters.append((name, content))
        sections.append(Section(name, first, last, repeated))
    return sections


def _letter(k: int) -> str:
    """A to Z, then AA to AZ and so on."""
    name = chr(ord("A") + k % 26)
    return name if k < 26 else _letter(k // 26 - 1) + name
