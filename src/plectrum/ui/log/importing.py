"""Importing into the log: read and checked whole, then written as one command."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QObject, QThreadPool, QTimer, Signal
from PySide6.QtWidgets import QWidget

from plectrum.core.errors import PlectrumError
from plectrum.core.log.records import Record, Student
from plectrum.core.log.store import LogStore
from plectrum.core.plain_text import shown_name
from plectrum.core.wording import say, tr
from plectrum.ui.editing.runner import Runner
from plectrum.ui.look.plain import progress_dialog

if TYPE_CHECKING:
    from collections.abc import Callable

LOOK_MS = 100
MOST_BYTES = 100_000_000


class LogImport(QObject):
    """One import, made aside, with progress that can be cancelled.

    Signals:
        done: what is to be said. failed: why not; nothing is in the log then.
    """

    done = Signal(str)
    failed = Signal(object)

    def __init__(self, store: LogStore, path: Path, parent: QWidget) -> None:
        super().__init__(parent)
        self._store, self._path = store, path
        self._share, self._wanted = 0.0, True
        self._progress = progress_dialog(
            parent, say("Importing {path} …", path=shown_name(path)), 100
        )
        self._progress.setMinimumDuration(500)
        self._progress.canceled.connect(self._cancel)
        self._timer = QTimer(self, interval=LOOK_MS)
        self._timer.timeout.connect(self._look)
        self._timer.start()
        self._runner = Runner(self, QThreadPool.globalInstance())
        self._runner.run(self._work, self._finish, self._fail)

    def _work(self) -> int:
        return self._store.put_all(records_in(self._path, self._store), self._go_on)

    def _go_on(self, share: float) -> bool:
        self._share = share
        return self._wanted

    def _cancel(self) -> None:
        self._wanted = False

    def _look(self) -> None:
        self._progress.setValue(min(99, int(100 * self._share)))

    def _close(self) -> None:
        self._timer.stop()
        self._progress.canceled.disconnect(self._cancel)
        self._progress.close()
        self._progress.deleteLater()

    def _finish(self, count: Any) -> None:
        self._close()
        rows = tr("1 row") if count == 1 else say("{count} rows", count=count)
        self.done.emit(
            say(
                "Imported {path}: {rows}. Undo in the log takes it back.",
                path=shown_name(self._path),
                rows=rows,
            )
        )

    def _fail(self, error: Exception) -> None:
        self._close()
        if self._wanted or not isinstance(error, PlectrumError):
            self.failed.emit(error)
        else:
            self.done.emit(tr("The import was called off; nothing of it is in the log."))


def records_in(path: Path, store: LogStore) -> Sequence[Record]:
    """What a file holds for the log, told by its ending: a log as JSON, tables in a zip, or a
    table of measurements.

    Raises:
        PlectrumError: what is wrong with it; the row is named.
    """
    from plectrum.core.incoming.files import read_file
    from plectrum.core.log.exchange import (
        measured_from_csv,
        records_from_csv_zip,
        records_from_json,
    )

    data, name, suffix = read_file(path, MOST_BYTES), shown_name(path), path.suffix.lower()
    readers: dict[str, Callable[[], Sequence[Record]]] = {
        ".csv": lambda: measured_from_csv(data, name, {s.name: s for s in store.all(Student)}),
        ".zip": lambda: records_from_csv_zip(data, name),
    }
    return readers.get(suffix, lambda: records_from_json(data, name))()
