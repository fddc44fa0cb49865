"""What a teacher does, done in a real window with real keys."""

from __future__ import annotations

import io
import json
import zipfile
from pathlib import Path

import pytest
from PySide6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PySide6.QtGui import QDropEvent
from PySide6.QtWidgets import QFileDialog

from plectrum.core.advice.reasons import is_proposed, reasons_for
from plectrum.core.document.choices import Join
from plectrum.core.errors import PlectrumError
from plectrum.core.files.opening import open_document_path
from plectrum.core.files.planfile import document_bytes
from plectrum.core.player.school import DottedSchool, SlurSchool
from plectrum.core.score.model import Direction
from plectrum.core.score.reading.opening import open_score
from plectrum.core.score.scorefile import read_part
from plectrum.demo import demo_paths
from tests.core.files.test_command_line import BAD_FILES
from tests.tunes import tune_xml
from tests.ui.conftest import wait_engraved, wait_planned


def press(qtbot, window, key, modifier=Qt.KeyboardModifier.NoModifier):
    """Press a key where the score has the focus and wait for the new plan."""
    qtbot.keyClick(window.screen_of("bowing").view, key, modifier)
    wait_planned(qtbot, window)


def shown(window) -> list[tuple[Direction, float, float]]:
    plan = window.session.shown_plan
    return [(p.direction, p.start, p.end) for p in plan.notes if p is not None]


def up_bow(panel):
    """The button of the plain up-bow."""
    return next(
        b
        for b in panel.buttons
        if (b.alternative.direction, b.alternative.join) == (Direction.UP, Join.TURN)
    )


def picture(window):
    return window.screen_of("bowing").view.grab().toImage()


def test_opening_shows_a_complete_plan(violin):
    plan = violin.session.plan
    assert all(p is not None for p in plan.notes)
    assert violin.windowTitle().startswith("Lantern Ferry")
    assert violin.status.plays.text().startswith("plays from ♩ = ")
    assert "hooks" in violin.status.plays.toolTip()
    assert violin.screen_of("bowing").panel.title.text() == "Pickup · beat 4 · A"


def test_keys_walk_notes_bars_and_ends(qtbot, violin):
    screen = violin.screen_of("bowing")
    press(qtbot, violin, Qt.Key.Key_Right)
    assert screen.panel.title.text() == "Bar 1 · beat 1 · D"
    press(qtbot, violin, Qt.Key.Key_Right, Qt.KeyboardModifier.ControlModifier)
    assert screen.panel.title.text() == "Bar 2 · beat 1 · E"
    press(qtbot, violin, Qt.Key.Key_Left)
    assert screen.panel.title.text() == "Bar 1 · beat 4 · D"
    press(qtbot, violin, Qt.Key.Key_Left, Qt.KeyboardModifier.ControlModifier)
    assert screen.panel.title.text() == "Bar 1 · beat 1 · D"
    press(qtbot, violin, Qt.Key.Key_End)
    assert screen.selected == len(violin.session.plan.notes) - 1
    press(qtbot, violin, Qt.Key.Key_Home, Qt.KeyboardModifier.ShiftModifier)
    assert screen.view._selection == (0, len(violin.session.plan.notes) - 1)


def test_clicking_a_note_selects_it(qtbot, violin):
    view = violin.screen_of("bowing").view
    item = view.item_of(5)
    rect = item.mapRectToScene(item.note_rect(5))
    point = view.mapFromScene(QPointF(rect.left() + 12, rect.center().y()))
    qtbot.mouseClick(view.viewport(), Qt.MouseButton.LeftButton, pos=QPoint(point))
    assert violin.screen_of("bowing").selected == 5


