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

from plectrum.core.planning.strokes.costs import CostTables, Seam
from plectrum.core.planning.strokes.dynamic_program import Solution

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
    bounds = without.cost_from(first)
    order = np.argsort(bounds, axis=None, kind="stable")
    best: Seam | None = None
    least = 0
    for place in order.tolist():
        direction, start = divmod(place, bounds.shape[1])
        if best is not None and int(bounds[direction, start]) >= least:
            break
        seam = Seam(first, last, direction, start)
        total = Solution(tables.with_seams((*held, seam)).problem).total
        if best is None or total < least:
            best, least = seam, total
    if best is None:
        raise ValueError("a section without a place to start")
    return best
