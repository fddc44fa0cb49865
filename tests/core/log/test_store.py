"""The store: commands in any order, undone and done again, crashes, two writers, old versions."""

from __future__ import annotations

import os
import signal
import sqlite3
import subprocess
import sys
import tempfile
import time
from contextlib import closing
from dataclasses import replace
from datetime import date, timedelta
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, precondition, rule

from plectrum.core.log import log_file
from plectrum.core.log.log_file import LogError
from plectrum.core.log.migrating import upgrade
from plectrum.core.log.records import (
    KINDS,
    BowOwned,
    FaultSeen,
    Lesson,
    Measure,
    Measured,
    Piece,
    PlanGiven,
    Practised,
    StepDone,
    Student,
)
from plectrum.core.log.store import LogStore

DAY = date(2026, 11, 2)
OLD_ROWS = (  # as the first version kept them
    "INSERT INTO students (id, name, instrument) VALUES ('s1', 'Tarn', 'cello')",
    """INSERT INTO sessions (id, student_id, "on", minutes)
       VALUES ('p1', 's1', '2026-10-05', 12)""",
    """INSERT INTO lessons (id, student_id, "on", checks)
       VALUES ('l1', 's1', '2026-10-06', '{"hold": true}')""",
)
names = st.text(min_size=1, max_size=20).filter(lambda t: "\x00" not in t)


@pytest.fixture
def store(tmp_path: Path):
    made = LogStore(tmp_path / "log.sqlite")
    yield made
    made.close()


def everything(store: LogStore) -> dict[str, object]:
    return {record.id: record for kind in KINDS for record in store.all(kind)}


def _one_of_each(student: Student, piece: Piece) -> list:
    return [
        BowOwned(student.id, "three-quarter bow", 590.0),
        PlanGiven(student.id, piece.id, DAY, b"\x00plan"),
        Practised(student.id, DAY, 15, note="tired"),
        StepDone(student.id, DAY, "1.say", "A: say", "good", piece.id, 84.0, "A"),
        Measured(student.id, DAY, Measure.LONGEST_BOW, 8.0, (7.5, 8.0, 8.1), 2, "up", piece.id),
        FaultSeen(student.id, DAY, "choked", piece.id, 9, 0.15),
        Lesson(student.id, DAY, "good", "on", {"hold": True}),
    ]


class Commands(RuleBasedStateMachine):
    """Any order of commands against a plain dictionary; undo and redo against a list of its
    states; the file is closed and opened again at any time."""

    def __init__(self) -> None:
        super().__init__()
        self.folder = tempfile.TemporaryDirectory()
        self.path = Path(self.folder.name) / "log.sqlite"
        self.store = LogStore(self.path)
        self.model: dict[str, object] = {}
        self.past: list[dict[str, object]] = []
        self.future: list[dict[str, object]] = []

    def teardown(self) -> None:
        self.store.close()
        self.folder.cleanup()

    def _students(self) -> list[Student]:
        return [r for r in self.model.values() if isinstance(r, Student)]

    def _did(self, model: dict[str, object]) -> None:
        self.past.append(self.model)
        self.model, self.future = model, []

    @rule(name=names)
    def put_student(self, name: str) -> None:
        student = Student(name, "violin")
        self.store.put(student)
        self._did({**self.model, student.id: student})

    @precondition(lambda self: self._students())
    @rule(
        data=st.data(), minutes=st.integers(1, 60), tries=st.lists(st.floats(0.5, 60), max_size=4)
    )
    def put_rows(self, data: st.DataObject, minutes: int, tries: list[float]) -> None:
        student = data.draw(st.sampled_from(self._students()))
        rows = [
            Practised(student.id, DAY + timedelta(days=minutes), minutes),
            Measured(student.id, DAY, Measure.LONGEST_BOW, 5.0, tuple(tries), 1, "down"),
        ]
        self.store.put(*rows)
        self._did({**self.model, **{r.id: r for r in rows}})

    @precondition(lambda self: self._students())
    @rule(data=st.data(), note=names)
    def edit(self, data: st.DataObject, note: str) -> None:
        student = replace(data.draw(st.sampled_from(self._students())), note=note)
        self.store.put(student)
        self._did({**self.model, student.id: student})

    @precondition(lambda self: self._students())
    @rule(data=st.data())
    def remove(self, data: st.DataObject) -> None:
        student = data.draw(st.sampled_from(self._students()))
        self.store.remove(student)
        gone = {student.id} | {
            k for k, r in self.model.items() if getattr(r, "student_id", None) == student.id
        }
        self._did({k: r for k, r in self.model.items() if k not in gone})

    @precondition(lambda self: self._students())
    @rule(data=st.data())
    def forget(self, data: st.DataObject) -> None:
        student = data.draw(st.sampled_from(self._students()))
        self.store.forget(student)
        self.model = {
            k: r for k, r in self.model.items()
            if k != student.id and getattr(r, "student_id", None) != student.id
        }  # fmt: skip
        self.past, self.future = [], []

    @rule()
    def undo(self) -> None:
        if not self.past:
            with pytest.raises(LogError, match="nothing to undo"):
                self.store.undo()
            return
        self.store.undo()
        self.future.append(self.model)
        self.model = self.past.pop()

    @rule()
    def redo(self) -> None:
        if not self.future:
            with pytest.raises(LogError, match="nothing to do again"):
                self.store.redo()
            return
        self.store.redo()
        self.past.append(self.model)
        self.model = self.future.pop()

    @rule()
    def open_again(self) -> None:
        self.store.close()
        self.store = LogStore(self.path)
        self.past, self.future = [], []

    @invariant()
    def holds_what_was_said(self) -> None:
        assert everything(self.store) == self.model


