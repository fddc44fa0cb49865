"""What the sound asks of the strokes: contact and weight, fed back once.

Where contact and weight cannot make up for a stroke that is too slow or too quick for its
dynamic, its note wishes for so much more or less bow, and the strokes are solved again; the
better of the two plans says which wishes hold. Pins take no part in it: a pin never changes
what notes far from it wish for.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from plectrum.core.document.choices import Choices
from plectrum.core.planning import rules
from plectrum.core.planning.contact.contact import Contact, contact_of
from plectrum.core.planning.fingering.grips import Fingered
from plectrum.core.planning.strokes.amounts import amounts_of
from plectrum.core.planning.strokes.planned import PlannedPart, planned_notes
from plectrum.core.planning.strokes.solving import solve_strokes
from plectrum.core.planning.strokes.units import build_units
from plectrum.core.player.school import AmountSchool
from plectrum.core.score.model import Part

NOTHING: Mapping[int, float] = {}


def fed_back(part: Part, choices: Choices, fingered: tuple[Fingered, ...]) -> Mapping[int, float]:
    """How much more or less bow notes wish for than by themselves: note index to times.

    Nothing where the school fixes the length by the note value.
    """
    if choices.school.amount is AmountSchool.VALUES:
        return NOTHING
    kept = amounts_of(part, choices).kept(fingered)
    key = "fed", choices.bowing, choices.slur_amount
    if key not in kept:
        kept[key] = _fed_back(part, replace(choices, pins={}), fingered)
    found: Mapping[int, float] = kept[key]
    return found


def _fed_back(part: Part, choices: Choices, fingered: tuple[Fingered, ...]) -> Mapping[int, float]:
    plain, contact = _tried(part, choices, fingered, NOTHING)
    off = np.flatnonzero(np.abs(contact.left_over_db) > rules.FED_FROM_DB)
    times = 10.0 ** (contact.left_over_db[off] / 20)
    fed = dict(zip(contact.notes[off].tolist(), times.tolist(), strict=True))
    if not fed:
        return NOTHING
    other, its_contact = _tried(part, choices, fingered, fed)
    return (
        fed if other + _loudness(its_contact, part) < plain + _loudness(contact, part) else NOTHING
    )


def _tried(
    part: Part, choices: Choices, fingered: tuple[Fingered, ...], fed: Mapping[int, float]
) -> tuple[float, Contact]:
    """What the strokes cost under some wishes, the lengths left out, and the contact with them."""
    units = build_units(part, choices, fingered, fed)
    tables, solution = solve_strokes(part, choices, fingered, units, {})
    bows = tables.units_of(solution.bows)
    notes = planned_notes(part, choices, fingered, bows, solution.steps)
    plan = PlannedPart(part, choices, fingered, bows, solution.steps, notes)
    amount = sum(tables.stroke_terms(i, step)["amount"] for i, step in solution.bows.items())
    return (solution.total - amount) / rules.MILLIONTHS, contact_of(plan)


def _loudness(contact: Contact, part: Part) -> float:
    """What all that is too loud or too soft costs."""
    seconds = np.array([part.notes[i].duration_s for i in contact.notes])
    return float((seconds * rules.LOUD * (contact.left_over_db / 4) ** 2).sum())
