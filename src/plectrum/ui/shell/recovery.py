"""Autosave and recovery: what was not saved survives a crash.

While a document has unsaved changes, a copy of it lies in the user's state folder, named by
the process that made it. A clean save or close takes it away. At the next start, copies whose
process is gone are offered for recovery.
"""

from __future__ import annotations

import contextlib
import json
import os
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from threading import Lock

from platformdirs import user_state_path
from PySide6.QtCore import QObject, QThreadPool, QTimer

from plectrum.core.atomic import write_atomically
from plectrum.core.errors import PlectrumError
from plectrum.ui.editing.runner import Runner
from plectrum.ui.editing.session import Session

DELAY_MS = 1500  # after the last edit, so that a run of edits is written once


def recovery_folder() -> Path:
    """Where copies lie; made if it is not there."""
    folder = user_state_path("plectrum") / "recovery"
    folder.mkdir(parents=True, exist_ok=True)
    return folder


@dataclass(frozen=True, slots=True)
class Recovered:
    """A copy left by a process that is gone."""

    copy: Path
    title: str
    original: Path | None

    def forget(self) -> None:
        """Take the copy and its note away."""
        for path in (self.copy, self.copy.with_suffix(".json")):
            with contextlib.suppress(OSError):
                path.unlink()


def _alive(pid: int) -> bool:
    try:
        os.kill(pid, 0)
    except ProcessLookupError:
        return False
    except PermissionError:
        return True
    return True


def find_recovered(folder: Path) -> list[Recovered]:
    """Copies whose process is gone, newest first; damaged ones are left alone."""
    found = []
    copies = sorted(folder.glob("*.plectrum"), key=lambda p: -p.stat().st_mtime)
    for copy in copies:
        pid = copy.stem
        if not pid.isdigit() or int(pid) == os.getpid() or _alive(int(pid)):
            continue
        with contextlib.suppress(OSError, ValueError, KeyError):
            note = json.loads(copy.with_suffix(".json").read_text("utf-8"))
            original = Path(note["original"]) if note["original"] else None
            found.append(Recovered(copy, str(note["title"]), original))
    return found


class SafetyNet(QObject):
    """Writes the copy after edits and takes it away when nothing is unsaved."""

    def __init__(self, session: Session, folder: Path, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._copy = folder / f"{os.getpid()}.plectrum"
        self._ended = False
        self._lock = Lock()  # a copy is never written after the end
        self._writer = Runner(self, QThreadPool.globalInstance())
        self._timer = QTimer(self, singleShot=True, interval=DELAY_MS)
        self._timer.timeout.connect(self._write_aside)
        session.undo_stack.indexChanged.connect(self._edited)
        session.saved_changed.connect(self._edited)

    def _edited(self, _index: int = 0) -> None:
        if self._ended:
            return
        if self._session.unsaved:
            self._timer.start()
        else:
            self.clear()

    def write(self) -> None:
        """Write the copy now."""
        work = self._work()
        if work is not None:
            work()

    def _write_aside(self) -> None:
        """Write the copy in a thread, so that a slow disk is not felt."""
        work = self._work()
        if work is not None:
            self._writer.run(work, lambda _: self._written(), lambda _: None)

    def _work(self) -> Callable[[], None] | None:
        """What writes the present document; None if nothing is unsaved. A full disk must not
        disturb the teacher: it is tried again after the next edit."""
        document = self._session.document
        if document is None or not self._session.unsaved:
            return None
        path = self._session.path
        note = {"title": document.title, "original": str(path) if path is not None else ""}

        def work() -> None:
            from plectrum.core.files.planfile import document_bytes

            with self._lock, contextlib.suppress(PlectrumError):
                if not self._ended:
                    write_atomically(self._copy, document_bytes(document))
                    write_atomically(self._copy.with_suffix(".json"), json.dumps(note).encode())

        return work

    def _written(self) -> None:
        """What was written may have been saved or thrown away in the meantime."""
        if not self._session.unsaved:
            self.clear()

    def end(self) -> None:
        """The window closes for good: take the copy away and listen no more."""
        with self._lock:
            self._ended = True
        self.clear()

    def clear(self) -> None:
        """Nothing is unsaved: no copy is needed."""
        self._timer.stop()
        Recovered(self._copy, "", None).forget()
