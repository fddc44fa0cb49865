"""Plays something in time: where it is now, play and pause, one step at a time."""

from __future__ import annotations

import bisect
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Protocol

from PySide6.QtCore import QObject, Qt, QTimer, Signal

from plectrum.ui.editing.interpreter import hold_collection
from plectrum.ui.playback.clock import PlayClock
from plectrum.ui.playback.speaker import Source, Speaker

FRAME_MS = 16
EPSILON_S = 1e-6
MOST_HELD_MS = 600


@dataclass(frozen=True, slots=True)
class Heard:
    """What is to be heard; `voice` is how loud words are, 0 for none."""

    tone: bool = True
    click: bool = True
    voice: float = 0.0

    @property
    def nothing(self) -> bool:
        return not (self.tone or self.click or self.voice)


class Playable(Protocol):
    """What can be played: a performance, an exercise. Times begin with the count-in."""

    @property
    def length_s(self) -> float: ...

    @property
    def loops(self) -> bool:
        """Whether it goes on from its beginning without end."""
        ...

    @property
    def onsets_s(self) -> Sequence[float]:
        """When its notes or steps begin."""
        ...

    def fold(self, at_s: float) -> float:
        """A time inside the loop."""
        ...

    def source(self, heard: Heard, at_s: float) -> Source:
        """Its sound from a time on."""
        ...


class Playing(QObject):
    """Holds the one thing that is on, and its time.

    Signals:
        moved: a time to be drawn, in seconds since the start of the count-in.
        changed: playing or not, or something else is on.
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
        self.subject: Playable | None = None
        self.heard = Heard()
        self.played_s = 0.0  # in all, for the reminder to pause
        self._until_s: float | None = None
        self._held_s: float | None = None  # where the clock waits for the first sound
        self._held_n = 0
        self._timer = QTimer(self, interval=FRAME_MS, timerType=Qt.TimerType.PreciseTimer)
        self._timer.timeout.connect(self._tick)

    @property
    def playing(self) -> bool:
        return self.clock.running

    def set_subject(self, subject: Playable | None, at_s: float = 0.0) -> None:
        """Make something else the one that is on; it goes on playing if it played."""
        was_playing = self.playing
        self.pause()
        self.subject = subject
        self.clock.set(at_s)
        if was_playing and subject is not None:
            self.play()
        else:
            self.changed.emit()
            self.moved.emit(at_s)

    def now_s(self) -> float:
        """The time now; what ends stays at its end."""
        at_s = self.clock.read()
        if self.subject is not None and not self.subject.loops:
            return min(at_s, self.subject.length_s)
        return at_s

    # playing

    def play(self, until_s: float | None = None) -> None:
        """Play from here; from the start if it is at its end."""
        subject = self.subject
        if subject is None:
            return
        at_s = self.now_s()
        if not subject.loops and at_s >= subject.length_s - EPSILON_S:
            at_s = 0.0
        self._until_s = until_s
        self._sound(at_s)
        self.clock.start(at_s)
        hold_collection(self, True)
        self._timer.start()
        self.changed.emit()

    def _sound(self, at_s: float) -> None:
        if self.subject is None or self.heard.nothing:
            self.speaker.stop()
            return
        heard = self.speaker.play(self.subject.source(self.heard, at_s), at_s)
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

    def set_heard(self, heard: Heard) -> None:
        """What is to be heard, from now on."""
        if heard != self.heard:
            self.heard = heard
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
        """One note or step on, which is played; or back, to the beginning of the one before."""
        if self.subject is None:
            return
        at_s = self.subject.fold(self.now_s())
        onsets = self.subject.onsets_s
        if notes_n > 0:
            k = bisect.bisect_left(onsets, at_s - EPSILON_S)
            if k == len(onsets):
                return
            self.pause()
            self.clock.set(onsets[k])
            following = onsets[k + 1] if k + 1 < len(onsets) else self.subject.length_s
            self.play(until_s=following)
            return
        self.pause()
        k = bisect.bisect_left(onsets, at_s - EPSILON_S) - 1
        self.go_to(onsets[max(0, k)])

    def _bounded(self, at_s: float) -> float:
        """A time not beyond where it was to stop, inside the loop."""
        if self._until_s is not None:
            at_s = min(at_s, self._until_s)
        return self.subject.fold(at_s) if self.subject is not None else at_s

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
        subject = self.subject
        if subject is None:
            return
        self._keep_to_sound()
        at_s = self.clock.read()
        self.played_s += FRAME_MS / 1000
        stop_s = None if subject.loops else subject.length_s
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
