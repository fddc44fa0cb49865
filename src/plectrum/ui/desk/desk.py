"""The teacher's desk: what is open, what is remembered, and the services every screen uses.

Nothing here is made before something asks for it, so that the window is there at once.
"""

from __future__ import annotations

from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from plectrum.core.player.shelf import PlayerShelf
from plectrum.ui.desk.bench import Bench
from plectrum.ui.desk.log_link import LogLink
from plectrum.ui.desk.settings import Settings
from plectrum.ui.editing.session import Session
from plectrum.ui.engraving.client import EngravingClient

if TYPE_CHECKING:
    from plectrum.core.player.records import NamedPlayer
    from plectrum.ui.playback.speaker import Speaker


class Desk(QObject):
    """Shared by the window and its screens; each sees the others only through it.

    Signals:
        message: for the status line. players_changed: the players kept by name are others.
        guest_wanted: a study or an exercise to be shown. sheets_wanted: pages of exercises to be
            handed out. tune_wanted: a document to be opened as a tune of its own. sound_wanted: a
            title and exercises to be saved as sound; sound_to: a path and exercises.
        hand_out_wanted: the page of the player of the
            open document, printed. full_screen_wanted: the stage alone, or back.
    """

    message = Signal(str)
    players_changed = Signal()
    guest_wanted = Signal(object)
    sheets_wanted = Signal(object)
    tune_wanted = Signal(object)
    sound_wanted = Signal(str, object)
    sound_to = Signal(object, object)
    hand_out_wanted = Signal()
    full_screen_wanted = Signal()

    def __init__(
        self, settings: Settings, players: Path, log: Path, parent: QObject | None = None
    ) -> None:
        """Make a desk.

        Args:
            settings: what is remembered between runs.
            players: folder of named players; the teacher's own bowing, exercises and routines
                lie beside it.
            log: the log's file.
        """
        super().__init__(parent)
        self.settings = settings
        self.session = Session(self)
        self.shelf = PlayerShelf(players)
        self.bowing_path = players.parent / "my-bowing.json"
        self.exercises_path = players.parent / "exercises"
        self.routines_path = players.parent / "routines"
        self.engraver = EngravingClient(self)
        self.bench = Bench(players.parent / "practice.json", self.session, self)
        self.bench.failed.connect(self.session.failed)
        self.log = LogLink(log, self.session, self.bench, self)
        self.log.failed.connect(self.session.failed)

    @cached_property
    def speaker(self) -> Speaker:
        """Made when something first wants to be heard."""
        from plectrum.ui.playback.speaker import Speaker

        return Speaker(self)

    def named_players(self) -> list[NamedPlayer]:
        """All players kept under a name."""
        return self.shelf.all()[0]

    def end(self) -> None:
        """The window closes."""
        self.engraver.close()
        self.log.close()
