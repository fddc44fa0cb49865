"""Strips under the bow path: shown and hidden, remembered, and true to the plan."""

from __future__ import annotations

from itertools import pairwise

import pytest
from PySide6.QtCore import QRectF
from PySide6.QtGui import QColor, QImage, QPainter

from plectrum.ui.drawing.strips import GAP, STRIPS, paint_strip
from plectrum.ui.drawing.timeline import Segment
from plectrum.ui.look import theme
from tests.tunes import tune_plan


def painted(key: str, plan) -> tuple[QImage, QRectF, list[Segment]]:
    """One strip on its own, every note 100 pixels wide."""
    strip = next(s for s in STRIPS if s.key == key)
    segments = [Segment(k, 100.0 * k, 100.0 * k + 100, 0, 1) for k in range(len(plan.notes))]
    rect = QRectF(0, 0, 100.0 * len(plan.notes), strip.height)
    image = QImage(int(rect.width()), int(rect.height()), QImage.Format.Format_ARGB32)
    image.fill(QColor("white"))
    painter = QPainter(image)
    paint_strip(painter, strip, rect, plan, segments)
    painter.end()
    return image, rect, segments


def is_ink(colour: QColor) -> bool:
    return abs(colour.lightness() - theme.colours().ink.lightness()) < 25


def test_the_contact_strip_marks_the_lane_of_the_plan(themed):
    plan = tune_plan("[p] A4*2 B4*2|[f] A4*2 B4*2|", player="steady")
    image, rect, segments = painted("contact", plan)
    room_mm = plan.instrument.bridge_to_fingerboard_mm
    for segment, contact_mm in zip(segments, plan.contact.contact_mm, strict=True):
        x = int(segment.left + 50)
        column = [
            y for y in range(int(rect.top()), int(rect.bottom())) if is_ink(image.pixelColor(x, y))
        ]
        middle = rect.bottom() - contact_mm / room_mm * rect.height()
        assert sum(column) / len(column) == pytest.approx(middle, abs=1.0)


def test_the_hand_strip_goes_up_for_the_index_and_down_for_the_little_finger(themed):
    plan = tune_plan("[p] A4*4( B4*4)|", "8/4", bpm=120)
    image, rect, segments = painted("hand", plan)
    for segment, torque in zip(segments, plan.contact.hand_nmm, strict=True):
        above = image.pixelColor(int(segment.left + 50), int(rect.center().y() - 3))
        assert is_ink(above) == (torque > 15)


def test_the_speed_strip_is_higher_for_faster_notes(themed):
    plan = tune_plan("A4*1/2 B4*1/2 C5*3|", "4/4")
    image, _, segments = painted("speed", plan)

    def height(segment: Segment) -> int:
        x = int(segment.left + 50)
        bars = QColor("#8d9aa5")
        return sum(image.pixelColor(x, y) == bars for y in range(image.height()))

    assert height(segments[0]) > height(segments[2]) > 0


@pytest.mark.parametrize("strip", STRIPS, ids=lambda s: s.key)
def test_switching_a_strip_makes_room_and_engraves_nothing(qtbot, violin, strip):
    view = violin.screen_of("bowing").view
    items, before = list(view.items_by_system), [i.height for i in view.items_by_system]
    violin.menus.strip_actions[strip.key].setChecked(True)
    assert view.items_by_system == items
    assert [i.height for i in items] == [h + strip.height + GAP for h in before]
    for first, second in pairwise(items):
        assert second.pos().y() == pytest.approx(first.pos().y() + first.height)
    assert violin.settings.strips == [strip.key]
    violin.menus.strip_actions[strip.key].setChecked(False)
    assert [i.height for i in items] == before
