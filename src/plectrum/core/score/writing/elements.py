"""Small pieces of MusicXML: children of a note in the standard's order, rests, ties, tuplets,
beams, accidentals, and what attributes say."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from itertools import groupby

from lxml import etree

from plectrum.core.incoming.numbers import decimal, only_whole, whole
from plectrum.core.score.edit import insert_child, remove_element
from plectrum.core.score.metre import counted_groups
from plectrum.core.score.model import STEP_SEMITONES, Metre, Pitch
from plectrum.core.score.writing.values import BASES, Value
from plectrum.core.score.xml_text import integer

# Children of <note> in the order of MusicXML 4.0 (published standard).
NOTE_ORDER = (
    "grace", "cue", "chord", "pitch", "rest", "unpitched", "duration", "tie", "instrument",
    "footnote", "level", "voice", "type", "dot", "accidental", "time-modification", "stem",
    "notehead", "notehead-text", "staff", "beam", "notations", "lyric", "play", "listen",
)  # fmt: skip
_RANK = {tag: k for k, tag in enumerate(NOTE_ORDER)}
_ACCIDENTALS = {-2: "flat-flat", -1: "flat", 0: "natural", 1: "sharp", 2: "double-sharp"}
_SHARPS = "FCGDAEB"


def element(tag: str, text: str | None = None, **attributes: str) -> etree._Element:
    """A new element; an underscore in an attribute's name stands for a hyphen."""
    made = etree.Element(tag, {k.rstrip("_").replace("_", "-"): v for k, v in attributes.items()})
    made.text = text
    return made


def put(note: etree._Element, child: etree._Element) -> None:
    """Put a child of a note where the standard wants it, after its like."""
    rank = _RANK[str(child.tag)]
    place = sum(1 for c in note if _RANK.get(str(c.tag), 99) <= rank)
    insert_child(note, child, place)


def drop(note: etree._Element, *tags: str) -> None:
    """Take all children of these kinds out of a note."""
    for tag in tags:
        for child in note.findall(tag):
            remove_element(child)


def set_value(note: etree._Element, value: Value, divisions: int) -> None:
    """Write how long a note lasts."""
    drop(note, "duration", "type", "dot", "time-modification")
    put(note, element("duration", str(int(value.length_q * divisions))))
    put(note, element("type", value.type))
    for _ in range(value.dots):
        put(note, element("dot"))
    if value.tuplet is not None:
        change = element("time-modification")
        change.append(element("actual-notes", str(value.tuplet[0])))
        change.append(element("normal-notes", str(value.tuplet[1])))
        put(note, change)


def value_of(note: etree._Element, length_q: Fraction) -> Value | None:
    """The written value of a note, None where the page does not say or says nonsense."""
    base_q = BASES.get((note.findtext("type") or "").strip())
    dots = len(note.findall("dot"))
    if base_q is None or dots > 2:
        return None
    tuplet = None
    change = note.find("time-modification")
    if change is not None:
        try:
            tuplet = (
                whole(change.findtext("actual-notes")) or 0,
                whole(change.findtext("normal-notes")) or 0,
            )
        except ValueError:
            return None
        if min(tuplet) < 1:
            return None
    value = Value(base_q, dots, tuplet)
    return value if value.length_q == length_q else None


def set_pitch(note: etree._Element, pitch: Pitch) -> None:
    """Write a pitch, in place of a pitch or a rest."""
    drop(note, "pitch", "rest", "unpitched", "accidental")
    made = element("pitch")
    made.append(element("step", pitch.step))
    if pitch.alter:
        made.append(element("alter", str(pitch.alter)))
    made.append(element("octave", str(pitch.octave)))
    put(note, made)


def pitch_of(note: etree._Element) -> Pitch | None:
    """The written pitch of a note; None for a rest."""
    found = note.find("pitch")
    if found is None:
        return None
    step = (found.findtext("step") or "C").strip().upper()
    octave = whole(found.findtext("octave"))
    octave = 4 if octave is None else octave
    alter = round(decimal(found.findtext("alter")) or 0)
    return Pitch(step, alter, octave)


def key_alter(step: str, fifths: int) -> int:
    """What a key signature does to a step: 1 sharp, -1 flat, 0 neither."""
    if fifths > 0:
        return int(step in _SHARPS[:fifths])
    return -int(step in _SHARPS[::-1][:-fifths]) if fifths < 0 else 0


