"""The other parts of a score for string instruments, planned for the same player."""

from __future__ import annotations

from plectrum.core.document.document import Document
from plectrum.core.errors import PlectrumError
from plectrum.core.planning.plan import Plan, plan_of


def other_parts(document: Document) -> list[tuple[str, str]]:
    """Key and name of each other part that has notes and is for a string instrument."""
    return [
        (p.id, p.name)
        for p in document.score.parts
        if p.notes_n and p.instrument is not None and p.id != document.part_id
    ]


def plans_beside(document: Document) -> tuple[Plan, ...]:
    """The plans of the other parts; one that cannot be planned is left out."""
    found = []
    for part_id, _ in other_parts(document):
        try:
            found.append(plan_of(document.with_part(part_id)))
        except PlectrumError:
            continue
    return tuple(found)
