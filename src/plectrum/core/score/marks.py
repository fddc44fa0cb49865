"""Bow marks written into the user's own MusicXML tree; nothing else of it changes."""

from __future__ import annotations

from collections.abc import Mapping

from lxml import etree

from plectrum.core.score.model import Direction
from plectrum.core.score.raw import note_ids
from plectrum.core.score.scorefile import ScoreFile, parse_record

_TAGS = {Direction.DOWN: "down-bow", Direction.UP: "up-bow"}
# What may stand before <technical> inside <notations>, in the standard's order.
_BEFORE_NOTATIONS = {
    "lyric",
    "play",
    "listen",
}


def write_bow_marks(score: ScoreFile, marks: Mapping[str, Direction | None]) -> bytes:
    """The document of record with bow marks set.

    Args:
        score: the score; it is not changed.
        marks: note id to direction; None removes a mark. Notes not named keep theirs.

    Returns:
        MusicXML in the encoding, with the declaration and doctype, that the file had.
    """
    tree = parse_record(score.xml, score.name)
    root = tree.getroot()
    ids = note_ids(root)
    for element, note_id in zip(root.iter("note"), ids, strict=True):
        if note_id in marks:
            _set_mark(element, marks[note_id])
    return serialise(tree, score.xml)


def serialise(tree: etree._ElementTree, original: bytes) -> bytes:
    """The tree as bytes, with the very declaration, doctype and comments the file began with."""
    encoding = tree.docinfo.encoding or "UTF-8"
    head, found, _ = original.partition(b"<score-partwise")
    if not found or encoding.upper().startswith("UTF-16"):
        done: bytes = etree.tostring(tree, encoding=encoding, xml_declaration=True)
        return done
    body: bytes = etree.tostring(tree.getroot(), encoding=encoding, xml_declaration=False)
    closing = original[original.rfind(b">") + 1 :]
    return head + body + closing


def _set_mark(note: etree._Element, direction: Direction | None) -> None:
    present = [m for tag in _TAGS.values() for m in note.iterfind(f"notations/technical/{tag}")]
    wanted = None if direction is None else _TAGS[direction]
    if wanted is not None and [m.tag for m in present] == [wanted]:
        return
    if present and wanted is not None:
        present[0].tag = wanted
        present = present[1:]
    elif wanted is not None:
        _append_child(_technical(note), etree.Element(wanted))
    for mark in present:
        _remove(mark)


def _technical(note: etree._Element) -> etree._Element:
    notations = note.find("notations")
    if notations is None:
        notations = etree.Element("notations")
        position = next(
            (k for k, child in enumerate(note) if child.tag in _BEFORE_NOTATIONS), len(note)
        )
        _insert_child(note, notations, position)
    technical = notations.find("technical")
    if technical is None:
        technical = etree.Element("technical")
        _append_child(notations, technical)
    return technical


def _append_child(parent: etree._Element, child: etree._Element) -> None:
    _insert_child(parent, child, len(parent))


def _insert_child(parent: etree._Element, child: etree._Element, position: int) -> None:
    """Insert an element so that the file's own indentation goes on around it."""
    if position > 0:
        before = parent[position - 1]
        child.tail = before.tail
        before.tail = parent.text if len(parent) > 1 or parent.text else before.tail
        if position < len(parent):
            before.tail = child.tail
    elif len(parent):
        child.tail = parent.text
    else:
        child.tail = _closing_space(parent)
        parent.text = None if child.tail is None else child.tail + _indent_unit(parent)
    parent.insert(position, child)


def _closing_space(parent: etree._Element) -> str | None:
    """The line break and indent before this element's own closing tag."""
    before = parent.getprevious()
    outer = parent.getparent()
    space = before.tail if before is not None else (outer.text if outer is not None else None)
    return space if space and not space.strip() and "\n" in space else None


def _indent_unit(parent: etree._Element) -> str:
    outer = parent.getparent()
    inner = _closing_space(parent) or ""
    around = _closing_space(outer) or "" if outer is not None else ""
    return inner[len(around) :] if inner.startswith(around) else "  "


def _remove(mark: etree._Element) -> None:
    """Take a mark out, and the elements that held nothing else."""
    parent = mark.getparent()
    if parent is None:
        return
    before = mark.getprevious()
    if before is not None:
        before.tail = mark.tail if mark.getnext() is None else before.tail
    elif mark.getnext() is None:
        parent.text = None
    parent.remove(mark)
    if len(parent) == 0 and parent.tag in ("technical", "notations") and not parent.attrib:
        _remove(parent)
