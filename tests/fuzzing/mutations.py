"""Foreign files made from sound ones: cut, swapped, and filled with what no program writes."""

from __future__ import annotations

import io
import json
import random
import re
import warnings
import zipfile
from typing import Any

from lxml import etree

NUMBERS = (
    "0", "-1", "²", "٣", "1e99999999", "-1e400", "nan", "inf", "-inf", "1/0", "9" * 30, "9" * 5000,
    "0.00000000001", "1.5", "1e3", "0x10", "1_000", "+", "-", ".", "2147483648",
    "-9223372036854775809", "64", "1000001", "１２", "",
)  # fmt: skip
TEXTS = (
    "", " ", "\x00", "\x1b[2J", "a" * 5000, "<img src=/etc/passwd>", "=1+1", "../../x", "\ud800",
    "\u202eabc", "\r\nBEGIN:VEVENT", "%s%n", "'; DROP TABLE students;--", "violin", "P1", "true",
    "0001-01-01", "9999-12-31", "2026-02-30", "C:\\x", "é" * 300,
)  # fmt: skip
VALUES: tuple[Any, ...] = (
    None, True, False, 0, -1, 10**30, 1e308, -1e308, float("nan"), float("inf"), "", "x", [], {},
    [[]], {"a": {}}, [None], "²", "9" * 400, 0.5, 2**63, "2026-01-01",
)  # fmt: skip


def mutated(data: bytes, kind: str, luck: random.Random) -> bytes:
    """One mutation or a few; structure is kept two times of three."""
    for _ in range(luck.choice((1, 1, 1, 2, 3))):
        ways = BY_KIND[kind]
        way = luck.choice(ways) if luck.random() < 0.7 else luck.choice(ANY)
        data = way(data, luck)
    return data


def flip(data: bytes, luck: random.Random) -> bytes:
    if not data:
        return b"\x00"
    changed = bytearray(data)
    for _ in range(luck.choice((1, 1, 2, 8))):
        changed[luck.randrange(len(changed))] = luck.randrange(256)
    return bytes(changed)


def cut(data: bytes, luck: random.Random) -> bytes:
    at = luck.randrange(len(data) + 1)
    to = luck.choice((len(data), min(len(data), at + luck.randrange(1, 60))))
    return data[:at] + data[to:]


def double(data: bytes, luck: random.Random) -> bytes:
    at = luck.randrange(len(data) + 1)
    piece = data[at : at + luck.randrange(1, 400)]
    return data[:at] + piece * luck.choice((2, 2, 3, 50)) + data[at:]


def number(data: bytes, luck: random.Random) -> bytes:
    """One number in a text becomes another."""
    return _swapped(data, rb"-?\d+(?:\.\d+)?", luck.choice(NUMBERS), luck)


def word(data: bytes, luck: random.Random) -> bytes:
    return _swapped(data, rb"[A-Za-z]{2,}", luck.choice(TEXTS), luck)


def line(data: bytes, luck: random.Random) -> bytes:
    """Lines lost, doubled, swapped."""
    lines = data.split(b"\n")
    a, b = luck.randrange(len(lines)), luck.randrange(len(lines))
    what = luck.randrange(3)
    if what == 0:
        del lines[a]
    elif what == 1:
        lines.insert(b, lines[a])
    else:
        lines[a], lines[b] = lines[b], lines[a]
    return b"\n".join(lines)


def _swapped(data: bytes, pattern: bytes, new: str, luck: random.Random) -> bytes:
    found = list(re.finditer(pattern, data))
    if not found:
        return data
    at = luck.choice(found)
    return data[: at.start()] + new.encode("utf-8", "surrogatepass") + data[at.end() :]


