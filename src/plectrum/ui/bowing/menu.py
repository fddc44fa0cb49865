"""Commands of the Bowing screen: what can be done to the selected notes, and to the plan."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from plectrum.core.document.choices import Join
from plectrum.core.document.places import WORDS
from plectrum.core.score.model import Direction
from plectrum.ui.desk.screen import Command, Menu, Reach

LANE_ENDS = {1: " (bridge)", 5: " (fingerboard)"}


def _note(text: str, keys: str, do: Callable[[Any], object]) -> Command:
    """A command whose key works where the screen has the focus."""
    return Command(text, keys, do, Reach.SCREEN)


def _place(word: str, text: str) -> Command:
    """One word for where and how much, also for the palette."""
    return Command(
        f"{text[0].upper()}{text[1:]}",
        "",
        lambda s: s.commands.say_place(word, s.commands.everywhere),
        shows=True,
        under="Say where or how muc&h",
    )


def menus() -> tuple[Menu, ...]:
    """The menus Note, Sections and Plan."""
    return (_note_menu(), _section_menu(), _plan_menu())


def _section_menu() -> Menu:
    return Menu(
        "Se&ctions",
        (
            _note("&Begin a section here, or of the selected notes", "B",
                  lambda s: s.sections.begin_here()),
            _note("&Select it", "Shift+S", lambda s: s.choose_section()),
            _note("&Join to the section before", "J", lambda s: s.sections.join()),
            _note("&Name it …", "N", lambda s: s.sections.name()),
            _note("&Figure of the selected notes", "F", lambda s: s.sections.figure()),
            _note("&Take away", "Ctrl+Backspace", lambda s: s.sections.take_away()),
            Command("&Those that were found", "", lambda s: s.sections.as_found()),
        ),
    )  # fmt: skip


def _note_menu() -> Menu:
    return Menu(
        "&Note",
        (
            _note("&Down-bow", "D", lambda s: s.commands.direction(Direction.DOWN)),
            _note("&Up-bow", "U", lambda s: s.commands.direction(Direction.UP)),
            _note("&Turn the bow", "T", lambda s: s.commands.join(Join.TURN)),
            _note("&Hook: stop, same way", "H", lambda s: s.commands.join(Join.HOOK)),
            _note("&Retake: lift and set down", "R", lambda s: s.commands.join(Join.RETAKE)),
            _note(
                "&Slur to the note before, or as selected",
                "S",
                lambda s: s.commands.join(Join.SLUR),
            ),
            _note("Split the slur here", "X", lambda s: s.commands.split()),
            None,
            _note("&Where on the bow, and how much …", "W", lambda s: s.say_place()),
            *(_place(word, text) for word, text in WORDS.items()),
            _note(
                "C&orrect here only, or wherever it is like this",
                "O",
                lambda s: s.switch_everywhere(),
            ),
            _note("Start nearer the frog", "[", lambda s: s.commands.nudge(start=-2)),
            _note("Start nearer the tip", "]", lambda s: s.commands.nudge(start=2)),
            _note("Less bow", "-", lambda s: s.commands.nudge(length=-2)),
            _note("More bow", "=", lambda s: s.commands.nudge(length=2)),
            None,
            *(
                _note(f"Lane {k}{LANE_ENDS.get(k, '')}", str(k), lambda s, k=k: s.commands.lane(k))  # type: ignore[misc]
                for k in range(1, 6)
            ),
            _note("Other strin&g or finger", "G", lambda s: s.commands.next_grip()),
            None,
            _note("Try the next &alternative", "A", lambda s: s.try_next()),
            _note("&Pin as it is, or let go", "P", lambda s: s.commands.toggle_pin()),
            _note("&Let go of all pins", "Ctrl+Shift+P", lambda s: s.session.let_go_all()),
            None,
            _note("Loop the selected notes", "L", lambda s: s.loop()),
            # Space presses a button where one has the focus, and plays where the score has it.
            Command("Play from here", "Space", lambda s: s.play(), Reach.MUSIC),
        ),
    )


def _plan_menu() -> Menu:
    return Menu(
        "&Plan",
        (
            Command("&Compare with another …", "Ctrl+D", lambda s: s.start_comparing(), shows=True),
            Command("&Next difference", "F8", lambda s: s.compare_bar.step(1)),
            Command("Difference &before", "Shift+F8", lambda s: s.compare_bar.step(-1)),
        ),
    )
