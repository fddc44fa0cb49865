"""Dynamics that cannot be made with the bow a plan gives, and the bow that would make them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from plectrum.core.planning import rules
from plectrum.core.planning.plan import Plan


@dataclass(frozen=True, slots=True)
class OutOfReach:
    """One note whose level the allowed lanes cannot give at its speed.

    Attributes:
        missing_db: positive where it comes out too soft, negative where too loud.
        length_mm: the bow that would make it in the lane it has.
    """

    note: int
    missing_db: float
    length_mm: float


def out_of_reach(plan: Plan) -> list[OutOfReach]:
    """Every note that comes out clearly too soft or too loud with all that bow, lane and weight
    give."""
    contact = plan.contact
    missing = contact.left_over_db
    found = []
    for k in np.flatnonzero((missing > rules.REACH_DB) | (missing < -rules.TOO_LOUD_DB)):
        index = int(contact.notes[k])
        planned = plan.notes[index]
        if planned is None:
            continue
        missing_db = float(missing[k])
        found.append(
            OutOfReach(
                index,
                missing_db,
                planned.length_mm * 10 ** (missing_db / 20),
            )
        )
    return found
