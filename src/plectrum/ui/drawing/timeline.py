"""Where a time of the music lies on an engraved system, and which notes are on it."""

from __future__ import annotations

import bisect
import itertools
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

from plectrum.core.score.model import Note, Part
from plectrum.ui.engraving.system import System

ASIDE_Q = 1.0  # how far from a line's stretch of time its grace notes are looked for


@dataclass(frozen=True, slots=True)
class Segment:
    """The part of one note that lies on one system.

    `share_from`, `share_to` are how much of the note's length has passed, 0 to 1.
    """

    note: int
    left: float
    right: float
    share_from: float
    share_to: float


@lru_cache(maxsize=32)
def notes_key(part: Part) -> tuple[str, int]:
    """The same for parts whose notes lie at the same places: a plan can be drawn on a line that
    was engraved for another plan only if their keys are equal."""
    places = tuple((n.id, n.bar_index, n.onset_q, n.duration_q) for n in part.notes)
    return part.id, hash((places, len(part.bars)))


class _Times:
    """Onset and end of every note of a part in quarters, and which notes sound in a stretch."""

    def __init__(self, part: Part) -> None:
        self._notes = part.notes
        self._ends = [(float(n.onset_q), float(n.end_q)) for n in part.notes]
        self._latest = list(itertools.accumulate((end for _, end in self._ends), max))
        onsets = (start for start, _ in reversed(self._ends))
        self._earliest = list(itertools.accumulate(onsets, min))[::-1]

    def near(self, start_q: float, end_q: float) -> Iterator[tuple[Note, float, float]]:
        """Notes with onset and end: all that sound in a stretch, and few others. A grace note
        may begin a little before the line it stands on."""
        first = bisect.bisect_left(self._latest, start_q - ASIDE_Q)
        last = bisect.bisect_right(self._earliest, end_q + ASIDE_Q)
        for k in range(first, last):
            yield self._notes[k], *self._ends[k]


def _in_time(segments: Sequence[Segment], part: Part) -> list[Segment]:
    """Grace notes between the note before and their main note, so that nothing lies over another:
    the one ends where they begin, and they end where the other begins."""
    found = list(segments)
    for k in range(len(found) - 1, -1, -1):
        if not part.notes[found[k].note].grace:
            continue
        if k + 1 < len(found):
            right = max(found[k].left + 2, found[k + 1].left)
            found[k] = replace(found[k], right=right)
        if k and not part.notes[found[k - 1].note].grace:
            before = found[k - 1]
            found[k - 1] = replace(
                before, right=max(before.left + 2, min(before.right, found[k].left))
            )
    return found


_times = lru_cache(maxsize=8)(_Times)  # kept, as every line asks for them


class SystemTimeline:
    """Maps quarters to x on one system, through its noteheads and barlines."""

    def __init__(self, system: System, part: Part) -> None:
        bars = sorted(system.bars)
        self.start_q = float(part.bars[bars[0]].onset_q)
        last = part.bars[bars[-1]]
        self.end_q = float(last.onset_q + last.duration_q)
        anchors: dict[float, float] = {}
        for note, start, end in _times(part).near(self.start_q, self.end_q):
            if end <= self.start_q or start >= self.end_q:
                continue
            box = system.notes.get(note.id)
            if box is not None and not note.grace:
                anchors.setdefault(start, box[0] + box[2] / 2)
        for bar in bars:
            left, _right = system.bars[bar]
            anchors.setdefault(float(part.bars[bar].onset_q), left + 10)
        anchors[self.end_q] = system.bars[bars[-1]][1] - 4
        self._times = sorted(anchors)
        self._xs = [anchors[t] for t in self._times]
        for k in range(1, len(self._xs)):  # x never runs backwards
            self._xs[k] = max(self._xs[k], self._xs[k - 1])
        self.segments = self._segments(system, part)
        self.heads = self._heads(system, part)
        self.notes = frozenset(s.note for s in self.segments)

    def x(self, at_q: float) -> float:
        """x of a time, in a straight line between the nearest noteheads and barlines."""
        k = bisect.bisect_right(self._times, at_q)
        if k == 0:
            return self._xs[0]
        if k == len(self._times):
            return self._xs[-1]
        t0, t1, x0, x1 = self._times[k - 1], self._times[k], self._xs[k - 1], self._xs[k]
        return x0 + (x1 - x0) * (at_q - t0) / (t1 - t0)

    def _segments(self, system: System, part: Part) -> list[Segment]:
        segments: list[Segment] = []
        for note, start, end in _times(part).near(self.start_q, self.end_q):
            if note.grace:
                box = system.notes.get(note.id)
                if box is not None:
                    segments.append(Segment(note.index, box[0], box[0] + box[2] + 2, 0.0, 1.0))
                continue
            if end <= self.start_q or start >= self.end_q:
                continue
            a, b = max(start, self.start_q), min(end, self.end_q)
            length = end - start
            segments.append(
                Segment(
                    note.index, self.x(a), self.x(b), (a - start) / length, (b - start) / length
                )
            )
        return _in_time(segments, part)

    def _heads(self, system: System, part: Part) -> dict[int, float]:
        """x of the middle of the head of every note that begins on this system."""
        found = {}
        for segment in self.segments:
            if segment.share_from == 0:
                box = system.notes.get(part.notes[segment.note].id)
                found[segment.note] = segment.left if box is None else box[0] + box[2] / 2
        return found

    def note_at(self, x: float) -> int | None:
        """The note whose stretch of the line holds x, or the nearest one."""
        if not self.segments:
            return None
        return min(
            self.segments, key=lambda s: max(s.left - 6 - x, x - s.right, 0.0) + (s.share_from > 0)
        ).note
