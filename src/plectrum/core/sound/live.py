"""One open string under a bow that a person moves: a tone that answers at once."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from plectrum.core.instrument.specification import Instrument
from plectrum.core.planning.contact.limits import (
    MIDDLE_LANE,
    force_max_n,
    force_min_n,
    lane_centre_mm,
)
from plectrum.core.sound.render import RATE_HZ, STARTED, Body, Sound, bent
from plectrum.core.sound.string import OVERSAMPLING, Controls, String
from plectrum.core.sound.touch import Touch, pitch_hz, share_of, touch

FOLLOW_S = 0.02  # how soon the tone has followed a hand
REFERENCE_M_S = 0.3  # at this speed in the middle lane it sounds mf (own default)


class Answer(StrEnum):
    """What the string does."""

    SINGS = "sings"
    CHOKES = "chokes"
    WHISTLES = "whistles"
    SILENT = "is silent"


@dataclass(frozen=True, slots=True)
class Hand:
    """What the bow is doing: speed in m/s, positive down; weight in N; contact from the bridge."""

    speed_m_s: float
    weight_n: float
    contact_mm: float


def limits_n(own: Instrument, string: int, hand: Hand) -> tuple[float, float]:
    """Lightest and heaviest weight that sings on an open string at this speed and contact."""
    z = np.array(own.impedances_kg_s[string])
    speed = np.array(max(abs(hand.speed_m_s), 1e-3))
    beta = np.array(hand.contact_mm / own.string_length_mm)
    return (
        float(force_min_n(z, speed, beta, own.loss_kg_s)),
        float(force_max_n(z, speed, beta)),
    )


def answer(own: Instrument, string: int, hand: Hand) -> Answer:
    """What an open string answers, by Schelleng's limits."""
    low, high = limits_n(own, string, hand)
    if hand.weight_n <= 0 or hand.speed_m_s == 0:
        return Answer.SILENT
    if hand.weight_n > high:
        return Answer.CHOKES
    return Answer.WHISTLES if hand.weight_n < low else Answer.SINGS


class LiveTone:
    """Sounds an open string block by block, following the hand as it is set."""

    def __init__(self, own: Instrument, string: int) -> None:
        self._own = own
        self._number = string
        self._rate = RATE_HZ * OVERSAMPLING
        open_hz = pitch_hz(own.open_midis[string])
        self._string = String(open_hz, own.impedances_kg_s[string], self._rate)
        self._body = Body(own)
        middle_mm = float(lane_centre_mm(own, np.array(float(MIDDLE_LANE))))
        self._reference = REFERENCE_M_S / middle_mm
        self._hand = Hand(0.0, 0.0, middle_mm)
        self._before: Touch | None = None
        self._speed = 0.0

    def set(self, hand: Hand) -> None:
        """What the hand does from now on; may be called from another thread."""
        self._hand = hand

    def block(self, count_n: int) -> Sound:
        """The next samples, shape (count_n,), −1 to 1."""
        hand, n = self._hand, count_n * OVERSAMPLING
        low, high = limits_n(self._own, self._number, hand)
        now = touch(
            self._own, self._number, self._own.open_midis[self._number], hand.speed_m_s,
            hand.contact_mm, share_of(hand.weight_n, low, high), self._reference,
        )  # fmt: skip
        before = self._before or now
        gone = np.clip(np.arange(1, n + 1) / (FOLLOW_S * self._rate), 0.0, 1.0)
        speed = self._speed + (hand.speed_m_s - self._speed) * gone
        run = np.abs(speed) / max(abs(hand.speed_m_s), 1e-3)
        turns = self._speed * hand.speed_m_s <= 0
        if now.clean and hand.speed_m_s and (turns or not before.clean):
            self._string.start(now.f0_hz, now.beta, STARTED * hand.speed_m_s)
            speed = hand.speed_m_s * np.maximum(STARTED, gone)
            run = np.maximum(STARTED, gone)
        force = (before.force_n + (now.force_n - before.force_n) * gone) * np.clip(run, 0.05, 1.0)
        if hand.speed_m_s == 0 or hand.weight_n <= 0:
            force[:] = 0.0
        beta = before.beta + (now.beta - before.beta) * gone
        gain = before.gain + (now.gain - before.gain) * gone
        f0, none, free = np.full(n, now.f0_hz), np.zeros(n), np.ones(n)
        wave = self._string.run(Controls(f0, beta, speed, force, none, free))
        self._before, self._speed = now, float(speed[-1]) if n else self._speed
        return bent(self._body.run(wave * gain))
