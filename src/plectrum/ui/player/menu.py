"""Commands of the Player screen."""

from __future__ import annotations

from plectrum.ui.desk.screen import Menu


def menus() -> tuple[Menu, ...]:
    """None: all of it is on the screen."""
    return ()
