"""The window and its registry: screens are built when first shown, and catch up with the piece."""

from __future__ import annotations

import subprocess
import sys
from importlib import resources

import numpy as np
import pytest
from alembic.script import ScriptDirectory
from PySide6.QtCore import Qt
from PySide6.QtGui import QImage, QPainter

from plectrum.core.log import check
from plectrum.core.log.migrating import steps_config
from plectrum.core.log.store import LogStore
from plectrum.demo import demo_paths
from plectrum.ui.desk.screen import Screen
from plectrum.ui.shell.main_window import MainWindow
from plectrum.ui.shell.screens import SCREENS
from tests.ui.conftest import wait_planned


def test_the_window_builds_no_screen_before_it_is_shown(window):
    assert window.built == ()
    assert not window.show_screen("bowing")  # there is no tune
    assert window.built == ()
    assert window.show_screen("log")
    assert [type(s).__name__ for s in window.built] == ["LogScreen"]


def test_every_screen_shows_what_was_open_before_it_was_built(qtbot, window):
    """Opened on one screen, then each of the others is built and shows the same piece."""
    with qtbot.waitSignal(window.session.opened, timeout=30_000):
        window.open_path(demo_paths()[0])
    wait_planned(qtbot, window)
    assert len(window.built) == 1
    for kind in SCREENS:
        assert window.show_screen(kind.key)
        assert isinstance(window.shown, Screen)
        assert window.settings.screen == kind.key
    shown = {kind.key: window.screen_of(kind.key) for kind in SCREENS}
    qtbot.waitUntil(lambda: shown["piece"].typing.written != (), timeout=30_000)
    assert shown["bowing"].selected == 0
    assert shown["player"].who.currentText()
    window.show_screen("show")
    qtbot.waitUntil(lambda: shown["show"].prepared is not None, timeout=30_000)
    window.show_screen("handout")
    qtbot.waitUntil(lambda: shown["handout"].pages != [], timeout=30_000)
    window.show_screen("practice")
    qtbot.waitUntil(lambda: shown["practice"].programme is not None, timeout=30_000)
    assert len(window.built) == len(SCREENS)


def test_every_row_of_the_registry_is_whole(window):
    """An icon, a place in the menus, and commands that are known before it is built."""
    icons = resources.files("plectrum.ui.look.icons")
    top = [a for m in window.menuBar().actions() for a in m.menu().actions()]
    inner = [a for t in top if t.menu() is not None for a in t.menu().actions()]
    texts = [a.text() for a in [*top, *inner]]
    for kind in SCREENS:
        assert icons.joinpath(f"{kind.key}.svg").is_file()
        assert kind.menu_title in texts
        for menu in kind.menus:
            for command in menu.commands:
                assert command is None or command.text in texts
    assert window.built == ()


def test_a_command_of_a_screen_that_is_not_there_builds_it(qtbot, window):
    """Comparing is in the menu before the Bowing screen was ever seen."""
    window.settings.screen = "piece"
    with qtbot.waitSignal(window.session.opened, timeout=30_000):
        window.open_path(demo_paths()[0])
    wait_planned(qtbot, window)
    action = next(
        a
        for m in window.menuBar().actions()
        for a in m.menu().actions()
        if a.text().startswith("&Compare")
    )
    action.trigger()
    assert window.settings.screen == "bowing"
    assert window.screen_of("bowing").comparing


def test_a_damaged_log_is_told_at_the_start(qtbot, themed, tmp_path):
    """Although the log is opened only when something needs it."""
    path = tmp_path / "log.sqlite"
    path.write_bytes(b"SQLite format 3\0 and then nothing sensible" * 30)
    made = MainWindow(None, tmp_path, tmp_path / "players", path)
    qtbot.addWidget(made)
    qtbot.waitUntil(lambda: "log" in made.notices.shown, timeout=10_000)
    assert "The log cannot be opened" in made.notices.texts[0]
    (aside,) = tmp_path.glob("log-set-aside-*.sqlite")
    assert aside.name in made.notices.texts[0]
    assert aside.read_bytes().endswith(b"nothing sensible")