def test_flip_pin_undo_save_reopen(qtbot, violin, tmp_path: Path, monkeypatch, opened):
    """Flip a note: path, score and panel change; undo brings all back; reopening gives the same."""
    screen = violin.screen_of("bowing")
    before, picture_before = shown(violin), picture(violin)
    press(qtbot, violin, Qt.Key.Key_Right)
    assert violin.session.plan.notes[1].direction is Direction.DOWN
    panel_before = screen.panel.sentence.text()
    press(qtbot, violin, Qt.Key.Key_U)
    assert violin.session.plan.notes[1].direction is Direction.UP
    assert screen.panel.sentence.text() != panel_before
    assert screen.panel.pins.text().startswith("Pinned: up")
    assert screen.view.items_by_system[0].changed_bars  # what changed elsewhere is shown
    flipped, picture_flipped = shown(violin), picture(violin)
    assert flipped != before
    assert picture_flipped != picture_before
    assert violin.isWindowModified()

    press(qtbot, violin, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert shown(violin) == before
    assert not violin.isWindowModified()
    shift = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier
    press(qtbot, violin, Qt.Key.Key_Z, shift)
    assert shown(violin) == flipped

    target = tmp_path / "ferry.plectrum"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(target), ""))
    press(qtbot, violin, Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
    assert target.exists()
    assert not violin.isWindowModified()
    opened(demo_paths()[1])
    opened(target)
    assert shown(violin) == flipped
    assert violin.settings.recent == [target]


def test_nothing_is_engraved_again_when_a_bow_changes(qtbot, violin):
    items = list(violin.screen_of("bowing").view.items_by_system)
    press(qtbot, violin, Qt.Key.Key_U)
    press(qtbot, violin, Qt.Key.Key_D)
    assert violin.screen_of("bowing").view.items_by_system == items


def test_an_alternative_is_tried_dropped_and_kept(qtbot, violin):
    screen, session = violin.screen_of("bowing"), violin.session
    screen.select(5)
    before = shown(violin)
    qtbot.waitUntil(lambda: not screen.weigher.busy, timeout=30_000)
    button = up_bow(screen.panel)
    cost = session.plan.total_cost + button.alternative.extra_cost
    with qtbot.waitSignal(session.trials.changed, timeout=30_000):
        button.click()
    assert not screen.trial_banner.isHidden()
    assert "Enter keeps it" in screen.trial_banner.text()
    assert shown(violin) != before
    assert session.plan.notes[5].direction is Direction.DOWN  # nothing is taken yet
    press(qtbot, violin, Qt.Key.Key_Escape)
    assert shown(violin) == before
    assert screen.trial_banner.isHidden()

    button = up_bow(screen.panel)
    with qtbot.waitSignal(session.trials.changed, timeout=30_000):
        button.click()
    tried = shown(violin)
    press(qtbot, violin, Qt.Key.Key_Return)
    assert shown(violin) == tried
    assert session.trial is None
    assert session.plan.total_cost == pytest.approx(cost, abs=1e-6)
    assert session.undo_stack.undoText() == "up-bow"


def test_alternatives_can_be_tried_in_turn_by_keys_alone(qtbot, violin):
    screen, session = violin.screen_of("bowing"), violin.session
    screen.select(5)
    tried = []
    for _ in range(2):
        with qtbot.waitSignal(session.trials.changed, timeout=30_000):
            qtbot.keyClick(screen.view, Qt.Key.Key_A)
        tried.append(shown(violin))
        assert screen.view.hasFocus()
    assert tried[0] != tried[1]
    press(qtbot, violin, Qt.Key.Key_Return)
    assert shown(violin) == tried[1]


def test_place_length_split_slur_and_let_go(qtbot, violin):
    session, screen = violin.session, violin.screen_of("bowing")
    screen.select(3)
    start = session.plan.notes[3].start
    press(qtbot, violin, Qt.Key.Key_BracketRight)
    assert session.plan.notes[3].start == pytest.approx(start + 2 / 48)
    length = session.plan.notes[3].length_mm
    press(qtbot, violin, Qt.Key.Key_Equal)
    assert session.plan.notes[3].length_mm == pytest.approx(length + 650 * 2 / 48)
    press(qtbot, violin, Qt.Key.Key_P)
    assert session.plan.part.notes[3].id not in session.document.choices.pins

    inner = next(p.note.index for p in session.plan.notes if p.join is Join.SLUR)
    screen.select(inner)
    press(qtbot, violin, Qt.Key.Key_X)
    assert session.plan.notes[inner].join is Join.TURN
    press(qtbot, violin, Qt.Key.Key_S)
    assert session.plan.notes[inner].join is Join.SLUR


def test_tempo_player_and_school_replan_and_undo(qtbot, violin):
    header, session = violin.header, violin.session
    before = shown(violin)
    for change in (
        lambda: header.tempo.setValue(50),
        lambda: header.player.activated.emit(header.player.findText("Starter")),
        lambda: header.school.activated.emit(2),
    ):
        change()
        wait_planned(qtbot, violin)
        assert shown(violin) != before
        session.undo_stack.undo()
        wait_planned(qtbot, violin)
        assert shown(violin) == before
    assert header.tempo.value() == 84


def test_every_question_of_the_schools_can_be_answered_and_undone(qtbot, violin):
    session, menu = violin.session, violin.menus.school_menu
    usual = session.document.choices.school
    for (question, answer), action in menu._actions.items():
        if getattr(usual, question) == answer:
            assert action.isChecked()
            continue
        action.trigger()
        wait_planned(qtbot, violin)
        assert getattr(session.plan.choices.school, question) == answer
        assert violin.statusBar().currentMessage()  # what it changes, or that it changes nothing
        session.undo_stack.undo()
        wait_planned(qtbot, violin)
    assert session.document.choices.school == usual


def test_slurs_are_proposed_more_or_fewer_and_kept_or_parted_by_a_key(qtbot, violin):
    session, menu = violin.session, violin.menus.school_menu
    assert not menu.amount.isEnabled()
    menu._actions["slurs", SlurSchool.SONG].trigger()
    wait_planned(qtbot, violin)
    assert menu.amount.isEnabled()
    menu.amount.setValue(100)
    wait_planned(qtbot, violin)
    assert session.document.choices.slur_amount == 100
    many = _proposed(session.plan)
    assert "slurs are proposed" in violin.statusBar().currentMessage()
    menu.amount.setValue(0)
    wait_planned(qtbot, violin)
    assert _proposed(session.plan) == []
    assert "No slur is proposed with the slider here" in violin.statusBar().currentMessage()
    menu.amount.setValue(100)
    wait_planned(qtbot, violin)
    bowing = violin.screen_of("bowing")
    bowing.select(many[0])
    said = " ".join(r.text for r in reasons_for(session.plan, many[0]))
    assert "proposed slur" in said
    press(qtbot, violin, Qt.Key.Key_X)
    assert many[0] not in _slurred(session.plan)
    session.undo_stack.undo()
    wait_planned(qtbot, violin)
    press(qtbot, violin, Qt.Key.Key_S)
    note = session.plan.part.notes[many[0]]
    assert session.document.choices.pins[note.id].join is Join.SLUR
    assert many[0] not in _proposed(session.plan)


def _slurred(plan) -> list[int]:
    return [p.note.index for p in plan.notes if p is not None and p.join is Join.SLUR]


def _proposed(plan) -> list[int]:
    return [i for i in _slurred(plan) if is_proposed(plan, plan.notes[i])]


def test_a_plan_of_before_says_once_that_the_planner_has_learnt(qtbot, window, tmp_path):
    """The plan file of an older version: its "hook" is now "usual", its pins stay."""
    document = open_document_path(demo_paths()[0]).pinned("2.1", "up")
    path = tmp_path / "old.plectrum"
    archive = zipfile.ZipFile(io.BytesIO(document_bytes(document)))
    with zipfile.ZipFile(path, "w") as old:
        for name in archive.namelist():
            data = archive.read(name)
            if name == "plan.json":
                plan = json.loads(data)
                plan["version"] = "1.3"
                plan["school"]["dotted"] = "hook"
                data = json.dumps(plan).encode()
            old.writestr(name, data)
    with qtbot.waitSignal(window.session.opened, timeout=30_000):
        window.open_path(path)
    assert "has learnt" in window.statusBar().currentMessage()
    opened = window.session.document
    assert opened.choices.school.dotted is DottedSchool.USUAL
    assert opened.choices.pins == document.choices.pins


def test_a_score_that_names_no_string_instrument_opens_for_one(qtbot, window, tmp_path):
    path = tmp_path / "flute.musicxml"
    path.write_bytes(tune_xml("A4 B4 C5 D5|", name="Flute"))
    with qtbot.waitSignal(window.session.failed, timeout=30_000):
        window.open_path(path)
    window.error_box.close()
    with qtbot.waitSignal(window.session.opened, timeout=30_000):
        window.open_path(path, "viola")
    assert window.session.plan.choices.instrument == "viola"


def test_things_to_look_at_are_listed_and_lead_to_their_note(qtbot, opened, tmp_path):
    path = tmp_path / "long.musicxml"
    path.write_bytes(tune_xml("A4 B4 C5 D5|A4*4( B4*4 C5*4 D5*4)|", "4/4", bpm=42))
    window = opened(path)
    screen = window.screen_of("bowing")
    assert "1 thing to look at" in window.status.plays.text()
    screen.select(0)
    screen.things.list.itemClicked.emit(screen.things.list.topLevelItem(0), 0)
    assert screen.panel.title.text().startswith("Bar 2 · beat 1")


def test_marked_score_is_handed_on(qtbot, violin, tmp_path, monkeypatch):
    out = tmp_path / "bowed.musicxml"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(out), ""))
    press(qtbot, violin, Qt.Key.Key_E, Qt.KeyboardModifier.ControlModifier)
    violin.exporter.marking_dialog.accept()
    part = read_part(open_score(out.read_bytes(), "x"), "P1")
    assert part.notes[0].mark is Direction.UP
    table = tmp_path / "notes.csv"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(table), ""))
    violin.exporter.csv()
    assert table.read_text().count("\n") == len(violin.session.plan.notes) + 1


