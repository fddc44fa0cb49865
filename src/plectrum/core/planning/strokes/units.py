"""Notes grouped into units: what one bow must take in one go, and what it wishes for.

A slur's notes are one unit, unless the teacher splits it; every other note is its own.
Notes without bow (pizzicato) are in no unit. Numbers without a source are own defaults.
"""

from __future__ import annotations

from collections.abc import Hashable, Mapping, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from itertools import pairwise
from types import MappingProxyType
from typing import Any

from plectrum.core.document.choices import NO_PIN, Choices, Join, Pin
from plectrum.core.planning import rules
from plectrum.core.planning.fingering.grips import Fingered
from plectrum.core.planning.strokes.amounts import STOPPED, Amounts, amounts_of, moving_share
from plectrum.core.player.school import CrossingSchool, DottedSchool, SlurSchool
from plectrum.core.score.model import Articulation, Direction, Note, Part

NOT_FED: Mapping[int, float] = MappingProxyType({})


@dataclass(frozen=True, slots=True)
class Unit:
    """One or more notes in one bow. Lengths and places are fractions of the hair.

    `usual_length` is what it would like if all its notes lay on the usual, highest string.
    `crossings` holds (share of the unit's bow at which the level changes, how much it
    troubles) for the change into the unit and those inside it.
    """

    index: int
    first: int
    last: int
    duration_s: float
    moving_s: float
    ideal_length: float
    usual_length: float
    ideal_place: float
    metric_weight: float
    free_s: float
    short_after_long: bool
    mark: Direction | None
    pin: Pin
    crossings: tuple[tuple[float, float], ...] = ()


def stops_inside(note: Note, before: Note) -> bool:
    """Whether two notes under one slur are separated by a stop: dots, or a rest between."""
    if note.gap_before_s > 0:
        return True
    dotted = bool(note.articulations & STOPPED and before.articulations & STOPPED)
    return dotted and Articulation.RICOCHET not in note.articulations


@dataclass(frozen=True)
class BaseUnits:
    """The units of a part without pins, and what else is kept of them from plan to plan.

    `fed` is how much more or less bow the sound asks of a note than its wish: index to times.
    """

    units: tuple[Unit, ...]
    unit_of_note: Mapping[str, int]
    fed: Mapping[int, float]
    kept: dict[Hashable, Any]


class Units(list[Unit]):
    """The units of a plan. `touched` are those that differ from the base by what is pinned."""

    def __init__(self, base: BaseUnits, pinned: Mapping[int, Unit]) -> None:
        super().__init__(base.units)
        self.base = base
        self.touched = tuple(sorted(pinned))
        for index, unit in pinned.items():
            self[index] = unit


def slurs_are_free(choices: Choices) -> bool:
    """Whether the plan decides which notes share a bow."""
    return choices.school.slurs is not SlurSchool.WRITTEN


def _starts_unit(note: Note, pin: Pin | None) -> bool:
    if pin is not None and pin.join is not None:
        return pin.join is not Join.SLUR
    return not note.slurred


def _starts_when_free(note: Note, before: Note) -> bool:
    """Where the plan slurs, only a grace note and stopped notes stay in their printed bow."""
    return not (note.slurred and (before.grace or stops_inside(note, before)))


def _spans(notes: Sequence[Note], choices: Choices) -> list[tuple[int, int]]:
    spans: list[tuple[int, int]] = []
    free = slurs_are_free(choices)
    joined = False
    for k, note in enumerate(notes):
        if note.pizzicato:
            joined = False
            continue
        if joined and not (
            _starts_when_free(note, notes[k - 1])
            if free
            else _starts_unit(note, choices.pins.get(note.id))
        ):
            spans[-1] = (spans[-1][0], k)
        else:
            spans.append((k, k))
        joined = True
    return spans


