"""Music written from scratch: notes with bow signs and words, set into full bars as MusicXML.

Studies and drills are made here. A note is said by when it begins and how long it lasts; rests,
ties over barlines, note values, beams, triplets and accidentals follow from that.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction

from lxml import etree

from plectrum.core.errors import ScoreError
from plectrum.core.instrument.specification import instrument
from plectrum.core.score.model import Articulation, Direction, Metre, Pitch
from plectrum.core.score.scorefile import ScoreFile, score_from_xml
from plectrum.core.score.writing.blank import tempo_direction, time_element
from plectrum.core.score.writing.elements import (
    bracket_tuplets,
    element,
    put,
    set_beams,
    set_pitch,
    set_value,
    show_accidentals,
)
from plectrum.core.score.writing.values import Value, values_of
from plectrum.core.wording import say, tr

TUPLETS = (None, (3, 2), (5, 4), (7, 4), (6, 4))
_ARTICULATIONS = {
    Articulation.STACCATO: "staccato",
    Articulation.STACCATISSIMO: "staccatissimo",
    Articulation.SPICCATO: "spiccato",
    Articulation.TENUTO: "tenuto",
    Articulation.PORTATO: "detached-legato",
    Articulation.ACCENT: "accent",
    Articulation.MARCATO: "strong-accent",
    Articulation.SFORZANDO: "accent",
    Articulation.BREATH: "breath-mark",
}
_BOWS = {Direction.DOWN: "down-bow", Direction.UP: "up-bow"}


@dataclass(frozen=True, slots=True)
class SheetNote:
    """One note or chord to be written. Times are quarters from the start of the sheet.

    Attributes:
        slur_starts, slur_stops: ends of the slur it is in.
        finger, string: written beside the note; the string counts from 1, the highest.
        lyric: a word under the note; words: over it, such as "pizz.".
        wedge: "crescendo" or "diminuendo" from here, or "stop" before the note; one that is
            open at the end is closed there.
        head: "x" or "slash" for a note that is not sounded as written.
    """

    id: str
    onset_q: Fraction
    duration_q: Fraction
    pitches: tuple[Pitch, ...]
    mark: Direction | None = None
    slur_starts: bool = False
    slur_stops: bool = False
    articulations: frozenset[Articulation] = frozenset()
    finger: str = ""
    string: int | None = None
    lyric: str = ""
    words: str = ""
    dynamic: str = ""
    wedge: str = ""
    head: str = ""
    grace: bool = False

    @property
    def end_q(self) -> Fraction:
        return self.onset_q + self.duration_q


@dataclass(frozen=True, slots=True)
class SheetBar:
    """One bar; a pickup is shorter than its metre by `pad_q`."""

    number: int
    metre: Metre
    duration_q: Fraction
    fifths: int = 0
    pad_q: Fraction = Fraction(0)


@dataclass(frozen=True, slots=True)
class SheetPart:
    """One part: its notes in order, in bars."""

    name: str
    instrument: str
    bars: tuple[SheetBar, ...]
    notes: tuple[SheetNote, ...]


@dataclass(frozen=True, slots=True)
class _Piece:
    """What one written note value holds: a rest, or one of the tied pieces of a note."""

    onset_q: Fraction
    value: Value
    note: SheetNote | None
    first: bool = True
    last: bool = True


def write_sheet(
    title: str, parts: Sequence[SheetPart], bpm: float, beat_q: Fraction = Fraction(1)
) -> ScoreFile:
    """A score of these parts.

    Args:
        bpm: beats of `beat_q` a minute.

    Raises:
        ScoreError: a length that no note values make.
    """
    root = element("score-partwise", version="4.0")
    work = element("work")
    work.append(element("work-title", title))
    root.append(work)
    heads = element("part-list")
    root.append(heads)
    for k, part in enumerate(parts, start=1):
        head = element("score-part", id=f"P{k}")
        head.append(element("part-name", part.name or part.instrument.capitalize()))
        heads.append(head)
        root.append(_PartWriter(part, f"P{k}", bpm if k == 1 else None, beat_q).write())
    etree.indent(root)
    data: bytes = etree.tostring(root, xml_declaration=True, encoding="UTF-8")
    return score_from_xml(data, f"{title}.musicxml")


class _PartWriter:
    """Writes one part bar by bar."""

    def __init__(self, part: SheetPart, part_id: str, bpm: float | None, beat_q: Fraction) -> None:
        self.part = part
        self.bpm, self.beat_q = bpm, beat_q
        self.element = element("part", id=part_id)
        self._ids = {note.id for note in part.notes}
        self._dynamic = ""
        self._wedge = False

    def write(self) -> etree._Element:
        start_q = Fraction(0)
        rows = []
        for bar in self.part.bars:
            rows.append((bar, start_q, list(self._pieces(bar, start_q))))
            start_q += bar.duration_q
        lengths = [p.value.length_q.denominator for _, _, pieces in rows for p in pieces]
        self.divisions = math.lcm(1, *lengths)
        before: SheetBar | None = None
        for bar, at_q, pieces in rows:
            self.element.append(self._measure(bar, before, at_q, pieces))
            before = bar
        return self.element

    # what a bar holds

    def _pieces(self, bar: SheetBar, start_q: Fraction) -> Iterator[_Piece]:
        at_q, end_q = start_q, start_q + bar.duration_q
        sounding = [n for n in self.part.notes if not n.grace]
        inside = [n for n in sounding if n.onset_q < end_q and n.end_q > start_q]
        for k, note in enumerate(inside):
            until_q = min(note.end_q, end_q)
            if k + 1 < len(inside):
                until_q = min(until_q, inside[k + 1].onset_q)
            onset_q = max(note.onset_q, start_q)
            yield from self._rests(bar, start_q, at_q, onset_q)
            yield from self._tied(note, onset_q, until_q)
            at_q = until_q
        yield from self._rests(bar, start_q, at_q, end_q)

    def _tied(self, note: SheetNote, onset_q: Fraction, until_q: Fraction) -> Iterator[_Piece]:
        values = _values(until_q - onset_q)
        for k, value in enumerate(values):
            first = k == 0 and onset_q == note.onset_q
            last = k == len(values) - 1 and until_q == note.end_q
            yield _Piece(onset_q, value, note, first, last)
            onset_q += value.length_q

    def _rests(
        self, bar: SheetBar, start_q: Fraction, at_q: Fraction, until_q: Fraction
    ) -> Iterator[_Piece]:
        """Rests from a time to another; the first ends with the beat it begins in."""
        while at_q < until_q:
            into = (at_q - start_q + bar.pad_q) % bar.metre.beat_q
            end_q = min(until_q, at_q + bar.metre.beat_q - into) if into else until_q
            for value in _values(end_q - at_q):
                yield _Piece(at_q, value, None)
                at_q += value.length_q

    # how it is written

    def _measure(
        self, bar: SheetBar, before: SheetBar | None, at_q: Fraction, pieces: list[_Piece]
    ) -> etree._Element:
        measure = element("measure", number=str(bar.number))
        if bar.pad_q:
            measure.set("implicit", "yes")
        measure.append(self._attributes(bar, before))
        if not len(measure[-1]):
            measure.remove(measure[-1])
        if before is None and self.bpm is not None:
            mark = tempo_direction(self.bpm, self.beat_q)
            measure.append(mark)
        beamed = []
        notes = []
        for piece in pieces:
            made = self._write_piece(piece, measure, bar)
            beamed.append((piece.onset_q - at_q + bar.pad_q, piece.value, made[0], not piece.note))
            notes += made
        set_beams(beamed, bar.metre)
        bracket_tuplets(beamed)
        show_accidentals(notes, bar.fifths)
        if bar is self.part.bars[-1]:
            if self._wedge:
                measure.append(_direction(element("wedge", type="stop")))
            line = element("barline", location="right")
            line.append(element("bar-style", "light-heavy"))
            measure.append(line)
        return measure

    def _attributes(self, bar: SheetBar, before: SheetBar | None) -> etree._Element:
        """What changes with this bar; for the first bar all of it."""
        made = element("attributes")
        if before is None:
            made.append(element("divisions", str(self.divisions)))
        if before is None or before.fifths != bar.fifths:
            key = element("key")
            key.append(element("fifths", str(bar.fifths)))
            made.append(key)
        if before is None or before.metre != bar.metre:
            made.append(time_element(bar.metre))
        if before is None:
            clef = element("clef")
            sign, line = instrument(self.part.instrument).clef
            clef.append(element("sign", sign))
            clef.append(element("line", str(line)))
            made.append(clef)
            shift = self._transposition()
            if shift:
                transpose = element("transpose")
                transpose.append(element("chromatic", str(shift)))
                made.append(transpose)
        return made

    def _transposition(self) -> int:
        """How much lower than written it sounds, where the instrument does not say so itself."""
        pitches = (p for n in self.part.notes for p in n.pitches)
        first = next(pitches, None)
        if first is None or instrument(self.part.instrument).written_above_semitones:
            return 0
        return first.transpose_semitones

    def _write_piece(
        self, piece: _Piece, measure: etree._Element, bar: SheetBar
    ) -> list[etree._Element]:
        if piece.note is None:
            rest = element("note")
            rest.append(element("rest"))
            set_value(rest, piece.value, self.divisions)
            measure.append(rest)
            return [rest]
        if piece.first:
            for grace in self._graces_of(piece.note):
                measure.append(self._grace(grace))
            for direction in self._directions(piece.note):
                measure.append(direction)
        made = []
        for k, pitch in enumerate(piece.note.pitches):
            note = element("note", id=self._id(piece.note.id, piece.first and k == 0))
            if k:
                note.append(element("chord"))
            set_pitch(note, pitch)
            set_value(note, piece.value, self.divisions)
            if piece.note.head:
                put(note, element("notehead", piece.note.head))
            self._notations(note, piece, piece.note, k == 0)
            measure.append(note)
            made.append(note)
        return made

    def _id(self, base: str, head: bool) -> str:
        """The id of a note's head; of all else that is written of it a new one like it."""
        if head:
            return base
        number = 1
        while f"{base}.{number}" in self._ids:
            number += 1
        name = f"{base}.{number}"
        self._ids.add(name)
        return name

    def _graces_of(self, note: SheetNote) -> list[SheetNote]:
        notes = self.part.notes
        place = notes.index(note)
        first = place
        while first and notes[first - 1].grace:
            first -= 1
        return list(notes[first:place])

    def _grace(self, grace: SheetNote) -> etree._Element:
        note = element("note", id=grace.id)
        note.append(element("grace", slash="yes"))
        set_pitch(note, grace.pitches[0])
        put(note, element("type", "eighth"))
        return note

    def _directions(self, note: SheetNote) -> Iterator[etree._Element]:
        kinds = []
        if note.wedge and self._wedge:
            kinds.append(element("wedge", type="stop"))
            self._wedge = False
        if note.dynamic and note.dynamic != self._dynamic:
            self._dynamic = note.dynamic
            dynamics = element("dynamics")
            dynamics.append(element(note.dynamic))
            kinds.append(dynamics)
        if note.wedge in ("crescendo", "diminuendo"):
            kinds.append(element("wedge", type=note.wedge))
            self._wedge = True
        if note.words:
            kinds.append(element("words", note.words))
        yield from map(_direction, kinds)

    def _notations(self, note: etree._Element, piece: _Piece, said: SheetNote, lead: bool) -> None:
        """Ties on every note of a chord, all other signs on its first."""
        notations = element("notations")
        for wanted, kind in ((not piece.first, "stop"), (not piece.last, "start")):
            if wanted:
                put(note, element("tie", type=kind))
                notations.append(element("tied", type=kind))
        if lead:
            if said.slur_stops and piece.last:
                notations.append(element("slur", type="stop", number="1"))
            if said.slur_starts and piece.first:
                notations.append(element("slur", type="start", number="1"))
            if piece.first:
                self._technical(notations, said)
                self._lyric(note, said)
        if len(notations):
            put(note, notations)

    def _technical(self, notations: etree._Element, said: SheetNote) -> None:
        technical = element("technical")
        if said.mark is not None:
            technical.append(element(_BOWS[said.mark]))
        if said.finger:
            technical.append(element("fingering", said.finger))
        if said.string is not None:
            technical.append(element("string", str(said.string)))
        if len(technical):
            notations.append(technical)
        signs = element("articulations")
        for sign in sorted(said.articulations):
            if sign in _ARTICULATIONS:
                signs.append(element(_ARTICULATIONS[sign]))
        if len(signs):
            notations.append(signs)
        if Articulation.FERMATA in said.articulations:
            notations.append(element("fermata"))

    def _lyric(self, note: etree._Element, said: SheetNote) -> None:
        if said.lyric:
            lyric = element("lyric", number="1")
            lyric.append(element("syllabic", "single"))
            lyric.append(element("text", said.lyric))
            put(note, lyric)


def _direction(kind: etree._Element) -> etree._Element:
    made = element("direction", placement="above" if kind.tag == "words" else "below")
    inner = element("direction-type")
    inner.append(kind)
    made.append(inner)
    return made


def _values(length_q: Fraction) -> list[Value]:
    """Note values that last so long together, in a tuplet if need be.

    Raises:
        ScoreError: no values add up to it.
    """
    for tuplet in TUPLETS:
        try:
            return values_of(length_q, tuplet)
        except ValueError:
            continue
    raise ScoreError(
        say("no note values last {length_q} quarters", length_q=length_q),
        remedy=tr("Choose other bars"),
    )
