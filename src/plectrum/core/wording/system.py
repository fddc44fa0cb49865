"""What the system says when a file or folder refuses, in the user's language."""

from __future__ import annotations

import errno

from plectrum.core.wording import tr


def reason_of(error: Exception) -> str:
    """Why a file could not be opened, read or written, in a few words.

    The usual refusals are in the catalogue; a rarer one is said as the system says it.
    """
    number = error.errno if isinstance(error, OSError) else None
    usual = {
        errno.ENOENT: tr("no such file or directory"),
        errno.EACCES: tr("permission denied"),
        errno.EPERM: tr("operation not permitted"),
        errno.EEXIST: tr("file exists"),
        errno.ENOTDIR: tr("not a directory"),
        errno.EISDIR: tr("is a directory"),
        errno.ENOSPC: tr("no space left on device"),
        errno.EROFS: tr("read-only file system"),
        errno.ENAMETOOLONG: tr("file name too long"),
        errno.EIO: tr("input/output error"),
    }
    if number in usual:
        return usual[number]
    if isinstance(error, OSError):
        return (error.strerror or tr("no reason given")).lower()
    return tr("its name cannot be used")
