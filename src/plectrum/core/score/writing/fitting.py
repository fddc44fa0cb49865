"""A tune moved to where another string instrument can play it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from plectrum.core.score.instruments import LOWEST_MIDI

# How far above the lowest open string the first position reaches, in semitones: three strings
# and a fourth finger on the top one for instruments in fifths; the bass is tuned in fourths.
REACH_SEMITONES = {"violin": 28, "viola": 28, "cello": 26, "bass": 19}
# Sounding distance of the lowest strings: an interval that keeps strings and fingers (standard
# tunings); to and from the bass no interval does.
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
    low = LOWEST_MIDI[target]
    high = low + REACH_SEMITONES[target]
    same_strings = LOWEST_MIDI[target] - LOWEST_MIDI[source]
    candidates = []
    for semitones in range(-43, 44):
        shift = (7 * semitones) % 12
        for change in (shift, shift - 12):
            if abs(fifths + change) > 6:
                continue
            outside = sum(1 for m in midis if not low <= m + semitones <= high)
            signs = max(0, abs(fifths + change) - EASY_FIFTHS)
            keeps = "bass" not in (source, target) and semitones == same_strings
            cost = (outside, not keeps, signs, abs(semitones) % 12 != 0, abs(semitones))
            candidates.append((cost, abs(change), Interval(change, semitones)))
    return min(candidates, key=lambda row: row[:2])[2]
