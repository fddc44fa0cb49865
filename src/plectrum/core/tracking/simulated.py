"""A stand-in for a tracked bow: it plays along with a performance, as clumsily as asked.

What beginners do is common practice without a source; how much of it is an own default.
"""

from __future__ import annotations

import math
import random
from collections.abc import Iterator
from enum import StrEnum

from plectrum.core.planning.contact.limits import LANES_N
from plectrum.core.playing.motion import Motion
from plectrum.core.playing.performance import Performance
from plectrum.core.tracking.sensor import BowSample

RATE_HZ = 100.0
HURRY = 2.6  # how much faster than even a stroke begins
CREEP, CREEP_MOST = 0.006, 0.30  # towards the tip, a second and at most
DRIFT, DRIFT_MOST = 0.12, 1.8  # lanes towards the fingerboard, a second and at most
SKEW_DEG = 7.0  # of a bow that drifts
LATE_S = 0.22  # after the beat at a string crossing
TREMBLE = 0.006  # of the hair, for everybody


class Clumsiness(StrEnum):
    """What goes wrong."""

    CAREFUL = "careful"
    FAST_START = "too fast at the start"
    CREEPING = "creeping to the tip"
    DRIFTING = "drifting to the fingerboard"
    LATE = "late crossings"
    ALL = "a bit of everything"


class SimulatedBow:
    """A bow that can be asked at any time; the same seed trembles in the same way."""

    def __init__(self, performance: Performance, clumsiness: Clumsiness, seed: int = 1) -> None:
        self._performance = performance
        self._motion = Motion(performance)
        self._wrong = clumsiness
        self._notes = [p for p in performance.notes if p.planned is not None]
        chance = random.Random(seed)
        self._waves = [(chance.uniform(0.3, 2.5), chance.uniform(0, 2 * math.pi)) for _ in range(6)]

    def _does(self, what: Clumsiness) -> bool:
        return self._wrong in (what, Clumsiness.ALL)

    def at(self, at_s: float) -> BowSample:
        """The bow at a time since the start of the performance."""
        position = self._position(at_s)
        step = 1 / RATE_HZ
        hair_mm = self._performance.plan.choices.bow.hair_mm
        speed = (position - self._position(at_s - step)) / step * hair_mm
        playing_s = max(0.0, self._performance.fold(at_s) - self._performance.music_s)
        drift = min(DRIFT_MOST, DRIFT * playing_s) if self._does(Clumsiness.DRIFTING) else 0.0
        state = self._motion.at(at_s)
        late = self._does(Clumsiness.LATE)
        heard = self._motion.at(max(0.0, at_s - LATE_S)) if late else state
        tremble = self._tremble(at_s)
        return BowSample(
            at_s,
            position,
            speed,
            SKEW_DEG * drift / DRIFT_MOST + 80 * tremble,
            min(float(LANES_N), state.lane + drift + 10 * tremble),
            heard.level,
        )

    def _tremble(self, at_s: float) -> float:
        waves = sum(math.sin(2 * math.pi * hz * at_s + phase) for hz, phase in self._waves)
        return TREMBLE * waves / len(self._waves)

    def _position(self, at_s: float) -> float:
        folded = self._performance.fold(at_s)
        position, speed_mm_s = self._motion.place_at(at_s)
        if self._does(Clumsiness.FAST_START) and speed_mm_s:
            position = self._hurried(folded, position)
        if self._does(Clumsiness.CREEPING):
            playing_s = max(0.0, folded - self._performance.music_s)
            position += min(CREEP_MOST, CREEP * playing_s) * (1.0 - position) * 2
        return min(1.0, max(0.0, position + self._tremble(at_s)))

    def _hurried(self, folded_s: float, position: float) -> float:
        """Most of the way in the first part of the note."""
        for played in self._notes:
            if played.onset_s <= folded_s < played.moved_s:
                share = (folded_s - played.onset_s) / played.moving_s
                hurried: float = 1 - (1 - share) ** HURRY
                return played.start + (played.end - played.start) * hurried
        return position

    def samples(self, from_s: float, until_s: float) -> Iterator[BowSample]:
        """All samples of a stretch of time."""
        first = math.ceil(from_s * RATE_HZ - 1e-9)
        for k in range(first, math.ceil(until_s * RATE_HZ - 1e-9)):
            yield self.at(k / RATE_HZ)
