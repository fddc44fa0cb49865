"""Where a repeated section should begin, so that its end goes on to its start at least cost.

A section's end pays for missing its start: per distance, and a hook if both go the same way.
The true cost of a plan measures that to its own start, which no layered program can carry
cheaply. Instead a start σ is aimed at: ending away from σ costs the seam, and starting away
from σ costs as much again. By the triangle inequality this aimed cost is never below the true
cost, and equal to it for plans that start at σ; so the least aimed cost over all σ is the true
optimum. Starts are tried in the order of their cost without any seam, which is a lower bound,
until the bound reaches the best found: usually a handful. With several sections each is settled
in turn while the others are held.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from plectrum.core.planning.strokes.costs import CostTables, Seam, missed
from plectrum.core.planning.strokes.dynamic_program import Problem, Solution, fill_backwards

TURNS_N = 2  # rounds over several sections


def settle_seams(tables: CostTables, sections: Sequence[tuple[int, int]]) -> tuple[Seam, ...]:
    """The start to aim at for every repeated section.

    Args:
        tables: costs without seams.
        sections: first and last unit of each; sections of one unit are passed over.
    """
    several = [(first, last) for first, last in sections if first < last]
    seams: dict[int, Seam] = {}
    rounds = TURNS_N if len(several) > 1 else 1
    for _ in range(rounds):
        for first, last in several:
            held = tuple(s for f, s in seams.items() if f != first)
            seams[first] = _best_start(tables, held, first, last)
    return tuple(seams[first] for first, _ in several)


def _best_start(tables: CostTables, held: tuple[Seam, ...], first: int, last: int) -> Seam:
    without = Solution(tables.with_seams(held).problem)
    section = _Section(without, tables.hook, first, last)
    bounds = without.cost_from(first)
    order = np.argsort(bounds, axis=None, kind="stable")
    best: Seam | None = None
    least = 0
    for place in order.tolist():
        direction, start = divmod(place, bounds.shape[1])
        if best is not None and int(bounds[direction, start]) >= least:
            break
        seam = Seam(first, last, direction, start)
        total = section.total(seam)
        if best is None or total < least:
            best, least = seam, total
    if best is None:
        raise ValueError("a section without a place to start")
    return best


class _Section:
    """A repeated section inside a piece that is solved without its seam: only its own units are
    solved again for every start that is tried."""

    def __init__(self, without: Solution, hook: int, first: int, last: int) -> None:
        p = without.problem
        self._hook = hook
        self._units_n = last - first + 1
        here = slice(first, last + 2)  # with the unit that follows, if there is one
        self._before = without.cost_before(first)
        self._onward, self._after = without.tables_of(here)
        ends = p.strokes[p.kind[[first, last]]]
        self._ends = ends.copy()
        kind = p.kind[here].copy()
        kind[0], kind[self._units_n - 1] = len(p.strokes), len(p.strokes) + 1
        self._problem = Problem(
            np.concatenate([p.strokes, ends]), kind, p.direction[here], p.join[here],
            p.reach[here], p.travel,
        )  # fmt: skip

    def total(self, seam: Seam) -> int:
        """Least cost of the piece when the section aims at a start."""
        started, ended = missed(seam, self._hook)
        strokes = self._problem.strokes
        np.add(self._ends[0], started[:, :, None], out=strokes[-2])
        np.add(self._ends[1], ended[:, None, :], out=strokes[-1])
        fill_backwards(self._problem, self._onward, self._after, self._units_n)
        return int((self._before + self._onward[0]).min())
