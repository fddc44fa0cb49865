"""The bow rhythm of one bar on each pitch of a passage, and rhythms in words."""

from __future__ import annotations

from collections.abc import Sequence

from plectrum.core.document.choices import Join
from plectrum.core.planning.plan import Plan
from plectrum.core.score.model import Note
from plectrum.core.wording import tr

MOST_PITCHES = 6  # so many pitches of a passage take its rhythm (own default)
LEAST_NOTES = 2
QUICK_BEATS, WALKING_BEATS, LONG_BEATS = 0.7, 1.3, 2.6  # up to so many beats (own defaults)


def rhythm_word(note: Note) -> str:
    """How long a note is, as it is said: "quick", "walk", "long"."""
    beats = note.duration_s / note.beat_s
    if beats <= QUICK_BEATS:
        return tr("quick", "rhythm")
    if beats <= WALKING_BEATS:
        return tr("walk", "rhythm")
    return tr("long", "rhythm") if beats <= LONG_BEATS else tr("very long", "rhythm")


def rhythm_bar(plan: Plan, first: int, last: int) -> list[Note]:
    """The notes of the bar with the most telling bow rhythm in a run of notes: one with notes of
    different lengths, or slurs or hooks. None where every bar is plain."""
    bars: dict[int, list[Note]] = {}
    for note in plan.part.notes[first : last + 1]:
        if not note.grace and plan.notes[note.index] is not None:
            bars.setdefault(note.bar_index, []).append(note)
    telling = [(_tells(plan, notes), -bar) for bar, notes in bars.items()]
    most, bar = max(telling, default=(0, 0))
    return bars[-bar] if most > 0 else []


def _tells(plan: Plan, notes: Sequence[Note]) -> int:
    """How much there is to learn of a bar's rhythm."""
    if len(notes) < LEAST_NOTES or notes[0].slurred:
        return 0
    joins = {p.join for n in notes[1:] if (p := plan.notes[n.index]) is not None}
    special = len(joins & {Join.SLUR, Join.HOOK, Join.RETAKE})
    return len({n.duration_q for n in notes}) - 1 + special


def pitches_of(plan: Plan, first: int, last: int) -> list[Note]:
    """A note for each pitch of a run, in the order in which they come."""
    found: dict[object, Note] = {}
    for note in plan.part.notes[first : last + 1]:
        if plan.fingered[note.index].grip is not None and not note.pizzicato:
            found.setdefault(note.pitches, note)
    return list(found.values())[:MOST_PITCHES]
