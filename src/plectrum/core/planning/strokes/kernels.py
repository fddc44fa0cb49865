"""The planner's inner loops: compiled where they could be built, else in NumPy."""

from __future__ import annotations

from plectrum.core.planning.strokes import in_numpy

try:
    from plectrum.core.planning.strokes import _compiled as chosen
except ImportError:  # no compiler when the program was set up
    chosen = in_numpy  # type: ignore[misc]

run_backwards = chosen.run_backwards
run_forwards = chosen.run_forwards
trace = chosen.trace
COMPILED = chosen is not in_numpy
