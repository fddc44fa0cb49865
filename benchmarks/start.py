"""Cold starts of whole processes, as ratios to the floor they stand on, medians of five."""

from __future__ import annotations

import os
import statistics
import subprocess
import sys
import time
from collections.abc import Sequence

from plectrum.demo import demo_paths

RUNS_N = 5
NUMBERS = "import numpy, lxml.etree"
BARE_WINDOW = """
import verovio
from PySide6.QtWidgets import QApplication, QMainWindow
app = QApplication([])
window = QMainWindow()
window.show()
app.processEvents()
os._exit(0)
"""
WINDOW = """
import tempfile
from pathlib import Path
from PySide6.QtCore import QSettings
from plectrum.ui.shell.app import make_application
from plectrum.ui.shell.main_window import MainWindow
from plectrum.ui.desk.settings import Settings
app = make_application()
folder = Path(tempfile.mkdtemp())
settings = Settings(QSettings(str(folder / "s.ini"), QSettings.Format.IniFormat))
window = MainWindow(settings, folder, folder / "players")
window.show()
app.processEvents()
"""
OPENED = """
window.open_path(Path(sys.argv[1]))
while window.session.plan is None or not window.shown.view.is_laid_out:
    app.processEvents()
window.grab()
"""


def _seconds(command: Sequence[str]) -> float:
    """Wall time of one process from its start to its end."""
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
    begun = time.perf_counter()
    subprocess.run(command, check=True, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
                   env=environment)  # fmt: skip
    return time.perf_counter() - begun


def _python(code: str, *arguments: str) -> list[str]:
    return [sys.executable, "-c", f"import os, sys\n{code}\nos._exit(0)", *arguments]


def run() -> None:
    """Each measured in turn with its floor, so that a slow moment hits both."""
    demo = str(demo_paths()[0])
    for name, command, floor, goal in (
        ("plan of the 16-bar demo", [sys.executable, "-m", "plectrum", "plan", demo],
         _python(NUMBERS), 3.0),
        ("window shown", _python(WINDOW), _python(BARE_WINDOW), 3.0),
        ("demo piece opened, planned and painted", _python(WINDOW + OPENED, demo),
         _python(BARE_WINDOW), 6.0),
    ):  # fmt: skip
        _seconds(command)
        pairs = [(_seconds(command), _seconds(floor)) for _ in range(RUNS_N)]
        ratio = statistics.median(a / b for a, b in pairs)
        took = statistics.median(a for a, _ in pairs)
        print(f"start: {name}: {took:.2f} s, {ratio:.1f} times its floor (goal {goal:.0f})")


if __name__ == "__main__":
    run()
