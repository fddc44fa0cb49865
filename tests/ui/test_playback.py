"""The clock that never drifts, and the loudspeaker with a sound card of paper."""

from __future__ import annotations

import subprocess
import sys

import numpy as np
import pytest

from plectrum.core.playing.performance import Performance, Rehearsal
from plectrum.core.sound.render import RATE_HZ, Renderer
from plectrum.core.sound.wav import as_pcm
from plectrum.ui.editing import interpreter
from plectrum.ui.playback.clock import PlayClock
from plectrum.ui.playback.playing import Heard
from plectrum.ui.playback.speaker import Speaker
from plectrum.ui.playback.transport import Transport
from tests.tunes import tune_plan

TEN_MINUTES_S = 600.0


class Time:
    """A clock that is turned by hand."""

    def __init__(self) -> None:
        self.now_s = 1234.5

    def __call__(self) -> float:
        return self.now_s


class PaperCard:
    """A sound card that takes what it has room for and plays when time is turned on."""

    def __init__(self, room_n: int = 6615) -> None:
        self.room = room_n * 2
        self.written = b""
        self.played = 0
        self.stopped = False

    def start(self) -> PaperCard:
        return self

    def bytesFree(self) -> int:
        return self.room - (len(self.written) - self.played)

    def write(self, data: bytes) -> int:
        assert len(data) <= self.bytesFree()
        self.written += data
        return len(data)

    def play(self, seconds: float) -> None:
        self.played = min(len(self.written), self.played + int(seconds * RATE_HZ) * 2)

    def processedUSecs(self) -> int:
        return round(self.played / 2 / RATE_HZ * 1e6)

    def stop(self) -> None:
        self.stopped = True


def performance(loop: bool = True) -> Performance:
    return Performance(tune_plan("D4 A4 B4 E5"), Rehearsal(loop=loop, count_in=False))


def test_no_drift_over_ten_minutes():
    """Read sixty times a second, with frames that come late, the clock shows what has passed."""
    time, rng = Time(), np.random.default_rng(5)
    clock = PlayClock(time)
    clock.start(2.0)
    begun = time.now_s
    while time.now_s - begun < TEN_MINUTES_S:
        time.now_s += rng.choice([0.016, 0.017, 0.040])
        assert clock.read() == pytest.approx(2.0 + time.now_s - begun, abs=1e-9)


@pytest.mark.parametrize("ppm", [200.0, -200.0])
def test_the_picture_stays_with_a_sound_card_whose_clock_is_off(ppm):
    """With 200 millionths the two would be 120 ms apart after ten minutes; they stay within 5."""
    time = Time()
    clock = PlayClock(time)
    clock.start(0.0)
    begun = time.now_s
    for _ in range(int(TEN_MINUTES_S * 60)):
        time.now_s += 1 / 60
        heard = (time.now_s - begun) * (1 + ppm * 1e-6)
        clock.heard(heard)
        assert abs(clock.read() - heard) < 0.005
    assert time.now_s - begun > 590


def test_a_pause_and_a_leap_are_taken_up():
    time = Time()
    clock = PlayClock(time)
    clock.start(1.0)
    time.now_s += 2.0
    assert clock.stop() == pytest.approx(3.0)
    time.now_s += 100.0
    assert clock.read() == pytest.approx(3.0)
    clock.start(clock.read())
    clock.heard(9.0)
    assert clock.read() == pytest.approx(9.0)
    clock.set(0.5)
    assert clock.read() == pytest.approx(0.5)


@pytest.fixture
def card(monkeypatch) -> PaperCard:
    made = PaperCard()
    monkeypatch.setattr(Speaker, "open_sink", lambda self: made)
    return made


def test_what_is_rendered_is_what_the_card_gets(qtbot, themed, card):
    speaker = Speaker()
    assert speaker.play(Renderer(performance()))
    while len(card.written) < 3 * RATE_HZ * 2:
        qtbot.waitUntil(lambda: card.bytesFree() < 200, timeout=30_000)
        card.play(0.1)
    sound = np.frombuffer(card.written[: 2 * RATE_HZ * 2], dtype="<i2") / 32767
    expected = Renderer(performance()).block(2 * RATE_HZ)
    assert np.abs(sound - np.frombuffer(as_pcm(expected), dtype="<i2") / 32767).max() < 0.02
    assert speaker.heard_s() == pytest.approx(card.processedUSecs() / 1e6)
    speaker.stop()
    assert card.stopped
    assert speaker.heard_s() is None


def test_the_transport_follows_the_card(qtbot, themed, card):
    """The picture shows what is heard, not what was sent."""
    transport = Transport(Speaker())
    transport.set_performance(performance())
    transport.play()
    qtbot.waitUntil(lambda: len(card.written) > 2000, timeout=30_000)
    transport.clock.set(5.0)
    card.play(0.08)
    heard = card.processedUSecs() / 1e6
    qtbot.waitUntil(lambda: abs(transport.now_s() - heard) < 0.3, timeout=30_000)
    transport.pause()


def test_a_source_that_breaks_stops_the_sound_not_the_window(qtbot, themed, card):
    class Broken:
        def block(self, count_n: int):
            raise RuntimeError("paper jam")

    speaker = Speaker()
    with qtbot.waitSignal(speaker.failed, timeout=30_000) as told:
        speaker.play(Broken())
    assert "paper jam" in told.args[0]
    assert not speaker.playing


def test_nothing_is_collected_while_it_plays(qtbot, themed, monkeypatch):
    """Looking through all objects takes long enough to be seen in the bow."""
    collected = []
    monkeypatch.setattr(interpreter.gc, "collect", lambda *args: collected.append(args))
    monkeypatch.setattr(interpreter.gc, "get_count", lambda: (10**6, 0, 0))
    collector = interpreter.GarbageCollector()
    transport = Transport(Speaker())
    transport.set_performance(performance())
    transport.play()
    collector._look()
    assert not collected
    transport.pause()
    collector._look()
    assert collected
    collector._timer.stop()


def test_what_is_heard_can_be_changed_while_it_plays(qtbot, themed, card):
    transport = Transport(Speaker())
    transport.set_performance(performance())
    transport.play()
    transport.set_heard(Heard(tone=False, click=False))
    assert not transport.speaker.playing
    transport.set_heard(Heard(tone=True, click=False))
    assert transport.speaker.playing
    transport.pause()
    assert not transport.speaker.playing


def test_the_systems_own_devices_are_asked_for():
    """In a process of its own: with or without a device, the answer is a sink or a reason."""
    code = (
        "from PySide6.QtWidgets import QApplication; a = QApplication([]);"
        "from plectrum.ui.playback.speaker import Speaker; s = Speaker();"
        "sink = s.open_sink(); print('ok' if (sink is None) == bool(s.why) else 'no')"
    )
    done = subprocess.run(
        [sys.executable, "-c", code], capture_output=True, text=True, timeout=120, check=True
    )
    assert done.stdout.strip() == "ok"
