"""The order in which the bars of a part are played: repeats, endings, D.C., D.S., coda and Fine.

As players do it (standard notation): after a jump back repeats are not taken again, and of several
endings the last is played.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from plectrum.core.score.model import Bar, Sign

MOST_PLAYED = 20_000  # bars; a score that asks for more is played as it is written


_WORDS = (
    (Sign.CAPO, re.compile(r"\bD\s?\.?\s?C\b|\bda\s+capo\b", re.IGNORECASE)),
    (Sign.DAL_SEGNO, re.compile(r"\bD\s?\.?\s?S\b|\bdal\s+segno\b", re.IGNORECASE)),
    (Sign.TO_CODA, re.compile(r"\bto\s+coda\b", re.IGNORECASE)),
    (Sign.FINE, re.compile(r"^\s*fine\s*\.?\s*$", re.IGNORECASE)),
    (Sign.SEGNO, re.compile(r"^\s*segno\s*$", re.IGNORECASE)),
    (Sign.CODA, re.compile(r"^\s*coda\s*$", re.IGNORECASE)),
)


def signs_in(words: str) -> frozenset[Sign]:
    """The signs that words over the staff say: "D.C. al Fine", "To Coda", "Fine"."""
    found = {sign for sign, pattern in _WORDS if pattern.search(words)}
    if Sign.CAPO in found or Sign.DAL_SEGNO in found:
        found &= {Sign.CAPO, Sign.DAL_SEGNO}
    return frozenset(found)


@dataclass(frozen=True, slots=True)
class Run:
    """Bars played one after another, by index; `time` is 1 where they come first, 2 the second
    time and so on."""

    first: int
    last: int
    time: int


def playing_order(bars: Sequence[Bar]) -> tuple[Run, ...]:
    """The bars as they are played, in runs of neighbours."""
    order = _Player(bars).order() or list(range(len(bars)))
    runs: list[Run] = []
    times = [0] * len(bars)
    for bar in order:
        times[bar] += 1
        run = runs[-1] if runs else None
        if run is not None and bar == run.last + 1 and times[bar] == run.time:
            runs[-1] = Run(run.first, bar, run.time)
        else:
            runs.append(Run(bar, bar, times[bar]))
    return tuple(runs)


def times_played(bars: Sequence[Bar]) -> list[int]:
    """How often each bar is played."""
    times = [0] * len(bars)
    for run in playing_order(bars):
        for bar in range(run.first, run.last + 1):
            times[bar] += 1
    return times


class _Player:
    """Walks through the bars."""

    def __init__(self, bars: Sequence[Bar]) -> None:
        self._bars = bars
        self._jumped = False
        self._start = 0  # where the present repeat begins
        self._time = 1

    def order(self) -> list[int]:
        """Indices in the order of playing; none if it would not end."""
        at, order = 0, []
        while at < len(self._bars):
            bar = self._bars[at]
            if bar.repeat_start and at != self._start:
                self._start, self._time = at, 1
            if bar.endings and not self._is_taken(bar):
                at += 1
                continue
            order.append(at)
            if len(order) > MOST_PLAYED:
                return []
            at = self._next(at)
        return order

    def _is_taken(self, bar: Bar) -> bool:
        """Whether an ending is the one of this time; after a jump the last one is."""
        last = self._times()
        return (last if self._jumped else min(self._time, last)) in bar.endings

    def _times(self) -> int:
        """How often the present repeat is played: as its endings count, or its sign says."""
        most = 1
        inside = False
        for bar in self._bars[self._start :]:
            if inside and not bar.endings:
                break
            inside = inside or bool(bar.endings)
            most = max(most, bar.repeat_end, *bar.endings)
            if bar.repeat_end and not inside:
                break
        return most

    def _next(self, at: int) -> int:
        bar = self._bars[at]
        if bar.repeat_end and not self._jumped and self._time < self._times():
            self._time += 1
            return self._start
        following = self._bars[at + 1] if at + 1 < len(self._bars) else None
        if bar.repeat_end or (bar.endings and (following is None or not following.endings)):
            self._start, self._time = at + 1, 1
        if self._jumped:
            return self._after_jump(bar)
        if Sign.CAPO in bar.signs or Sign.DAL_SEGNO in bar.signs:
            return self._jump(bar)
        return at + 1

    def _after_jump(self, bar: Bar) -> int:
        if Sign.FINE in bar.signs:
            return len(self._bars)
        codas = (b.index for b in self._bars if Sign.CODA in b.signs)
        onward = bar.index + 1
        return next(codas, onward) if Sign.TO_CODA in bar.signs else onward

    def _jump(self, bar: Bar) -> int:
        self._jumped = True
        self._start, self._time = 0, 1
        if Sign.CAPO in bar.signs:
            return 0
        found = (b.index for b in self._bars if Sign.SEGNO in b.signs)
        return next(found, 0)
