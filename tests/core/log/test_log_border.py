"""A log from elsewhere: damaged, foreign, newer, half changed; and imports that are not right."""

from __future__ import annotations

import json
import os
import signal
import sqlite3
import subprocess
import sys
import time
from contextlib import closing
from datetime import date
from pathlib import Path

import pytest
from icalendar import Calendar

from plectrum.core.files.ics import programme_as_ics
from plectrum.core.log.exchange import (
    log_as_csv_zip,
    log_as_json,
    measured_from_csv,
    records_from_csv_zip,
    records_from_json,
)
from plectrum.core.log.log_file import CalledOffError, LogError, UnusableLogError, set_aside
from plectrum.core.log.records import Measured, Piece, Practised, Student
from plectrum.core.log.store import LogStore
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.practice.programme import programme_of
from tests.tunes import tune_document

DAY = date(2026, 11, 2)
WREN = Student("Wren", "violin", id="s1")


@pytest.fixture
def store(tmp_path: Path):
    made = LogStore(tmp_path / "log.sqlite")
    yield made
    made.close()


def _newer(log: sqlite3.Connection) -> None:
    log.execute("UPDATE alembic_version SET version_num = '99'")


def _half(log: sqlite3.Connection) -> None:
    """As a broken-off change of the tables leaves it: the version is the old one, not all columns
    are."""
    log.execute("UPDATE alembic_version SET version_num = '1'")


def _without_column(log: sqlite3.Connection) -> None:
    log.execute("ALTER TABLE students RENAME COLUMN pain_since TO gone")


def _without_table(log: sqlite3.Connection) -> None:
    log.execute("DROP TABLE lessons")


@pytest.mark.parametrize("spoil", [_newer, _half, _without_column, _without_table])
def test_a_log_that_cannot_be_used_is_told_from_one_that_cannot_be_reached(tmp_path, spoil):
    path = tmp_path / "log.sqlite"
    made = LogStore(path)
    made.put(WREN)
    made.close()
    with closing(sqlite3.connect(path)) as log:
        spoil(log)
        log.commit()
    with pytest.raises(UnusableLogError):
        LogStore(path)


@pytest.mark.parametrize("content", [b"no database", b"SQLite format 3\x00" + b"x" * 5000])
def test_foreign_content_is_unusable_and_a_folder_or_device_is_not_set_aside(tmp_path, content):
    path = tmp_path / "log.sqlite"
    path.write_bytes(content)
    with pytest.raises(UnusableLogError):
        LogStore(path)
    assert path.read_bytes() == content
    for other in (tmp_path, Path("/dev/null"), Path("/proc/nowhere/log.sqlite")):
        with pytest.raises(LogError) as raised:
            LogStore(other)
        assert not isinstance(raised.value, UnusableLogError)


def test_another_programs_database_is_left_alone(tmp_path):
    path = tmp_path / "log.sqlite"
    with closing(sqlite3.connect(path)) as other:
        other.execute("CREATE TABLE students (own TEXT)")
        other.execute("INSERT INTO students VALUES ('precious')")
        other.commit()
    with pytest.raises(UnusableLogError):
        LogStore(path)
    with closing(sqlite3.connect(path)) as other:
        assert other.execute("SELECT * FROM students").fetchall() == [("precious",)]


def test_what_is_set_aside_is_whole_and_never_written_over(tmp_path):
    path = tmp_path / "log.sqlite"
    names = set()
    for content in (b"one", b"two", b"three"):
        path.write_bytes(content)
        path.with_name("log.sqlite-wal").write_bytes(b"wal " + content)
        aside = set_aside(path)
        names.add(aside.name)
        assert aside.read_bytes() == content
        assert aside.with_name(f"{aside.name}-wal").read_bytes() == b"wal " + content
    assert len(names) == 3
    assert not path.exists()


def test_values_that_no_reader_understands_are_one_clear_line(store):
    store.put(WREN, Practised("s1", DAY, 20))
    with closing(sqlite3.connect(store.path)) as log:
        log.execute("""UPDATE sessions SET "on" = 'some day'""")
        log.commit()
    with pytest.raises(LogError, match="cannot be read"):
        store.all(Practised)


def test_the_log_is_the_users_alone(store, tmp_path):
    store.put(WREN)
    for path in tmp_path.glob("log.sqlite*"):
        assert path.stat().st_mode & 0o077 == 0, path
    store.backup(tmp_path / "copy.sqlite")
    assert (tmp_path / "copy.sqlite").stat().st_mode & 0o077 == 0


def rows(**tables: list[dict]) -> bytes:
    return json.dumps({"format": "plectrum-log", "version": 1, **tables}).encode()


STUDENT = {"id": "s1", "name": "Wren", "instrument": "violin"}


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (rows(students=[STUDENT | {"name": ""}]), "name cannot be"),
        (rows(students=[STUDENT | {"name": "x" * 500}]), "name cannot be"),
        (rows(students=[STUDENT | {"instrument": "kazoo"}]), "instrument cannot be 'kazoo'"),
        (rows(students=[STUDENT | {"id": "../x"}]), "id cannot be"),
        (rows(students=[STUDENT | {"pain_since": "0001-01-01"}]), "pain_since cannot be"),
        (rows(students="all"), "no list of rows"),
        (rows(sessions=[{"student_id": "s1", "on": "9999-12-31", "minutes": 5}]), "on cannot be"),
        (rows(sessions=[{"student_id": "s1", "on": "2026-11-02", "minutes": -5}]), "minutes"),
        (rows(sessions=[{"student_id": "s1", "on": "2026-11-02", "minutes": 10**12}]), "minutes"),
        (rows(measurements=[{"student_id": "s1", "on": "2026-11-02", "measure": "colour",
                             "value": 1}]), "measure cannot be 'colour'"),
        (rows(measurements=[{"student_id": "s1", "on": "2026-11-02", "measure": "longest bow",
                             "value": 1e300}]), "value"),
        (b"[" * 100_000, "nested"),
        (b'{"format": "plectrum-log", "version": 1, "students": [{"name": NaN}]}', "no number"),
    ],
)  # fmt: skip
def test_an_import_names_what_is_wrong(data, words):
    with pytest.raises(LogError, match=words):
        records_from_json(data, "log.json")


