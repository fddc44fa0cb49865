"""The inner loops with and without a compiler give the same tables, steps and ties."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from plectrum.core.planning.rules import IMPOSSIBLE
from plectrum.core.planning.strokes import in_numpy, kernels
from plectrum.core.planning.strokes.dynamic_program import Onward
from tests.core.planning.test_program import costs_of_table, random_problem


def test_the_loops_are_compiled_here():
    """Else nothing below would hold anything against anything."""
    assert kernels.COMPILED


@pytest.mark.parametrize("seed", range(18))
def test_both_ways_agree_on_every_table(seed):
    p = random_problem(np.random.default_rng(seed), 8, 1 + seed % 3, forked=seed >= 9)
    tables = [anew(loops, p) for loops in (kernels, in_numpy)]
    whole = [table.whole for table in tables]
    np.testing.assert_array_equal(*whole)
    forwards = [loops.run_forwards(*p.costs, whole[0]) for loops in (kernels, in_numpy)]
    for one, other in zip(*forwards, strict=True):
        np.testing.assert_array_equal(np.minimum(one, 10**14), np.minimum(other, 10**14))
    same = np.zeros(p.units_n, dtype=bool)
    start, nothing = np.zeros(4, dtype=np.int64), np.zeros((0, 6), dtype=np.int64)
    table = tables[0][:3]
    args = (*p.costs, *table, 0, start, nothing, ~same, ~same)
    rows = kernels.trace(*args)
    np.testing.assert_array_equal(rows, in_numpy.trace(*args))
    known = np.full((p.units_n, 6), -1, dtype=np.int64)
    known[rows[:, 0]] = rows
    for row in rows[:-1].tolist():
        i, units, d, _, a, b = row
        came = np.array([units, p.speed(i, units, abs(a - b)), 1 - d, b], dtype=np.int64)
        for after in np.flatnonzero(p.before == i + units - 1).tolist():
            args = (*p.costs, *table, after, came, known, same, same)
            np.testing.assert_array_equal(kernels.trace(*args), in_numpy.trace(*args))


def anew(loops, p) -> Onward:
    """The table of the way back, with nothing to go on from."""
    shape = p.units_n, p.longest_n, p.evenness.shape[1], 2, len(p.strokes.ends)
    own, none = np.zeros(shape, dtype=np.int64), np.zeros(0, dtype=np.int64)
    where, shift = np.zeros((2, p.units_n), dtype=np.int64)
    every, differs = np.ones(p.units_n, dtype=bool), np.zeros(p.units_n, dtype=bool)
    loops.run_backwards(*p.costs, own[:0], own[:0], none, none, every, own, where, shift, differs)
    return Onward(own[:0], own, where, shift)


def test_costs_of_strokes_are_the_sum_of_their_parts():
    """As a table, one by one, and given as a table."""
    strokes = random_problem(np.random.default_rng(3), 12).strokes
    kind, way, length, low = np.nonzero(strokes.table < IMPOSSIBLE)
    costs = strokes.table[kind, way, length, low]
    np.testing.assert_array_equal(strokes[kind, way, length, low], costs)
    np.testing.assert_array_equal(costs_of_table(strokes.table).table, strokes.table)
    k, d, n, a = kind[7], way[7], length[7], low[7]
    extra = strokes.extra[strokes.extra_of[k], d, n, a] if strokes.extra_of[k] >= 0 else 0
    parts = strokes.by_length[k, n], strokes.by_place[k, n % 2, n // 2 + a], strokes.ends[n, a]
    assert costs[7] == sum(parts) + extra


@pytest.mark.parametrize("part", ["by_length", "by_place", "extra", "extra_of"])
def test_units_whose_strokes_cost_something_else_are_found(part):
    problem = random_problem(np.random.default_rng(4), 12)
    strokes = problem.strokes
    changed = getattr(strokes, part).copy()
    used = next(k for k in problem.kind[:, 0].tolist() if strokes.extra_of[k] >= 0)
    k = strokes.extra_of[used] if part == "extra" else used
    changed[k] = changed[k] + 1 if part != "extra_of" else (changed[k] + 2) % 3 - 1
    other = replace(problem, strokes=replace(strokes, **{part: changed}))
    differ = np.append((strokes.table != other.strokes.table).any(axis=(1, 2, 3)), False)
    expected = differ[problem.kind].any(axis=1)
    assert expected.any()
    np.testing.assert_array_equal(problem.differs(other), expected)


def test_kinds_numbered_otherwise_are_the_same_kinds():
    problem = random_problem(np.random.default_rng(5), 12)
    old = problem.strokes
    order = np.random.default_rng(6).permutation(old.kinds_n)
    strokes = old.with_kinds(order, old.by_length[order], old.by_place[order])
    other = replace(
        problem,
        strokes=strokes,
        speed_of=problem.speed_of[order],
        kind=np.append(np.argsort(order), -1)[problem.kind],
    )
    assert (other.kind != problem.kind).any()
    assert not problem.differs(other).any()
