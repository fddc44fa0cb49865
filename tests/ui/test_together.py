"""The Together screen: all parts on one sheet, corrected at any of them, handed out at once."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtWidgets import QFileDialog, QMessageBox

from plectrum.core.document.seats import Seat
from plectrum.core.files import opening as opening_module
from plectrum.core.instrument.bow import Bow
from plectrum.core.player.player import stage
from plectrum.core.practice.class_tune import Student
from plectrum.core.practice.easier import Easier
from plectrum.core.score.model import Direction
from plectrum.ui.editing import session as session_module
from plectrum.ui.look import where_to
from tests.tunes import score_xml, tune_xml
from tests.ui.conftest import wait_planned

QUARTET = {
    "Violin 1": "A4 B4 C5 D5|E5*2 D5*2|A4 B4 C5 D5|C5*4|",
    "Violin 2": "D4 E4 F4 G4|A4*2 G4*2|D4 E4 F4 G4|F4*4|",
    "Viola": "D4 E4 F4 G4|A4*2 G4*2|D4 E4 F4 G4|F4*4|",
    "Cello": "D3*2 A2*2|D3*2 G2*2|D3*2 A2*2|D3*4|",
}


@pytest.fixture
def sheet(qtbot, opened, tmp_path):
    """A window on a quartet with its sheet laid out."""
    path = tmp_path / "quartet.musicxml"
    path.write_bytes(score_xml(QUARTET))
    window = opened(path)
    screen = shown_sheet(qtbot, window, 4)
    return window, screen


def shown_sheet(qtbot, window, parts_n: int):
    window.show_screen("together")
    screen = window.screen_of("together")
    qtbot.waitUntil(
        lambda: len(screen.view.rows) == parts_n and screen.view.is_laid_out, timeout=30_000
    )
    return screen


def press(qtbot, window, key, modifier=Qt.KeyboardModifier.NoModifier):
    """A key where the music of the screen in sight has the focus."""
    qtbot.keyClick(window.shown.focus_target, key, modifier)


def test_all_parts_are_not_planned_while_the_window_waits(sheet):
    """However quickly the last part was planned by itself."""
    window, screen = sheet
    session = window.session
    screen.switch_together()
    assert session.document.together is False
    session.planner._took_s.extend([0.001, 0.001])
    session.planner.kept.forget()
    screen.switch_together()
    assert session.planning


def ways_at(window, notes: list[int | None]) -> list[Direction | None]:
    plans = window.session.ensemble.plans
    return [None if n is None else p.notes[n].direction for p, n in zip(plans, notes, strict=True)]


def test_all_parts_stand_under_each_other_with_who_plays_them(sheet):
    _window, screen = sheet
    item = screen.view.items_by_system[0]
    assert len(item.system.staves) == 4
    tops = [item.signs_top(k) for k in range(4)]
    assert tops == sorted(tops)
    assert screen.seats.names[:4] == list(QUARTET)
    assert "match" in screen.words.text()
    assert screen.list.count() == 1  # nothing to settle, which is said
    marked = screen.view.rows
    assert marked[0].matching >= {0, 1, 2, 3}
    assert not marked[0].differing


def test_signs_never_lie_over_the_staff_above(sheet):
    _window, screen = sheet
    for item in screen.view.items_by_system:
        for part in range(1, 4):
            assert item.signs_top(part) >= item.bottom(part - 1) - 20
            assert item.signs_top(part) < item.above + item.system.staves[part][0]


def test_a_click_chooses_a_note_of_the_part_under_the_mouse(qtbot, sheet):
    _window, screen = sheet
    item = screen.view.items_by_system[0]
    for part in (3, 1):
        at = item.mapToScene(item.note_rect(part, 1).center())
        where = screen.view.mapFromScene(QPointF(at))
        qtbot.mouseClick(screen.view.viewport(), Qt.MouseButton.LeftButton, pos=where)
        assert (screen.part, screen.selected) == (part, 1)
    assert screen.sentence.text().startswith("Violin 2, bar 1, beat 2")
    assert "Violin 1" in screen.moves_with.text()


def test_one_part_is_corrected_the_others_follow_and_one_step_undoes_it(qtbot, sheet):
    window, screen = sheet
    screen.select(2, 0)
    before = ways_at(window, [0, 0, 0, 0])
    press(qtbot, window, Qt.Key.Key_U)
    wait_planned(qtbot, window)
    assert ways_at(window, [0, 0, 0, None])[:3] == [Direction.UP] * 3
    pins = window.session.document.choices.pins
    plans = window.session.ensemble.plans
    assert {p.part.notes[0].id for p in plans[:3]} <= set(pins)
    assert {p.part.notes[6].id for p in plans[:3]} <= set(pins)  # bar 3 is like bar 1
    window.session.undo_stack.undo()
    wait_planned(qtbot, window)
    assert ways_at(window, [0, 0, 0, 0]) == before
    assert not window.session.document.choices.pins


def test_this_part_only_leaves_the_others_alone_and_lists_the_place(qtbot, sheet):
    window, screen = sheet
    screen.select(0, 4)
    press(qtbot, window, Qt.Key.Key_O, Qt.KeyboardModifier.ShiftModifier)
    press(qtbot, window, Qt.Key.Key_H)
    wait_planned(qtbot, window)
    pins = window.session.document.choices.pins
    violin = window.session.ensemble.plans[0]
    assert set(pins) == {violin.part.notes[4].id}


def test_arrows_walk_along_a_part_and_between_parts(qtbot, sheet):
    window, screen = sheet
    screen.select(0, 0)
    press(qtbot, window, Qt.Key.Key_Right)
    press(qtbot, window, Qt.Key.Key_Right)
    press(qtbot, window, Qt.Key.Key_Up)
    plan = window.session.ensemble.plans[3]
    assert screen.part == 3
    assert plan.part.notes[screen.selected].onset_q == 2
    press(qtbot, window, Qt.Key.Key_Down)
    assert (screen.part, screen.selected) == (0, 2)


def test_a_correction_on_the_bowing_screen_is_carried_too(qtbot, sheet):
    window, _screen = sheet
    window.show_screen("bowing")
    window.screen_of("bowing").select(0)
    press(qtbot, window, Qt.Key.Key_U)
    wait_planned(qtbot, window)
    assert ways_at(window, [0, 0, 0, None])[:3] == [Direction.UP] * 3


def test_m_plans_each_part_by_itself_and_together_again(qtbot, sheet):
    window, screen = sheet
    together = window.session.plan.steps
    press(qtbot, window, Qt.Key.Key_M)
    wait_planned(qtbot, window)
    assert window.session.ensemble is None
    assert not screen.nothing.isHidden()
    press(qtbot, window, Qt.Key.Key_M)
    wait_planned(qtbot, window)
    assert window.session.plan.steps == together
    assert screen.nothing.isHidden()


def test_another_player_of_a_part_is_planned_for(qtbot, sheet):
    window, screen = sheet
    combo = screen.seats.players["P3"]
    combo.setCurrentIndex(combo.findText("Starter"))
    combo.activated.emit(combo.currentIndex())
    wait_planned(qtbot, window)
    players = [plan.player.title for plan in window.session.ensemble.plans]
    assert players == ["Growing", "Growing", "Starter", "Growing"]
    everybody = screen.seats.everybody
    everybody.setCurrentIndex(everybody.findText("Steady"))
    everybody.activated.emit(everybody.currentIndex())
    wait_planned(qtbot, window)
    assert {p.player.title for p in window.session.ensemble.plans} == {"Steady"}


def test_what_cannot_go_together_is_listed_and_leads_there(qtbot, opened, tmp_path):
    path = tmp_path / "duet.musicxml"
    path.write_bytes(score_xml({"Violin": "A4 B4 C5*2|A4d B4 C5*2|",
                                "Viola": "D4 E4 F4*2|D4u E4 F4*2|"}))  # fmt: skip
    screen = shown_sheet(qtbot, opened(path), 2)
    qtbot.waitUntil(lambda: screen.list.count() > 0, timeout=30_000)
    texts = [screen.list.item(k).text() for k in range(screen.list.count())]
    at = next(k for k, text in enumerate(texts) if text.startswith("Bar 2, beat 1"))
    assert "marked here in the score" in texts[at]
    for _ in range(at + 1):
        press(qtbot, screen.window(), Qt.Key.Key_N)
    assert (screen.part, screen.selected) == (1, 3)
    assert screen.view.rows[1].differing


def test_all_parts_are_handed_out_into_a_folder(qtbot, sheet, tmp_path, monkeypatch):
    window, screen = sheet
    folder = tmp_path / "pages"
    folder.mkdir()
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_a, **_k: str(folder))
    screen.hand_out()
    screen.hand_out_dialog.accept()
    with qtbot.waitSignal(screen.writer.done, timeout=60_000) as done:
        pass
    assert "4 PDF" in done.args[0]
    names = sorted(p.name for p in folder.iterdir())
    assert names == [
        "quartet bowed.musicxml", "quartet, Cello.pdf", "quartet, Viola.pdf",
        "quartet, Violin 1.pdf", "quartet, Violin 2.pdf", "quartet.plectrum",
    ]  # fmt: skip
    window.open_path(folder / "quartet.plectrum")
    qtbot.waitUntil(lambda: window.session.path == folder / "quartet.plectrum", timeout=30_000)
    assert window.session.document.together


def test_handing_out_replaces_nothing_unasked(qtbot, sheet, tmp_path, monkeypatch):
    """Nor the open plan itself, though that has the name of what is written."""
    window, screen = sheet
    plan = tmp_path / "quartet.plectrum"
    window.session.save(plan)
    (tmp_path / "quartet bowed.musicxml").write_bytes(b"precious")
    shown = []
    monkeypatch.setattr(QMessageBox, "exec", lambda box: shown.append(box.text()))
    screen.write_parts(tmp_path)
    window.session.path = None
    monkeypatch.setattr(where_to, "ask", lambda *a: shown.append(a[1]))
    screen.write_parts(tmp_path)
    assert ["open" in shown[0], "already" in shown[1]] == [True, True]
    assert (tmp_path / "quartet bowed.musicxml").read_bytes() == b"precious"
    assert not hasattr(screen, "writer")


def test_a_folder_that_cannot_be_written_is_said(qtbot, sheet, tmp_path):
    window, screen = sheet
    taken = tmp_path / "taken"
    taken.write_text("a file")
    with qtbot.waitSignal(window.session.failed, timeout=60_000) as failed:
        screen.write_parts(taken / "inside")
    assert "cannot be written" in str(failed.args[0])


def test_a_class_on_a_tune_is_made_shown_and_kept(qtbot, opened, tmp_path):
    path = tmp_path / "tune.musicxml"
    path.write_bytes(tune_xml("A4 B4 C#5 D5|E5*2 D5*2|C#5*4|"))
    window = opened(path)
    screen = shown_sheet(qtbot, window, 1)
    screen.ask_class()
    dialog = screen.class_dialog
    dialog.add_student()
    row = dialog.rows[2]
    row.instrument.setCurrentIndex(row.instrument.findData("cello"))
    row.who.setCurrentIndex(row.who.findText("Starter"))
    dialog.accept()
    qtbot.waitUntil(lambda: len(window.session.document.string_parts) == 3, timeout=30_000)
    shown_sheet(qtbot, window, 3)
    instruments = [plan.part.instrument for plan in window.session.ensemble.plans]
    assert instruments == ["violin", "violin", "cello"]
    assert window.session.unsaved
    dialog.drop_student()
    assert len(dialog.rows) == 2


def test_an_easier_part_is_put_under_the_other_and_undone(qtbot, sheet):
    window, screen = sheet
    screen.select(1, 0)
    screen.ask_easier()
    dialog = screen.easier_dialog
    dialog.where.setCurrentIndex(1)
    dialog.accept()
    shown_sheet(qtbot, window, 5)
    names = [info.name for info in window.session.document.string_parts]
    assert names[2] == "Violin 2, easier (proposed)"
    assert screen.part == 2
    assert window.session.plan.part.name == names[2]
    window.session.undo_stack.undo()
    shown_sheet(qtbot, window, 4)
    assert len(window.session.document.string_parts) == 4


def test_what_needs_nothing_easier_is_said(qtbot, sheet):
    window, screen = sheet
    with qtbot.waitSignal(window.session.failed, timeout=30_000) as failed:
        screen.make_easier("P1", Seat(stage("steady"), Bow.sized("violin")), Easier.OPEN, False)
    assert "can play all" in str(failed.args[0])


def test_a_class_of_one_is_no_ensemble(qtbot, opened, tmp_path):
    path = tmp_path / "tune.musicxml"
    path.write_bytes(tune_xml("A4 B4 C#5 D5|"))
    window = opened(path)
    screen = shown_sheet(qtbot, window, 1)
    screen.make_class([Student("Mirel", Seat(stage("growing"), Bow.sized("cello")))])
    qtbot.waitUntil(
        lambda: window.session.document.string_parts[0].name == "Mirel, cello", timeout=30_000
    )
    assert not window.session.document.together


def test_of_a_large_score_the_part_is_shown_first_and_all_follow(
    qtbot, opened, tmp_path, monkeypatch
):
    monkeypatch.setattr(session_module, "AT_ONCE_N", 10)
    path = tmp_path / "quartet.musicxml"
    path.write_bytes(score_xml(QUARTET))
    said = []
    window = opened(path)
    window.session.said.connect(said.append)
    qtbot.waitUntil(lambda: window.session.ensemble is not None, timeout=30_000)
    assert window.session.plan in window.session.ensemble.plans
    shown_sheet(qtbot, window, 4)


def test_a_very_large_score_is_planned_as_one_when_it_is_asked_for(
    qtbot, opened, tmp_path, monkeypatch
):
    monkeypatch.setattr(opening_module, "TOGETHER_N", 10)
    path = tmp_path / "quartet.musicxml"
    path.write_bytes(score_xml(QUARTET))
    window = opened(path)
    assert not window.session.document.together
    window.show_screen("together")
    screen = window.screen_of("together")
    press(qtbot, window, Qt.Key.Key_M)
    qtbot.waitUntil(lambda: window.session.ensemble is not None, timeout=30_000)
    shown_sheet(qtbot, window, 4)
    assert screen.together.isChecked()
