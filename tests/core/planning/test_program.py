"""The dynamic program against SciPy's shortest path, and against trying everything."""

from __future__ import annotations

from itertools import product

import numpy as np
import pytest
from scipy.sparse import csr_array
from scipy.sparse.csgraph import shortest_path

from plectrum.core.planning.rules import IMPOSSIBLE
from plectrum.core.planning.strokes.dynamic_program import (
    HOOK,
    RETAKE,
    TURN,
    Problem,
    Solution,
    Step,
    cost_of,
)
from tests.tunes import tune_plan

K1 = 49


def random_problem(rng: np.random.Generator, units: int) -> Problem:
    """Costs without any musical sense, so that nothing hides an error."""
    kinds = max(1, units // 2)
    strokes = rng.integers(0, 5_000_000, (kinds, 2, K1, K1)).astype(np.int64)
    cells = np.arange(K1)
    grows = cells[None, :] > cells[:, None]
    strokes[:, 0][:, ~grows] = IMPOSSIBLE
    strokes[:, 1][:, ~grows.T] = IMPOSSIBLE
    return Problem(
        strokes=strokes,
        kind=rng.integers(0, kinds, units).astype(np.int64),
        direction=rng.integers(-2_000_000, 2_000_000, (units, 2)).astype(np.int64),
        join=rng.integers(0, 2_000_000, (units, 3)).astype(np.int64),
        reach=rng.choice([-1, -1, 0, 7, 30], units).astype(np.int64),
        travel=(np.abs(cells[:, None] - cells[None, :]) * 20_000).astype(np.int64),
    )


def shortest_path_total(problem: Problem) -> int:
    """The same problem as an explicit layered graph, solved by SciPy.

    Nodes: a source, (unit, direction, cell) before and after each unit's stroke, a sink. All
    weights are shifted by a constant a layer, so that none is negative, and shifted back.
    """
    n = len(problem.kind)
    layer = 2 * K1
    shift = 10_000_000
    rows, cols, weights = [], [], []

    def node(unit: int, after: int, direction: int, cell: int) -> int:
        return 1 + (2 * unit + after) * layer + direction * K1 + cell

    def edge(a: int, b: int, cost: int) -> None:
        if cost < IMPOSSIBLE // 2:
            rows.append(a), cols.append(b), weights.append(float(cost + shift))

    for d, k in product(range(2), range(K1)):
        edge(0, node(0, 0, d, k), 0)
        edge(node(n - 1, 1, d, k), 1 + 2 * n * layer, 0)
    for i in range(n):
        stroke = problem.strokes[problem.kind[i]]
        for d, a, b in product(range(2), range(K1), range(K1)):
            edge(node(i, 0, d, a), node(i, 1, d, b), int(stroke[d, a, b] + problem.direction[i, d]))
        if i == 0:
            continue
        turn, hook, retake = (int(c) for c in problem.join[i])
        for d, k in product(range(2), range(K1)):
            for e, b in product(range(2), range(K1)):
                costs = []
                if b == k:
                    costs.append(hook if d == e else turn)
                if abs(b - k) <= problem.reach[i]:
                    costs.append(retake + int(problem.travel[k, b]))
                if costs:
                    edge(node(i - 1, 1, d, k), node(i, 0, e, b), min(costs))
    size = 2 + 2 * n * layer
    graph = csr_array((weights, (rows, cols)), shape=(size, size))
    distance = shortest_path(graph, indices=0)[size - 1]
    return round(distance) - shift * (2 * n + 1)


@pytest.mark.parametrize("seed", range(50))
def test_total_equals_scipys_shortest_path(seed):
    rng = np.random.default_rng(seed)
    problem = random_problem(rng, int(rng.integers(1, 6)))
    assert Solution(problem).total == shortest_path_total(problem)


@pytest.mark.parametrize("school", ["downbeat", "flow", "travel"])
def test_a_real_tune_equals_scipys_shortest_path(school):
    plan = tune_plan(
        "[p] A4*1/2( B4*1/2) C5 [<] D5u E5 [x]|[f] D5*3/2 r*1/2 A4*1/2. B4*1/2. A4 r|",
        school=school,
    )
    assert plan.solution.total == shortest_path_total(plan.tables.problem)


def brute_force(problem: Problem, cells: list[int]) -> int:
    """The cheapest of all plans on a few cells, by trying every one; costs are added up here."""
    best = IMPOSSIBLE
    n = len(problem.kind)
    strokes, kind = problem.strokes.tolist(), problem.kind.tolist()
    ways, joins, travel = problem.direction.tolist(), problem.join.tolist(), problem.travel.tolist()
    reach = problem.reach.tolist()
    options = [
        (d, a, b) for d, a, b in product((0, 1), cells, cells) if a != b and (b > a) == (d == 0)
    ]

    def extend(i: int, so_far: int, came: int, end: int) -> None:
        nonlocal best
        if i == n:
            best = min(best, so_far)
            return
        for d, a, b in options:
            own = so_far + strokes[kind[i]][d][a][b] + ways[i][d]
            if i == 0:
                extend(1, own, d, b)
                continue
            if a == end:
                extend(i + 1, own + joins[i][HOOK if d == came else TURN], d, b)
            if abs(a - end) <= reach[i]:
                extend(i + 1, own + joins[i][RETAKE] + travel[end][a], d, b)

    extend(0, 0, 0, 0)
    return best


@pytest.mark.parametrize("seed", range(20))
def test_the_cost_of_a_list_of_steps_is_the_sum_of_its_parts(seed):
    """Any steps, good or bad: those that do not meet, or reach too far, are barred."""
    rng = np.random.default_rng(300 + seed)
    problem = random_problem(rng, 5)
    steps = []
    for _ in range(5):
        a, b = (int(x) for x in rng.integers(0, K1, 2))
        steps.append(Step(int(rng.integers(0, 2)), int(rng.integers(0, 3)), a, b))
    if seed % 2:  # steps that meet
        steps = [s if k == 0 else s._replace(start=steps[k - 1].end) for k, s in enumerate(steps)]
    total, barred = 0, 0
    for i, s in enumerate(steps):
        total += int(problem.strokes[problem.kind[i], s.direction, s.start, s.end])
        total += int(problem.direction[i, s.direction])
        if i:
            before = steps[i - 1]
            total += int(problem.join[i, s.join])
            if s.join == RETAKE and abs(s.start - before.end) <= problem.reach[i]:
                total += int(problem.travel[before.end, s.start])
            elif s.join == RETAKE:
                barred += 1
            else:
                turned = s.direction != before.direction
                barred += s.start != before.end or turned != (s.join == TURN)
    assert cost_of(problem, steps) == total + barred * IMPOSSIBLE


@pytest.mark.parametrize("seed", range(6))
def test_total_equals_trying_everything_on_a_coarse_grid(seed):
    """Four units, five places on the bow: every plan is tried."""
    rng = np.random.default_rng(100 + seed)
    problem = random_problem(rng, 4)
    cells = [0, 12, 24, 36, 48]
    barred = np.setdiff1d(np.arange(K1), cells)
    problem.strokes[:, :, barred, :] = IMPOSSIBLE
    problem.strokes[:, :, :, barred] = IMPOSSIBLE
    assert Solution(problem).total == brute_force(problem, cells)


@pytest.mark.parametrize("seed", range(10))
def test_every_extra_cost_equals_solving_with_that_choice_forced(seed):
    """Barring all else at one unit and solving again costs exactly the extra cost."""
    rng = np.random.default_rng(200 + seed)
    problem = random_problem(rng, 5)
    solution = Solution(problem)
    unit = int(rng.integers(1, 5))
    for d, join in product(range(2), range(3)):
        direction, joins = problem.direction.copy(), problem.join.copy()
        direction[unit, 1 - d] += 10**13
        joins[unit] += 10**13
        joins[unit, join] -= 10**13
        forced = Solution(
            Problem(problem.strokes, problem.kind, direction, joins, problem.reach, problem.travel)
        )
        extra = int(solution.extra[unit, d, join])
        if extra >= 10**12:
            assert forced.total - solution.total >= 10**12
        else:
            assert forced.total == solution.total + extra


@pytest.mark.parametrize("seed", range(10))
def test_changed_steps_make_a_valid_plan_of_exactly_that_cost(seed):
    rng = np.random.default_rng(300 + seed)
    problem = random_problem(rng, 8)
    solution = Solution(problem)
    for unit, d, join in product(range(1, 8), range(2), range(3)):
        extra = int(solution.extra[unit, d, join])
        if extra >= IMPOSSIBLE // 2:
            continue
        changed = solution.changed_by(unit, d, join)
        steps = [changed.get(i, s) for i, s in enumerate(solution.steps)]
        assert (steps[unit].direction, steps[unit].join) == (d, join)
        assert cost_of(problem, steps) == solution.total + extra


def test_steps_cost_the_total():
    rng = np.random.default_rng(1)
    problem = random_problem(rng, 40)
    solution = Solution(problem)
    assert cost_of(problem, solution.steps) == solution.total


@pytest.mark.parametrize("seed", range(20))
def test_going_on_from_an_earlier_solution_changes_nothing(seed):
    """Wherever two problems differ, one solved with the other's tables has the same steps,
    total and extra costs as one solved alone."""
    rng = np.random.default_rng(400 + seed)
    first = random_problem(rng, 9)
    direction, join = first.direction.copy(), first.join.copy()
    reach, strokes = first.reach.copy(), first.strokes.copy()
    unit = int(rng.integers(0, 9))
    what = seed % 5
    if what == 0:
        direction[unit, int(rng.integers(0, 2))] += 3_000_000
    elif what == 1:
        join[unit, int(rng.integers(0, 3))] += 3_000_000
    elif what == 2:
        reach[unit] = 48 if reach[unit] < 0 else -1
    elif what == 3:
        strokes[first.kind[unit], :, 10:] += 2_000_000
    second = Problem(strokes, first.kind, direction, join, reach, first.travel)
    earlier = Solution(first).way_back
    alone, after = Solution(second), Solution(second, earlier=earlier)
    assert (after.steps, after.total) == (alone.steps, alone.total)
    np.testing.assert_array_equal(after.extra, alone.extra)
    of_kind = int(np.flatnonzero(first.kind == first.kind[unit])[-1])
    assert second.alike_from(first) == (unit + 1, unit + 1, unit + 1, of_kind + 1, 0)[what]
    again = Solution(first, earlier=after.way_back)  # and back
    assert again.steps == earlier.steps
