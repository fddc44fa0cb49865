"""What a screen is, and how it says which commands it has."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from enum import Enum, auto
from typing import Any

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QWidget

from plectrum.ui.desk.desk import Desk


class Screen(QWidget):
    """One screen of the window; it is built when it is first wanted.

    `showEvent` and `hideEvent` tell it that it comes into sight or goes.

    Signals:
        message: for the status line.
    """

    message = Signal(str)

    def __init__(self, desk: Desk, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.desk = desk
        self.session = desk.session
        self.message.connect(desk.message)

    def catch_up(self) -> None:
        """A document was open before the screen was built."""

    def arrive(self, before: Screen | None) -> None:
        """The screen is shown, after another or as the first."""

    @property
    def focus_target(self) -> QWidget:
        """What has the keys when the screen is shown."""
        return self

    def refresh_look(self) -> None:
        """Theme or scale have changed."""

    def zoom(self, steps: int) -> None:
        """The music larger or smaller by steps, 0 for its normal size."""

    def set_zoom(self, zoom: float) -> None:
        """The music of the size that is kept for all screens, 1 as it is usual."""

    def end(self) -> None:
        """The window closes for good."""


class Reach(Enum):
    """Where the key of a command works."""

    WINDOW = auto()  # everywhere
    SCREEN = auto()  # while the focus is in its screen
    MUSIC = auto()  # while the screen's focus target has the focus: elsewhere the key is used


@dataclass(frozen=True, slots=True)
class Command:
    """One line of a menu.

    Attributes:
        do: what happens, given the screen.
        shows: the screen is shown before.
        always: the key works in full screen too, where there is no menu.
        under: the title of the submenu it stands in; empty for the menu itself.
    """

    text: str
    keys: str
    do: Callable[[Any], object]
    reach: Reach = Reach.WINDOW
    shows: bool = False
    always: bool = False
    under: str = ""


@dataclass(frozen=True, slots=True)
class Menu:
    """Commands under one title; None draws a line. Titles that are there already are added to."""

    title: str
    commands: tuple[Command | None, ...]
