"""The tables of the log; one for each kind of record, with a column for each of its fields."""

from __future__ import annotations

from dataclasses import fields
from typing import Any

from sqlalchemy import (
    JSON,
    Boolean,
    Column,
    Date,
    Float,
    ForeignKey,
    Index,
    Integer,
    LargeBinary,
    MetaData,
    String,
    Table,
    Text,
)

from plectrum.core.log import records as r

metadata = MetaData()


def _id() -> Column[str]:
    return Column("id", String(32), primary_key=True)


def _student() -> Column[str]:
    return Column(
        "student_id", String(32), ForeignKey("students.id", ondelete="CASCADE"), nullable=False
    )


def _piece(*, nullable: bool = True) -> Column[str]:
    rule = "SET NULL" if nullable else "CASCADE"
    return Column("piece_id", String(32), ForeignKey("pieces.id", ondelete=rule), nullable=nullable)


def _on() -> Column[Any]:
    return Column("on", Date, nullable=False)


students = Table(
    "students", metadata, _id(),
    Column("name", String(120), nullable=False),
    Column("instrument", String(16), nullable=False),
    Column("note", Text, nullable=False, default=""),
    Column("archived", Boolean, nullable=False, default=False),
    Column("pain_since", Date),
)  # fmt: skip
pieces = Table(
    "pieces", metadata, _id(),
    Column("title", String(200), nullable=False),
    Column("instrument", String(16), nullable=False),
    Column("goal_bpm", Float, nullable=False),
    Column("bars_n", Integer, nullable=False, default=0),
)  # fmt: skip
bows = Table(
    "bows", metadata, _id(), _student(),
    Column("name", String(120), nullable=False),
    Column("hair_mm", Float, nullable=False),
    Column("note", Text, nullable=False, default=""),
)  # fmt: skip
plans = Table(
    "plans", metadata, _id(), _student(), _piece(nullable=False), _on(),
    Column("document", LargeBinary, nullable=False),
    Column("note", Text, nullable=False, default=""),
)  # fmt: skip
sessions = Table(
    "sessions", metadata, _id(), _student(), _on(),
    Column("minutes", Integer, nullable=False),
    Column("pain", Boolean, nullable=False, default=False),
    Column("note", Text, nullable=False, default=""),
)  # fmt: skip
results = Table(
    "results", metadata, _id(), _student(), _piece(), _on(),
    Column("key", String(80), nullable=False),
    Column("title", String(200), nullable=False),
    Column("mark", String(8), nullable=False),
    Column("bpm", Float),
    Column("section", String(80), nullable=False, default=""),
)  # fmt: skip
measurements = Table(
    "measurements", metadata, _id(), _student(), _piece(), _on(),
    Column("measure", String(40), nullable=False),
    Column("value", Float, nullable=False),
    Column("tries", JSON, nullable=False),
    Column("string", Integer),
    Column("direction", String(4)),
    Column("section", String(80), nullable=False, default=""),
    Column("note", Text, nullable=False, default=""),
)  # fmt: skip
faults = Table(
    "faults", metadata, _id(), _student(), _piece(), _on(),
    Column("kind", String(80), nullable=False),
    Column("bar", Integer),
    Column("place", Float),
)  # fmt: skip
lessons = Table(
    "lessons", metadata, _id(), _student(), _on(),
    Column("note", Text, nullable=False, default=""),
    Column("next_note", Text, nullable=False, default=""),
    Column("checks", JSON, nullable=False),
    Column("pain", Boolean, nullable=False, default=False),
)  # fmt: skip
for _table in (bows, plans, sessions, results, measurements, faults, lessons):
    _by = [_table.c.student_id] + ([_table.c.on] if "on" in _table.c else [])
    Index(f"{_table.name}_of_a_student", *_by)
Index("sessions_by_day", sessions.c.on)

TABLES: dict[type[Any], Table] = {
    r.Student: students,
    r.Piece: pieces,
    r.BowOwned: bows,
    r.PlanGiven: plans,
    r.Practised: sessions,
    r.StepDone: results,
    r.Measured: measurements,
    r.FaultSeen: faults,
    r.Lesson: lessons,
}


def row_of(record: Any) -> dict[str, Any]:
    """A record as a row."""
    row = {f.name: getattr(record, f.name) for f in fields(record)}
    if "tries" in row:
        row["tries"] = list(row["tries"])
    if "checks" in row:
        row["checks"] = dict(row["checks"])
    return row


def record_of(kind: type[Any], row: Any) -> Any:
    """A row as a record."""
    values = dict(row)
    if "tries" in values:
        values["tries"] = tuple(values["tries"])
    return kind(**values)
