"""What elements of MusicXML say: their ids, their text, their whole numbers."""

from __future__ import annotations

import re

from lxml import etree

from plectrum.core.incoming.numbers import whole
from plectrum.core.plain_text import plain

_NAME = re.compile(r"[A-Za-z_][A-Za-z0-9_.-]*\Z")


def note_ids(root: etree._Element) -> list[str]:
    """An id for every `<note>` in document order: its own if sound and unique, else n1, n2 …"""
    own = [note.get("id", "") for note in root.iter("note")]
    seen: dict[str, int] = {}
    for name in own:
        seen[name] = seen.get(name, 0) + 1
    taken = set(own)
    ids = []
    for k, name in enumerate(own, start=1):
        if seen[name] == 1 and _NAME.match(name):
            ids.append(name)
            continue
        fresh = f"n{k}"
        while fresh in taken:
            fresh += "x"
        taken.add(fresh)
        ids.append(fresh)
    return ids


def text(element: etree._Element, path: str, default: str = "") -> str:
    """The stripped text of a child, plain, or the default."""
    return plain(element.findtext(path) or default).strip()


def integer(element: etree._Element, path: str, default: int = 0) -> int:
    """A child's text as a whole number; the default where it is missing or nonsense."""
    found = whole(element.findtext(path))
    return default if found is None else found
