"""The bows that are kept with a plan: a plan that was kept stays as it was.

A later planner would decide otherwise here and there. What was given to a student last month must
look as it was given, so the bows of a plan are kept with it, as pins of every note, and hold as
long as nothing else is asked for. Where the teacher pins otherwise, or writes other notes, the bars
about are planned anew and the rest stays; another player, school or tempo asks for another plan.
"""

from __future__ import annotations

from collections.abc import Container, Iterable, Mapping
from dataclasses import fields, replace

from plectrum.core.document.choices import NO_PIN, Choices, Kept, Pin
from plectrum.core.score.model import Note, Part

_ABOUT = 1  # bars on each side of a change that are planned anew (own default)


def as_held(part: Part, choices: Choices) -> Choices:
    """The choices with what holds beside the teacher's pins as pins: the part of the bow that words
    over the staff ask for, and the bows of a kept plan."""
    written = {n.id: Pin(place=n.written_part) for n in part.notes if n.written_part}
    written = {k: pin for k, pin in written.items() if not choices.pins.get(k, NO_PIN).says_where}
    bows = {**written, **held_bows(part, choices)}
    if not bows:
        return choices
    pins = dict(choices.pins)
    for note_id, bow in bows.items():
        own = pins.get(note_id, NO_PIN)
        said = {f.name: v for f in fields(Pin) if (v := getattr(own, f.name)) is not None}
        pins[note_id] = replace(bow, **said)
    return replace(choices, pins=pins)


def held_bows(part: Part, choices: Choices) -> Mapping[str, Pin]:
    """The kept bows that hold: not those about a bar in which other things are pinned now."""
    kept = choices.kept
    if kept is None or not kept.is_for(choices):
        return {}
    own, then = choices.pins, kept.pins
    free = _about(n.bar_index for n in part.notes if own.get(n.id) != then.get(n.id))
    return _outside(part, kept.bows, free)


def _about(bars: Iterable[int]) -> set[int]:
    return {bar + away for bar in bars for away in range(-_ABOUT, _ABOUT + 1)}


def _outside(part: Part, bows: Mapping[str, Pin], bars: Container[int]) -> dict[str, Pin]:
    """The bows of a part outside some bars, by their indexes."""
    return {
        note.id: bows[note.id]
        for note in part.notes
        if note.id in bows and note.bar_index not in bars
    }


def let_go_about(part: Part, choices: Choices, note: int) -> Choices:
    """The choices with the kept bows about a note let go, as they are once something is pinned
    there."""
    kept = choices.kept
    if kept is None:
        return choices
    free = _about([part.notes[note].bar_index])
    return replace(choices, kept=replace(kept, bows=_outside(part, kept.bows, free)))


def still_written(before: Part, after: Part, kept: Kept) -> Kept:
    """What is kept once other notes are written: the bars about them are planned anew."""
    own = {note.id: (_written(note), note.bar_index) for note in before.notes}
    new = {note.id: _written(note) for note in after.notes}
    bars = [n.bar_index for n in after.notes if own.get(n.id, ((), 0))[0] != new[n.id]]
    bars += [bar for note_id, (_, bar) in own.items() if note_id not in new]
    outside = _outside(after, kept.bows, _about(bars))
    others = {k: pin for k, pin in kept.bows.items() if k not in own}
    return replace(kept, bows=others | outside)


def _written(note: Note) -> tuple[object, ...]:
    return note.beat, note.duration_q, note.pitches, note.slurred, note.pizzicato, note.mark
