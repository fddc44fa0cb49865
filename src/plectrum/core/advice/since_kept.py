"""What the planner of today would do otherwise than a plan that was kept, bow by bow."""

from __future__ import annotations

from plectrum.core.advice.comparison import is_noticed
from plectrum.core.document.document import Document
from plectrum.core.document.kept_bows import held_bows
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.planning.kept_plan import planned_today
from plectrum.core.planning.plan import Plan
from plectrum.core.planning.strokes.planned import PlannedNote
from plectrum.core.wording import in_words, say, several


def otherwise_today(document: Document, plan: Plan) -> list[tuple[PlannedNote, PlannedNote]]:
    """Each bow as it was kept, and as it would be planned today, where a teacher would call them
    different; nothing where no kept plan is held."""
    if not held_bows(plan.part, document.choices):
        return []
    today = plan_of(planned_today(document))
    heads = {unit.first for unit in (*plan.units, *today.units)}
    return [
        (a, b)
        for a, b in zip(plan.notes, today.notes, strict=True)
        if a is not None and b is not None and a.note.index in heads and is_noticed(a, b)
    ]


def in_one_line(bows: list[tuple[PlannedNote, PlannedNote]]) -> str:
    """Such as "7 bows would go otherwise today (bars 3, 5, 6)"; empty where none would."""
    if not bows:
        return ""
    bars = list(dict.fromkeys(str(a.note.bar) for a, _ in bows))
    shown = ", ".join(bars[:8]) + (" …" if len(bars) > 8 else "")
    return several(
        "{n} bow would go otherwise today (bar {bars})",
        "{n} bows would go otherwise today (bars {bars})",
        len(bows),
        bars=shown,
    )


def one_by_one(bows: list[tuple[PlannedNote, PlannedNote]]) -> list[str]:
    """A line a bow: where it is, what it does, and what it would do."""
    return [
        say("{place}: {kept}; today {now}", place=a.note.place, kept=_does(a, b), now=_does(b, a))
        for a, b in bows
    ]


def _does(a: PlannedNote, b: PlannedNote) -> str:
    """What a bow does, as far as it is not what the other does."""
    said = [in_words(str(a.direction))] if a.direction is not b.direction else []
    if a.join is not b.join:
        said.append(in_words(str(a.join)))
    return ", ".join(said) or say("from {start:.2f} to {end:.2f}", start=a.start, end=a.end)
