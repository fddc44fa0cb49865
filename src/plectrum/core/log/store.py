"""The store: commands that are written whole or not at all, and can be undone.

Safe under a crash (SQLite in WAL mode, every command one transaction, on disk before it is
confirmed) and for two windows at once (a writer waits for the other; what another window has
changed since is not overwritten by undoing).
"""

from __future__ import annotations

import sqlite3
from collections.abc import Callable, Iterable
from contextlib import closing, suppress
from dataclasses import dataclass
from datetime import date
from pathlib import Path
from typing import Any, TypeVar

import sqlalchemy as sa
from sqlalchemy.engine import Connection
from sqlalchemy.exc import DatabaseError

from plectrum.core.log.check import REVISIONS
from plectrum.core.log.log_file import (
    TIDY_S,
    WAIT_S,
    CalledOffError,
    LogError,
    Transaction,
    UnusableLogError,
    checked_copy,
    copy_log,
    engine_of,
    is_no_log,
    make_private,
    remove_log,
)
from plectrum.core.log.records import KINDS, OF_A_STUDENT, Piece, Record, Student
from plectrum.core.log.sound_records import unfounded
from plectrum.core.log.tables import TABLES, record_of, row_of
from plectrum.core.plain_text import shown_path
from plectrum.core.wording import say, tr

UNDO_N = 200
T = TypeVar("T")


@dataclass(frozen=True, slots=True)
class _Change:
    """One row before and after; None where there is none."""

    kind: type[Any]
    key: str
    before: Any
    after: Any

    @property
    def reverse(self) -> _Change:
        return _Change(self.kind, self.key, self.after, self.before)


