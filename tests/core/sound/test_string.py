"""The model of the string against what is published of bowed strings.

Helmholtz's motion (one slip a period, a sawtooth at the bridge) between the limits of J. C.
Schelleng, J. Acoust. Soc. Am. 53, 1973 (formulas from memory, see `contact`), and its breakdown
outside; pitches against equal temperament on A4 = 440 Hz (ISO 16).
"""

from __future__ import annotations

import numpy as np
import pytest

from plectrum.core.instrument.specification import instrument, instrument_names
from plectrum.core.planning.contact.limits import force_max_n, force_min_n
from plectrum.core.sound.string import OVERSAMPLING, Controls, String
from plectrum.core.sound.touch import BETA_HIGH, BETA_LOW, model_share, pitch_hz
from tests.core.sound.measures import cents, first_share, harmonic_share, rms

RATE = 44_100 * OVERSAMPLING
SECONDS = 1.2
STRINGS = [(name, k) for name in instrument_names() for k in range(4)]
LANES = (2, 3, 4)


def bowed(name: str, number: int, semitones: int, lane: int, at: float, speed: float = 0.2):
    """The wave at the bridge under an even bow whose weight lies at `at` between the limits that
    hold for the model's contact point; the second half, when the beginning is over."""
    own = instrument(name)
    z, n = own.impedances_kg_s[number], int(SECONDS * RATE)
    f0 = pitch_hz(own.open_midis[number] + semitones)
    length_mm = own.string_length_mm * 2 ** (-semitones / 12)
    beta = (lane - 0.5) / 5 * own.bridge_to_fingerboard_mm / length_mm
    beta = min(BETA_HIGH, max(BETA_LOW, beta))
    args = np.array(z), np.array(speed), np.array(beta)
    low, high = float(force_min_n(*args, own.loss_kg_s)), float(force_max_n(*args))
    t = np.arange(n) / RATE
    run = np.minimum(1.0, t * f0 / 6)
    start = np.maximum(0.0, 0.78 - at) * np.exp(-t * f0 / 10) if at > 0.5 else 0.0
    force = low * (high / low) ** (at + start) * np.maximum(run, 0.05)
    string = String(pitch_hz(own.open_midis[number]), z, RATE)
    if at > 0.5:
        string.start(f0, beta, 0.6 * speed)
    none, even = np.zeros(n), np.ones(n)
    wave = string.run(Controls(f0 * even, beta * even, run * speed, force, none, even))
    return wave[n // 2 :], f0, beta


@pytest.mark.parametrize(("name", "number"), STRINGS)
def test_between_the_limits_it_swings_in_tune_with_one_slip_a_period(name, number):
    """A sawtooth has 6/π² = 0.61 of its power in the first partial, and its level at the bridge
    follows speed over contact."""
    for lane in LANES:
        for semitones in (0, 4):
            for share in (0.1, 0.5, 0.9):
                wave, f0, beta = bowed(name, number, semitones, lane, model_share(share))
                where = f"{name} string {number} lane {lane} +{semitones} share {share}"
                assert abs(cents(wave, RATE, f0)) < 5.0, where
                assert harmonic_share(wave, RATE, f0) > 0.90, where
                assert 0.35 < first_share(wave, RATE, f0) < 0.75, where
                sawtooth = 0.2 / beta / np.sqrt(12)
                assert 0.7 * sawtooth < rms(wave) < 1.4 * sawtooth, where


@pytest.mark.parametrize(("name", "number"), STRINGS)
def test_too_heavy_it_rattles(name, number):
    for lane in LANES:
        for share in (1.05, 1.2, 1.5):
            wave, f0, _ = bowed(name, number, 0, lane, model_share(share))
            assert harmonic_share(wave, RATE, f0) < 0.75, (lane, share)


@pytest.mark.parametrize(("name", "number"), STRINGS)
def test_too_light_it_jumps_to_its_partials(name, number):
    for lane in LANES:
        for share in (-0.05, -0.2):
            wave, f0, _ = bowed(name, number, 0, lane, model_share(share))
            assert first_share(wave, RATE, f0) < 0.25, (lane, share)


def test_the_models_own_upper_limit_is_schellengs():
    """Without any mapping: up to nine tenths of the way (as a logarithm) it swings, two fifths
    above the limit it does not, on every string in the middle lane."""
    swings = {0.85: [], 1.4: []}
    for name, number in STRINGS:
        for at, found in swings.items():
            wave, f0, _ = bowed(name, number, 0, 3, at)
            found.append(harmonic_share(wave, RATE, f0) > 0.85)
    assert all(swings[0.85])
    assert not any(swings[1.4])


def test_heavier_is_brighter():
    """Between the limits more weight sharpens the corner (Cremer's rounding): relatively more
    power above the tenth partial."""
    shares = []
    for at in (0.72, 0.86):
        wave, f0, _ = bowed("violin", 1, 0, 3, at)
        power = np.abs(np.fft.rfft(wave * np.hanning(len(wave)))) ** 2
        hz = np.fft.rfftfreq(len(wave), 1 / RATE)
        shares.append(power[(hz > 10.5 * f0) & (hz < 20_000)].sum() / power.sum())
    assert shares[1] > 1.1 * shares[0]


def test_a_string_left_alone_rings_on_and_dies_away():
    own = instrument("violin")
    string = String(440.0, own.impedances_kg_s[2], RATE)
    n = RATE
    none, even = np.zeros(n), np.ones(n)
    pluck = np.zeros(n)
    pluck[: int(0.1 * RATE / 440)] = 1.0
    wave = string.run(Controls(440.0 * even, 0.1 * even, none, none, pluck, even))
    tenths = [rms(wave[int(a * n) : int((a + 0.1) * n)]) for a in (0.0, 0.2, 0.5, 0.9)]
    assert tenths == sorted(tenths, reverse=True)
    assert tenths[-1] < 0.05 * tenths[0]
    assert abs(cents(wave[: n // 2], RATE, 440.0)) < 5.0
    again = String(440.0, own.impedances_kg_s[2], RATE)
    half = n // 2
    controls = Controls(440.0 * even, 0.1 * even, none, none, pluck, even)
    parts = [again.run(controls.part(0, half)), again.run(controls.part(half, n))]
    assert np.array_equal(np.concatenate(parts), wave)
