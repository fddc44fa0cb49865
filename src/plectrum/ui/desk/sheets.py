"""Pages of exercises and routines to be handed out: one for each player."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from plectrum.core.practice.exercises.routine import Planned, Routine


@dataclass(frozen=True)
class PlayerSheet:
    """What is on one player's page.

    Attributes:
        name: whose it is; empty for nobody in particular.
    """

    name: str
    items: tuple[Planned, ...]
    days: tuple[date, ...]


@dataclass(frozen=True)
class Sheets:
    """A routine, or an exercise as a routine of its own, for one player or a class."""

    routine: Routine
    players: tuple[PlayerSheet, ...]

    @property
    def title(self) -> str:
        return self.routine.title
