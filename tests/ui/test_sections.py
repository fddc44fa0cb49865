"""Sections by keys and mouse on the Bowing screen, and where they are seen."""

from __future__ import annotations

from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QInputDialog

from tests.ui.conftest import wait_engraved


def _spans(window) -> list[tuple[str, int, int]]:
    return [(s.name, s.first_note, s.last_note) for s in window.session.document.form]


def _press(window, key: Qt.Key, first: int, last: int | None = None) -> None:
    screen = window.screen_of("bowing")
    screen.select(first)
    if last is not None:
        screen.select(last, extend=True)
    QTest.keyClick(screen.view, key)


def test_begin_join_and_figure_by_one_key_each(qtbot, violin):
    found = _spans(violin)
    _press(violin, Qt.Key.Key_B, 7)
    assert 7 in [first for _, first, _ in _spans(violin)]
    assert "Sections:" in violin.statusBar().currentMessage()
    _press(violin, Qt.Key.Key_J, 8)
    assert _spans(violin) == found
    _press(violin, Qt.Key.Key_F, 2, 5)
    assert ("figure 1", 2, 5) in _spans(violin)
    violin.session.undo_stack.undo()
    assert _spans(violin) == found
    _press(violin, Qt.Key.Key_J, 0)
    assert "no section before" in violin.statusBar().currentMessage()


def test_a_name_is_asked_for_and_shown(qtbot, violin, monkeypatch):
    monkeypatch.setattr(QInputDialog, "getText", lambda *_a, **_k: ("Out to sea", True))
    _press(violin, Qt.Key.Key_N, 0)
    assert violin.session.document.form[0].name == "Out to sea"
    shown = [letter.text for item in violin.screen_of("bowing").view.items_by_system
             for letter in item.letters]  # fmt: skip
    assert "Out to sea" in shown
    monkeypatch.setattr(QInputDialog, "getText", lambda *_a, **_k: ("never", False))
    _press(violin, Qt.Key.Key_N, 0)
    assert violin.session.document.form[0].name == "Out to sea"


def test_a_letter_is_dragged_to_another_note(qtbot, violin):
    wait_engraved(qtbot, violin)
    view = violin.screen_of("bowing").view
    second = violin.session.document.form[1]
    item = view.item_of(second.first_note)
    letter = next(x for x in item.letters if x.section.key == second.key)
    at = item.mapToScene(letter.rect.center() + QPointF(item.margin, 0))
    view.ensureVisible(at.x() - 20, at.y() - 20, 40, 40)
    target = second.first_note - 2
    x = item.mapToScene(QPointF(item.note_rect(target).left() + 10, 0)).x()
    start, end = view.mapFromScene(at), view.mapFromScene(QPointF(x, at.y()))
    QTest.mousePress(view.viewport(), Qt.MouseButton.LeftButton, pos=start)
    QTest.mouseMove(view.viewport(), end)
    QTest.mouseRelease(view.viewport(), Qt.MouseButton.LeftButton, pos=end)
    moved = violin.session.document.form[1]
    assert (moved.key, moved.first_note) == (second.key, target)
    assert violin.session.document.form[0].last_note == target - 1


def test_other_screens_follow(qtbot, violin):
    violin.show_screen("show")
    show = violin.screen_of("show")
    qtbot.waitUntil(lambda: show.prepared is not None and not show.preparing, timeout=10_000)
    before = [s.name for s in show.prepared.stretches]
    violin.screen_of("bowing").sections.begin_here()
    violin.screen_of("bowing").select(3)
    violin.screen_of("bowing").sections.begin_here()
    qtbot.waitUntil(lambda: [s.name for s in show.prepared.stretches] != before, timeout=10_000)
    assert len(show.prepared.stretches) == len(before) + 1


def test_a_section_is_selected_by_its_letter_or_a_key(qtbot, violin):
    """So that a place can be said of all of it."""
    wait_engraved(qtbot, violin)
    screen = violin.screen_of("bowing")
    second = violin.session.document.form[1]
    item = screen.view.item_of(second.first_note)
    letter = next(x for x in item.letters if x.section.key == second.key)
    at = screen.view.mapFromScene(item.mapToScene(letter.rect.center() + QPointF(item.margin, 0)))
    QTest.mouseClick(screen.view.viewport(), Qt.MouseButton.LeftButton, pos=at)
    assert screen.selection() == (second.first_note, second.last_note)
    screen.select(3)
    QTest.keyClick(screen.view, Qt.Key.Key_S, Qt.KeyboardModifier.ShiftModifier)
    first = violin.session.document.form[0]
    assert screen.selection() == (first.first_note, first.last_note)


def test_where_else_a_correction_is_meant_is_shown_before_it_is_made(qtbot, violin):
    wait_engraved(qtbot, violin)
    screen = violin.screen_of("bowing")
    screen.select(2)
    assert "Meant in bars 5, 13 too" in screen.panel.alike.text()
    framed = [place for item in screen.view.items_by_system for place in item.alike]
    notes = violin.session.plan.part.notes
    assert {notes[first].bar for first, _ in framed} == {5, 13}
    QTest.keyClick(screen.view, Qt.Key.Key_O)
    assert "Meant here only" in screen.panel.alike.text()
    assert not any(item.alike for item in screen.view.items_by_system)
