"""Handout and practice: a page made without a window, and what long pieces cost."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import time
from datetime import date
from pathlib import Path

from PySide6.QtCore import QSettings
from tests.ui.watchdog import Watchdog

from benchmarks.pieces import part_of_bars
from benchmarks.window import settle, wait
from plectrum.core.files.opening import open_document
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.practice.handout import HandoutOptions, handout_of
from plectrum.core.practice.programme import programme_of
from plectrum.ui.desk.settings import Settings
from plectrum.ui.handout.engrave import engrave
from plectrum.ui.handout.output import pdf_bytes
from plectrum.ui.handout.pages import Sheet, compose
from plectrum.ui.shell.app import make_application
from plectrum.ui.shell.main_window import MainWindow

TODAY = date(2026, 11, 30)


def run() -> None:
    print("handout and practice")
    with tempfile.TemporaryDirectory() as folder:
        _cold(Path(folder))
        _pages()
        _window(Path(folder))


def _cold(folder: Path) -> None:
    """`plectrum handout` from a file of 16 bars in a process of its own."""
    tune, target = folder / "tune.musicxml", folder / "out.pdf"
    tune.write_bytes(part_of_bars(16))
    environment = {k: v for k, v in os.environ.items() if k != "QT_QPA_PLATFORM"}
    times = []
    for _ in range(3):
        begun = time.perf_counter()
        command = [sys.executable, "-m", "plectrum", "handout", str(tune), "-o", str(target)]
        subprocess.run(command, check=True, env=environment)
        times.append(time.perf_counter() - begun)
    said = ", ".join(f"{t:.2f}" for t in times)
    print(f"  16 bars to a PDF on the command line, cold: {said} s")


def _pages() -> None:
    make_application()
    options = HandoutOptions()
    for bars in (16, 64, 300):
        document = open_document(part_of_bars(bars), "tune.musicxml")
        plan = plan_of(document)
        begun = time.perf_counter()
        _ = programme_of(document, plan, TODAY).days
        programmed = time.perf_counter()
        handout = handout_of(document, plan, options, TODAY)
        systems = engrave(document, Sheet.of(options).engraving_width)
        engraved = time.perf_counter()
        pages = compose(systems, [handout], options)
        composed = time.perf_counter()
        size = len(pdf_bytes(pages, options.paper, "tune"))
        done = time.perf_counter()
        print(
            f"  {bars} bars: programme {1e3 * (programmed - begun):.0f} ms, pages set "
            f"{1e3 * (composed - engraved):.0f} ms, {len(pages)} pages written "
            f"{1e3 * (done - composed):.0f} ms ({size / 1e3:.0f} kB)"
        )


def _window(folder: Path) -> None:
    """300 bars: how long the window is blocked until both screens are there."""
    app = make_application()
    store = QSettings(str(folder / "s.ini"), QSettings.Format.IniFormat)
    window = MainWindow(Settings(store), folder, folder / "players")
    window.resize(1280, 800)
    window.settings.screen = "bowing"
    window.show()
    path = folder / "long.musicxml"
    path.write_bytes(part_of_bars(300))
    window.open_path(path)
    wait(app, lambda: window.session.document is not None)
    settle(app, window)
    for index, ready in (
        (
            "handout",
            lambda: window.screen_of("handout").pages and not window.screen_of("handout").busy,
        ),
        (
            "practice",
            lambda: (
                window.screen_of("practice").programme and not window.screen_of("practice").busy
            ),
        ),
    ):
        dog = Watchdog().start()
        begun = time.perf_counter()
        window.show_screen(index)
        wait(app, lambda r=ready: bool(r()))
        dog.stop()
        name = index
        print(
            f"  300 bars, {name} screen there after {time.perf_counter() - begun:.2f} s, the "
            f"window blocked for {dog.worst_cpu_ms:.0f} ms at most"
        )
    window.session.undo_stack.setClean()
    window.close()
