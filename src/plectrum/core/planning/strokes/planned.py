"""What the bow does on every note: the result of planning, as data."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from plectrum.core.document.choices import Choices, Join
from plectrum.core.planning import rules
from plectrum.core.planning.fingering.grips import Fingered
from plectrum.core.planning.fingering.search import crossings_n
from plectrum.core.planning.rules import CELLS_N
from plectrum.core.planning.strokes.amounts import Amounts, amounts_of, school_range
from plectrum.core.planning.strokes.bow_columns import stops_inside
from plectrum.core.planning.strokes.context import columns_of
from plectrum.core.planning.strokes.held_inside import HeldInside
from plectrum.core.planning.strokes.kept import kept_of
from plectrum.core.planning.strokes.problem import HOOK, RETAKE, TURN, Ints, Step, steps_of
from plectrum.core.planning.strokes.sharing import share_unit, weights_of
from plectrum.core.planning.strokes.units import Unit, Units, before_each
from plectrum.core.player.player import Player
from plectrum.core.score.model import Articulation, Direction, Note, Part
from plectrum.core.score.playing_order import played

DIRECTIONS = (Direction.DOWN, Direction.UP)
JOINS = {TURN: Join.TURN, HOOK: Join.HOOK, RETAKE: Join.RETAKE}
_AT_START = -1  # how the first bow of all joins
_JOINS = JOINS | {_AT_START: Join.START}


class PlannedNote(NamedTuple):
    """What the bow does on one note. Positions are fractions of the hair from the frog.

    A named tuple, because a long part makes thousands. `strokes_n` is more than one for a tremolo;
    start, end and length are those of one stroke. `moving_s` is the part of the note's time in
    which the bow moves, from its onset. `swell` is how much faster than at its mean the bow moves
    at the note's end, and slower at its beginning, as a share of the mean; 0 where the note neither
    grows nor fades.
    """

    note: Note
    unit: int
    direction: Direction
    join: Join
    start: float
    end: float
    length_mm: float
    moving_s: float
    stop_after: bool
    swell: float = 0.0
    strokes_n: int = 1

    def __repr__(self) -> str:
        how = f"{self.join}, {self.direction}, {self.start:.2f} to {self.end:.2f} of the hair"
        return f"<{self.note.place}: {how}>"

    @property
    def speed_mm_s(self) -> float:
        """The mean speed."""
        return self.strokes_n * self.length_mm / self.moving_s if self.moving_s > 0 else 0.0

    @property
    def turns(self) -> tuple[float, ...]:
        """Where the bow is at the start and after each stroke: a tremolo goes to and fro, one of
        an even number a little further each time, so that it ends where it is planned to."""
        way, n = self.end - self.start, self.strokes_n
        drift = way / n if n % 2 == 0 else 0.0
        return tuple(self.start + drift * k + way * (k % 2) for k in range(n + 1))

    def done(self, share: float) -> float:
        """The part of the note's bow that is drawn after a share of its moving time."""
        return share * (1 - self.swell) + self.swell * share**2

    def speed_at(self, share: float) -> float:
        """Speed in mm/s after a share of the moving time."""
        return self.speed_mm_s * (1 + self.swell * (2 * share - 1))


@dataclass(frozen=True, slots=True)
class Stroke:
    """All that is played in one bow direction without turning or lifting."""

    index: int
    direction: Direction
    join: Join
    first_note: int
    last_note: int
    start: float
    end: float
    length_mm: float
    speed_mm_s: float
    kind: str


@dataclass(frozen=True, slots=True)
class _Made:
    """The notes of the plan before, and what those of each unit were made from."""

    keys: Ints
    said: Mapping[int, tuple[str | None, dict[int, float]]]
    notes: tuple[PlannedNote | None, ...]


