"""A performance as sound, block by block or all at once."""

from __future__ import annotations

import bisect
import math
from collections.abc import Iterable, Iterator, Sequence

import numpy as np
from numpy.typing import NDArray

from plectrum.core.instrument.specification import Instrument
from plectrum.core.playing.performance import Beat, Performance
from plectrum.core.sound.clips import Clip, Clips
from plectrum.core.sound.filters import EDGE, Filter, high_pass, low_pass, peak
from plectrum.core.sound.gestures import Gesture, gestures_of
from plectrum.core.sound.string import OVERSAMPLING, Controls, Samples, String
from plectrum.core.sound.touch import MF_RMS, SETTLE_PERIODS, pitch_hz

RATE_HZ = 44_100
RUN_S = 0.012  # in which the bow comes up to speed, and comes to rest
RUN_SHARE = 0.15  # of a short note at most
RUN_PERIODS = 6.0
STARTED = 0.6  # a clean stroke begins with the string swinging at this part of its speed
LEAVE = 0.05  # of the force is there from the first moment
REST_SHARE = 0.5  # of its weight lies on the string while the bow rests there
RINGING = 1e-4  # softer than this a string counts as still
FINGER_DAMPING = 0.97  # of a stopped string that is left, each time a wave comes round
PLUCK_PERIODS = 0.12  # how long a plucking finger takes to let go
PLUCK_GAIN = 3.4  # so that a plucked mf is about as loud as a bowed one at its beginning
BLOCK_N = 16_384
CLICK_S = 0.035
CLICK_HZ = {True: 1760.0, False: 1175.0}
CLICK_LEVEL = {True: 0.30, False: 0.18}
KNEE = 0.7  # louder than this is bent, so that nothing is cut off

Sound = NDArray[np.float32]
# Resonances of a violin's box, Hz, Q and dB: in the usual range, fitted to nothing.
_RESONANCES = ((280.0, 6.0, 4.0), (470.0, 5.0, 3.0), (560.0, 6.0, 3.0), (2400.0, 1.2, 5.0))


class Body:
    """What the box and the ear's distance make of the strings; remembers between blocks."""

    def __init__(self, own: Instrument) -> None:
        scale = own.box
        lowest = pitch_hz(own.open_midis[0])
        peaks = [(scale * hz if hz < 1000 else hz * math.sqrt(scale), q, db)
                 for hz, q, db in _RESONANCES]  # fmt: skip
        self._edge = Filter(EDGE)
        self._box = Filter(
            high_pass(0.6 * lowest, RATE_HZ),
            *(peak(*p, RATE_HZ) for p in peaks),
            low_pass(7000.0 * math.sqrt(scale), RATE_HZ),
        )

    def run(self, wave: Samples) -> Samples:
        """From the strings' rate to the file's."""
        return self._box.run(self._edge.run(wave)[::OVERSAMPLING])


def bent(wave: Samples) -> Sound:
    """Loud peaks rounded off below full scale."""
    over = np.abs(wave) - KNEE
    curve = np.sign(wave) * (KNEE + (1 - KNEE) * np.tanh(over / (1 - KNEE)))
    return np.where(over > 0, curve, wave).astype(np.float32)


def _make_click(strong: bool) -> Samples:
    t = np.arange(int(CLICK_S * RATE_HZ)) / RATE_HZ
    return np.asarray(CLICK_LEVEL[strong] * np.sin(2 * np.pi * CLICK_HZ[strong] * t)
                      * np.exp(-t / 0.006))  # fmt: skip


def clicks(beats: Iterable[Beat]) -> list[Clip]:
    """The beats of a metronome as clips."""
    made = {strong: _make_click(strong) for strong in (True, False)}
    return [(beat.at_s, made[beat.strong]) for beat in beats]


