"""A teacher's own exercises and routines, one file each in a folder."""

from __future__ import annotations

import re
from itertools import chain, count
from pathlib import Path
from typing import Generic, TypeVar

from plectrum.core.atomic import write_atomically
from plectrum.core.errors import PlectrumError
from plectrum.core.incoming.files import read_file
from plectrum.core.plain_text import shown_name
from plectrum.core.practice.exercises import own_file
from plectrum.core.practice.exercises.model import Exercise
from plectrum.core.practice.exercises.routine import Routine
from plectrum.core.wording import tr

Own = TypeVar("Own", Exercise, Routine)


class Shelf(Generic[Own]):
    """Own ones of one kind in a folder; a file that cannot be used is left alone and said."""

    def __init__(self, folder: Path, kind: type[Own]) -> None:
        self.folder = folder
        self._kind: type[Own] = kind

    def all(self) -> tuple[list[Own], list[str]]:
        """What is kept, by title, and a line for every file that cannot be used."""
        found: list[Own] = []
        faults = []
        for path in sorted(self.folder.glob("*.json")):
            try:
                found.append(own_file.read(self._kind, read_file(path), shown_name(path)))
            except PlectrumError as error:
                faults.append(str(error))
        return sorted(found, key=lambda e: e.title.lower()), faults

    def keep(self, own: Own) -> Own:
        """Write it under a key of its own, over one of the same title.

        Raises:
            PlectrumError: it cannot be written.
        """
        kept = own.model_copy(update={"key": self._key_for(own.title)})
        try:
            self.folder.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise PlectrumError(tr("nothing can be kept there"), where=str(self.folder)) from error
        write_atomically(self._path(kept.key), own_file.written(kept))
        return kept

    def forget(self, key: str) -> None:
        """Take it off the shelf; nothing happens if there is none of that key.

        Raises:
            PlectrumError: it cannot be taken off.
        """
        try:
            self._path(key).unlink(missing_ok=True)
        except OSError as error:
            raise PlectrumError(tr("it cannot be forgotten"), where=str(self.folder)) from error

    def _path(self, key: str) -> Path:
        return self.folder / f"{key}.json"

    def _key_for(self, title: str) -> str:
        """The key of this title, or the next that neither another title nor a file has."""
        titles = {e.key: e.title for e in self.all()[0]}
        base = key_of_title(title)
        keys = chain((base,), (f"{base[:36]}-{k}" for k in count(2)))
        return next(
            key for key in keys
            if (titles[key] == title if key in titles else not self._path(key).exists())
        )  # fmt: skip


def key_of_title(title: str) -> str:
    """A key for a title: "Two strings, slow" is "two-strings-slow"."""
    key = re.sub(r"[^a-z0-9]+", "-", title.lower()).strip("-")[:38]
    return key if re.match(r"[a-z]", key) and len(key) > 1 else f"own-{key or 'exercise'}"[:40]
