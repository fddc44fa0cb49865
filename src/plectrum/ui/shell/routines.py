"""Routines without a tune, on paper and in a calendar."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QFileDialog, QMenu, QWidget

from plectrum.core.errors import PlectrumError
from plectrum.core.player.player import STAGES
from plectrum.ui.editing.session import Session
from plectrum.ui.look.plain import key_free

if TYPE_CHECKING:
    from plectrum.core.document.choices import Choices


class Routines:
    """Writes a routine for the open player, or for a growing violinist where nothing is open."""

    def __init__(self, session: Session, parent: QWidget, say: Callable[[str], None]) -> None:
        self._session, self._parent, self._say = session, parent, say

    def fill(self, menu: QMenu) -> None:
        """A submenu for each routine."""
        from plectrum.core.practice.exercises.routine import shipped_routines

        menu.clear()
        for key, routine in shipped_routines().items():
            own = menu.addMenu(key_free(f"{routine.title}, {routine.minutes} min"))
            own.addAction("Save the &page (PDF) …", partial(self.page, key))
            own.addAction("Save the &calendar (ICS) …", partial(self.calendar, key))

    def page(self, key: str) -> None:
        """The page with pictures, words and boxes to tick."""
        from plectrum.core.practice.exercises.routine import planned_items, routine_named
        from plectrum.core.practice.handout import HandoutOptions
        from plectrum.ui.handout.routine_page import write_routine

        def write(path: Path) -> None:
            routine, choices = routine_named(key), self._choices()
            items = planned_items(routine, choices)
            player = choices.player.title
            options = HandoutOptions(made_for="" if player.lower() in STAGES else player)
            write_routine(path, routine, items, choices, routine.days(date.today()), options)

        self._save(f"{key}.pdf", "PDF (*.pdf)", write)

    def calendar(self, key: str) -> None:
        """An event for each day of practice, from today on."""
        from plectrum.core.atomic import write_atomically
        from plectrum.core.files.ics import days_as_ics
        from plectrum.core.practice.exercises.routine import (
            planned_items,
            routine_days,
            routine_named,
        )

        def write(path: Path) -> None:
            routine = routine_named(key)
            days = routine_days(routine, planned_items(routine, self._choices()), date.today())
            write_atomically(path, days_as_ics(days, routine.title))

        self._save(f"{key}.ics", "Calendar (*.ics)", write)

    def _choices(self) -> Choices:
        from plectrum.core.document.choices import Choices

        document = self._session.document
        return document.choices if document is not None else Choices.default("violin")

    def _save(self, suggested: str, kind: str, write: Callable[[Path], None]) -> None:
        name, _ = QFileDialog.getSaveFileName(self._parent, "Save the routine", suggested, kind)
        if not name:
            return
        path = Path(name)
        try:
            write(path)
        except PlectrumError as error:
            self._session.failed.emit(error)
            return
        self._say(f"Saved {path.name}")
