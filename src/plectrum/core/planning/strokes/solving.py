"""The strokes of a part: the program solved, and solved again until equal bars agree."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from plectrum.core.document.choices import Choices
from plectrum.core.planning.fingering.grips import Fingered
from plectrum.core.planning.strokes.costs import CostTables
from plectrum.core.planning.strokes.dynamic_program import Solution, WayBack
from plectrum.core.planning.strokes.equal_bars import (
    FREE,
    Classes,
    Codes,
    bar_starts,
    find_equals,
    find_pairs,
    ways_of,
    wishes_of,
)
from plectrum.core.planning.strokes.planned import PlannedNote, planned_notes
from plectrum.core.planning.strokes.problem import Ints, Problem
from plectrum.core.planning.strokes.segments import segments_of
from plectrum.core.planning.strokes.terms import DIRECTION_CODES, Asked, Nudges
from plectrum.core.planning.strokes.units import Unit, build_units
from plectrum.core.score.model import Direction, Part

ROUNDS_N = 3  # how often equal bars are asked again; two are nearly always enough


@dataclass(frozen=True, eq=False)
class Solved:
    """The strokes of a part: what they were chosen by, and what they make every note do.

    Attributes:
        units: what is played in one bow; rows: what each of them does (see `problem`).
        notes: one entry a note; None for notes without bow.
    """

    tables: CostTables
    solution: Solution
    units: Sequence[Unit]
    rows: Ints
    notes: tuple[PlannedNote | None, ...]

    @classmethod
    def of(
        cls,
        part: Part,
        choices: Choices,
        fingered: tuple[Fingered, ...],
        tables: CostTables,
        solution: Solution,
    ) -> Solved:
        """What the optimum makes of a part."""
        rows = solution.bow_rows
        units = tables.units_of(rows)
        notes = planned_notes(part, choices, fingered, units, rows)
        return cls(tables, solution, units, rows, notes)


@dataclass(frozen=True)
class HeldWays:
    """The ways of a part as if on the highest string: the costs they were found with, and what they
    ask of every bar."""

    anywhere: CostTables
    bar_starts: Ints
    ways: Codes
    asked: Asked | None


def hold_ways(
    part: Part,
    choices: Choices,
    fingered: Sequence[Fingered],
    together: Mapping[int, Direction],
) -> HeldWays:
    """Solve as if on the highest string, and ask equal bars for equal bows until nothing changes.

    Args:
        together: note index to the direction another part has in the same rhythm.
    """
    units = build_units(part, choices, fingered)
    ways = {u.index: DIRECTION_CODES[together[u.first]] for u in units if u.first in together}
    asked = Asked.ways(len(units), ways) if ways else None
    segments = segments_of(part, choices, fingered, units)
    starts = bar_starts(part, units)
    anywhere = CostTables(part, units, choices, segments, Nudges(asked=asked), usual=True)
    solved = units.base.kept.setdefault("solved", {})
    solution = _in_rounds(anywhere, find_equals(part, units), find_pairs(part, units), solved)
    return HeldWays(anywhere, starts, ways_of(starts, solution.rows), asked)


def solve_strokes(
    part: Part,
    choices: Choices,
    fingered: tuple[Fingered, ...],
    held: HeldWays,
    fed: Mapping[int, float],
) -> Solved:
    """Solve with the bow that the strings wish for, every bar asked to go as it is held, and asked
    more firmly until it does. So the same rhythm has the same bows on whatever strings it lies,
    even where two ways are nearly as good.

    Args:
        fed: note index to times its wished length.
    """
    tables = held.anywhere.on_own_strings()
    if fed:
        units = build_units(part, choices, fingered, fed)
        tables = tables.with_units(units, segments_of(part, choices, fingered, units))
    solved = tables.units.base.kept.setdefault("solved", {})
    for times in range(ROUNDS_N + 1):  # once is enough for nearly all
        asked = tables.nudged(Nudges(held.ways, held.asked, 10**times))
        solution = _solved(asked.problem, solved, f"held {times}")
        if np.array_equal(ways_of(held.bar_starts, solution.rows), held.ways):
            break
    return Solved.of(part, choices, fingered, asked, solution)


def _in_rounds(
    plain: CostTables, classes: Classes, pairs: Classes, solved: dict[int | str, WayBack]
) -> Solution:
    tables, asked = plain, plain.nudges.asked
    solution = _solved(tables.problem, solved, 0)
    for number in range(1, ROUNDS_N + 1):
        same = wishes_of(classes, solution.rows, pairs)
        before = tables.nudges.same
        if (same == FREE).all() if before is None else np.array_equal(same, before):
            break
        tables = plain.nudged(Nudges(same, asked))
        if number == 1 and tables.goes_as_asked(solution.rows):
            break  # nothing was asked before, so what costs no more now is still the least
        solution = _solved(tables.problem, solved, number)
    return solution


def _solved(problem: Problem, solved: dict[int | str, WayBack], number: int | str) -> Solution:
    """Solve, going on from what the same round gave when the piece was last planned."""
    solution = Solution(problem, earlier=solved.get(number))
    solved[number] = solution.way_back
    return solution
