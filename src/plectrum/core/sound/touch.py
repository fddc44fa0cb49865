"""How the bow's speed, weight and contact point are passed on to the model of the string.

The model breaks down upwards where J. C. Schelleng's upper limit says so, within a few per cent
of the limit's logarithm; downwards it needs more weight than his lower limit (a beginning note
has to get the whole string going). So weight goes in by where it lies between the plan's limits:
inside them it is laid over the range in which the model swings as a bowed string should, outside
them beyond that range. The ranges were found by trying all strings of the four instruments, open
and stopped, in all lanes; a test tries them again. The contact point is kept to where the model
is sure of itself; what it would do to loudness is made up for. All numbers are own defaults.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import log

import numpy as np

from plectrum.core.instrument.specification import Instrument
from plectrum.core.planning import rules
from plectrum.core.planning.contact.limits import force_max_n, force_min_n

BETA_LOW, BETA_HIGH = 0.07, 0.12
SURE = (0.70, 0.86)  # of the model's own range: here it swings well on every string
CHOKED, WHISTLED = 1.30, 0.08  # it rattles from the one on, and jumps to partials below the other
ATTACK = 0.78  # at first, to get the string going …
SETTLE_PERIODS = 10.0  # … and so soon it is left to its own weight
NATURAL_RMS = 0.28  # of the wave at the bridge: this times speed over contact
MF_RMS = 0.1  # mezzo forte in the file, 20 dB below full scale
MOST_BY_WEIGHT_DB = 6.0  # heavier is louder by so much at most


def pitch_hz(midi: float) -> float:
    """Equal temperament with A4 = 440 Hz (ISO 16)."""
    return float(440.0 * 2.0 ** ((midi - 69) / 12))


def model_share(share: float) -> float:
    """Where in the model's own range a weight is put that lies at `share` of the plan's limits,
    0 being the lower and 1 the upper; outside them below 0 and above 1."""
    low, high = SURE
    if share > 1.0:
        return CHOKED + (share - 1.0)
    if share < 0.0:
        return WHISTLED + share
    return low + (high - low) * share


@dataclass(frozen=True, slots=True)
class Touch:
    """What the bow does to one string, ready for the model.

    Attributes:
        beta: contact point over sounding length, as the model gets it.
        force_n: weight as the model gets it; attack_n: at the beginning of a stroke.
        gain: from the model's wave to the file.
        clean: whether the weight lies between the plan's limits.
    """

    f0_hz: float
    beta: float
    force_n: float
    attack_n: float
    gain: float
    clean: bool


def touch(
    own: Instrument,
    string: int,
    midi: int,
    speed_m_s: float,
    contact_mm: float,
    share: float,
    reference_per_mm: float,
) -> Touch:
    """The touch of a bow on a string.

    Args:
        string: 0 lowest; midi: what it sounds.
        share: where the weight lies between the plan's limits.
        reference_per_mm: speed over contact in m/s per mm that sounds mf on this string.
    """
    z = own.impedances_kg_s[string]
    length_mm = own.string_length_mm * 2.0 ** ((own.open_midis[string] - midi) / 12)
    beta = min(BETA_HIGH, max(BETA_LOW, contact_mm / length_mm))
    speed = np.array(max(abs(speed_m_s), 1e-3))
    low = float(force_min_n(np.array(z), speed, np.array(beta), own.loss_kg_s))
    high = float(force_max_n(np.array(z), speed, np.array(beta)))
    at = model_share(share)
    start = max(at, ATTACK) if 0.0 <= share <= 1.0 else at
    by_weight_db = rules.WEIGHT_DB * (share - rules.NEUTRAL)
    loud_db = min(MOST_BY_WEIGHT_DB, max(-MOST_BY_WEIGHT_DB, by_weight_db))
    gain = MF_RMS / NATURAL_RMS * beta / (contact_mm * reference_per_mm) * 10 ** (loud_db / 20)
    return Touch(
        pitch_hz(midi),
        beta,
        low * (high / low) ** at,
        low * (high / low) ** start,
        gain,
        0.0 <= share <= 1.0,
    )


def share_of(weight_n: float, low_n: float, high_n: float) -> float:
    """Where a weight lies between two limits, on a scale of its logarithm."""
    return log(max(weight_n, 1e-6) / low_n) / log(high_n / low_n)
