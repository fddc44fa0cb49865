"""One window serves all files: a second start hands its files to the window that is open.

The window listens at a socket in the user's own runtime folder. Nothing of this needs the toolkit,
so that a second start is over before it would be loaded.
"""

from __future__ import annotations

import contextlib
import fcntl
import json
import os
import socket
import struct
import time
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import IO

from platformdirs import user_runtime_path

ANSWER = b"ok"
ANSWER_S = 2.0  # a window that does not answer so soon is not waited for
PATIENCE_S = 0.3  # what another start says, it says at once; the window stands still meanwhile
MOST_BYTES = 1_000_000
TOKEN = "XDG_ACTIVATION_TOKEN"  # with it a desktop lets a window come to the front


@dataclass(frozen=True, slots=True)
class Handed:
    """What another start has handed over."""

    paths: tuple[Path, ...]
    token: str = ""


def _folder() -> Path:
    folder = user_runtime_path("plectrum")
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    return folder


def hand_over(paths: Sequence[Path]) -> bool:
    """Give files to the window that is open.

    Returns:
        False where there is none that answers.
    """
    names = [os.fsencode(path.absolute()).hex() for path in paths]
    message = json.dumps({"paths": names, "token": os.environ.get(TOKEN, "")}).encode()
    with socket.socket(socket.AF_UNIX) as line:
        line.settimeout(ANSWER_S)
        try:
            line.connect(str(_folder() / "window.socket"))
            line.sendall(message)
            line.shutdown(socket.SHUT_WR)
            return line.recv(len(ANSWER)) == ANSWER
        except OSError:
            return False


class Listener:
    """The window's end of the line; there is one for each user."""

    def __init__(self, line: socket.socket, lock: IO[str], path: Path) -> None:
        self._line, self._lock, self._path = line, lock, path

    @classmethod
    def begin(cls) -> Listener | None:
        """Listen; None where another window does, or where there is no place for the socket."""
        try:
            folder = _folder()
            lock = (folder / "window.lock").open("w")
        except OSError:
            return None
        path = folder / "window.socket"
        line = socket.socket(socket.AF_UNIX)
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
            path.unlink(missing_ok=True)  # of a window that was killed
            line.bind(str(path))
            path.chmod(0o600)
            line.listen()
            line.setblocking(False)
        except OSError:
            line.close()
            lock.close()
            return None
        return cls(line, lock, path)

    def fileno(self) -> int:
        return self._line.fileno()

    def take(self) -> Handed | None:
        """What is handed over now; None where it is nothing of ours."""
        foreign = OSError, ValueError, KeyError, TypeError, AttributeError, RecursionError
        with contextlib.suppress(*foreign):
            line, _ = self._line.accept()
            with line:
                if _user_of(line) != os.getuid():
                    return None
                told = json.loads(_all_of(line))
                line.settimeout(PATIENCE_S)
                paths = tuple(Path(os.fsdecode(bytes.fromhex(name))) for name in told["paths"])
                line.sendall(ANSWER)
                return Handed(paths, str(told.get("token", "")))
        return None

    def end(self) -> None:
        self._path.unlink(missing_ok=True)
        self._line.close()
        self._lock.close()


def _user_of(line: socket.socket) -> int:
    credentials = line.getsockopt(socket.SOL_SOCKET, socket.SO_PEERCRED, struct.calcsize("3i"))
    user: int = struct.unpack("3i", credentials)[1]
    return user


def _all_of(line: socket.socket) -> bytes:
    """All that is sent, as far as it can be files, and comes in time.

    Raises:
        ValueError: it is more. TimeoutError: it drips.
    """
    found, until = b"", time.monotonic() + PATIENCE_S
    while True:
        line.settimeout(max(0.001, until - time.monotonic()))
        piece = line.recv(65536)
        if not piece:
            return found
        found += piece
        if len(found) > MOST_BYTES:
            raise ValueError("more than a list of files")
        if time.monotonic() > until:
            raise TimeoutError
