"""Writing a file so that a crash leaves the old one or the new one, never a torn one."""

from __future__ import annotations

import contextlib
import os
import tempfile
from pathlib import Path

from plectrum.core.errors import PlectrumError


def write_atomically(path: Path, data: bytes) -> None:
    """Write to a temporary file beside the target, flush it, then rename it over.

    Raises:
        PlectrumError: the folder or disk does not allow it; the old file is untouched.
    """
    temporary = ""
    try:
        handle, temporary = tempfile.mkstemp(prefix=f".{path.name}.", dir=path.parent)
        with os.fdopen(handle, "wb") as stream:
            stream.write(data)
            stream.flush()
            os.fsync(stream.fileno())
        mode = path.stat().st_mode & 0o777 if path.exists() else 0o666 & ~_umask()
        os.chmod(temporary, mode)
        os.replace(temporary, path)
    except OSError as error:
        if temporary:
            with contextlib.suppress(OSError):
                os.unlink(temporary)
        reason = (error.strerror or str(error)).lower()
        raise PlectrumError(
            f"the file cannot be written ({reason})",
            where=str(path),
            remedy="Choose another folder or make room; nothing was changed",
        ) from error


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask
