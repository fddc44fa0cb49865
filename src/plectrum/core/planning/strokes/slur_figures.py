"""Figures around a join: the rhythm and line of the notes beside it, its place in the bar, its
dots.

A figure is a key of words, as `slur_figures.json` has them. Durations count in twelfths of a beat,
"-" where there is no note; intervals in classes of `INTERVALS`.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping

import numpy as np
from numpy.typing import NDArray

from plectrum.core.planning.strokes.context import PLACES
from plectrum.core.planning.strokes.slur_columns import SlurColumns

# Whose durations and intervals a figure has; 0 is the note that would be joined to the one before.
SHAPES: Mapping[str, tuple[tuple[int, ...], tuple[int, ...]]] = {
    "pair": ((-1, 0), ()),
    "before": ((-2, -1, 0), ()),
    "after": ((-1, 0, 1), ()),
    "around": ((-2, -1, 0, 1), ()),
    "line": ((-1, 0), (0,)),
    "turn": ((0,), (-1, 0, 1)),
}
INTERVALS = (0.5, 2.5, 4.5, 7.5)  # semitones: repeated, step, third, up to a fifth, wider
DOTS = ("plain", "to-dot", "from-dot", "dots")
_NONE = "-"


def figures_of(c: SlurColumns) -> list[tuple[str, ...]]:
    """The figures of each note being joined to the one before, one of each shape."""
    if not len(c.pitch):
        return []
    durations, intervals = _durations(c), _intervals(c)
    places = _places(c)
    shapes = [
        [
            " ".join(words)
            for words in zip(
                [name] * len(places),
                *(_beside(durations, k) for k in beside),
                *(_beside(intervals, k) for k in steps),
                places,
                strict=True,
            )
        ]
        for name, (beside, steps) in SHAPES.items()
    ]
    return list(zip(*shapes, strict=True))


def figure_scores(c: SlurColumns, worth: Mapping[str, float]) -> NDArray[np.float64]:
    """What print says of joining each note to the one before, from the figures alone: log odds."""
    sums = (sum(worth.get(key, 0.0) for key in keys) for keys in figures_of(c))
    return np.fromiter(sums, np.float64, len(c.pitch))


def _durations(c: SlurColumns) -> list[str]:
    twelfths = np.rint(12 * c.quarters / np.maximum(c.columns.beat_q, 1e-6)).astype(int)
    return [str(t) for t in twelfths]


def _intervals(c: SlurColumns) -> list[str]:
    steps = np.abs(np.diff(c.pitch, prepend=c.pitch[:1]))
    return [f"i{k}" for k in np.digitize(steps, INTERVALS)]


def _places(c: SlurColumns) -> list[str]:
    """The place of each note, its metre, and whether the two notes have dots."""
    cols = c.columns
    metre = np.where(cols.compound, "compound", "simple")
    dots = np.array(DOTS)[2 * np.roll(c.stopped, 1) + c.stopped]
    return [f"{PLACES[p]} {m} {d}" for p, m, d in zip(cols.place, metre, dots, strict=True)]


def _beside(words: list[str], k: int) -> Iterator[str]:
    n = len(words)
    return (words[i + k] if 0 <= i + k < n else _NONE for i in range(n))
