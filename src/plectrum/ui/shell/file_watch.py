"""Notices when the open file is changed on disk by something else."""

from __future__ import annotations

import contextlib
import hashlib
from pathlib import Path

from PySide6.QtCore import QFileSystemWatcher, QObject, QTimer, Signal

SETTLE_MS = 400  # programs write in several steps


class FileWatch(QObject):
    """Watches one file; what this window itself wrote is known and not told."""

    changed = Signal(object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._path: Path | None = None
        self._known = b""  # what was told of
        self._ours = b""  # what was opened, or written here
        self._watcher = QFileSystemWatcher(self)
        self._settle = QTimer(self, singleShot=True, interval=SETTLE_MS)
        self._settle.timeout.connect(self._look)
        self._watcher.fileChanged.connect(lambda _: self._settle.start())
        self._watcher.directoryChanged.connect(lambda _: self._settle.start())

    def watch(self, path: Path | None) -> None:
        """Watch this file from its present content on; None watches nothing."""
        for paths in (self._watcher.files(), self._watcher.directories()):
            if paths:
                self._watcher.removePaths(paths)
        self._settle.stop()
        self._path = path
        self._known = self._ours = _digest(path)
        if path is not None and path.exists():
            with contextlib.suppress(UnicodeError):  # a name the toolkit cannot hold
                self._watcher.addPaths([str(path), str(path.parent)])

    def differs(self, path: Path) -> bool:
        """Whether the file is not what was opened or written here, and the user has not said
        that this is all right. A file that is gone does not count."""
        now = _digest(path)
        return path == self._path and bool(now) and now != self._ours

    def accept(self) -> None:
        """The user keeps his own, whatever is on disk now."""
        self._ours = _digest(self._path)

    def _look(self) -> None:
        path = self._path
        if path is None:
            return
        now = _digest(path)
        if path.exists() and str(path) not in self._watcher.files():
            self._watcher.addPath(str(path))  # a rename over it ends the watch
        if now and now != self._known:
            self._known = now
            self.changed.emit(path)


def _digest(path: Path | None) -> bytes:
    """A fingerprint of a file's content, empty where it cannot be read."""
    try:
        return hashlib.blake2b(path.read_bytes()).digest() if path is not None else b""
    except OSError:
        return b""
