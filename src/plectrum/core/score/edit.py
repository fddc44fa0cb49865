"""Small edits of a MusicXML tree that keep the file's own indentation."""

from __future__ import annotations

from lxml import etree

# What stands after <notations> inside <note>, in the standard's order.
_AFTER_NOTATIONS = {"lyric", "play", "listen"}
_DROPPED_WHEN_EMPTY = ("technical", "notations")


def ensure_notations(note: etree._Element) -> etree._Element:
    """The note's `<notations>`, made if it has none."""
    notations = note.find("notations")
    if notations is None:
        notations = etree.Element("notations")
        position = next(
            (k for k, child in enumerate(note) if child.tag in _AFTER_NOTATIONS), len(note)
        )
        insert_child(note, notations, position)
    return notations


def ensure_technical(note: etree._Element) -> etree._Element:
    """The note's `<technical>`, made if it has none."""
    notations = ensure_notations(note)
    technical = notations.find("technical")
    if technical is None:
        technical = etree.Element("technical")
        append_child(notations, technical)
    return technical


def append_child(parent: etree._Element, child: etree._Element) -> None:
    """Put a child last."""
    insert_child(parent, child, len(parent))


def insert_child(parent: etree._Element, child: etree._Element, position: int) -> None:
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


def remove_element(mark: etree._Element) -> None:
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
    if len(parent) == 0 and parent.tag in _DROPPED_WHEN_EMPTY and not parent.attrib:
        remove_element(parent)
