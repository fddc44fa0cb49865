"""Commands of the Together screen."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from plectrum.core.document.choices import Join
from plectrum.core.score.model import Direction
from plectrum.core.wording import tr
from plectrum.ui.desk.screen import Command, Menu, Reach


def _here(text: str, keys: str, do: Callable[[Any], object]) -> Command:
    """A command whose key works where the screen has the focus."""
    return Command(text, keys, do, Reach.SCREEN)


def menus() -> tuple[Menu, ...]:
    """The menu Together."""
    commands = (
        _here(tr("Bow all parts &together, or each by itself"), "M", lambda s: s.switch_together()),
        Command(tr("A &class on this tune …"), "", lambda s: s.ask_class(), shows=True),
        Command(tr("An &easier part …"), "", lambda s: s.ask_easier(), shows=True),
        Command(tr("&Hand out all parts …"), "Ctrl+Alt+P", lambda s: s.hand_out(), shows=True),
        None,
        _here(tr("Next place to &settle"), "N", lambda s: s.list.step(1)),
        _here(tr("Place to settle &before"), "Shift+N", lambda s: s.list.step(-1)),
        None,
        _here(tr("&Down-bow"), "D", lambda s: s.commands.direction(Direction.DOWN)),
        _here(tr("&Up-bow"), "U", lambda s: s.commands.direction(Direction.UP)),
        _here(tr("T&urn the bow"), "T", lambda s: s.commands.join(Join.TURN)),
        _here(tr("Hoo&k: stop, same way"), "H", lambda s: s.commands.join(Join.HOOK)),
        _here(tr("&Retake: lift and set down"), "R", lambda s: s.commands.join(Join.RETAKE)),
        _here(tr("S&lur to the note before"), "S", lambda s: s.commands.join(Join.SLUR)),
        _here(tr("Split the slur here"), "X", lambda s: s.commands.split()),
        _here(tr("&Where on the bow, and how much …"), "W", lambda s: s.say_place()),
        _here(tr("&Pin as it is, or let go"), "P", lambda s: s.commands.toggle_pin()),
        _here(tr("C&orrect here only, or wherever it is like this"), "O",
              lambda s: s.commands.switch_everywhere()),
        _here(tr("Correct this part only, or all that &move with it"), "Shift+O",
              lambda s: s.commands.switch_all_parts()),
    )  # fmt: skip
    return (Menu(tr("To&gether"), commands),)
