"""Short recordings laid over a performance, each beginning on its sample."""

from __future__ import annotations

import bisect
from collections.abc import Iterable, Sequence

from plectrum.core.sound.string import Samples

Clip = tuple[float, Samples]  # when it begins, in seconds, and what is heard


class Clips:
    """Adds what is heard of some clips to one stretch of sound after the other; what a stretch is
    too short for comes in the next."""

    def __init__(self, clips: Iterable[Clip], rate_hz: int, tails: Sequence[Samples] = ()) -> None:
        """Lay clips out.

        Args:
            tails: what is still to be heard of others, from the first sample on.
        """
        self._clips = sorted(clips, key=lambda clip: clip[0])
        self._times = [at_s for at_s, _ in self._clips]
        self._rate_hz = rate_hz
        self.tails: list[Samples] = list(tails)

    def add(self, sound: Samples, from_s: float) -> None:
        """Add to a stretch of sound, shape (N,), that begins at a time."""
        tails, self.tails = self.tails, []
        for tail in tails:
            self._lay(sound, 0, tail)
        until_s = from_s + (len(sound) - 0.5) / self._rate_hz
        first = bisect.bisect_left(self._times, from_s - 0.5 / self._rate_hz)
        for at_s, clip in self._clips[first : bisect.bisect_left(self._times, until_s)]:
            self._lay(sound, max(0, round((at_s - from_s) * self._rate_hz)), clip)

    def _lay(self, sound: Samples, start: int, clip: Samples) -> None:
        here = min(len(clip), len(sound) - start)
        sound[start : start + here] += clip[:here]
        if here < len(clip):
            self.tails.append(clip[here:])
