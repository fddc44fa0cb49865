"""Lanes between bridge and fingerboard, and the limits of weight at a contact point.

Conventions: x is the distance from the bridge in mm, L the sounding length in mm, β = x/L,
v the bow speed, Z the string's impedance in kg/s, forces in N. Lanes 1 (bridge) to 5
(fingerboard) are equal parts of the way from bridge to fingerboard (own definition).

Reference: J. C. Schelleng, "The bowed string and the player", J. Acoust. Soc. Am. 53, 1973:
F_max = 2 Z v / (Δμ β), F_min = Z² v / (2 R Δμ β²), with values quoted from memory. Departure:
the loss R goes with the strings' mean impedance, else the limits of the bass would cross.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from plectrum.core.instrument.specification import FRICTION_DIFFERENCE, Instrument

Floats = NDArray[np.float64]
LANES_N = 5
MIDDLE_LANE = 3


def force_max_n(z_kg_s: Floats, v_m_s: Floats, beta: Floats) -> Floats:
    """Schelleng's upper limit: heavier than this chokes."""
    limit: Floats = 2.0 * z_kg_s * v_m_s / (FRICTION_DIFFERENCE * beta)
    return limit


def force_min_n(z_kg_s: Floats, v_m_s: Floats, beta: Floats, loss_kg_s: float) -> Floats:
    """Schelleng's lower limit: lighter than this whistles."""
    limit: Floats = z_kg_s**2 * v_m_s / (2.0 * loss_kg_s * FRICTION_DIFFERENCE * beta**2)
    return limit


def lane_centre_mm(own: Instrument, lane: Floats) -> Floats:
    """Distance of a lane's middle from the bridge."""
    centre: Floats = (lane - 0.5) / LANES_N * own.bridge_to_fingerboard_mm
    return centre
