"""Commands of the Log screen: students, copies of the log, what goes in and out of it."""

from __future__ import annotations

from plectrum.core.wording import tr
from plectrum.ui.desk.screen import Command, Menu


def menus() -> tuple[Menu, ...]:
    """The menu Log."""
    return (
        Menu(
            tr("&Log"),
            (
                Command(tr("&New student …"), "", lambda s: s.ask_new()),
                Command(tr("&Give the open plan"), "", lambda s: s.give_plan()),
                Command(tr("&Undo in the log"), "Ctrl+Alt+Z", lambda s: s.whole.undo()),
                Command(tr("&Redo in the log"), "Ctrl+Alt+Shift+Z", lambda s: s.whole.redo()),
                None,
                Command(tr("&Back the log up …"), "", lambda s: s.whole.backup()),
                Command(tr("Re&store a backup …"), "", lambda s: s.whole.restore()),
                Command(tr("&Export as JSON …"), "", lambda s: s.whole.export_json()),
                Command(tr("Export as &CSV …"), "", lambda s: s.whole.export_csv()),
                Command(tr("&Import …"), "", lambda s: s.whole.import_file()),
                None,
                Command(
                    tr("&Delete the student shown for good …"),
                    "",
                    lambda s: s.whole.forget(s.student),
                ),
            ),
        ),
    )