class _Bowed:
    """One string of the instrument in a performance, with what is done to it."""

    def __init__(self, own: Instrument, string: int, gestures: list[Gesture]) -> None:
        self._rate = RATE_HZ * OVERSAMPLING
        self._open_hz = pitch_hz(own.open_midis[string])
        self._string = String(self._open_hz, own.impedances_kg_s[string], self._rate)
        self._gestures = gestures
        self._starts = [g.start_s for g in gestures]
        self._loudest = 0.0
        self._last: Gesture | None = None
        self._gain = 0.0

    def run(self, from_s: float, count_n: int) -> Samples | None:
        """So many samples from a time on; None while the string is still."""
        until_s = from_s + count_n / self._rate
        first = max(0, bisect.bisect_right(self._starts, from_s) - 1)
        last = bisect.bisect_left(self._starts, until_s)
        here = self._gestures[first:last]
        if self._loudest < RINGING and not any(g.until_s > from_s for g in here):
            return None
        controls, gain, starts = self._controls(from_s, count_n, here)
        wave = self._run(controls, starts) * gain
        self._loudest = float(np.abs(wave[-(len(wave) // 4) :]).max())
        return np.asarray(wave)

    def _controls(
        self, from_s: float, count_n: int, here: list[Gesture]
    ) -> tuple[Controls, Samples, list[tuple[int, Gesture]]]:
        last = self._last
        f0 = np.full(count_n, last.touch.f0_hz if last else self._open_hz)
        beta = np.full(count_n, last.touch.beta if last else 0.1)
        gain = np.full(count_n, self._gain)
        speed, force, pluck = np.zeros(count_n), np.zeros(count_n), np.zeros(count_n)
        damping = np.full(count_n, self._left_damping(last))
        starts: list[tuple[int, Gesture]] = []
        for g in here:
            a = max(0, self._sample(g.start_s - from_s))
            if a >= count_n:
                break
            f0[a:], beta[a:] = g.touch.f0_hz, g.touch.beta
            self._reach_gain(gain, a, g, from_s)
            b = min(count_n, max(a, self._sample(g.until_s - from_s)))
            damping[a:b] = 1.0
            damping[b:] = self._left_damping(g)
            t = from_s + np.arange(a, b) / self._rate - g.start_s
            if g.begins and g.speed_m_s and g.touch.clean and self._is_new(g, from_s):
                starts.append((a, g))
            if g.speed_m_s:
                speed[a:b], force[a:b] = self._bow(g, t)
            else:
                pluck[a:b] = self._pluck(g, t)
            self._last = g
        if count_n:
            self._gain = float(gain[-1])
        return Controls(f0, beta, speed, force, pluck, damping), gain, starts

    def _run(self, controls: Controls, starts: list[tuple[int, Gesture]]) -> Samples:
        """Run the string, set swinging at the beginnings of strokes."""
        parts, done = [], 0
        for a, g in starts:
            parts.append(self._string.run(controls.part(done, a)))
            self._string.start(g.touch.f0_hz, g.touch.beta, STARTED * g.speed_m_s)
            done = a
        parts.append(self._string.run(controls.part(done, len(controls.f0_hz))))
        return np.concatenate(parts)

    def _sample(self, passed_s: float) -> int:
        """The first sample at or after a time; what rounding leaves of a sample is not counted."""
        return math.ceil(passed_s * self._rate - 1e-4)

    def _is_new(self, g: Gesture, from_s: float) -> bool:
        """Whether a gesture begins in the stretch that begins at a time, not before it."""
        return self._sample(g.start_s - from_s) >= 0

    def _left_damping(self, gesture: Gesture | None) -> float:
        """A stopped string that is left is damped by its finger; an open one rings on."""
        if gesture is None or abs(gesture.touch.f0_hz - self._open_hz) < 0.5:
            return 1.0
        return FINGER_DAMPING

    def _reach_gain(self, gain: Samples, a: int, g: Gesture, from_s: float) -> None:
        """The gain goes to a gesture's own in a few milliseconds."""
        wanted = g.touch.gain if g.speed_m_s else MF_RMS * PLUCK_GAIN
        begun = gain[max(a - 1, 0)] or wanted
        if not self._is_new(g, from_s):
            gain[a:] = wanted
            return
        n = min(len(gain) - a, int(0.005 * self._rate))
        gain[a : a + n] = np.linspace(begun, wanted, n)
        gain[a + n :] = wanted

    def _bow(self, g: Gesture, t: Samples) -> tuple[Samples, Samples]:
        """Speed and force at times since the gesture began."""
        moving_s = g.moved_s - g.start_s
        run_s = min(max(RUN_S, RUN_PERIODS / g.touch.f0_hz), RUN_SHARE * moving_s)
        least = STARTED if g.touch.clean else 0.0
        up = np.clip(t / run_s, least, 1.0) if g.begins else np.ones_like(t)
        down = np.clip((moving_s - t) / run_s, 0.0, 1.0) if g.ends else np.ones_like(t)
        if not g.ends:
            down = np.where(t <= moving_s + 1e-9, 1.0, 0.0)
        run = np.minimum(up, down)
        force = np.full_like(t, g.touch.force_n)
        if g.begins:
            extra = g.touch.attack_n - g.touch.force_n
            force += extra * np.exp(-t * g.touch.f0_hz / SETTLE_PERIODS)
        force *= np.maximum(run, LEAVE)
        resting = t > moving_s
        force[resting] = REST_SHARE * g.touch.force_n if g.rests else 0.0
        return g.speed_m_s * run, force

    def _pluck(self, g: Gesture, t: Samples) -> Samples:
        length_s = PLUCK_PERIODS / g.touch.f0_hz
        shape = np.where(t < length_s, 0.5 - 0.5 * np.cos(2 * np.pi * t / length_s), 0.0)
        return np.asarray(g.loud * shape)


class Renderer:
    """Renders a performance from its count-in on; a loop goes on for ever."""

    def __init__(
        self,
        performance: Performance,
        *,
        tone: bool = True,
        click: bool = True,
        voice: Sequence[Clip] = (),
        at_s: float = 0.0,
    ) -> None:
        """Prepare to render.

        Args:
            tone, click: what is to be heard.
            voice: what is said, and when.
            at_s: where to begin.
        """
        self._performance = performance
        self._tone = tone
        self._strings: list[_Bowed] | None = None  # made with the first block, wherever that is
        self._body = Body(performance.plan.instrument)
        self._clips = Clips([*clicks(performance.beats if click else ()), *voice], RATE_HZ)
        self._begun_s = at_s
        self._done_n = 0

    @property
    def at_s(self) -> float:
        """The time of the next sample since the start of the performance."""
        return self._begun_s + self._done_n / RATE_HZ

    @property
    def ended(self) -> bool:
        p = self._performance
        return not p.rehearsal.loop and self.at_s >= p.length_s

    def block(self, count_n: int) -> Sound:
        """The next samples, shape (count_n,), −1 to 1."""
        parts = []
        while count_n > 0:
            p = self._performance
            folded_s = p.fold(self.at_s)
            n = count_n
            if p.rehearsal.loop:
                n = min(n, max(1, math.ceil((p.length_s - folded_s) * RATE_HZ)))
            parts.append(self._stretch(folded_s, n))
            self._done_n += n
            count_n -= n
        return np.concatenate(parts) if parts else np.zeros(0, np.float32)

    def _made_strings(self) -> list[_Bowed]:
        if self._strings is None:
            own = self._performance.plan.instrument
            gestures = gestures_of(self._performance) if self._tone else []
            self._strings = [_Bowed(own, k, row) for k, row in enumerate(gestures)]
        return self._strings

    def _stretch(self, from_s: float, count_n: int) -> Sound:
        wave = np.zeros(count_n * OVERSAMPLING)
        if self.at_s < self._performance.length_s or self._performance.rehearsal.loop:
            for string in self._made_strings():
                sounding = string.run(from_s, len(wave))
                if sounding is not None:
                    wave += sounding
        sound = self._body.run(wave)
        self._clips.add(sound, from_s)
        return bent(sound)

    def blocks(self, after_s: float = 0.5) -> Iterator[Sound]:
        """All blocks of one time through, and what rings after it."""
        end_s = self._performance.length_s + after_s
        while self.at_s < end_s:
            left_n = math.ceil((end_s - self.at_s) * RATE_HZ)
            yield self.block(min(BLOCK_N, left_n))


def render(
    performance: Performance, *, tone: bool = True, click: bool = True, voice: Sequence[Clip] = ()
) -> Sound:
    """One time through a performance, shape (N,) at `RATE_HZ`, −1 to 1."""
    made = Renderer(performance, tone=tone, click=click, voice=voice)
    return np.concatenate(list(made.blocks()))
