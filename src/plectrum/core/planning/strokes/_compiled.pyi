from plectrum.core.planning.strokes.in_numpy import run_backwards as run_backwards
from plectrum.core.planning.strokes.in_numpy import run_forwards as run_forwards
from plectrum.core.planning.strokes.in_numpy import trace as trace