def diatonic_step(pitch: Pitch, steps: int, fifths: int) -> Pitch:
    """The pitch so many steps up the scale of a key."""
    letters = tuple(STEP_SEMITONES)
    place = letters.index(pitch.step) + 7 * pitch.octave + steps
    letter = letters[place % 7]
    return Pitch(letter, key_alter(letter, fifths), place // 7)


def show_accidentals(notes: Sequence[etree._Element], fifths: int) -> None:
    """Set the accidentals of one bar as a reader needs them: where a note differs from the key
    and from what stood before it in the bar."""
    state: dict[tuple[str, int], int] = {}
    for note in notes:
        pitch = pitch_of(note)
        if pitch is None:
            continue
        place = pitch.step, pitch.octave
        before = state.get(place, key_alter(pitch.step, fifths))
        tied = any(t.get("type") == "stop" for t in note.findall("tie"))
        drop(note, "accidental")
        if pitch.alter != before and not tied:
            put(note, element("accidental", _ACCIDENTALS[pitch.alter]))
        if not tied:
            state[place] = pitch.alter


def set_beams(chords: Sequence[tuple[Fraction, Value, etree._Element, bool]], metre: Metre) -> None:
    """Beam the notes of one bar, each beat by itself.

    Args:
        chords: onset in the bar in quarters, value, first note, and whether it is a rest.
    """
    for _, _, note, _ in chords:
        drop(note, "beam")
    starts = _beat_starts(metre)

    def beat(onset_q: Fraction) -> int:
        return sum(1 for s in starts if s <= onset_q)

    for _, members in groupby(chords, key=lambda c: (beat(c[0]), c[3] or c[1].flags_n == 0)):
        run = list(members)
        if len(run) > 1 and not run[0][3] and run[0][1].flags_n:
            _beam_run([(value.flags_n, note) for _, value, note, _ in run])


def _beat_starts(metre: Metre) -> list[Fraction]:
    groups = counted_groups(metre)
    return [sum(groups[:k]) * metre.unit_q for k in range(len(groups))]


def _beam_run(run: Sequence[tuple[int, etree._Element]]) -> None:
    for level in range(1, max(flags for flags, _ in run) + 1):
        for k, (flags, note) in enumerate(run):
            if flags < level:
                continue
            before = k > 0 and run[k - 1][0] >= level
            after = k + 1 < len(run) and run[k + 1][0] >= level
            word = {
                (False, True): "begin",
                (True, True): "continue",
                (True, False): "end",
                (False, False): "backward hook" if k else "forward hook",
            }[before, after]
            put(note, element("beam", word, number=str(level)))


def metre_in(child: etree._Element, before: Metre) -> Metre:
    """The metre an element sets, else the one before."""
    time = child.find("time") if child.tag == "attributes" else None
    if time is None or time.find("beats") is None:
        return before
    groups = tuple(only_whole(part) or 4 for part in (time.findtext("beats") or "4").split("+"))
    return Metre(groups, only_whole(time.findtext("beat-type")) or 4)


def fifths_in(measure: etree._Element, before: int) -> int:
    """The key signature a bar sets, in fifths, else the one before."""
    key = measure.find("attributes/key")
    return before if key is None else integer(key, "fifths")


def show_part_accidentals(part: etree._Element) -> None:
    """Set the accidentals of every bar of a part anew."""
    fifths = 0
    for measure in part.iterfind("measure"):
        fifths = fifths_in(measure, fifths)
        show_accidentals(list(measure.iterfind("note")), fifths)


def new_rest(note_id: str) -> etree._Element:
    """A rest that flowing will give its length."""
    note = element("note", id=note_id)
    note.append(element("rest"))
    return note


def fresh_id(taken: set[str]) -> str:
    """A note id that is not taken; it is then."""
    k = len(taken) + 1
    while f"t{k}" in taken:
        k += 1
    taken.add(f"t{k}")
    return f"t{k}"


def tie_types(note: etree._Element) -> set[str]:
    return {tie.get("type", "") for tie in note.findall("tie")}


def set_ties(note: etree._Element, wanted: set[str]) -> None:
    """Make a note's ties these: "start", "stop", both or none."""
    drop(note, "tie")
    for tied in note.findall("notations/tied"):
        remove_element(tied)
    for kind in ("stop", "start"):
        if kind in wanted:
            put(note, element("tie", type=kind))
            notations = note.find("notations")
            if notations is None:
                notations = element("notations")
                put(note, notations)
            notations.insert(0, element("tied", type=kind))


def bracket_tuplets(chords: list[tuple[Fraction, Value, etree._Element, bool]]) -> None:
    """A bracket or number over every full group of a tuplet."""
    for _, _, note, _ in chords:
        for sign in note.findall("notations/tuplet"):
            remove_element(sign)
    run: list[etree._Element] = []
    length_q = Fraction(0)
    for _, value, note, _ in chords:
        if value.tuplet is None:
            run, length_q = [], Fraction(0)
            continue
        run.append(note)
        length_q += value.length_q
        if (length_q / value.tuplet[1]).denominator in (1, 2, 4, 8) and len(run) > 1:
            for note_, kind in ((run[0], "start"), (run[-1], "stop")):
                notations = note_.find("notations")
                if notations is None:
                    notations = element("notations")
                    put(note_, notations)
                notations.append(element("tuplet", type=kind))
            run, length_q = [], Fraction(0)