def planned_notes(
    part: Part,
    choices: Choices,
    fingered: tuple[Fingered, ...],
    units: Sequence[Unit],
    rows: Ints,
) -> tuple[PlannedNote | None, ...]:
    """What every note does, from what the units do; notes that do what they did in the plan before
    are the same ones.

    Args:
        rows: what each unit does (see `problem`).
    """
    amounts = amounts_of(part, choices)
    kept = kept_of(part, choices, fingered)
    before: _Made | None = kept.get("notes")
    keys, said = _keys(part, units, rows, amounts), _shares_said(part, choices, units)
    other = np.arange(len(keys))
    notes: list[PlannedNote | None] = [None] * len(part.notes)
    if before is not None and before.keys.shape == keys.shape:
        differs = (keys != before.keys).any(axis=1)
        differs[[i for i in said.keys() | before.said if said.get(i) != before.said.get(i)]] = True
        other, notes = np.flatnonzero(differs), list(before.notes)
    single = keys[other, 0] == keys[other, 1]
    alone, slurred = other[single], other[~single]
    made = _single_notes(part, alone, keys[alone], amounts)
    for k, planned in zip(keys[alone, 0].tolist(), made, strict=True):
        notes[k] = planned
    for i, key in zip(slurred.tolist(), keys[slurred].tolist(), strict=True):
        unit = units[i]
        planned_so = _slurred_notes(part, unit, key, amounts, *said.get(i, (None, {})))
        notes[unit.first : unit.last + 1] = planned_so
    kept["notes"] = now = _Made(keys, said, tuple(notes))
    return now.notes


def _keys(part: Part, units: Sequence[Unit], rows: Ints, amounts: Amounts) -> Ints:
    """First and last note of each unit, direction, join, start and end, and whether the next is
    hooked on to it."""
    first, last = _spans(units)
    hooked_on = np.zeros(len(rows), dtype=bool)
    joins = _joins_played(part, units, rows, amounts)
    hooked_on[_before(part, units)[1:][joins[1:] == HOOK]] = True
    return np.column_stack([first, last, rows[:, 2], joins, rows[:, 4:], hooked_on])


def _joins_played(part: Part, units: Sequence[Unit], rows: Ints, amounts: Amounts) -> Ints:
    """How each unit joins: after a tremolo another way than the program has it, which takes all
    its strokes for one."""
    joins = rows[:, 3].copy()
    if (amounts.strokes == 1).all():
        return joins
    last = _spans(units)[1][_before(part, units)]
    meets = (joins != RETAKE) & (np.arange(len(joins)) > 0)
    even = meets & amounts.counted[last] & (amounts.strokes[last] % 2 == 0)
    joins[even] = TURN + HOOK - joins[even]
    joins[meets & ~amounts.counted[last]] = TURN
    return joins


def _spans(units: Sequence[Unit]) -> tuple[Ints, Ints]:
    """First and last note of each unit."""
    if isinstance(units, Units):
        return units.base.columns.first, units.base.columns.last
    first, last = np.array([u[1:3] for u in units], dtype=np.int64).reshape(-1, 2).T
    return first, last


def _before(part: Part, units: Sequence[Unit]) -> Ints:
    """The unit that is played before each; −1 before the first."""
    if isinstance(units, Units):
        return units.base.before
    return before_each(columns_of(part).before, *_spans(units))[0]


def _shares_said(
    part: Part, choices: Choices, units: Sequence[Unit]
) -> dict[int, tuple[str | None, dict[int, float]]]:
    """What is pinned of how notes share a bow, by unit: a word of all, and the lengths of some."""
    touched = units.touched if isinstance(units, Units) else range(len(units))
    said: dict[int, tuple[str | None, dict[int, float]]]
    said = {i: (amount, {}) for i in touched if (amount := units[i].pin.amount) is not None}
    within = HeldInside(part, choices)
    for i in within.bows(*_spans(units)):
        said[i] = units[i].pin.amount, within.lengths(units[i].first, units[i].last)
    return said


def _single_notes(part: Part, units: Ints, keys: Ints, amounts: Amounts) -> Iterator[PlannedNote]:
    """The notes that have a bow of their own, as they are played (see `_keys`)."""
    k, hooked = keys[:, 0], keys[:, 6] > 0
    start, end = keys[:, 4] / CELLS_N, keys[:, 5] / CELLS_N
    lengths_mm = np.abs(end - start) * amounts.hair_mm
    moving_s = np.where(hooked, amounts.stopped_moving_s[k], amounts.moving_s[k])
    joins = np.where(units > 0, keys[:, 3], _AT_START)
    swells = zip(k.tolist(), moving_s.tolist(), lengths_mm.tolist(), strict=True)
    return map(
        PlannedNote,
        (part.notes[i] for i in k.tolist()),
        units.tolist(),
        map(DIRECTIONS.__getitem__, keys[:, 2].tolist()),
        map(_JOINS.__getitem__, joins.tolist()),
        start.tolist(),
        end.tolist(),
        lengths_mm.tolist(),
        moving_s.tolist(),
        hooked.tolist(),
        (_swell(part.notes[i], m, mm, amounts.player) for i, m, mm in swells),
        amounts.strokes[k].tolist(),
    )