@pytest.mark.parametrize("name", sorted(BAD_FILES))
def test_malformed_files_say_so_and_leave_the_open_piece(qtbot, violin, tmp_path, name):
    before = violin.session.document
    path = tmp_path / "bad.musicxml"
    path.write_bytes(BAD_FILES[name])
    with qtbot.waitSignal(violin.session.failed, timeout=30_000) as caught:
        violin.open_path(path)
    assert isinstance(caught.args[0], PlectrumError)
    assert violin.error_box.isVisible()
    assert violin.error_box.text().endswith(".")
    violin.error_box.close()
    assert violin.session.document is before


def test_a_dropped_file_opens(qtbot, window):
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(demo_paths()[1]))])
    event = QDropEvent(
        QPointF(10, 10),
        Qt.DropAction.CopyAction,
        data,
        Qt.MouseButton.LeftButton,
        Qt.KeyboardModifier.NoModifier,
    )
    with qtbot.waitSignal(window.session.opened, timeout=30_000):
        window.dropEvent(event)
    assert window.session.document.title == "Slow Water"


def test_another_part_of_the_score_can_be_chosen(qtbot, opened, tmp_path):
    one, two = tune_xml("A4 B4 C5 D5|"), tune_xml("D3 E3 F3 G3|", name="Cello", clef="F4")
    text = one.decode().replace(
        "</part-list>", '<score-part id="P2"><part-name>Cello</part-name></score-part></part-list>'
    )
    second = two.decode().split("<part id=")[1].replace('"P1"', '"P2"').split("</score")[0]
    path = tmp_path / "duo.musicxml"
    path.write_text(text.replace("</score-partwise>", f"<part id={second}</score-partwise>"))
    window = opened(path)
    header = window.header
    assert header.part.count() == 2
    header.part.setCurrentIndex(1)
    with qtbot.waitSignal(window.session.score_changed, timeout=30_000):
        header.part.activated.emit(1)
    wait_engraved(qtbot, window)
    assert window.session.plan.choices.instrument == "cello"
    window.session.undo_stack.undo()
    wait_planned(qtbot, window)
    assert window.session.plan.choices.instrument == "violin"


def test_the_welcome_page_offers_the_demo(qtbot, window):
    paths = []
    window.welcome.path_wanted.disconnect()
    window.welcome.path_wanted.connect(paths.append)
    from PySide6.QtWidgets import QPushButton

    for button in window.welcome.findChildren(QPushButton)[1:]:
        button.click()
    assert paths == demo_paths()


def test_the_key_sheet_lists_every_key(qtbot, violin):
    from PySide6.QtWidgets import QLabel

    violin.show_keys()
    text = " ".join(label.text() for label in violin.key_sheet.findChildren(QLabel))
    for key in ("Ctrl+O", "Down-bow", "Ctrl+Shift+P", "Zoom"):
        assert key in text
    violin.key_sheet.close()


def test_closing_with_unsaved_changes_asks(qtbot, violin):
    from PySide6.QtWidgets import QMessageBox

    press(qtbot, violin, Qt.Key.Key_D)
    violin.saving.ask_unsaved = lambda: QMessageBox.StandardButton.Cancel
    assert not violin.close()
    assert violin.isVisible()
    violin.saving.ask_unsaved = lambda: QMessageBox.StandardButton.Discard
    assert violin.close()
