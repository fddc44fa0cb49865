"""Commands of the Log screen: students, copies of the log, what goes in and out of it."""

from __future__ import annotations

from plectrum.ui.desk.screen import Command, Menu


def menus() -> tuple[Menu, ...]:
    """The menu Log."""
    return (
        Menu(
            "&Log",
            (
                Command("&New student …", "", lambda s: s.ask_new()),
                Command("&Give the open plan", "", lambda s: s.give_plan()),
                Command("&Undo in the log", "Ctrl+Alt+Z", lambda s: s.undo()),
                Command("&Redo in the log", "Ctrl+Alt+Shift+Z", lambda s: s.redo()),
                None,
                Command("&Back the log up …", "", lambda s: s.backup()),
                Command("Re&store a backup …", "", lambda s: s.restore()),
                Command("&Export as JSON …", "", lambda s: s.export_json()),
                Command("Export as &CSV …", "", lambda s: s.export_csv()),
                Command("&Import …", "", lambda s: s.import_file()),
                None,
                Command("&Delete the student shown for good …", "", lambda s: s.forget_student()),
            ),
        ),
    )
