"""From the XML tree to what stands in each measure.

One pass with a time cursor over each part. Durations are checked here, because everything later
relies on them.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterator
from fractions import Fraction

from lxml import etree

from plectrum.core.errors import ScoreError
from plectrum.core.incoming.numbers import decimal, fraction, only_whole
from plectrum.core.plain_text import one_line
from plectrum.core.score.left_out import CUES, HARMONICS, HIDDEN, MICROTONES, UNPITCHED
from plectrum.core.score.model import COMMON_TIME, Articulation, Direction, Metre, Pitch, Sign
from plectrum.core.score.playing_order import signs_in
from plectrum.core.score.raw import RawDirection, RawMeasure, RawNote, RawPart
from plectrum.core.score.xml_text import integer, note_ids, text
from plectrum.core.wording import say, tr

MAX_NOTE_Q = 64
MAX_DIVISIONS = 1_000_000
MAX_TICKS = 10**9
MAX_BEATS = 64
MOST_BEAMS = 8
MOST_TIMES = 99  # that a repeat sign asks for; more is no music
_ARTICULATIONS = {
    "staccato": Articulation.STACCATO,
    "staccatissimo": Articulation.STACCATISSIMO,
    "spiccato": Articulation.SPICCATO,
    "tenuto": Articulation.TENUTO,
    "detached-legato": Articulation.PORTATO,
    "accent": Articulation.ACCENT,
    "strong-accent": Articulation.MARCATO,
    "breath-mark": Articulation.BREATH,
    "caesura": Articulation.BREATH,
}
_BEAT_UNITS = {
    "breve": Fraction(8), "whole": Fraction(4), "half": Fraction(2), "quarter": Fraction(1),
    "eighth": Fraction(1, 2), "16th": Fraction(1, 4), "32nd": Fraction(1, 8),
}  # fmt: skip
_BEAT_UNITS_DOTTED = {q * 3 / 2: q / 2 for q in _BEAT_UNITS.values()}


def ticks_a_quarter(root: etree._Element, where: str) -> int:
    """The least number of ticks in which every division of the file is whole.

    Raises:
        ScoreError: divisions that are not above zero, or that fit no common grid.
    """
    ticks = 1
    for element in root.iter("divisions"):
        written = (element.text or "").strip()
        divisions = fraction(written) or Fraction(0)
        if not 0 < divisions <= MAX_DIVISIONS or divisions.denominator != 1:  # "2.0" is valid
            raise ScoreError(
                say(
                    "the divisions are {written!r}, not a whole number above zero",
                    written=one_line(written, 40),
                ),
                where=where,
            )
        ticks = math.lcm(ticks, divisions.numerator)
        if ticks > MAX_TICKS:
            raise ScoreError(tr("the divisions of its parts fit no common grid"), where=where)
    return ticks


class PartReader:
    """Walks one `<part>`; keeps the running state that measures inherit."""

    def __init__(
        self, element: etree._Element, part: RawPart, ids: Iterator[str], ticks: int, where: str
    ) -> None:
        self.element = element
        self.ticks = ticks
        self.part = part
        self.ids = ids
        self.where = where
        self.divisions = 1
        self.metre = COMMON_TIME
        self.semitones = 0
        self.bar = "1"
        self._pitches: dict[object, tuple[Pitch, bool]] = {}

    def read(self) -> RawPart:
        for k, element in enumerate(self.element.iterfind("measure")):
            self.bar = element.get("number", str(k + 1))
            self.part.measures.append(self._measure(element))
        return self.part

    def _fail(
        self, what: str, remedy: str = tr("Correct or delete it in a notation program")
    ) -> None:
        place = say(
            "{where}, part {part}, bar {bar}",
            where=self.where,
            part=self.part.name or self.part.id,
            bar=self.bar,
        )
        raise ScoreError(what, where=place, remedy=remedy)

    def _measure(self, element: etree._Element) -> RawMeasure:
        measure = RawMeasure(self.bar, element.get("implicit") == "yes", self.metre)
        cursor = last_onset = 0
        tags = []
        for child in element:
            tag = child.tag
            tags.append(tag)
            if tag == "note":
                note, counts = self._note(child)
                note.offset_t = last_onset if note.chord else cursor
                if not note.chord:
                    last_onset = cursor
                    cursor += note.duration_t
                if counts is None:
                    measure.notes.append(note)
                else:
                    self.part.left_out.count(counts, self.bar)
            elif tag == "backup":
                cursor = max(0, cursor - self._duration(child.findtext("duration"), "backup"))
            elif tag == "forward":
                cursor += self._duration(child.findtext("duration"), "forward")
            elif tag == "attributes":
                self._attributes(child)
                if cursor == 0:
                    measure.metre = self.metre
            elif tag == "direction":
                measure.directions.extend(self._direction(child, cursor))
                measure.signs |= _signs(child)
            elif tag == "sound":
                measure.directions.extend(self._sound(child, cursor))
                measure.signs |= _signs_of_sound(child)
            elif tag == "barline":
                self._barline(child, measure)
            measure.content_t = max(measure.content_t, cursor)
        self.part.left_out.look("measure", tags, self.bar)
        return measure

    def _attributes(self, element: etree._Element) -> None:
        if element.find("divisions") is not None:
            self.divisions = max(1, integer(element, "divisions", 1))
        time = element.find("time")
        if time is not None and time.find("beats") is not None:
            self.metre = self._time(time)
        clef = element.find("clef")
        if clef is not None and not self.part.clef:
            self.part.clef = text(clef, "sign").upper() + text(clef, "line")
            self.part.clef_octaves = integer(clef, "clef-octave-change")
            self.part.percussion = text(clef, "sign").lower() == "percussion"
        transpose = element.find("transpose")
        if transpose is not None:
            octaves = integer(transpose, "octave-change")
            self.semitones = integer(transpose, "chromatic") + 12 * octaves
            self.part.transposed = True

    def _time(self, element: etree._Element) -> Metre:
        beats, under = text(element, "beats"), text(element, "beat-type")
        groups = tuple(only_whole(part) or 0 for part in beats.split("+")[:MAX_BEATS])
        beat_type = only_whole(under) or 0
        sound = all(g > 0 for g in groups) and sum(groups) <= MAX_BEATS
        if not sound or beat_type not in (1, 2, 4, 8, 16, 32, 64):
            self._fail(
                say(
                    "the time signature {beats}/{under} cannot be read",
                    beats=one_line(beats, 20),
                    under=one_line(under, 20),
                )
            )
        return Metre(groups, beat_type)

    def _duration(self, written: str | None, kind: str) -> int:
        written = (written or "").strip()
        count = only_whole(written)
        if count is not None:
            ticks = count * self.ticks // self.divisions
        else:
            ticks = self._odd_duration(written)
        if ticks == 0 and written and kind != "note":
            return 0  # a cursor move by nothing stands in real files and harms nobody
        if ticks <= 0:
            shown = one_line(written, 20) or tr("no time at all")
            self._fail(say("a {kind} lasts {length}, not above zero", kind=kind, length=shown))
        if ticks > MAX_NOTE_Q * self.ticks and kind != "backup":  # which ends where the bar begins
            self._fail(
                say(
                    "a {kind} lasts {ticks:g} quarters, longer than any bar",
                    kind=kind,
                    ticks=ticks / self.ticks,
                )
            )
        return ticks

    def _odd_duration(self, written: str) -> int:
        """A duration that is not a whole number, to the nearest tick; 0 for nonsense."""
        return round((fraction(written) or Fraction(0)) * self.ticks / self.divisions)

    def _note(self, element: etree._Element) -> tuple[RawNote, str | None]:
        """A note, and as what it is left out; None for one that is played."""
        note = RawNote(next(self.ids), 0, 0, None, (1, "1"))
        left_out: str | None = None
        duration: str | None = None
        staff, voice, kind = 1, "1", ""
        tags = []
        tremolo: etree._Element | None = None
        for child in element:
            tag = child.tag
            tags.append(tag)
            if tag == "pitch":
                note.pitch = self._pitch(child)
            elif tag == "duration":
                duration = child.text
            elif tag == "voice":
                voice = (child.text or "1").strip()
            elif tag == "type":
                kind = (child.text or "").strip()
            elif tag == "notations":
                found = self._notations(child, note)
                tremolo = tremolo if found is None else found
            elif tag == "chord":
                note.chord = True
            elif tag == "grace":
                note.grace = True
            elif tag == "tie":
                note.tie_start |= child.get("type") == "start"
                note.tie_stop |= child.get("type") == "stop"
            elif tag == "staff":
                staff = integer(element, "staff", 1)
            elif tag in ("cue", "unpitched"):
                left_out = CUES if tag == "cue" else UNPITCHED
        if tremolo is not None and not note.grace:
            note.stroke_q = _stroke_q(tremolo, kind)
        if note.chord and element.find("notations/technical/harmonic") is not None:
            note.pitch = self._of_harmonic(element, note.pitch)
        note.pizzicato = element.get("pizzicato") == "yes"
        note.voice = (staff, voice)
        if not note.grace:
            note.duration_t = self._duration(duration, "note")
        if note.pitch is not None and element.get("print-object") == "no":
            left_out = HIDDEN
        self.part.left_out.look("note", tags, self.bar)
        return note, left_out

    @staticmethod
    def _of_harmonic(element: etree._Element, pitch: Pitch | None) -> Pitch | None:
        """A further note of a chord; none where it says what sounds, or where a finger touches the
        string that another stops."""
        harmonic = element.find("notations/technical/harmonic")
        kinds = set() if harmonic is None else {child.tag for child in harmonic}
        touched = not kinds.isdisjoint({"touching-pitch", "sounding-pitch"})
        return None if "artificial" in kinds and touched else pitch

    def _pitch(self, element: etree._Element) -> Pitch:
        key = tuple(child.text for child in element), self.semitones
        known = self._pitches.get(key)
        if known is None:
            between = bool((decimal(element.findtext("alter")) or 0.0) % 1)
            known = self._pitches[key] = self._new_pitch(element), between
        pitch, between = known
        if between:
            self.part.left_out.count(MICROTONES, self.bar)
        return pitch

    def _new_pitch(self, element: etree._Element) -> Pitch:
        step = text(element, "step").upper()
        octave = integer(element, "octave", -99)
        written = element.findtext("alter")
        alter = 0 if not (written or "").strip() else round(decimal(written) or 0.0)
        if written is not None and written.strip() and decimal(written) is None:
            alter = -99
        if step not in tuple("CDEFGAB") or not -1 <= octave <= 10 or abs(alter) > 2:
            self._fail(
                say(
                    "a pitch cannot be read ({step}, octave {octave})",
                    step=one_line(step, 10) or "?",
                    octave=one_line(text(element, "octave"), 10),
                )
            )
        return Pitch(step, alter, octave, self.semitones)

    def _notations(self, element: etree._Element, note: RawNote) -> etree._Element | None:
        """What stands about a note; its tremolo, if it has one."""
        tremolo = None
        tags = []
        for child in element:
            tag = child.tag
            tags.append(tag)
            if tag == "slur":
                number = child.get("number", "1")
                if child.get("type") == "start":
                    note.slur_starts += (number,)
                elif child.get("type") == "stop":
                    note.slur_stops += (number,)
            elif tag == "fermata":
                note.articulations |= {Articulation.FERMATA}
            elif tag == "dynamics":
                note.dynamics += tuple(d.tag for d in child if isinstance(d.tag, str))
            elif tag in ("articulations", "technical", "ornaments"):
                signs = [sign.tag for sign in child]
                self.part.left_out.look(tag, signs, self.bar)
                if tag == "technical":
                    self._technical(child, note)
                elif tag == "ornaments":
                    tremolo = child.find("tremolo")
                else:
                    note.articulations |= {_ARTICULATIONS[t] for t in signs if t in _ARTICULATIONS}
        self.part.left_out.look("notations", tags, self.bar)
        return tremolo

    def _technical(self, element: etree._Element, note: RawNote) -> None:
        for child in element:
            if child.tag == "down-bow":
                note.mark = Direction.DOWN
            elif child.tag == "up-bow":
                note.mark = Direction.UP
            elif child.tag == "harmonic" and child.find("artificial") is None:
                self.part.left_out.count(HARMONICS, self.bar)
            elif child.tag == "fingering" and (child.text or "").strip():
                note.fingerings += ((child.text or "").strip(),)
            elif child.tag == "open-string":
                note.open_string = True
            elif child.tag == "string" and (string := only_whole(child.text)) is not None:
                note.strings += (string,)

    def _direction(self, element: etree._Element, cursor: int) -> list[RawDirection]:
        offset = element.findtext("offset")
        at_t = cursor
        if offset is not None:
            at_t = max(0, cursor + self._odd_duration(offset.strip()))
        found: list[RawDirection] = []
        kinds = [kind.tag for kind in element.iterfind("direction-type/*")]
        self.part.left_out.look("direction-type", kinds, self.bar)
        for kind in element.iterfind("direction-type/*"):
            if kind.tag == "dynamics":
                found += [RawDirection(at_t, "dynamic", d.tag) for d in kind if _is_tag(d)]
            elif kind.tag == "wedge":
                found.append(RawDirection(at_t, "wedge", kind.get("type", "")))
            elif kind.tag in ("words", "coda", "segno"):
                found.append(RawDirection(at_t, "words", (kind.text or "").strip()))
            elif kind.tag == "metronome":
                found += self._metronome(kind, at_t)
        sound = element.find("sound")
        if sound is not None:
            has_tempo = any(d.kind == "tempo" for d in found)
            found += [d for d in self._sound(sound, at_t) if d.kind != "tempo" or not has_tempo]
        return found

    @staticmethod
    def _metronome(element: etree._Element, at_t: int) -> list[RawDirection]:
        """A tempo, or how the new note value stands to the old one: quarter = dotted quarter."""
        units: list[Fraction] = []
        for child in element:
            if child.tag == "beat-unit":
                length = _BEAT_UNITS.get((child.text or "").strip())
                if length is None:
                    return []
                units.append(length)
            elif child.tag == "beat-unit-dot" and units:  # a second dot adds half of the first
                base = _BEAT_UNITS_DOTTED.get(units[-1], units[-1])
                units[-1] += base / 2
        if len(units) == 2:
            return [RawDirection(at_t, "modulation", number=float(units[1] / units[0]))]
        number = re.search(r"[0-9]{1,4}(?:[.,][0-9]{1,6})?", text(element, "per-minute"))
        if number is None or len(units) != 1:
            return []
        bpm = float(number.group().replace(",", "."))
        return [RawDirection(at_t, "tempo", "metronome", bpm * float(units[0]), units[0])]

    @staticmethod
    def _sound(element: etree._Element, at_t: int) -> list[RawDirection]:
        found = []
        bpm = decimal(element.get("tempo"))
        if bpm is not None:
            found.append(RawDirection(at_t, "tempo", "sound", bpm))
        pizzicato = element.get("pizzicato")
        if pizzicato in ("yes", "no"):
            found.append(RawDirection(at_t, "words", "pizz." if pizzicato == "yes" else "arco"))
        return found

    @staticmethod
    def _barline(element: etree._Element, measure: RawMeasure) -> None:
        repeat = element.find("repeat")
        if repeat is not None and repeat.get("direction") == "forward":
            measure.repeat_start = True
        elif repeat is not None:
            times = only_whole(repeat.get("times")) or 2
            measure.repeat_end = times if 1 <= times <= MOST_TIMES else 2
        ending = element.find("ending")
        if ending is not None and ending.get("type") == "start":
            measure.endings = _endings(ending.get("number", "")[:100])
        elif ending is not None:
            measure.ending_stops = True
        right = element.get("location", "right") == "right"
        if right and text(element, "bar-style") in ("light-light", "light-heavy", "heavy-light"):
            measure.section_end = True


def _stroke_q(tremolo: etree._Element, kind: str) -> Fraction:
    """How long each stroke of a tremolo is: a beam halves, through the stem as over the notes; 0
    where it is not measured.

    Args:
        kind: of the note, as it is written.
    """
    beams = only_whole(tremolo.text) or 0
    if tremolo.get("type") == "unmeasured" or not 1 <= beams <= MOST_BEAMS:
        return Fraction(0)
    written_q: Fraction = _BEAT_UNITS.get(kind, Fraction(1))
    return min(written_q, Fraction(1)) * Fraction(1, 2**beams)


def _endings(numbers: str) -> tuple[int, ...]:
    """The times of an ending: "1, 2", and "1-3" as other formats have it."""
    found: list[int] = []
    for first, last in re.findall(r"([0-9]{1,2})(?:\s*-\s*([0-9]{1,2}))?", numbers):
        found += range(int(first), int(last or first) + 1)
    return tuple(dict.fromkeys(found))


# What a sound element says of where to go on, by its attributes.
_GOING_ON = {
    "dacapo": Sign.CAPO,
    "dalsegno": Sign.DAL_SEGNO,
    "tocoda": Sign.TO_CODA,
    "segno": Sign.SEGNO,
    "coda": Sign.CODA,
    "fine": Sign.FINE,
}


def _signs(element: etree._Element) -> frozenset[Sign]:
    """The signs that a direction has: drawn, in words, or told to players of the file."""
    found: set[Sign] = set()
    for kind in element.iterfind("direction-type/*"):
        if kind.tag in ("coda", "segno"):
            found.add(Sign(kind.tag))
        elif kind.tag == "words":
            found |= signs_in((kind.text or "")[:200])
    sound = element.find("sound")
    if sound is not None:
        found |= _signs_of_sound(sound)
    if found & {Sign.TO_CODA, Sign.CAPO, Sign.DAL_SEGNO}:  # the sign beside the words
        found -= {Sign.CODA, Sign.SEGNO}
    return frozenset(found)


def _signs_of_sound(element: etree._Element) -> frozenset[Sign]:
    return frozenset(s for name, s in _GOING_ON.items() if element.get(name) not in (None, "no"))


def _is_tag(element: etree._Element) -> bool:
    return isinstance(element.tag, str)


def read_raw_parts(root: etree._Element, where: str) -> list[RawPart]:
    """All parts of a part-wise score, in the file's order.

    Raises:
        ScoreError: a duration, time signature or pitch that cannot be, with its place.
    """
    ids = iter(note_ids(root))
    ticks = ticks_a_quarter(root, where)
    heads = {p.get("id", ""): p for p in root.iterfind("part-list/score-part")}
    parts = []
    for k, element in enumerate(root.iterfind("part"), start=1):
        part_id = element.get("id") or f"P{k}"
        head = heads.get(part_id)
        name = text(head, "part-name") if head is not None else ""
        others = () if head is None else _other_names(head)
        program = integer(head, "midi-instrument/midi-program") if head is not None else 0
        part = RawPart(part_id, name, others, program, ticks)
        parts.append(PartReader(element, part, ids, ticks, where).read())
    return parts


def _other_names(head: etree._Element) -> tuple[str, ...]:
    paths = ("score-instrument/instrument-name", "part-abbreviation")
    sounds = "score-instrument/instrument-sound"
    return tuple(filter(None, (text(head, path) for path in (*paths, sounds))))