def element(data: bytes, luck: random.Random) -> bytes:
    """An element lost, doubled, moved, filled or given other attributes."""
    try:
        root = etree.fromstring(data, etree.XMLParser(resolve_entities=False, no_network=True))
    except etree.XMLSyntaxError:
        return flip(data, luck)
    inner = [e for e in root.iter() if isinstance(e.tag, str) and e.getparent() is not None]
    if not inner:
        return data
    one, other = luck.choice(inner), luck.choice(inner)
    what = luck.randrange(7)
    try:
        if what == 0:
            one.getparent().remove(one)
        elif what == 1:
            one.addnext(_copy(one))
        elif what == 2:
            other.append(_copy(one))
        elif what == 3:
            one.text = luck.choice(NUMBERS)
        elif what == 4:
            one.text = luck.choice(TEXTS)
        elif what == 5:
            names = [*one.attrib, "id", "number", "type", "times"]
            one.set(luck.choice(names), luck.choice((*NUMBERS, *TEXTS)))
        else:
            one.tag = luck.choice(inner).tag
    except ValueError:  # what no XML can hold
        return data
    return etree.tostring(root, xml_declaration=True, encoding="UTF-8")


def _copy(found: etree._Element) -> etree._Element:
    return etree.fromstring(etree.tostring(found, with_tail=False))


def node(data: bytes, luck: random.Random) -> bytes:
    """A value of a JSON text becomes another, is lost, or is nested deeply."""
    try:
        value = json.loads(data)
    except (ValueError, RecursionError):
        return flip(data, luck)
    places = list(_places(value))
    if not places:
        return data
    holder, key = luck.choice(places)
    what = luck.randrange(5)
    if what == 0:
        del holder[key]
    elif what == 1 and isinstance(holder, dict):
        holder[luck.choice(TEXTS)] = holder.pop(key)
    elif what == 2:
        deep: Any = holder[key]
        for _ in range(luck.choice((3, 60, 900))):
            deep = [deep]
        holder[key] = deep
    else:
        holder[key] = luck.choice((*VALUES, *TEXTS))
    try:
        return json.dumps(value).encode()
    except RecursionError:
        return data


def _places(value: Any) -> Any:
    items = (
        value.items()
        if isinstance(value, dict)
        else enumerate(value)
        if isinstance(value, list)
        else ()
    )
    for key, inner in list(items):
        yield value, key
        yield from _places(inner)


def nested(data: bytes, luck: random.Random) -> bytes:
    """Brackets without end."""
    depth = luck.choice((100, 100_000))
    return luck.choice((b"[" * depth, b'{"a":' * depth, data[:50] + b"[" * depth))


def member(data: bytes, luck: random.Random) -> bytes:
    """A member of a zip mutated, lost, doubled, renamed, or claimed to be larger."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            members = [(i.filename, archive.read(i)) for i in archive.infolist()]
    except Exception:
        return flip(data, luck)
    if not members:
        return data
    k = luck.randrange(len(members))
    name, inner = members[k]
    what = luck.randrange(10)
    if what == 0:
        del members[k]
    elif what == 1:
        members.append((name, flip(inner, luck)))
    elif what == 2:
        members[k] = (
            luck.choice(("../x", "/etc/x", "plan.json", "score.musicxml", "x" * 300)),
            inner,
        )
    else:
        kind = "json" if name.endswith(".json") else "csv" if name.endswith(".csv") else "xml"
        members[k] = (name, mutated(inner, kind, luck))
    out = io.BytesIO()
    with warnings.catch_warnings(), zipfile.ZipFile(out, "w") as archive:
        warnings.simplefilter("ignore")  # two members of one name are meant
        for k, (name, inner) in enumerate(members):
            method = zipfile.ZIP_STORED if k == 0 else zipfile.ZIP_DEFLATED
            archive.writestr(zipfile.ZipInfo(name), inner, method)
    return out.getvalue()


ANY = (flip, cut, double)
BY_KIND = {
    "xml": (element, element, element, number, word),
    "json": (node, node, node, number, word, nested),
    "zip": (member, member, member, flip),
    "csv": (number, word, line),
    "abc": (number, word, line, flip),
    "lines": (number, word, line),
    "midi": (flip, double, cut),
}