def build_units(
    part: Part,
    choices: Choices,
    fingered: Sequence[Fingered],
    fed: Mapping[int, float] = NOT_FED,
) -> Units:
    """The units of a part, in order, with what each would like.

    All but the pins is kept: an edit changes few of them.

    Args:
        fed: note index to times its wished length.
    """
    amounts = amounts_of(part, choices)
    joins = frozenset((i, p.join is Join.SLUR) for i, p in choices.pins.items() if p.join)
    base = plain = amounts.few(
        fingered, "units", joins, lambda: _base_units(part, choices, fingered, amounts)
    )
    if fed:
        base = amounts.few(
            fingered,
            "fed",
            (joins, tuple(fed.items())),
            lambda: _fed(plain, part, choices, fingered, amounts, fed),
        )
    pinned: dict[int, Unit] = {}
    for note_id in choices.pins:
        index = base.unit_of_note.get(note_id)
        if index is not None and index not in pinned:
            unit = base.units[index]
            pin = _pin_of(part.notes[unit.first : unit.last + 1], choices)
            if not pin.is_empty:
                pinned[index] = replace(unit, pin=pin)
    return Units(base, pinned)


def _base_units(
    part: Part, choices: Choices, fingered: Sequence[Fingered], amounts: Amounts
) -> BaseUnits:
    notes, rows = part.notes, note_rows(part, choices, fingered, amounts)
    units: list[Unit] = []
    for first, last in _spans(notes, choices):
        before = units[-1].last if units else None
        units.append(unit_of(notes, choices, rows, amounts, (len(units), first, last, before)))
    of_note = {n.id: u.index for u in units for n in notes[u.first : u.last + 1]}
    return BaseUnits(tuple(units), of_note, {}, {})


def _fed(
    base: BaseUnits,
    part: Part,
    choices: Choices,
    fingered: Sequence[Fingered],
    amounts: Amounts,
    fed: Mapping[int, float],
) -> BaseUnits:
    """The same units with other wishes; what does not depend on wishes is kept in common."""
    units = list(base.units)
    rows = note_rows(part, choices, fingered, amounts)
    for index in {base.unit_of_note[part.notes[i].id] for i in fed}:
        u = units[index]
        before = units[index - 1].last if index else None
        key = index, u.first, u.last, before
        units[index] = unit_of(part.notes, choices, rows, amounts, key, fed)
    kept = {key: value for key, value in base.kept.items() if key != "kinds"}
    touched = {units[base.unit_of_note[part.notes[i].id]].first for i in fed}
    merged = base.kept.get("merged", {}).items()
    kept["merged"] = {k: u for k, u in merged if touched.isdisjoint(range(k[0], k[1] + 1))}
    return BaseUnits(tuple(units), base.unit_of_note, fed, kept)


def unit_of(
    notes: Sequence[Note],
    choices: Choices,
    rows: NoteRows,
    amounts: Amounts,
    key: tuple[int, int, int, int | None],
    fed: Mapping[int, float] = NOT_FED,
) -> Unit:
    """One unit; `key` holds its index, first and last note, and the last one before it."""
    index, first, last, before_last = key
    usual, moving_s = rows.usual[last], rows.moving_s[last]
    wished = usual * rows.gain[last] * fed.get(last, 1.0)
    mark = notes[first].mark
    for k in range(first, last):
        stops = rows.stops[k + 1]
        length, seconds = rows.stopped(k) if stops else (rows.usual[k], rows.moving_s[k])
        usual += length
        wished += length * rows.gain[k] * fed.get(k, 1.0)
        moving_s += seconds
        mark = mark or notes[k + 1].mark
    head = notes[first]
    before = notes[before_last] if before_last is not None else None
    pair = before is not None and _is_dotted_pair(before, head, last > first)
    return Unit(
        index=index,
        first=first,
        last=last,
        duration_s=notes[last].end_s - head.onset_s,
        moving_s=moving_s,
        ideal_length=min(wished, amounts.high - amounts.low),
        usual_length=min(usual, amounts.high - amounts.low),
        ideal_place=amounts.place(head),
        metric_weight=head.metric_weight,
        free_s=_free_s(before, head, pair, choices),
        short_after_long=pair,
        mark=mark,
        pin=NO_PIN,
        crossings=rows.crossings(first, last, head.onset_s, notes[last].end_s),
    )