def _slurred_notes(
    part: Part,
    unit: Unit,
    key: Sequence[int],
    amounts: Amounts,
    said: str | None,
    lengths: Mapping[int, float],
) -> list[PlannedNote]:
    """The notes of one unit of several as it is played (see `_keys` and `_shares_said`)."""
    _, _, direction, join_code, start, end, hooked = key
    join = _JOINS[join_code if unit.index else _AT_START]
    way, place = DIRECTIONS[direction], (start / CELLS_N, end / CELLS_N)
    members = part.notes[unit.first : unit.last + 1]
    stops = [*(stops_inside(b, a) for a, b in pairwise(members)), bool(hooked)]
    moving_s = [
        (amounts.stopped_moving_s if stop else amounts.moving_s).item(k)
        for k, stop in enumerate(stops, unit.first)
    ]
    gains = amounts.gain[unit.first : unit.last + 1].tolist()
    ends = share_unit(weights_of(moving_s, gains, said), *place, lengths)
    joins = [join, *(Join.HOOK if stop else Join.SLUR for stop in stops[:-1])]
    planned = []
    for k, note in enumerate(members):
        length_mm = abs(ends[k][1] - ends[k][0]) * amounts.hair_mm
        swell = _swell(note, moving_s[k], length_mm, amounts.player)
        what = note, unit.index, way, joins[k], *ends[k], length_mm, moving_s[k], stops[k], swell
        planned.append(PlannedNote(*what))
    return planned


def _swell(note: Note, moving_s: float, length_mm: float, player: Player) -> float:
    """How a note that grows or fades draws its bow, within the speeds the player can."""
    change_db = note.level_change_db
    if not change_db or note.stroke_q is not None:
        return 0.0
    if abs(change_db) < rules.SHAPE_FROM_DB or moving_s < rules.SHAPE_FROM_S:
        return 0.0
    most = rules.SHAPE_MOST
    ratio = min(most, max(1 / most, 10 ** (change_db / rules.SHAPE_DB)))
    swell = (ratio - 1) / (ratio + 1)
    mean = length_mm / moving_s
    room = min(1 - min(player.slowest_mm_s, mean) / mean, max(player.fastest_mm_s, mean) / mean - 1)
    return max(-room, min(room, swell))


