"""Bow marks written into the user's own MusicXML tree; nothing else of it changes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from xml.parsers import expat

from lxml import etree

from plectrum.core.score.edit import append_child, ensure_technical, remove_element
from plectrum.core.score.model import Direction
from plectrum.core.score.raw import note_ids
from plectrum.core.score.scorefile import ScoreFile, parse_record
from plectrum.core.score.slurs import rewrite_slurs

_TAGS = {Direction.DOWN: "down-bow", Direction.UP: "up-bow"}


@dataclass(frozen=True, slots=True)
class Bowing:
    """What a plan writes into a score, by note id.

    Attributes:
        marks: direction at the first note of each bow; None removes a mark.
        bows: ids of first and last note of every bow that takes several notes.
        changed_slurs: notes at which a bow begins inside a slur or goes on without one.
    """

    marks: Mapping[str, Direction | None]
    bows: Sequence[tuple[str, str]] = ()
    changed_slurs: Sequence[str] = ()


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
        if bowing.changed_slurs:
            elements = list(root.iterfind(f"part[@id='{part_id}']/measure/note"))
            places = {element: k for k, element in enumerate(elements)}
            place = {note_id: places[e] for note_id, e in by_id.items() if e in places}
            rewrite_slurs(
                elements,
                [(place[first], place[last]) for first, last in bowing.bows],
                [place[note_id] for note_id in bowing.changed_slurs],
            )
    return serialise(tree, score.xml)


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
