"""Which bows would go otherwise if one of them did: what the teacher would change by a choice."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from plectrum.core.planning.rules import IMPOSSIBLE
from plectrum.core.planning.strokes.dynamic_program import Solution
from plectrum.core.planning.strokes.in_numpy import leave
from plectrum.core.planning.strokes.problem import (
    DOWN,
    HOOK,
    POSITIONS_N,
    RETAKE,
    TURN,
    Ints,
    Step,
    steps_of,
    stroke_cost,
)


def changed_by(solution: Solution, i: int, direction: int, join: int) -> dict[int, Step]:
    """The bows that would go otherwise if a bow with this direction and join began at unit i.

    Returns:
        The new bows by first unit; empty if the choice is the plan's own.
    """
    units = int(solution.forwards[1][i, :, direction, join].argmin()) + 1
    changed = {i: _forced(solution, i, units, direction, join)}
    changed.update(_trace_back(solution, i, changed[i]))
    for first, step in list(changed.items()):
        changed.update(_other_bows(solution, first, step, set(changed)))
    return {k: s for k, s in sorted(changed.items()) if solution.bows.get(k) != s}


def _other_bows(solution: Solution, first: int, came: Step, forced: set[int]) -> dict[int, Step]:
    """Best bows after one from unit `first`, as far as they are others; not on a way that goes on
    with a forced one."""
    p, found = solution.problem, {}
    speed = p.speed(first, came.units_n, came.length)
    before = np.array([came.units_n, speed, came.direction, came.end], dtype=np.int64)
    same = np.zeros(p.units_n, dtype=bool)
    for after in np.flatnonzero(p.before == first + came.units_n - 1).tolist():
        if after not in forced:
            rows = solution.trace(after, before, solution.rows, same, same)
            found.update(steps_of(rows[(rows != solution.rows[rows[:, 0]]).any(axis=1)]))
    return found


def _forced(solution: Solution, i: int, units: int, direction: int, join: int) -> Step:
    """The best bow of so many units from i with this direction and join."""
    p = solution.problem
    onward = solution.onward[i, units - 1, :, direction]
    whole = _entries(solution, i, units)[join][:, direction] + onward
    speed, start = np.unravel_index(int(whole.argmin()), whole.shape)
    kind = p.kind[i, units - 1]
    goal = onward[speed, start]
    for end in range(POSITIONS_N):
        length = (end - start) if direction == DOWN else (start - end)
        if length < 1 or p.speed_of[kind, length] != speed:
            continue
        step = Step(direction, join if i else TURN, int(start), end, units)
        if _onward_by(solution, i, step) == goal:
            return step
    raise ValueError("a bow without an end")


def _onward_by(solution: Solution, i: int, step: Step) -> int:
    """Cost of one bow and the best of all after it, on every way."""
    p = solution.problem
    following = np.flatnonzero(p.before == i + step.units_n - 1).tolist()
    return stroke_cost(p, i, step) + sum(_leaving(solution, i, step, k) for k in following)


def _leaving(solution: Solution, i: int, step: Step, after: int) -> int:
    """The least cost of all from unit `after` on after a bow from i."""
    p = solution.problem
    speed = p.speed(i, step.units_n, step.length)
    onward, join = solution.onward[after], p.join[after, step.units_n - 1]
    even = p.evenness[p.even[after], speed]
    d, end = step.direction, step.end
    best = [
        (onward[:, :, 1 - d, end] + join[:, 1 - d, TURN, None] + even).min(),
        (onward[:, :, d, end] + join[:, d, HOOK, None] + even).min(),
    ]
    if p.reach[after] >= 0:
        cells = np.arange(POSITIONS_N)
        far = np.abs(cells - end)
        lifted = onward.min(axis=1) + join[:, :, RETAKE, None] + p.travel[far]
        best.append(np.where(far <= p.reach[after], lifted, IMPOSSIBLE).min())
    return int(min(best))


def _entries(solution: Solution, i: int, units: int) -> Ints:
    """Cost of all before a bow of so many units from i, by join, speed class, direction and
    start; shape (3, S, 2, K+1)."""
    p = solution.problem
    found = np.full((3, p.evenness.shape[1], 2, POSITIONS_N), IMPOSSIBLE, dtype=np.int64)
    if i == 0:
        found[TURN] = 0
        return found
    even = p.evenness[p.even[i]]
    for came, before in _that_may_come(solution, i):
        held = (before[:, None] + even[:, :, None, None]).min(axis=0)
        join = p.join[i, came - 1, units - 1]
        found[TURN] = np.minimum(found[TURN], held[:, ::-1] + join[None, :, TURN, None])
        found[HOOK] = np.minimum(found[HOOK], held + join[None, :, HOOK, None])
        if p.reach[i] >= 0:
            free = before.min(axis=(0, 1))
            lifted = (free[:, None] + p.costs.lifts(i)).min(axis=0)
            found[RETAKE] = np.minimum(
                found[RETAKE], lifted[None, None, :] + join[None, :, RETAKE, None]
            )
    return found


def _that_may_come(solution: Solution, i: int) -> Iterator[tuple[int, Ints]]:
    """Bows that may stand before unit i by their units, and the cost of all up to and with each,
    with that of the ways that part from i's own."""
    p = solution.problem
    end = int(p.before[i])
    others = [k for k in np.flatnonzero(p.before == end).tolist() if k != i]
    for units in range(1, min(p.longest_n, end + 1) + 1):
        if p.kind[end - units + 1, units - 1] >= 0:
            cost = solution.forwards[0][end, units - 1]
            for other in others:
                cost = cost + leave(p.costs, other, units, solution.onward)
            yield units, cost


