"""The picture is the plan: where things are drawn, and that all of them are."""

from __future__ import annotations

import re
from itertools import pairwise

import pytest
from PySide6.QtCore import QByteArray, QRectF
from PySide6.QtGui import QColor, QFontDatabase, QFontMetricsF, QImage, QPainter
from PySide6.QtSvg import QSvgRenderer

from plectrum.core.document.choices import Join
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.score.model import Direction
from plectrum.core.score.reading.opening import open_score
from plectrum.core.score.scorefile import read_part
from plectrum.demo import demo_paths
from plectrum.ui.drawing.path_painter import PathGeometry, PathPainter
from plectrum.ui.drawing.timeline import SystemTimeline
from plectrum.ui.engraving.client import EngravingClient, Layout
from plectrum.ui.engraving.system import System
from plectrum.ui.engraving.worker import Engraver
from plectrum.ui.look import theme
from tests.tunes import tune_document, tune_xml
from tests.ui.conftest import wait_engraved


def engraved(xml: bytes, width: float = 900) -> list[System]:
    engraver = Engraver()
    request = {"token": 1, "xml": xml.decode(), "parts": ["P1"], "width": width, "scale": 40}
    count = engraver.load(request)["systems"]
    return [System.from_message(engraver.system(k)) for k in range(count)]


def test_every_note_and_bar_is_found_in_the_engraving():
    for path in demo_paths():
        score = open_score(path.read_bytes(), path.name)
        part = read_part(score, "P1")
        systems = engraved(score.xml)
        ids = {note_id for s in systems for note_id in s.notes}
        assert {i for n in part.notes for i in n.ids} <= ids
        bars = [b for s in systems for b in s.bars]
        assert bars == [b.index for b in part.bars]


def test_bow_marks_of_the_file_are_not_engraved():
    """The window draws its own signs, so a changed bow needs no new engraving."""
    plain, marked = engraved(tune_xml("A4 B4 C5 D5|")), engraved(tune_xml("A4u B4d C5 D5|"))
    assert plain[0].svg.count(b"<use") == marked[0].svg.count(b"<use")
    assert plain[0].notes == marked[0].notes


def test_noteheads_stand_where_they_are_drawn(themed):
    """Dark pixels of the picture at every notehead's box, none a little to its left."""
    system = engraved(tune_xml("A4 B4 C5 D5|"))[0]
    image = QImage(int(system.width * 2), int(system.height * 2), QImage.Format.Format_ARGB32)
    image.fill(QColor("white"))
    painter = QPainter(image)
    QSvgRenderer(QByteArray(system.svg)).render(painter, QRectF(image.rect()))
    painter.end()
    for x, y, w, h in system.notes.values():
        centre = image.pixelColor(int((x + w / 2) * 2), int((y + h / 2) * 2))
        assert centre.lightness() < 90


def test_words_and_metronome_are_drawn_with_fonts_that_exist(themed):
    xml = tune_xml("{dolce} A4*4|")
    svg = engraved(xml)[0].svg.decode()
    families = set(re.findall(r'font-family="([^"]+)"', svg))
    assert families <= set(QFontDatabase.families())
    assert "dolce" in svg
    assert 'font-size="0px"' not in svg
    assert "<svg" not in svg[10:]


def test_time_runs_from_left_to_right_on_every_system():
    score = open_score(demo_paths()[0].read_bytes(), "x")
    part = read_part(score, "P1")
    for system in engraved(score.xml):
        timeline = SystemTimeline(system, part)
        xs = [timeline.x(timeline.start_q + k / 8) for k in range(200)]
        assert xs == sorted(xs)


def test_the_band_ends_where_the_plan_says():
    document = tune_document("A4*2 B4*2|C5( D5) E5*2|")
    plan = plan_of(document)
    system = engraved(document.score.xml)[0]
    geometry = PathGeometry(QRectF(0, 100, 900, 96))
    painter = PathPainter(plan, SystemTimeline(system, plan.part), geometry)
    for segment in painter.timeline.segments:
        planned = plan.notes[segment.note]
        a, b = painter.ends(segment, planned)
        assert a.y() == pytest.approx(196 - 96 * planned.start)
        assert b.y() == pytest.approx(196 - 96 * planned.end)
        rises = b.y() < a.y()
        assert rises == (planned.direction is Direction.DOWN)


