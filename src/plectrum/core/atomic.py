"""Writing a file so that a crash leaves the old one or the new one, never a torn one."""

from __future__ import annotations

import contextlib
import fcntl
import os
import stat
import tempfile
from pathlib import Path

from plectrum.core.errors import PlectrumError
from plectrum.core.outputs import held, note_written, refuse_outputs
from plectrum.core.plain_text import shown_path
from plectrum.core.wording import say, tr
from plectrum.core.wording.system import reason_of

_PREFIX, _SUFFIX = ".plectrum-", ".part"
PRIVATE = 0o600  # what holds students' data is readable by the user alone


def write_atomically(path: Path, data: bytes, *, private: bool = False, keep: bool = False) -> None:
    """Write to a temporary file beside the target, flush it, then rename it over.

    What a link names is written, the link stays; a device or pipe is written to as it is.

    Args:
        private: only the user may read it.
        keep: what was there before stays beside it, once, as NAME~.

    Raises:
        PlectrumError: the folder or disk does not allow it, or the rule for outputs; the old file
            is untouched.
    """
    try:
        if _takes_a_stream(path):  # asked of the path as it is: a link may lead to a pipe
            with open(path, "wb", buffering=0) as stream:
                _write_all(stream.fileno(), data)
            return
        if held() is not None and _is_there(path, data):
            return
        refuse_outputs(path)
        target = Path(os.path.realpath(path))
        sweep(target.parent)
        if keep:
            _keep(target)
        try:
            _replace(target, data, private)
        except FileNotFoundError:  # swept between its making and its lock
            _replace(target, data, private)
        note_written(target)
    except PlectrumError:
        raise
    except (OSError, ValueError) as error:
        reason = reason_of(error)
        if isinstance(error, FileNotFoundError):
            reason = tr("the folder is not there")
        raise PlectrumError(
            say("the file cannot be written ({reason})", reason=reason),
            where=shown_path(path),
            remedy=tr("Choose another folder or make room; nothing was changed"),
        ) from error


def _takes_a_stream(path: Path) -> bool:
    """Whether it is a device or pipe, which a rename would destroy."""
    try:
        mode = path.stat().st_mode
    except FileNotFoundError:
        return False
    return stat.S_ISCHR(mode) or stat.S_ISFIFO(mode)


def _is_there(path: Path, data: bytes) -> bool:
    """Whether it says this already, word for word: to write it anew replaces nothing."""
    try:
        return path.stat().st_size == len(data) and path.read_bytes() == data
    except OSError:
        return False


def _write_all(handle: int, data: bytes) -> None:
    view = memoryview(data)
    while view:
        view = view[os.write(handle, view) :]


def _replace(target: Path, data: bytes, private: bool) -> None:
    handle, temporary = tempfile.mkstemp(prefix=_PREFIX, suffix=_SUFFIX, dir=target.parent)
    try:
        with contextlib.suppress(OSError):  # a file system without locks is swept less surely
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)  # alive: see `sweep`
        _write_all(handle, data)
        os.fchmod(handle, _mode(target, private))
        os.fsync(handle)
        os.replace(temporary, target)
    except BaseException:
        with contextlib.suppress(OSError):
            os.unlink(temporary)
        raise
    finally:
        os.close(handle)
    _sync_folder(target.parent)


def _mode(target: Path, private: bool) -> int:
    if private:
        return PRIVATE
    try:
        return stat.S_IMODE(target.stat().st_mode) & 0o777
    except FileNotFoundError:
        return 0o666 & ~_umask()


def _sync_folder(folder: Path) -> None:
    """The new name itself is on the disk before the writing counts as done."""
    with contextlib.suppress(OSError):  # not every file system knows this
        handle = os.open(folder, os.O_RDONLY | os.O_DIRECTORY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


def _keep(target: Path) -> None:
    """What is there now stays as NAME~; where that cannot be, the writing goes on without."""
    kept = target.with_name(f"{target.name}~")
    with contextlib.suppress(OSError):
        if target.is_file():
            waiting = target.with_name(f"{_PREFIX}{os.getpid()}{_SUFFIX}")
            waiting.unlink(missing_ok=True)
            try:
                os.link(target, waiting)
                os.replace(waiting, kept)
            finally:
                waiting.unlink(missing_ok=True)


def sweep(folder: Path) -> int:
    """Take away temporary files whose writers are gone; how many there were."""
    swept = 0
    with contextlib.suppress(OSError):
        for entry in os.scandir(folder):
            name = entry.name
            if name.startswith(_PREFIX) and name.endswith(_SUFFIX) and lock_is_free(entry.path):
                with contextlib.suppress(OSError):
                    os.unlink(entry.path)
                    swept += 1
    return swept


def lock_is_free(path: Path | str) -> bool | None:
    """Whether nobody holds the lock of a file; None where it cannot be opened."""
    try:
        handle = os.open(path, os.O_RDWR | os.O_NOFOLLOW | os.O_NONBLOCK)
    except OSError:
        return None
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        return False
    finally:
        os.close(handle)
    return True


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask


def private_folder(folder: Path) -> Path:
    """A folder that only the user may look into; made if it is not there.

    Raises:
        OSError: it cannot be made.
    """
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    with contextlib.suppress(OSError):  # of somebody else's making: left as it is
        folder.chmod(0o700)
    return folder
