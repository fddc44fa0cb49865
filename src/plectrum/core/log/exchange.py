"""The log in files of the world: JSON, whole and read back, and CSV, a table a file in a zip."""

from __future__ import annotations

import base64
import csv
import io
import json
import zipfile
from dataclasses import fields
from datetime import date
from typing import Any

from pydantic import TypeAdapter, ValidationError

from plectrum.core.incoming.border import border
from plectrum.core.incoming.json_text import json_value
from plectrum.core.incoming.numbers import decimal, only_whole
from plectrum.core.log.log_file import LogError
from plectrum.core.log.records import (
    CHECKS,
    KINDS,
    OF_A_STUDENT,
    Measured,
    PlanGiven,
    Record,
    Student,
)
from plectrum.core.log.sound_records import made_plain, unsound_field
from plectrum.core.log.store import LogStore
from plectrum.core.log.tables import TABLES, row_of
from plectrum.core.plain_text import one_line
from plectrum.core.wording import say, tr

FORMAT, VERSION = "plectrum-log", 1
MAX_BYTES = 100_000_000


def log_as_json(store: LogStore, student: Student | None = None) -> bytes:
    """Everything, or all that is kept of one student, as JSON."""
    data: dict[str, Any] = {"format": FORMAT, "version": VERSION}
    for kind in KINDS:
        data[TABLES[kind].name] = [_plain(record) for record in _records(store, kind, student)]
    return (json.dumps(data, ensure_ascii=False, indent=1) + "\n").encode()


def _records(store: LogStore, kind: type[Any], student: Student | None) -> list[Any]:
    if student is None:
        return store.all(kind)
    if kind is Student:
        return [student]
    if kind in OF_A_STUDENT:
        return store.all(kind, student_id=student.id)
    used = {
        row.piece_id
        for own in OF_A_STUDENT
        if "piece_id" in TABLES[own].c
        for row in store.all(own, student_id=student.id)
    }
    return [piece for piece in store.all(kind) if piece.id in used]


def _plain(record: Any) -> dict[str, Any]:
    row = row_of(record)
    for name, value in row.items():
        if isinstance(value, date):
            row[name] = value.isoformat()
        elif isinstance(value, bytes):
            row[name] = base64.b64encode(value).decode()
    return row


def records_from_json(data: bytes, where: str) -> list[Record]:
    """The records of an export.

    Raises:
        LogError: not such a file, of a newer version, or with values that cannot be.
    """
    with border(where, LogError):
        return _from_json(data, where)


def _from_json(data: bytes, where: str) -> list[Record]:
    if len(data) > MAX_BYTES:
        raise LogError(tr("the file is too large for a log"), where=where)
    try:
        read = json_value(data)
    except ValueError as error:
        raise LogError(
            say("this is not a log that was exported ({error})", error=one_line(str(error), 80)),
            where=where,
        ) from error
    if not isinstance(read, dict) or read.get("format") != FORMAT:
        raise LogError(tr("this is not a log that was exported"), where=where)
    if not isinstance(read.get("version"), int) or read["version"] > VERSION:
        raise LogError(
            tr("the log was exported by a newer version of Plectrum"), where=where,
            remedy=tr("Update Plectrum to read it"),
        )  # fmt: skip
    found: list[Record] = []
    for kind in KINDS:
        name = TABLES[kind].name
        rows = read.get(name, [])
        if not isinstance(rows, list):
            raise LogError(say("{name} is no list of rows", name=name), where=where)
        for number, row in enumerate(rows, start=1):
            found.append(_record(kind, row, f"{where}, {name} {number}"))
    return found


# What checks the values of each kind of record, made when first needed: slow to make.
_READERS: dict[type[Any], TypeAdapter[Any]] = {}


def _record(kind: type[Any], row: Any, where: str) -> Any:
    if not isinstance(row, dict):
        raise LogError(tr("this row is no row"), where=where)
    known = {f.name for f in fields(kind)}
    values = {name: value for name, value in row.items() if name in known}
    if isinstance(values.get("document"), str):
        try:
            values["document"] = base64.b64decode(values["document"], validate=True)
        except ValueError as error:
            raise LogError(tr("the plan in this row is damaged"), where=where) from error
    try:
        if kind not in _READERS:
            _READERS[kind] = TypeAdapter(kind)
        record = made_plain(_READERS[kind].validate_python(values))
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(map(str, first["loc"]))
        raise LogError(one_line(f"{place}: {first['msg']}"), where=where) from error
    wrong = unsound_field(record)
    if wrong is not None:
        shown = one_line(repr(getattr(record, wrong)), 60)
        raise LogError(say("{wrong} cannot be {value}", wrong=wrong, value=shown), where=where)
    return record


def log_as_csv_zip(store: LogStore) -> bytes:
    """A zip with one CSV file a table; plans themselves are left out."""
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        for kind in KINDS:
            archive.writestr(f"{TABLES[kind].name}.csv", _table(store, kind))
    return buffer.getvalue()


