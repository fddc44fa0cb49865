"""Players kept by name, one file each in a folder; files are read only when asked for."""

from __future__ import annotations

import hashlib
import re
from pathlib import Path
from typing import TYPE_CHECKING

from plectrum.core.atomic import private_folder, write_atomically
from plectrum.core.errors import PlectrumError
from plectrum.core.wording import tr

if TYPE_CHECKING:
    from plectrum.core.player.records import NamedPlayer


class PlayerShelf:
    """Named players in a folder."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder

    def _path(self, name: str) -> Path:
        """A file name that can be read, and that no other player's name has."""
        safe = re.sub(r"[^\w-]+", "-", name.lower()).strip("-")[:40] or "player"
        digest = hashlib.blake2b(name.encode(), digest_size=4).hexdigest()
        return self._folder / f"{safe}-{digest}.json"

    def all(self) -> tuple[list[NamedPlayer], list[str]]:
        """The players by name, and a line for every file that cannot be used."""
        paths = sorted(self._folder.glob("*.json"))
        if not paths:
            return [], []
        from plectrum.core.player.records import named_from_file  # only where there are any

        found, faults = [], []
        for path in paths:
            try:
                found.append(named_from_file(path))
            except PlectrumError as error:
                faults.append(str(error))
        return sorted(found, key=lambda p: p.name.lower()), faults

    def save(self, named: NamedPlayer) -> None:
        """Keep a player; one of the same name is replaced.

        Raises:
            PlectrumError: the folder cannot be written.
        """
        from plectrum.core.player.records import named_as_json

        try:
            private_folder(self._folder)
        except OSError as error:
            raise PlectrumError(tr("players cannot be kept"), where=str(self._folder)) from error
        data = named_as_json(named).encode("utf-8", "replace")
        write_atomically(self._path(named.name), data, private=True)

    def forget(self, name: str) -> None:
        """Take a player off the shelf; nothing happens if there is none of that name."""
        self._path(name).unlink(missing_ok=True)
