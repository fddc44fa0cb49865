"""The log as a file: made private, opened, written in transactions, copied, checked, set aside."""

from __future__ import annotations

import os
import shutil
import sqlite3
import stat
from contextlib import closing, suppress
from datetime import datetime
from pathlib import Path
from typing import Any

import sqlalchemy as sa
from sqlalchemy.engine import Connection, Engine
from sqlalchemy.exc import DatabaseError, IntegrityError, OperationalError
from sqlalchemy.pool import NullPool

from plectrum.core.atomic import PRIVATE, private_folder
from plectrum.core.errors import PlectrumError
from plectrum.core.plain_text import shown_name, shown_path
from plectrum.core.wording import tr

WAIT_S = 10.0
TIDY_S = 0.3  # other readers are not waited for: it is tried again later


class LogError(PlectrumError):
    """The log cannot be read or written, or a command does not fit what is in it."""


class UnusableLogError(LogError):
    """The file is there and can be read, but is no log this version can use."""


class CalledOffError(LogError):
    """What was under way was called off; nothing of it is in the log."""


class Transaction:
    """One transaction; what goes wrong in it becomes one clear line."""

    def __init__(self, engine: Engine, path: Path) -> None:
        self._path = path
        self._context = engine.begin()

    def __enter__(self) -> Connection:
        try:
            return self._context.__enter__()
        except OperationalError as error:
            raise LogError(
                tr("the log is busy"),
                where=shown_path(self._path),
                remedy=tr("Try again in a moment"),
            ) from error

    def __exit__(self, kind: Any, error: Any, trace: Any) -> Any:
        try:
            self._context.__exit__(kind, error, trace)
        except DatabaseError as failed:
            raise LogError(
                tr("the log cannot be written"), where=shown_path(self._path)
            ) from failed
        if isinstance(error, IntegrityError):
            raise LogError(
                tr("this belongs to a student or piece that is not in the log any more"),
                remedy=tr("Look at the log again"),
            ) from error
        if isinstance(error, DatabaseError):
            raise LogError(tr("the log cannot be written"), where=shown_path(self._path)) from error
        return False


def make_private(path: Path) -> None:
    """The file and its folder are the user's alone; SQLite gives its helpers the same rights."""
    if not path.parent.exists():
        private_folder(path.parent)
    handle = os.open(path, os.O_RDWR | os.O_CREAT | os.O_NONBLOCK, PRIVATE)
    try:
        if not stat.S_ISREG(os.fstat(handle).st_mode):
            raise OSError(tr("the log is no file"))
        if os.fstat(handle).st_uid == os.getuid():
            os.fchmod(handle, PRIVATE)
    finally:
        os.close(handle)


# Codes of SQLite that tell of the file's content, not of rights, room or other windows.
_OF_CONTENT = (sqlite3.SQLITE_ERROR, sqlite3.SQLITE_CORRUPT, sqlite3.SQLITE_NOTADB)


def is_no_log(error: Exception) -> bool:
    """Whether what went wrong lies in the file itself."""
    origin = error.orig if isinstance(error, DatabaseError) else None
    code = getattr(origin, "sqlite_errorcode", None)
    return code is not None and code & 0xFF in _OF_CONTENT


def set_aside(path: Path) -> Path:
    """Give a log that cannot be used another name, with what belongs to it; nothing is
    overwritten.

    Raises:
        LogError: the folder does not allow it.
    """
    stem = f"{path.stem}-set-aside-{datetime.now():%Y%m%d-%H%M%S}"
    aside = path.with_name(f"{stem}{path.suffix}")
    number = 1
    while aside.exists():
        number += 1
        aside = path.with_name(f"{stem}-{number}{path.suffix}")
    try:
        for suffix in ("-wal", "-shm", ""):
            own = path.with_name(path.name + suffix)
            if own.exists():
                own.rename(aside.with_name(aside.name + suffix))
    except OSError as error:
        raise LogError(tr("the log cannot be set aside"), where=shown_path(path)) from error
    return aside


def engine_of(path: Path) -> Engine:
    engine = sa.create_engine(
        f"sqlite:///{path}", poolclass=NullPool, connect_args={"timeout": WAIT_S}
    )

    @sa.event.listens_for(engine, "connect")
    def _settle(connection: Any, _record: Any) -> None:
        connection.isolation_level = None  # transactions are begun below
        for pragma in ("journal_mode=WAL", "synchronous=FULL", "foreign_keys=ON",
                       "secure_delete=ON"):  # fmt: skip
            connection.execute(f"PRAGMA {pragma}")

    @sa.event.listens_for(engine, "begin")
    def _begin(connection: Connection) -> None:
        # A writer takes its turn at the start, so that it never fails half way.
        reading = connection.get_execution_options().get("reading")
        connection.exec_driver_sql("BEGIN" if reading else "BEGIN IMMEDIATE")

    return engine


def copy_log(source: Path, target: Path) -> None:
    """A whole copy by way of the database's own backup, renamed when it is complete; one that
    fails leaves nothing."""
    waiting = target.with_name(f"{target.name}.part")
    try:
        remove_log(waiting)
        with (
            closing(sqlite3.connect(source, timeout=WAIT_S)) as old,
            closing(sqlite3.connect(waiting)) as new,
        ):
            old.backup(new)
        waiting.chmod(PRIVATE)
        waiting.replace(target)
    except BaseException:
        with suppress(OSError):
            remove_log(waiting)
        raise


def checked_copy(source: Path, own: Path) -> Path:
    """A copy of a backup beside the log, looked through.

    Raises:
        LogError: it is no log.
    """
    waiting = own.with_name(f"{own.name}.restoring")
    remove_log(waiting)
    try:
        shutil.copyfile(source, waiting)
        with closing(sqlite3.connect(waiting)) as held:
            sound = held.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
            names = {row[0] for row in held.execute("SELECT name FROM sqlite_master")}
    except (OSError, sqlite3.Error) as error:
        remove_log(waiting)
        raise LogError(tr("this is not a backup of a log"), where=shown_name(source)) from error
    if not sound or not {"students", "alembic_version"} <= names:
        remove_log(waiting)
        raise LogError(tr("this is not a backup of a log"), where=shown_name(source))
    return waiting


def remove_log(path: Path) -> None:
    for suffix in ("", "-wal", "-shm"):
        path.with_name(path.name + suffix).unlink(missing_ok=True)
