"""Dynamics that cannot be made with the bow a plan gives, with the remedy computed."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from plectrum.core.planning import rules
from plectrum.core.planning.contact import lane_centre_mm, reference_ratio
from plectrum.core.planning.plan import Plan
from plectrum.core.planning.strokes.amounts import string_gain


@dataclass(frozen=True, slots=True)
class OutOfReach:
    """One note whose level the allowed lanes cannot give at its speed.

    Attributes:
        missing_db: positive where it comes out too soft, negative where too loud.
        length_mm: the bow that would make it in the lane it has.
        lane: the lane that would make it with the bow it has, None if no lane would.
    """

    note: int
    missing_db: float
    length_mm: float
    moving_s: float
    lane: int | None


def out_of_reach(plan: Plan) -> list[OutOfReach]:
    """Every note more than 3 dB too soft, or 6 dB too loud, for its bow (own defaults)."""
    contact = plan.contact
    own = plan.instrument
    per_mm = reference_ratio(plan)
    found = []
    too_far = (contact.left_over_db > rules.REACH_DB) | (contact.left_over_db < -rules.TOO_LOUD_DB)
    for k in np.flatnonzero(too_far):
        index = int(contact.notes[k])
        planned = plan.notes[index]
        if planned is None:
            continue
        missing_db = float(contact.left_over_db[k])
        ratio = 10 ** (missing_db / 20)
        lanes = lane_centre_mm(own, np.arange(1.0, 6.0))
        gain = string_gain(own, plan.fingered[index].strings)
        given_db = 20 * np.log10(float(contact.speed_m_s[k]) / (lanes * per_mm * gain))
        gap = np.abs(planned.note.level_db - given_db)
        best = int(gap.argmin())
        found.append(
            OutOfReach(
                index,
                missing_db,
                planned.length_mm * ratio,
                planned.moving_s,
                best + 1 if gap[best] <= rules.REACH_DB else None,
            )
        )
    return found