TestCommands = Commands.TestCase
TestCommands.settings = settings(
    max_examples=12,
    stateful_step_count=18,
    deadline=None,
    suppress_health_check=[HealthCheck.too_slow],
)


def test_every_kind_of_record_comes_back_as_it_was(store):
    student, piece = Student("Wren", "violin", pain_since=DAY), Piece("Tune", "violin", 84.0, 16)
    rows = _one_of_each(student, piece)
    store.put(student, piece, *rows)
    assert everything(store) == {r.id: r for r in (student, piece, *rows)}
    store.remove(student)
    assert everything(store) == {piece.id: piece}
    store.undo()
    assert everything(store) == {r.id: r for r in (student, piece, *rows)}


def test_a_command_is_whole_or_not_at_all(store):
    """The second record belongs to nobody, so the first is not there either."""
    with pytest.raises(LogError, match="not in the log"):
        store.put(Student("Wren", "violin"), Practised("nobody", DAY, 10))
    assert everything(store) == {}
    with pytest.raises(LogError, match="nothing to"):
        store.undo()


_WRITER = """
import sys
from datetime import date
from pathlib import Path
from plectrum.core.log.records import Practised
from plectrum.core.log.store import LogStore
store = LogStore(Path(sys.argv[1]))
for k in range(int(sys.argv[3])):
    row = Practised(sys.argv[2], date(2026, 1, 1), k + 1)
    store.put(row)
    print(row.id, flush=True)
"""


def _writer(path: Path, student: Student, count: int) -> subprocess.Popen[str]:
    return subprocess.Popen(
        [sys.executable, "-c", _WRITER, str(path), student.id, str(count)],
        stdout=subprocess.PIPE, text=True,
    )  # fmt: skip


@pytest.mark.parametrize("confirmed_n", [1, 7, 23])
def test_what_was_confirmed_survives_a_kill(tmp_path, confirmed_n):
    """A writer is killed in the middle of its work: every row it had confirmed is there, whole."""
    path = tmp_path / "log.sqlite"
    student = Student("Wren", "violin")
    first = LogStore(path)
    first.put(student)
    first.close()
    writer = _writer(path, student, 100_000)
    confirmed = [writer.stdout.readline().strip() for _ in range(confirmed_n)]
    os.kill(writer.pid, signal.SIGKILL)
    confirmed += [line.strip() for line in writer.stdout.readlines() if line.endswith("\n")]
    writer.wait()
    again = LogStore(path)
    rows = {r.id: r for r in again.all(Practised)}
    assert set(confirmed) <= set(rows)
    assert len(rows) <= len(confirmed) + 1
    again.put(Practised(student.id, DAY, 5))
    again.close()


def test_two_processes_write_at_once(tmp_path):
    path = tmp_path / "log.sqlite"
    student = Student("Wren", "violin")
    mine = LogStore(path)
    mine.put(student)
    others = [_writer(path, student, 40) for _ in range(2)]
    own = [Practised(student.id, DAY, k + 1) for k in range(40)]
    for row in own:
        mine.put(row)
    said = [other.communicate(timeout=120)[0].split() for other in others]
    assert all(other.returncode == 0 for other in others)
    there = {r.id for r in mine.all(Practised)}
    assert there == {r.id for r in own} | {key for keys in said for key in keys}
    mine.close()


def test_undo_does_not_overwrite_what_another_window_changed(store):
    student = Student("Wren", "violin")
    store.put(student)
    other = LogStore(store.path)
    other.put(replace(student, note="from the other window"))
    with pytest.raises(LogError, match="another window"):
        store.undo()
    assert store.get(Student, student.id).note == "from the other window"
    other.close()


def test_a_log_of_the_first_version_is_brought_up_to_date_with_its_data(tmp_path):
    path = tmp_path / "log.sqlite"
    engine = log_file.engine_of(path)
    with engine.begin() as connection:
        upgrade(connection, "1")
        for line in OLD_ROWS:
            connection.exec_driver_sql(line)
    engine.dispose()
    store = LogStore(path)
    assert store.get(Student, "s1") == Student("Tarn", "cello", id="s1")
    assert store.all(Practised) == [Practised("s1", date(2026, 10, 5), 12, id="p1")]
    assert store.all(Lesson)[0].checks == {"hold": True}
    store.put(FaultSeen("s1", DAY, "choked"))
    assert (tmp_path / "log.sqlite.before-2").exists()
    store.close()


