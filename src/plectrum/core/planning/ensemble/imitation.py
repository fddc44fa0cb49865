"""Where one part imitates another: the same rhythm and the same ups and downs of the tune, a little
later at the same place of the bar, as in a round. What is imitated is bowed as it was (common
practice, no source)."""

from __future__ import annotations

from collections.abc import Hashable, Mapping, Sequence
from fractions import Fraction
from itertools import pairwise, permutations

import numpy as np
from numpy.typing import NDArray

from plectrum.core.planning import rules
from plectrum.core.score.model import Note

Ints = NDArray[np.int64]
Figures = Mapping[int, Sequence[tuple[int, int]]]  # by number: quicker to compare than fractions
Bows = Sequence[tuple[Note, Fraction]]


def echoes_of(parts: Sequence[Bows]) -> dict[tuple[int, int], tuple[Ints, Ints]]:
    """Of two parts, the first before the second: the bows of each that are imitated by bows of the
    other, or imitate them, beside those.

    Args:
        parts: of each its bows: the first note, and how many quarters it lasts.
    """
    n = int(rules.FIGURE_N)
    numbers: dict[Hashable, int] = {}
    figures = [_figures(bows, n, numbers) for bows in parts]
    found: dict[tuple[int, int], set[tuple[int, int]]] = {}
    for p, q in permutations(range(len(parts)), 2):
        for i, j in _imitated(figures[p], figures[q]):
            pairs = found.setdefault((min(p, q), max(p, q)), set())
            pairs.update((i + k, j + k) if p < q else (j + k, i + k) for k in range(n))
    return {
        key: (one, other)
        for key, pairs in found.items()
        for one, other in [np.array(sorted(pairs), dtype=np.int64).T]
    }


def _imitated(earlier: Figures, later: Figures) -> list[tuple[int, int]]:
    """The first bows of figures of one part, and of those of another that imitate them: of several
    that could be meant the last."""
    found = []
    for figure in earlier.keys() & later.keys():
        for bar, j in later[figure]:
            before = [i for own, i in earlier[figure] if 0 < bar - own <= rules.LATER_BARS_N]
            found += [(i, j) for i in before[-1:]]
    return found


def _figures(bows: Bows, n: int, numbers: dict[Hashable, int]) -> dict[int, list[tuple[int, int]]]:
    """Every figure of n bows by its number, with the bars and numbers of the bows that begin it.
    One of equal notes is none: everything would imitate everything."""
    steps = [
        (lasts_q, after.onset_q - note.onset_q, _way(note, after))
        for (note, lasts_q), (after, _) in pairwise(bows)
    ]
    found: dict[int, list[tuple[int, int]]] = {}
    for k in range(len(steps) - n + 2):
        figure = tuple(steps[k : k + n - 1])
        if len({(lasts, until) for lasts, until, _ in figure}) > 1:
            head = bows[k][0]
            number = numbers.setdefault((head.beat, figure), len(numbers))
            found.setdefault(number, []).append((head.bar_index, k))
    return found


def _way(note: Note, after: Note) -> int:
    """Whether the tune goes up or down, or stays."""
    step = after.pitches[-1].midi - note.pitches[-1].midi
    return (step > 0) - (step < 0)
