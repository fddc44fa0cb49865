"""The string under a hand: it answers as Schelleng's limits say, and as it is heard."""

from __future__ import annotations

import numpy as np
import pytest

from plectrum.core.instrument.specification import instrument
from plectrum.core.sound.live import Answer, Hand, LiveTone, answer, limits_n
from plectrum.core.sound.render import RATE_HZ
from plectrum.core.sound.touch import pitch_hz, share_of
from tests.core.sound.measures import first_share, harmonic_share, rms

CASES = [("violin", 2, 29.0), ("violin", 0, 29.0), ("cello", 1, 55.0), ("viola", 3, 30.0)]


@pytest.mark.parametrize(("name", "string", "contact_mm"), CASES)
def test_what_is_said_is_what_is_heard(name, string, contact_mm):
    own = instrument(name)
    hz = pitch_hz(own.open_midis[string])
    low, high = limits_n(own, string, Hand(0.25, 1.0, contact_mm))
    for weight, expected in (
        ((low * high) ** 0.5, Answer.SINGS),
        (high * 2, Answer.CHOKES),
        (low / 2, Answer.WHISTLES),
    ):
        hand = Hand(0.25, weight, contact_mm)
        assert answer(own, string, hand) is expected
        tone = LiveTone(own, string)
        tone.set(hand)
        sound = np.concatenate([tone.block(2205) for _ in range(30)])[RATE_HZ // 2 :]
        rattles = harmonic_share(sound, RATE_HZ, hz) < 0.75
        jumps = not rattles and first_share(sound, RATE_HZ, hz) < 0.15
        assert rattles == (expected is Answer.CHOKES)
        assert jumps == (expected is Answer.WHISTLES)


def test_the_cures_cure():
    """Choked: lighter, faster or nearer the bridge. Whistling: heavier, slower or farther from it
    (trade fact 3, common practice)."""
    own = instrument("violin")
    choked = Hand(0.1, limits_n(own, 2, Hand(0.1, 1.0, 29.0))[1] * 1.3, 29.0)
    for cure in (
        Hand(0.1, choked.weight_n / 2, 29.0),
        Hand(0.2, choked.weight_n, 29.0),
        Hand(0.1, choked.weight_n, 18.0),
    ):
        assert answer(own, 2, cure) is Answer.SINGS
    whistling = Hand(0.6, limits_n(own, 2, Hand(0.6, 1.0, 12.0))[0] * 0.8, 12.0)
    assert answer(own, 2, whistling) is Answer.WHISTLES
    for cure in (
        Hand(0.6, whistling.weight_n * 2, 12.0),
        Hand(0.3, whistling.weight_n, 12.0),
        Hand(0.6, whistling.weight_n, 20.0),
    ):
        assert answer(own, 2, cure) is Answer.SINGS


def test_faster_and_nearer_the_bridge_is_louder():
    own = instrument("violin")

    def level(speed: float, contact_mm: float) -> float:
        low, high = limits_n(own, 2, Hand(speed, 1.0, contact_mm))
        tone = LiveTone(own, 2)
        tone.set(Hand(speed, (low * high) ** 0.5, contact_mm))
        return rms(np.concatenate([tone.block(2205) for _ in range(20)])[RATE_HZ // 2 :])

    assert level(0.4, 29.0) > 1.5 * level(0.2, 29.0)
    assert level(0.2, 18.0) > 1.3 * level(0.2, 35.0)


def test_a_bow_that_stands_is_silent_and_a_turn_is_not_a_crack():
    own = instrument("violin")
    tone = LiveTone(own, 2)
    assert np.abs(tone.block(4410)).max() == 0.0
    tone.set(Hand(0.25, 0.5, 29.0))
    before = np.concatenate([tone.block(2205) for _ in range(20)])
    tone.set(Hand(-0.25, 0.5, 29.0))
    turn = tone.block(4410)
    assert np.abs(turn).max() < 2.0 * np.abs(before[-8820:]).max()
    tone.set(Hand(0.0, 0.5, 29.0))
    after = np.concatenate([tone.block(4410) for _ in range(30)])
    assert rms(after[-4410:]) < 0.05 * rms(before[-4410:])


def test_shares_run_from_limit_to_limit():
    assert share_of(0.1, 0.1, 1.0) == 0.0
    assert share_of(1.0, 0.1, 1.0) == pytest.approx(1.0)
    assert share_of(10.0, 0.1, 1.0) == pytest.approx(2.0)
