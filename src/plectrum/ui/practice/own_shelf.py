"""The teacher's own exercises or routines as a page keeps them: what fails is said, and no more."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Generic

from PySide6.QtWidgets import QFileDialog, QWidget

from plectrum.core.atomic import write_atomically
from plectrum.core.errors import PlectrumError
from plectrum.core.incoming.files import read_file
from plectrum.core.plain_text import shown_name
from plectrum.core.practice.exercises.shelf import Own, Shelf
from plectrum.core.wording import say
from plectrum.ui.look.where_to import where_to


class OwnShelf(Generic[Own]):
    """Keeps, forgets, takes and gives files of one kind."""

    def __init__(
        self,
        shelf: Shelf[Own],
        read: Callable[[bytes, str], Own],
        write: Callable[[Own], bytes],
        told: Callable[[str], object],
        failed: Callable[[str], object],
    ) -> None:
        """Make one for a page.

        Args:
            read: from a file's bytes and what messages call it; write: the other way.
            told: gets what was done, failed: why it was not, in words.
        """
        self.shelf: Shelf[Own] = shelf
        self._read: Callable[[bytes, str], Own] = read
        self._write: Callable[[Own], bytes] = write
        self._told, self._failed = told, failed

    def keep(self, own: Own) -> Own | None:
        """Keep it under its title; what is then on the shelf."""
        try:
            kept: Own = self.shelf.keep(own)
        except PlectrumError as error:
            self._failed(str(error))
            return None
        self._told(say("Kept {title}", title=kept.title))
        return kept

    def forget(self, own: Own) -> bool:
        """Take it off the shelf; what uses it already keeps it. Whether it is gone."""
        try:
            self.shelf.forget(own.key)
        except PlectrumError as error:
            self._failed(str(error))
            return False
        self._told(say("Forgot {title}", title=own.title))
        return True

    def from_file(self, parent: QWidget, title: str, kinds: str) -> Own | None:
        """One that was shared as a file, chosen under a title among files of some kinds."""
        name, _ = QFileDialog.getOpenFileName(parent, title, "", kinds)
        if not name:
            return None
        path = Path(name)
        try:
            found: Own = self._read(read_file(path), shown_name(path))
        except PlectrumError as error:
            self._failed(str(error))
            return None
        return found

    def give_file(self, own: Own, parent: QWidget, title: str, kinds: str) -> None:
        """Share it as a file."""
        path = where_to(parent, title, f"{own.key}.json", kinds)
        if path is None:
            return
        try:
            write_atomically(path, self._write(own))
        except PlectrumError as error:
            self._failed(str(error))
            return
        self._told(say("Exported {name}", name=path.name))
