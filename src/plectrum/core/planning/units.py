"""Notes grouped into units: what one bow must take in one go, and what it wishes for.

A slur's notes are one unit, unless the teacher splits it; every other note is its own.
Notes without bow (pizzicato) are in no unit. Numbers without a source are own defaults.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from plectrum.core.instrument.bow import PLACE_SHIFT
from plectrum.core.planning.choices import Choices, Join, Pin
from plectrum.core.player.player import Player
from plectrum.core.score.model import Articulation, Direction, Note

REFERENCE_S = 0.75  # at this length a note is drawn at the comfortable speed
# Short notes are drawn a little faster and long ones slower than the comfortable speed, so
# that "two short and a long" comes out fast, fast, slow (common practice) on one bow.
DURATION_EXPONENT = 0.8
SHARED_DB = 40.0  # amount and weight share a dynamic: 10^(dB/40) of it is bow
SHAPING_DB = 11.0  # under a short hairpin bow alone carries it, a tiny bit to half a bow
SHAPING_LIMIT_S = 6.0  # a hairpin longer than this is not taught as a shape of one bow
STACCATO_SHARE = 0.5  # the part of a stopped note in which the bow moves
STOLEN_S = 0.15  # time a player takes at the end of a phrase to lift
HOOK_STOP_S = (0.08, 0.15)  # the stop of a hook, taken from the note before
HOOK_STOP_SHARE = 0.2

_STOPPED = {Articulation.STACCATO, Articulation.STACCATISSIMO, Articulation.SPICCATO}
_ACCENTED = {Articulation.ACCENT, Articulation.MARCATO}


@dataclass(frozen=True, slots=True)
class Unit:
    """One or more notes in one bow. Lengths and places are fractions of the hair."""

    index: int
    first: int
    last: int
    duration_s: float
    moving_s: float
    ideal_length: float
    ideal_place: float
    metric_weight: float
    free_s: float
    short_after_long: bool
    mark: Direction | None
    pin: Pin


def moving_share(note: Note, stop_after: bool) -> float:
    """Which part of a note's time the bow moves.

    Args:
        stop_after: the next note follows in the same direction after a stop.
    """
    if note.articulations & _STOPPED:
        return STACCATO_SHARE
    if stop_after and note.duration_s > 0:
        low_s, high_s = HOOK_STOP_S
        stop_s = min(high_s, max(low_s, HOOK_STOP_SHARE * note.duration_s))
        return 1.0 - min(stop_s / note.duration_s, 0.4)
    return 1.0


def stops_inside(note: Note, before: Note) -> bool:
    """Whether two notes under one slur are separated by a stop: dots, or a rest between."""
    return note.gap_before_s > 0 or bool(
        note.articulations & _STOPPED and before.articulations & _STOPPED
    )


def level_gain(note: Note, hairpin: tuple[float, float] | None) -> float:
    """How much more or less bow a note wants for its level.

    Args:
        hairpin: mean level in dB and length in seconds of the hairpin it stands in.
    """
    if hairpin is None or hairpin[1] > SHAPING_LIMIT_S:
        return float(10.0 ** (note.level_db / SHARED_DB))
    mean_db, _ = hairpin
    return float(10.0 ** (mean_db / SHARED_DB + (note.level_db - mean_db) / SHAPING_DB))


def hairpins_of(notes: Sequence[Note]) -> dict[int, tuple[float, float]]:
    """Mean level in dB and length in seconds of every hairpin, by its number."""
    grouped: dict[int, list[Note]] = {}
    for note in notes:
        if note.in_hairpin:
            grouped.setdefault(note.in_hairpin, []).append(note)
    return {
        number: (
            sum(n.level_db for n in members) / len(members),
            members[-1].end_s - members[0].onset_s,
        )
        for number, members in grouped.items()
    }


def ideal_amount(note: Note, share: float, gain: float, player: Player, hair_mm: float) -> float:
    """Fraction of the hair a note would like, at the player's comfortable speed."""
    seconds = max(note.duration_s * share, 1e-3)
    stretched_s: float = REFERENCE_S * (seconds / REFERENCE_S) ** DURATION_EXPONENT
    return player.comfortable_mm_s * gain * stretched_s / hair_mm


