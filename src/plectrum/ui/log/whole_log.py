"""What is done with the log as a whole: undone, copied, exchanged; a student deleted for good."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from pathlib import Path

from PySide6.QtCore import QObject, QTimer, Signal
from PySide6.QtWidgets import QFileDialog, QMessageBox, QWidget

from plectrum.core.atomic import write_atomically
from plectrum.core.errors import PlectrumError
from plectrum.core.log.records import Student
from plectrum.core.log.store import LogStore
from plectrum.core.plain_text import shown_name
from plectrum.core.wording import say, tr
from plectrum.ui.log.importing import LogImport
from plectrum.ui.look.plain import ask
from plectrum.ui.look.where_to import where_to

TIDY_MS = 5_000  # how often a log that another program reads is asked again


class WholeLog(QObject):
    """Works for the Log screen.

    Signals:
        changed: the log may be another one, with what is said of it. failed: the error.
    """

    changed = Signal(str)
    failed = Signal(object)

    def __init__(self, store: LogStore, today: Callable[[], date], parent: QWidget) -> None:
        super().__init__(parent)
        self._store, self._today, self._window = store, today, parent
        self.importing: LogImport | None = None
        self.left = QTimer(self, interval=TIDY_MS)
        self.left.timeout.connect(self._tidy)

    def undo(self) -> None:
        self._guard(self._store.undo, tr("Undone in the log."))

    def redo(self) -> None:
        self._guard(self._store.redo, tr("Done again in the log."))

    def _guard(self, work: Callable[[], object], said: str) -> bool:
        try:
            work()
        except PlectrumError as error:
            self.failed.emit(error)
            return False
        self.changed.emit(said)
        return True

    def backup(self) -> None:
        path = where_to(
            self._window,
            tr("Back the log up"),
            say("plectrum log {today}.sqlite", today=self._today()),
            tr("Log (*.sqlite)"),
            [self._store.path],
        )
        if path is not None:
            self._guard(
                lambda: self._store.backup(path),
                say("Backed up as {name}.", name=shown_name(path)),
            )

    def restore(self) -> bool:
        """Put a backup in the place of the log; True if it was done."""
        name, _ = QFileDialog.getOpenFileName(
            self._window, tr("Restore a backup"), "", tr("Log (*.sqlite)")
        )
        if not name or not self.ask(
            tr("Put this backup in the place of the whole log? A copy is kept.")
        ):
            return False
        return self._guard(lambda: self._store.restore(Path(name)), tr("The backup is restored."))

    def export_json(self) -> None:
        from plectrum.core.log.exchange import log_as_json

        self._export("json", tr("JSON (*.json)"), lambda: log_as_json(self._store))

    def export_csv(self) -> None:
        from plectrum.core.log.exchange import log_as_csv_zip

        self._export("zip", tr("CSV tables in a zip (*.zip)"), lambda: log_as_csv_zip(self._store))

    def _export(self, suffix: str, kind: str, make: Callable[[], bytes]) -> None:
        path = where_to(
            self._window, tr("Export the log"), f"log.{suffix}", kind, [self._store.path]
        )
        if path is not None:
            self._guard(
                lambda: write_atomically(path, make(), private=True),
                say("Exported {name}.", name=shown_name(path)),
            )

    def import_file(self) -> None:
        """A log that was exported as JSON or as tables, or a table of measurements."""
        name, _ = QFileDialog.getOpenFileName(
            self._window,
            tr("Import into the log"),
            "",
            tr("Log or measurements (*.json *.zip *.csv)"),
        )
        if name:
            self.importing = LogImport(self._store, Path(name), self._window)
            self.importing.done.connect(self.changed)
            self.importing.failed.connect(self.failed)

    def forget(self, student: Student | None) -> None:
        """Delete all that is kept of a student, for good."""
        if student is not None and self.ask(
            say(
                "Delete everything that is kept of {name}? This cannot be undone.",
                name=student.name,
            )
        ):
            said = say("{name} is forgotten.", name=student.name)
            if self._guard(lambda: self._store.forget(student), said) and not self._store.tidy():
                left = tr("Another program reads the log: traces in the file go when it closes.")
                self.changed.emit(f"{said} {left}")
                self.left.start()

    def _tidy(self) -> None:
        """Another program read the log: what was forgotten goes as soon as it is closed."""
        if self._store.tidy():
            self.left.stop()
            self.changed.emit(tr("What was forgotten is out of the file now."))

    def ask(self, question: str) -> bool:
        """Yes or no; one place, so that tests can answer."""
        yes, no = QMessageBox.StandardButton.Yes, QMessageBox.StandardButton.No
        return ask(self._window, question, yes | no, no) == yes
