"""Real windows, offscreen, with settings of their own; nothing is left behind."""

from __future__ import annotations

import os

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import shutil
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from copy import deepcopy
from pathlib import Path

import pytest
from PySide6.QtCore import QSettings
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QMessageBox

from plectrum.core.log.store import LogStore
from plectrum.demo import demo_paths
from plectrum.ui.desk.settings import Settings
from plectrum.ui.engraving import client as client_module
from plectrum.ui.engraving import systems_view
from plectrum.ui.handout import screen as handout
from plectrum.ui.look import theme
from plectrum.ui.playback.speaker import Speaker
from plectrum.ui.practice import exercises_page
from plectrum.ui.shell.app import make_application
from plectrum.ui.shell.main_window import MainWindow
from tests.ui.shared_engraver import SharedProcess


@pytest.fixture(scope="session")
def themed(qapp: QApplication) -> QApplication:
    return make_application()


@pytest.fixture(autouse=True, scope="session")
def no_sound_card():
    """Tests make no sound, whatever machine they run on."""
    patch = pytest.MonkeyPatch()

    def no_device(speaker: Speaker) -> None:
        speaker.why = "no sound: there is no audio device"

    patch.setattr(Speaker, "open_sink", no_device)
    patch.setattr(Speaker, "get_ready", lambda self: None)
    yield
    patch.undo()


@pytest.fixture(autouse=True, scope="session")
def short_pauses():
    """What waits for a hand to come to rest waits less: nobody resizes or types here."""
    patch = pytest.MonkeyPatch()
    patch.setattr(systems_view, "REFLOW_MS", 10)
    patch.setattr(handout, "SOON_MS", 10)
    patch.setattr(exercises_page, "SOON_MS", 10)
    yield
    patch.undo()


@pytest.fixture(autouse=True)
def kept_colours():
    """A colour of the theme belongs to all who paint: nobody changes it."""
    before = deepcopy((theme.LIGHT, theme.DARK, theme.PRINT))
    yield
    assert before == (theme.LIGHT, theme.DARK, theme.PRINT)


@pytest.fixture(autouse=True, scope="session")
def one_engraver():
    """One engraver's process serves all windows of a run in turn."""
    patch = pytest.MonkeyPatch()
    patch.setattr(client_module, "QProcess", SharedProcess)
    yield
    SharedProcess.end_all()
    patch.undo()


@pytest.fixture(scope="session")
def empty_log(tmp_path_factory) -> Path:
    """A log with its tables and nothing in them; to be copied, which is quicker than to make."""
    path = tmp_path_factory.mktemp("log") / "log.sqlite"
    store = LogStore(path)
    store.backup(path.with_name("empty.sqlite"))
    store.close()
    return path.with_name("empty.sqlite")


@contextmanager
def shown_window(folder: Path) -> Iterator[MainWindow]:
    """A shown main window on a log and players of its own; unsaved changes are thrown away when
    it closes."""
    store = QSettings(str(folder / "settings.ini"), QSettings.Format.IniFormat)
    made = MainWindow(Settings(store), folder, folder / "players", folder / "log.sqlite")
    made.saving.ask_unsaved = lambda: QMessageBox.StandardButton.Discard  # type: ignore[method-assign]
    made.resize(1280, 800)
    made.show()
    made.activateWindow()
    assert QTest.qWaitForWindowActive(made)
    try:
        yield made
    finally:
        made.close()
        made.deleteLater()


@pytest.fixture
def window(qtbot, themed, tmp_path: Path, empty_log: Path):
    shutil.copyfile(empty_log, tmp_path / "log.sqlite")
    with shown_window(tmp_path) as made:
        yield made


@pytest.fixture
def opened(qtbot, window) -> Callable[[Path], MainWindow]:
    """Opens a file and waits until it is planned and wholly engraved."""

    def open_it(path: Path) -> MainWindow:
        with qtbot.waitSignal(window.session.opened, timeout=30_000):
            window.open_path(path)
        wait_engraved(qtbot, window)
        return window

    return open_it


@pytest.fixture
def violin(opened) -> MainWindow:
    """The violin demo piece, open."""
    return opened(demo_paths()[0])


def wait_engraved(qtbot, window: MainWindow) -> None:
    """Until every note is on some system and no layout is on its way."""
    view = window.screen_of("bowing").view

    def done() -> bool:
        return window.session.plan is not None and view.is_laid_out

    qtbot.waitUntil(done, timeout=30_000)


def wait_planned(qtbot, window: MainWindow) -> None:
    qtbot.waitUntil(lambda: not window.session.planning, timeout=30_000)
