"""An exercise as sound: its tone, clicks and voice, block by block; a loop goes on for ever."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence

import numpy as np

from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.playing.cues import tune_cues
from plectrum.core.playing.performance import Performance, Rehearsal
from plectrum.core.practice.exercises.catalogue import Made
from plectrum.core.practice.exercises.play import ExercisePlay
from plectrum.core.sound.clips import Clips
from plectrum.core.sound.render import BLOCK_N, RATE_HZ, Renderer, Sound, bent, clicks
from plectrum.core.sound.voice import spoken

PAUSE_S = 2.0  # between two exercises
AROUND_S = 6.0  # about what the count-in and the pause take
CLICK_UNDER_VOICE = 0.6  # clicks are softer where counts are spoken (own default)


class ExerciseSound:
    """Renders an exercise from its count-in on."""

    def __init__(
        self,
        play: ExercisePlay,
        *,
        tone: bool = True,
        click: bool = True,
        voice: float = 1.0,
        at_s: float = 0.0,
    ) -> None:
        """Prepare to render.

        Args:
            tone, click: what is to be heard. voice: how loud the voice is, 0 for none.
            at_s: where to begin.
        """
        self._play, self._tone = play, tone
        softer = CLICK_UNDER_VOICE if voice else 1.0
        beats = [(at, softer * wave) for at, wave in clicks(play.beats if click else ())]
        self._heard = [*beats, *spoken(play.cues, voice)]
        self._begun_s, self._done_n = at_s, 0
        self._round = -1
        self._clips = Clips((), RATE_HZ)
        self._renderer: Renderer | None = None

    @property
    def at_s(self) -> float:
        """The time of the next sample since the count-in began."""
        return self._begun_s + self._done_n / RATE_HZ

    def block(self, count_n: int) -> Sound:
        """The next samples, shape (count_n,), −1 to 1."""
        parts = []
        while count_n > 0:
            folded_s = self._play.fold(self.at_s)
            self._begin_round(folded_s)
            n = count_n
            if self._play.loop:
                n = min(n, max(1, math.ceil((self._play.length_s - folded_s) * RATE_HZ - 1e-6)))
            parts.append(self._stretch(folded_s, n))
            self._done_n += n
            count_n -= n
        return np.concatenate(parts) if parts else np.zeros(0, np.float32)

    def _begin_round(self, at_s: float) -> None:
        """Each time through has its own strings; what is said goes on over the seam."""
        now = self._play.round_at(self.at_s + 0.5 / RATE_HZ)
        if now == self._round:
            return
        tails = self._clips.tails
        self._round, self._clips = now, Clips(self._heard, RATE_HZ, tails)
        performance = self._play.performance if self._tone else None
        self._renderer = None
        if performance is not None:
            into_s = max(0.0, at_s - self._play.sounds_from_s)
            self._renderer = Renderer(performance, click=False, at_s=into_s)

    def _stretch(self, from_s: float, count_n: int) -> Sound:
        sound = np.zeros(count_n)
        if self._renderer is not None:
            before_n = round((self._play.sounds_from_s - from_s) * RATE_HZ)
            first = min(count_n, max(0, before_n))
            if first < count_n:
                sound[first:] += self._renderer.block(count_n - first)
        if self.at_s < self._play.length_s or self._play.loop:
            self._clips.add(sound, from_s)
        else:
            self._clips.add(sound, math.inf)  # only what is left of the last word
        return bent(sound)

    def blocks(self, after_s: float = 0.5) -> Iterator[Sound]:
        """All blocks of one time through, and what rings after it."""
        end_s = self._play.length_s + after_s
        while self.at_s < end_s:
            left_n = math.ceil((end_s - self.at_s) * RATE_HZ)
            yield self.block(min(BLOCK_N, left_n))


def blocks_of(made: Made, *, voice: bool = True) -> Iterator[Sound]:
    """An exercise once through: tone, clicks and voice; a pattern of notes as a tune."""
    volume = 1.0 if voice else 0.0
    if made.drill is not None:
        yield from ExerciseSound(ExercisePlay(made), voice=volume).blocks()
    elif made.document is not None:
        played = Performance(plan_of(made.document), Rehearsal(kind=made.kind, echoes=made.echoes))
        yield from Renderer(played, voice=spoken(tune_cues(played), volume)).blocks()


class RoutineSound:
    """Exercises one after the other, each once, with a pause between."""

    def __init__(self, made: Sequence[Made], *, voice: bool = True) -> None:
        self._made, self._voice = made, voice
        self.length_s = sum(one.seconds + AROUND_S for one in made)
        self._done_n = 0

    @property
    def at_s(self) -> float:
        """How much has been rendered, in seconds."""
        return self._done_n / RATE_HZ

    def blocks(self) -> Iterator[Sound]:
        """All blocks."""
        for one in self._made:
            for block in blocks_of(one, voice=self._voice):
                self._done_n += len(block)
                yield block
            yield np.zeros(round(PAUSE_S * RATE_HZ), dtype=np.float32)
