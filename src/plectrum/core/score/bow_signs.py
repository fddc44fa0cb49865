"""Bow marks, and what else is asked for, written into the user's own MusicXML tree; nothing else of
it changes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from xml.parsers import expat

from lxml import etree

from plectrum.core.incoming.numbers import decimal, only_whole
from plectrum.core.score.edit import (
    append_child,
    ensure_notations,
    ensure_technical,
    insert_child,
    remove_element,
)
from plectrum.core.score.model import Direction
from plectrum.core.score.scorefile import ScoreFile, parse_record
from plectrum.core.score.slurs import rewrite_slurs
from plectrum.core.score.xml_text import note_ids

_TAGS = {Direction.DOWN: "down-bow", Direction.UP: "up-bow"}


LYRIC_NAME = "bow"  # by which a line of bow places is found again
WORDS_ID = "bow-words-"
SLUR_NUMBER = "5"  # rarely used by notation programs, so it meets no open slur
_AFTER_LYRICS = {"play", "listen"}


@dataclass(frozen=True, slots=True)
class Fingers:
    """Fingers and strings of a note or chord, the lowest pitch first; empty where none is written.
    Strings are numbered from the highest, 1, as scores have it (published standard: MusicXML)."""

    fingers: tuple[str, ...] = ()
    strings: tuple[int, ...] = ()


@dataclass(frozen=True, slots=True)
class Bowing:
    """What a plan writes into a score, by note id.

    Attributes:
        marks: direction at the first note of each bow; None removes a mark.
        bows: ids of first and last note of every bow that takes several notes.
        changed_slurs: notes at which a bow begins inside a slur or goes on without one.
        texts: words at the first note of a bow, and whether they are lyrics or words below.
        lifts: notes before which the bow is lifted.
        hooks: ids of first and last note of bows that stop inside.
        dotted: their notes beside a stop.
    """

    marks: Mapping[str, Direction | None]
    bows: Sequence[tuple[str, str]] = ()
    changed_slurs: Sequence[str] = ()
    texts: Mapping[str, str] = field(default_factory=dict)
    as_lyrics: bool = True
    lifts: Sequence[str] = ()
    hooks: Sequence[tuple[str, str]] = ()
    dotted: Sequence[str] = ()
    fingers: Mapping[str, Fingers] = field(default_factory=dict)


def write_bowing(score: ScoreFile, bowings: Mapping[str, Bowing]) -> bytes:
    """The document of record with bow marks set, and slurs where the plan changes them.

    Args:
        bowings: part id to what is written into it.

    Returns:
        MusicXML in the encoding, with the declaration and doctype, that the file had.
    """
    tree = parse_record(score.xml, score.name)
    root = tree.getroot()
    by_id = dict(zip(note_ids(root), root.iter("note"), strict=True))
    for part_id, bowing in bowings.items():
        for note_id, direction in bowing.marks.items():
            _set_mark(by_id[note_id], direction)
        elements = list(root.iterfind(f"part[@id='{part_id}']/measure/note"))
        if bowing.changed_slurs:
            places = {element: k for k, element in enumerate(elements)}
            place = {note_id: places[e] for note_id, e in by_id.items() if e in places}
            rewrite_slurs(
                elements,
                [(place[first], place[last]) for first, last in bowing.bows],
                [place[note_id] for note_id in bowing.changed_slurs],
            )
        _write_more(bowing, by_id, elements, part_id)
    return serialise(tree, score.xml)


def _write_more(
    bowing: Bowing,
    by_id: Mapping[str, etree._Element],
    elements: Sequence[etree._Element],
    part_id: str,
) -> None:
    """What is written only by wish."""
    if bowing.texts:
        _forget_texts(elements)
    for number, (note_id, text) in enumerate(bowing.texts.items(), start=1):
        if bowing.as_lyrics:
            _add_lyric(by_id[note_id], text)
        else:
            _add_words(by_id[note_id], text, f"{WORDS_ID}{part_id}-{number}")
    for note_id in bowing.lifts:
        _add_articulation(_before(by_id[note_id]), "breath-mark")
    for note_id in bowing.dotted:
        _add_articulation(by_id[note_id], "staccato")
    for first, last in bowing.hooks:
        for note_id, kind in ((first, "start"), (last, "stop")):
            slur = etree.Element("slur", {"type": kind, "number": SLUR_NUMBER})
            append_child(ensure_notations(by_id[note_id]), slur)
    for note_id, fingers in bowing.fingers.items():
        _add_fingers(by_id[note_id], fingers)


def _forget_texts(elements: Sequence[etree._Element]) -> None:
    """The texts of an earlier plan go."""
    for note in elements:
        for lyric in note.findall(f"lyric[@name='{LYRIC_NAME}']"):
            remove_element(lyric)
    for measure in {note.getparent(): None for note in elements}:
        for direction in [] if measure is None else measure.findall("direction"):
            words = direction.findall("direction-type/words")
            if any(w.get("id", "").startswith(WORDS_ID) for w in words):
                remove_element(direction)


def _add_lyric(note: etree._Element, text: str) -> None:
    taken = [int(n) for lyric in note.findall("lyric") if (n := lyric.get("number", "1")).isdigit()]
    lyric = etree.Element("lyric", {"number": str(max(taken, default=0) + 1), "name": LYRIC_NAME})
    etree.SubElement(lyric, "syllabic").text = "single"
    etree.SubElement(lyric, "text").text = text
    position = next((k for k, c in enumerate(note) if c.tag in _AFTER_LYRICS), len(note))
    insert_child(note, lyric, position)


def _add_words(note: etree._Element, text: str, own_id: str) -> None:
    measure = note.getparent()
    if measure is None:
        return
    direction = etree.Element("direction", {"placement": "below"})
    kind = etree.SubElement(direction, "direction-type")
    etree.SubElement(kind, "words", {"id": own_id}).text = text
    for tag in ("voice", "staff"):
        found = note.find(tag)
        if found is not None:
            etree.SubElement(direction, tag).text = found.text
    insert_child(measure, direction, measure.index(note))


def _before(note: etree._Element) -> etree._Element:
    """The note or rest before, of the same voice and no member of a chord; the note itself where
    it is the first."""
    voice = note.findtext("voice")
    before = note.getprevious()
    while before is not None:
        if (
            before.tag == "note"
            and before.find("chord") is None
            and before.findtext("voice") == voice
        ):
            return before
        before = before.getprevious()
    measure = note.getparent()
    earlier = measure.getprevious() if measure is not None else None
    notes = [] if earlier is None else earlier.findall("note")
    fitting = [n for n in notes if n.find("chord") is None and n.findtext("voice") == voice]
    return fitting[-1] if fitting else note


def _add_articulation(note: etree._Element, tag: str) -> None:
    notations = ensure_notations(note)
    articulations = notations.find("articulations")
    if articulations is None:
        articulations = etree.Element("articulations")
        append_child(notations, articulations)
    if articulations.find(tag) is None:
        sign = etree.Element(tag)
        sign.text = "comma" if tag == "breath-mark" else None
        append_child(articulations, sign)


def _add_fingers(note: etree._Element, fingers: Fingers) -> None:
    """Each sign at the note of the chord that it is for."""
    members = [note]
    following = note.getnext()
    while following is not None and following.tag == "note" and following.find("chord") is not None:
        members.append(following)
        following = following.getnext()
    members = sorted((m for m in members if m.find("pitch") is not None), key=_height)
    for tag, values in (("fingering", fingers.fingers), ("string", fingers.strings)):
        if len(values) != len(members):
            continue  # a chord that reaches over voices: which note is meant would be guessed
        for member, value in zip(members, values, strict=True):
            technical = ensure_technical(member)
            if technical.find(tag) is None:
                sign = etree.Element(tag)
                sign.text = str(value)
                append_child(technical, sign)


def _height(note: etree._Element) -> tuple[int, int, float]:
    """What notes of one chord are sorted by: octave, step, alteration."""
    step = "CDEFGAB".find((note.findtext("pitch/step") or "C").strip())
    octave = only_whole(note.findtext("pitch/octave")) or 0
    return octave, step, decimal(note.findtext("pitch/alter")) or 0.0


def serialise(tree: etree._ElementTree, original: bytes) -> bytes:
    """The tree as bytes; what stood before and after its root in the file stands there still."""
    encoding = tree.docinfo.encoding or "UTF-8"
    root = tree.getroot()
    span = root_span(original, root.tag)
    if span is None:
        return _as_bytes(etree.tostring(tree, encoding=encoding, xml_declaration=True))
    body = etree.tostring(root, encoding=encoding, xml_declaration=False, with_tail=False)
    return original[: span[0]] + _as_bytes(body) + original[span[1] :]


def root_span(data: bytes, tag: str) -> tuple[int, int] | None:
    """First byte of a document's root element, and the first byte after it.

    Comments, processing instructions and the doctype may hold anything, the root's name too, so
    that a parser has to tell.

    Returns:
        None where the root is another element, or the encoding has bytes that are no characters.
    """
    if data.startswith((b"\xff\xfe", b"\xfe\xff")):
        return None
    parser = expat.ParserCreate()
    found: list[int] = []
    depth = 0

    def begin(name: str, _attributes: object) -> None:
        nonlocal depth
        if depth == 0 and name == tag:
            found.append(parser.CurrentByteIndex)
        depth += 1

    def end(_name: str) -> None:
        nonlocal depth
        depth -= 1
        if depth == 0:
            found.append(data.index(b">", parser.CurrentByteIndex) + 1)

    parser.StartElementHandler, parser.EndElementHandler = begin, end
    try:
        parser.Parse(data, True)
    except (expat.ExpatError, LookupError, ValueError):
        return None
    return (found[0], found[1]) if len(found) == 2 else None


def _as_bytes(text: str | bytes) -> bytes:
    return text.encode() if isinstance(text, str) else text


def _set_mark(note: etree._Element, direction: Direction | None) -> None:
    present = [m for tag in _TAGS.values() for m in note.iterfind(f"notations/technical/{tag}")]
    wanted = None if direction is None else _TAGS[direction]
    if wanted is not None and [m.tag for m in present] == [wanted]:
        return
    if present and wanted is not None:
        present[0].tag = wanted
        present = present[1:]
    elif wanted is not None:
        append_child(ensure_technical(note), etree.Element(wanted))
    for mark in present:
        remove_element(mark)
