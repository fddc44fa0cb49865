"""Commands of the Piece screen."""

from __future__ import annotations

from plectrum.core.wording import tr
from plectrum.ui.desk.screen import Command, Menu


def menus() -> tuple[Menu, ...]:
    """Those that are not typed."""
    return (
        Menu(
            tr("&Edit"),
            (None, Command(tr("Keep only this &part"), "", lambda s: s.keep_only_this_part())),
        ),
    )
