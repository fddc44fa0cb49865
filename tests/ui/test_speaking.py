"""The score, the path and the note that is chosen speak, for those who do not see them."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QAccessible

from plectrum.core.advice.words import note_sentence
from plectrum.demo import demo_paths
from plectrum.ui.look import speaking


@pytest.fixture
def spoken(monkeypatch) -> list[str]:
    """What is announced."""
    said: list[str] = []
    monkeypatch.setattr(QAccessible, "isActive", lambda: True)
    monkeypatch.setattr(
        speaking.QAccessible, "updateAccessibility", lambda event: said.append(event.message())
    )
    return said


def test_the_note_that_is_walked_to_is_spoken(qtbot, violin, spoken):
    screen = violin.screen_of("bowing")
    screen.view.setFocus()
    screen.select(0)
    spoken.clear()
    qtbot.keyClick(screen.view, Qt.Key.Key_Right)
    plan = violin.session.plan
    assert len(spoken) == 1
    assert note_sentence(plan.notes[1], plan.choices.bow) in spoken[0]
    assert spoken[0].startswith(plan.part.notes[1].place)
    qtbot.keyClick(screen.view, Qt.Key.Key_U)
    qtbot.waitUntil(lambda: not violin.session.planning)
    changed = violin.session.plan.notes[1]
    assert note_sentence(changed, plan.choices.bow) in spoken[-1]


def test_the_caret_of_the_piece_screen_is_spoken(qtbot, violin, spoken):
    violin.show_screen("piece")
    screen = violin.screen_of("piece")
    view = screen.view
    qtbot.waitUntil(lambda: bool(screen.typing.written), timeout=30_000)
    view.setFocus()
    qtbot.keyClick(view, Qt.Key.Key_Home)
    for _ in range(3):  # every step is spoken, whether or not the note has another name
        spoken.clear()
        qtbot.keyClick(view, Qt.Key.Key_Right)
        assert len(spoken) == 1
    assert spoken
    assert spoken[-1] == view.accessibleDescription()


def test_what_has_not_the_focus_keeps_silent(violin, spoken):
    screen = violin.screen_of("bowing")
    screen.panel.setFocus()
    violin.header.setFocus()
    screen.view.clearFocus()
    screen.select(5)
    assert spoken == []
    assert screen.view.accessibleDescription()


def test_the_stage_and_the_sheet_of_all_parts_speak(qtbot, opened, spoken):
    window = opened(demo_paths()[2])
    window.show_screen("show")
    show = window.screen_of("show")
    qtbot.waitUntil(lambda: show.transport.performance is not None, timeout=30_000)
    show.stage.setFocus()
    spoken.clear()
    for note in (3, 4):
        show.transport.go_to(show.transport.performance.notes[note].onset_s + 0.05)
        qtbot.wait(30)
    assert len(spoken) == 2
    assert spoken[-1] == show.stage.accessibleDescription()
    window.show_screen("together")
    sheet = window.screen_of("together")
    qtbot.waitUntil(lambda: sheet.view.is_laid_out, timeout=30_000)
    sheet.view.setFocus()
    sheet.select(1, 3)
    assert spoken[-1] == sheet.sentence.text()
    assert spoken[-1].startswith("Viola")
