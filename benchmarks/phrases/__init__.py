"""Agreed phrases: short lines of plain music whose bowing teachers agree on (common practice, no
source), in ABC beside this file, to learn from and to be held against.

Signs stand only where teachers agree; no two phrases have one rhythm. `plain.abc` came first, the
others are named for their instruments.
"""

from __future__ import annotations

import re
import zlib
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

from lxml import etree

from plectrum.core.document.document import Document
from plectrum.core.score.model import Direction
from plectrum.core.score.reading.abc_child import convert
from plectrum.core.score.reading.opening import open_score

FOLDS_N = 4
_BASS = "clef=bass"


@dataclass(frozen=True)
class Marked:
    """A tune without its marks, and the marks by note id."""

    name: str
    document: Document
    marks: dict[str, Direction]

    @property
    def fold(self) -> int:
        """Which part of the phrases it belongs to; each is judged by what the others teach."""
        return zlib.crc32(self.name.encode()) % FOLDS_N


def agreed_phrases() -> list[Marked]:
    """All phrases, in order."""
    return [
        phrase
        for path in sorted(Path(__file__).parent.glob("*.abc"))
        for phrase in _phrases_of(path)
    ]


def _phrases_of(path: Path) -> Iterator[Marked]:
    for text in re.split(r"\n(?=X:)", path.read_text("utf-8"))[1:]:
        title = re.search(r"^T:(.*)$", text, re.MULTILINE)
        name = "" if title is None else title[1].strip()
        instrument = path.stem
        if instrument == "plain":
            instrument = "cello" if _BASS in text else "violin"
        yield marked(convert(text.encode()), name, instrument)


def marked(xml: bytes, name: str, instrument: str | None = None, *, carried: bool = True) -> Marked:
    """A score with its marks taken off.

    Args:
        carried: whether what a word such as *segue* carries on counts as well.

    Raises:
        PlectrumError: it cannot be read.
    """
    xml = xml if carried else _without_words(xml)
    printed = Document.from_score(open_score(xml, name), instrument=instrument).part
    marks = {n.id: n.mark for n in printed.notes if n.mark is not None}
    tree = etree.fromstring(xml)
    for mark in [*tree.iter("up-bow"), *tree.iter("down-bow")]:
        mark.getparent().remove(mark)
    bare: bytes = etree.tostring(tree)
    return Marked(name, Document.from_score(open_score(bare, name), instrument=instrument), marks)


def _without_words(xml: bytes) -> bytes:
    tree = etree.fromstring(xml)
    for words in tree.iter("words"):
        words.text = ""
    bare: bytes = etree.tostring(tree)
    return bare
