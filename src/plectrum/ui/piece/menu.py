"""Commands of the Piece screen."""

from __future__ import annotations

from plectrum.ui.desk.screen import Command, Menu


def menus() -> tuple[Menu, ...]:
    """Those that are not typed."""
    return (
        Menu(
            "&Edit", (None, Command("Keep only this &part", "", lambda s: s.keep_only_this_part()))
        ),
    )
