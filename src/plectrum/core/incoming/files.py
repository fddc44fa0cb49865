"""Bytes of a file on disk, a pipe, or standard input: never more than is wanted, never for ever."""

from __future__ import annotations

import os
import select
import stat
import sys
import time
from pathlib import Path

from plectrum.core.errors import ScoreError
from plectrum.core.outputs import note_read
from plectrum.core.plain_text import shown_name
from plectrum.core.wording import say, tr
from plectrum.core.wording.system import reason_of

MAX_FILE_BYTES = 20_000_000
SILENCE_S = 10.0  # a pipe that says nothing for so long is given up
STANDARD_SILENCE_S = 120.0  # on standard input somebody may still be computing
LONGEST_S = 600.0
_CHUNK = 1 << 16


def read_file(path: Path, most: int = MAX_FILE_BYTES) -> bytes:
    """A file's bytes, one more than `most` where there are more, so that the size can be refused.

    Raises:
        ScoreError: missing, a folder, a device, not permitted, or a pipe that stays silent.
    """
    name = shown_name(path)
    try:
        handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
    except (OSError, ValueError) as error:
        raise _unreadable(error, name) from error
    try:
        found = os.fstat(handle)
        note_read(found)
        mode = found.st_mode
        if stat.S_ISREG(mode):
            return _all(handle, most)
        if stat.S_ISFIFO(mode):
            return _spoken(handle, most, name, SILENCE_S)
    except OSError as error:
        raise _unreadable(error, name) from error
    finally:
        os.close(handle)
    what = tr("a folder") if stat.S_ISDIR(mode) else tr("a device, not a file")
    raise ScoreError(say("this is {what}", what=what), where=name, remedy=tr("Name a file"))


def read_standard_input(most: int = MAX_FILE_BYTES) -> bytes:
    """What comes on standard input, one byte more than `most` where there is more.

    Raises:
        ScoreError: nothing comes for long.
    """
    try:
        handle = sys.stdin.fileno()
        found = os.fstat(handle)
        note_read(found)
        mode = found.st_mode
    except (OSError, ValueError, AttributeError):
        return sys.stdin.buffer.read(most + 1) if sys.stdin is not None else b""
    if stat.S_ISFIFO(mode) or stat.S_ISSOCK(mode):
        return _spoken(handle, most, tr("standard input"), STANDARD_SILENCE_S)
    return sys.stdin.buffer.read(most + 1)


def _all(handle: int, most: int) -> bytes:
    pieces, size = [], 0
    while size <= most:
        piece = os.read(handle, min(most + 1 - size, 1 << 20))
        if not piece:
            break
        pieces.append(piece)
        size += len(piece)
    return b"".join(pieces)


def _spoken(handle: int, most: int, name: str, silence_s: float) -> bytes:
    """What a pipe says until it closes."""
    poll = select.poll()
    poll.register(handle, select.POLLIN | select.POLLHUP)
    until = time.monotonic() + LONGEST_S
    pieces, size = [], 0
    while size <= most:
        if time.monotonic() > until or not poll.poll(silence_s * 1000):
            raise ScoreError(
                tr("the pipe says nothing"), where=name, remedy=tr("Name a file instead")
            )
        piece = os.read(handle, min(most + 1 - size, _CHUNK))
        if not piece:
            break
        pieces.append(piece)
        size += len(piece)
    return b"".join(pieces)


def _unreadable(error: Exception, name: str) -> ScoreError:
    reason = reason_of(error)
    return ScoreError(say("the file cannot be read ({reason})", reason=reason), where=name)
