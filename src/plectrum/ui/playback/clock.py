"""The time of what is being played: one steady clock, held to what is heard."""

from __future__ import annotations

import time
from collections.abc import Callable

PULL = 0.05  # of the difference to what is heard, taken up each time it is told
JUMP_S = 0.08  # a difference larger than this is taken up at once


class PlayClock:
    """Reads start + what has passed since: no sum of frames, so nothing drifts.

    A sound card's clock and the computer's differ by some millionths; `heard` draws the one
    gently to the other.
    """

    def __init__(self, now: Callable[[], float] = time.perf_counter) -> None:
        self._now = now
        self._begun: float | None = None
        self._at_s = 0.0

    @property
    def running(self) -> bool:
        return self._begun is not None

    def start(self, at_s: float) -> None:
        self._at_s = at_s
        self._begun = self._now()

    def stop(self) -> float:
        """Stop; the time it stands at."""
        self._at_s = self.read()
        self._begun = None
        return self._at_s

    def set(self, at_s: float) -> None:
        """Go to a time, running or not."""
        self._at_s = at_s
        if self._begun is not None:
            self._begun = self._now()

    def read(self) -> float:
        """Seconds since the start of the performance."""
        if self._begun is None:
            return self._at_s
        return self._at_s + self._now() - self._begun

    def heard(self, at_s: float) -> None:
        """Told what is being heard just now."""
        if self._begun is None:
            return
        off = at_s - self.read()
        self._at_s += off if abs(off) > JUMP_S else PULL * off
