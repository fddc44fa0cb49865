"""What the menus ask of the window."""

from __future__ import annotations

from typing import Protocol

from plectrum.ui.desk.screen import Screen
from plectrum.ui.desk.settings import Settings
from plectrum.ui.editing.session import Session
from plectrum.ui.shell.exporting import Exporter
from plectrum.ui.shell.my_bowing import MyBowing
from plectrum.ui.shell.opening import Opening
from plectrum.ui.shell.saving import Saving
from plectrum.ui.shell.variants import Variants


class WindowCommands(Protocol):
    """Commands and what they work on."""

    session: Session
    settings: Settings
    opening: Opening
    saving: Saving
    exporter: Exporter
    variants: Variants
    my_bowing: MyBowing

    def screen_of(self, key: str) -> Screen: ...
    def show_screen(self, key: str) -> bool: ...
    def export_sound(self) -> None: ...
    def zoom(self, steps: int) -> None: ...
    def scale_step(self, steps: int) -> None: ...
    def set_dark(self, dark: bool) -> None: ...
    def choose_strips(self, keys: list[str]) -> None: ...
    def open_palette(self) -> None: ...
    def show_keys(self) -> None: ...
    def close(self) -> bool: ...
