"""What was not saved survives a crash; what was saved leaves nothing behind."""

from __future__ import annotations

import os
import shutil
import signal
import subprocess
import sys
from pathlib import Path

from PySide6.QtCore import QSettings, Qt
from PySide6.QtWidgets import QMessageBox

from plectrum.core.document.choices import Pin
from plectrum.core.errors import PlectrumError
from plectrum.core.files.planfile import document_from_bytes, recovery_bytes
from plectrum.core.score.model import Direction
from plectrum.demo import demo_paths
from plectrum.ui.desk.settings import Settings
from plectrum.ui.shell import recovery
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
from plectrum.ui.shell import recovery
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


def test_steady_work_does_not_put_the_copy_off(qtbot, violin, monkeypatch):
    """An edit every 50 ms, each within the delay: the copy is there by the deadline, and newer ones
    follow."""
    monkeypatch.setattr(recovery, "DELAY_MS", 300)
    monkeypatch.setattr(recovery, "DEADLINE_MS", 800)
    written, note = [], violin.session.plan.part.notes[5].id
    for k in range(60):
        violin.session.pin(note, Pin(length_cells=10 + k % 20), "length")
        qtbot.wait(50)
        found = copies(violin.recovery)
        if found and found[0].stat().st_mtime_ns not in written:
            written.append(found[0].stat().st_mtime_ns)
        if k == 40:
            assert written
    assert len(written) > 1


def test_undoing_back_to_what_was_saved_takes_the_copy_away(qtbot, violin):
    qtbot.keyClick(violin.screen_of("bowing").view, Qt.Key.Key_D)
    violin.safety_net.write()
    assert copies(violin.recovery)
    violin.session.undo_stack.undo()
    assert copies(violin.recovery) == []


def left_behind(violin, folder: Path, name: str = "gone") -> Path:
    """A copy as a window leaves it that was killed."""
    path = folder / f"{name}.plectrum"
    path.write_bytes(recovery_bytes(violin.session.document, Path("/tmp/tune.plectrum")))
    return path


def test_a_copy_nobody_wants_is_forgotten(qtbot, violin, tmp_path):
    gone = left_behind(violin, tmp_path)
    (left,) = find_recovered(tmp_path)
    assert (left.title, left.original) == ("Lantern Ferry", Path("/tmp/tune.plectrum"))
    violin.opening.ask_recover = lambda _left: QMessageBox.StandardButton.No
    assert not violin.offer_recovery()
    assert not gone.exists()


def test_copies_of_living_windows_are_left_alone(violin, qtbot):
    """Told by the lock the window holds, whatever its process number is."""
    qtbot.keyClick(violin.screen_of("bowing").view, Qt.Key.Key_D)
    assert violin.safety_net.write()
    (copy,) = copies(violin.recovery)
    assert find_recovered(violin.recovery) == []
    shutil.copy(copy, copy.with_name("other.plectrum"))
    assert [r.copy.name for r in find_recovered(violin.recovery)] == ["other.plectrum"]
    assert copy.stat().st_mode & 0o077 == 0


def test_a_kill_between_two_files_hides_nothing(violin, tmp_path):
    """Copy and note are one file; a dangling link or a lock alone stops nothing."""
    left_behind(violin, tmp_path)
    (tmp_path / "dangling.plectrum").symlink_to(tmp_path / "nowhere")
    (tmp_path / "alone.lock").write_bytes(b"")
    assert [r.title for r in find_recovered(tmp_path)] == ["Lantern Ferry"]
    assert find_recovered(tmp_path / "no such folder") == []


def test_a_damaged_copy_says_so_stays_and_the_window_goes_on(qtbot, window, tmp_path):
    gone = tmp_path / "torn.plectrum"
    gone.write_bytes(b"not a plan")
    window.opening.ask_recover = lambda _left: QMessageBox.StandardButton.Yes
    with qtbot.waitSignal(window.session.failed, timeout=30_000):
        window.offer_recovery()
    assert "cannot be opened" in window.error_box.text()
    assert "torn.plectrum" in window.error_box.informativeText()
    window.error_box.close()
    assert window.session.document is None
    window.open_path(demo_paths()[0])
    qtbot.waitUntil(lambda: window.session.document is not None, timeout=30_000)
    assert gone.read_bytes() == b"not a plan"


def test_a_copy_that_cannot_be_kept_is_said_once_and_stays_visible(qtbot, violin, monkeypatch):
    def full(*_a, **_k):
        raise PlectrumError("the file cannot be written (no space left on device)")

    with monkeypatch.context() as disk:
        disk.setattr(recovery, "write_atomically", full)
        qtbot.keyClick(violin.screen_of("bowing").view, Qt.Key.Key_D)
        assert not violin.safety_net.write()
        (said,) = violin.notices.texts
        assert "no space left" in said
        violin.notices.shown["autosave"].away.click()
        assert not violin.safety_net.write()
        assert violin.notices.texts == []  # put away, and not said again
    assert violin.safety_net.write()
    assert violin.notices.shown == {}
