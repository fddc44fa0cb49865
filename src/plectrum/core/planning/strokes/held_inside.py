"""What the teacher says of single notes in a bow, as what it holds of the bow."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from plectrum.core.document.choices import Choices, Pin
from plectrum.core.document.places import Span, span_of
from plectrum.core.errors import ChoiceError
from plectrum.core.planning import rules
from plectrum.core.planning.strokes.amounts import amounts_of, school_range
from plectrum.core.planning.strokes.bow_columns import BowColumns
from plectrum.core.planning.strokes.problem import Ints
from plectrum.core.planning.strokes.sharing import (
    Inside,
    lengths_said,
    said_inside,
    shares_of,
    weights_of,
)
from plectrum.core.planning.strokes.stroke_tables import Held, in_cells
from plectrum.core.score.model import Part, note_numbers


class HeldInside:
    """Of the bows of a part, what is said of single notes in them."""

    def __init__(self, part: Part, choices: Choices) -> None:
        self._part, self._choices = part, choices
        self._usable = school_range(choices)
        said = [note_id for note_id, pin in choices.pins.items() if pin.says_where]
        numbers = note_numbers(part) if said else {}
        self._said = np.array(sorted(numbers[i] for i in said if i in numbers), dtype=np.int64)

    def bows(self, first: Ints | list[int], last: Ints | list[int]) -> list[int]:
        """Which of some bows, by their first and last notes, have several and something said of
        one of them."""
        if not len(self._said):
            return []
        first, last = np.asarray(first), np.asarray(last)
        begins, ends = np.searchsorted(self._said, first), np.searchsorted(self._said, last + 1)
        some = np.flatnonzero((ends > begins) & (last > first)).tolist()
        return [i for i in some if self.inside(first.item(i), last.item(i))]

    def inside(self, first: int, last: int) -> tuple[Inside, ...]:
        """What is said of single notes of a bow."""
        return said_inside(self._part.notes[first : last + 1], self._choices.pins)

    def lengths(self, first: int, last: int) -> dict[int, float]:
        """How much of the hair notes of a bow are said to take, by their number in it."""
        inside = self.inside(first, last)
        return lengths_said(inside, self.spans(inside))

    def held(self, columns: BowColumns, bow: int, pin: Pin, whole: Held) -> Held:
        """What is held of a bow.

        Args:
            pin, whole: what is pinned and held of it as a whole.
        """
        first, last = columns.first.item(bow), columns.last.item(bow)
        inside = self.inside(first, last)
        spans = self.spans(inside)
        lengths = lengths_said(inside, spans)
        amounts = amounts_of(self._part, self._choices)
        members = slice(first, last + 1)
        weights = weights_of(
            amounts.moving_s[members].tolist(), amounts.gain[members].tolist(), pin.amount
        )
        low, high = self._usable
        rest = sum(w for k, w in enumerate(weights) if k not in lengths) / sum(weights)
        wished = sum(lengths.values()) + columns.ideal_length.item(bow) * rest
        length = min(wished, high - low) if whole.length is None else whole.length / rules.CELLS_N
        shares = shares_of(weights, lengths, length)
        ends = (np.cumsum([0.0, *shares]) / sum(shares)).tolist()
        parts = [
            (ends[said.k], ends[said.k + 1], in_cells(span._replace(length=None)))
            for said, span in zip(inside, spans, strict=True)
            if said.place is not None
        ]
        if lengths and whole.length is None:
            whole = whole._replace(length=round(length * rules.CELLS_N))
        return whole._replace(inside=tuple(parts))

    def spans(self, inside: Sequence[Inside]) -> list[Span]:
        """What that means on the bow."""
        return [self._span(said) for said in inside]

    def _span(self, said: Inside) -> Span:
        """What is said; a place the player cannot come to holds nothing: a warning says so."""
        try:
            return span_of(said.place, said.amount, self._choices.bow, self._usable)
        except ChoiceError:
            return Span()
