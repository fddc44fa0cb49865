"""The inner loops of contact point and weight: compiled where they could be built, else in
NumPy."""

from __future__ import annotations

from plectrum.core.planning.contact import in_numpy

try:
    from plectrum.core.planning.contact import _compiled as chosen
except ImportError:  # no compiler when the program was set up
    chosen = in_numpy  # type: ignore[misc]

own_costs = chosen.own_costs
settle = chosen.settle
COMPILED = chosen is not in_numpy
