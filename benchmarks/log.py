"""The log after ten years of daily entries by sixty students: opening the screen, every picture."""

from __future__ import annotations

import random
import tempfile
import time
from datetime import date, timedelta
from pathlib import Path

import sqlalchemy as sa
from PySide6.QtCore import QSettings

from plectrum.core.log.records import (
    FaultSeen,
    Lesson,
    Measure,
    Measured,
    Piece,
    Practised,
    StepDone,
    Student,
)
from plectrum.core.log.store import LogStore
from plectrum.core.log.tables import TABLES, row_of
from plectrum.ui.desk.settings import Settings
from plectrum.ui.shell.app import make_application
from plectrum.ui.shell.main_window import MainWindow

STUDENTS_N, DAYS_N = 60, 3650
TODAY = date(2026, 11, 25)


def run() -> None:
    print("the log, ten years of sixty students")
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "log.sqlite"
        rows_n = _fill(path)
        print(f"  {rows_n} rows, {path.stat().st_size / 1e6:.0f} MB")
        _window(Path(folder), path)


def _fill(path: Path) -> int:
    rng = random.Random(3)
    store = LogStore(path)
    piece = Piece("Lantern Ferry", "violin", 84.0, 16)
    count = 0
    with store._engine.begin() as connection:
        connection.execute(TABLES[Piece].insert(), [row_of(piece)])
        for number in range(STUDENTS_N):
            student = Student(f"Student {number:02d}", "violin")
            connection.execute(TABLES[Student].insert(), [row_of(student)])
            for kind, records in _records(rng, student, piece).items():
                connection.execute(TABLES[kind].insert(), [row_of(r) for r in records])
                count += len(records)
        connection.execute(sa.text("ANALYZE"))
    store.close()
    return count


def _records(rng: random.Random, student: Student, piece: Piece) -> dict:  # type: ignore[type-arg]
    made: dict = {k: [] for k in (Practised, StepDone, Measured, FaultSeen, Lesson)}  # type: ignore[type-arg]
    for k in range(DAYS_N):
        on = TODAY - timedelta(days=k)
        made[Practised].append(Practised(student.id, on, rng.randint(5, 30)))
        mark = rng.choice(["good", "good", "again"])
        made[StepDone].append(
            StepDone(student.id, on, f"{k % 4}.tempo", "tempo", mark, piece.id, rng.uniform(40, 84),
                     "ABCD"[k % 4])
        )  # fmt: skip
        made[FaultSeen].append(
            FaultSeen(student.id, on, rng.choice(["choked", "late"]), piece.id, rng.randint(1, 16),
                      rng.random())
        )  # fmt: skip
        if k % 7 == 0:
            made[Lesson].append(Lesson(student.id, on, "well", "on", {"hold": True}))
            tries = tuple(rng.uniform(4, 9) for _ in range(3))
            made[Measured].append(
                Measured(student.id, on, Measure.LONGEST_BOW, tries[1], tries, k % 4,
                         rng.choice(["down", "up"]))
            )  # fmt: skip
    return made


def _window(folder: Path, path: Path) -> None:
    """What the Log screen itself needs is loaded when it is asked for, as in a fresh window."""
    app = make_application()
    store = QSettings(str(folder / "s.ini"), QSettings.Format.IniFormat)
    begun = time.perf_counter()
    window = MainWindow(Settings(store), folder, folder / "players", path)
    window.resize(1280, 800)
    window.show()
    app.processEvents()
    print(f"  the window is there after {1e3 * (time.perf_counter() - begun):.0f} ms")
    begun = time.perf_counter()
    window.show_screen("log")
    app.processEvents()
    print(f"  opening the Log screen: {1e3 * (time.perf_counter() - begun):.0f} ms")
    log = window.screen_of("log")
    begun = time.perf_counter()
    log.tabs.setCurrentWidget(log.pictures)
    app.processEvents()
    print(f"  the very first picture: {1e3 * (time.perf_counter() - begun):.0f} ms (goal 200)")
    choose = log.pictures.choose
    for number in range(choose.count()):
        choose.blockSignals(True)
        choose.setCurrentIndex(number)
        choose.blockSignals(False)
        times = []
        for _ in range(5):
            begun = time.perf_counter()
            log.pictures.refresh()
            app.processEvents()
            times.append(1e3 * (time.perf_counter() - begun))
        name, middle = choose.itemText(number), sorted(times)[2]
        print(f"  {name}: first {times[0]:.0f} ms, median {middle:.0f} (goal 200)")
    window.close()
