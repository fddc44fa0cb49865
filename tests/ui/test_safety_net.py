"""What was not saved survives a crash; what was saved leaves nothing behind."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
from pathlib import Path

from PySide6.QtCore import QSettings, Qt
from PySide6.QtWidgets import QMessageBox

from plectrum.core.files.planfile import document_from_bytes
from plectrum.core.score.model import Direction
from plectrum.demo import demo_paths
from plectrum.ui.desk.settings import Settings
from plectrum.ui.shell.main_window import MainWindow
from plectrum.ui.shell.recovery import find_recovered
from tests.ui.conftest import wait_planned

CRASHING = """
import sys
from pathlib import Path
from PySide6.QtCore import QSettings, QTimer
from plectrum.core.document.choices import Pin
from plectrum.core.score.model import Direction
from plectrum.ui.shell.app import make_application
from plectrum.ui.shell.main_window import MainWindow
from plectrum.ui.desk.settings import Settings

folder = Path(sys.argv[1])
app = make_application()
store = QSettings(str(folder / "s.ini"), QSettings.Format.IniFormat)
window = MainWindow(Settings(store), folder)

def edit():
    note = window.session.document.part.notes[1]
    window.session.pin(note.id, Pin(direction=Direction.UP), "up-bow")
    window.session.undo_stack.indexChanged.connect(print)
    window.safety_net.write()
    print("written", flush=True)

window.session.opened.connect(lambda: QTimer.singleShot(0, edit))
window.open_path(Path(sys.argv[2]))
app.exec()
"""


def copies(folder: Path) -> list[Path]:
    return sorted(folder.glob("*.plectrum"))


def test_a_killed_window_is_recovered_with_its_edit(qtbot, themed, tmp_path):
    """A real process is killed in the middle of its work; the next start has the edit."""
    env = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
    crashing = subprocess.Popen(
        [sys.executable, "-c", CRASHING, str(tmp_path), str(demo_paths()[0])],
        stdout=subprocess.PIPE, env=env,
    )  # fmt: skip
    assert crashing.stdout is not None
    assert b"written" in crashing.stdout.readline()
    crashing.send_signal(signal.SIGKILL)
    crashing.wait(10)
    crashing.stdout.close()
    left = find_recovered(tmp_path)
    assert [r.title for r in left] == ["Lantern Ferry"]

    store = QSettings(str(tmp_path / "s2.ini"), QSettings.Format.IniFormat)
    window = MainWindow(Settings(store), tmp_path)
    qtbot.addWidget(window)
    window.saving.ask_unsaved = lambda: QMessageBox.StandardButton.Discard  # type: ignore[method-assign]
    window.opening.ask_recover = lambda _left: QMessageBox.StandardButton.Yes  # type: ignore[method-assign]
    with qtbot.waitSignal(window.session.opened, timeout=30_000):
        assert window.offer_recovery()
    assert window.session.plan.notes[1].direction is Direction.UP
    assert window.session.unsaved
    assert window.isWindowModified()
    window.close()
    assert copies(tmp_path) == []


def test_an_edit_is_written_after_a_moment_and_saving_takes_the_copy_away(qtbot, violin, tmp_path):
    folder = violin.recovery
    qtbot.keyClick(violin.screen_of("bowing").view, Qt.Key.Key_D)
    wait_planned(qtbot, violin)
    qtbot.waitUntil(lambda: copies(folder) != [], timeout=30_000)
    copy = document_from_bytes(copies(folder)[0].read_bytes(), "copy")
    assert copy.choices == violin.session.document.choices
    violin.session.save(tmp_path / "elsewhere.plectrum")
    assert copies(folder) == [tmp_path / "elsewhere.plectrum"]


def test_undoing_back_to_what_was_saved_takes_the_copy_away(qtbot, violin):
    qtbot.keyClick(violin.screen_of("bowing").view, Qt.Key.Key_D)
    violin.safety_net.write()
    assert copies(violin.recovery)
    violin.session.undo_stack.undo()
    assert copies(violin.recovery) == []


def test_a_copy_nobody_wants_is_forgotten(qtbot, violin, tmp_path):
    gone = tmp_path / "99999999.plectrum"
    gone.write_bytes(b"whatever")
    gone.with_suffix(".json").write_text('{"title": "Old", "original": ""}')
    assert [r.title for r in find_recovered(tmp_path)] == ["Old"]
    violin.opening.ask_recover = lambda _left: QMessageBox.StandardButton.No
    assert not violin.offer_recovery()
    assert not gone.exists()


def test_copies_of_living_windows_are_left_alone(tmp_path):
    own = tmp_path / f"{os.getppid()}.plectrum"
    own.write_bytes(b"x")
    own.with_suffix(".json").write_text('{"title": "Mine", "original": ""}')
    assert find_recovered(tmp_path) == []


def test_a_damaged_copy_says_so_and_the_window_goes_on(qtbot, window, tmp_path):
    gone = tmp_path / "99999998.plectrum"
    gone.write_bytes(b"not a plan")
    gone.with_suffix(".json").write_text('{"title": "Torn", "original": ""}')
    window.opening.ask_recover = lambda _left: QMessageBox.StandardButton.Yes
    with qtbot.waitSignal(window.session.failed, timeout=30_000):
        window.offer_recovery()
    window.error_box.close()
    assert window.session.document is None
