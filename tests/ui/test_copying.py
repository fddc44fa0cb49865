"""The selected bars on the clipboard, as a picture and as MusicXML."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication

from plectrum.core.score.reading.opening import open_score
from plectrum.core.score.scorefile import read_part
from plectrum.ui.bowing.copying import MUSICXML


def test_selected_bars_are_copied_with_their_bows(qtbot, violin):
    screen = violin.screen_of("bowing")
    notes = violin.session.plan.part.notes
    inside = [n.index for n in notes if n.bar_index in (2, 3)]
    screen.select(inside[0])
    screen.select(inside[-1], extend=True)
    said = []
    violin.desk.message.connect(said.append)
    qtbot.keyClick(screen.view, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
    data = QGuiApplication.clipboard().mimeData()
    xml = bytes(data.data(MUSICXML).data())
    assert data.text() == xml.decode()
    part = read_part(open_score(xml, "copied"), "P1", "violin")
    assert [n.pitches for n in part.notes] == [notes[k].pitches for k in inside]
    plan = violin.session.plan
    heads = [u.first for u in plan.units if u.first in inside]
    assert all(part.notes[inside.index(k)].mark is plan.notes[k].direction for k in heads)
    numbers = [plan.part.bars[b].number for b in (2, 3)]
    assert said == [f"Copied bars {numbers[0]}–{numbers[1]}: a picture, and MusicXML."]
    picture = data.imageData()
    assert picture.width() > 300
    colours = {picture.pixel(x, y) for x in range(0, picture.width(), 7)
               for y in range(0, picture.height(), 7)}  # fmt: skip
    assert len(colours) > 5
    assert screen.selection() == (inside[0], inside[-1])
