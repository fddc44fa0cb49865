"""Commands of the Handout screen: the page is shown, and handed out as soon as it is there."""

from __future__ import annotations

from plectrum.core.wording import tr
from plectrum.ui.desk.screen import Command, Menu


def menus() -> tuple[Menu, ...]:
    """In the menu File."""
    return (
        Menu(
            tr("&File"),
            (
                None,
                Command(
                    tr("Save han&dout (PDF) …"),
                    "Ctrl+Shift+E",
                    lambda s: s.handing_out.save_pdf(),
                    shows=True,
                ),
                Command(
                    tr("Save handout (SV&G) …"), "", lambda s: s.handing_out.save_svg(), shows=True
                ),
                Command(
                    tr("&Print handout …"),
                    "Ctrl+P",
                    lambda s: s.handing_out.print_out(),
                    shows=True,
                ),
            ),
        ),
    )
