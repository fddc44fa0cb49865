"""Some bars of one part as a score of their own."""

from __future__ import annotations

from copy import deepcopy

from lxml import etree

from plectrum.core.score import guards
from plectrum.core.score.edit import remove_element

# What goes on from before the first bar, in the order the standard has inside <attributes>.
_GOES_ON = ("divisions", "key", "time", "staves", "clef", "transpose")
_SPANS = ("notations/slur", "notations/tied", "tie", "direction-type/wedge")


def excerpt(xml: bytes, part_id: str, first: int, last: int) -> bytes:
    """The bars from `first` to `last`, counted from 0, of one part; its key, metre, clef and
    tempo stand at the first of them, and what begins or ends outside is left out.

    Raises:
        ScoreError: the bytes are no score.
    """
    tree = guards.as_partwise(guards.parse_xml(xml, "the score"), "the score")
    root = tree.getroot()
    for other in root.findall("part"):
        if other.get("id") != part_id:
            root.remove(other)
    listing = root.find("part-list")
    for entry in [] if listing is None else list(listing):
        if listing is not None and entry.get("id") != part_id:
            listing.remove(entry)
    [part] = root.findall("part")
    measures = part.findall("measure")
    kept = measures[first : last + 1]
    if kept:
        _begin(kept[0], measures[:first])
    for measure in measures:
        if measure not in kept:
            part.remove(measure)
    _close_spans(part)
    return etree.tostring(root, xml_declaration=True, encoding="UTF-8")


def _begin(measure: etree._Element, before: list[etree._Element]) -> None:
    """What was set in earlier bars, written into the first one that is kept."""
    found = measure.find("attributes")
    own = etree.Element("attributes") if found is None else found
    if found is None:
        measure.insert(0, own)
    for tag in reversed(_GOES_ON):
        earlier = [e for m in before for e in m.findall(f"attributes/{tag}")]
        if own.find(tag) is None and earlier:
            own.insert(0, deepcopy(earlier[-1]))
    own[:] = sorted(own, key=_place)
    tempos = [
        d for m in before for d in m.findall("direction") if d.find(".//metronome") is not None
    ]
    if tempos and measure.find("direction//metronome") is None:
        measure.insert(measure.index(own) + 1, deepcopy(tempos[-1]))


def _place(element: etree._Element) -> int:
    order = ("footnote", "level", "divisions", "key", "time", "staves", "part-symbol",
             "instruments", "clef", "staff-details", "transpose", "directive",
             "measure-style")  # fmt: skip
    return order.index(element.tag) if element.tag in order else len(order)


def _close_spans(part: etree._Element) -> None:
    """Slurs, ties and hairpins of which only one end is there are taken out."""
    for path in _SPANS:
        open_ones: dict[str, etree._Element] = {}
        for element in list(part.iterfind(f".//{path}")):
            kind, number = element.get("type", ""), _number(element)
            if kind == "stop":
                if open_ones.pop(number, None) is None:
                    _take_out(element)
            elif kind != "continue":
                open_ones[number] = element
        for element in open_ones.values():
            _take_out(element)


def _number(element: etree._Element) -> str:
    if element.tag in ("tie", "tied"):
        note = next(element.iterancestors("note"))
        return "".join(note.findtext(f"pitch/{tag}") or "" for tag in ("step", "alter", "octave"))
    return element.get("number", "1")


def _take_out(element: etree._Element) -> None:
    direction = next(element.iterancestors("direction"), None)
    remove_element(element if direction is None else direction)
