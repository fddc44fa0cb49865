"""What a record may say, told by its fields: the log's border for whatever comes from elsewhere.

Bounds are own defaults, far beyond anything a teacher writes down.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Collection, Iterable
from dataclasses import fields, replace
from datetime import date
from typing import Any

from plectrum.core.incoming.days import FIRST_DAY, LAST_DAY
from plectrum.core.instrument.specification import MOST_STRINGS, instrument_names
from plectrum.core.log.records import KINDS, Measure, Piece, Record, Student
from plectrum.core.log.tables import TABLES
from plectrum.core.plain_text import plain

MOST_TEXT, MOST_TRIES = 20_000, 1000
_ID = re.compile(r"[A-Za-z0-9_-]{1,32}")


def _number(low: float, high: float) -> Callable[[Any], bool]:
    return lambda value: low <= value <= high  # false for what is no number, too


def _day(value: date) -> bool:
    return FIRST_DAY <= value <= LAST_DAY


def _one_of(values: Collection[str]) -> Callable[[Any], bool]:
    return lambda value: value in values


_RULES: dict[str, Callable[[Any], bool]] = {
    "id": lambda value: bool(_ID.fullmatch(value)),
    "student_id": lambda value: bool(_ID.fullmatch(value)),
    "piece_id": lambda value: bool(_ID.fullmatch(value)),
    "name": lambda value: bool(value.strip()),
    "instrument": _one_of(instrument_names()),
    "on": _day,
    "pain_since": _day,
    "hair_mm": _number(100, 1000),
    "goal_bpm": _number(1, 1000),
    "bpm": _number(1, 1000),
    "bars_n": _number(0, 100_000),
    "minutes": _number(0, 1440),
    "mark": _one_of(("good", "again")),
    "measure": _one_of(tuple(Measure)),
    "value": _number(-1e6, 1e6),
    "tries": lambda value: len(value) <= MOST_TRIES and all(map(_number(-1e6, 1e6), value)),
    "string": _number(0, MOST_STRINGS - 1),
    "direction": _one_of(("down", "up")),
    "bar": _number(-1, 100_000),
    "place": _number(0, 1),
    "checks": lambda value: len(value) <= 100 and all(len(name) <= 80 for name in value),
}


def unsound_field(record: Record) -> str | None:
    """The name of the first field whose value cannot be; None where all can."""
    table = TABLES[type(record)]
    for field in fields(record):
        value = getattr(record, field.name)
        if value is None:
            continue
        if isinstance(value, str):
            most = getattr(table.c[field.name].type, "length", None) or MOST_TEXT
            if len(value) > most:
                return field.name
        rule = _RULES.get(field.name)
        if rule is not None and not rule(value):
            return field.name
    return None


def made_plain(record: Any) -> Any:
    """The record with its texts plain."""
    texts = {
        f.name: plain(value)
        for f in fields(record)
        if isinstance(value := getattr(record, f.name), str)
    }
    return replace(record, **texts)


def unfounded(records: Iterable[Record], known: Collection[str]) -> Record | None:
    """The first record that belongs to a student or piece that is nowhere, or whose id another
    one has too.

    Args:
        known: ids of the students and pieces that are in the log.
    """
    order = {kind: k for k, kind in enumerate(KINDS)}
    there = set(known)
    seen: set[tuple[type[Any], str]] = set()
    for record in sorted(records, key=lambda r: order[type(r)]):
        if (type(record), record.id) in seen:
            return record
        seen.add((type(record), record.id))
        if isinstance(record, Student | Piece):
            there.add(record.id)
            continue
        owners = (record.student_id, getattr(record, "piece_id", None))
        if any(owner is not None and owner not in there for owner in owners):
            return record
    return None
