"""The interface thread does no long work itself, whatever a teacher does.

The goal of 100 ms is measured in `benchmarks/window.py`, on a quiet machine. Here, where other
tests run beside, only this thread's own work counts, the best of three tries, against a limit
that no slow machine reaches and that reading, planning or drawing a long piece in this thread
would: a guard, not a stopwatch.
"""

from __future__ import annotations

import gc
import shutil
import time

import pytest
from benchmarks.pieces import part_of_bars
from PySide6.QtCore import Qt

from tests.ui.conftest import shown_window, wait_engraved, wait_planned
from tests.ui.test_journeys import press
from tests.ui.test_typing import CONTROL, type_keys
from tests.ui.watchdog import Watchdog, slowness

LIMIT_MS = 250.0
TRIES = 3


def held(qtbot, work) -> None:
    """Do some work three times at most; it must keep to the limit."""
    gc.collect()
    gc.freeze()  # what the test runner itself holds is not the window's to look through
    pauses = []
    for _ in range(TRIES):
        limit_ms = LIMIT_MS * slowness()
        dog = Watchdog().start()
        work()
        dog.stop()
        pauses.append(
            f"{dog.worst_cpu_ms:.0f} ms of {limit_ms:.0f}, by the clock {dog.worst_ms:.0f}"
        )
        if dog.worst_cpu_ms < limit_ms:
            return
    raise AssertionError(f"at work for {'; '.join(pauses)}")


@pytest.fixture(scope="module")
def long_window(themed, tmp_path_factory, empty_log):
    """A window that opens two hundred bars."""
    folder = tmp_path_factory.mktemp("long")
    shutil.copyfile(empty_log, folder / "log.sqlite")
    path = folder / "long.musicxml"
    path.write_bytes(part_of_bars(200))
    with shown_window(folder) as made:
        made.open_path(path)
        yield made


@pytest.fixture
def long_piece(qtbot, long_window):
    """Two hundred bars on the Bowing screen, as they were opened."""
    session = long_window.session
    qtbot.waitUntil(lambda: session.document is not None, timeout=30_000)
    session.undo_stack.setIndex(0)
    long_window.show_screen("bowing")
    wait_planned(qtbot, long_window)
    wait_engraved(qtbot, long_window)
    return long_window


def test_the_watchdog_barks(qtbot):
    """A pause is seen, as work and by the clock."""
    dog = Watchdog().start()
    qtbot.wait(20)
    end = time.thread_time() + 0.3
    while time.thread_time() < end:
        pass
    qtbot.wait(20)
    dog.stop()
    assert dog.worst_ms > LIMIT_MS
    assert dog.worst_cpu_ms > LIMIT_MS


def test_opening_a_long_piece(qtbot, window, opened, tmp_path):
    path = tmp_path / "long.musicxml"
    path.write_bytes(part_of_bars(200))

    def work() -> None:
        opened(path)
        wait_planned(qtbot, window)

    work()
    held(qtbot, work)


def test_turning_bows_and_trying_in_a_long_piece(qtbot, long_piece):
    screen = long_piece.screen_of("bowing")
    screen.select(9)

    def work() -> None:
        for key in (Qt.Key.Key_U, Qt.Key.Key_D, Qt.Key.Key_H, Qt.Key.Key_P):
            press(qtbot, long_piece, key)
        with qtbot.waitSignal(long_piece.session.trials.changed, timeout=30_000):
            qtbot.keyClick(screen.view, Qt.Key.Key_A)
        press(qtbot, long_piece, Qt.Key.Key_Escape)

    held(qtbot, work)


def test_scrolling_zooming_and_strips_of_a_long_piece(qtbot, long_piece):
    view = long_piece.screen_of("bowing").view
    bar = view.verticalScrollBar()
    view.set_strips(list(view.strips))

    def work() -> None:
        for share in range(0, 11):
            bar.setValue(bar.maximum() * share // 10)
            qtbot.wait(15)
        for zoom in (1.3, 0.8, 1.0):
            view.set_zoom(zoom)
            qtbot.waitUntil(lambda: view.is_laid_out, timeout=30_000)

    held(qtbot, work)


def test_the_other_screens_of_a_long_piece(qtbot, long_piece):
    def work() -> None:
        for key in (Qt.Key.Key_1, Qt.Key.Key_2, Qt.Key.Key_3):
            qtbot.keyClick(long_piece, key, CONTROL)
            wait_planned(qtbot, long_piece)
            qtbot.wait(150)

    work()
    held(qtbot, work)


def test_typing_into_a_long_piece(qtbot, long_piece):
    qtbot.keyClick(long_piece, Qt.Key.Key_1, CONTROL)
    qtbot.waitUntil(lambda: bool(long_piece.screen_of("piece").typing.written), timeout=30_000)
    held(qtbot, lambda: type_keys(qtbot, long_piece, "4abcd"))


def test_the_handout_and_the_practice_of_a_long_piece(qtbot, long_piece):
    """Pages, ladders and the week of two hundred bars are made aside."""
    window = long_piece
    handout, practice = window.screen_of("handout"), window.screen_of("practice")

    def work() -> None:
        window.show_screen("handout")
        handout._changed()
        qtbot.waitUntil(lambda: bool(handout.pages) and not handout.busy, timeout=30_000)
        window.show_screen("practice")
        practice._changed()
        qtbot.waitUntil(lambda: not practice.busy, timeout=30_000)

    held(qtbot, work)
