"""Commands of the Show screen; the keys work where it has the focus."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from plectrum.core.wording import tr
from plectrum.ui.desk.screen import Command, Menu, Reach

TEMPO_STEP = 5


def _show(text: str, keys: str, do: Callable[[Any], object]) -> Command:
    return Command(text, keys, do, Reach.SCREEN)


def menus() -> tuple[Menu, ...]:
    """The menu Show."""
    return (
        Menu(
            tr("Sho&w"),
            (
                _show(tr("Faster"), "+", lambda s: s.controls.change_tempo(TEMPO_STEP)),
                _show(tr("Slower"), "-", lambda s: s.controls.change_tempo(-TEMPO_STEP)),
                _show(tr("Loop"), "L", lambda s: s.controls.loop.toggle()),
                _show(tr("With repeats, or without"), "R", lambda s: s.controls.toggle_repeats()),
                _show(
                    tr("Your turn: a pause to answer"), "Y", lambda s: s.controls.answer.toggle()
                ),
                _show(tr("Count-in"), "C", lambda s: s.controls.count_in.toggle()),
                _show(tr("Metronome"), "M", lambda s: s.heard_row.click.toggle()),
                _show(tr("Sound"), "N", lambda s: s.heard_row.tone.toggle()),
                _show(
                    tr("Voice: counts and lifts aloud"), "O", lambda s: s.heard_row.voice.toggle()
                ),
                None,
                _show(tr("&Try it: one open string"), "T", lambda s: s.open_try_it()),
                _show(tr("Follow a simulated bow"), "F", lambda s: s.following.next()),
                _show(tr("Mirrored, or as the teacher sees it"), "V", lambda s: s.turn_round()),
                Command(tr("Play, or stop"), "Space", lambda s: s.play(), Reach.MUSIC),
                Command(
                    tr("Full screen"),
                    "F11",
                    lambda s: s.desk.full_screen_wanted.emit(),
                    always=True,
                ),
            ),
        ),
    )
