"""What makes it likely that notes share a bow: the features of joins, of groups, and of what
follows what.

What each is worth is learnt from printed slurs: a row of the rule table by the same name.
"""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from plectrum.core.planning import rules
from plectrum.core.planning.rules.learnt import slur_figures
from plectrum.core.planning.strokes.context import PLACES
from plectrum.core.planning.strokes.slur_columns import SlurColumns
from plectrum.core.planning.strokes.slur_figures import figure_scores

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]
Features = dict[str, Bools | Floats]
_ALIKE = 1e-6


def join_features(c: SlurColumns, figures: Mapping[str, float] | None = None) -> Features:
    """Of each note being joined to the one before; the first row means nothing.

    Args:
        c: the notes.
        figures: what each figure is worth, in log odds; the shipped table where None.
    """
    at, before = np.arange(len(c.pitch)), np.maximum(np.arange(len(c.pitch)) - 1, 0)
    steps = np.abs(c.pitch - c.pitch[before])
    found: Features = {
        "slur_step": (steps > 0) & (steps <= 2),
        "slur_third": (steps > 2) & (steps <= 4),
        "slur_leap": steps > 7,
        "slur_upwards": c.pitch > c.pitch[before],
    }
    known = (c.level > 0) & (c.level[before] > 0)
    crossed = np.where(known, np.abs(c.level - c.level[before]), 0)
    found["slur_crossing"] = (crossed > 0) & (crossed <= 2)
    found["slur_skipping"] = crossed > 2
    place = c.columns.place
    ratio = c.quarters[before] / np.maximum(c.quarters, _ALIKE)
    for code, name in enumerate(PLACES):
        found[f"slur_onto_{name}"] = place[at] == code
        found[f"slur_to_longer_{name}"] = (place == code) & (ratio < 0.95)
        found[f"slur_to_shorter_{name}"] = (place == code) & (ratio > 1.05)
        found[f"slur_step_onto_{name}"] = (place == code) & (steps > 0) & (steps <= 2)
        found[f"slur_wide_onto_{name}"] = (place == code) & (steps > 4)
    shorter = np.minimum(c.seconds, c.seconds[before])
    found["slur_quick"] = shorter < 0.13
    found["slur_brisk"] = (shorter >= 0.13) & (shorter < 0.24)
    found["slur_slow"] = shorter >= 0.45
    found["slur_over_bar"] = c.columns.bar != c.columns.bar[before]
    found["slur_new_level"] = np.abs(c.level_db - c.level_db[before]) >= rules.NEW_LEVEL_DB
    grace = c.columns.grace
    found["slur_grace"] = grace[before]
    found["slur_figure"] = figure_scores(c, slur_figures() if figures is None else figures)
    return found


def group_features(c: SlurColumns, first: Ints, last: Ints) -> Features:
    """Of groups of two notes or more that share a bow."""
    count = last - first + 1
    cols = c.columns
    place, compound = cols.place[first], cols.compound[first]
    size = np.minimum(count, 5)
    found: Features = {}
    for n in (2, 3, 4, 5):
        found[f"slur_of_{n}"] = size == n
        for code, name in enumerate(PLACES):
            found[f"slur_of_{n}_from_{name}"] = (size == n) & (place == code) & ~compound
            found[f"slur_of_{n}_from_{name}_compound"] = (size == n) & (place == code) & compound
    following = np.minimum(last + 1, len(c.pitch) - 1)
    ends = last + 1 >= len(c.pitch)
    for code, name in enumerate(PLACES):
        found[f"slur_until_{name}"] = ~ends & (cols.place[following] == code)
    found["slur_until_end"] = ends
    beats = (cols.end_q[last] - cols.onset_q[first]) / cols.beat_q[first]
    whole = np.abs(beats - np.rint(beats)) < 1e-3
    on_beat = place <= 2
    for n in (1, 2):
        found[f"slur_fills_{n}"] = on_beat & whole & (np.rint(beats) == n)
    into = np.abs(c.pitch[first] - c.pitch[np.maximum(first - 1, 0)])
    out = np.abs(c.pitch[following] - c.pitch[last])
    found["slur_after_leap"] = (first > 0) & (into > 4)
    found["slur_before_leap"] = ~ends & (out > 4)
    found["slur_after_step"] = (first > 0) & (into <= 2)
    found["slur_before_step"] = ~ends & (out <= 2)
    longer = c.quarters[np.maximum(first - 1, 0)] > c.quarters[first] * 1.05
    found["slur_after_longer"] = (first > 0) & longer
    found["slur_before_longer"] = ~ends & (c.quarters[following] > c.quarters[last] * 1.05)
    found["slur_half_beat"] = np.abs(beats - 0.5) < 1e-3
    found["slur_long"] = beats > 2 + 1e-3
    equal, one_way = _runs(c, first, last)
    found["slur_equal"] = equal
    short = (np.abs(beats - 1) < 1e-3) | (np.abs(beats - 0.5) < 1e-3)
    found["slur_triplet"] = equal & short & (count == 3) & ~compound
    found["slur_one_way"] = one_way & (count > 2)
    return found


def _runs(c: SlurColumns, first: Ints, last: Ints) -> tuple[Bools, Bools]:
    """Whether all notes of a group are as long, and whether they go one way."""
    change = np.zeros(len(c.pitch), dtype=np.int64)
    change[1:] = np.sign(np.diff(c.pitch))
    same = np.zeros(len(c.pitch), dtype=np.int64)
    same[1:] = np.abs(np.diff(c.quarters)) < _ALIKE
    sums = [np.concatenate([[0], np.cumsum(x)]) for x in (same, change == 1, change == -1)]
    joins = last - first
    equal, up, down = (s[last + 1] - s[first + 1] == joins for s in sums)
    return equal, up | down


# What a bow is after another: a group or a single note after a group or a single note.
FOLLOWS = ("slur_after_slur", "slur_after_single", "single_after_slur")
