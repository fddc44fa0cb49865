"""The stage with its own clock: an exercise, or a step of a tune, as it is done."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QVBoxLayout, QWidget

from plectrum.core.playing.cards import CardStream
from plectrum.core.playing.motion import Motion
from plectrum.core.playing.performance import Performance
from plectrum.core.practice.exercises.play import ExercisePlay, Moment
from plectrum.core.practice.exercises.sound import ExerciseSound
from plectrum.core.sound.together import Beside
from plectrum.ui.moving.scenes import exercise_scene, tune_scene
from plectrum.ui.moving.stage import Scene, Stage
from plectrum.ui.playback.playing import Heard, Playing
from plectrum.ui.playback.speaker import Source, Speaker
from plectrum.ui.playback.transport import PlayedTune


class PlayedExercise:
    """An exercise as something that can be played."""

    def __init__(self, play: ExercisePlay) -> None:
        self._play = play

    @property
    def length_s(self) -> float:
        return self._play.length_s

    @property
    def loops(self) -> bool:
        return self._play.loop

    @cached_property
    def onsets_s(self) -> Sequence[float]:
        return [self._play.start_of(k) for k in range(len(self._play.rows))]

    def fold(self, at_s: float) -> float:
        return self._play.fold(at_s)

    def source(self, heard: Heard, at_s: float) -> Source:
        return ExerciseSound(
            self._play, tone=heard.tone, click=heard.click, voice=heard.voice, at_s=at_s
        )


class MovingBow(QWidget):
    """Shows and plays one exercise, or one performance.

    Signals:
        message: for the status line. moved: the time since the count-in began.
    """

    message = Signal(str)
    moved = Signal(float)

    def __init__(self, speaker: Speaker, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.play: ExercisePlay | None = None
        self._tune: tuple[Performance, Motion, CardStream] | None = None
        self.transport = Playing(speaker, self)
        self.stage = Stage()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.stage, 1)
        self.setFocusProxy(self.stage)
        self.transport.moved.connect(self._draw)
        self.transport.changed.connect(self.draw_now)
        self.transport.silent.connect(self.message)

    def set_exercise(self, play: ExercisePlay) -> None:
        """Have another exercise ready, from its count-in."""
        self.play, self._tune = play, None
        self.transport.pause()
        self.transport.set_subject(PlayedExercise(play))

    def set_tune(self, performance: Performance, others: Beside | None = None) -> None:
        """Have a performance ready, from its count-in, with other parts that are heard with it."""
        self.play = None
        self._tune = performance, Motion(performance), CardStream(performance)
        self.transport.pause()
        self.transport.set_subject(PlayedTune(performance, others))

    def clear(self) -> None:
        """Nothing is shown."""
        self.play = self._tune = None
        self.transport.pause()
        self.transport.set_subject(None)

    @property
    def empty(self) -> bool:
        return self.play is None and self._tune is None

    @property
    def moment(self) -> Moment | None:
        """The exercise as it is now; None for a tune."""
        return None if self.play is None else self.play.at(self.transport.now_s())

    def draw_now(self) -> None:
        self._draw(self.transport.now_s())

    def _draw(self, at_s: float) -> None:
        self.stage.show_scene(self.scene(at_s))
        self.moved.emit(at_s)

    def scene(self, at_s: float) -> Scene | None:
        """All that is drawn at one moment."""
        playing = self.transport.playing
        if self.play is not None:
            return exercise_scene(self.play, at_s, playing=playing)
        if self._tune is None:
            return None
        performance, motion, cards = self._tune
        return tune_scene(performance, motion, cards, at_s, playing=playing)
