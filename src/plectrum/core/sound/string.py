"""One string of an instrument, bowed or plucked, as a digital waveguide.

Two travelling waves of velocity run from the bow to the nut and to the bridge and come back
inverted. Where they meet, the hair and the string either stick or slip; which of the two, and
with what force, follows from the friction curve and the wave that arrives, sample by sample
(Friedlander's construction with the hysteresis rule of M. E. McIntyre and J. Woodhouse, "On the
fundamentals of bowed-string dynamics", Acustica 43, 1979, from memory). Nothing in it knows about
limits: that a string too heavily bowed rattles and one too lightly bowed jumps to its octave comes
out of the model, near the limits that J. C. Schelleng published (see `contact`).

Conventions: velocities in m/s, forces in N, impedance Z in kg/s; `beta` is the bow's distance
from the bridge over the sounding length. Numbers without a source are own defaults.
"""

from __future__ import annotations

from dataclasses import dataclass, fields

import numpy as np
from numpy.typing import NDArray

from plectrum.core.instrument.specification import FRICTION_DIFFERENCE
from plectrum.core.sound import loops

Samples = NDArray[np.float64]

OVERSAMPLING = 2  # slips are shorter than a sample of the sound card can tell
DYNAMIC_FRICTION = 0.3  # rosin on a moving string, from memory; static is this and the difference
FALL_SHARE = 0.5  # friction has fallen half way when the string slips at this part of bow speed
LOSS_OVER_Z = 60.0  # bridge resistance over impedance: how long a string rings
REFLECTED = (LOSS_OVER_Z - 1.0) / (LOSS_OVER_Z + 1.0)  # of a wave at the bridge
ROUNDED_AT, ROUNDED_HZ = 30.0, 10_000.0  # the bridge takes partials beyond this number, or pitch
LINE_N = 8192  # samples a travelling wave may be under way; 21 Hz at twice 44.1 kHz


@dataclass(frozen=True)
class Controls:
    """What is done to a string, one value a sample; all arrays of shape (N,).

    Attributes:
        f0_hz: pitch of the sounding length.
        beta: contact point over sounding length.
        speed: of the bow in m/s, positive down.
        force: of the bow in N; 0 off the string.
        pluck: velocity given by a plucking finger, m/s.
        damping: 1 rings freely, less is damped by a finger, each time a wave comes round.
    """

    f0_hz: Samples
    beta: Samples
    speed: Samples
    force: Samples
    pluck: Samples
    damping: Samples

    def part(self, first: int, last: int) -> Controls:
        """Some of the samples."""
        return Controls(*(getattr(self, f.name)[first:last] for f in fields(self)))


class String:
    """A string that remembers how it moves from one block to the next."""

    def __init__(self, open_hz: float, impedance_kg_s: float, rate_hz: float) -> None:
        """A string at rest.

        Args:
            open_hz: pitch of the open string.
            rate_hz: samples a second; twice what is heard, see `OVERSAMPLING`.
        """
        self._z = impedance_kg_s
        self._rate_hz = rate_hz
        edge_hz = min(ROUNDED_AT * open_hz, ROUNDED_HZ)
        self._rounding = float(np.exp(-2.0 * np.pi * edge_hz / rate_hz))
        self._lines = np.zeros((2, LINE_N))
        self._state = np.zeros(3)

    def start(self, f0_hz: float, beta: float, speed_m_s: float) -> None:
        """Set the string swinging as a well begun bow stroke does, a corner going round
        (H. von Helmholtz's motion): what a good player's first moment does to a slow string.

        Args:
            speed_m_s: of the bow at that moment; positive down.
        """
        period = self._rate_hz / f0_hz
        at = int(self._state[2])
        back = np.arange(at - LINE_N, at)
        turns = (back - at) / period
        for line, sign, late in ((1, 1.0, 0.0), (0, -1.0, beta)):
            wave = sign * speed_m_s / beta * ((turns - late + beta) % 1.0 - 0.5)
            self._lines[line, back % LINE_N] = wave
        self._state[0], self._state[1] = self._lines[1, int(at - period * beta) % LINE_N], 1.0

    def run(self, controls: Controls) -> Samples:
        """The wave at the bridge in m/s, shape (N,): what the bridge passes on is in proportion."""
        out = np.empty(len(controls.f0_hz))
        f0, beta, speed, force, pluck, damping = (
            np.ascontiguousarray(getattr(controls, f.name)) for f in fields(controls)
        )
        loops.run_string(
            self._rate_hz, f0, beta, speed, force, pluck, damping, self._z, self._rounding,
            REFLECTED, DYNAMIC_FRICTION, FRICTION_DIFFERENCE, FALL_SHARE, self._lines,
            self._state, out,
        )  # fmt: skip
        return out
