"""Metric weight: how strong a moment of the bar is, from −1 to +1.

The weights are own defaults, ordered as every method teaches it: the first beat
strongest, the middle of a long bar next, other beats weak, between the beats weakest.
"""

from __future__ import annotations

from fractions import Fraction
from functools import lru_cache

from plectrum.core.score.model import Metre
from plectrum.core.wording import NOTE_VALUE, tr

DOWNBEAT = 1.0
MIDDLE = 0.3
GROUP = 0.0
BEAT = -0.4
HALF_BEAT = -0.8
WEAK = -1.0

# How the commonest irregular bars are counted unless the page says otherwise (own default).
_IRREGULAR_GROUPS = {5: (3, 2), 7: (2, 2, 3), 8: (3, 3, 2), 11: (3, 3, 3, 2), 13: (3, 3, 3, 2, 2)}


def counted_groups(metre: Metre) -> tuple[int, ...]:
    """The lengths of the beat groups of a bar, in units of the lower figure."""
    if len(metre.groups) > 1:
        return metre.groups
    beats = metre.beats
    if metre.is_compound:
        return (3,) * (beats // 3)
    if beats in _IRREGULAR_GROUPS and (metre.beat_type >= 8 or beats in (5, 7)):
        return _IRREGULAR_GROUPS[beats]
    return (1,) * beats


@lru_cache(maxsize=4096)
def metric_weight(metre: Metre, offset_q: Fraction) -> float:
    """Weight of a moment `offset_q` quarters into a bar of this metre.

    Returns:
        1 on the first beat, down to −1 between the beats.
    """
    if offset_q == 0:
        return DOWNBEAT
    position = offset_q / metre.unit_q
    groups = counted_groups(metre)
    starts = [sum(groups[:k]) for k in range(len(groups))]
    if position in starts:
        k = starts.index(int(position))
        if len(groups) % 2 == 0 and k == len(groups) // 2 and len(groups) > 2:
            return MIDDLE
        if any(size > 1 for size in groups):
            return MIDDLE if len(groups) == 2 else GROUP
        return BEAT
    if position.denominator == 1:
        return HALF_BEAT
    return HALF_BEAT if (position * 2).denominator == 1 and max(groups) == 1 else WEAK


BEAT_UNITS = {
    Fraction(4): "whole",
    Fraction(2): "half",
    Fraction(3): "dotted-half",
    Fraction(1): "quarter",
    Fraction(3, 2): "dotted-quarter",
    Fraction(1, 2): "eighth",
    Fraction(3, 4): "dotted-eighth",
    Fraction(1, 4): "16th",
}


def beat_unit(beat_q: Fraction) -> str:
    """The name of a beat by its length in quarters; a quarter where it has none."""
    return BEAT_UNITS.get(beat_q, "quarter")


_BEAT_SIGNS = {
    "whole": tr("whole", NOTE_VALUE),
    "half": tr("half", NOTE_VALUE),
    "dotted-half": tr("dotted half"),
    "quarter": "♩",
    "dotted-quarter": "♩.",
    "eighth": "♪",
    "dotted-eighth": "♪.",
    "16th": tr("16th", NOTE_VALUE),
}


def beat_sign(beat_q: Fraction) -> str:
    """The beat of a tempo mark as it is shown."""
    return _BEAT_SIGNS[beat_unit(beat_q)]
