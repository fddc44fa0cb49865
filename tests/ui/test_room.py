"""The window and its dialogs fit the screen, whatever the scale."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QSize
from PySide6.QtTest import QTest

from plectrum.demo import demo_paths
from plectrum.ui.look.room import open_within
from plectrum.ui.shell.screens import SCREENS


@pytest.mark.parametrize("steps", [0, 20])
def test_every_screen_fits_a_small_one(opened, steps):
    """1024 × 768, less the frame and a panel of the desktop; the scale goes up to 200 %."""
    window = opened(demo_paths()[0])
    for _ in range(steps):
        window.scale_step(1)
    for kind in SCREENS:
        assert window.show_screen(kind.key)
        least = window.minimumSizeHint()
        assert least.width() <= 1024, kind.key
        assert least.height() <= 690, kind.key
    window.scale_step(0)


def test_a_dialog_opens_within_the_screen(window):
    open_within(window, QSize(9000, 9000))
    room = window.screen().availableSize()
    assert window.width() <= room.width()
    assert window.height() <= room.height()


def test_the_moving_bow_and_its_controls_are_both_in_sight(opened):
    """At 200 % on a small screen: the staff and the stage give way, the controls scroll."""
    window = opened(demo_paths()[0])
    window.resize(1024, 690)
    for _ in range(20):
        window.scale_step(1)
    window.show_screen("show")
    QTest.qWait(300)
    show = window.screen_of("show")
    for part in (show.stage, show.controls.play):
        assert part.visibleRegion().boundingRect().size() == part.size()
    window.scale_step(0)
