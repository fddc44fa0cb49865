"""The dynamic program against SciPy's shortest path, and against trying everything."""

from __future__ import annotations

from dataclasses import replace
from itertools import product

import numpy as np
import pytest
from scipy.sparse import csr_array
from scipy.sparse.csgraph import shortest_path

from plectrum.core.planning.rules import IMPOSSIBLE
from plectrum.core.planning.strokes.dynamic_program import Solution
from plectrum.core.planning.strokes.other_bows import changed_by
from plectrum.core.planning.strokes.problem import DOWN, HOOK, RETAKE, TURN, Problem, Step, cost_of
from plectrum.core.planning.strokes.stroke_costs import StrokeCosts, by_halves
from tests.tunes import tune_plan

K1 = 49
CELLS = np.arange(K1)


def costs_of_table(table: np.ndarray) -> StrokeCosts:
    """Costs of strokes given one by one, shape (U, 2, K+1, K+1)."""
    kinds = len(table)
    none = np.zeros((kinds, 2, K1), dtype=np.int64)
    ends = np.zeros((K1, K1), dtype=np.int64)
    return StrokeCosts(none[:, 0].copy(), none, ends, table, np.arange(kinds))


def random_problem(
    rng: np.random.Generator,
    units: int,
    longest: int = 1,
    speeds: int = 3,
    forked: bool = False,
) -> Problem:
    """Costs without any musical sense, so that nothing hides an error; where it is forked, with
    ways that part as into endings."""
    kinds = max(1, units // 2)
    on_bow = (CELLS[:, None] > 0) & (CELLS[:, None] + CELLS < K1)
    ends = rng.integers(0, 2_000_000, (K1, K1))
    strokes = StrokeCosts(
        rng.integers(0, 2_000_000, (kinds, K1)),
        by_halves(rng.integers(0, 2_000_000, (kinds, 2 * K1 - 1))),
        np.where(on_bow, ends, IMPOSSIBLE),
        rng.integers(0, 5_000_000, (2, 2, K1, K1)),
        rng.integers(-1, 2, kinds),
    )
    kind = rng.integers(0, kinds, (units, longest)).astype(np.int64)
    before = np.arange(-1, units - 1)
    if forked:
        for i in rng.choice(np.arange(2, units), max(1, units // 4), replace=False):
            before[i] = rng.integers(0, i - 1)
    parts = before != np.arange(-1, units - 1)
    parts |= np.isin(before, before[parts])  # no bow goes on over these
    for i, extra in product(range(units), range(1, longest)):
        if i + extra >= units or rng.random() < 0.3 or parts[i + 1 : i + extra + 1].any():
            kind[i, extra] = -1
    return Problem(
        strokes=strokes,
        speed_of=np.sort(rng.integers(0, speeds, (kinds, K1)), axis=1).astype(np.int64),
        kind=kind,
        direction=rng.integers(-2_000_000, 2_000_000, (units, longest, 2)).astype(np.int64),
        join=rng.integers(-1_000_000, 2_000_000, (units, longest, longest, 2, 3)).astype(np.int64),
        reach=rng.choice([-1, -1, 0, 7, 30], units).astype(np.int64),
        travel=CELLS * 20_000,
        before=before,
        even=rng.integers(0, 2, units).astype(np.int64),
        evenness=rng.integers(0, 2_000_000, (2, speeds, speeds)).astype(np.int64),
    )


def bows_from(problem: Problem, i: int) -> list[tuple[int, int, int, int, int, int]]:
    """All bows that may begin with a unit: units, speed, direction, start, end, cost."""
    found = []
    for units in range(1, problem.longest_n + 1):
        kind = int(problem.kind[i, units - 1])
        if kind < 0:
            continue
        for d, a, b in product(range(2), range(K1), range(K1)):
            length, low = abs(a - b), min(a, b)
            if a == b or (b > a) != (d == DOWN):
                continue
            cost = int(problem.strokes[kind, d, length, low])
            if cost < IMPOSSIBLE // 2:
                speed = int(problem.speed_of[kind, length])
                own = cost + int(problem.direction[i, units - 1, d])
                found.append((units, speed, d, a, b, own))
    return found


def shortest_path_total(problem: Problem) -> int:
    """The same problem as an explicit graph, solved by SciPy.

    Nodes: a source, before and after each bow (unit, units, speed, direction, cell), a sink. All
    weights are shifted by as much on every way through, so that none is negative, and shifted back.
    """
    n, longest, speeds = problem.units_n, problem.longest_n, problem.evenness.shape[1]
    states = list(product(range(1, longest + 1), range(speeds), range(2), range(K1)))
    number = {state: k for k, state in enumerate(states)}
    shift = 10_000_000
    rows, cols, weights = [], [], []

    def node(i: int, after: int, state: tuple[int, int, int, int]) -> int:
        return 1 + (2 * i + after) * len(states) + number[state]

    def edge(a: int, b: int, cost: int) -> None:
        rows.append(a), cols.append(b), weights.append(float(cost))

    sink = 1 + 2 * (n + 1) * len(states)
    for state in states:
        edge(0, node(0, 0, state), shift)
        edge(node(n, 1, state), sink, shift)
    for i in range(n):
        for units, speed, d, a, b, cost in bows_from(problem, i):
            to = node(i + units, 1, (units, speed, d, b))
            edge(node(i, 0, (units, speed, d, a)), to, cost + (2 * units - 1) * shift)
        if i == 0:
            continue
        even = problem.evenness[problem.even[i]]
        reach = int(problem.reach[i])
        for came, on in product(states, repeat=2):
            if came[0] > i or problem.kind[i, on[0] - 1] < 0:
                continue
            join = problem.join[i, came[0] - 1, on[0] - 1, on[2]]
            costs = []
            if on[3] == came[3]:
                costs.append(int(join[HOOK if on[2] == came[2] else TURN] + even[came[1], on[1]]))
            if abs(on[3] - came[3]) <= reach:
                costs.append(int(join[RETAKE] + problem.travel[abs(on[3] - came[3])]))
            if costs:
                edge(node(i, 1, came), node(i, 0, on), min(costs) + shift)
    graph = csr_array((weights, (rows, cols)), shape=(sink + 1, sink + 1))
    distance = shortest_path(graph, indices=0)[sink]
    return round(distance) - shift * (2 * n + 1)


@pytest.mark.parametrize("seed", range(8))
def test_total_equals_scipys_shortest_path(seed):
    rng = np.random.default_rng(seed)
    longest = 1 + seed % 2
    problem = random_problem(rng, int(rng.integers(1, 5)), longest, speeds=2)
    assert Solution(problem).total == shortest_path_total(problem)


def few_cells(problem: Problem, cells: list[int]) -> Problem:
    """The same problem where bows may only start and end at some cells."""
    ends = np.isin(CELLS[None, :], cells) & np.isin(CELLS[:, None] + CELLS, cells)
    strokes = replace(problem.strokes, ends=np.where(ends, problem.strokes.ends, IMPOSSIBLE))
    return replace(problem, strokes=strokes)


def brute_force(problem: Problem) -> int:
    """The cheapest of all plans, by trying every one; costs are added up here."""
    best = IMPOSSIBLE
    bows = [bows_from(problem, i) for i in range(problem.units_n)]

    def extend(i: int, so_far: int, ways: dict[int, tuple[int, int, int, int]]) -> None:
        nonlocal best
        if i == problem.units_n:
            best = min(best, so_far)
            return
        for units, speed, d, a, b, cost in bows[i]:
            own = so_far + cost
            ended = ways | {i + units - 1: (units, speed, d, b)}
            if i == 0:
                extend(units, own, ended)
                continue
            came = ways[int(problem.before[i])]
            join = problem.join[i, came[0] - 1, units - 1, d]
            if a == came[3]:
                change = int(problem.evenness[problem.even[i], came[1], speed])
                extend(i + units, own + int(join[HOOK if d == came[2] else TURN]) + change, ended)
            if abs(a - came[3]) <= problem.reach[i]:
                way = int(problem.travel[abs(a - came[3])])
                extend(i + units, own + int(join[RETAKE]) + way, ended)

    extend(0, 0, {})
    return best


@pytest.mark.parametrize("seed", range(12))
def test_total_equals_trying_everything_on_a_coarse_grid(seed):
    """Four units, four places on the bow, slurs of up to three, one way or two: every plan is
    tried."""
    rng = np.random.default_rng(100 + seed)
    problem = random_problem(rng, 4, 1 + seed % 3, forked=seed >= 6)
    problem = few_cells(problem, [0, 15, 30, 48])
    assert Solution(problem).total == brute_force(problem)


def test_a_real_tune_equals_trying_everything():
    """Its own tables, on a few cells, with a rest in which the bow may be lifted."""
    plan = tune_plan("[p] A4*1/2( B4*1/2) C5 D5u r|[f] D5*3/2 A4*1/2. A4*2", player="steady")
    problem = few_cells(plan.tables.problem, [10, 20, 30, 40])
    assert problem.reach.max() > 0
    assert Solution(problem).total == brute_force(problem)


def random_steps(rng: np.random.Generator, problem: Problem, meet: bool) -> list[Step]:
    steps: list[Step] = []
    left = problem.units_n
    while left:
        units = int(rng.integers(1, min(problem.longest_n, left) + 1))
        a, b = (int(x) for x in rng.integers(0, K1, 2))
        start = steps[-1].end if meet and steps else a
        steps.append(Step(int(rng.integers(0, 2)), int(rng.integers(0, 3)), start, b, units))
        left -= units
    return steps


@pytest.mark.parametrize("seed", range(30))
def test_the_cost_of_a_list_of_steps_is_the_sum_of_its_parts(seed):
    """Any steps, good or bad: those that are barred, do not meet, or reach too far are barred."""
    rng = np.random.default_rng(300 + seed)
    problem = random_problem(rng, 5, 1 + seed % 3, forked=seed >= 20)
    steps = random_steps(rng, problem, meet=seed % 2 == 1)
    total, barred, i = 0, 0, 0
    ends: dict[int, Step] = {}
    for s in steps:
        if i and int(problem.before[i]) not in ends:
            return  # over a fork
        before = ends.get(int(problem.before[i]))
        kind = problem.kind[i, s.units_n - 1]
        length = abs(s.end - s.start)
        total += int(problem.strokes[kind, s.direction, length, min(s.start, s.end)])
        total += int(problem.direction[i, s.units_n - 1, s.direction])
        barred += int(kind < 0 or (s.end > s.start) != (s.direction == DOWN))
        if before is not None:
            total += int(problem.join[i, before.units_n - 1, s.units_n - 1, s.direction, s.join])
            if s.join == RETAKE and abs(s.start - before.end) <= problem.reach[i]:
                total += int(problem.travel[abs(before.end - s.start)])
            elif s.join == RETAKE:
                barred += 1
            else:
                first = int(problem.before[i]) + 1 - before.units_n
                kind_before = problem.kind[first, before.units_n - 1]
                speeds = [
                    int(problem.speed_of[k, abs(b.end - b.start)])
                    for k, b in ((kind_before, before), (kind, s))
                ]
                total += int(problem.evenness[problem.even[i], speeds[0], speeds[1]])
                turned = s.direction != before.direction
                barred += s.start != before.end or turned != (s.join == TURN)
        i += s.units_n
        ends[i - 1] = s
    assert cost_of(problem, steps) == total + barred * IMPOSSIBLE


def _forced(problem: Problem, unit: int, d: int, join: int) -> Problem:
    """All else at one unit barred: no bow over it, no other direction, no other join."""
    much = 10**13
    kind, direction, joins = problem.kind.copy(), problem.direction.copy(), problem.join.copy()
    for units in range(2, problem.longest_n + 1):
        for inside in range(1, units):
            if unit - inside >= 0:
                kind[unit - inside, units - 1] = -1
    direction[unit, :, 1 - d] += much
    joins[unit] += much
    joins[unit, ..., join] -= much
    return replace(problem, kind=kind, direction=direction, join=joins)


@pytest.mark.parametrize("seed", range(12))
def test_every_extra_cost_equals_solving_with_that_choice_forced(seed):
    """Barring all else at one unit and solving again costs exactly the extra cost."""
    rng = np.random.default_rng(200 + seed)
    problem = random_problem(rng, 5, 1 + seed % 3, forked=seed >= 6)
    solution = Solution(problem)
    unit = int(rng.integers(1, 5))
    for d, join in product(range(2), range(3)):
        forced = Solution(_forced(problem, unit, d, join))
        extra = int(solution.extra[unit, d, join])
        if extra >= 10**12:
            assert forced.total - solution.total >= 10**12
        else:
            assert forced.total == solution.total + extra


@pytest.mark.parametrize("seed", range(18))
def test_changed_bows_make_a_valid_plan_of_exactly_that_cost(seed):
    rng = np.random.default_rng(300 + seed)
    problem = random_problem(rng, 8, 1 + seed % 3, forked=seed >= 9)
    solution = Solution(problem)
    for unit, d, join in product(range(1, 8), range(2), range(3)):
        extra = int(solution.extra[unit, d, join])
        if extra >= IMPOSSIBLE // 2:
            continue
        changed = changed_by(solution, unit, d, join)
        bows = _merged(solution.bows, changed, problem.units_n)
        assert (bows[unit].direction, bows[unit].join) == (d, join)
        assert cost_of(problem, list(bows.values())) == solution.total + extra


def _merged(bows: dict[int, Step], changed: dict[int, Step], units_n: int) -> dict[int, Step]:
    """The plan's bows with changed ones in place of all they touch."""
    merged, i = {}, 0
    while i < units_n:
        merged[i] = changed.get(i) or bows[i]
        i += merged[i].units_n
    return merged


@pytest.mark.parametrize("longest", [1, 4])
def test_steps_cost_the_total(longest):
    rng = np.random.default_rng(1)
    problem = random_problem(rng, 40, longest)
    solution = Solution(problem)
    assert cost_of(problem, solution.steps) == solution.total


@pytest.mark.parametrize("seed", range(20))
def test_going_on_from_an_earlier_solution_changes_nothing(seed):
    """Wherever two problems differ, one solved with the other's tables has the same steps,
    total and extra costs as one solved alone."""
    rng = np.random.default_rng(400 + seed)
    first = random_problem(rng, 9, 1 + seed % 2, forked=seed >= 10)
    direction, join = first.direction.copy(), first.join.copy()
    reach, by_length = first.reach.copy(), first.strokes.by_length.copy()
    unit = int(rng.integers(0, 9))
    what = seed % 5
    if what == 0:
        direction[unit, 0, int(rng.integers(0, 2))] += 3_000_000
    elif what == 1:
        join[unit, 0, 0, :, int(rng.integers(0, 3))] += 3_000_000
    elif what == 2:
        reach[unit] = 48 if reach[unit] < 0 else -1
    elif what == 3:
        by_length[first.kind[unit, 0], 10:20] += 2_000_000
    strokes = replace(first.strokes, by_length=by_length)
    second = replace(first, strokes=strokes, direction=direction, join=join, reach=reach)
    earlier = Solution(first).way_back
    alone, after = Solution(second), Solution(second, earlier=earlier)
    assert (after.steps, after.total) == (alone.steps, alone.total)
    np.testing.assert_array_equal(after.extra, alone.extra)
    of_kind = np.flatnonzero((first.kind == first.kind[unit, 0]).any(axis=1)).tolist()
    found = np.flatnonzero(second.differs(first)).tolist()
    assert found == ([unit], [unit], [unit], of_kind, [])[what]
    again = Solution(first, earlier=after.way_back)  # and back
    assert again.steps == Solution(first).steps
    after.give_back()
    assert not {"_solved", "onward", "forwards"} & vars(after).keys()
    assert cost_of(second, after.steps) == after.total
    np.testing.assert_array_equal(after.forwards[1], alone.forwards[1])
    np.testing.assert_array_equal(after.way_back.onward.whole, alone.onward)


@pytest.mark.parametrize("seed", range(12))
def test_what_a_change_is_forgotten_by_is_shared(seed):
    """Changes here and there, one solution going on from the other: the same bows, totals and
    extra costs as alone, though most of the table is the earlier one, all its costs shifted."""
    rng = np.random.default_rng(900 + seed)
    problem = random_problem(rng, 90, 1 + seed % 3, forked=seed >= 6)
    earlier = Solution(problem).way_back
    shared = 0
    for _ in range(5):
        direction, join = problem.direction.copy(), problem.join.copy()
        for unit in rng.integers(0, 90, 2):
            direction[unit, :, int(rng.integers(0, 2))] += rng.integers(-3_000_000, 3_000_000)
            join[unit, ..., int(rng.integers(0, 3))] += rng.integers(-3_000_000, 3_000_000)
        problem = replace(problem, direction=direction, join=join)
        alone, after = Solution(problem), Solution(problem, earlier=earlier)
        assert (after.steps, after.total) == (alone.steps, alone.total)
        np.testing.assert_array_equal(after.extra, alone.extra)
        unit = int(rng.integers(1, 90))
        way, join_code = (int(n) for n in rng.integers(0, 2, 2))
        if after.extra[unit, way, join_code] < IMPOSSIBLE:
            changed = (changed_by(s, unit, way, join_code) for s in (after, alone))
            assert next(changed) == next(changed)
        earlier = after.way_back
        onward = earlier.onward
        shared += int(((onward.where >= 0) & (onward.shift != 0)).sum())
    assert shared > (90 if seed < 6 else 0) or problem.longest_n > 1
