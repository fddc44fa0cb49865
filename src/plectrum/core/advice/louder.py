"""What makes a note louder or softer than it comes out, in the order in which teachers try it: the
part of the bow, the lane, how much bow (common practice, no source).

One answer for all who ask: the list, what mends it, and the finder of faults.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace

from plectrum.core.advice.words import length_words
from plectrum.core.document.choices import NO_PIN, Choices, Pin
from plectrum.core.document.places import span_of, words_of
from plectrum.core.errors import ChoiceError
from plectrum.core.planning.plan import Plan
from plectrum.core.planning.rules import CELLS_N
from plectrum.core.planning.strokes.amounts import school_range
from plectrum.core.planning.strokes.costs import usable_cells
from plectrum.core.planning.strokes.planned import PlannedNote
from plectrum.core.wording import say

_HALF_CELL = 0.5 / CELLS_N


@dataclass(frozen=True, slots=True)
class Way:
    """One change, inside what the player and the bow have; what is None stays."""

    text: str
    place: str | None = None
    lane: int | None = None
    length_cells: int | None = None

    def pinned(self, plan: Plan, notes: Iterable[int]) -> Choices:
        """The choices with it taken at some notes."""
        pins: dict[str, Pin] = {}

        def say_of(note_id: str, **what: object) -> None:
            pin = pins.get(note_id) or plan.choices.pins.get(note_id, NO_PIN)
            pins[note_id] = replace(pin, **what)  # type: ignore[arg-type]

        for index in notes:
            unit = plan.unit_of(index)
            if unit is None:
                continue
            head = plan.head_of(unit).id
            if self.place is not None:
                say_of(head, place=self.place)
            if self.length_cells is not None:
                say_of(head, length_cells=self.length_cells)
            if self.lane is not None:
                say_of(plan.part.notes[index].id, lane=self.lane)
        return plan.choices.with_pins(pins)


def next_lane(plan: Plan, note_index: int, *, nearer: bool) -> int | None:
    """The next lane that the player has, nearer the bridge or farther from it."""
    contact = plan.contact
    now = int(contact.lane[plan.contact_rows[note_index]])
    way = -1 if nearer else 1
    there = [lane for lane in plan.player.lanes if (lane - now) * way > 0]
    return min(there, key=lambda lane: abs(lane - now), default=None)


def ways_to_sound(plan: Plan, note_index: int, *, louder: bool, wanted_mm: float) -> Iterator[Way]:
    """Ways to a louder or softer note, the first ones first.

    Args:
        wanted_mm: the bow that would make it where it lies now.
    """
    planned = plan.notes[note_index]
    if planned is None:
        return
    lane = next_lane(plan, note_index, nearer=louder)
    place = _other_half(plan, planned, "lower-half" if louder else "upper-half")
    if place is not None:
        there = words_of(place)
        if lane is not None:
            text = say("play it in the {place}, in lane {lane}", place=there, lane=lane)
            yield Way(text, place=place, lane=lane)
        yield Way(say("play it in the {place}", place=there), place=place)
    if lane is not None:
        yield Way(say("play in lane {lane}", lane=lane), lane=lane)
    length = _length(plan, planned, wanted_mm)
    if length is not None:
        hair_mm = plan.choices.bow.hair_mm
        words = length_words(length / CELLS_N)
        if words != length_words(planned.length_mm / hair_mm):
            text = say(
                "use {length} ({centimetres:.0f} cm)",
                length=words,
                centimetres=length / CELLS_N * hair_mm / 10,
            )
            yield Way(text, length_cells=length)


def _other_half(plan: Plan, planned: PlannedNote, place: str) -> str | None:
    """A half of the bow that its stroke leaves and the player comes to."""
    try:
        span = span_of(place, None, plan.choices.bow, school_range(plan.choices))
    except ChoiceError:
        return None
    low, high = sorted(plan.stroke_ends(planned))
    inside = (span.low or 0.0) - _HALF_CELL <= low and high <= (span.high or 1.0) + _HALF_CELL
    unit = plan.units[planned.unit]
    return None if inside or unit.pin.place is not None else place


def _length(plan: Plan, planned: PlannedNote, wanted_mm: float) -> int | None:
    """The cells of its stroke with so much bow for the note, if the bow and the player have it and
    the stroke has no other note."""
    unit = plan.units[planned.unit]
    (low, high), hair_mm = usable_cells(plan.choices), plan.choices.bow.hair_mm
    speed_mm_s = wanted_mm * planned.strokes_n / max(planned.moving_s, 1e-3)
    can = plan.player.slowest_mm_s <= speed_mm_s <= plan.player.fastest_mm_s
    cells = round(wanted_mm / hair_mm * CELLS_N)
    return cells if can and unit.first == unit.last and 1 <= cells <= high - low else None
