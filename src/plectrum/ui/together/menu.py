"""Commands of the Together screen."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from plectrum.core.document.choices import Join
from plectrum.core.score.model import Direction
from plectrum.ui.desk.screen import Command, Menu, Reach


def _here(text: str, keys: str, do: Callable[[Any], object]) -> Command:
    """A command whose key works where the screen has the focus."""
    return Command(text, keys, do, Reach.SCREEN)


def menus() -> tuple[Menu, ...]:
    """The menu Together."""
    commands = (
        _here("Bow all parts &together, or each by itself", "M", lambda s: s.switch_together()),
        Command("A &class on this tune …", "", lambda s: s.ask_class(), shows=True),
        Command("An &easier part …", "", lambda s: s.ask_easier(), shows=True),
        Command("&Hand out all parts …", "Ctrl+Alt+P", lambda s: s.hand_out(), shows=True),
        None,
        _here("Next place to &settle", "N", lambda s: s.list.step(1)),
        _here("Place to settle &before", "Shift+N", lambda s: s.list.step(-1)),
        None,
        _here("&Down-bow", "D", lambda s: s.commands.direction(Direction.DOWN)),
        _here("&Up-bow", "U", lambda s: s.commands.direction(Direction.UP)),
        _here("T&urn the bow", "T", lambda s: s.commands.join(Join.TURN)),
        _here("Hoo&k: stop, same way", "H", lambda s: s.commands.join(Join.HOOK)),
        _here("&Retake: lift and set down", "R", lambda s: s.commands.join(Join.RETAKE)),
        _here("S&lur to the note before", "S", lambda s: s.commands.join(Join.SLUR)),
        _here("Split the slur here", "X", lambda s: s.commands.split()),
        _here("&Where on the bow, and how much …", "W", lambda s: s.say_place()),
        _here("&Pin as it is, or let go", "P", lambda s: s.commands.toggle_pin()),
        _here("C&orrect here only, or wherever it is like this", "O",
              lambda s: s.commands.switch_everywhere()),
        _here("Correct this part only, or all that &move with it", "Shift+O",
              lambda s: s.commands.switch_all_parts()),
    )  # fmt: skip
    return (Menu("To&gether", commands),)
