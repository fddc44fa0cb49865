"""Bow marks written into the user's own MusicXML tree; nothing else of it changes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

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


def write_bowing(score: ScoreFile, part_id: str, bowing: Bowing) -> bytes:
    """The document of record with bow marks set, and slurs where the plan changes them.

    Returns:
        MusicXML in the encoding, with the declaration and doctype, that the file had.
    """
    tree = parse_record(score.xml, score.name)
    root = tree.getroot()
    by_id = dict(zip(note_ids(root), root.iter("note"), strict=True))
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
    """The tree as bytes, with the very declaration, doctype and comments the file began with."""
    encoding = tree.docinfo.encoding or "UTF-8"
    head, found, _ = original.partition(b"<score-partwise")
    if not found or encoding.upper().startswith("UTF-16"):
        return _as_bytes(etree.tostring(tree, encoding=encoding, xml_declaration=True))
    body = _as_bytes(etree.tostring(tree.getroot(), encoding=encoding, xml_declaration=False))
    closing = original[original.rfind(b">") + 1 :]
    return head + body + closing


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
