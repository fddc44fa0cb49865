"""A study or an exercise that visits the Show screen."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from fractions import Fraction

    from plectrum.core.document.document import Document
    from plectrum.core.planning.plan import Plan
    from plectrum.core.playing.performance import Kind
    from plectrum.core.practice.exercises.play import ExercisePlay


@dataclass(frozen=True)
class Guest:
    """A study that is shown in place of the piece, as a tune with its plan.

    Attributes:
        echoes: from where to where, in quarters, the student answers what was called.
    """

    title: str
    document: Document
    plan: Plan
    kind: Kind
    echoes: tuple[tuple[Fraction, Fraction], ...] = ()


@dataclass(frozen=True)
class ExerciseGuest:
    """An exercise that is shown in place of the piece, with everything that moves in it."""

    title: str
    play: ExercisePlay
