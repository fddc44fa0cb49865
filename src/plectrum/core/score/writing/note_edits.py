"""Notes put in, taken out, lengthened, moved."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from fractions import Fraction

from lxml import etree

from plectrum.core.score.edit import remove_element
from plectrum.core.score.model import Pitch
from plectrum.core.score.writing.elements import (
    diatonic_step,
    drop,
    element,
    fresh_id,
    new_rest,
    pitch_of,
    put,
    set_pitch,
)
from plectrum.core.score.writing.line import Event
from plectrum.core.score.writing.open_part import OpenPart, last_note
from plectrum.core.score.writing.pitches import spelled
from plectrum.core.score.writing.values import MAX_DOTS, TRIPLET, Value, single_value


class NoteEdits(OpenPart):
    """What changes the notes themselves."""

    def insert(
        self, after: str | None, value: Value, pitch: Pitch | None, *, chord: bool = False
    ) -> str:
        """Put a note, or a rest without a pitch, after a note; what follows moves on.

        Args:
            after: id of the note before; None for the very beginning.
            chord: add the pitch to the note `after` instead.

        Returns:
            The id of the new note.
        """
        line = self._line()
        taken = {n.get("id", "") for n in self.part.iter("note")}
        note = new_rest(fresh_id(taken))
        if pitch is not None:
            set_pitch(note, pitch)
        place = line.end_of(after) if after is not None else -1
        if chord and pitch is not None and place >= 0 and not line.events[place].is_rest:
            note.insert(0, element("chord"))
            for piece in line.events[place].pieces[:1]:
                piece.append(note)
        else:
            event = Event(value.length_q, value.tuplet, [[note]])
            line.events.insert(place + 1, event)
            line.strip_padding(max(place + 1, last_note(line.events)))
        line.flow()
        return note.get("id", "")

    def delete(self, ids: Sequence[str]) -> None:
        """Take notes out; what follows moves up."""
        line = self._line()
        gone = set(ids)
        kept: list[Event] = []
        for event in line.events:
            if not event.ids & gone:
                kept.append(event)
                continue
            if kept:
                kept[-1].trailing += event.leading + event.trailing
        for event in line.events:
            if event.ids & gone:
                self._close_slurs(event)
        line.events = kept
        if kept:
            line.strip_padding(last_note(kept))
        line.flow()

    def _close_slurs(self, event: Event) -> None:
        """A slur that begins or ends at a note about to go goes with it."""
        for note in (n for piece in event.pieces for n in piece):
            for slur in note.findall("notations/slur"):
                other = self._slur_partner(note, slur)
                if other is not None:
                    remove_element(other)

    def set_value(self, ids: Sequence[str], change: Callable[[Value], Value]) -> None:
        """Change how long notes last; what follows moves."""
        line = self._line()
        wanted = set(ids)
        for event in line.events:
            if event.ids & wanted:
                now = single_value(event.length_q, event.tuplet) or Value(Fraction(1))
                value = change(now)
                event.length_q, event.tuplet = value.length_q, value.tuplet
        line.strip_padding(last_note(line.events))
        line.flow()

    def set_base(self, ids: Sequence[str], base_q: Fraction) -> None:
        """Make notes plain halves, quarters and so on; a triplet stays one."""
        self.set_value(ids, lambda v: Value(base_q, 0, v.tuplet))

    def dot(self, ids: Sequence[str]) -> None:
        """One dot more, or none after the last."""
        self.set_value(ids, lambda v: replace(v, dots=(v.dots + 1) % MAX_DOTS))

    def triplet(self, ids: Sequence[str]) -> None:
        """In or out of a triplet."""
        self.set_value(ids, lambda v: replace(v, tuplet=None if v.tuplet else TRIPLET))

    def set_pitch(self, note_id: str, pitch: Pitch) -> None:
        """Give a note, with all it is tied to, or a rest, a pitch."""
        for note in self._tied_with(self._note(note_id)):
            set_pitch(note, pitch)
        self._show_accidentals()

    def move(self, ids: Sequence[str], *, steps: int = 0, semitones: int = 0) -> None:
        """Move notes along the scale, or chromatically: a sharp up, a flat down."""
        moved: set[etree._Element] = set()
        for note_id in ids:
            head = self._note(note_id)
            fifths = self.fifths_at(note_id)
            for note in self._tied_with(head):
                pitch = pitch_of(note)
                if pitch is None or note in moved:
                    continue
                moved.add(note)
                if steps:
                    pitch = diatonic_step(pitch, steps, fifths)
                if semitones:
                    pitch = _altered(pitch, semitones)
                set_pitch(note, pitch)
        self._show_accidentals()

    def to_rest(self, ids: Sequence[str]) -> None:
        """Make notes rests of the same length."""
        for note_id in ids:
            note = self._note(note_id)
            self._untie(note)
            for member in self._chord_of(note)[1:]:
                remove_element(member)
            drop(note, "pitch", "unpitched", "accidental", "notations", "beam")
            if note.find("rest") is None:
                put(note, element("rest"))
        self._show_accidentals()


def _altered(pitch: Pitch, semitones: int) -> Pitch:
    """A pitch some semitones away: by accidental as far as one sharp or flat goes, then by step."""
    alter = pitch.alter + semitones
    if abs(alter) <= 1:
        return replace(pitch, alter=alter)
    return spelled(pitch.midi + semitones, prefer_sharps=semitones > 0)
