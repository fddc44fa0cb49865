"""The loudspeaker: sound rendered a little ahead of what is heard.

Without a sound card, or without the system's sound library, everything runs silently and `why`
says so.
"""

from __future__ import annotations

import importlib
from collections import deque
from typing import Any, Protocol

from PySide6.QtCore import (
    QIODevice,
    QLoggingCategory,
    QObject,
    QTimer,
    Signal,
    qInstallMessageHandler,
)

from plectrum.core.sound.render import RATE_HZ, Sound
from plectrum.core.sound.wav import as_pcm
from plectrum.core.wording import say, tr
from plectrum.ui.editing.runner import Runner

BLOCK_N = 4096
AHEAD_S = 0.4  # rendered before it is heard
BUFFER_S = 0.15  # lies with the sound card
TICK_MS = 15
BYTES = 2  # of a sample


def _load_library() -> None:
    """The library and its list of devices. It tells all that it lacks for films, which nobody
    shows here."""
    QLoggingCategory.setFilterRules("qt.multimedia.*=false")
    before = qInstallMessageHandler(lambda *_: None)
    try:
        importlib.import_module("PySide6.QtMultimedia").QMediaDevices.defaultAudioOutput()
    finally:
        qInstallMessageHandler(before)


class Source(Protocol):
    """What can be played: a renderer, or a live tone."""

    def block(self, count_n: int) -> Sound:
        """The next samples."""
        ...


class Speaker(QObject):
    """Plays one source at a time."""

    failed = Signal(str)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.why = ""
        self._sink: Any = None
        self._device: QIODevice | None = None
        self._source: Source | None = None
        self._ready: deque[bytes] = deque()
        self._ready_n = 0
        self._begun_s = 0.0
        self._ahead_s = AHEAD_S
        self._renderer = Runner(self)
        self._loader = Runner(self)
        self._timer = QTimer(self, interval=TICK_MS)
        self._timer.timeout.connect(self._tick)

    def get_ready(self) -> None:
        """Load the system's sound library aside, so that the first sound need not wait for it."""
        self._loader.run(_load_library, lambda _: None, lambda _: None)

    def open_sink(self) -> Any:
        """A sink of the default device, or None with `why` told; one place, for tests."""
        try:
            _load_library()
            from PySide6.QtMultimedia import QAudioFormat, QAudioSink, QMediaDevices
        except ImportError:
            self.why = tr("no sound: the system's sound library is missing")
            return None
        device = QMediaDevices.defaultAudioOutput()
        if device.isNull():
            self.why = tr("no sound: there is no audio device")
            return None
        form = QAudioFormat()
        form.setSampleRate(RATE_HZ)
        form.setChannelCount(1)
        form.setSampleFormat(QAudioFormat.SampleFormat.Int16)
        if not device.isFormatSupported(form):
            self.why = tr("no sound: the audio device does not take 44.1 kHz, 16 bits")
            return None
        self.why = ""
        sink = QAudioSink(device, form)
        sink.setBufferSize(int(BUFFER_S * RATE_HZ) * BYTES)
        return sink

    @property
    def playing(self) -> bool:
        return self._device is not None

    def play(self, source: Source, at_s: float = 0.0, ahead_s: float = AHEAD_S) -> bool:
        """Play from now on; False if there is nothing to play it with.

        Args:
            at_s: the performance's time at the source's first sample.
        """
        self.stop()
        sink = self.open_sink()
        if sink is None:
            return False
        device = sink.start()
        if device is None:
            self.why = tr("no sound: the audio device does not start")
            return False
        self._sink, self._device = sink, device
        self._source, self._begun_s, self._ahead_s = source, at_s, ahead_s
        self._timer.start()
        self._tick()
        return True

    def stop(self) -> None:
        self._timer.stop()
        self._renderer.cancel()
        self._ready.clear()
        self._ready_n = 0
        self._source = None
        if self._sink is not None:
            self._sink.stop()
            self._sink = self._device = None

    def heard_s(self) -> float | None:
        """The time of what is being heard; None while nothing is."""
        if self._sink is None:
            return None
        played_s = self._sink.processedUSecs() / 1e6
        return self._begun_s + played_s if played_s > 0 else None

    def _tick(self) -> None:
        self._write()
        if not self._renderer.busy and self._ready_n < self._ahead_s * RATE_HZ:
            source = self._source
            if source is not None:
                self._renderer.run(lambda: source.block(BLOCK_N), self._take, self._broke)

    def _take(self, sound: Any) -> None:
        self._ready.append(as_pcm(sound))
        self._ready_n += len(sound)
        self._tick()

    def _broke(self, error: Exception) -> None:
        self.stop()
        self.failed.emit(say("the sound stopped: {error}", error=error))

    def _write(self) -> None:
        """Hand on what is ready, as much as the device takes."""
        while self._ready and self._sink is not None and self._device is not None:
            free = self._sink.bytesFree()
            if free < BYTES:
                return
            data = self._ready.popleft()
            part = data[: free // BYTES * BYTES]
            written = self._device.write(part)
            if written <= 0:
                self._ready.appendleft(data)
                return
            self._ready_n -= written // BYTES
            if written < len(data):
                self._ready.appendleft(data[written:])
