"""The part that another plays to a passage."""

from __future__ import annotations

from itertools import pairwise

from plectrum.core.document.document import Document
from plectrum.core.errors import ScoreError
from plectrum.core.practice.passage import SAID_DYNAMICS, Passage, keys_by_bar, sheet_bars
from plectrum.core.score.scorefile import read_part
from plectrum.core.score.writing.sheet import SheetNote, SheetPart
from plectrum.core.wording import tr


def second_part_id(document: Document) -> str | None:
    """Another part for a string instrument that sounds with the one that is open."""
    others = [p for p in document.score.parts if p.id != document.part_id and p.notes_n]
    return next((p.id for p in others if p.instrument is not None), None)


def second_part(source: Passage) -> SheetPart:
    part_id = second_part_id(source.document)
    if part_id is None:
        raise ScoreError(tr("there is no second part for a string instrument in this score"))
    part = read_part(source.document.score, part_id)
    keys = keys_by_bar(source.document.score, part_id)
    last = min(source.last_bar, len(part.bars) - 1)
    notes = [
        n for n in part.notes if n.onset_q >= source.from_q and n.bar_index <= last and not n.grace
    ]
    ends = {a.index for a, b in pairwise(notes) if a.slurred and not b.slurred}
    starts = {a.index for a, b in pairwise(notes) if b.slurred and not a.slurred}
    if notes and notes[-1].slurred and len(notes) > 1:
        ends.add(notes[-1].index)
    if notes and notes[0].slurred:
        starts -= {notes[0].index}
        ends -= {notes[0].index}
    return SheetPart(
        part.name,
        part.instrument or "violin",
        sheet_bars(part, keys, source.from_q, last),
        tuple(
            SheetNote(
                f"second-{n.id}",
                n.onset_q - source.from_q,
                n.duration_q,
                n.pitches,
                mark=n.mark,
                slur_starts=n.index in starts,
                slur_stops=n.index in ends,
                articulations=n.articulations,
                dynamic=n.dynamic if n.dynamic in SAID_DYNAMICS else "",
            )
            for n in notes
        ),
    )
