"""The sample-by-sample loops of the sound where no compiler was there when the program was set up.

The same samples as `_compiled`, but slower than they are heard: a file can be made, a tone that
follows the hand cannot.
"""

from __future__ import annotations

from math import atan2, cos, floor, pi, sin, sqrt

import numpy as np
from numpy.typing import NDArray

Samples = NDArray[np.float64]


def run_string(
    rate: float,
    f0_hz: Samples,
    beta: Samples,
    speed: Samples,
    force: Samples,
    pluck: Samples,
    damping: Samples,
    z: float,
    rounding: float,
    reflect: float,
    dynamic_friction: float,
    friction_difference: float,
    fall_share: float,
    lines: Samples,
    state: Samples,
    out: Samples,
) -> None:
    """Advance one string; see `String.run`. `lines` and `state` are what it remembers."""
    mask = lines.shape[1] - 1
    to_nut, to_bridge = lines[0].tolist(), lines[1].tolist()
    smooth, sticking, at = float(state[0]), bool(state[1] > 0.5), int(state[2])
    last_f0, phase = -1.0, 0.0
    rows = zip(*(a.tolist() for a in (f0_hz, beta, speed, force, pluck, damping)), strict=True)
    for i, (f0, place, v, pressing, push, ringing) in enumerate(rows):
        if f0 != last_f0:
            w = 2.0 * pi * f0 / rate
            phase = atan2(rounding * sin(w), 1.0 - rounding * cos(w)) / w
            last_f0 = f0
        period = rate / f0
        x = at - period * (1.0 - place)
        k = floor(x)
        share = x - k
        from_nut = -(to_nut[k & mask] * (1.0 - share) + to_nut[(k + 1) & mask] * share)
        x = at - max(1.0, period * place - phase)
        k = floor(x)
        share = x - k
        arriving = to_bridge[k & mask] * (1.0 - share) + to_bridge[(k + 1) & mask] * share
        smooth = (1.0 - rounding) * arriving + rounding * smooth
        from_bridge = -reflect * ringing * smooth
        if pressing > 0.0:
            low = pressing * dynamic_friction / (2.0 * z)
            fall = pressing * friction_difference / (2.0 * z)
            v0 = fall_share * abs(v) + 1e-4
            dragged, sticking = _friction(v - from_nut - from_bridge, low, fall, v0, sticking)
            push += dragged
        else:
            sticking = False
        to_nut[at & mask] = from_bridge + push
        to_bridge[at & mask] = from_nut + push
        out[i] = arriving
        at += 1
    lines[0], lines[1] = to_nut, to_bridge
    state[:] = smooth, float(sticking), at


def _friction(
    missing: float, low: float, fall: float, v0: float, sticking: bool
) -> tuple[float, bool]:
    """What the hair gives the string, and whether they stick: Friedlander's construction."""
    sign = 1.0 if missing >= 0.0 else -1.0
    miss = abs(missing)
    b = v0 + low - miss
    rest = b * b - 4.0 * (low - miss + fall) * v0
    slip = 0.5 * (sqrt(rest) - b) if rest >= 0.0 else -1.0
    if miss <= low + fall and (sticking or slip <= 0.0):
        return sign * miss, True
    if slip > 0.0:
        return sign * (low + fall * v0 / (v0 + slip)), False
    return sign * (low + fall), True


def run_sections(sections: Samples, wave: Samples, state: Samples) -> None:
    """Filter a wave in place by second-order sections, rows (b0, b1, b2, 1, a1, a2), in the
    transposed direct form II; `state`, shape (S, 2), goes on to the next block."""
    for row, kept in zip(sections.tolist(), state, strict=True):
        b0, b1, b2, _, a1, a2 = row
        first, second = kept.tolist()
        made = []
        for x in wave.tolist():
            y = b0 * x + first
            first = b1 * x - a1 * y + second
            second = b2 * x - a2 * y
            made.append(y)
        wave[:] = made
        kept[:] = first, second
