"""The window: a key press until the new plan is painted, opening until the first system is."""

from __future__ import annotations

import statistics
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QEvent, QObject, QSettings, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from benchmarks.pieces import part_of_bars
from plectrum.ui.app import make_application
from plectrum.ui.main_window import MainWindow
from plectrum.ui.settings import Settings


class _Paints(QObject):
    """Counts the paint events of a widget."""

    def __init__(self) -> None:
        super().__init__()
        self.count = 0

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        self.count += event.type() == QEvent.Type.Paint
        return False


def wait(app: QApplication, done: Callable[[], bool], limit_s: float = 20.0) -> None:
    begun = time.perf_counter()
    while not done():
        app.processEvents()
        time.sleep(0.0005)
        if time.perf_counter() - begun > limit_s:
            raise TimeoutError("the window did not answer")


def run() -> None:
    app = make_application()
    folder = Path(tempfile.mkdtemp())
    settings = Settings(QSettings(str(folder / "s.ini"), QSettings.Format.IniFormat))
    window = MainWindow(settings, folder)
    window.resize(1280, 800)
    window.show()
    for bars_n in (64, 300):
        path = folder / f"{bars_n}.musicxml"
        path.write_bytes(part_of_bars(bars_n))
        _open_and_press(app, window, path, bars_n)
    window.session.undo_stack.setClean()
    window.close()


def _open_and_press(app: QApplication, window: MainWindow, path: Path, bars_n: int) -> None:
    view, session = window.screen_bowing.view, window.session
    paints = _Paints()
    view.viewport().installEventFilter(paints)
    times = []
    for _ in range(4):
        session.undo_stack.setClean()
        begun = time.perf_counter()
        view.clear()
        window.open_path(path)
        wait(app, lambda: bool(view.items_by_system) and session.document is not None)
        seen = paints.count
        wait(app, lambda seen=seen: paints.count > seen)  # type: ignore[misc]
        times.append(time.perf_counter() - begun)
        wait(app, lambda: view.item_of(len(session.plan.notes) - 1) is not None)  # type: ignore[union-attr]
    opening_ms = statistics.median(times[1:]) * 1e3
    print(f"open {bars_n} bars to the first painted system: {opening_ms:.0f} ms warm")
    presses = []
    window.screen_bowing.select(9)
    for k in range(12):
        wait(app, lambda: not session.planning)
        app.processEvents()
        old, seen = session.plan, paints.count
        begun = time.perf_counter()
        QTest.keyClick(view, Qt.Key.Key_U if k % 2 else Qt.Key.Key_D)
        wait(app, lambda old=old: session.plan is not old)  # type: ignore[misc]
        wait(app, lambda seen=seen: paints.count > seen)  # type: ignore[misc]
        presses.append(time.perf_counter() - begun)
    median_ms, worst_ms = statistics.median(presses) * 1e3, max(presses) * 1e3
    print(
        f"press D or U until painted, {bars_n} bars: "
        f"median {median_ms:.0f} ms, worst {worst_ms:.0f} ms"
    )
    view.viewport().removeEventFilter(paints)
