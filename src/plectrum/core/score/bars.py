"""The bars of a score, as printed, from the measures of its parts."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from itertools import zip_longest

from plectrum.core.incoming.numbers import only_whole
from plectrum.core.score.model import (
    Bar,
    Sign,
)
from plectrum.core.score.raw import RawMeasure, RawPart


def bar_lengths(parts: Sequence[RawPart]) -> list[int]:
    """Ticks of every measure: the longest content of any part, or the metre if all are empty."""
    count = max(len(p.measures) for p in parts)
    lengths = []
    for k in range(count):
        measures = [p.measures[k] for p in parts if k < len(p.measures)]
        content = max((m.content_t for m in measures), default=0)
        lengths.append(content or round(measures[0].metre.length_q * parts[0].ticks_a_quarter))
    return lengths


def signs_by_bar(parts: Sequence[RawPart]) -> list[frozenset[Sign]]:
    """Where the player goes on elsewhere; it may be written in one part for all."""
    rows = zip_longest(*(part.measures for part in parts))
    return [frozenset().union(*(m.signs for m in row if m is not None)) for row in rows]


def build_bars(
    measures: Sequence[RawMeasure],
    lengths_t: Sequence[int],
    ticks: int,
    signs: Sequence[frozenset[Sign]],
) -> tuple[Bar, ...]:
    """Bars with printed numbers and with the beats a short bar is missing in front."""
    bars: list[Bar] = []
    ending: tuple[int, ...] = ()
    onset_t = 0
    short_t = 0  # what the bar before lacked, if it was short and not itself a completion
    for k, (measure, length_t) in enumerate(zip(measures, lengths_t, strict=False)):
        nominal_t = round(measure.metre.length_q * ticks)
        missing_t = max(0, nominal_t - length_t)
        completes = bool(short_t) and length_t == short_t
        pad_t = missing_t if k == 0 or completes else 0
        ending = measure.endings or ending
        bars.append(
            Bar(
                k,
                _printed_number(measure, bars),
                Fraction(onset_t, ticks),
                Fraction(length_t, ticks),
                measure.metre,
                Fraction(pad_t, ticks),
                measure.repeat_start,
                measure.repeat_end,
                ending,
                measure.section_end or measure.repeat_end > 0,
                signs[k],
            )
        )
        if measure.ending_stops or measure.repeat_end:
            ending = ()
        onset_t += length_t
        short_t = 0 if pad_t else missing_t
    return tuple(bars)


def _printed_number(measure: RawMeasure, before: Sequence[Bar]) -> int:
    """Its own number; a bar that prints none goes on with the last one, a pickup is 0."""
    printed = only_whole(measure.number)
    if printed is not None and printed >= 0 and not measure.implicit:
        return printed
    return before[-1].number if before else 0
