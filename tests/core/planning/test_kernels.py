"""The inner loops with and without a compiler give the same tables, steps and ties."""

from __future__ import annotations

import numpy as np
from hypothesis import given, settings

from plectrum.core.planning.strokes import in_numpy, kernels
from tests.core.planning.strategies import tunes
from tests.tunes import tune_plan


def test_the_loops_are_compiled_here():
    """Else nothing below would hold anything against anything."""
    assert kernels.COMPILED


def _way_back(loops, costs):
    tables = [np.zeros((len(costs[1]), 2, costs[0].shape[2]), dtype=np.int64) for _ in range(2)]
    loops.run_backwards(*costs, *tables, len(costs[1]))
    return tables


@settings(max_examples=15, deadline=None)
@given(music=tunes(most_bars=4))
def test_both_ways_agree_on_every_table(music):
    plan = tune_plan(music)
    p = plan.tables.problem
    given_costs = (p.strokes, p.kind, p.direction, p.join, p.reach, p.travel)
    compiled, plain = _way_back(kernels, given_costs), _way_back(in_numpy, given_costs)
    np.testing.assert_array_equal(compiled[0], plain[0])
    np.testing.assert_array_equal(compiled[1], plain[1])
    for one, other in zip(
        kernels.run_forwards(*given_costs), in_numpy.run_forwards(*given_costs), strict=True
    ):
        np.testing.assert_array_equal(one, other)
    onward, after = compiled
    start = np.array([-1, -1], dtype=np.int64)
    nothing = np.zeros((0, 4), dtype=np.int64)
    known = np.array([(s.direction, s.join, s.start, s.end) for s in plan.steps], dtype=np.int64)
    for first, came, stop in ((0, start, nothing), (0, start, known.reshape(-1, 4))):
        args = (p.strokes, p.kind, p.join, p.reach, p.travel, onward, after, first, came, stop)
        np.testing.assert_array_equal(kernels.trace(*args), in_numpy.trace(*args))
    for k in range(1, len(plan.steps)):
        came = np.array([1 - plan.steps[k - 1].direction, plan.steps[k - 1].end], dtype=np.int64)
        args = (p.strokes, p.kind, p.join, p.reach, p.travel, onward, after, k, came, known)
        np.testing.assert_array_equal(kernels.trace(*args), in_numpy.trace(*args))