class PlannedPart:
    """A part with its strings, units and strokes. Immutable; derived views are made when asked for.

    Attributes:
        part: the part, at the plan's tempo.
        choices: what it was made from.
        fingered: string and finger of every note.
        units: what is played in one bow; steps: what each unit does, and the same as rows of
            numbers in `rows` (see `problem`).
        notes: one entry a note; None for notes without bow.
    """

    def __init__(
        self,
        part: Part,
        choices: Choices,
        fingered: tuple[Fingered, ...],
        units: Sequence[Unit],
        rows: Ints,
        notes: tuple[PlannedNote | None, ...],
    ) -> None:
        self.part = part
        self.choices = choices
        self.player = choices.player.on(choices.own)
        self.instrument = choices.own
        self.fingered = fingered
        self.units = units
        self.rows = rows
        self.notes = notes

    def __repr__(self) -> str:
        notes_n, strokes_n = len(self.notes), len(self.strokes)
        return f"<{type(self).__name__} of {self.part.name}: {notes_n} notes, {strokes_n} strokes>"

    @cached_property
    def steps(self) -> list[Step]:
        return list(steps_of(self.rows).values())

    @cached_property
    def lengths_mm(self) -> NDArray[np.float64]:
        """What each unit takes of the hair, shape (N,)."""
        lengths: NDArray[np.float64] = np.abs(self.rows[:, 5] - self.rows[:, 4]) / CELLS_N
        return lengths * self.choices.bow.hair_mm

    @cached_property
    def speeds_mm_s(self) -> NDArray[np.float64]:
        """The mean speed of each unit, shape (N,)."""
        moving_s = np.array([u.moving_s for u in self.units], dtype=float)
        speeds: NDArray[np.float64] = self.lengths_mm / np.maximum(moving_s, 1e-3)
        return speeds

    def wished_length(self, unit: Unit) -> float:
        """What a unit wishes for of the hair, as far as there is so much."""
        low, high = school_range(self.choices)
        return min(unit.ideal_length, high - low)

    def unit_of(self, note_index: int) -> int | None:
        planned = self.notes[note_index]
        return None if planned is None else planned.unit

    def note_before(self, note_index: int) -> int:
        """The note that is played before one where it comes first; −1 before the first."""
        return played(self.part).before[note_index]

    def head_of(self, unit: int) -> Note:
        return self.part.notes[self.units[unit].first]

    def stroke_of(self, planned: PlannedNote) -> int:
        """The number of the stroke a note is in."""
        return self._stroke_of_unit[planned.unit]

    def stroke_ends(self, planned: PlannedNote) -> tuple[float, float]:
        """Where the stroke a note is in begins and ends on the hair."""
        number, numbers = self.stroke_of(planned), self._stroke_of_unit
        first, after = bisect_left(numbers, number), bisect_right(numbers, number)
        return self.rows.item(first, 4) / CELLS_N, self.rows.item(after - 1, 5) / CELLS_N

    @cached_property
    def unit_before(self) -> list[int]:
        """The unit that is played before each; −1 before the first."""
        before: list[int] = _before(self.part, self.units).tolist()
        return before

    @cached_property
    def _stroke_of_unit(self) -> list[int]:
        played = (self.notes[u.first] for u in self.units)
        begins = np.array([p is None or p.join is not Join.HOOK for p in played], dtype=bool)
        begins |= np.array(self.unit_before) != np.arange(-1, len(begins) - 1)
        numbers: list[int] = (np.cumsum(begins) - 1).tolist()
        return numbers

    @cached_property
    def strokes(self) -> tuple[Stroke, ...]:
        """The strokes in order; made when first asked for."""
        grouped: dict[int, list[PlannedNote]] = {}
        for planned in self.notes:
            if planned is not None:
                grouped.setdefault(self.stroke_of(planned), []).append(planned)
        strokes = []
        for index, members in grouped.items():
            first, last = members[0], members[-1]
            length_mm = abs(last.end - first.start) * self.choices.bow.hair_mm
            moving_s = sum(m.moving_s for m in members)
            strokes.append(
                Stroke(
                    index,
                    first.direction,
                    first.join,
                    first.note.index,
                    last.note.index,
                    first.start,
                    last.end,
                    length_mm,
                    first.strokes_n * length_mm / moving_s if moving_s > 0 else 0.0,
                    _kind(members),
                )
            )
        return tuple(strokes)

    @cached_property
    def summary(self) -> dict[str, int]:
        """How often the bow turns, hooks and lifts."""
        joins = [p.join for p in self.notes if p is not None]
        return {
            "crossings": crossings_n(self.fingered),
            "hooks": joins.count(Join.HOOK),
            "retakes": joins.count(Join.RETAKE),
            "turns": joins.count(Join.TURN),
        }


_KINDS = (
    Articulation.SPICCATO,
    Articulation.STACCATISSIMO,
    Articulation.STACCATO,
    Articulation.PORTATO,
    Articulation.MARCATO,
    Articulation.SFORZANDO,
    Articulation.ACCENT,
    Articulation.TENUTO,
)


def _kind(members: Sequence[PlannedNote]) -> str:
    articulations = set().union(*(m.note.articulations for m in members))
    if any(m.strokes_n > 1 for m in members):
        return "tremolo"
    if Articulation.RICOCHET in articulations:
        return "ricochet"
    if any(m.join is Join.HOOK for m in members[1:]):
        return "hooked"
    if len(members) > 1:
        return "slur"
    for kind in _KINDS:
        if kind in articulations:
            return kind.value
    return "détaché"
