"""My bowing: what a teacher's kept plans have taught the planner, as a value and as a file."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class OwnBowing:
    """What directions and hooks are worth to one teacher, in place of the shipped numbers.

    Attributes:
        worths: (row of the rule table, cost) in order of the names.
        plans_n, marks_n: what they were learnt from: plans, and pinned bows in them.
    """

    worths: tuple[tuple[str, float], ...]
    plans_n: int
    marks_n: int

    def over(self, shipped: Mapping[str, float]) -> dict[str, float]:
        """The shipped numbers with the teacher's in their place; unknown names are left out."""
        own = dict(self.worths)
        return {name: own.get(name, worth) for name, worth in shipped.items()}
