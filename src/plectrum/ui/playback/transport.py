"""Plays a performance: the bow's motion, its cards, and the time."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property

from PySide6.QtCore import QObject

from plectrum.core.playing.cards import CardStream
from plectrum.core.playing.cues import tune_cues
from plectrum.core.playing.motion import BowState, Motion
from plectrum.core.playing.performance import Performance
from plectrum.core.sound.render import Renderer
from plectrum.core.sound.together import Beside, Together
from plectrum.ui.playback.playing import Heard, Playing
from plectrum.ui.playback.speaker import Speaker


class PlayedTune:
    """A performance as something that can be played."""

    def __init__(self, performance: Performance, others: Beside | None = None) -> None:
        """Make it playable.

        Args:
            others: the other parts of its score, heard with it or instead of it.
        """
        self._performance, self._others = performance, others

    @property
    def length_s(self) -> float:
        return self._performance.length_s

    @property
    def loops(self) -> bool:
        return not self._performance.ends

    @cached_property
    def onsets_s(self) -> Sequence[float]:
        return [played.onset_s for played in self._performance.notes]

    def fold(self, at_s: float) -> float:
        return self._performance.fold(at_s)

    def source(self, heard: Heard, at_s: float) -> Renderer | Together:
        voice = []
        if heard.voice:
            from plectrum.core.sound.voice import spoken

            voice = spoken(tune_cues(self._performance), heard.voice)
        if self._others is not None and self._others.performances:
            return Together(
                self._performance, self._others, tone=heard.tone, click=heard.click, voice=voice,
                at_s=at_s,
            )  # fmt: skip
        return Renderer(
            self._performance, tone=heard.tone, click=heard.click, voice=voice, at_s=at_s
        )


class Transport(Playing):
    """Holds the one performance that is on, and its time."""

    def __init__(self, speaker: Speaker, parent: QObject | None = None) -> None:
        super().__init__(speaker, parent)
        self.performance: Performance | None = None
        self.motion: Motion | None = None
        self._cards: CardStream | None = None

    @property
    def cards(self) -> CardStream | None:
        """The strokes to come; made here if they were not brought along."""
        if self._cards is None and self.performance is not None:
            self._cards = CardStream(self.performance)
        return self._cards

    def set_performance(
        self,
        performance: Performance | None,
        at_s: float = 0.0,
        cards: CardStream | None = None,
        others: Beside | None = None,
    ) -> None:
        """Make another performance the one that is on; it goes on playing if it played."""
        self.performance = performance
        self.motion = Motion(performance) if performance is not None else None
        self._cards = cards
        self.set_subject(None if performance is None else PlayedTune(performance, others), at_s)

    def state(self) -> BowState | None:
        return self.motion.at(self.now_s()) if self.motion is not None else None