class LogStore:
    """One log file. Reading is at any time; every command is one transaction."""

    def __init__(self, path: Path) -> None:
        """Open a log, made or brought up to date if need be.

        Raises:
            LogError: it cannot be opened, is damaged, or was made by a newer version.
        """
        self.path = path
        self._undo: list[tuple[_Change, ...]] = []
        self._redo: list[tuple[_Change, ...]] = []
        try:
            make_private(path)
            self._engine = engine_of(path)
            self._bring_up_to_date()
            self._check_tables()
            self.tidy()
        except (OSError, DatabaseError, sqlite3.Error) as error:
            kind = UnusableLogError if is_no_log(error) else LogError
            raise kind(
                tr("the log cannot be opened"),
                where=shown_path(path),
                remedy=tr("Restore a backup, or move the file away to begin anew"),
            ) from error

    def close(self) -> None:
        """Let go of the file."""
        with suppress(sqlite3.Error):
            self.tidy()
        self._engine.dispose()

    def _bring_up_to_date(self) -> None:
        """Change the tables as newer versions want them, a copy of the old file kept."""
        now = self._revision()
        if now == REVISIONS[-1]:
            return
        if now is not None and now not in REVISIONS:
            raise UnusableLogError(
                tr("the log was made by a newer version of Plectrum"),
                where=shown_path(self.path),
                remedy=tr("Update Plectrum to open it; nothing was changed"),
            )
        if now is not None:
            copy_log(self.path, self.path.with_name(f"{self.path.name}.before-{REVISIONS[-1]}"))
        from plectrum.core.log.migrating import upgrade  # slow to load, and seldom needed

        with self._engine.begin() as connection:
            upgrade(connection)

    def _revision(self) -> str | None:
        """Of the tables in the file; None where there are none yet."""
        with self._engine.connect() as connection:
            reading = connection.execution_options(reading=True)
            named = sa.text("SELECT name FROM sqlite_master WHERE name = 'alembic_version'")
            if reading.execute(named).first() is None:
                return None
            found = reading.execute(sa.text("SELECT version_num FROM alembic_version")).first()
            return None if found is None else str(found[0])

    def _check_tables(self) -> None:
        """Whether every table has the columns this version reads: a change of the tables may have
        been broken off."""
        with self._engine.connect() as connection:
            reading = connection.execution_options(reading=True)
            for table in TABLES.values():
                rows = reading.execute(sa.text(f"PRAGMA table_info({table.name})"))
                if not {c.name for c in table.c} <= {row[1] for row in rows}:
                    raise UnusableLogError(
                        say("the log is incomplete: {name} lacks columns", name=table.name),
                        where=shown_path(self.path),
                        remedy=tr("Restore a backup"),
                    )

    # reading

    def all(
        self, kind: type[T], *, since: date | None = None, until: date | None = None, **where: Any
    ) -> list[T]:
        """Every record of a kind, or those whose fields are as said; by day, then id.

        Args:
            since, until: the first and last day, of records that have one.
        """
        table = TABLES[kind]
        query = sa.select(table)
        if since is not None:
            query = query.where(table.c.on >= since)
        if until is not None:
            query = query.where(table.c.on <= until)
        for name, value in where.items():
            query = query.where(table.c[name] == value)
        order = [table.c[n] for n in ("on", "name", "title", "id") if n in table.c]
        return [record_of(kind, row) for row in self.rows(query.order_by(*order))]

    def get(self, kind: type[T], key: str) -> T | None:
        """A record by its id."""
        found = self.all(kind, id=key)
        return found[0] if found else None

    def rows(self, query: Any) -> list[Any]:
        """What a query finds.

        Raises:
            LogError: the file cannot be read.
        """
        try:
            with self._engine.connect() as connection:
                reading = connection.execution_options(reading=True)
                return [row._mapping for row in reading.execute(query)]
        except (DatabaseError, ValueError, TypeError) as error:
            raise LogError(
                tr("the log cannot be read"),
                where=shown_path(self.path),
                remedy=tr("Restore a backup: Log menu"),
            ) from error

    # commands

    def put(self, *records: Record) -> None:
        """Write records, new ones or others in the place of those with their ids."""
        changes = []
        with self._begun() as connection:
            for record in records:
                before = self._get(connection, type(record), record.id)
                changes.append(_Change(type(record), record.id, before, record))
                self._write(connection, changes[-1])
        self._did(tuple(changes))

    def remove(self, *records: Record) -> None:
        """Take records out; a student goes with all that is kept of him, and undoing brings it
        all back."""
        changes: list[_Change] = []
        with self._begun() as connection:
            for record in self._with_what_hangs_on(connection, records):
                before = self._get(connection, type(record), record.id)
                if before is not None:
                    changes.append(_Change(type(record), record.id, before, None))
                    self._write(connection, changes[-1])
        self._did(tuple(changes))

    def _with_what_hangs_on(
        self, connection: Connection, records: Iterable[Record]
    ) -> list[Record]:
        """What must go before something can go."""
        found: dict[str, Record] = {}
        for record in records:
            if isinstance(record, Student):
                for kind in OF_A_STUDENT:
                    table = TABLES[kind]
                    query = sa.select(table).where(table.c.student_id == record.id)
                    for row in connection.execute(query):
                        own = record_of(kind, row._mapping)
                        found[own.id] = own
            found[record.id] = record
        return list(found.values())

    def _did(self, changes: tuple[_Change, ...]) -> None:
        if changes:
            self._undo = [*self._undo[-UNDO_N + 1 :], changes]
            self._redo = []

    def undo(self) -> None:
        """Take the last command back.

        Raises:
            LogError: there is none, or another window has changed the same since.
        """
        self._again(self._undo, self._redo, tr("there is nothing to undo"))

    def redo(self) -> None:
        """Do again what was undone.

        Raises:
            LogError: as for `undo`.
        """
        self._again(self._redo, self._undo, tr("there is nothing to do again"))

    def _again(
        self,
        source: list[tuple[_Change, ...]],
        target: list[tuple[_Change, ...]],
        nothing: str,
    ) -> None:
        if not source:
            raise LogError(nothing)
        changes = tuple(change.reverse for change in reversed(source[-1]))
        with self._begun() as connection:
            for change in changes:
                if self._get(connection, change.kind, change.key) != change.before:
                    raise LogError(
                        tr("this was changed in another window since, and stays as it is"),
                        remedy=tr("Change it by hand"),
                    )
                self._write(connection, change)
        source.pop()
        target.append(changes)

    def forget(self, student: Student) -> bool:
        """Delete a student's data for good: it cannot be undone.

        Returns:
            Whether nothing of it stays in the file. While another program reads the log, traces
            do: they go with `tidy`, which closing and opening the log try again.
        """
        with self._begun() as connection:
            for record in self._with_what_hangs_on(connection, [student]):
                self._write(connection, _Change(type(record), record.id, record, None))
            connection.exec_driver_sql("PRAGMA user_version = 1")  # traces are left
        self._undo, self._redo = [], []
        return self.tidy()

    def tidy(self) -> bool:
        """Take the traces of what was forgotten out of the file; whether none are left."""
        with closing(sqlite3.connect(self.path, timeout=TIDY_S)) as plain:
            if not plain.execute("PRAGMA user_version").fetchone()[0]:
                return True
            try:
                plain.execute("VACUUM")
                if plain.execute("PRAGMA wal_checkpoint(TRUNCATE)").fetchone()[0]:
                    return False
                plain.execute("PRAGMA user_version = 0")
                plain.execute("PRAGMA wal_checkpoint(TRUNCATE)")
            except sqlite3.OperationalError:  # somebody writes
                return False
        return True

    def _begun(self) -> Any:
        return Transaction(self._engine, self.path)

    def _get(self, connection: Connection, kind: type[Any], key: str) -> Any:
        table = TABLES[kind]
        row = connection.execute(sa.select(table).where(table.c.id == key)).first()
        return None if row is None else record_of(kind, row._mapping)

    def _write(self, connection: Connection, change: _Change) -> None:
        table = TABLES[change.kind]
        own = table.c.id == change.key
        if change.after is None:
            connection.execute(table.delete().where(own))
        elif change.before is None:
            connection.execute(table.insert(), row_of(change.after))
        else:
            connection.execute(table.update().where(own).values(row_of(change.after)))

    # copies

    def backup(self, target: Path) -> None:
        """A whole copy, also while another window writes.

        Raises:
            LogError: it cannot be written there.
        """
        try:
            copy_log(self.path, target)
        except (OSError, sqlite3.Error) as error:
            raise LogError(tr("the backup cannot be written"), where=shown_path(target)) from error

    def restore(self, source: Path) -> None:
        """Put a backup in the place of everything here; what was here is kept beside it.

        Raises:
            LogError: that file is no backup; nothing is changed then.
        """
        waiting = checked_copy(source, self.path)
        try:
            LogStore(waiting).close()
            copy_log(self.path, self.path.with_name(f"{self.path.name}.before-restore"))
            with (
                closing(sqlite3.connect(waiting)) as held,
                closing(sqlite3.connect(self.path, timeout=WAIT_S)) as own,
            ):
                held.backup(own)
        except (OSError, sqlite3.Error) as error:
            raise LogError(
                tr("the backup cannot be restored"), where=shown_path(self.path)
            ) from error
        finally:
            remove_log(waiting)
        self._undo, self._redo = [], []

    def put_all(
        self, records: Iterable[Record], go_on: Callable[[float], bool] = lambda _share: True
    ) -> int:
        """Write many records as one command; how many there were.

        Args:
            go_on: is told what share is done, and says whether to go on.

        Raises:
            LogError: one of them belongs to nobody, or it was called off; nothing is written then.
        """
        order = {kind: k for k, kind in enumerate(KINDS)}
        wanted = sorted(records, key=lambda item: order[type(item)])
        lost = unfounded(wanted, self._owners())
        if lost is not None:
            raise LogError(
                say(
                    "a row of {name} belongs to a student or piece that is "
                    "not there, or stands there twice",
                    name=TABLES[type(lost)].name,
                ),
                where=lost.id,
                remedy=tr("Export the whole log again where it was made"),
            )
        changes = []
        with self._begun() as connection:
            for k, record in enumerate(wanted):
                if k % 200 == 0 and not go_on(k / len(wanted)):
                    raise CalledOffError(
                        tr("the import was called off; nothing of it is in the log")
                    )
                before = self._get(connection, type(record), record.id)
                changes.append(_Change(type(record), record.id, before, record))
                self._write(connection, changes[-1])
        self._did(tuple(changes))
        return len(changes)

    def _owners(self) -> set[str]:
        """Ids of the students and pieces there are."""
        queries = (sa.select(TABLES[kind].c.id) for kind in (Student, Piece))
        return {row["id"] for query in queries for row in self.rows(query)}
