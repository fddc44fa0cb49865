"""Schools: questions on which teachers disagree. All are supported; the teacher chooses."""

from __future__ import annotations

from dataclasses import dataclass
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


@dataclass(frozen=True, slots=True)
class School:
    """The choices of one plan."""

    direction: DirectionSchool = DirectionSchool.DOWNBEAT
