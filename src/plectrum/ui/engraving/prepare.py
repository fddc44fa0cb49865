"""The copy of a score that the engraver gets: the parts shown, with ids, without bow marks.

Bow signs are drawn by the window over the staff, so a changed bow needs no new engraving.
"""

from __future__ import annotations

from collections.abc import Sequence
from copy import deepcopy

from lxml import etree

from plectrum.core.score.scorefile import parse_record
from plectrum.core.score.xml_text import note_ids

_NOT_DRAWN = ("credit", "defaults")


def engraving_copy(xml: bytes, part_ids: Sequence[str], clef: tuple[str, int] = ("G", 2)) -> str:
    """MusicXML of some parts for the engraver.

    Args:
        xml: the document of record.
        part_ids: which parts, in the score's order.
        clef: sign and line, used where the part has no clef at all.
    """
    root = parse_record(xml, "score").getroot()
    for note, note_id in zip(root.iter("note"), note_ids(root), strict=True):
        note.set("id", note_id)
    tempo = root.find("part/measure/direction/direction-type/metronome/../..")
    for part in root.findall("part"):
        if part.get("id") not in part_ids:
            root.remove(part)
    _tempo_once(root.findall("part"), tempo)
    _keep_heads(root, part_ids)
    for tag in _NOT_DRAWN:
        for element in root.findall(tag):
            root.remove(element)
    for part in root.findall("part"):
        for k, measure in enumerate(part.iterfind("measure")):
            measure.set("id", f"bar-{k}")
            _fill_empty(measure)
    for tag in ("up-bow", "down-bow"):
        for mark in list(root.iter(tag)):
            technical = mark.getparent()
            if technical is not None:
                technical.remove(mark)
    _ensure_clef(root, clef)
    text: str = etree.tostring(root, encoding="unicode")
    return text


def _tempo_once(parts: list[etree._Element], tempo: etree._Element | None) -> None:
    """The tempo stands over the first part shown, also where the page has it over another."""
    for k, part in enumerate(parts):
        marks = part.findall("measure/direction/direction-type/metronome/../..")
        for mark in marks if k else []:
            _remove(mark)
        measure = part.find("measure")
        if k == 0 and not marks and tempo is not None and measure is not None:
            place = [n for n, child in enumerate(measure) if child.tag in ("attributes", "print")]
            measure.insert(place[-1] + 1 if place else 0, deepcopy(tempo))


def _remove(element: etree._Element) -> None:
    parent = element.getparent()
    if parent is not None:
        parent.remove(element)


def _fill_empty(measure: etree._Element) -> None:
    """A bar with nothing in it would not be drawn at all: it gets a rest."""
    if measure.find("note") is None:
        note = etree.SubElement(measure, "note")
        etree.SubElement(note, "rest", measure="yes")
        etree.SubElement(note, "duration").text = "1"


def _keep_heads(root: etree._Element, part_ids: Sequence[str]) -> None:
    heads = root.find("part-list")
    if heads is None:
        return
    for child in list(heads):
        if child.tag != "score-part" or child.get("id") not in part_ids:
            heads.remove(child)
            continue
        for tag in ("part-name", "part-abbreviation"):
            for name in child.findall(tag):
                name.text = ""
        for tag in ("part-name-display", "part-abbreviation-display"):
            for name in child.findall(tag):
                child.remove(name)


def _ensure_clef(root: etree._Element, clef: tuple[str, int]) -> None:
    if root.find("part/measure/attributes/clef") is not None:
        return
    attributes = root.find("part/measure/attributes")
    if attributes is None:
        return
    element = etree.Element("clef")
    etree.SubElement(element, "sign").text = clef[0]
    etree.SubElement(element, "line").text = str(clef[1])
    after = [k for k, c in enumerate(attributes) if c.tag in ("divisions", "key", "time", "staves")]
    attributes.insert((after[-1] + 1) if after else 0, element)
