"""What the sound asks of the strokes: contact and weight, fed back once.

Where contact and weight cannot make up for a stroke that is too slow or too quick for its
dynamic, its note wishes for so much more or less bow, and the strokes are solved again; the
better of the two plans says which wishes hold. Pins take no part in it: a pin never changes
what notes far from it wish for.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from plectrum.core.document.choices import Choices
from plectrum.core.planning import rules
from plectrum.core.planning.contact.contact import Contact, contact_of
from plectrum.core.planning.fingering.grips import Fingered
from plectrum.core.planning.strokes.kept import kept_of
from plectrum.core.planning.strokes.planned import PlannedPart
from plectrum.core.planning.strokes.solving import HeldWays, Solved, hold_ways, solve_strokes
from plectrum.core.planning.strokes.units import NOT_FED
from plectrum.core.player.school import AmountSchool
from plectrum.core.score.model import Part, note_table


@dataclass(frozen=True)
class Tried:
    """The strokes of a part under some wishes, with contact and weight.

    Attributes:
        fed: how much more or less bow notes wish for than by themselves: note index to times.
    """

    fed: Mapping[int, float]
    solved: Solved
    planned: PlannedPart
    contact: Contact

    @property
    def loudness(self) -> float:
        """What all that is too loud or too soft costs."""
        seconds = np.array(note_table(self.planned.part)["duration_s"])[self.contact.notes]
        return float((seconds * rules.LOUD * (self.contact.left_over_db / 4) ** 2).sum())

    @property
    def cost(self) -> float:
        """What strokes and loudness cost together; lengths count by what they sound like."""
        amount = self.solved.tables.amount_of(self.solved.rows)
        return (self.solved.solution.total - amount) / rules.MILLIONTHS + self.loudness


def unpinned(part: Part, choices: Choices, fingered: tuple[Fingered, ...]) -> Tried:
    """The plan of a part without pins, its wishes fed back; kept, because pins do not change it."""
    return kept_of(part, choices, fingered).few(
        "unpinned",
        (choices.bowing, choices.slur_amount),
        lambda: _unpinned(part, replace(choices, pins={}), fingered),
    )


def _unpinned(part: Part, choices: Choices, fingered: tuple[Fingered, ...]) -> Tried:
    held = hold_ways(part, choices, fingered, {})
    plain = _tried(part, choices, fingered, held, NOT_FED)
    if choices.school.amount is AmountSchool.VALUES:  # that school fixes lengths by the note value
        return plain
    contact = plain.contact
    off = np.flatnonzero(np.abs(contact.left_over_db) > rules.FED_FROM_DB)
    times = 10.0 ** (contact.left_over_db[off] / 20)
    fed = dict(zip(contact.notes[off].tolist(), times.tolist(), strict=True))
    if not fed:
        return plain
    other = _tried(part, choices, fingered, held, fed)
    better = other.loudness < plain.loudness and other.cost < plain.cost
    return other if better else plain


def _tried(
    part: Part,
    choices: Choices,
    fingered: tuple[Fingered, ...],
    held: HeldWays,
    fed: Mapping[int, float],
) -> Tried:
    solved = solve_strokes(part, choices, fingered, held, fed)
    planned = PlannedPart(part, choices, fingered, solved.units, solved.rows, solved.notes)
    return Tried(fed, solved, planned, contact_of(planned))