class NoteRows:
    """What of each note its unit is summed from; a list entry a note.

    Attributes:
        usual: fraction of the hair it would like on the highest string; gain: times that on its
            own; moving_s: how long the bow moves on it.
        stops: whether the bow stops before it inside a unit.
        trouble: what the change of the arm's level into it troubles; 0 where there is none.
    """

    def __init__(
        self,
        notes: Sequence[Note],
        choices: Choices,
        fingered: Sequence[Fingered],
        amounts: Amounts,
    ) -> None:
        self._notes, self._fingered, self._amounts = notes, fingered, amounts
        both = [self._one(k, stop_after=False) for k in range(len(notes))]
        self.usual = [length for length, _ in both]
        self.gain = [amounts.string_gain(fingered[n.index].strings) for n in notes]
        self.moving_s = [seconds for _, seconds in both]
        self.stops = [False, *(stops_inside(b, a) for a, b in pairwise(notes))]
        rolling = choices.school.crossing is CrossingSchool.ROLLING
        self.trouble = self._troubles(rules.ROLLING_SHARE if rolling else 1.0)

    def _one(self, k: int, stop_after: bool) -> tuple[float, float]:
        note = self._notes[k]
        share = moving_share(note, stop_after)
        return self._amounts.length(note, share), note.duration_s * share

    def stopped(self, k: int) -> tuple[float, float]:
        """What a note wishes for, and how long the bow moves, where a stop follows it."""
        return self._one(k, stop_after=True)

    def _troubles(self, times: float) -> list[float]:
        found = [0.0] * len(self._notes)
        before: Note | None = None
        for k, note in enumerate(self._notes):
            if note.pizzicato:
                continue
            if before is not None:
                a, b = self._fingered[before.index].level, self._fingered[note.index].level
                if a is not None and b is not None and a != b:
                    time_s = before.duration_s + note.gap_before_s
                    haste = min(1.0, rules.FAST_CROSSING_S / max(time_s, 1e-3))
                    found[k] = round(abs(b - a) / 2 * haste * times, 2)
            before = note
        return found

    def crossings(
        self, first: int, last: int, onset_s: float, end_s: float
    ) -> tuple[tuple[float, float], ...]:
        """Where in a unit's bow the arm changes level, and how much that troubles."""
        if not any(self.trouble[first : last + 1]):
            return ()
        whole_s = end_s - onset_s
        return tuple(
            (round((self._notes[k].onset_s - onset_s) / whole_s if whole_s > 0 else 0.0, 2), t)
            for k, t in enumerate(self.trouble[first : last + 1], first)
            if t
        )


def note_rows(
    part: Part, choices: Choices, fingered: Sequence[Fingered], amounts: Amounts
) -> NoteRows:
    """The rows of a part; kept, because pins do not change them."""
    kept = amounts.kept(fingered)
    key = "rows", choices.school.crossing
    if key not in kept:
        kept[key] = NoteRows(part.notes, choices, fingered, amounts)
    found: NoteRows = kept[key]
    return found


def _free_s(before: Note | None, head: Note, pair: bool, choices: Choices) -> float:
    """Seconds in which the bow may be in the air before a unit."""
    if before is None:
        return 0.0
    free_s = head.onset_s - before.end_s + (rules.STOLEN_S if before.phrase_end else 0.0)
    if pair and choices.school.dotted is DottedSchool.LIFT:
        free_s += rules.LIFTED_SHARE * before.duration_s
    return free_s


def _is_dotted_pair(before: Note, note: Note, several: bool) -> bool:
    """A short note right after one at least twice as long, off the beat."""
    return (
        not several
        and note.metric_weight < rules.PAIR_OFF_BEAT
        and note.gap_before_s == 0
        and note.duration_s <= rules.PAIR_SHORT_BEATS * note.beat_s
        and note.duration_q * Fraction(rules.PAIR_RATIO) <= before.duration_q
    )


def _pin_of(members: Sequence[Note], choices: Choices) -> Pin:
    """The pin of a unit: its first note's, and a direction pinned anywhere inside."""
    pins = choices.pins
    if not any(note.id in pins for note in members):
        return NO_PIN
    head = pins.get(members[0].id, NO_PIN)
    direction = head.direction
    for note in members[1:]:
        inner = choices.pins.get(note.id)
        if direction is None and inner is not None:
            direction = inner.direction
    join = head.join if head.join in (Join.TURN, Join.HOOK, Join.RETAKE) else None
    return Pin(
        direction,
        join,
        head.start_cell,
        head.length_cells,
        place=head.place,
        amount=head.amount,
    )
