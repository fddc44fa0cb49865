"""The strokes of a part: the program solved, and solved again until equal bars agree."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from plectrum.core.document.choices import Choices
from plectrum.core.planning.fingering.grips import Fingered
from plectrum.core.planning.strokes.amounts import usual_string_gain
from plectrum.core.planning.strokes.costs import DIRECTION_CODES, CostTables, Nudges
from plectrum.core.planning.strokes.dynamic_program import Problem, Solution, WayBack, cost_of
from plectrum.core.planning.strokes.equal_bars import (
    Classes,
    find_equals,
    single_bars,
    wishes_of,
)
from plectrum.core.planning.strokes.segments import segments_of
from plectrum.core.planning.strokes.units import Units
from plectrum.core.score.model import Direction, Part

ROUNDS_N = 3  # how often equal bars are asked again; two are nearly always enough


def solve_strokes(
    part: Part,
    choices: Choices,
    fingered: Sequence[Fingered],
    units: Units,
    together: Mapping[int, Direction],
    before: Mapping[int, bytes] | None = None,
) -> tuple[CostTables, Solution]:
    """Solve twice: as if on the usual strings, with equal bars asked for equal bows until nothing
    changes; then with the bow that these strings wish for, every bar asked to go as it went. So
    the same rhythm has the same bows on whatever strings it lies, even where two ways are nearly
    as good.

    Args:
        together: note index to the direction another part has in the same rhythm.
        before: what bars ask of their equals to begin with; nothing if None.
    """
    wanted = {u.index: DIRECTION_CODES[together[u.first]] for u in units if u.first in together}
    segments = segments_of(part, choices, fingered, units)
    solved: dict[int | str, WayBack] = units.base.kept.setdefault("solved", {})
    kept = units.base.kept
    if "usual" not in kept:
        kept["usual"] = usual_string_gain(choices.own, fingered), single_bars(part, units)
    gain, bars = kept["usual"]
    start = Nudges(before or {}, wanted)
    anywhere = CostTables(part, units, choices, segments, start, 1 / gain)
    solution = _in_rounds(anywhere, _equals(part, units), solved)
    nudges = Nudges(wishes_of(bars, solution.bows, len(units)), wanted)
    tables = anywhere.wishing(1.0).nudged(nudges)
    return tables, _solved(tables.problem, solved, "here")


def _in_rounds(plain: CostTables, classes: Classes, solved: dict[int | str, WayBack]) -> Solution:
    tables, wanted = plain, plain.nudges.together
    solution = _solved(tables.problem, solved, 0)
    for number in range(1, ROUNDS_N + 1):
        same = wishes_of(classes, solution.bows, len(plain.units))
        if same == tables.nudges.same:
            break
        tables = plain.nudged(Nudges(same, wanted))
        if number == 1 and cost_of(tables.problem, solution.steps) == solution.total:
            # nothing was asked before, so what costs no more now is still the least
            solution = Solution(tables.problem, solution.bows, solved.get(number))
        else:
            solution = _solved(tables.problem, solved, number)
    return solution


def _equals(part: Part, units: Units) -> Classes:
    """The classes of equal bars; kept where nothing is pinned."""
    if units.touched:
        return find_equals(part, units)
    if "equals" not in units.base.kept:
        units.base.kept["equals"] = find_equals(part, units)
    found: Classes = units.base.kept["equals"]
    return found


def _solved(problem: Problem, solved: dict[int | str, WayBack], number: int | str) -> Solution:
    """Solve, going on from what the same round gave when the piece was last planned."""
    solution = Solution(problem, earlier=solved.get(number))
    solved[number] = solution.way_back
    return solution
