"""Follows a bow along with a performance: a simulated one, or a device that speaks line by line."""

from __future__ import annotations

import math
import os
from collections import deque
from pathlib import Path

from PySide6.QtCore import QObject, QTimer, Signal

from plectrum.core.errors import PlectrumError
from plectrum.core.playing.motion import Motion
from plectrum.core.tracking.feedback import BarScore, score_bars
from plectrum.core.tracking.sensor import BowSample, SensorReader, head_lines, sample_line
from plectrum.core.tracking.simulated import RATE_HZ, Clumsiness, SimulatedBow
from plectrum.core.wording import say, tr
from plectrum.core.wording.system import reason_of
from plectrum.ui.moving.stage import Ghost
from plectrum.ui.playback.transport import Transport
from plectrum.ui.show.score_line import Trace

READ_MS = 10
TRACE_MS = 100
LEAP_S = 1.0  # a step in time larger than this is another place, not a late frame
TRACE_HZ = 33.0
DELAYS_N = 200  # samples whose least delay sets a device's clock right
MOST_BYTES = 65_536


class Follower(QObject):
    """Collects the samples of one time through, and scores its bars.

    Signals:
        traced: another trace to be drawn. scored: a bar is over; its score.
        failed: the source cannot be read.
    """

    traced = Signal(object)
    scored = Signal(object)
    failed = Signal(object)

    def __init__(self, transport: Transport, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._transport = transport
        self._reader = SensorReader()
        self._simulated: Clumsiness | None = None
        self._bow: SimulatedBow | None = None
        self._file: int | None = None
        self._samples: list[BowSample] = []
        self._bars: list[int] = []  # in which each sample lies
        self._points: list[tuple[float, float]] = []
        self._scores: dict[tuple[int, int], BarScore] = {}
        self._delays: deque[float] = deque(maxlen=DELAYS_N)
        self._told_s = 0.0
        self._round = -1
        self._bar = -1
        self._read_timer = QTimer(self, interval=READ_MS)
        self._read_timer.timeout.connect(self._read_file)
        self._trace_timer = QTimer(self, interval=TRACE_MS)
        self._trace_timer.timeout.connect(self._tell_trace)
        transport.moved.connect(self._moved)
        transport.changed.connect(self._changed)

    @property
    def following(self) -> bool:
        return self._simulated is not None or self._file is not None

    @property
    def scores(self) -> tuple[BarScore, ...]:
        """Of the bars that are over, in this time through."""
        return tuple(self._scores.values())

    # sources

    def stop(self) -> None:
        """Follow nobody."""
        self._simulated, self._bow = None, None
        self._read_timer.stop()
        self._trace_timer.stop()
        if self._file is not None:
            os.close(self._file)
            self._file = None
        self._forget()
        self.traced.emit(Trace())

    def follow_simulated(self, clumsiness: Clumsiness) -> None:
        """Follow the stand-in; its lines are read as a device's would be."""
        self.stop()
        self._simulated = clumsiness
        self._begin()

    def follow_file(self, path: Path) -> None:
        """Follow what a device, a pipe or a file says.

        Raises:
            PlectrumError: it cannot be opened.
        """
        self.stop()
        try:
            self._file = os.open(path, os.O_RDONLY | os.O_NONBLOCK)
        except OSError as error:
            reason = reason_of(error)
            raise PlectrumError(
                say("the bow cannot be read ({reason})", reason=reason), where=str(path),
                remedy=tr("Connect it, or choose another device or file"),
            ) from error  # fmt: skip
        self._read_timer.start()
        self._begin()

    def _begin(self) -> None:
        self._reader = SensorReader()
        self._delays.clear()
        self._trace_timer.start()
        if self._simulated is not None:
            self._reader.feed(head_lines())
            self._changed()

    def _forget(self) -> None:
        self._samples, self._bars, self._points = [], [], []
        self._scores = {}
        self._bar = -1

    def _changed(self) -> None:
        """Another performance, or played anew from somewhere."""
        performance = self._transport.performance
        if self._simulated is not None and performance is not None:
            self._bow = SimulatedBow(performance, self._simulated)
        self._told_s = self._transport.now_s()

    # reading

    def _moved(self, at_s: float) -> None:
        performance = self._transport.performance
        if performance is None or not self.following:
            return
        turn = 0
        if performance.rehearsal.loop:
            length_s = performance.length_s - performance.music_s
            turn = max(0, math.floor((at_s - performance.music_s) / length_s))
        if turn != self._round or abs(at_s - self._told_s) > LEAP_S:
            self._round = turn
            self._forget()
            self._told_s = at_s
        if self._bow is not None and self._transport.playing:
            lines = (sample_line(s) for s in self._bow.samples(self._told_s, at_s))
            self._take("".join(lines))
        self._told_s = at_s

    def _read_file(self) -> None:
        if self._file is None:
            return
        try:
            data = os.read(self._file, MOST_BYTES)
        except BlockingIOError:
            return
        except OSError as error:
            self.failed.emit(
                PlectrumError(
                    say("the bow is no longer to be read ({reason})", reason=reason_of(error))
                )
            )
            self.stop()
            return
        if data:
            self._take(data.decode("ascii", "replace"))

    def _take(self, text: str) -> None:
        try:
            samples = self._reader.feed(text)
        except PlectrumError as error:
            self.stop()
            self.failed.emit(error)
            return
        motion = self._transport.motion
        if not self._transport.playing or motion is None:
            return
        notes = motion.performance.plan.part.notes
        now_s = self._transport.now_s()
        for sample in samples:
            seen = self._on_our_clock(sample, now_s)
            state = motion.at(seen.at_s)
            self._samples.append(seen)
            self._bars.append(notes[state.note].bar_index if state.note is not None else -1)
            self._points.append((state.at_q, seen.position))
        self._score_ended(motion)

    def _on_our_clock(self, sample: BowSample, now_s: float) -> BowSample:
        """A device's own seconds set right by its samples of least delay."""
        if self._simulated is not None:
            return sample
        self._delays.append(now_s - sample.at_s)
        return BowSample(
            sample.at_s + min(self._delays), sample.position, sample.speed_mm_s,
            sample.angle_deg, sample.lane, sample.level,
        )  # fmt: skip

    # telling

    def ghost(self) -> Ghost | None:
        """The bow as it was seen last."""
        if not self.following or not self._samples:
            return None
        last = self._samples[-1]
        lane = last.lane if not math.isnan(last.lane) else 3.0
        angle = last.angle_deg if not math.isnan(last.angle_deg) else 0.0
        return Ghost(last.position, lane, angle)

    def _score_ended(self, motion: Motion) -> None:
        """Score the bar that has just ended."""
        if not self._bars or self._bars[-1] == self._bar:
            return
        ended, self._bar = self._bar, self._bars[-1]
        if ended >= 0:
            self._score_one(motion, ended)

    def _score_one(self, motion: Motion, bar: int) -> None:
        seen = [s for s, b in zip(self._samples, self._bars, strict=True) if b == bar]
        for score in score_bars(motion, seen):
            self._scores[score.turn, score.bar_index] = score
            self.scored.emit(score)

    def finish(self) -> None:
        """The performance is over: score its last bar."""
        motion = self._transport.motion
        if motion is not None and self.following and self._bar >= 0:
            self._score_one(motion, self._bar)
            self._tell_trace()

    def _tell_trace(self) -> None:
        if not self._samples:
            return
        points = tuple(self._points[:: max(1, round(RATE_HZ / TRACE_HZ))])
        scores = {bar.bar_index: bar.score for bar in self._scores.values()}
        self.traced.emit(Trace(points, tuple(scores.items())))
