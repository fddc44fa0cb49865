"""The palette for every eye: colour-vision deficiencies simulated, grey, both themes, all scales.

The simulation is that of G. M. Machado, M. M. Oliveira and L. A. F. Fernandes, "A Physiologically-
based Model for Simulation of Color Vision Deficiency", IEEE TVCG 15, 2009, at full severity; its
matrices are quoted from memory. Colour distances are CIE 1976 L*a*b* (a published standard).
"""

from __future__ import annotations

from itertools import combinations

import numpy as np
import pytest
from PySide6.QtGui import QColor

from plectrum.core.instrument.bow import QUARTER_MARKS
from plectrum.ui.look import theme

DEFICIENCIES = {
    "none": np.eye(3),
    "protanopia": np.array(
        [[0.152286, 1.052583, -0.204868], [0.114503, 0.786281, 0.099216],
         [-0.003882, -0.048116, 1.051998]]
    ),
    "deuteranopia": np.array(
        [[0.367322, 0.860646, -0.227968], [0.280085, 0.672501, 0.047413],
         [-0.011820, 0.042940, 0.968881]]
    ),
    "tritanopia": np.array(
        [[1.255528, -0.076749, -0.178779], [-0.078411, 0.930809, 0.147602],
         [0.004733, 0.691367, 0.303900]]
    ),
    "grey": np.array([[0.2126, 0.7152, 0.0722]] * 3),
}  # fmt: skip
TO_XYZ = np.array([[0.4124, 0.3576, 0.1805], [0.2126, 0.7152, 0.0722], [0.0193, 0.1192, 0.9505]])
WHITE = np.array([0.9505, 1.0, 1.089])
CLEARLY_APART = 20.0  # of L*a*b* distance; a just noticeable one is about 2.3 (own default)


def linear(colour: QColor) -> np.ndarray:
    v = np.array([colour.redF(), colour.greenF(), colour.blueF()])
    return np.where(v <= 0.04045, v / 12.92, ((v + 0.055) / 1.055) ** 2.4)


def lab(colour: QColor, kind: str) -> np.ndarray:
    """A colour as seen with a deficiency, in L*a*b*."""
    seen = np.clip(DEFICIENCIES[kind] @ linear(colour), 0, 1)
    t = TO_XYZ @ seen / WHITE
    f = np.where(t > (6 / 29) ** 3, np.cbrt(t), t / (3 * (6 / 29) ** 2) + 4 / 29)
    return np.array([116 * f[1] - 16, 500 * (f[0] - f[1]), 200 * (f[1] - f[2])])


def apart(a: QColor, b: QColor, kind: str) -> float:
    return float(np.linalg.norm(lab(a, kind) - lab(b, kind)))


@pytest.mark.parametrize("colours", [theme.LIGHT, theme.DARK], ids=["light", "dark"])
@pytest.mark.parametrize("kind", ["none", "protanopia", "deuteranopia", "tritanopia"])
def test_down_and_up_bands_differ_for_every_eye(colours, kind):
    """The bands themselves: solid down against the wash and the edge of up."""
    assert apart(colours.down, colours.up_wash, kind) > CLEARLY_APART
    assert apart(colours.down, colours.up, kind) > CLEARLY_APART


@pytest.mark.parametrize("colours", [theme.LIGHT, theme.DARK], ids=["light", "dark"])
def test_down_and_up_bands_differ_in_grey(colours):
    """A solid band against a light, hatched one; the edges alone need not differ."""
    assert apart(colours.down, colours.up_wash, "grey") > CLEARLY_APART


@pytest.mark.parametrize("colours", [theme.LIGHT, theme.DARK], ids=["light", "dark"])
@pytest.mark.parametrize("kind", DEFICIENCIES)
def test_what_is_chosen_stands_out_from_paper(colours, kind):
    for name in ("accent", "problem", "ink", "down", "up"):
        assert apart(getattr(colours, name), colours.paper, kind) > CLEARLY_APART


@pytest.mark.parametrize("colours", [theme.LIGHT, theme.DARK], ids=["light", "dark"])
@pytest.mark.parametrize("kind", DEFICIENCIES)
def test_lanes_are_one_ordered_scale_of_lightness(colours, kind):
    """For every eye each lane is lighter, or each darker, than the one nearer the bridge."""
    lightness = [lab(tint, kind)[0] for tint in colours.lanes]
    steps = np.diff(lightness)
    assert (steps > 1).all() or (steps < -1).all()


@pytest.mark.parametrize("kind", ["none", "protanopia", "deuteranopia", "tritanopia"])
def test_the_quarter_tapes_differ_for_every_eye(kind):
    for a, b in combinations(QUARTER_MARKS, 2):
        assert apart(QColor(a.colour), QColor(b.colour), kind) > CLEARLY_APART / 2


def test_both_themes_say_every_colour_and_scale_every_size(themed):
    assert vars(theme.LIGHT).keys() == vars(theme.DARK).keys()
    theme.apply(themed, dark=True, scale=1.5)
    try:
        assert theme.px(10) == 15
        assert themed.font().pixelSize() == 21
        assert "$" not in themed.styleSheet()
        assert theme.DARK.paper.name() in themed.styleSheet()
    finally:
        theme.apply(themed)
    assert theme.px(10) == 10


def contrast(a: QColor, b: QColor) -> float:
    """Contrast ratio of WCAG 2.2 (a published standard), of relative luminances."""
    light = [float(np.array([0.2126, 0.7152, 0.0722]) @ linear(c)) + 0.05 for c in (a, b)]
    return max(light) / min(light)


# The least of WCAG 2.2 for text (1.4.3, level AA) and for signs and the ring of focus (1.4.11).
TEXT, SIGN = 4.5, 3.0


@pytest.mark.parametrize("colours", [theme.LIGHT, theme.DARK], ids=["light", "dark"])
def test_every_text_can_be_read(colours):
    grounds = {g: getattr(colours, g) for g in ("paper", "field", "panel", "chosen", "note")}
    for ink in ("ink", "muted", "problem", "caution", "accent"):
        for name, ground in grounds.items():
            assert contrast(getattr(colours, ink), ground) >= TEXT, (ink, name)
    assert contrast(colours.on_accent, colours.accent) >= TEXT
    for tint in colours.tints:
        assert contrast(colours.ink, tint) >= TEXT


@pytest.mark.parametrize("colours", [theme.LIGHT, theme.DARK, theme.PRINT],
                         ids=["light", "dark", "print"])  # fmt: skip
def test_signs_and_the_ring_of_focus_stand_out(colours):
    for ground in ("paper", "panel", "field"):
        for sign in ("down", "up", "accent", "muted"):
            assert contrast(getattr(colours, sign), getattr(colours, ground)) >= SIGN, sign
    assert contrast(colours.paper, colours.accent) >= SIGN  # the ring's inner line, on a button
