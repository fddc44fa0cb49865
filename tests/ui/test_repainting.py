"""Only what differs is painted again: the picture is the one that is painted afresh."""

from __future__ import annotations

import random

import numpy as np
import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QImage
from PySide6.QtTest import QTest

from plectrum.demo import demo_paths
from plectrum.ui.drawing.strips import STRIPS
from plectrum.ui.drawing.system_item import FORESEEN_N, SystemItem
from tests.ui.conftest import wait_planned

KEYS = (Qt.Key.Key_D, Qt.Key.Key_U, Qt.Key.Key_H, Qt.Key.Key_S, Qt.Key.Key_X, Qt.Key.Key_P)
SEAM = 12  # of 255: where parts meet, edges are blended twice


def picture(view) -> np.ndarray:
    view.hold_changed(())
    return numbers(view.viewport().grab().toImage())


def numbers(image: QImage) -> np.ndarray:
    image = image.convertToFormat(QImage.Format.Format_RGB32)
    data = np.frombuffer(image.constBits(), np.uint8)
    return data.reshape(image.height(), image.bytesPerLine())[:, : 4 * image.width()].astype(int)


@pytest.mark.parametrize("number", [1, 2])
def test_after_any_key_it_looks_as_painted_afresh(qtbot, opened, number):
    """Slurs and hooks over the end of a line too, whose arcs reach far beyond their notes."""
    window = opened(demo_paths()[number])
    screen, rng = window.screen_of("bowing"), random.Random(number)
    view, last = screen.view, len(window.session.plan.notes) - 1
    for _ in range(16):
        screen.select(rng.randint(0, min(last, 40)))
        QTest.keyClick(view, rng.choice(KEYS))
        wait_planned(qtbot, window)
        kept = picture(view)
        for item in view.items_by_system:
            item.repaint_layer()
        assert np.abs(kept - picture(view)).max() <= SEAM


@pytest.mark.parametrize("between", ["nothing", "zoom", "strips", "theme", "another note"])
def test_what_was_painted_ahead_is_taken_and_looks_as_painted_afresh(
    qtbot, opened, monkeypatch, between
):
    window = opened(demo_paths()[1])
    screen, rng = window.screen_of("bowing"), random.Random(between)
    view, session = screen.view, window.session
    took = []
    monkeypatch.setattr(SystemItem, "put", spied(SystemItem.put, took))
    for _ in range(4):
        screen.select(rng.randint(0, 30))
        qtbot.wait(20)
        wait_planned(qtbot, window)
        qtbot.waitUntil(lambda: not session.planner.foresight.looking)
        match between:
            case "zoom":
                view.set_zoom(rng.choice([0.9, 1.0, 1.15]))
            case "strips":
                view.set_strips(rng.choice([(), STRIPS[:1], STRIPS[:2]]))
            case "theme":
                window.settings.dark = not window.settings.dark
                window.refresh_look()
            case "another note":
                screen.select(rng.randint(0, 30))
        QTest.keyClick(view, rng.choice((Qt.Key.Key_D, Qt.Key.Key_U, Qt.Key.Key_H)))
        wait_planned(qtbot, window)
        kept = picture(view)
        for item in view.items_by_system:
            item.repaint_layer()
        assert np.abs(kept - picture(view)).max() <= SEAM
    if between == "nothing":
        assert took


def test_a_walk_leaves_no_heap_of_pictures(qtbot, opened):
    """Of plans that are not kept any more nothing is held; of the others it is."""
    window = opened(demo_paths()[1])
    screen, session = window.screen_of("bowing"), window.session
    for note in range(6, 30, 3):
        screen.select(note)
        wait_planned(qtbot, window)
        qtbot.waitUntil(lambda: not session.planner.foresight.looking)
        ahead = [f for item in screen.view.items_by_system for f in item._foreseen]
        assert all(len(item._foreseen) <= FORESEEN_N for item in screen.view.items_by_system)
    assert any(f.patches for f in ahead)
    assert {id(f.rows[0].plan) for f in ahead} <= {
        id(plan) for _, plan in (*session.planner.kept._foreseen, *session.planner.kept._made)
    }


def spied(method, calls):
    def spy(*args):
        calls.append(args)
        return method(*args)

    return spy


def test_what_stands_on_the_screen_is_what_would_be_painted(qtbot, opened):
    """Frames and washes come and go in the window itself, not only in the kept picture."""
    window = opened(demo_paths()[1])
    screen, rng = window.screen_of("bowing"), random.Random(4)
    view, last = screen.view, len(window.session.plan.notes) - 1
    for _ in range(25):
        screen.select(rng.randint(0, min(last, 30)), extend=rng.random() < 0.3)
        if rng.random() < 0.4:
            QTest.keyClick(view, rng.choice(KEYS))
            wait_planned(qtbot, window)
        view.hold_changed(())
        QTest.qWait(40)  # the panel follows, and with it the frames of places that are alike
        inside = view.viewport().rect().adjusted(8, 8, -8, -8)  # the ring of focus lies round it
        there = inside.translated(view.viewport().mapTo(window, QPoint(0, 0)))
        shown = window.screen().grabWindow(window.winId()).toImage().copy(there)
        painted = view.viewport().grab(inside).toImage()
        assert np.abs(numbers(shown) - numbers(painted)).max() <= SEAM