def test_a_note_tied_over_a_line_break_goes_on_where_it_was():
    music = "A4 B4 A4 B4|" + "A4*4~|A4*4~|A4*4|" * 6
    document = tune_document(music)
    plan = plan_of(document)
    systems = engraved(document.score.xml, width=420)
    found = 0
    for first, second in pairwise(systems):
        geometry = PathGeometry(QRectF(0, 0, 900, 96))
        one = PathPainter(plan, SystemTimeline(first, plan.part), geometry)
        two = PathPainter(plan, SystemTimeline(second, plan.part), geometry)
        last, following = one.timeline.segments[-1], two.timeline.segments[0]
        if last.note == following.note:
            found += 1
            planned = plan.notes[last.note]
            assert one.ends(last, planned)[1].y() == pytest.approx(
                two.ends(following, planned)[0].y()
            )
    assert found


def test_a_crash_of_the_engraver_costs_nothing(qtbot, themed):
    client = EngravingClient()
    channel = client.channel("test")
    score = open_score(demo_paths()[0].read_bytes(), "x")
    layout = Layout(score, ("P1",), "violin", 900, 40)
    with qtbot.waitSignal(channel.system_ready, timeout=30_000):
        channel.engrave(layout)
    with qtbot.waitSignal(channel.system_ready, timeout=30_000):
        channel.engrave(layout)
        client._process.kill()
    client.close()


def test_zooming_lays_out_anew_and_keeps_the_selection(qtbot, violin):
    view = violin.screen_of("bowing").view
    violin.screen_of("bowing").select(30)
    few = len(view.items_by_system)
    view.set_zoom(1.5)
    qtbot.waitUntil(lambda: len(view.items_by_system) > few, timeout=30_000)
    wait_engraved(qtbot, violin)
    assert view._selection == (30, 30)


def luminance(colour: QColor) -> float:
    """Relative luminance (WCAG 2, a published standard)."""

    def linear(v: float) -> float:
        return v / 12.92 if v <= 0.04045 else ((v + 0.055) / 1.055) ** 2.4

    return (
        0.2126 * linear(colour.redF())
        + 0.7152 * linear(colour.greenF())
        + 0.0722 * linear(colour.blueF())
    )


@pytest.mark.parametrize("colours", [theme.LIGHT, theme.DARK], ids=["light", "dark"])
@pytest.mark.parametrize("ground", ["paper", "panel", "field"])
@pytest.mark.parametrize("ink", ["ink", "muted", "accent", "problem", "caution", "down", "up"])
def test_text_has_contrast(ink, ground, colours):
    """WCAG 2 (a published standard) asks 4.5 : 1 for text."""
    pair = luminance(getattr(colours, ink)), luminance(getattr(colours, ground))
    high, low = sorted(pair, reverse=True)
    assert (high + 0.05) / (low + 0.05) >= 4.5


def test_figures_are_tabular(themed):
    metrics = QFontMetricsF(theme.label_font(14))
    assert len({metrics.horizontalAdvance(d) for d in "0123456789"}) == 1


def test_hooks_leave_a_gap_and_slurs_do_not():
    document = tune_document("A4d B4d C5u( D5)|")
    plan = plan_of(document)
    system = engraved(document.score.xml)[0]
    painter = PathPainter(
        plan, SystemTimeline(system, plan.part), PathGeometry(QRectF(0, 0, 900, 96))
    )
    before, hooked, slurred, after = painter.timeline.segments
    assert plan.notes[1].join is Join.HOOK
    assert painter.ends(before, plan.notes[0])[1].x() < hooked.left - 3
    assert painter.ends(slurred, plan.notes[2])[1].x() == pytest.approx(after.left)
