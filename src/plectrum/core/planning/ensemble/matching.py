"""Where parts have the same rhythm of bows: bows that begin and end at the same times."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from plectrum.core.planning.ensemble.imitation import echoes_of
from plectrum.core.planning.strokes.context import columns_of
from plectrum.core.planning.strokes.units import Unit, Units
from plectrum.core.score.model import Note, Part

Ints = NDArray[np.int64]
MOST_TOGETHER_N = 40  # parts; what they ask of each other grows with the square (own default)
Span = tuple[float, float]  # equal fractions are equal numbers, which are hashed far quicker


@dataclass(frozen=True, eq=False)
class Matched:
    """The M moments at which two or more of P parts begin bows that end together.

    Attributes:
        units: shape (M, P), the unit of each part; −1 where it has none there.
        held: shape (M,), whether a part is pinned or marked there.
        place: shape (M,), where in the bar it is, as in `context.PLACES`.
        before: of each part the unit that is played before each; −1 before the first.
        echoes: of two parts, the first before the second, the units of the one that imitate units
            of the other, or are imitated by them, beside those; each of shape (E,).
        begins: the same of those that only begin together, with the bar; each of shape (B,).
    """

    units: Ints
    held: NDArray[np.bool_]
    place: Ints
    before: tuple[Ints, ...]
    echoes: Mapping[tuple[int, int], tuple[Ints, Ints]]
    begins: Mapping[tuple[int, int], tuple[Ints, Ints]]

    def __len__(self) -> int:
        return len(self.units)

    @property
    def parts_n(self) -> int:
        return int(self.units.shape[1])

    @property
    def too_many(self) -> bool:
        """So many parts that each is planned by itself."""
        return self.parts_n > MOST_TOGETHER_N

    def pairs(self, one: int, other: int) -> tuple[Ints, Ints, Ints]:
        """The moments two parts share, and the unit of each there."""
        at = np.flatnonzero((self.units[:, one] >= 0) & (self.units[:, other] >= 0))
        return at, self.units[at, one], self.units[at, other]

    def went_before(self, row: int, part: int) -> int:
        """The moment at which the bow before a part's own at this one began; −1 for none."""
        unit = int(self.units[row, part])
        return self._moments[part].get(int(self.before[part][unit]), -1)

    @cached_property
    def _moments(self) -> list[dict[int, int]]:
        """Of each part: unit to moment."""
        return [
            {unit: m for m, unit in enumerate(column) if unit >= 0}
            for column in self.units.T.tolist()
        ]


def main_note(part: Part, unit: Unit) -> Note | None:
    """The first note of a unit that is no grace note."""
    members = part.notes[unit.first : unit.last + 1]
    return next((note for note in members if not note.grace), None)


def spans_of(part: Part, units: Sequence[Unit]) -> dict[Span, int]:
    """When each unit begins and ends, in quarters, to its index."""
    found = {}
    for unit in units:
        head, last = main_note(part, unit), part.notes[unit.last]
        if head is not None:
            found[span_of(head)[0], span_of(last)[1]] = unit.index
    return found


def span_of(note: Note) -> Span:
    """When a note begins and ends, in quarters."""
    return _number(note.onset_q), _number(note.onset_q + note.duration_q)


def _number(quarters: Fraction) -> float:
    return quarters.numerator / quarters.denominator


def match(parts: Sequence[Part], units: Sequence[Units]) -> Matched:
    """The moments that match, in the order of time; none of too many parts."""
    before = tuple(own.base.before for own in units)
    if len(parts) > MOST_TOGETHER_N:
        none = np.empty((0, len(parts)), dtype=np.int64)
        return Matched(none, none[:, 0] > 0, none[:, 0], before, {}, {})
    spans = [spans_of(part, own) for part, own in zip(parts, units, strict=True)]
    shared = sorted(span for span in set().union(*spans) if sum(span in own for own in spans) > 1)
    rows = [[own.get(span, -1) for own in spans] for span in shared]
    held = [
        any(i >= 0 and _is_held(own[i]) for i, own in zip(row, units, strict=True)) for row in rows
    ]
    places = [columns_of(part).place for part in parts]
    place = [
        min(int(of[own[i].first]) for i, of, own in zip(row, places, units, strict=True) if i >= 0)
        for row in rows
    ]
    return Matched(
        np.array(rows, dtype=np.int64).reshape(-1, len(parts)),
        np.array(held, dtype=bool),
        np.array(place, dtype=np.int64),
        before,
        echoes_of([_written(part, own) for part, own in zip(parts, units, strict=True)]),
        _begins([_first_beats(part, own) for part, own in zip(parts, units, strict=True)]),
    )


def _first_beats(part: Part, units: Sequence[Unit]) -> dict[float, tuple[int, float]]:
    """The units that begin with a bar: when, which, and when they end, in quarters."""
    found = {}
    for unit in units:
        head, last = main_note(part, unit), part.notes[unit.last]
        if head is not None and head.metric_weight == 1.0:
            found[span_of(head)[0]] = unit.index, span_of(last)[1]
    return found


def _begins(
    first: Sequence[Mapping[float, tuple[int, float]]],
) -> dict[tuple[int, int], tuple[Ints, Ints]]:
    """Of every two parts the units that begin with a bar and end apart."""
    found = {}
    for p, q in combinations(range(len(first)), 2):
        both = [(first[p][at], first[q][at]) for at in first[p].keys() & first[q].keys()]
        apart = sorted((one, other) for (one, a), (other, b) in both if a != b)
        pairs = np.array(apart, dtype=np.int64).reshape(-1, 2)
        found[p, q] = pairs[:, 0], pairs[:, 1]
    return found


def _written(part: Part, units: Sequence[Unit]) -> list[tuple[Note, Fraction]]:
    """The first note of each unit, and how long that is."""
    heads = (main_note(part, unit) or part.notes[unit.first] for unit in units)
    lasts = (part.notes[unit.last] for unit in units)
    return [
        (head, last.onset_q + last.duration_q - head.onset_q)
        for head, last in zip(heads, lasts, strict=True)
    ]


def _is_held(unit: Unit) -> bool:
    return unit.mark is not None or not unit.pin.is_empty
