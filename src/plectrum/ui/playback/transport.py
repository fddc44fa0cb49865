"""Plays a performance: where it is now, play and pause, one note at a time."""

from __future__ import annotations

import bisect

from PySide6.QtCore import QObject, Qt, QTimer, Signal

from plectrum.core.playing.cards import CardStream
from plectrum.core.playing.motion import BowState, Motion
from plectrum.core.playing.performance import Performance
from plectrum.core.sound.render import Renderer
from plectrum.ui.editing.interpreter import hold_collection
from plectrum.ui.playback.clock import PlayClock
from plectrum.ui.playback.speaker import Speaker

FRAME_MS = 16
EPSILON_S = 1e-6
MOST_HELD_MS = 600


class Transport(QObject):
    """Holds the one performance that is on, and its time.

    Signals:
        moved: a time to be drawn, in seconds since the start of the performance.
        changed: playing or not, or another performance.
        ended: it has come to its end.
        silent: it plays without sound, and why.
    """

    moved = Signal(float)
    changed = Signal()
    ended = Signal()
    silent = Signal(str)

    def __init__(self, speaker: Speaker, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.speaker = speaker
        self.clock = PlayClock()
        self.performance: Performance | None = None
        self.motion: Motion | None = None
        self._cards: CardStream | None = None
        self.tone = self.click = True
        self.played_s = 0.0  # in all, for the reminder to pause
        self._until_s: float | None = None
        self._held_s: float | None = None  # where the clock waits for the first sound
        self._held_n = 0
        self._timer = QTimer(self, interval=FRAME_MS, timerType=Qt.TimerType.PreciseTimer)
        self._timer.timeout.connect(self._tick)

    @property
    def playing(self) -> bool:
        return self.clock.running

    @property
    def cards(self) -> CardStream | None:
        """The strokes to come; made here if they were not brought along."""
        if self._cards is None and self.performance is not None:
            self._cards = CardStream(self.performance)
        return self._cards

    def set_performance(
        self, performance: Performance | None, at_s: float = 0.0, cards: CardStream | None = None
    ) -> None:
        """Make another performance the one that is on; it goes on playing if it played."""
        was_playing = self.playing
        self.pause()
        self.performance = performance
        self.motion = Motion(performance) if performance is not None else None
        self._cards = cards
        self.clock.set(at_s)
        if was_playing and performance is not None:
            self.play()
        else:
            self.changed.emit()
            self.moved.emit(at_s)

    def now_s(self) -> float:
        """The time now; a performance that ends stays at its end."""
        at_s = self.clock.read()
        if self.performance is not None and not self.performance.rehearsal.loop:
            return min(at_s, self.performance.length_s)
        return at_s

    def state(self) -> BowState | None:
        return self.motion.at(self.now_s()) if self.motion is not None else None

    # playing

    def play(self, until_s: float | None = None) -> None:
        """Play from here; from the start if it is at its end."""
        performance = self.performance
        if performance is None:
            return
        at_s = self.now_s()
        if performance.ends and at_s >= performance.length_s - EPSILON_S:
            at_s = 0.0
        self._until_s = until_s
        self._sound(at_s)
        self.clock.start(at_s)
        hold_collection(self, True)
        self._timer.start()
        self.changed.emit()

    def _sound(self, at_s: float) -> None:
        if self.performance is None or not (self.tone or self.click):
            self.speaker.stop()
            return
        renderer = Renderer(self.performance, tone=self.tone, click=self.click, at_s=at_s)
        heard = self.speaker.play(renderer, at_s)
        self._held_s, self._held_n = (at_s, 0) if heard else (None, 0)
        if not heard:
            self.silent.emit(self.speaker.why)

    def pause(self) -> None:
        if not self.playing:
            return
        self._timer.stop()
        hold_collection(self, False)
        begun = self.clock.read()
        self.clock.stop()
        self.clock.set(self._bounded(begun))
        self.speaker.stop()
        self._until_s = None
        self.changed.emit()

    def toggle(self) -> None:
        if self.playing:
            self.pause()
        else:
            self.play()

    def set_heard(self, *, tone: bool, click: bool) -> None:
        """What is to be heard, from now on."""
        if (tone, click) != (self.tone, self.click):
            self.tone, self.click = tone, click
            if self.playing:
                self._sound(self.now_s())

    def go_to(self, at_s: float) -> None:
        """Go to a time, playing or not."""
        self.clock.set(at_s)
        if self.playing:
            self._sound(at_s)
        self.moved.emit(at_s)

    def go_to_start(self) -> None:
        self.go_to(0.0)

    def step(self, notes_n: int) -> None:
        """One note on, which is played; or back, to the beginning of the note before."""
        if self.performance is None:
            return
        at_s = self.performance.fold(self.now_s())
        onsets = [p.onset_s for p in self.performance.notes]
        if notes_n > 0:
            k = bisect.bisect_left(onsets, at_s - EPSILON_S)
            if k == len(onsets):
                return
            self.pause()
            self.clock.set(onsets[k])
            following = onsets[k + 1] if k + 1 < len(onsets) else self.performance.length_s
            self.play(until_s=following)
            return
        self.pause()
        k = bisect.bisect_left(onsets, at_s - EPSILON_S) - 1
        self.go_to(onsets[max(0, k)])

    def _bounded(self, at_s: float) -> float:
        """A time not beyond where it was to stop, inside the loop."""
        if self._until_s is not None:
            at_s = min(at_s, self._until_s)
        return self.performance.fold(at_s) if self.performance is not None else at_s

    def _keep_to_sound(self) -> None:
        """Hold the clock until the card is heard, then keep it with the card."""
        heard_s = self.speaker.heard_s()
        if heard_s is not None:
            if self._held_s is not None:
                self.clock.set(heard_s)
            self._held_s = None
            self.clock.heard(heard_s)
        elif self._held_s is not None:
            self._held_n += 1
            if self.speaker.playing and self._held_n * FRAME_MS < MOST_HELD_MS:
                self.clock.set(self._held_s)
            else:
                self._held_s = None

    def _tick(self) -> None:
        performance = self.performance
        if performance is None:
            return
        self._keep_to_sound()
        at_s = self.clock.read()
        self.played_s += FRAME_MS / 1000
        stop_s = performance.length_s if performance.ends else None
        if self._until_s is not None:
            stop_s = self._until_s
        if stop_s is not None and at_s >= stop_s:
            whole = self._until_s is None
            self.pause()
            self.clock.set(stop_s)
            self.moved.emit(stop_s)
            if whole:
                self.ended.emit()
            return
        self.moved.emit(at_s)
