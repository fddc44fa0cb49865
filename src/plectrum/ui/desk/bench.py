"""Practice as it is set: of the open piece, or without a piece as it was kept last."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from plectrum.core.errors import PlectrumError

if TYPE_CHECKING:
    from plectrum.core.document.choices import Choices
    from plectrum.core.document.homework import Homework
    from plectrum.core.files.practicefile import PracticeAlone
    from plectrum.ui.editing.session import Session


class Bench(QObject):
    """Whose practice it is and what is set for it. With a piece open both are the piece's, and a
    change can be undone; else they are the user's own and are kept at once.

    Signals:
        changed: something else is set, or it is for someone else. failed: it could not be kept.
    """

    changed = Signal()
    failed = Signal(object)

    def __init__(self, path: Path, session: Session, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._path, self._session = path, session

    @cached_property
    def _kept(self) -> list[PracticeAlone]:
        """What is set without a piece, as the one item of a list."""
        from plectrum.core.files.practicefile import PracticeAlone, open_practice

        try:
            return [open_practice(self._path)]
        except PlectrumError as error:
            self.failed.emit(error)
            return [PracticeAlone.usual()]

    @property
    def alone(self) -> bool:
        """Whether no piece is open."""
        return self._session.document is None

    @property
    def choices(self) -> Choices:
        """Instrument, bow, player and school of whoever practises."""
        document = self._session.document
        return document.choices if document is not None else self._kept[0].choices

    @property
    def homework(self) -> Homework:
        document = self._session.document
        return document.homework if document is not None else self._kept[0].homework

    def change(self, change: Callable[[Homework], Homework], words: str) -> None:
        """Set something of the homework otherwise."""
        if not self.alone:
            self._session.change(lambda d: d.with_homework(change(d.homework)), words)
            return
        self._put(replace(self._kept[0], homework=change(self._kept[0].homework)))

    def play_as(self, choices: Choices) -> None:
        """Practice without a piece is for someone else, or on another instrument."""
        if self.alone and choices != self._kept[0].choices:
            self._put(replace(self._kept[0], choices=choices))

    def _put(self, practice: PracticeAlone) -> None:
        from plectrum.core.files.practicefile import keep_practice

        self._kept[0] = practice
        try:
            keep_practice(practice, self._path)
        except PlectrumError as error:
            self.failed.emit(error)
        self.changed.emit()
