"""One tune for a class: a part for each student, in the range of his instrument.

The key stays, so that all can play at once; the tune moves by octaves, and single notes that a
student cannot reach even then go up or down another (common practice).
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from lxml import etree

from plectrum.core.document.choices import Pin
from plectrum.core.document.document import Document
from plectrum.core.document.seats import Seat
from plectrum.core.errors import ChoiceError
from plectrum.core.instrument.specification import instrument
from plectrum.core.planning.fingering.grips import fingers_for
from plectrum.core.score.scorefile import read_part
from plectrum.core.score.writing.elements import pitch_of, set_pitch
from plectrum.core.score.writing.part_copies import Copy, copies_of
from plectrum.core.wording import say, tr

MOST_STUDENTS = 24
OCTAVES = (0, -1, 1, -2, 2, -3, 3)  # nearest first, down before up


@dataclass(frozen=True, slots=True)
class Student:
    """One of a class: what the part is called, and who plays it."""

    name: str
    seat: Seat


def class_document(document: Document, students: Sequence[Student]) -> Document:
    """A document of the open tune with a part for each student, planned together.

    What the teacher has pinned of bows and places is pinned in every part.

    Raises:
        ChoiceError: no student, or too many.
    """
    if not 1 <= len(students) <= MOST_STUDENTS:
        raise ChoiceError(
            say(
                "a class has 1 to {most_students} students, not {count}",
                most_students=MOST_STUDENTS,
                count=len(students),
            ),
            remedy=tr("Choose who plays"),
        )
    names = _part_names(students)
    copies = [
        Copy(name, f"-{k}", s.seat.bow.instrument, _moved_for(document, s.seat))
        for k, (name, s) in enumerate(zip(names, students, strict=True), start=1)
    ]
    title = document.title
    score = replace(copies_of(document.score, document.part_id, copies, title), title=title)
    first = students[0].seat
    choices = replace(
        document.choices,
        instrument=first.bow.instrument, bow=first.bow, player=first.player,
        pins=_pins(document, len(students)),
    )  # fmt: skip
    return Document(
        score,
        "P1",
        choices,
        read_part(score, "P1", first.bow.instrument),
        homework=document.homework,
        together=len(students) > 1,
        seats={f"P{k}": s.seat for k, s in enumerate(students[1:], start=2)},
    )


def _part_names(students: Sequence[Student]) -> list[str]:
    """The students' names with their instruments; the same twice is numbered."""
    plain = [
        s.name if s.seat.bow.instrument in s.name.lower() else f"{s.name}, {s.seat.bow.instrument}"
        for s in students
    ]
    return [
        name if plain.count(name) == 1 else f"{name} {plain[: k + 1].count(name)}"
        for k, name in enumerate(plain)
    ]


def _pins(document: Document, students_n: int) -> dict[str, Pin]:
    own = {note.id for note in document.part.notes}
    return {
        f"{note_id}-{k}": replace(pin, string=None, finger=None)
        for note_id, pin in document.choices.pins.items()
        if note_id in own
        for k in range(1, students_n + 1)
        if not replace(pin, string=None, finger=None).is_empty
    }


def _moved_for(document: Document, seat: Seat) -> Callable[[etree._Element], None]:
    """What moves a copy of the tune into a student's range."""
    sounding = [p.midi for note in document.part.notes for p in note.pitches]
    pitches = (p for n in document.part.notes for p in n.pitches)
    below = next((p.transpose_semitones for p in pitches), 0)
    name = seat.bow.instrument
    above = instrument(name).written_above_semitones
    octave = octave_for(sounding, seat)

    def change(part: etree._Element) -> None:
        for note in part.iter("note"):
            pitch = pitch_of(note)
            if pitch is None:
                continue
            sound = pitch.midi + below
            moved = sound + 12 * (octave + octave_for([sound + 12 * octave], seat))
            set_pitch(
                note, replace(pitch, octave=pitch.octave + (moved + above - pitch.midi) // 12)
            )

    return change


def octave_for(midis: Sequence[int], seat: Seat) -> int:
    """By how many octaves some sounding pitches move, so that a player reaches most of them."""
    return max(OCTAVES, key=lambda o: (sum(reaches(m + 12 * o, seat) for m in midis), -abs(o)))


def reaches(midi: int, seat: Seat) -> bool:
    """Whether a player has a learnt finger on a learnt string for a sounding pitch."""
    own = instrument(seat.bow.instrument, seat.bow.size)
    player = seat.player.on(own)
    return any(
        player.knows_finger(f.finger, own) and player.knows_string(f.string)
        for f in fingers_for(own.name, midi, player.positions)
    )
