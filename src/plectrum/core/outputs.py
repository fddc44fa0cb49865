"""One rule for what is written: what was read is never written over, and what is there already is
replaced only where that is wanted.

A file is known by what it is on the disk, so that another name, a link or another case of letters
is the same file. The rule holds where `Outputs.hold` was called, in the thread that called it.
"""

from __future__ import annotations

import os
import stat
from collections.abc import Iterable, Iterator
from contextlib import contextmanager, suppress
from contextvars import ContextVar
from dataclasses import dataclass, field
from pathlib import Path

from plectrum.core.errors import ChoiceError
from plectrum.core.plain_text import one_line, shown_path
from plectrum.core.wording import say, several, tr

Identity = tuple[int, int]


@dataclass
class Outputs:
    """What a call has read and written.

    Attributes:
        replace: whether what is there already may be replaced.
    """

    replace: bool
    read: set[Identity] = field(default_factory=set)
    written: set[Identity] = field(default_factory=set)

    @contextmanager
    def hold(self) -> Iterator[None]:
        """The rule holds inside."""
        token = _HELD.set(self)
        try:
            yield
        finally:
            _HELD.reset(token)

    def refuse(self, paths: Iterable[Path]) -> None:
        """See `refuse_outputs`."""
        there = {path: of for path in paths if (of := _of(path)) is not None}
        for path, of in there.items():
            if of in self.read:
                raise ChoiceError(
                    tr("this is what was read; it is never written over"),
                    where=shown_path(path),
                    remedy=tr("Name another file"),
                )
        taken = [path for path, of in there.items() if of not in self.written]
        if taken and not self.replace:
            raise ChoiceError(
                several("this is there already", "{n} files are there already", len(taken)),
                where=shown_path(taken[0]),
                remedy=tr("Name another, or replace it with --force"),
            )


_HELD: ContextVar[Outputs | None] = ContextVar("outputs", default=None)


def held() -> Outputs | None:
    """The rule that holds here."""
    return _HELD.get()


def begin(rule: Outputs | None) -> None:
    """A process begins under a rule of the one that started it."""
    _HELD.set(rule)


def note_read(found: os.stat_result) -> None:
    """A file was read."""
    rule = _HELD.get()
    if rule is not None and stat.S_ISREG(found.st_mode):
        rule.read.add((found.st_dev, found.st_ino))


def note_all_read(paths: Iterable[Path]) -> None:
    """Files will be read, here or by a process of ours."""
    for path in paths:
        with suppress(OSError, ValueError):
            note_read(path.stat())


def note_written(path: Path) -> None:
    """A file was written; it may be again."""
    rule = _HELD.get()
    if rule is not None and (of := _of(path)) is not None:
        rule.written.add(of)


def refuse_outputs(*paths: Path) -> None:
    """Refuse, before anything is written, what may not be written over.

    Raises:
        ChoiceError: one was read, or is there already and not to be replaced.
    """
    rule = _HELD.get()
    if rule is not None:
        rule.refuse(paths)


def ending_of(path: str | Path, endings: Iterable[str]) -> str:
    """The ending of a name, which says what is written into the file.

    Args:
        endings: what can be written.

    Raises:
        ChoiceError: it is none of them.
    """
    ending, known = Path(path).suffix.lower(), list(endings)
    if ending not in known:
        raise ChoiceError(
            say("{name!r} has no ending known here", name=one_line(Path(path).name, 40)),
            remedy=say("Use {list}", list=", ".join(known)),
        )
    return ending


def is_one_of(path: Path, others: Iterable[Path]) -> bool:
    """Whether a path names one of some files, by whatever name."""
    found = _of(path)
    return found is not None and found in map(_of, others)


def _of(path: Path) -> Identity | None:
    """What a file is on the disk; None where there is none, and of devices and pipes."""
    try:
        found = path.stat()
    except (OSError, ValueError):
        return None
    return (found.st_dev, found.st_ino) if stat.S_ISREG(found.st_mode) else None
