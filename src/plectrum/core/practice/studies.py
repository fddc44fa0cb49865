"""A passage written out for one step of its practice: on open strings, plucked, with stops …

A study is a score like any other: it is engraved, planned, shown and handed on in the same way.
The rhythm of the passage is kept (two strokes a note halve it), the strings are those planned,
and where it is bowed, the bowing of the plan is pinned in it.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from plectrum.core.document.choices import Join, Pin
from plectrum.core.document.document import Document
from plectrum.core.errors import ScoreError
from plectrum.core.planning.plan import Plan
from plectrum.core.planning.strokes.planned import PlannedNote
from plectrum.core.playing.practice_tempo import at_tempo
from plectrum.core.practice.growing_study import growing
from plectrum.core.practice.passage import Passage, Study, keys_by_bar
from plectrum.core.practice.rhythm_study import pitches_of, rhythm_bar
from plectrum.core.practice.second_part import second_part
from plectrum.core.practice.strokes_per_note import SECOND, study_plan
from plectrum.core.practice.study_kinds import SAME_WAY, STROKES, StudyKind
from plectrum.core.score.model import Note
from plectrum.core.score.writing.sheet import SheetBar, SheetPart
from plectrum.core.wording import tr


def make_study(
    document: Document,
    plan: Plan,
    kind: StudyKind,
    first_note: int,
    last_note: int,
    ratio: float = 1.0,
) -> Study:
    """Write a study of a run of notes.

    Args:
        plan: of the document.
        first_note, last_note: by index.
        ratio: of the plan's tempo; a plan that cannot be drawn so slowly is planned anew.

    Raises:
        ScoreError: the passage has no notes, or nothing for such a study.
    """
    practised = at_tempo(plan, ratio)
    base = practised.plan
    if kind in STROKES:
        base = study_plan(base, STROKES[kind])
    ids = plan.part.notes[first_note].id, plan.part.notes[last_note].id
    source = Passage(document, base, kind, _run(base, *ids), practised.ratio)
    if kind in SAME_WAY:
        return growing(source)
    if kind is StudyKind.RHYTHM:
        return _on_each_pitch(source)
    if kind is StudyKind.STOPS and not any(_goes_on(p) for p in source.planned):
        raise ScoreError(
            tr("there is no slur in these bars to play with stops"), remedy=tr("Choose others")
        )
    notes = [source.write(note) for note in source.notes]
    if kind is StudyKind.PLUCK:
        notes[0] = replace(notes[0], words="pizz.")
    parts = [source.part(notes)]
    if kind is StudyKind.SECOND:
        parts.append(second_part(source))
    return source.study(parts, source.pins())


def _run(plan: Plan, first_id: str, last_id: str) -> Sequence[Note]:
    """The notes from one to another, with the second half of the last where they are two."""
    places = {note.id: note.index for note in plan.part.notes}
    last = places.get(f"{last_id}{SECOND}", places[last_id])
    return plan.part.notes[places[first_id] : last + 1]


def _goes_on(planned: PlannedNote | None) -> bool:
    return planned is not None and planned.join is Join.SLUR


def _on_each_pitch(source: Passage) -> Study:
    """The bows of one bar, each time on another pitch of the passage."""
    plan, first, last = source.plan, source.notes[0].index, source.notes[-1].index
    pattern, pitches = rhythm_bar(plan, first, last), pitches_of(plan, first, last)
    if not pattern or not pitches:
        raise ScoreError(tr("these bars have no bow rhythm to learn"), remedy=tr("Choose others"))
    bar = plan.part.bars[pattern[0].bar_index]
    notes, pins = [], {}
    for k, target in enumerate(pitches):
        main = plan.fingered[target.index].grip.main  # type: ignore[union-attr]
        for note in pattern:
            planned = plan.notes[note.index]
            written = source.write(note)
            made_id = f"{k}-{written.id}"
            notes.append(
                replace(
                    written, id=made_id, pitches=target.pitches,
                    onset_q=note.onset_q - bar.onset_q + k * bar.duration_q,
                    mark=planned.direction if planned and note is pattern[0] else None,
                    finger=str(main.finger), lyric="",
                )
            )  # fmt: skip
            pin = Pin(string=main.string, finger=main.finger)
            if planned is not None:
                inside = note is not pattern[0] and planned.join is not Join.SLUR
                join = planned.join if inside else None
                pin = replace(pin, direction=planned.direction, join=join)
            pins[made_id] = pin
    keys = keys_by_bar(source.document.score, source.document.part_id)
    bars = tuple(
        SheetBar(k + 1, bar.metre, bar.duration_q, keys[bar.index]) for k in range(len(pitches))
    )
    part = SheetPart(plan.part.name, source.instrument, bars, tuple(notes))
    return source.study([part], pins)
