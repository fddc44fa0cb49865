"""A teacher's afternoon by the clock: a tune of sixteen bars, three corrections by place words,
sections set, and the page for the student; every key counted.

`python -m benchmarks.afternoon` drives the real window without a display. The time is that of the
program alone: a person needs longer to decide than it needs to answer.
"""

from __future__ import annotations

import os
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QSettings, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QFileDialog

from plectrum.demo import demo_paths
from plectrum.ui.desk.settings import Settings
from plectrum.ui.shell.app import make_application
from plectrum.ui.shell.main_window import MainWindow

Key = Qt.Key
LIMIT_S, LIMIT_KEYS = 180.0, 40


class Teacher:
    """Presses keys on a window and counts them."""

    def __init__(self, window: MainWindow) -> None:
        self.window, self.pressed_n = window, 0
        self.begun_s = time.monotonic()
        self.rows: list[tuple[str, int, float]] = []

    def press(
        self, *keys: Key, modifiers: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier
    ) -> None:
        for key in keys:
            target = QApplication.activePopupWidget() or QApplication.focusWidget() or self.window
            QTest.keyClick(target, key, modifiers)
            self.pressed_n += 1
            self.until(lambda: not self.window.session.planning)

    def until(self, done: Callable[[], bool], limit_s: float = 60.0) -> None:
        end = time.monotonic() + limit_s
        while not done():
            if time.monotonic() > end:
                raise TimeoutError("the window did not get there")
            QApplication.processEvents()
            time.sleep(0.005)

    def done(self, what: str) -> None:
        """Note how far it has come."""
        self.rows.append((what, self.pressed_n, time.monotonic() - self.begun_s))


def afternoon(window: MainWindow, folder: Path) -> Teacher:
    """Everything the teacher does; the files are chosen in dialogs that answer at once."""
    control, shift = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier
    teacher = Teacher(window)
    teacher.until(window.isActiveWindow)
    QFileDialog.getOpenFileName = lambda *_a, **_k: (str(demo_paths()[0]), "")  # type: ignore[method-assign, assignment]
    QFileDialog.getSaveFileName = lambda *_a, **_k: (str(folder / "page.pdf"), "")  # type: ignore[method-assign, assignment]
    teacher.press(Key.Key_O, modifiers=control)
    teacher.until(lambda: window.session.plan is not None)
    teacher.press(Key.Key_3, modifiers=control)
    teacher.done("opened")
    teacher.press(Key.Key_Right)
    teacher.press(Key.Key_Right, Key.Key_Right, Key.Key_Right, modifiers=shift)
    teacher.press(Key.Key_W, Key.Key_U)
    teacher.done("bar 1 and its like: upper half")
    teacher.press(Key.Key_Right, Key.Key_W, Key.Key_F)
    teacher.done("bar 2: at the frog")
    teacher.press(Key.Key_Right, modifiers=control)
    teacher.press(Key.Key_Right, modifiers=control | shift)
    teacher.press(Key.Key_W, Key.Key_L)
    teacher.done("bars 3 and 4: lower half")
    teacher.press(Key.Key_Home)
    teacher.press(*[Key.Key_Right] * 4, modifiers=control)
    teacher.press(Key.Key_B, Key.Key_Right, Key.Key_Right)
    teacher.press(Key.Key_Right, Key.Key_Right, modifiers=shift)
    teacher.press(Key.Key_F)
    teacher.done("a section, a figure")
    teacher.press(Key.Key_5, modifiers=control)
    handout = window.screen_of("handout")
    teacher.until(lambda: bool(handout.pages) and not handout.busy and handout.preview.complete)  # type: ignore[attr-defined]
    teacher.press(Key.Key_E, modifiers=control | shift)
    teacher.until(lambda: (folder / "page.pdf").exists() and not handout.feeding.busy)  # type: ignore[attr-defined]
    teacher.done("the page is out")
    return teacher


def main() -> int:
    folder = Path(tempfile.mkdtemp())
    os.environ["XDG_STATE_HOME"] = str(folder)
    make_application()
    store = QSettings(str(folder / "s.ini"), QSettings.Format.IniFormat)
    window = MainWindow(Settings(store), folder / "recovery", folder / "players")
    window.resize(1280, 800)
    window.show()
    window.activateWindow()
    teacher = afternoon(window, folder)
    for what, keys_n, at_s in teacher.rows:
        print(f"{at_s:6.1f} s  {keys_n:3d} keys  {what}")
    window.grab().save(str(folder / "afternoon.png"))
    print(f"the page: {folder / 'page.pdf'}")
    window.session.undo_stack.setClean()
    window.close()
    last = teacher.rows[-1]
    return 0 if last[1] <= LIMIT_KEYS and last[2] <= LIMIT_S else 1


if __name__ == "__main__":
    raise SystemExit(main())
