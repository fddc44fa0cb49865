"""Copies of a part, as parts of their own: for other instruments, or changed."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from copy import deepcopy
from dataclasses import dataclass

from lxml import etree

from plectrum.core.errors import ScoreError
from plectrum.core.instrument.specification import instrument
from plectrum.core.score.edit import remove_element
from plectrum.core.score.scorefile import ScoreFile, parse_record, score_from_xml
from plectrum.core.score.writing.elements import element
from plectrum.core.score.writing.whole_edits import set_attribute
from plectrum.core.score.xml_text import note_ids
from plectrum.core.wording import say

_OF_A_HAND = ("fingering", "string", "open-string", "thumb-position")


@dataclass(frozen=True, slots=True)
class Copy:
    """A part made of another.

    Attributes:
        name: of the part. suffix: put after the ids of its notes.
        instrument: whose clef and octave it is written in; empty for those of the part copied.
        change: what is done to the copied element.
    """

    name: str
    suffix: str
    instrument: str
    change: Callable[[etree._Element], None]


def copies_of(score: ScoreFile, part_id: str, copies: Sequence[Copy], title: str) -> ScoreFile:
    """A score of copies of one part, and of nothing else; their ids are P1, P2 …

    Raises:
        ScoreError: no such part.
    """
    tree, source = _opened(score, part_id)
    root = tree.getroot()
    made = [_copied(source, copy, f"P{k}") for k, copy in enumerate(copies, start=1)]
    for part in root.findall("part"):
        root.remove(part)
    for heads in root.iterfind("part-list"):
        for head in list(heads):
            heads.remove(head)
        for k, copy in enumerate(copies, start=1):
            heads.append(_head(copy, f"P{k}"))
    for part in made:
        root.append(part)
    return _written(tree, title)


def with_copy(score: ScoreFile, part_id: str, copy: Copy) -> tuple[ScoreFile, str]:
    """The score with a copy of one of its parts under it, and the copy's id.

    Raises:
        ScoreError: no such part.
    """
    tree, source = _opened(score, part_id)
    root = tree.getroot()
    taken = {part.get("id") for part in root.iterfind("part")}
    number = len(taken) + 1
    while f"P{number}" in taken:
        number += 1
    new_id = f"P{number}"
    source.addnext(_copied(source, copy, new_id))
    head = next(h for h in root.iterfind("part-list/score-part") if h.get("id") == source.get("id"))
    head.addnext(_head(copy, new_id))
    return _written(tree, score.name), new_id


def _opened(score: ScoreFile, part_id: str) -> tuple[etree._ElementTree, etree._Element]:
    tree = parse_record(score.xml, score.name)
    root = tree.getroot()
    for note, note_id in zip(root.iter("note"), note_ids(root), strict=True):
        note.set("id", note_id)
    source = next((p for p in root.iterfind("part") if p.get("id") == part_id), None)
    if source is None or root.find("part-list") is None:
        raise ScoreError(say("there is no part {part!r}", part=part_id), where=score.name)
    return tree, source


def _copied(source: etree._Element, copy: Copy, part_id: str) -> etree._Element:
    part = deepcopy(source)
    part.set("id", part_id)
    for marked in part.iter():
        if isinstance(marked.tag, str) and marked is not part and "id" in marked.attrib:
            if marked.tag == "note":
                marked.set("id", f"{marked.get('id')}{copy.suffix}")
            else:
                del marked.attrib["id"]
    copy.change(part)
    if copy.instrument:
        _write_for(part, copy.instrument)
    return part


def _write_for(part: etree._Element, name: str) -> None:
    """Clef and transposition of an instrument; what belongs to another's hand goes."""
    own = instrument(name)
    for tag in ("clef", "transpose", *_OF_A_HAND):
        for found in list(part.iter(tag)):
            remove_element(found)
    attributes = part.find("measure/attributes")
    if attributes is None:
        return
    sign, line = own.clef
    clef = element("clef")
    clef.append(element("sign", sign))
    clef.append(element("line", str(line)))
    set_attribute(attributes, clef)
    if own.written_above_semitones:
        transpose = element("transpose")
        transpose.append(element("chromatic", "0"))
        transpose.append(element("octave-change", str(-own.written_above_semitones // 12)))
        attributes.append(transpose)


def _head(copy: Copy, part_id: str) -> etree._Element:
    head = element("score-part", id=part_id)
    head.append(element("part-name", copy.name))
    return head


def _written(tree: etree._ElementTree, name: str) -> ScoreFile:
    data: bytes = etree.tostring(tree, xml_declaration=True, encoding="UTF-8")
    return score_from_xml(data, name)