def test_the_newest_version_has_the_tables_of_the_code(store):
    """What the steps build is what the code expects: no table, column or index differs."""
    from alembic.autogenerate import compare_metadata
    from alembic.runtime.migration import MigrationContext

    from plectrum.core.log.tables import metadata

    with store._engine.connect() as connection:
        context = MigrationContext.configure(connection, opts={"compare_type": False})
        assert compare_metadata(context, metadata) == []


def test_a_newer_log_is_refused_and_left_alone(tmp_path):
    path = tmp_path / "log.sqlite"
    LogStore(path).close()
    with closing(sqlite3.connect(path)) as plain:
        plain.execute("UPDATE alembic_version SET version_num = '99'")
        plain.commit()
    before = path.read_bytes()
    with pytest.raises(LogError, match="newer version"):
        LogStore(path)
    assert path.read_bytes() == before


@pytest.mark.parametrize("content", [b"no database", b"SQLite format 3\x00" + b"x" * 500])
def test_a_damaged_log_is_one_clear_line(tmp_path, content):
    path = tmp_path / "log.sqlite"
    path.write_bytes(content)
    with pytest.raises(LogError, match="cannot be opened"):
        LogStore(path)


def test_a_folder_that_cannot_be_made_is_one_clear_line():
    with pytest.raises(LogError, match="cannot be opened"):
        LogStore(Path("/proc/nowhere/log.sqlite"))


def test_backup_and_restore(store, tmp_path):
    student = Student("Wren", "violin")
    store.put(student)
    store.backup(tmp_path / "copy.sqlite")
    store.put(Practised(student.id, DAY, 10))
    kept = everything(store)
    store.restore(tmp_path / "copy.sqlite")
    assert everything(store) == {student.id: student}
    before = LogStore(tmp_path / "log.sqlite.before-restore")
    assert everything(before) == kept
    before.close()
    for wrong in (b"no log at all", b""):
        (tmp_path / "wrong").write_bytes(wrong)
        with pytest.raises(LogError, match="not a backup"):
            store.restore(tmp_path / "wrong")
    assert everything(store) == {student.id: student}
    with pytest.raises(LogError, match="cannot be written"):
        store.backup(Path("/proc/nowhere/copy.sqlite"))
    assert not list(tmp_path.glob("*.restoring*"))


def test_what_is_forgotten_is_nowhere_in_the_files(store, tmp_path):
    student = Student("Quillfeather", "violin")
    store.put(student, Lesson(student.id, DAY, "a secret about bowholds"))
    store.forget(student)
    assert everything(store) == {}
    with pytest.raises(LogError, match="nothing to"):
        store.undo()
    store.close()
    for path in tmp_path.iterdir():
        data = path.read_bytes()
        assert b"Quillfeather" not in data
        assert b"bowholds" not in data


def test_what_is_forgotten_while_another_reads_goes_when_it_closes(store):
    student = Student("Quillfeather", "violin")
    store.put(student, Lesson(student.id, DAY, "a secret about bowholds"))
    reader = sqlite3.connect(store.path, isolation_level=None)
    reader.execute("BEGIN")
    assert reader.execute("SELECT count(*) FROM lessons").fetchone() == (1,)
    assert not store.forget(student)
    assert everything(store) == {}
    assert not store.tidy()
    reader.close()
    store.close()
    for path in store.path.parent.iterdir():
        assert b"bowholds" not in path.read_bytes(), path.name


def test_a_backup_that_fails_leaves_nothing(store, tmp_path):
    store.put(Student("Wren", "violin"))
    (tmp_path / "taken").mkdir()
    with pytest.raises(LogError, match="cannot be written"):
        store.backup(tmp_path / "taken")
    newer = tmp_path / "newer.sqlite"
    store.backup(newer)
    with closing(sqlite3.connect(newer)) as held:
        held.execute("UPDATE alembic_version SET version_num = '9999'")
        held.commit()
    with pytest.raises(LogError, match="newer version"):
        store.restore(newer)
    assert not [p.name for p in tmp_path.iterdir() if ".part" in p.name or ".restoring" in p.name]


def test_a_writer_waits_for_another(store):
    """The lock is held for a moment by another connection; the command waits and succeeds."""
    student = Student("Wren", "violin")
    code = (
        "import sqlite3, sys, time\n"
        "c = sqlite3.connect(sys.argv[1], isolation_level=None)\n"
        "c.execute('BEGIN IMMEDIATE')\nprint('held', flush=True)\ntime.sleep(0.7)\n"
        "c.execute('COMMIT')\n"
    )
    holder = subprocess.Popen(
        [sys.executable, "-c", code, str(store.path)], stdout=subprocess.PIPE, text=True
    )
    assert holder.stdout.readline().strip() == "held"
    begun = time.monotonic()
    store.put(student)
    assert time.monotonic() - begun > 0.2
    holder.wait()
    assert store.all(Student) == [student]
