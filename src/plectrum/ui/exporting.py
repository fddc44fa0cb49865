"""What is handed on: the marked score and the table of notes."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QWidget

from plectrum.core.atomic import write_atomically
from plectrum.core.errors import PlectrumError
from plectrum.core.files.exports import plan_as_csv, plan_as_musicxml
from plectrum.core.planning.document import Document
from plectrum.core.planning.plan import Plan
from plectrum.ui.session import Session

Make = Callable[[Document, Plan], bytes]


class Exporter:
    """Asks where to, and writes."""

    def __init__(self, session: Session, parent: QWidget, say: Callable[[str], None]) -> None:
        self._session = session
        self._parent = parent
        self._say = say

    def musicxml(self) -> None:
        """The user's own score with bow marks."""
        self._export("musicxml", "MusicXML (*.musicxml)", plan_as_musicxml)

    def csv(self) -> None:
        """A line a note."""
        self._export("csv", "Table (*.csv)", lambda _document, plan: plan_as_csv(plan).encode())

    def _export(self, suffix: str, kind: str, make: Make) -> None:
        document = self._session.document
        if document is None:
            self._say("Open a tune first; there is nothing to export.")
            return
        suggested = f"{document.title} bowed.{suffix}"
        name, _ = QFileDialog.getSaveFileName(self._parent, "Export", suggested, kind)
        if not name:
            return
        path = Path(name)
        try:
            write_atomically(path, make(document, self._session.finished_plan()))
        except PlectrumError as error:
            self._session.failed.emit(error)
            return
        self._say(f"Exported {path.name}")
