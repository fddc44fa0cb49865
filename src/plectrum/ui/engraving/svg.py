"""The engraver's SVG made into what QtSvg can draw, and the places read out of it.

QtSvg skips nested svg elements, drops text nested deeper than one level and text of size 0,
and ignores x and y on inner text. All of that is flattened here.
"""

from __future__ import annotations

import re
from typing import Any

from lxml import etree

SVG = "{http://www.w3.org/2000/svg}"
ID = "id"
_BOLD = {"tempo", "fing", "reh", "ending"}
_ITALIC = {"dir", "dynam", "mNum"}
_REACHING = {"note", "stem", "beam", "artic", "accid", "flag"}
_MUSIC_FONT = "Leipzig"
TEXT_FONT = "Liberation Serif"


def read_system(svg: str, index: int) -> dict[str, Any]:
    """Everything the window needs of one system, as a message of plain values."""
    parser = etree.XMLParser(huge_tree=False, remove_comments=True)
    root = etree.fromstring(svg.encode(), parser)
    inner = root.find(f"{SVG}svg")
    if inner is None:
        raise ValueError("the engraver drew nothing")
    width = float(root.get("width", "0px").removesuffix("px"))
    height = float(root.get("height", "0px").removesuffix("px"))
    view = [float(v) for v in inner.get("viewBox", "0 0 1 1").split()]
    scale = width / view[2]
    margin = inner.find(f"{SVG}g[@class='page-margin']")
    dx, dy = _translation(margin)
    notes = _note_boxes(root, scale, dx, dy)
    bars = _bars(root, scale, dx)
    staves = _staves(root, scale, dy)
    _strip_boxes(root, inner)
    _flatten(root, inner, scale)
    return {
        "index": index,
        "svg": etree.tostring(root, encoding="unicode"),
        "width": width,
        "height": height,
        "notes": notes,
        "bars": bars,
        "staves": staves,
    }


def _translation(element: etree._Element | None) -> tuple[float, float]:
    numbers = re.findall(r"-?[\d.]+", element.get("transform", "")) if element is not None else []
    return (float(numbers[0]), float(numbers[1])) if len(numbers) >= 2 else (0.0, 0.0)


def _classes(element: etree._Element) -> set[str]:
    return set((element.get("class") or "").split())


def _note_boxes(root: etree._Element, scale: float, dx: float, dy: float) -> dict[str, list[float]]:
    boxes = {}
    for group in root.iter(f"{SVG}g"):
        classes = _classes(group)
        if "bounding-box" not in classes or not classes & {"note", "rest", "mRest"}:
            continue
        rect = group.find(f"{SVG}rect")
        if rect is None:
            continue
        x, y, w, h = (float(rect.get(k, "0")) for k in ("x", "y", "width", "height"))
        note_id = group.get(ID, "").removeprefix("bbox-")
        boxes[note_id] = [(x + dx) * scale, (y + dy) * scale, w * scale, h * scale]
    return boxes


def _bars(root: etree._Element, scale: float, dx: float) -> dict[str, list[float]]:
    """Left and right edge of every bar, from the staff line that runs through it."""
    bars: dict[str, list[float]] = {}
    for group in root.iter(f"{SVG}g"):
        if "measure" not in _classes(group) or not group.get(ID, "").startswith("bar-"):
            continue
        for path in group.iterfind(f"{SVG}g[@class='staff']/{SVG}path"):
            line = [float(v) for v in re.findall(r"-?[\d.]+", path.get("d", ""))]
            if len(line) == 4:
                key = group.get(ID, "").removeprefix("bar-")
                bars[key] = [(line[0] + dx) * scale, (line[2] + dx) * scale]
                break
    return bars


def _staves(root: etree._Element, scale: float, dy: float) -> list[list[float]]:
    """Of every staff, from above: its top and bottom line, and how far its notes, stems and beams
    reach over and under them."""
    found: list[list[float]] = []
    for measure in root.iter(f"{SVG}g"):
        if "measure" not in _classes(measure) or "bounding-box" in _classes(measure):
            continue
        own = [g for g in measure.iterfind(f"{SVG}g") if _classes(g) == {"staff"}]
        for k, staff in enumerate(own):
            lines = [re.findall(r"-?[\d.]+", p.get("d", "")) for p in staff.iterfind(f"{SVG}path")]
            ys = [float(line[1]) for line in lines if len(line) == 4]
            if k == len(found) and ys:
                found.append([min(ys), max(ys), min(ys), max(ys)])
            if k < len(found):
                tops, bottoms = _reach(staff)
                found[k][2] = min(found[k][2], *tops)
                found[k][3] = max(found[k][3], *bottoms)
    return [[(y + dy) * scale for y in staff] for staff in found] or [[0.0] * 4]


