"""Title, tempo, metre, pickup, key and instrument of a whole part."""

from __future__ import annotations

from fractions import Fraction

from lxml import etree

from plectrum.core.errors import ScoreError
from plectrum.core.incoming.numbers import whole
from plectrum.core.instrument.specification import instrument
from plectrum.core.score.edit import remove_element
from plectrum.core.score.model import Metre
from plectrum.core.score.writing.blank import TuneHead, attributes, tempo_direction, time_element
from plectrum.core.score.writing.elements import (
    diatonic_step,
    element,
    pitch_of,
    set_pitch,
)
from plectrum.core.score.writing.line import Line
from plectrum.core.score.writing.open_part import OpenPart, last_note
from plectrum.core.score.writing.pitches import by_interval
from plectrum.core.wording import say, tr


class WholeEdits(OpenPart):
    """What changes the part as a whole."""

    def set_title(self, title: str) -> None:
        root = self._tree.getroot()
        work = root.find("work")
        if work is None:
            work = element("work")
            root.insert(0, work)
        named = work.find("work-title")
        if named is None:
            named = element("work-title")
            work.append(named)
        named.text = title

    def set_tempo(self, bpm: float) -> None:
        """The tempo at the beginning, in the beats of the first metre."""
        measure = self.part.find("measure")
        if measure is None:
            return
        for direction in measure.findall("direction"):
            if direction.find("direction-type/metronome") is not None:
                remove_element(direction)
            elif (sound := direction.find("sound")) is not None and sound.get("tempo"):
                del sound.attrib["tempo"]
        heads = [k for k, c in enumerate(measure) if c.tag in ("attributes", "print")]
        place = heads[0] + 1 if heads else 0
        measure.insert(place, tempo_direction(bpm, self.metre().beat_q))

    def pickup_q(self) -> Fraction:
        """How long the pickup is; 0 without one, or where the part has several voices."""
        try:
            return Line(self.part, self._score.name).pickup_q
        except ScoreError:
            return Fraction(0)

    def set_metre(self, metre: Metre) -> None:
        """Another metre for the whole part; the notes flow into its bars."""
        line = self._line()
        for frame in line.frames:
            for found in frame.head:
                for time in found.findall("time"):
                    remove_element(time)
            frame.metre = metre
        if line.pickup_q >= metre.length_q:
            line.pickup_q = Fraction(0)
        set_attribute(self._first_attributes(line), time_element(metre))
        line.strip_padding(last_note(line.events))
        line.flow()

    def set_pickup(self, pickup_q: Fraction) -> None:
        """Another length of the pickup, 0 for none; the notes flow.

        Raises:
            ScoreError: as long as a bar, or longer.
        """
        line = self._line()
        if not 0 <= pickup_q < line.frames[0].metre.length_q:
            raise ScoreError(tr("a pickup is shorter than a bar"), remedy=tr("Choose fewer beats"))
        line.pickup_q = pickup_q
        line.strip_padding(last_note(line.events))
        line.flow()

    def set_key(self, fifths: int, *, keep_sound: bool = False) -> None:
        """Another key signature. Notes keep their places on the staff and follow the new key,
        or, with `keep_sound`, their pitches."""
        old = self.fifths()
        first = self.part.find("measure")
        if first is None:
            return
        for measure in self.part.iterfind("measure"):
            for key in measure.findall("attributes/key"):
                if measure is not first:
                    remove_element(key)
        key = element("key")
        key.append(element("fifths", str(fifths)))
        found = first.find("attributes")
        if found is None:
            found = element("attributes")
            first.insert(0, found)
        set_attribute(found, key)
        if not keep_sound:
            for note in self.part.iter("note"):
                pitch = pitch_of(note)
                if pitch is not None and pitch.alter == diatonic_step(pitch, 0, old).alter:
                    set_pitch(note, diatonic_step(pitch, 0, fifths))
        self._show_accidentals()

    def _first_attributes(self, line: Line) -> etree._Element:
        for found in line.frames[0].head:
            if found.tag == "attributes":
                return found
        made = attributes(TuneHead())
        line.frames[0].head.insert(0, made)
        return made

    def transpose(self, fifths: int, semitones: int) -> None:
        """Move everything by an interval, spelled so that the key moves by `fifths`.

        Args:
            fifths: steps on the line of fifths; 7 × fifths = semitones (mod 12) must hold.
            semitones: how far the sound moves.
        """
        if (7 * fifths - semitones) % 12:
            raise ScoreError(
                say(
                    "{fifths} fifths do not make {semitones} semitones",
                    fifths=fifths,
                    semitones=semitones,
                )
            )
        for note in self.part.iter("note"):
            pitch = pitch_of(note)
            if pitch is not None:
                set_pitch(note, by_interval(pitch, fifths, semitones))
        for key in self.part.iter("key"):
            written = key.find("fifths")
            if written is not None:
                written.text = str((whole(written.text) or 0) + fifths)
        if self.part.find("measure/attributes/key") is None and fifths:
            self.set_key(fifths, keep_sound=True)
        self._show_accidentals()

    def set_instrument(self, name: str) -> None:
        """Write the part for another string instrument: its name and clef. No note moves."""
        root = self._tree.getroot()
        for head in root.iterfind("part-list/score-part"):
            if head.get("id") != self.part.get("id"):
                continue
            for child in list(head):
                if child.tag not in ("part-name", "group"):
                    head.remove(child)
            named = head.find("part-name")
            if named is not None:
                named.text = name.capitalize()
        sign, line = instrument(name).clef
        clefs = list(self.part.iter("clef"))
        for clef in clefs[1:]:
            remove_element(clef)
        for transpose in list(self.part.iter("transpose")):
            remove_element(transpose)
        made = element("clef")
        made.append(element("sign", sign))
        made.append(element("line", str(line)))
        found = self.part.find("measure/attributes")
        if found is not None:
            set_attribute(found, made)

    def keep_only_this_part(self) -> None:
        """Take all other parts out of the score."""
        root = self._tree.getroot()
        own = self.part.get("id")
        for part in root.findall("part"):
            if part.get("id") != own:
                root.remove(part)
        heads = root.find("part-list")
        for head in list(heads) if heads is not None else []:
            if heads is not None and (head.tag != "score-part" or head.get("id") != own):
                heads.remove(head)


_ATTRIBUTES = ("divisions", "key", "time", "staves", "part-symbol", "instruments", "clef")


def set_attribute(holder: etree._Element, child: etree._Element) -> None:
    """Put a child of `<attributes>` in the standard's order, in place of its like."""
    for old in holder.findall(str(child.tag)):
        remove_element(old)
    rank = _ATTRIBUTES.index(str(child.tag))
    place = sum(1 for c in holder if c.tag in _ATTRIBUTES[:rank])
    holder.insert(place, child)