def test_rows_that_belong_to_nobody_are_found_before_anything_is_written(store):
    store.put(Piece("Tune", "violin", 90, id="p1"))
    good = [Student(f"S{k}", "violin") for k in range(500)]
    for bad in (Practised("nobody", DAY, 5), Measured("s1", DAY, "longest bow", 3, piece_id="p2")):
        with pytest.raises(LogError, match="belongs to a student or piece that is not there"):
            store.put_all([*good, WREN, bad])
        assert store.all(Student) == []
    twice = Practised("s1", DAY, 5, id="t")
    with pytest.raises(LogError, match="stands there twice"):
        store.put_all([WREN, twice, twice])
    assert store.put_all([WREN, Measured("s1", DAY, "longest bow", 3, piece_id="p1")]) == 2


def test_an_import_is_one_step_to_undo_and_can_be_called_off(store):
    many = [Student(f"S{k:03d}", "violin") for k in range(900)]
    shares: list[float] = []

    def half(share: float) -> bool:
        shares.append(share)
        return share < 0.5

    with pytest.raises(CalledOffError, match="nothing of it"):
        store.put_all(many, half)
    assert store.all(Student) == []
    assert shares == sorted(shares)
    store.put(WREN)
    store.put_all(many)
    store.undo()
    assert store.all(Student) == [WREN]
    store.redo()
    assert len(store.all(Student)) == 901


def test_cells_that_a_spreadsheet_would_run_are_harmless_and_come_back(store, tmp_path):
    """Formulas in cells of CSV: =, +, -, @, tab and return at the beginning (a published list,
    OWASP "CSV Injection", quoted from memory)."""
    names = ("=1+1", "+2", "-3", "@x", "'quoted", "plain", "=HYPERLINK(1)")
    store.put(*(Student(name, "violin", note=name) for name in names))
    data = log_as_csv_zip(store)
    import csv
    import io
    import zipfile

    table = zipfile.ZipFile(io.BytesIO(data)).read("students.csv").decode()
    cells = [cell for row in csv.reader(io.StringIO(table)) for cell in row]
    assert not [cell for cell in cells if cell.startswith(("=", "+", "-", "@", "\t", "\r"))]
    again = LogStore(tmp_path / "again.sqlite")
    again.put_all(records_from_csv_zip(data, "log.zip"))
    assert {s.name for s in again.all(Student)} == set(names)
    again.close()


def test_measurements_of_nonsense_are_named_by_their_line():
    head = "student,on,measure,value,string\n"
    for row in (
        "Wren,2026-11-02,longest bow,²,",
        "Wren,0001-01-01,longest bow,3,",
        "Wren,2026-11-02,longest bow,1e999,",
        "Wren,2026-11-02,longest bow,3,-7",
        "Wren,2026-11-02,colour,3,",
        "Wren,,longest bow,3,",
    ):
        with pytest.raises(LogError, match="line 2"):
            measured_from_csv((head + row).encode(), "m.csv", {"Wren": WREN})


IMPORTING = """
import sys
from pathlib import Path
from plectrum.core.log.exchange import records_from_json
from plectrum.core.log.store import LogStore
store = LogStore(Path(sys.argv[1]))
records = records_from_json(Path(sys.argv[2]).read_bytes(), "x")
print("ready", flush=True)
store.put_all(records)
print("done", flush=True)
"""


def test_a_kill_while_importing_leaves_all_or_nothing(tmp_path):
    source = LogStore(tmp_path / "source.sqlite")
    source.put_all([Student(f"S{k:04d}", "violin") for k in range(3000)])
    (tmp_path / "log.json").write_bytes(log_as_json(source))
    source.close()
    path = tmp_path / "log.sqlite"
    counts = set()
    for k in range(4):
        LogStore(path).close()
        work = subprocess.Popen(
            [sys.executable, "-c", IMPORTING, str(path), str(tmp_path / "log.json")],
            stdout=subprocess.PIPE, text=True,
        )  # fmt: skip
        assert work.stdout is not None
        assert work.stdout.readline() == "ready\n"
        time.sleep(0.02 + 0.1 * k)
        os.kill(work.pid, signal.SIGKILL)
        confirmed = "done" in work.communicate()[0]
        opened = LogStore(path)
        count = len(opened.all(Student))
        opened.close()
        assert count == 3000 if confirmed else count in (0, 3000)
        counts.add(count)
        for litter in tmp_path.glob("log.sqlite*"):
            litter.unlink()


def test_a_calendar_holds_what_a_title_says_and_nothing_more():
    """Read back by the library: one event a day, whatever the title tries (RFC 5545, 3.3.11, quoted
    from memory)."""
    title = "A;B,C\\n\nBEGIN:VEVENT\r\nSUMMARY:other" + "x" * 300
    document = tune_document("A4 B4 C5 D5|E5*4")
    programme = programme_of(document, plan_of(document), DAY)
    data = programme_as_ics(programme, title)
    events = list(Calendar.from_ical(data).walk("VEVENT"))
    assert len(events) == sum(bool(day.entries) for day in programme.days)
    assert all("BEGIN:VEVENT" in str(event["summary"]) for event in events)
    assert max(len(line) for line in data.split(b"\r\n")) <= 75
