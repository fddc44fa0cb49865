"""Commands of the Practice screen; the keys work where it has the focus."""

from __future__ import annotations

from plectrum.core.document.homework import Outcome
from plectrum.core.wording import tr
from plectrum.ui.desk.screen import Command, Menu, Reach


def menus() -> tuple[Menu, ...]:
    """The menu Practice."""
    near = Reach.SCREEN
    return (
        Menu(
            tr("P&ractice"),
            (
                Command(tr("&Do it now, by the clock"), "D", lambda s: s.do_it(), near),
                Command(tr("S&how it"), "S", lambda s: s.show_it(), near),
                Command(tr("Went &well"), "G", lambda s: s.mark_chosen(Outcome.GOOD), near),
                Command(tr("&Again"), "A", lambda s: s.mark_chosen(Outcome.AGAIN), near),
                Command(tr("Not done &yet"), "U", lambda s: s.mark_chosen(None), near),
                Command(tr("E&xport …"), "X", lambda s: s.export(), near),
                None,
                Command(tr("This try was right"), "1", lambda s: s.timer.count_try(hit=True), near),
                Command(tr("This try was not"), "0", lambda s: s.timer.count_try(hit=False), near),
                Command(tr("The bow has ended"), "B", lambda s: s.timer.end_bow(), near),
                Command(
                    tr("Take the last try back"),
                    tr("Backspace"),
                    lambda s: s.timer.take_try_back(),
                    near,
                ),
                Command(tr("Metronome"), "M", lambda s: s.timer.heard.click.toggle(), near),
                Command(tr("Sound"), "N", lambda s: s.timer.heard.tone.toggle(), near),
                Command(tr("Voice"), "O", lambda s: s.timer.heard.voice.toggle(), near),
                None,
                Command(
                    tr("Pa&ge of the exercise or routine"), "", lambda s: s.work.hand_out(), near
                ),
                Command(tr("Save the &calendar …"), "", lambda s: s.save_calendar(), near),
                Command(tr("&Practise today"), "", lambda s: s.practise_today(), near),
            ),
        ),
    )
