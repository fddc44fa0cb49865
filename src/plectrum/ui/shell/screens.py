"""The registry of the screens: their order, names, icons, commands, and how each is built.

To add a screen write one row here; the window, the rail, the menus and the palette follow.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from importlib import import_module

from plectrum.core.wording import tr
from plectrum.ui.desk.desk import Desk
from plectrum.ui.desk.screen import Menu, Screen


@dataclass(frozen=True, slots=True)
class ScreenKind:
    """One screen before it is built; its key names its icon and its folder too.

    Attributes:
        menu_title: with the letter that Alt chooses in the View menu.
        class_name: in the module `screen` of its folder.
        needs_tune: it shows nothing without an open tune.
        shows_header: the line with the tune's name and choices stands above it.
    """

    key: str
    title: str
    menu_title: str
    class_name: str
    needs_tune: bool = True
    shows_header: bool = True

    def build(self, desk: Desk) -> Screen:
        """The screen itself; what it needs is loaded only now."""
        module = import_module(f"plectrum.ui.{self.key}.screen")
        made: Screen = getattr(module, self.class_name)(desk)
        return made

    @property
    def menus(self) -> Sequence[Menu]:
        """Its commands; known before it is built."""
        found: Callable[[], Sequence[Menu]]
        found = import_module(f"plectrum.ui.{self.key}.menu").menus
        return found()


SCREENS = (
    ScreenKind("piece", tr("Piece"), tr("&Piece"), "PieceScreen"),
    ScreenKind("player", tr("Player"), tr("P&layer"), "PlayerScreen"),
    ScreenKind("bowing", tr("Bowing"), tr("&Bowing"), "BowingScreen"),
    ScreenKind(
        "show", tr("Show"), tr("S&how"), "ShowScreen", needs_tune=False, shows_header=False
    ),  # the stage
    ScreenKind("handout", tr("Handout"), tr("Han&dout"), "HandoutScreen", needs_tune=False),
    ScreenKind("practice", tr("Practice"), tr("P&ractice"), "PracticeScreen", needs_tune=False),
    ScreenKind("log", tr("Log"), tr("Lo&g"), "LogScreen", needs_tune=False),
    ScreenKind("together", tr("Together"), tr("&Together"), "TogetherScreen"),
)
