"""A part with the other parts of its score: each by its own strings, in one time."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from plectrum.core.planning.plan import Plan
from plectrum.core.playing.performance import Kind, Performance
from plectrum.core.sound.clips import Clip
from plectrum.core.sound.render import BLOCK_N, RATE_HZ, Renderer, Sound, bent

SOFTER = 0.55  # the others against the part that is played (own default)


class Parts(StrEnum):
    """Which parts of a score are heard."""

    ALONE = "me alone"
    ALL = "all parts"
    OTHERS = "all but me"


@dataclass(frozen=True)
class Beside:
    """The other parts while one is played.

    Attributes:
        performances: of the others, without count-in. starts_s: when each begins, in the time of
            the part that is played. volume: 1 as loud as they are beside it, 0 silent.
        alone: only they are heard.
    """

    performances: tuple[Performance, ...]
    starts_s: tuple[float, ...]
    volume: float = 1.0
    alone: bool = False


def beside(
    mine: Performance, plans: Sequence[Plan], *, volume: float = 1.0, alone: bool = False
) -> Beside:
    """The other parts of a score, played with a performance; parts that rest all the while are
    left out."""
    asked = replace(mine.rehearsal, count_in=False, loop=False, kind=Kind.WRITTEN, echoes=())
    performances, starts = [], []
    zero_q = mine.turns[0].from_q
    quarters = mine.plan.part.tempo.bpm * asked.ratio  # a minute, in the one as in the others
    for plan in () if asked.answer else plans:  # in its pauses the student is alone
        asked = replace(asked, ratio=quarters / plan.part.tempo.bpm)
        try:
            other = Performance(plan, asked)
        except ValueError:
            continue
        later_s = mine.seconds(other.turns[0].from_q) - mine.seconds(zero_q)
        performances.append(other)
        starts.append(mine.music_s + later_s)
    return Beside(tuple(performances), tuple(starts), volume, alone)


class Together:
    """Renders a performance with the other parts under it; a loop goes on for ever."""

    def __init__(
        self,
        mine: Performance,
        others: Beside,
        *,
        tone: bool = True,
        click: bool = True,
        voice: Sequence[Clip] = (),
        at_s: float = 0.0,
    ) -> None:
        """Prepare to render, as a `Renderer` does."""
        heard = tone and not others.alone
        self._mine, self._others, self._tone = mine, others, tone
        self._own = Renderer(mine, tone=heard, click=click, voice=voice, at_s=at_s)
        self._renderers: list[Renderer | None] = []
        self._round: int | None = None

    @property
    def at_s(self) -> float:
        """The time of the next sample since the start of the performance."""
        return self._own.at_s

    def block(self, count_n: int) -> Sound:
        """The next samples, shape (count_n,), −1 to 1."""
        parts = []
        while count_n > 0:
            n = min(count_n, self._until_loop_n())
            from_s = self._mine.fold(self.at_s)
            beside_it = self._of_others(from_s, n)
            parts.append(bent(self._own.block(n).astype(float) + beside_it))
            count_n -= n
        return np.concatenate(parts) if parts else np.zeros(0, np.float32)

    def _until_loop_n(self) -> int:
        """How many samples there are until the loop goes round."""
        mine = self._mine
        if mine.ends:
            return BLOCK_N
        left_s = mine.length_s - mine.fold(self.at_s)
        return max(1, math.ceil(left_s * RATE_HZ - 1e-6))

    def _of_others(self, from_s: float, count_n: int) -> Sound | float:
        """What is heard of the other parts from a time on."""
        if not self._tone or not self._others.volume:
            return 0.0
        self._begin_round(from_s)
        sound = np.zeros(count_n)
        rows = zip(self._renderers, self._others.starts_s, strict=True)
        for renderer, start_s in rows:
            rest_n = min(count_n, max(0, round((start_s - from_s) * RATE_HZ)))
            if renderer is not None and rest_n < count_n:
                sound[rest_n:] += renderer.block(count_n - rest_n)
        gain = 1.0 if self._others.alone else SOFTER
        return np.asarray(gain * self._others.volume * sound, dtype=np.float32)

    def _begin_round(self, from_s: float) -> None:
        """Each time through begins anew."""
        mine = self._mine
        span_s = mine.length_s - mine.music_s
        now = 0 if mine.ends else int((self.at_s + 0.5 / RATE_HZ - mine.music_s) // span_s)
        if now == self._round:
            return
        self._round = now
        self._renderers = [
            Renderer(other, click=False, at_s=max(0.0, from_s - start_s))
            for other, start_s in zip(
                self._others.performances, self._others.starts_s, strict=True
            )
        ]  # fmt: skip

    def blocks(self, after_s: float = 0.5) -> Iterator[Sound]:
        """All blocks of one time through, and what rings after it."""
        end_s = self._mine.length_s + after_s
        while self.at_s < end_s:
            left_n = math.ceil((end_s - self.at_s) * RATE_HZ)
            yield self.block(min(BLOCK_N, left_n))
