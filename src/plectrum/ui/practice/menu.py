"""Commands of the Practice screen; the keys work where it has the focus."""

from __future__ import annotations

from plectrum.core.document.homework import Outcome
from plectrum.ui.desk.screen import Command, Menu, Reach


def menus() -> tuple[Menu, ...]:
    """The menu Practice."""
    near = Reach.SCREEN
    return (
        Menu(
            "P&ractice",
            (
                Command("&Show it", "S", lambda s: s.show_it(), near),
                Command("Went &well", "G", lambda s: s.mark_chosen(Outcome.GOOD), near),
                Command("&Again", "A", lambda s: s.mark_chosen(Outcome.AGAIN), near),
                Command("Not &done yet", "U", lambda s: s.mark_chosen(None), near),
                Command("E&xport the study …", "X", lambda s: s.export(), near),
                None,
                Command("Save the &calendar …", "", lambda s: s.save_calendar(), near),
                Command("&Practise today", "", lambda s: s.practise_today(), near),
            ),
        ),
    )
