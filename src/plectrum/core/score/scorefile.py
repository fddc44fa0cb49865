"""A score in memory: the document of record, and parts read from it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

from lxml import etree

from plectrum.core.errors import ScoreError
from plectrum.core.plain_text import one_line
from plectrum.core.score import guards
from plectrum.core.score.model import Part
from plectrum.core.score.part_reader import read_raw_parts
from plectrum.core.score.parts import PartBuilder, guess_for
from plectrum.core.score.raw import RawPart
from plectrum.core.wording import say, tr


@dataclass(frozen=True, slots=True)
class PartInfo:
    """What the part list shows before a part is chosen."""

    id: str
    name: str
    instrument: str | None
    notes_n: int


@dataclass(frozen=True, slots=True)
class ScoreFile:
    """The document of record: MusicXML bytes, and the parts found in them."""

    name: str
    title: str
    xml: bytes
    parts: tuple[PartInfo, ...]
    source: str = "musicxml"

    def part_named(self, wanted: str | None) -> PartInfo:
        """A part by its name, id or number from 1; with None the first for a string instrument.

        Raises:
            ScoreError: no such part, or none for a string instrument.
        """
        listing = ", ".join(f"{k} {p.name}" for k, p in enumerate(self.parts, start=1))
        if wanted is None:
            for part in self.parts:
                if part.instrument is not None:
                    return part
            if all(p.notes_n == 0 for p in self.parts):
                raise ScoreError(tr("the score has no notes to bow"), where=self.name)
            raise ScoreError(
                tr("no part is for violin, viola, cello or bass"),
                where=self.name,
                remedy=say(
                    "Open it for an instrument of your choice (parts: {parts})", parts=listing
                ),
            )
        for k, part in enumerate(self.parts, start=1):
            if wanted in (part.id, str(k)) or wanted.lower() == part.name.lower():
                return part
        raise ScoreError(
            say("there is no part {wanted!r} (parts: {parts})", wanted=wanted, parts=listing),
            where=self.name,
        )


def score_from_xml(data: bytes, name: str, source: str = "musicxml") -> ScoreFile:
    """A score from MusicXML bytes.

    Args:
        data: the document of record.
        name: what messages call it.
        source: the format it came from.

    Raises:
        ScoreError: whatever is wrong with it, in one line.
    """
    title, raw = _read_record(data, name)
    parts = tuple(_info(part, k) for k, part in enumerate(raw, start=1))
    return ScoreFile(name, title or Path(name).stem, data, parts, source)


@lru_cache(maxsize=4)
def _read_record(xml: bytes, name: str) -> tuple[str, Sequence[RawPart]]:
    """Title and raw parts of a document of record; read once for listing and for planning."""
    tree = parse_record(xml, name)
    return _title(tree), read_raw_parts(tree.getroot(), name)


def parse_record(xml: bytes, name: str) -> etree._ElementTree:
    """A fresh tree of a document of record."""
    return guards.as_partwise(guards.parse_xml(xml, name), name)


def read_part(
    score: ScoreFile, part_id: str, instrument: str | None = None, *, empty: bool = False
) -> Part:
    """The notes of one part, in order.

    Args:
        empty: a part without notes is good too: a tune about to be typed.

    Raises:
        ScoreError: the part has no notes, or its instrument is neither given nor known.
    """
    info = score.part_named(part_id)
    if info.notes_n == 0 and not empty:
        raise ScoreError(
            say("part {name!r} has no notes to bow", name=info.name),
            where=score.name,
            remedy=tr("Choose another"),
        )
    _, raw = _read_record(score.xml, score.name)
    chosen = next(p for p in raw if p.id == info.id)
    part = PartBuilder(raw, chosen, instrument, info.name).build()
    if part.instrument is None:
        raise ScoreError(
            say("part {name!r} does not look like violin, viola, cello or bass", name=info.name),
            where=score.name,
            remedy=tr("Open it for an instrument, or choose another part"),
        )
    return part


def ids_of_notes(score: ScoreFile) -> set[str]:
    """The ids of the notes of all parts."""
    _, raw = _read_record(score.xml, score.name)
    return {note.id for part in raw for measure in part.measures for note in measure.notes}


def _info(part: RawPart, number: int) -> PartInfo:
    notes_n = sum(1 for m in part.measures for n in m.notes if n.pitch is not None)
    return PartInfo(
        part.id, part.name or say("Part {number}", number=number), guess_for(part), notes_n
    )


def _title(tree: etree._ElementTree) -> str:
    root = tree.getroot()
    for path in ("work/work-title", "movement-title"):
        found = one_line(root.findtext(path) or "")
        if found:
            return found
    return ""
