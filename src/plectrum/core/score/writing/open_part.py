"""One part of a score opened for editing: its tree, and what is written in it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from lxml import etree

from plectrum.core.errors import ScoreError
from plectrum.core.score.model import COMMON_TIME, Metre, Pitch
from plectrum.core.score.scorefile import ScoreFile, parse_record, score_from_xml
from plectrum.core.score.writing.elements import (
    element,
    fifths_in,
    metre_in,
    pitch_of,
    put,
    set_ties,
    show_part_accidentals,
    tie_types,
    value_of,
)
from plectrum.core.score.writing.line import Event, Line
from plectrum.core.score.writing.values import Value, single_value
from plectrum.core.score.xml_text import integer, note_ids
from plectrum.core.wording import say, tr


@dataclass(frozen=True, slots=True)
class Written:
    """One written note, chord or rest as an editor shows it. `value` is None where the page
    does not say how it is written."""

    id: str
    bar_index: int
    onset_q: Fraction
    length_q: Fraction
    pitch: Pitch | None
    value: Value | None
    tied: bool
    articulations: frozenset[str]
    dynamic: str

    @property
    def is_rest(self) -> bool:
        return self.pitch is None


class OpenPart:
    """A copy of a score in which one part is changed; `result` reads it as a new score."""

    def __init__(self, score: ScoreFile, part_id: str) -> None:
        """Make a copy to edit.

        Raises:
            ScoreError: no such part.
        """
        self._score = score
        self._tree = parse_record(score.xml, score.name)
        root = self._tree.getroot()
        for note, note_id in zip(root.iter("note"), note_ids(root), strict=True):
            note.set("id", note_id)
        found = [p for p in root.iterfind("part") if p.get("id") == score.part_named(part_id).id]
        if not found:
            raise ScoreError(say("there is no part {part!r}", part=part_id), where=score.name)
        self.part = found[0]

    def result(self) -> ScoreFile:
        """The edited score, read anew.

        Raises:
            ScoreError: the edit made something that cannot be read.
        """
        data: bytes = etree.tostring(self._tree, xml_declaration=True, encoding="UTF-8")
        made = score_from_xml(data, self._score.name)
        return replace(made, source=self._score.source)

    def written(self) -> tuple[Written, ...]:
        """Every note, chord and rest of the part's first voice in order."""
        found = []
        divisions, bar_q = 1, Fraction(0)
        for index, measure in enumerate(self.part.iterfind("measure")):
            at_q = Fraction(0)
            dynamic = ""
            for child in measure:
                if child.tag == "backup":
                    break
                if child.tag == "attributes" and child.find("divisions") is not None:
                    divisions = max(1, integer(child, "divisions", 1))
                elif child.tag == "forward":
                    at_q += Fraction(integer(child, "duration"), divisions)
                elif child.tag == "direction":
                    dynamic = dynamic_of(child) or dynamic
                elif child.tag == "note" and child.find("grace") is None:
                    if child.find("chord") is not None:
                        continue
                    length_q = Fraction(integer(child, "duration"), divisions)
                    found.append(_written(child, index, bar_q + at_q, length_q, dynamic))
                    at_q += length_q
                    dynamic = ""
            bar_q += at_q
        return tuple(found)

    def _note(self, note_id: str) -> etree._Element:
        for note in self.part.iter("note"):
            if note.get("id") == note_id:
                return note
        raise ScoreError(tr("that note is not in this part"))

    def _measure(self, note_id: str) -> etree._Element:
        measure = self._note(note_id).getparent()
        if measure is None:
            raise ScoreError(tr("that note stands in no bar"))
        return measure

    def _fifths_at(self, measure: etree._Element) -> int:
        fifths = 0
        for found in self.part.iterfind("measure"):
            fifths = fifths_in(found, fifths)
            if found is measure:
                break
        return fifths

    def fifths_at(self, note_id: str) -> int:
        """The key signature in force at a note, in fifths."""
        return self._fifths_at(self._measure(note_id))

    def fifths(self) -> int:
        """The key the part begins with, in fifths."""
        measure = self.part.find("measure")
        return 0 if measure is None else fifths_in(measure, 0)

    def metre(self) -> Metre:
        """The metre the part begins with."""
        metre = COMMON_TIME
        for child in self.part.iterfind("measure[1]/attributes"):
            metre = metre_in(child, metre)
        return metre

    def _line(self) -> Line:
        """The part as events that can flow; only a part that stands alone can.

        Raises:
            ScoreError: other parts would no longer fit, or there are several voices.
        """
        if len(self._tree.getroot().findall("part")) > 1:
            raise ScoreError(
                tr("the other parts of this score would no longer fit"),
                remedy=tr("Keep only this part (Piece menu), then change its lengths"),
            )
        return Line(self.part, self._score.name)

    def _chord_of(self, note: etree._Element) -> list[etree._Element]:
        members = [note]
        following = note.getnext()
        while following is not None and following.find("chord") is not None:
            members.append(following)
            following = following.getnext()
        return members

    def _tied_with(self, note: etree._Element) -> list[etree._Element]:
        """A note and those tied to it before and after, of the same pitch."""
        notes = [n for n in self.part.iter("note") if n.find("grace") is None]
        pitch = pitch_of(note)
        chain = [note]
        place = notes.index(note)
        for k in range(place + 1, len(notes)):
            if "start" not in tie_types(chain[-1]):
                break
            if pitch_of(notes[k]) == pitch and "stop" in tie_types(notes[k]):
                chain.append(notes[k])
        first = note
        for k in range(place - 1, -1, -1):
            if "stop" not in tie_types(first):
                break
            if pitch_of(notes[k]) == pitch and "start" in tie_types(notes[k]):
                first = notes[k]
                chain.insert(0, first)
        return chain

    def _show_accidentals(self) -> None:
        show_part_accidentals(self.part)

    def _next_head(self, note: etree._Element) -> etree._Element | None:
        heads = [
            n for n in self.part.iter("note") if n.find("chord") is None and n.find("grace") is None
        ]
        place = heads.index(note)
        return heads[place + 1] if place + 1 < len(heads) else None

    def _untie(self, note: etree._Element, *, before: bool = True) -> None:
        following = self._next_head(note)
        if "start" in tie_types(note) and following is not None:
            set_ties(following, tie_types(following) - {"stop"})
        set_ties(note, tie_types(note) - {"start"})
        if before and "stop" in tie_types(note):
            chain = self._tied_with(note)
            place = chain.index(note)
            if place:
                set_ties(chain[place - 1], tie_types(chain[place - 1]) - {"start"})
            set_ties(note, tie_types(note) - {"stop"})

    def _slur_partner(self, note: etree._Element, slur: etree._Element) -> etree._Element | None:
        notes = list(self.part.iter("note"))
        number = slur.get("number", "1")
        starts = slur.get("type") == "start"
        place = notes.index(note) if note in notes else -1
        beyond = notes[place + 1 :] if starts else notes[:place][::-1]
        for other in beyond:
            for found in other.findall("notations/slur"):
                if found.get("number", "1") == number:
                    return found if found.get("type") != slur.get("type") else None
        return None

    @staticmethod
    def _notations(note: etree._Element) -> etree._Element:
        notations = note.find("notations")
        if notations is None:
            notations = element("notations")
            put(note, notations)
        return notations


def _written(
    note: etree._Element, bar_index: int, onset_q: Fraction, length_q: Fraction, dynamic: str
) -> Written:
    signs = note.find("notations/articulations")
    return Written(
        note.get("id", ""),
        bar_index,
        onset_q,
        length_q,
        pitch_of(note),
        value_of(note, length_q) or single_value(length_q),
        "start" in tie_types(note),
        frozenset(str(s.tag) for s in signs) if signs is not None else frozenset(),
        dynamic,
    )


def last_note(events: Sequence[Event]) -> int:
    """The last event that is no rest; the first if all are."""
    return max((k for k, e in enumerate(events) if not e.is_rest), default=0)


def dynamic_of(direction: etree._Element) -> str:
    found = direction.find("direction-type/dynamics")
    return str(found[0].tag) if found is not None and len(found) else ""
