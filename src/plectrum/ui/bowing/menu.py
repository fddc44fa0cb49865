"""Commands of the Bowing screen: what can be done to the selected notes, and to the plan."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from plectrum.core.document.choices import Join
from plectrum.core.document.places import WORDS
from plectrum.core.score.model import Direction
from plectrum.core.wording import say, tr
from plectrum.ui.desk.screen import Command, Menu, Reach

LANE_ENDS = {1: tr(" (bridge)"), 5: tr(" (fingerboard)")}


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
        under=tr("Say where or how muc&h"),
    )


def menus() -> tuple[Menu, ...]:
    """The menus Note, Sections and Plan."""
    return (_note_menu(), _section_menu(), _plan_menu())


def _section_menu() -> Menu:
    return Menu(
        tr("Se&ctions"),
        (
            _note(tr("&Begin a section here, or of the selected notes"), "B",
                  lambda s: s.sections.begin_here()),
            _note(tr("&Select it"), "Shift+S", lambda s: s.choose_section()),
            _note(tr("&Join to the section before"), "J", lambda s: s.sections.join()),
            _note(tr("&Name it …"), "N", lambda s: s.sections.name()),
            _note(tr("&Figure of the selected notes"), "F", lambda s: s.sections.figure()),
            _note(tr("&Take away"), "Ctrl+Backspace", lambda s: s.sections.take_away()),
            Command(tr("&Those that were found"), "", lambda s: s.sections.as_found()),
        ),
    )  # fmt: skip


def _note_menu() -> Menu:
    return Menu(
        tr("&Note"),
        (
            _note(tr("&Copy its bars, as picture and MusicXML"), "Ctrl+C", lambda s: s.copy()),
            None,
            _note(tr("&Down-bow"), "D", lambda s: s.commands.direction(Direction.DOWN)),
            _note(tr("&Up-bow"), "U", lambda s: s.commands.direction(Direction.UP)),
            _note(tr("&Turn the bow"), "T", lambda s: s.commands.join(Join.TURN)),
            _note(tr("&Hook: stop, same way"), "H", lambda s: s.commands.join(Join.HOOK)),
            _note(tr("&Retake: lift and set down"), "R", lambda s: s.commands.join(Join.RETAKE)),
            _note(
                tr("&Slur to the note before, or as selected"),
                "S",
                lambda s: s.commands.join(Join.SLUR),
            ),
            _note(tr("Split the slur here"), "X", lambda s: s.commands.split()),
            None,
            _note(tr("&Where on the bow, and how much …"), "W", lambda s: s.say_place()),
            *(_place(word, text) for word, text in WORDS.items()),
            _note(
                tr("C&orrect here only, or wherever it is like this"),
                "O",
                lambda s: s.switch_everywhere(),
            ),
            _note(tr("Start nearer the frog"), "[", lambda s: s.commands.nudge(start=-2)),
            _note(tr("Start nearer the tip"), "]", lambda s: s.commands.nudge(start=2)),
            _note(tr("Less bow"), "-", lambda s: s.commands.nudge(length=-2)),
            _note(tr("More bow"), "=", lambda s: s.commands.nudge(length=2)),
            None,
            *(
                _note(
                    say("Lane {number}{get}", number=k, get=LANE_ENDS.get(k, "")),
                    str(k),
                    lambda s, k=k: s.commands.lane(k),  # type: ignore[misc]
                )
                for k in range(1, 6)
            ),
            _note(tr("Other strin&g or finger"), "G", lambda s: s.commands.next_grip()),
            None,
            _note(tr("Try the next &alternative"), "A", lambda s: s.try_next()),
            _note(tr("&Pin as it is, or let go"), "P", lambda s: s.commands.toggle_pin()),
            _note(tr("&Let go of all pins"), "Ctrl+Shift+P", lambda s: s.session.let_go_all()),
            None,
            _note(tr("Loop the selected notes"), "L", lambda s: s.loop()),
            # Space presses a button where one has the focus, and plays where the score has it.
            Command(tr("Play from here"), "Space", lambda s: s.play(), Reach.MUSIC),
        ),
    )


def _plan_menu() -> Menu:
    return Menu(
        tr("&Plan"),
        (
            Command(
                tr("&Compare with another …"), "Ctrl+D", lambda s: s.start_comparing(), shows=True
            ),
            Command(tr("&Next difference"), "F8", lambda s: s.compare_bar.step(1)),
            Command(tr("Difference &before"), "Shift+F8", lambda s: s.compare_bar.step(-1)),
        ),
    )