def _trace_back(solution: Solution, i: int, forced: Step) -> dict[int, Step]:
    """Best bows before unit i, given how it is entered."""
    found: dict[int, Step] = {}
    step = forced
    while i > 0:
        units, speed, direction, end = _came_from(solution, i, step)
        i = int(solution.problem.before[i]) - units + 1
        step = _back_step(solution, i, units, speed, direction, end)
        if solution.bows.get(i) == step:
            break
        found[i] = step
    return found


def _came_from(solution: Solution, i: int, step: Step) -> tuple[int, int, int, int]:
    """Units, speed class, direction and end of the best bow before unit i, given its own."""
    p = solution.problem
    own_speed = p.speed(i, step.units_n, step.length)
    best, found = IMPOSSIBLE * 8, (1, 0, 0, 0)
    for came, before in _that_may_come(solution, i):
        costs = np.full_like(before, IMPOSSIBLE)
        join = int(p.join[i, came - 1, step.units_n - 1, step.direction, step.join])
        if step.join == RETAKE:
            costs = before + p.costs.lifts(i)[:, step.start]
        else:
            d = 1 - step.direction if step.join == TURN else step.direction
            even = p.evenness[p.even[i], :, own_speed]
            costs[:, d, step.start] = before[:, d, step.start] + even
        if int(costs.min()) + join < best:
            best = int(costs.min()) + join
            at = np.unravel_index(int(costs.argmin()), costs.shape)
            found = came, int(at[0]), int(at[1]), int(at[2])
    return found


def _back_step(
    solution: Solution, i: int, units: int, speed: int, direction: int, end: int
) -> Step:
    """The best bow of so many units from i with this speed class, direction and end."""
    p = solution.problem
    kind = p.kind[i, units - 1]
    starts = np.arange(POSITIONS_N)
    lengths = end - starts if direction == DOWN else starts - end
    starts = starts[(lengths >= 1) & (p.speed_of[kind, lengths] == speed)]
    if not len(starts):
        return Step(direction, TURN, 0, end, units)
    entries = _entries(solution, i, units)[:, speed, direction, starts]
    strokes = p.strokes[kind, direction, np.abs(end - starts), np.minimum(starts, end)]
    best = int((entries.min(axis=0) + strokes).argmin())
    return Step(direction, int(entries[:, best].argmin()), int(starts[best]), end, units)
