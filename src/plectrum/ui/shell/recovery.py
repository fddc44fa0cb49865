"""Autosave and recovery: what was not saved survives a crash.

While a document has unsaved changes, a copy of it lies in the user's state folder under a name of
its own: a plan file that also says where its original lies. A lock beside it is held as long as
its window lives. A clean save or close takes both away. At the next start, copies whose lock
nobody holds are offered; none is taken away before it has been opened or refused.
"""

from __future__ import annotations

import contextlib
import fcntl
import os
import uuid
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from threading import Lock

from platformdirs import user_state_path
from PySide6.QtCore import QElapsedTimer, QObject, QTimer, Signal

from plectrum.core.atomic import lock_is_free, private_folder, sweep, write_atomically
from plectrum.core.errors import PlectrumError
from plectrum.core.wording import say
from plectrum.core.wording.system import reason_of
from plectrum.ui.editing.runner import Runner, keeping
from plectrum.ui.editing.session import Session

DELAY_MS = 1500  # after the last edit, so that a run of edits is written once
DEADLINE_MS = 4000  # after the first that is on no disk, however the work goes on
KIND = ".plectrum"


def recovery_folder() -> Path:
    """Where copies lie; made if it can be."""
    folder = user_state_path("plectrum") / "recovery"
    with contextlib.suppress(OSError):
        private_folder(folder)
    return folder


@dataclass(frozen=True, slots=True)
class Recovered:
    """A copy left by a window that is gone."""

    copy: Path
    title: str
    original: Path | None

    def forget(self) -> None:
        """Take the copy away."""
        for path in (self.copy, _lock_of(self.copy)):
            with contextlib.suppress(OSError):
                path.unlink()


def _lock_of(copy: Path) -> Path:
    return copy.with_suffix(".lock")


def _is_held(copy: Path) -> bool:
    """Whether the window that writes this copy is alive."""
    return lock_is_free(_lock_of(copy)) is False


def find_recovered(folder: Path) -> list[Recovered]:
    """Copies whose window is gone, newest first. What cannot be read is offered too, by its
    file's name: whether it can be opened is found out by opening it."""
    aged = []
    with contextlib.suppress(OSError):
        sweep(folder)
        for copy in folder.glob(f"*{KIND}"):
            with contextlib.suppress(OSError):
                aged.append((copy.lstat().st_mtime, copy))
    return [_noted(c) for _, c in sorted(aged, reverse=True) if c.is_file() and not _is_held(c)]


def _noted(copy: Path) -> Recovered:
    from plectrum.core.files.planfile import recovery_note

    try:
        title, original = recovery_note(copy)
    except PlectrumError:
        title, original = copy.name, ""
    return Recovered(copy, title, Path(original) if original else None)


class SafetyNet(QObject):
    """Writes the copy after edits and takes it away when nothing is unsaved.

    Signals:
        trouble: why no copy can be written, once; empty when it can again.
    """

    trouble = Signal(str)

    def __init__(self, session: Session, folder: Path, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._copy = folder / f"{uuid.uuid4().hex}{KIND}"
        self._lock_handle: int | None = None
        self._ended = False
        self._failing = False
        self._lock = Lock()  # a copy is never written after the end
        self._writer = Runner(self, keeping())
        self._first = QElapsedTimer()  # since the first edit that is in no copy
        self._timer = QTimer(self, singleShot=True)
        self._timer.timeout.connect(self._write_aside)
        session.undo_stack.indexChanged.connect(self._edited)
        session.saved_changed.connect(self._edited)

    def _edited(self, _index: int = 0) -> None:
        if self._ended:
            return
        if self._session.unsaved:
            if not self._first.isValid():
                self._first.start()
            left_ms = DEADLINE_MS - self._first.elapsed()
            self._timer.start(max(0, min(DELAY_MS, left_ms)))
        else:
            self.clear()

    def write(self) -> bool:
        """Write the copy now; False if it cannot be."""
        work = self._work()
        if work is None:
            return True
        try:
            work()
        except PlectrumError as error:
            self._failed(error)
            return False
        self._say_well()
        return True

    def _write_aside(self) -> None:
        """Write the copy in a thread, so that a slow disk is not felt."""
        if self._writer.busy:  # what comes then is newer
            self._timer.start(DELAY_MS)
            return
        self._first.invalidate()
        work = self._work()
        if work is not None:
            self._writer.run(work, lambda _: self._written(), self._failed)

    def _work(self) -> Callable[[], None] | None:
        """What writes the present document; None if nothing is unsaved."""
        document = self._session.document
        if document is None or not self._session.unsaved:
            return None
        path = self._session.path

        def work() -> None:
            from plectrum.core.files.planfile import recovery_bytes

            data = recovery_bytes(document, path)
            with self._lock:
                if not self._ended:
                    self._hold()
                    write_atomically(self._copy, data, private=True)

        return work

    def _hold(self) -> None:
        """Take the lock that says this window is alive."""
        if self._lock_handle is not None and _lock_of(self._copy).exists():
            return
        self._let_go()
        try:
            private_folder(self._copy.parent)
            flags = os.O_RDWR | os.O_CREAT | os.O_NOFOLLOW | os.O_CLOEXEC
            self._lock_handle = os.open(_lock_of(self._copy), flags, 0o600)
            fcntl.flock(self._lock_handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError as error:
            reason = reason_of(error)
            raise PlectrumError(say("the copy cannot be kept ({reason})", reason=reason)) from error

    def _let_go(self) -> None:
        if self._lock_handle is not None:
            os.close(self._lock_handle)
            self._lock_handle = None

    def _written(self) -> None:
        """What was written may have been saved or thrown away in the meantime."""
        self._say_well()
        if not self._session.unsaved:
            self.clear()

    def _say_well(self) -> None:
        if self._failing:
            self._failing = False
            self.trouble.emit("")

    def _failed(self, error: Exception) -> None:
        """Said once, and seen until a copy can be written again; it is tried after each edit."""
        if not self._failing:
            self._failing = True
            what = error.what if isinstance(error, PlectrumError) else type(error).__name__
            self.trouble.emit(
                say("Unsaved changes are not being kept: {what}. Save the plan soon.", what=what)
            )

    def end(self, *, keep: bool = False) -> None:
        """The window closes for good: take the copy away, or leave it to the next start, and listen
        no more."""
        with self._lock:
            self._ended = True
        self._timer.stop()
        if not keep:
            self.clear()
        self._let_go()

    def clear(self) -> None:
        """Nothing is unsaved: no copy is needed."""
        self._timer.stop()
        self._first.invalidate()
        if self._copy.exists() or self._lock_handle is not None:
            Recovered(self._copy, "", None).forget()
            self._let_go()
