"""The sample loops with and without a compiler agree, and the filters are those of SciPy."""

from __future__ import annotations

import numpy as np
import pytest
from scipy import signal

from plectrum.core.sound import in_python, loops
from plectrum.core.sound.filters import EDGE, Filter, high_pass, low_pass, peak
from plectrum.core.sound.render import RATE_HZ
from plectrum.core.sound.string import LINE_N, OVERSAMPLING


def noise(count_n: int = 3000) -> np.ndarray:
    return np.random.default_rng(1).normal(size=count_n)


def test_the_loops_are_compiled_here():
    assert loops.COMPILED


def test_a_string_is_the_same_without_a_compiler():
    """Bowed, plucked and left ringing, block by block."""
    found = []
    for run in (loops.run_string, in_python.run_string):
        lines, state = np.zeros((2, LINE_N)), np.zeros(3)
        blocks = []
        for force, pluck in ((0.8, 0.0), (0.0, 0.4), (0.0, 0.0)):
            n = 2000
            out = np.empty(n)
            given = [np.full(n, x) for x in (196.0, 0.11, 0.25, force, 0.0, 0.99)]
            given[4][0] = pluck
            run(88_200.0, *given, 0.3, 0.4, 59 / 61, 0.3, 0.5, 0.5, lines, state, out)
            blocks.append(out)
        found.append(np.concatenate(blocks))
    assert np.abs(found[0]).max() > 0.01
    np.testing.assert_allclose(found[0], found[1], rtol=1e-9, atol=1e-12)


@pytest.mark.parametrize(
    ("made", "wanted"),
    [
        (low_pass(5000, RATE_HZ), signal.butter(2, 5000, fs=RATE_HZ, output="sos")),
        (high_pass(120, RATE_HZ), signal.butter(2, 120, "highpass", fs=RATE_HZ, output="sos")),
        (EDGE, signal.ellip(6, 0.1, 70, 16_000, fs=OVERSAMPLING * RATE_HZ, output="sos")),
    ],
)
def test_filters_are_those_of_scipy(made, wanted):
    """SciPy's designs, by what they do to noise; sections may be split up otherwise."""
    np.testing.assert_allclose(
        signal.sosfilt(made.copy(), noise()), signal.sosfilt(wanted, noise()), rtol=1e-7, atol=1e-9
    )


@pytest.mark.parametrize("run", [loops.run_sections, in_python.run_sections])
def test_filtering_goes_on_from_block_to_block(run, monkeypatch):
    """The same as SciPy's in one go, whichever loop runs."""
    monkeypatch.setattr(loops, "run_sections", run)
    sections = (high_pass(100, RATE_HZ), peak(470, 5, 3, RATE_HZ), low_pass(7000, RATE_HZ))
    made = Filter(*sections)
    wave = noise()
    out = np.concatenate([made.run(wave[:1111]), made.run(wave[1111:])])
    np.testing.assert_allclose(
        out, signal.sosfilt(np.vstack(sections), wave), rtol=1e-8, atol=1e-10
    )
