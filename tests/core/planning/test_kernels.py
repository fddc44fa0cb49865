"""The inner loops with and without a compiler give the same tables, steps and ties."""

from __future__ import annotations

import numpy as np
import pytest

from plectrum.core.planning.rules import IMPOSSIBLE
from plectrum.core.planning.strokes import in_numpy, kernels
from tests.core.planning.test_program import random_problem


def test_the_loops_are_compiled_here():
    """Else nothing below would hold anything against anything."""
    assert kernels.COMPILED


@pytest.mark.parametrize("seed", range(9))
def test_both_ways_agree_on_every_table(seed):
    p = random_problem(np.random.default_rng(seed), 8, 1 + seed % 3)
    shape = p.units_n, p.longest_n, p.evenness.shape[1], 2, p.strokes.shape[2]
    onward = [np.zeros(shape, dtype=np.int64) for _ in range(2)]
    for loops, table in zip((kernels, in_numpy), onward, strict=True):
        loops.run_backwards(*p.costs, table, p.units_n)
    np.testing.assert_array_equal(*onward)
    forwards = [loops.run_forwards(*p.costs, onward[0]) for loops in (kernels, in_numpy)]
    for one, other in zip(*forwards, strict=True):
        np.testing.assert_array_equal(np.minimum(one, 10**14), np.minimum(other, 10**14))
    start, nothing = np.zeros(4, dtype=np.int64), np.zeros((0, 6), dtype=np.int64)
    rows = kernels.trace(*p.costs, onward[0], 0, start, nothing)
    np.testing.assert_array_equal(rows, in_numpy.trace(*p.costs, onward[0], 0, start, nothing))
    known = np.full((p.units_n, 6), -1, dtype=np.int64)
    known[rows[:, 0]] = rows
    for row in rows[:-1].tolist():
        i, units, d, _, a, b = row
        came = np.array([units, p.speed(i, units, abs(a - b)), 1 - d, b], dtype=np.int64)
        args = (*p.costs, onward[0], i + units, came, known)
        np.testing.assert_array_equal(kernels.trace(*args), in_numpy.trace(*args))


def test_both_ways_fill_the_same_strokes():
    rng = np.random.default_rng(3)
    places = 13
    ends = rng.integers(0, 10**6, (places, places))
    cells = np.arange(places)
    ends[cells[:, None] + cells >= places] = IMPOSSIBLE
    by_length = rng.integers(0, 10**7, (4, places))
    by_length[2, 5] = 2 * IMPOSSIBLE
    by_place = rng.integers(0, 10**7, (4, 2 * places - 1))
    crossings_from = np.array([0, 0, 2, 3, 3])
    crossings = np.column_stack([rng.random(3), 3 * rng.random(3)])
    tables = [np.zeros((4, 2, places, places), dtype=np.int64) for _ in range(2)]
    for loops, table in zip((kernels, in_numpy), tables, strict=True):
        loops.fill_strokes(by_length, by_place, ends, crossings_from, crossings, table)
    np.testing.assert_array_equal(*tables)
    assert (tables[0][1, 0] != tables[0][1, 1]).any()  # crossings tell down from up
    np.testing.assert_array_equal(tables[0][0, 0], tables[0][0, 1])
    assert tables[0].max() == IMPOSSIBLE
