"""What a plan does, to be kept with it (see `document.kept_bows`)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from plectrum.core.document.choices import Join, Kept, Pin
from plectrum.core.document.document import Document
from plectrum.core.planning.strokes.planned import DIRECTIONS, JOINS, PlannedPart

PLANNER = 16  # raised where plans are meant to change, so that kept ones are held


def bows_of(plan: PlannedPart) -> dict[str, Pin]:
    """What every bow of a plan does, and on which string and finger each note lies, as pins."""
    heads = {unit.first: i for i, unit in enumerate(plan.units)}
    found = {}
    for planned in plan.notes:
        if planned is None:
            continue
        note = planned.note
        grip = plan.fingered[note.index].grip
        string, finger = (None, None) if grip is None else (grip.main.string, grip.main.finger)
        if note.index not in heads:
            join = Join.SLUR if planned.join is Join.SLUR else None
            found[note.id] = Pin(join=join, string=string, finger=finger)
            continue
        index = heads[note.index]
        step = plan.steps[index]
        found[note.id] = Pin(
            DIRECTIONS[step.direction], JOINS[step.join] if index else None,
            step.start, step.length, string, finger,
        )  # fmt: skip
    return found


def kept_with(document: Document, plans: Sequence[PlannedPart]) -> Kept:
    """The plans of a document to be kept with it, by the planner that decided them."""
    before = document.choices.kept
    held = before is not None and before.is_for(document.choices)
    bows = {note_id: pin for plan in plans for note_id, pin in bows_of(plan).items()}
    planner = before.planner if held and before is not None else PLANNER
    return Kept(planner, bows, document.choices.pins, document.settings)


def planned_today(document: Document) -> Document:
    """The document with its kept bows let go."""
    return document.with_choices(replace(document.choices, kept=None))
