"""The terms of a plan's costs that do not ask where on the bow a stroke lies: metre, joins, marks,
pins, equal bars and other parts.

Each is a table of whole millionths, by bow or by unit; `costs` puts them together.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from plectrum.core.document.choices import Choices, Join
from plectrum.core.planning import rules
from plectrum.core.planning.strokes.amounts import school_range
from plectrum.core.planning.strokes.context import (
    Bows,
    Columns,
    direction_features,
    rest_before_s,
)
from plectrum.core.planning.strokes.equal_bars import JOINED, Codes, other_ways
from plectrum.core.planning.strokes.preferences import (
    Boundary,
    balancing_ups,
    direction_worths,
    figures_again,
    join_costs,
    odd_figures_again,
)
from plectrum.core.planning.strokes.problem import HOOK, RETAKE, TURN, Ints
from plectrum.core.planning.strokes.segments import Segments
from plectrum.core.planning.strokes.stroke_tables import whole
from plectrum.core.planning.strokes.units import Unit, Units
from plectrum.core.player.player import Player
from plectrum.core.score.model import Direction, Part

_JOIN_CODES = {Join.TURN: TURN, Join.HOOK: HOOK, Join.RETAKE: RETAKE}
DIRECTION_CODES = {Direction.DOWN: 0, Direction.UP: 1}
Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]


@dataclass(frozen=True, slots=True, eq=False)
class Asked:
    """What other parts ask of each of N units, in millionths.

    Attributes:
        direction: shape (N, 2). join: shape (N, 3).
        place: shape (N, 2K+1), by the sum of both ends; None if no place is asked.
    """

    direction: Ints
    join: Ints
    place: Ints | None = None

    @classmethod
    def ways(cls, units_n: int, wanted: Mapping[int, int]) -> Asked:
        """Some units asked to go one way."""
        direction = np.zeros((units_n, 2), dtype=np.int64)
        for i, way in wanted.items():
            direction[i, 1 - way] = rules.millionths(rules.TOGETHER)
        return cls(direction, np.zeros((units_n, 3), dtype=np.int64))


@dataclass(frozen=True, slots=True)
class Nudges:
    """Costs that come from outside a bow: its equal bars, and the other part.

    Attributes:
        same: what the bars like its own do, a code a unit (see `equal_bars.wishes_of`).
        firm: how many times as much that counts.
        asked: what other parts in the same rhythm ask.
    """

    same: Codes | None = None
    asked: Asked | None = None
    firm: int = 1


NO_NUDGES = Nudges()


def worths_of(choices: Choices) -> Mapping[str, float]:
    """What directions and hooks are worth: the teacher's own, or what is learnt from print."""
    own = choices.bowing
    return rules.LEARNT if own is None else own.over(rules.LEARNT)


def _following(segments: Segments) -> Ints:
    """The note after each bow; −1 at the end."""
    starts = np.append(segments.bows.first[: len(segments.index)], -1)
    found: Ints = starts[segments.first + segments.count]
    return found


def _last_in_bar(columns: Columns, segments: Segments) -> Bools:
    """Whether each bow is the last of its bar."""
    following = _following(segments)
    other: Bools = columns.bar[following] != columns.bar[segments.bows.first]
    return other | (following < 0)


def metre_costs(columns: Columns, segments: Segments, choices: Choices) -> Ints:
    """What each direction of each bow costs, shape (B, 2)."""
    bows, following = segments.bows, _following(segments)
    features = direction_features(columns, bows, following, choices.player.lift_s)
    worth = direction_worths(features, worths_of(choices), choices.school.direction)
    final = bows.last == bows.last.max(initial=-1)
    worth += rules.FINAL_CHORD * (final & columns.chord[bows.first])
    return whole(worth[:, None] * np.array([[-1.0, 1.0]]))


def _as_printed(
    part: Part, columns: Columns, found_by: Callable[[Columns, Ints, Ints], NDArray[np.bool_]]
) -> NDArray[np.bool_]:
    """What is found of the bows of the printed slurs, at the first note of each; a row a note."""
    first = np.array([n.index for n in part.notes if not n.slurred], dtype=np.int64)
    last = np.append(first, len(part.notes))[1:] - 1
    found = np.zeros(len(part.notes), dtype=bool)
    found[first] = found_by(columns, first, last)
    return found


def _wished_of_two(segments: Segments, choices: Choices) -> Floats:
    """What neighbouring bows wish for together, as a share of what there is; one a pair."""
    low, high = school_range(choices)
    wished = np.minimum(segments.columns.usual_length / (high - low), 1.0)
    before, after = segments.pairs
    both: Floats = wished[before] + wished[after]
    return both


def _time_back(segments: Segments, choices: Choices, player: Player) -> Bools:
    """Whether between neighbouring bows there is time to carry the bow back by most of what the
    first wishes for; one a pair."""
    reach = reach_cells(segments.units, player, choices.bow.hair_mm)
    before, after = segments.pairs
    drawn = segments.columns.usual_length[before] * rules.CELLS_N
    found: Bools = reach[segments.first[after]] >= rules.BACK_SHARE * drawn
    return found


