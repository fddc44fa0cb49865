"""One thing that a plan says should be looked at."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from plectrum.core.score.model import Note
from plectrum.core.wording import sentence_like, several


class Severity(StrEnum):
    """How much a warning matters."""

    NOTE = "note"
    CAUTION = "caution"
    PROBLEM = "problem"


@dataclass(frozen=True, slots=True)
class PlanWarning:
    """One thing to look at. `note` is an index, None for the whole piece; where one thing is said
    of several, `notes`, it is the one where it is worst."""

    code: str
    severity: Severity
    bar: int | None
    note: int | None
    text: str
    remedy: str
    notes: tuple[int, ...] = ()

    def is_about(self, note: int) -> bool:
        """Whether it speaks of a note."""
        return note == self.note or note in self.notes


def at(note: Note, code: str, severity: Severity, text: str, remedy: str) -> PlanWarning:
    """A warning about a note, its place said first."""
    place = sentence_like(note.place)
    return PlanWarning(code, severity, note.bar, note.index, f"{place}: {text}", remedy)


def and_others(count: int, *, slurs: bool = False) -> str:
    """Of how many more the same is true; empty if it is one alone."""
    more = count - 1
    if not more:
        return ""
    return (
        several(" (and {n} more slur)", " (and {n} more slurs)", more)
        if slurs
        else several(" (and {n} more note)", " (and {n} more notes)", more)
    )
