"""The order in which the bars of a part are played: repeats, endings, D.C., D.S., coda and Fine.

As players do it (standard notation): after a jump back repeats are not taken again, and of several
endings the last is played.

The bow lives in this order: what stands under a second ending follows what is played before the
first, and a coda what is played before the jump to it.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise
from typing import NamedTuple

from plectrum.core.score.model import Bar, Part, Sign, TempoClock, note_table

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


def bars_before(bars: Sequence[Bar]) -> tuple[int, ...]:
    """The bar that is played before each where it comes first, by index; −1 before the first.
    The way goes on only: what is never played, or comes from later on the page, follows what is
    written before it."""
    found = list(range(-1, len(bars) - 1))
    for before, run in pairwise(playing_order(bars)):
        if run.time == 1 and before.last < run.first:
            found[run.first] = before.last
    return tuple(found)


def skips_s(bars: Sequence[Bar], before: Sequence[int], clock: TempoClock) -> list[float]:
    """The time on the page, in seconds, that is not played on the way to each bar."""
    skipped: list[float] = []
    for k, came in enumerate(before):
        so_far = skipped[came] if came >= 0 else 0.0
        if came not in (k - 1, -1):
            end_q = bars[came].onset_q + bars[came].duration_q
            so_far += clock.seconds(float(bars[k].onset_q)) - clock.seconds(float(end_q))
        skipped.append(so_far)
    return skipped


def last_before(bar: int, before: Sequence[int], last_of: Mapping[int, int]) -> int:
    """The last note that is played before a bar, by index; −1 where there is none.

    Args:
        last_of: the last note of every bar that has any.
    """
    at = before[bar]
    while at >= 0 and at not in last_of:
        at = before[at]
    return last_of.get(at, -1)


class Played(NamedTuple):
    """Of every note of a part the note that is played before it where it comes first (−1 for the
    first of all), and the seconds of the page that are left out on the way to it."""

    before: tuple[int, ...]
    skipped_s: tuple[float, ...]

    @property
    def as_written(self) -> bool:
        """Whether every note follows what is written before it."""
        return all(k == came + 1 for k, came in enumerate(self.before))


@lru_cache(maxsize=8)
def played(part: Part) -> Played:
    """What is played before each note of a part; kept, because no choice changes it."""
    of_bar = note_table(part)["bar_index"]
    before = bars_before(part.bars)
    if all(came == k - 1 for k, came in enumerate(before)):
        return Played(tuple(range(-1, len(of_bar) - 1)), (0.0,) * len(of_bar))
    skipped = skips_s(part.bars, before, TempoClock(part.tempo))
    last_of = {bar: k for k, bar in enumerate(of_bar)}
    found = [
        k - 1 if k and of_bar[k - 1] == bar else last_before(bar, before, last_of)
        for k, bar in enumerate(of_bar)
    ]
    return Played(tuple(found), tuple(skipped[bar] for bar in of_bar))


class _Player:
    """Walks through the bars."""

    def __init__(self, bars: Sequence[Bar]) -> None:
        self._bars = bars
        self._start = 0  # where the present repeat begins
        self._time = 1
        self._heard = -1  # the last bar before a jump back: up to it all is played again
        self._jumps: set[int] = set()  # the signs that were obeyed, each once
        self._codas = _codas(bars)

    def order(self) -> list[int]:
        """Indices in the order of playing; none if it would not end."""
        at, order = 0, []
        while at < len(self._bars):
            bar = self._bars[at]
            if bar.repeat_start and at != self._start:
                self._start, self._time = at, 1
            if bar.endings and not self._is_taken(bar):
                at += 1
                if self._ends_endings(bar):
                    self._start, self._time = at, 1
                continue
            order.append(at)
            if len(order) > MOST_PLAYED:
                return []
            at = self._next(at)
        return order

    def _is_taken(self, bar: Bar) -> bool:
        """Whether an ending is the one of this time; after a jump the last one is."""
        last = self._times()
        return (last if bar.index <= self._heard else min(self._time, last)) in bar.endings

    def _ends_endings(self, bar: Bar) -> bool:
        following = bar.index + 1
        return following == len(self._bars) or not self._bars[following].endings

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
        bar, again = self._bars[at], at <= self._heard
        if bar.repeat_end and not again and self._time < self._times():
            self._time += 1
            return self._start
        if bar.repeat_end or (bar.endings and self._ends_endings(bar)):
            self._start, self._time = at + 1, 1
        if again and Sign.FINE in bar.signs:
            return len(self._bars)
        if again and at in self._codas and self._is_due(self._codas[at]):
            return self._codas[at]
        jumps = not bar.signs.isdisjoint({Sign.CAPO, Sign.DAL_SEGNO})
        return self._jump(bar) if jumps and at not in self._jumps else at + 1

    def _is_due(self, coda: int) -> bool:
        """Whether a coda is the one of this jump: of several, the next one."""
        following = [k for k in self._codas.values() if k > self._heard]
        return not following or coda == min(following)

    def _jump(self, bar: Bar) -> int:
        self._jumps.add(bar.index)
        self._heard = max(self._heard, bar.index)
        self._start, self._time = 0, 1
        if Sign.CAPO in bar.signs:
            return 0
        segnos = [b.index for b in self._bars if Sign.SEGNO in b.signs]
        before = [k for k in segnos if k <= bar.index]
        return max(before, default=min(segnos, default=0))


def _codas(bars: Sequence[Bar]) -> dict[int, int]:
    """Each bar after which it may go on at a coda, and that coda; the nth with the nth. Where only
    the sign itself stands, as in print, the first half of the signs leads to the other."""
    leads = [b.index for b in bars if Sign.TO_CODA in b.signs]
    codas = [b.index for b in bars if Sign.CODA in b.signs and Sign.TO_CODA not in b.signs]
    if not leads and len(codas) > 1:
        leads, codas = codas[: len(codas) // 2], codas[len(codas) // 2 :]
    if len(leads) == len(codas):
        return dict(zip(leads, codas, strict=True))
    return {k: next((c for c in codas if c > k), codas[0]) for k in leads if codas}
