"""Schools: questions on which teachers disagree. All are supported; the teacher chooses."""

from __future__ import annotations

from dataclasses import dataclass, fields
from enum import StrEnum


class DirectionSchool(StrEnum):
    """What decides the direction of the bow."""

    DOWNBEAT = "downbeat"
    FLOW = "flow"
    TRAVEL = "travel"

    @property
    def sentence(self) -> str:
        return {
            DirectionSchool.DOWNBEAT: "strong beats down, with hooks and lifts to get there",
            DirectionSchool.FLOW: "as it comes: down and up alternate, few hooks",
            DirectionSchool.TRAVEL: "whatever keeps the bow in a good place",
        }[self]


class AmountSchool(StrEnum):
    """What decides how much bow a note gets."""

    STEADY = "steady"
    VALUES = "values"
    MIDDLE = "middle"
    FROG = "frog"


class DottedSchool(StrEnum):
    """How a short note after a long one is played."""

    HOOK = "hook"
    SEPARATE = "separate"
    LIFT = "lift"


class DynamicsSchool(StrEnum):
    """Whether the contact point moves with the dynamic."""

    AMOUNT = "amount"
    LANES = "lanes"


class CrossingSchool(StrEnum):
    """Whether the bow stands still while the arm changes level."""

    STILL = "still"
    ROLLING = "rolling"


class FourthSchool(StrEnum):
    """Fourth finger or open string."""

    CONTOUR = "contour"
    OPEN = "open"
    STOPPED = "stopped"


@dataclass(frozen=True, slots=True)
class School:
    """The choices of one plan."""

    direction: DirectionSchool = DirectionSchool.DOWNBEAT
    amount: AmountSchool = AmountSchool.STEADY
    dotted: DottedSchool = DottedSchool.HOOK
    dynamics: DynamicsSchool = DynamicsSchool.LANES
    crossing: CrossingSchool = CrossingSchool.ROLLING
    fourth: FourthSchool = FourthSchool.CONTOUR

    def as_dict(self) -> dict[str, str]:
        """Question to answer, as plain words."""
        return {f.name: str(getattr(self, f.name)) for f in fields(self)}