def _table(store: LogStore, kind: type[Any]) -> str:
    columns = [f.name for f in fields(kind) if f.name != "document"]
    text = io.StringIO()
    writer = csv.writer(text, lineterminator="\n")
    writer.writerow(columns)
    for record in store.all(kind):
        writer.writerow([_cell(getattr(record, name)) for name in columns])
    return text.getvalue()


# What a spreadsheet would run as a formula if a cell began with it.
_RUN = ("=", "+", "-", "@", "\t", "\r", "\n")


def _from_cell(text: str) -> str:
    """A cell as it was before it was made harmless."""
    return text[1:] if text.startswith("'") and text[1:].startswith(_RUN) else text


def _cell(value: Any) -> Any:
    if isinstance(value, str) and value.startswith(_RUN):
        return f"'{value}"
    if isinstance(value, tuple):
        return " ".join(f"{v:g}" for v in value)
    if isinstance(value, dict):
        return "; ".join(name for name, right in value.items() if right)
    return "" if value is None else value


def records_from_csv_zip(data: bytes, where: str) -> list[Record]:
    """The records of a zip of tables as `log_as_csv_zip` makes it; plans are not in one.

    Raises:
        LogError: no such zip, or a row that cannot be read; it is named.
    """
    with border(where, LogError):
        return _from_csv_zip(data, where)


def _from_csv_zip(data: bytes, where: str) -> list[Record]:
    found: list[Record] = []
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            if sum(item.file_size for item in archive.infolist()) > MAX_BYTES:
                raise LogError(tr("the tables are too large for a log"), where=where)
            names = set(archive.namelist())
            if f"{TABLES[Student].name}.csv" not in names:
                raise LogError(tr("this zip holds no log"), where=where)
            for kind in KINDS:
                name = f"{TABLES[kind].name}.csv"
                if kind is not PlanGiven and name in names:
                    with archive.open(name) as table:
                        text = table.read(MAX_BYTES).decode("utf-8-sig")
                    found += _rows_of(kind, text, f"{where}, {name}")
    except LogError:
        raise
    except Exception as error:  # whatever a damaged zip raises: zlib's errors and others
        raise LogError(tr("this is not a zip of tables"), where=where) from error
    return found


def _rows_of(kind: type[Any], text: str, where: str) -> list[Any]:
    """The records of one table; an empty cell is what the field is without."""
    found = []
    for number, row in enumerate(csv.DictReader(io.StringIO(text)), start=2):
        values: dict[str, Any] = {
            k: _from_cell(v) for k, v in row.items() if isinstance(v, str) and v != ""
        }
        if "tries" in row:
            values["tries"] = (row["tries"] or "").split()
        if "checks" in row:
            right = (row["checks"] or "").split("; ")
            values["checks"] = {name: name in right for name in CHECKS}
        found.append(
            _record(kind, values, say("{where}, line {number}", where=where, number=number))
        )
    return found


def measured_from_csv(data: bytes, where: str, students: dict[str, Student]) -> list[Record]:
    """Measurements from a table with the columns student, on, measure, value, and, if they are
    there, string, direction, section, note.

    Args:
        students: by name.

    Raises:
        LogError: a column is missing, or a row cannot be read; the row is named.
    """
    with border(where, LogError):
        return _measured(data, where, students)


def _measured(data: bytes, where: str, students: dict[str, Student]) -> list[Record]:
    try:
        rows = list(csv.DictReader(io.StringIO(data.decode("utf-8-sig"))))
    except (UnicodeDecodeError, csv.Error) as error:
        raise LogError(tr("this is not a table in UTF-8"), where=where) from error
    needed = {"student", "on", "measure", "value"}
    if not rows or not needed <= set(rows[0]):
        raise LogError(
            say("the table needs the columns {list}", list=', '.join(sorted(needed))), where=where,
        )  # fmt: skip
    found: list[Record] = []
    for number, row in enumerate(rows, start=2):
        place = say("{where}, line {number}", where=where, number=number)
        student = students.get(row["student"] or "")
        if student is None:
            shown = one_line(row["student"] or "", 60)
            raise LogError(say("there is no student {name!r}", name=shown), where=place)
        found.append(_record(Measured, _measured_values(row, student), place))
    return found


def _measured_values(row: dict[str, Any], student: Student) -> dict[str, Any]:
    """A row of the table as the fields of a record; empty cells are left out."""
    names = ("on", "measure", "value", "string", "direction", "section", "note")
    values: dict[str, Any] = {"student_id": student.id}
    for name in names:
        written = row.get(name)
        if isinstance(written, str) and written.strip():
            values[name] = _from_cell(written.strip())
    for name, read in (("value", decimal), ("string", only_whole)):
        if name in values:
            values[name] = read(values[name])
    return values