def test_a_sound_log_is_not_opened_by_looking_at_it(tmp_path):
    path = tmp_path / "log.sqlite"
    assert check.looks_sound(path)
    LogStore(path).close()
    assert check.looks_sound(path)
    steps = ScriptDirectory.from_config(steps_config())
    assert check.REVISIONS[-1] == steps.get_current_head()
    assert set(check.REVISIONS) == {step.revision for step in steps.walk_revisions()}


def test_the_window_is_there_without_the_planner(tmp_path):
    """What the first screen does not need is not loaded: a start in a second depends on it."""
    code = (
        "import sys, os\n"
        "os.environ['QT_QPA_PLATFORM'] = 'offscreen'\n"
        "from pathlib import Path\n"
        "from PySide6.QtCore import QSettings\n"
        "from plectrum.ui.shell.app import make_application\n"
        "from plectrum.ui.shell.main_window import MainWindow\n"
        "from plectrum.ui.desk.settings import Settings\n"
        "app = make_application()\n"
        f"folder = Path({str(tmp_path)!r})\n"
        "store = QSettings(str(folder / 's.ini'), QSettings.Format.IniFormat)\n"
        "window = MainWindow(Settings(store), folder, folder / 'players')\n"
        "window.show()\n"
        "app.processEvents()\n"
        "heavy = ('numpy', 'scipy', 'pydantic', 'sqlalchemy', 'mido', 'icalendar',\n"
        "         'PySide6.QtMultimedia', 'plectrum.core.planning.plan')\n"
        "print([m for m in heavy if m in sys.modules])\n"
        "window.close()\n"
    )
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True)
    assert done.stdout.strip() == "[]", done.stderr


def test_no_screen_loads_what_takes_a_second():
    """The window stands still while a screen is loaded; what it may need later waits until then."""
    screens = ["bowing", "handout", "log", "piece", "player", "practice", "show", "together"]
    code = (
        "import importlib, sys\n"
        f"for name in {screens}: importlib.import_module(f'plectrum.ui.{{name}}.screen')\n"
        "print([m for m in ('scipy', 'icalendar', 'mido', 'alembic') if m in sys.modules])\n"
    )
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True)
    assert done.stdout.strip() == "[]", done.stderr


def picture(item) -> QImage:
    """What is kept of a line, painted at its own size."""
    size = item.boundingRect().size().toSize()
    image = QImage(size, QImage.Format.Format_RGB32)
    image.fill(Qt.GlobalColor.white)
    painter = QPainter(image)
    item.paint(painter, None)
    painter.end()
    return image


def pixels(image: QImage) -> np.ndarray:
    """Colours of a picture as numbers, shape (height, width, 4)."""
    rows = np.frombuffer(image.constBits(), dtype=np.uint8).reshape(image.height(), -1)
    return rows[:, : 4 * image.width()].reshape(image.height(), image.width(), 4).astype(int)


@pytest.mark.parametrize("keys", ["d", "u", "h", "]", "=", "p", "2"])
def test_bars_painted_anew_look_as_if_the_whole_line_were(qtbot, violin, keys):
    """Only what changed is painted again, and no seam or leftover is seen."""
    screen = violin.screen_of("bowing")
    screen.select(9)
    for item in screen.view.items_by_system:
        picture(item)
    qtbot.keyClicks(screen.view, keys)
    wait_planned(qtbot, violin)
    qtbot.waitUntil(lambda: not screen._panel_soon.isActive())
    for item in screen.view.items_by_system:
        mended = pixels(picture(item))
        item.repaint_layer()
        # Where a dash is cut, its edge is rounded otherwise by a level or two: not seen.
        assert np.abs(pixels(picture(item)) - mended).max() <= 3
