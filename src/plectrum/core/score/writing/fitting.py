"""A tune moved to where another string instrument can play it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from plectrum.core.instrument.specification import Instrument, instrument

EASY_FIFTHS = 3  # keys with more signs than this are for later (common practice)


@dataclass(frozen=True, slots=True)
class Interval:
    """A transposition: steps on the line of fifths, and semitones."""

    fifths: int
    semitones: int


def fit_interval(midis: Sequence[int], fifths: int, source: str, target: str) -> Interval:
    """The interval that puts a tune on another instrument.

    It keeps as many notes as can be within the first position, then the same strings and
    fingers if the tuning allows it, then a plain key, then as small a move as will do.

    Args:
        midis: the sounding pitches.
        fifths: the key of the tune.
        source, target: instruments.
    """
    here, there = instrument(source), instrument(target)
    low = there.open_midis[0]
    high = low + there.reach_semitones
    same_strings = low - here.open_midis[0]
    alike = _steps(here) == _steps(there)
    candidates = []
    for semitones in range(-43, 44):
        shift = (7 * semitones) % 12
        for change in (shift, shift - 12):
            if abs(fifths + change) > 6:
                continue
            outside = sum(1 for m in midis if not low <= m + semitones <= high)
            signs = max(0, abs(fifths + change) - EASY_FIFTHS)
            keeps = alike and semitones == same_strings
            cost = (outside, not keeps, signs, abs(semitones) % 12 != 0, abs(semitones))
            candidates.append((cost, abs(change), Interval(change, semitones)))
    return min(candidates, key=lambda row: row[:2])[2]


def _steps(own: Instrument) -> list[int]:
    """From string to string: instruments tuned alike can share strings and fingers."""
    return [b - a for a, b in pairwise(own.open_midis)]
