"""Filters by second-order sections: rows (b0, b1, b2, 1, a1, a2).

The two Butterworth filters follow from the bilinear transform with the edge pre-warped; the steep
edge is a table, so that no filter has to be designed while the program runs.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from plectrum.core.sound import loops

Samples = NDArray[np.float64]

# Elliptic, order 6, 0.1 dB ripple, 70 dB down, edge 16 kHz at 88.2 kHz: it lets halving the rate
# pass unheard. Made once with a filter design program, and held against one in the tests.
EDGE = np.array(
    [
        [0.01027554470558938, 0.01825244295919001, 0.010275544705589381,
         1.0, -1.0045961355179314, 0.3098211769694225],
        [1.0, 0.8399586426931991, 1.0, 1.0, -0.8169576428175092, 0.5563451206364243],
        [1.0, 0.34415866909333537, 0.9999999999999998,
         1.0, -0.6920231701797416, 0.8499417688649812],
    ]
)  # fmt: skip
EDGE.setflags(write=False)


def low_pass(hz: float, rate_hz: float) -> Samples:
    """Butterworth of the second order, 3 dB down at an edge; one section."""
    k = math.tan(math.pi * hz / rate_hz)
    return _butterworth(k, (k * k, 2 * k * k, k * k))


def high_pass(hz: float, rate_hz: float) -> Samples:
    """Butterworth of the second order, 3 dB down at an edge; one section."""
    return _butterworth(math.tan(math.pi * hz / rate_hz), (1.0, -2.0, 1.0))


def _butterworth(k: float, tops: tuple[float, float, float]) -> Samples:
    bottom = 1.0 + math.sqrt(2.0) * k + k * k
    row = [*(b / bottom for b in tops), 1.0]
    row += [2.0 * (k * k - 1.0) / bottom, (1.0 - math.sqrt(2.0) * k + k * k) / bottom]
    return np.array([row])


def peak(hz: float, q: float, db: float, rate_hz: float) -> Samples:
    """A resonance as one section (R. Bristow-Johnson's peaking equaliser, from memory)."""
    a = 10 ** (db / 40)
    w = 2 * math.pi * hz / rate_hz
    alpha = math.sin(w) / (2 * q)
    row = np.array(
        [1 + alpha * a, -2 * math.cos(w), 1 - alpha * a,
         1 + alpha / a, -2 * math.cos(w), 1 - alpha / a]
    )  # fmt: skip
    return np.asarray(row / row[3])[None, :]


class Filter:
    """Sections that remember their state from one block to the next."""

    def __init__(self, *sections: Samples) -> None:
        self.sections = np.ascontiguousarray(np.vstack(sections))
        self._state = np.zeros((len(self.sections), 2))

    def run(self, wave: Samples) -> Samples:
        """The next block of a wave, filtered."""
        out = np.array(wave, dtype=np.float64)
        loops.run_sections(self.sections, out, self._state)
        return out