def ideal_place(note: Note, instrument: str) -> float:
    """Where on the bow the middle of a stroke would like to be.

    Loud and accented notes towards the lower half, soft ones towards the upper, stopped
    notes a little above the middle (common practice; the amounts are own defaults).
    """
    place = 0.5 - 0.012 * note.level_db + PLACE_SHIFT[instrument]
    if note.articulations & _ACCENTED:
        place -= 0.06
    if note.articulations & _STOPPED:
        place += 0.05
    return min(0.75, max(0.25, place))


def _starts_unit(note: Note, pin: Pin | None) -> bool:
    if pin is not None and pin.join is not None:
        return pin.join is not Join.SLUR
    return not note.slurred


def _spans(notes: Sequence[Note], choices: Choices) -> list[tuple[int, int]]:
    spans: list[tuple[int, int]] = []
    joined = False
    for k, note in enumerate(notes):
        if note.pizzicato:
            joined = False
            continue
        if joined and not _starts_unit(note, choices.pins.get(note.id)):
            spans[-1] = (spans[-1][0], k)
        else:
            spans.append((k, k))
        joined = True
    return spans


def build_units(notes: Sequence[Note], choices: Choices) -> list[Unit]:
    """The units of a part, in order, with what each would like."""
    player = choices.player.on(choices.instrument)
    usable = player.usable_to - player.usable_from
    hairpins = hairpins_of(notes)
    units: list[Unit] = []
    for first, last in _spans(notes, choices):
        members = notes[first : last + 1]
        amounts = 0.0
        moving_s = 0.0
        for k, note in enumerate(members):
            stop_after = k + 1 < len(members) and stops_inside(members[k + 1], note)
            share = moving_share(note, stop_after)
            gain = level_gain(note, hairpins.get(note.in_hairpin))
            amounts += ideal_amount(note, share, gain, player, choices.bow.hair_mm)
            moving_s += note.duration_s * share
        head = members[0]
        before = notes[first - 1] if units else None
        units.append(
            Unit(
                index=len(units),
                first=first,
                last=last,
                duration_s=members[-1].end_s - head.onset_s,
                moving_s=moving_s,
                ideal_length=min(amounts, usable),
                ideal_place=ideal_place(head, choices.instrument),
                metric_weight=head.metric_weight,
                free_s=_free_s(notes, units, first),
                short_after_long=before is not None and _hooks_easily(before, head, last > first),
                mark=next((n.mark for n in members if n.mark is not None), None),
                pin=_pin_of(members, choices),
            )
        )
    return units


def _free_s(notes: Sequence[Note], units: Sequence[Unit], first: int) -> float:
    """Seconds in which the bow may be in the air before a unit."""
    if not units:
        return 0.0
    last = notes[units[-1].last]
    return notes[first].onset_s - last.end_s + (STOLEN_S if last.phrase_end else 0.0)


def _hooks_easily(before: Note, note: Note, several: bool) -> bool:
    """A short note right after one at least twice as long, inside a beat: the hooked pair."""
    return (
        not several
        and note.gap_before_s == 0
        and note.duration_q * 2 <= before.duration_q
        and note.duration_s <= 0.51 * note.beat_s
    )


def _pin_of(members: Sequence[Note], choices: Choices) -> Pin:
    """The pin of a unit: its first note's, and a direction pinned anywhere inside."""
    head = choices.pins.get(members[0].id, Pin())
    direction = head.direction
    for note in members[1:]:
        inner = choices.pins.get(note.id)
        if direction is None and inner is not None:
            direction = inner.direction
    join = head.join if head.join in (Join.TURN, Join.HOOK, Join.RETAKE) else None
    return Pin(direction, join, head.start_cell, head.length_cells)
