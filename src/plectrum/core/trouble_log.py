"""The program's own log file: what was not foreseen, with its trace.

It lies in the user's state folder, readable by the user alone, and stays small. What is written
is where in the program something happened and of what kind it was; never what a message said,
because that may hold a name.
"""

from __future__ import annotations

import contextlib
import os
import platform
import sys
import traceback
from datetime import datetime
from pathlib import Path

from platformdirs import user_state_path

MOST_BYTES = 200_000  # then the file becomes the old one, and the one before that goes
_begun = False


def trouble_log_path() -> Path:
    """Where it lies."""
    return user_state_path("plectrum") / "plectrum.log"


def note_trouble(error: BaseException) -> None:
    """Write down where something unexpected happened. Never fails itself."""
    frames = traceback.extract_tb(error.__traceback__)
    places = [f"  {_short(f.filename)}:{f.lineno} in {f.name}" for f in frames[-30:]]
    _write("\n".join([f"unexpected {_kinds(error)}", *places]))


def note_event(text: str) -> None:
    """Write down something that happened, in words of the program's own."""
    _write(text)


def technical_facts() -> str:
    """Versions and the machine, without anything of the user's."""
    from importlib.metadata import PackageNotFoundError, version

    rows = [f"Python {platform.python_version()}, {platform.system()} {platform.machine()}"]
    for name in ("plectrum", "PySide6_Essentials", "verovio", "numpy", "scipy", "lxml"):
        with contextlib.suppress(PackageNotFoundError):
            rows.append(f"{name} {version(name)}")
    return "\n".join(rows)


def log_tail(most: int = 6000) -> str:
    """The end of the log, for a report; empty where there is none."""
    try:
        return trouble_log_path().read_text("utf-8", "replace")[-most:]
    except OSError:
        return ""


def _kinds(error: BaseException) -> str:
    cause = error.__cause__
    kind = type(error).__name__
    return kind if cause is None else f"{kind} after {type(cause).__name__}"


def _short(filename: str) -> str:
    """A path from the package on: no folder of the user's."""
    parts = Path(filename).parts
    for name in ("plectrum", "site-packages"):
        if name in parts:
            at = len(parts) - 1 - parts[::-1].index(name)
            return "/".join(parts[at:])
    return parts[-1] if parts else filename


def _write(text: str) -> None:
    global _begun
    with contextlib.suppress(Exception):
        path = trouble_log_path()
        path.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        if path.exists() and path.stat().st_size > MOST_BYTES:
            path.replace(path.with_suffix(".old.log"))
        head = "" if _begun else f"{datetime.now():%Y-%m-%d %H:%M:%S} pid {os.getpid()} begins\n"
        if not _begun:
            facts = technical_facts().replace("\n", "; ")
            head += f"  {facts}; {Path(sys.argv[0]).name if sys.argv else ''}\n"
        handle = os.open(path, os.O_WRONLY | os.O_APPEND | os.O_CREAT | os.O_NOFOLLOW, 0o600)
        with os.fdopen(handle, "a", encoding="utf-8", errors="replace") as stream:
            stream.write(f"{head}{datetime.now():%Y-%m-%d %H:%M:%S} {text}\n")
        _begun = True