def joining_costs(
    part: Part,
    columns: Columns,
    segments: Segments,
    choices: Choices,
    player: Player,
) -> Ints:
    """What each join of two bows costs, shape (pairs, 2, 3); where the slurs are as printed, with
    a row of zeros for the first bow, which follows none."""
    before, after = segments.pairs
    bows = segments.bows
    pair = segments.columns.short_after_long
    free = segments.index.shape[1] > 1
    if free:  # what a slur before the two may be is not known yet: the printed one counts
        single = (segments.count[before] == 1) & (segments.count[after] == 1)
        balances = single & _as_printed(part, columns, balancing_ups)[bows.first[after]]
        again = _as_printed(part, columns, figures_again)[bows.first[after]]
        odd = _as_printed(part, columns, odd_figures_again)[bows.first[after]]
    else:
        balances = balancing_ups(columns, bows.first, bows.last)[after]
        again = figures_again(columns, bows.first, bows.last)[after]
        odd = odd_figures_again(columns, bows.first, bows.last)[after]
    at = Boundary(
        columns,
        Bows(bows.first[before], segments.units.base.came[segments.first[after]]),
        Bows(bows.first[after], bows.last[after]),
        pair[after],
        balances,
        again,
        odd,
        _time_back(segments, choices, player),
        _last_in_bar(columns, segments)[after],
        _wished_of_two(segments, choices),
    )
    costs = join_costs(at, worths_of(choices), choices.school, player)
    base, at_unit = segments.units.base, segments.first[after]
    even, uncounted = base.after_even[at_unit], base.after_uncounted[at_unit]
    costs[even] = costs[even][:, :, [HOOK, TURN, RETAKE]]
    costs[uncounted, :, HOOK] = costs[uncounted, :, TURN]
    if free:
        return costs
    first: Ints = np.zeros((min(len(segments.index), 1), 2, 3), dtype=np.int64)
    return np.concatenate([first, costs])


def slur_pin_costs(part: Part, units: Units, choices: Choices) -> Ints:
    """Cost of parting a unit from the one before it where the teacher has slurred them."""
    costs = np.zeros(len(units), dtype=np.int64)
    for note_id, pin in choices.pins.items():
        index = units.base.unit_of_note.get(note_id)
        if pin.join is Join.SLUR and index and part.notes[units[index].first].id == note_id:
            costs[index] = rules.millionths(rules.PIN)
    return costs


def evenness_kinds(columns: Columns, units: Units) -> Ints:
    """Which table of evenness holds before each unit: none after a long rest, half after a short
    one."""
    base = units.base
    bows = Bows(base.columns.first, base.columns.last)
    before = np.maximum(base.before, 0)  # the first is its own
    rest_s = rest_before_s(columns, Bows(bows.first[before], base.came), bows)
    return (rest_s < rules.REST_S).astype(np.int64) + (rest_s < rules.EVEN_REST_S)


def mark_costs(units: Units) -> Ints:
    """Cost of going against the score's mark; a pinned direction takes its place."""
    costs = np.zeros((len(units), 2), dtype=np.int64)
    kept = units.base.kept
    if "marked" not in kept:
        kept["marked"] = [u.index for u in units.base.units if u.mark is not None]
    for i in kept["marked"]:
        mark = units[i].mark
        if mark is not None and units[i].pin.direction is None:
            costs[i, DIRECTION_CODES[mark.other]] = rules.millionths(rules.MARK)
    return costs


def same_costs(units: Sequence[Unit], nudges: Nudges, choices: Choices) -> tuple[Ints, Ints]:
    """Cost of another direction, and of another join, than equal bars have."""
    if nudges.same is None:
        none = np.zeros((len(units), 5), dtype=np.int64)
        return none[:, :2], none[:, 2:]
    directions, joins = other_ways(nudges.same)
    other = nudges.firm * rules.millionths(rules.SAME[choices.school.direction])
    joined = nudges.firm * rules.millionths(rules.SAME_PAIR)
    return other * directions, np.where((nudges.same >= JOINED)[:, None], joined, other) * joins


def nominal_joins(units: Units, i: int, join: int) -> list[int]:
    """As what the program has a join at a unit: another one after a tremolo, where it takes all
    strokes for one."""
    if units.base.after_uncounted[i] and join != RETAKE:
        return [TURN, HOOK]
    if units.base.after_even[i] and join != RETAKE:
        return [TURN + HOOK - join]
    return [join]


def pin_costs(units: Units) -> tuple[Ints, Ints]:
    directions = np.zeros((len(units), 2), dtype=np.int64)
    joins = np.zeros((len(units), 3), dtype=np.int64)
    for i in units.touched:
        unit = units[i]
        if unit.pin.direction is not None:
            directions[i, DIRECTION_CODES[unit.pin.direction.other]] = rules.millionths(rules.PIN)
        if unit.pin.join is not None and i:
            joins[i] = rules.millionths(rules.PIN)
            joins[i, nominal_joins(units, i, _JOIN_CODES[unit.pin.join])] = 0
    return directions, joins


def reach_cells(units: Units, player: Player, hair_mm: float) -> Ints:
    """How far the bow can be carried before each unit, in cells; −1 where there is no time."""
    free_s = units.base.columns.free_s
    cells = (free_s - player.lift_s) * player.travel_mm_s / hair_mm * rules.CELLS_N
    return np.where(free_s < player.lift_s, -1, np.floor(cells + 1e-9)).astype(np.int64)
