"""Spectral measures of a tone, made with NumPy alone so that they know nothing of the model."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

TOP_HZ = 8000.0


def spectrum(sound, rate_hz: float, least_hz: float):
    """Frequencies and power; padded so that even short tones are finely read. Several measures of
    one tone ask for it in turn."""
    return _spectrum(np.asarray(sound, dtype=float).tobytes(), rate_hz, least_hz)


@lru_cache(maxsize=2)
def _spectrum(sound: bytes, rate_hz: float, least_hz: float):
    wave = np.frombuffer(sound)
    wave = wave - wave.mean()
    size = 1 << int(np.ceil(np.log2(max(4 * len(wave), 40 * rate_hz / least_hz))))
    power = np.abs(np.fft.rfft(wave * np.hanning(len(wave)), size)) ** 2
    return np.fft.rfftfreq(size, 1 / rate_hz), power


def cents(sound, rate_hz: float, f0_hz: float) -> float:
    """How far the first partial lies from a pitch, by the peak of its power."""
    hz, power = spectrum(sound, rate_hz, f0_hz)
    near = np.flatnonzero((hz > 0.94 * f0_hz) & (hz < 1.06 * f0_hz))
    k = near[power[near].argmax()]
    a, b, c = np.log(power[k - 1 : k + 2] + 1e-30)
    return float(1200 * np.log2((k + 0.5 * (a - c) / (a - 2 * b + c)) * hz[1] / f0_hz))


def harmonic_share(sound, rate_hz: float, f0_hz: float) -> float:
    """The part of the power that lies at whole multiples of a pitch: near 1 for a tone that
    repeats itself, small for one that rattles."""
    hz, power = spectrum(sound, rate_hz, f0_hz)
    top_hz = min(TOP_HZ, 30 * f0_hz)
    width_hz = 2.5 * rate_hz / len(sound)
    k = np.maximum(1, np.round(hz / f0_hz))
    near = np.abs(hz - k * f0_hz) < np.maximum(width_hz, 0.006 * k * f0_hz)
    heard = (hz > 0.4 * f0_hz) & (hz < top_hz)
    return float(power[heard & near].sum() / power[heard].sum())


def first_share(sound, rate_hz: float, f0_hz: float) -> float:
    """The part of the power in the first partial: most of it for one slip a period, next to
    nothing where the string slips twice and more."""
    hz, power = spectrum(sound, rate_hz, f0_hz)
    width_hz = max(2.5 * rate_hz / len(sound), 0.01 * f0_hz)
    heard = (hz > 0.4 * f0_hz) & (hz < min(TOP_HZ, 30 * f0_hz))
    return float(power[np.abs(hz - f0_hz) < width_hz].sum() / power[heard].sum())


def rms(sound) -> float:
    return float(np.sqrt(np.mean(np.square(np.asarray(sound, dtype=float)))))
