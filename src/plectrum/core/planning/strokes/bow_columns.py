"""What any bows over the notes of a part would like, as columns: an entry a bow.

Sums over the notes of a bow: how much bow they wish for and how long it moves. A bow that takes
several notes need not be one that is played: where slurs are free, there are thousands to choose
from.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from plectrum.core.document.choices import Choices
from plectrum.core.planning import rules
from plectrum.core.planning.fingering.grips import Fingered
from plectrum.core.planning.strokes.amounts import STOPPED, Amounts
from plectrum.core.planning.strokes.context import columns_of
from plectrum.core.player.school import CrossingSchool, DottedSchool
from plectrum.core.score.model import Articulation, Direction, Note, Part, note_table

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]
Crossings = tuple[tuple[float, float], ...]


def stops_inside(note: Note, before: Note) -> bool:
    """Whether two notes under one slur are separated by a stop: dots, or a rest between."""
    if note.gap_before_s > 0:
        return True
    if not note.articulations:
        return False
    dotted = bool(note.articulations & STOPPED and before.articulations & STOPPED)
    return dotted and Articulation.RICOCHET not in note.articulations


class NoteColumns:
    """What of each note its bow is summed from; arrays of shape (M,), in the order of the notes.

    Attributes:
        onset_s, end_s, held_s, duration_s, duration_q, beat_s, gap_s, weight: as in the score.
        moving_s, length, stopped_moving_s, stopped_length, place: see `Amounts`.
        gain: times the length on the strings it lies on.
        stops: whether the bow stops before it inside a bow.
        trouble: what the change of the arm's level into it troubles; 0 where there is none.
        marked: notes with bow marks.
    """

    def __init__(
        self, part: Part, choices: Choices, fingered: Sequence[Fingered], amounts: Amounts
    ) -> None:
        notes, table = part.notes, note_table(part)
        columns = columns_of(part)
        self.onset_s, self.end_s, self.held_s = columns.onset_s, columns.end_s, columns.held_s
        self.duration_s = np.array(table["duration_s"], dtype=float)
        self.duration_q = columns.duration_q
        self.beat_s = np.array(table["beat_s"], dtype=float)
        self.gap_s = np.array(table["gap_before_s"], dtype=float)
        self.weight = np.array(table["metric_weight"], dtype=float)
        self.phrase_end = np.array(table["phrase_end"], dtype=bool)
        self._marks: tuple[Direction | None, ...] = table["mark"]
        self.marked = [k for k, mark in enumerate(self._marks) if mark is not None]
        self.gain = np.array([amounts.string_gain(f.strings) for f in fingered], dtype=float)
        self.stops = np.zeros(len(notes), dtype=bool)
        maybe = [k for k, a in enumerate(table["articulations"]) if k and a]
        for k in [*np.flatnonzero(self.gap_s > 0).tolist(), *maybe]:
            self.stops[k] = k > 0 and stops_inside(notes[k], notes[k - 1])
        rolling = choices.school.crossing is CrossingSchool.ROLLING
        plucked = np.array(table["pizzicato"], dtype=bool)
        self.trouble = self._troubles(
            columns.before, plucked, fingered, rules.ROLLING_SHARE if rolling else 1.0
        )
        self.amounts = amounts
        self.most = amounts.high - amounts.low
        self.lifts_pairs = choices.school.dotted is DottedSchool.LIFT

    def _troubles(
        self, played: Ints, plucked: Bools, fingered: Sequence[Fingered], times: float
    ) -> Floats:
        """A change of level troubles more after a short note."""
        level = np.array([f.level or -1 for f in fingered], dtype=float)
        found = np.zeros(len(level))
        at = np.flatnonzero(~plucked)
        came = np.append(-1, at)[:-1] if len(at) else at
        came = np.where(played[at] == at - 1, came, played[at])
        known = (came >= 0) & ~plucked[came]
        before, after = came[known], at[known]
        apart = np.abs(level[after] - level[before]) / 2
        apart[(level[after] < 0) | (level[before] < 0)] = 0.0
        time_s = np.maximum(self.duration_s[before] + self.gap_s[after], 1e-3)
        haste = np.minimum(1.0, rules.FAST_CROSSING_S / time_s)
        found[after] = np.round(apart * haste * times, 2)
        return found

    def crossings(self, first: int, last: int) -> Crossings:
        """Where in a bow the arm changes level, as shares of its time, and how much each troubles;
        the change into the bow counts."""
        if first == last:
            return ((0.0, self.trouble.item(first)),)
        onset_s = self.onset_s.item(first)
        whole_s = self.end_s.item(last) - onset_s
        troubles = enumerate(self.trouble[first : last + 1].tolist(), first)
        return tuple(
            (round((self.onset_s.item(k) - onset_s) / whole_s if whole_s > 0 else 0.0, 2), t)
            for k, t in troubles
            if t
        )

    def mark(self, first: int, last: int) -> Direction | None:
        """The first bow mark at a note of a bow."""
        at = bisect_left(self.marked, first)
        found = at < len(self.marked) and self.marked[at] <= last
        return self._marks[self.marked[at]] if found else None


@dataclass(frozen=True, slots=True, eq=False)
class BowColumns:
    """B bows; arrays of shape (B,). Lengths and places are fractions of the hair.

    Attributes:
        first, last: its notes.
        moving_s: how long the bow moves, of a tremolo in each stroke.
        usual_length, ideal_length: what it wishes for, on the highest string and on its own; where
            the sound asks for more bow than there is, more, so that it gets what there is.
        free_s: how long the bow may be in the air before it.
        short_after_long: whether it is the short note of a dotted pair.
        trouble: what all its changes of the arm's level trouble, and `share` after which part of
            its time on the average.
    """

    first: Ints
    last: Ints
    duration_s: Floats
    moving_s: Floats
    ideal_length: Floats
    usual_length: Floats
    ideal_place: Floats
    metric_weight: Floats
    free_s: Floats
    short_after_long: Bools
    trouble: Floats
    share: Floats

    def joined(self, other: BowColumns) -> BowColumns:
        """These bows and others after them."""
        return BowColumns(
            *(np.concatenate([getattr(self, n), getattr(other, n)]) for n in self.__slots__)
        )

    def some(self, which: Bools | Ints) -> BowColumns:
        return BowColumns(*(getattr(self, name)[which] for name in self.__slots__))


def bow_columns(
    notes: NoteColumns, first: Ints, last: Ints, before: Ints, fed: Mapping[int, float]
) -> BowColumns:
    """The bows from first to last notes.

    Args:
        before: the note before each that ends the bow before it; −1 where there is none.
        fed: note index to times its wished length.
    """
    n, amounts = notes, notes.amounts
    inner = np.append(n.stops[1:], False)
    moving_s = np.where(inner, amounts.stopped_moving_s, amounts.moving_s) / amounts.strokes
    length = np.where(inner, amounts.stopped_length, amounts.length)

    def wished(gain: Floats) -> Floats:
        return _sums(length * gain, first, last) + (amounts.length * gain)[last]

    usual, own = _sums(length, first, last) + amounts.length[last], wished(n.gain)
    ideal = np.minimum(own, n.most)
    if fed:
        gain = n.gain.copy()
        gain[list(fed)] *= list(fed.values())
        asked = wished(gain)
        ideal = np.where(asked == own, ideal, ideal * asked / own)
    onset_s = n.onset_s[first]
    duration_s = n.end_s[last] - onset_s
    pair = _dotted_pairs(n, first, last, before)
    trouble = _sums(n.trouble, first, last) + n.trouble[last]
    moments = _sums(n.trouble * n.onset_s, first, last) + (n.trouble * n.onset_s)[last]
    share = (moments - trouble * onset_s) / np.maximum(trouble * duration_s, 1e-9)
    return BowColumns(
        first,
        last,
        duration_s,
        _sums(moving_s, first, last) + (amounts.moving_s / amounts.strokes)[last],
        ideal,
        np.minimum(usual, n.most),
        amounts.place[first],
        n.weight[first],
        _free_s(n, first, before, pair),
        pair,
        trouble,
        share,
    )


def _sums(values: Floats, first: Ints, last: Ints) -> Floats:
    """The sum of the values from first to before last of each bow, added in their order, so that
    equal bows have equal sums."""
    if not len(first):
        return np.zeros(0)
    sums: Floats = np.add.reduceat(values, np.stack([first, last], axis=1).ravel())[::2]
    return np.where(first < last, sums, 0.0)


def _dotted_pairs(n: NoteColumns, first: Ints, last: Ints, before: Ints) -> Bools:
    """A short note right after one at least twice as long, off the beat."""
    found: Bools = (before >= 0) & (first == last)
    found &= (n.weight[first] < rules.PAIR_OFF_BEAT) & (n.gap_s[first] == 0)
    found &= n.duration_s[first] <= rules.PAIR_SHORT_BEATS * n.beat_s[first]
    found &= n.duration_q[first] * rules.PAIR_RATIO <= n.duration_q[before]
    return found


def _free_s(n: NoteColumns, first: Ints, before: Ints, pair: Bools) -> Floats:
    """Seconds in which the bow may be in the air before each bow."""
    free_s = n.onset_s[first] - n.end_s[before] + rules.STOLEN_S * n.phrase_end[before]
    free_s += n.held_s[before]
    if n.lifts_pairs:
        free_s += rules.LIFTED_SHARE * n.duration_s[before] * pair
    return np.where(before >= 0, free_s, 0.0)
