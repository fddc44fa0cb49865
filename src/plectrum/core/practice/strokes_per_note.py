"""A part made easier to practise: the same notes with one stroke each, or with two.

In the order of the trade a passage is bowed with two strokes a note, then with one, before its
slurs and hooks (common practice). A study is a part like any other: it is planned, played and
drawn in the same way.
"""

from __future__ import annotations

from dataclasses import replace
from enum import StrEnum
from functools import lru_cache

from plectrum.core.document.choices import Pin
from plectrum.core.planning.plan import Plan, make_plan
from plectrum.core.player.school import DirectionSchool
from plectrum.core.score.model import Articulation, Note, Part
from plectrum.core.wording import tr

# Signs that ask for a stop or a lift; a study of plain strokes leaves them out.
STOPPING = frozenset(
    {Articulation.STACCATO, Articulation.STACCATISSIMO, Articulation.SPICCATO,
     Articulation.RICOCHET, Articulation.PORTATO}
)  # fmt: skip

SECOND = "+"  # after the id of a note: its second half


class Strokes(StrEnum):
    """How many strokes a note gets."""

    WRITTEN = tr("as planned")
    ONE = tr("one a note")
    TWO = tr("two a note")


def study_plan(plan: Plan, strokes: Strokes) -> Plan:
    """A plan for the study of a plan's part: strokes in turn down and up, the notes on the
    strings and with the fingers that the plan has."""
    if strokes is Strokes.WRITTEN or not plan.notes:
        return plan
    part = study(plan.part, strokes)
    own, pins = plan.choices, {}
    for note, fingered in zip(plan.part.notes, plan.fingered, strict=True):
        lane = own.pins[note.id].lane if note.id in own.pins else None
        main = fingered.grip.main if fingered.grip is not None else None
        pin = Pin(
            string=main.string if main else None, finger=main.finger if main else None, lane=lane
        )
        pins[note.id] = pins[f"{note.id}{SECOND}"] = pin
    school = replace(own.school, direction=DirectionSchool.FLOW)
    player = replace(own.player, can_hook=False)
    choices = replace(own, tempo_bpm=None, school=school, player=player, pins={})
    return make_plan(part, choices.with_pins(pins))


@lru_cache(maxsize=8)
def study(part: Part, strokes: Strokes) -> Part:
    """The part with so many strokes a note; kept, so that plans of it can be kept too."""
    if strokes is Strokes.ONE:
        return replace(part, notes=tuple(_plain(note) for note in part.notes))
    if strokes is Strokes.TWO:
        return replace(part, notes=_doubled(part))
    return part


def _plain(note: Note) -> Note:
    kept = note.articulations - STOPPING
    return note._replace(slurred=False, mark=None, articulations=kept)


def _doubled(part: Part) -> tuple[Note, ...]:
    """Every bowed note as two of half its length; grace notes and plucked ones stay single.

    The second half has the id of its note and `SECOND`, so that both are found on the staff.
    """
    notes: list[Note] = []
    for note in part.notes:
        plain = _plain(note)
        if note.pizzicato or note.grace or note.duration_q == 0:
            notes.append(plain._replace(index=len(notes)))
            continue
        half_q, half_s = note.duration_q / 2, note.duration_s / 2
        bar = part.bars[note.bar_index]
        notes.append(
            plain._replace(index=len(notes), duration_q=half_q, duration_s=half_s, phrase_end=False)
        )
        notes.append(
            plain._replace(
                index=len(notes),
                id=f"{note.id}{SECOND}",
                onset_q=note.onset_q + half_q,
                onset_s=note.onset_s + half_s,
                duration_q=half_q,
                duration_s=half_s,
                beat=note.beat + half_q / bar.metre.beat_q,
                metric_weight=-1.0,
                gap_before_s=0.0,
            )
        )
    return tuple(notes)