def _reach(staff: etree._Element) -> tuple[list[float], list[float]]:
    """Tops and bottoms of what is drawn on a staff."""
    tops, bottoms = [float("inf")], [float("-inf")]
    for group in staff.iter(f"{SVG}g"):
        classes = _classes(group)
        rect = group.find(f"{SVG}rect")
        if "bounding-box" in classes and classes & _REACHING and rect is not None:
            y, height = float(rect.get("y", "0")), float(rect.get("height", "0"))
            tops.append(y)
            bottoms.append(y + height)
    return tops, bottoms


def _strip_boxes(root: etree._Element, inner: etree._Element) -> None:
    for group in list(root.iter(f"{SVG}g")):
        classes = _classes(group)
        parent = group.getparent()
        if parent is None:
            continue
        if "bounding-box" in classes:
            parent.remove(group)
        elif "placeholder" in classes:
            for child in list(group):
                group.remove(child)
    # Ids change from one layout to the next; without them equal lines have equal pictures.
    for group in inner.iter(f"{SVG}g"):
        if ID in group.attrib:
            del group.attrib[ID]


def _flatten(root: etree._Element, inner: etree._Element, scale: float) -> None:
    for style in list(root.iter(f"{SVG}style")):
        if "@font-face" in (style.text or "") and style.getparent() is not None:
            style.getparent().remove(style)  # type: ignore[union-attr]
    for text in list(root.iter(f"{SVG}text")):
        _flatten_text(text)
    inner.tag = f"{SVG}g"
    for name in ("viewBox", "class"):
        if name in inner.attrib:
            del inner.attrib[name]
    inner.set("transform", f"scale({scale:.6f})")
    inner.set("font-family", TEXT_FONT)


def _flatten_text(text: etree._Element) -> None:
    """One text element of one level for each run of inner text that has its own place."""
    group = text.getparent()
    if group is None:
        return
    runs: list[tuple[dict[str, str], list[tuple[str, dict[str, str]]]]] = []
    place = {k: text.get(k, "0") for k in ("x", "y")}
    anchor = text.get("text-anchor", "start")
    _collect(text, place, anchor, {}, runs)
    bold, italic = _emphasis(text)
    position = group.index(text)
    group.remove(text)
    for at, pieces in reversed(runs):
        element = etree.Element(f"{SVG}text", at)
        element.set("{http://www.w3.org/XML/1998/namespace}space", "preserve")
        for content, font in pieces:
            span = etree.SubElement(element, f"{SVG}tspan", font)
            music = font.get("font-family") == _MUSIC_FONT
            if bold and not music:
                span.set("font-weight", "bold")
            if italic and not music:
                span.set("font-style", "italic")
            span.text = content
        group.insert(position, element)


def _collect(
    element: etree._Element,
    place: dict[str, str],
    anchor: str,
    font: dict[str, str],
    runs: list[tuple[dict[str, str], list[tuple[str, dict[str, str]]]]],
) -> None:
    own = dict(font)
    for name in ("font-family", "font-size", "font-style", "font-weight"):
        value = element.get(name)
        if value and value != "0px":
            own[name] = value
    starts_new = element.get("x") is not None or not runs
    if starts_new:
        at = {k: element.get(k, place[k]) for k in ("x", "y")}
        at["text-anchor"] = element.get("text-anchor", anchor)
        runs.append((at, []))
    if element.text and element.text.strip("\n\t") and "font-size" in own:
        content = element.text if element.tag == f"{SVG}tspan" else element.text.strip()
        if content.strip() or not content.startswith("\n"):
            runs[-1][1].append((content, own))
    for child in element:
        if child.tag == f"{SVG}tspan":
            _collect(child, place, anchor, own, runs)


def _emphasis(text: etree._Element) -> tuple[bool, bool]:
    bold = italic = False
    for ancestor in text.iterancestors():
        classes = _classes(ancestor)
        bold = bold or bool(classes & _BOLD)
        italic = italic or bool(classes & _ITALIC)
        if "measure" in classes:
            break
    return bold, italic
