"""The teacher's desk: compare, mend, drag, keep variants and players, look and safety."""

from __future__ import annotations

import contextlib
import os
from dataclasses import replace

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QApplication, QFileDialog

from plectrum.core.advice.comparison import compare
from plectrum.core.advice.sound_faults import Symptom
from plectrum.core.advice.warnings import warnings_of
from plectrum.core.document.choices import Join
from plectrum.core.files.opening import open_document_path
from plectrum.core.files.planfile import document_bytes
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.player.school import AmountSchool
from plectrum.core.score.model import Direction
from plectrum.core.score.reading.opening import open_score
from plectrum.core.score.scorefile import read_part
from plectrum.demo import demo_paths
from plectrum.ui.look import theme
from plectrum.ui.shell.palette import Command, commands_of, score
from tests.tunes import tune_xml
from tests.ui.conftest import wait_engraved, wait_planned
from tests.ui.test_journeys import press
from tests.ui.test_typing import CONTROL, SHIFT, SIXTEEN_BARS, type_keys

NONE = Qt.KeyboardModifier.NoModifier


def open_bowing(qtbot, window) -> None:
    qtbot.keyClick(window, Qt.Key.Key_3, CONTROL)


# comparing


def compare_with(qtbot, window, kind: str, value: str | None = None):
    bar = window.screen_of("bowing").compare_bar
    if not window.screen_of("bowing").comparing:
        qtbot.keyClick(window.screen_of("bowing").view, Qt.Key.Key_D, CONTROL)
    with qtbot.waitSignal(bar.compared, timeout=30_000):
        bar.kind.setCurrentIndex(bar.kind.findText(kind))
        assert bar.kind.currentText() == kind
        bar.kind.activated.emit(bar.kind.currentIndex())
    if value is not None and bar.value.currentText() != value:
        with qtbot.waitSignal(bar.compared, timeout=30_000):
            bar.value.setCurrentIndex(bar.value.findText(value))
            bar.value.activated.emit(bar.value.currentIndex())
    return bar


@pytest.mark.parametrize("kind", ["Player", "Tempo", "How much bow", "Dotted pairs"])
def test_a_second_plan_is_held_against_the_first(qtbot, violin, kind):
    """Differing notes are marked in both paths and counted, as the core counts them."""
    bar = compare_with(qtbot, violin, kind)
    rows = violin.screen_of("bowing").view.rows
    found = compare(rows[0].plan, rows[1].plan)
    assert found.differences
    assert rows[0].marked == rows[1].marked == found.notes
    assert bar.said.text()[:-1].lower() == found.words.lower()
    item = violin.screen_of("bowing").view.items_by_system[0]
    assert item.strip_of(1).top() > item.strip_of(0).bottom()
    assert bar.tempo.isVisible() == (kind == "Tempo")
    qtbot.keyClick(violin.screen_of("bowing"), Qt.Key.Key_Escape)
    assert not violin.screen_of("bowing").comparing
    assert len(violin.screen_of("bowing").view.rows) == 1


def test_differences_are_walked_and_the_other_plan_is_taken(qtbot, violin):
    bar = compare_with(qtbot, violin, "Player", "Starter")
    places = bar.result.places
    qtbot.keyClick(violin, Qt.Key.Key_F8)
    assert violin.screen_of("bowing").selected == places[0]
    qtbot.keyClick(violin, Qt.Key.Key_F8, SHIFT)
    assert violin.screen_of("bowing").selected == places[-1]
    bar.take.click()
    wait_planned(qtbot, violin)
    assert violin.session.plan.choices.player.name == "starter"
    violin.session.undo_stack.undo()
    wait_planned(qtbot, violin)
    assert violin.session.plan.choices.player.name == "growing"


def test_the_comparison_follows_the_first_plan(qtbot, violin):
    bar = compare_with(qtbot, violin, "Player", "Starter")
    violin.screen_of("bowing").select(1)
    with qtbot.waitSignal(bar.compared, timeout=30_000):
        press(qtbot, violin, Qt.Key.Key_U)
    assert bar.result.rows[0].plan is violin.session.plan
    assert bar.result.rows[1].plan.choices.pins == violin.session.plan.choices.pins


def test_variants_are_kept_saved_compared_and_forgotten(
    qtbot, violin, tmp_path, monkeypatch, opened
):
    press(qtbot, violin, Qt.Key.Key_Right)
    press(qtbot, violin, Qt.Key.Key_U)
    violin.variants.keep("Begin up")
    violin.session.let_go_all()
    wait_planned(qtbot, violin)
    target = tmp_path / "ferry.plectrum"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(target), ""))
    press(qtbot, violin, Qt.Key.Key_S, CONTROL)
    opened(demo_paths()[1])
    window = opened(target)
    assert list(window.session.document.variants) == ["Begin up"]
    bar = compare_with(qtbot, window, "Variant")
    assert bar.result.places
    window.screen_of("bowing").stop_comparing()
    window.variants.take("Begin up")
    wait_planned(qtbot, window)
    assert window.session.plan.notes[1].direction is Direction.UP
    window.variants.forget("Begin up")
    wait_planned(qtbot, window)
    assert not window.session.document.variants
    window.session.undo_stack.undo()
    wait_planned(qtbot, window)
    assert list(window.session.document.variants) == ["Begin up"]


# mending, dragging, lanes, several notes


def test_a_thing_to_look_at_mends_itself_on_one_press(qtbot, opened, tmp_path):
    path = tmp_path / "long.musicxml"
    path.write_bytes(tune_xml("A4 B4 C5 D5|A4*4( B4*4 C5*4 D5*4)|", "4/4", bpm=42))
    window = opened(path)
    things = window.screen_of("bowing").things
    before = len(things.warnings)
    assert before
    code = things.warnings[0].code
    qtbot.keyClick(things.list, Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: not window.screen_of("bowing").remedies.mending, timeout=30_000)
    wait_planned(qtbot, window)
    assert code not in {w.code for w in warnings_of(window.session.plan)}
    assert "split" in window.session.undo_stack.undoText()
    window.session.undo_stack.undo()
    wait_planned(qtbot, window)
    assert len(things.warnings) == before


def test_what_an_alternative_costs_is_weighed_where_bars_are_alike(qtbot, opened, tmp_path):
    """Until then the number says that it is not sure; then it is what taking it costs."""
    path = tmp_path / "alike.musicxml"
    path.write_bytes(tune_xml("A4*2 B4 C5|" * 7 + "A4*4|"))
    screen = opened(path).screen_of("bowing")
    screen.select(12)
    said = [b.accessibleName() for b in screen.panel.buttons if b.isEnabled()]
    assert said
    assert all("costs about" in words for words in said)
    qtbot.waitUntil(lambda: not screen.weigher.busy, timeout=30_000)
    unit = screen.session.plan.unit_of(12)
    known = {(a.direction, a.join): a for a in screen.session.plan.alternatives(unit)}
    for button in screen.panel.buttons:
        assert "about" not in button.accessibleName()
        alternative = button.alternative
        assert alternative == known[alternative.direction, alternative.join]


def test_a_remedy_is_named_once_it_has_been_tried(qtbot, opened, tmp_path):
    path = tmp_path / "long.musicxml"
    path.write_bytes(tune_xml("A4 B4 C5 D5|A4*4( B4*4 C5*4 D5*4)|", "4/4", bpm=42))
    screen = opened(path).screen_of("bowing")
    line = screen.things.list.topLevelItem(0).text(0)
    assert "Split" not in line
    screen.remedies._soon.setInterval(0)
    screen.remedies.stop()
    screen.remedies.look(screen.session.plan, screen.things.warnings)
    qtbot.waitUntil(lambda: not screen.remedies.busy, timeout=30_000)
    assert screen.things.list.topLevelItem(0).text(0).startswith(line)
    assert "Split the slur" in screen.things.list.topLevelItem(0).text(0)


def test_what_cannot_be_mended_says_so(qtbot, opened, tmp_path):
    path = tmp_path / "low.musicxml"
    path.write_bytes(tune_xml("G2 A4 B4 C5|"))
    window = opened(path)
    window.screen_of("bowing").remedies.mend(window.screen_of("bowing").things.warnings[0])
    qtbot.waitUntil(lambda: not window.screen_of("bowing").remedies.mending, timeout=30_000)
    assert "No single change mends this" in window.statusBar().currentMessage()
    assert not window.session.unsaved


def drag(qtbot, view, start: QPoint, end: QPoint) -> None:
    qtbot.mousePress(view.viewport(), Qt.MouseButton.LeftButton, pos=start)
    for share in (0.3, 0.6, 1.0):
        qtbot.mouseMove(view.viewport(), start + (end - start) * share)
        qtbot.wait(30)


def end_of_unit(view, unit: int, at_start: bool) -> tuple[QPoint, float]:
    """Where the end of a unit's stroke is in the viewport, and pixels of the viewport a cell."""
    for item in view.items_by_system:
        for found, start, at in view.ends_on(item):
            if (found, start) == (unit, at_start):
                scene = item.mapToScene(at.x() + item.margin, at.y())
                return view.mapFromScene(scene), item.strip.height() / 48 * view.factor
    raise AssertionError("that end is not in sight")


def test_the_end_of_a_stroke_is_dragged_and_the_rest_follows_live(qtbot, violin):
    view, session = violin.screen_of("bowing").view, violin.session
    step = session.plan.steps[5]
    at, per_cell = end_of_unit(view, 5, at_start=False)
    drag(qtbot, view, at, at + QPoint(0, round(6 * per_cell)))
    qtbot.waitUntil(lambda: session.trial is not None, timeout=30_000)
    assert session.plan.steps[5] == step  # nothing is taken yet, but shown
    assert view.rows[0].plan is session.trial.plan
    assert violin.screen_of("bowing").trial_banner.isHidden()
    qtbot.mouseRelease(view.viewport(), Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: session.trial is None, timeout=30_000)
    wait_planned(qtbot, violin)
    assert abs(session.plan.steps[5].end - (step.end - 6)) <= 1
    assert session.undo_stack.undoText() == "drag the bow"
    session.undo_stack.undo()
    wait_planned(qtbot, violin)
    assert session.plan.steps[5] == step


def test_esc_ends_a_drag_without_taking_it(qtbot, violin):
    view, session = violin.screen_of("bowing").view, violin.session
    before = session.document
    at, per_cell = end_of_unit(view, 5, at_start=True)
    drag(qtbot, view, at, at + QPoint(0, round(5 * per_cell)))
    qtbot.waitUntil(lambda: session.trial is not None, timeout=30_000)
    qtbot.keyClick(violin.screen_of("bowing"), Qt.Key.Key_Escape)
    qtbot.mouseRelease(view.viewport(), Qt.MouseButton.LeftButton)
    wait_planned(qtbot, violin)
    assert session.document is before
    assert session.trial is None


def test_lanes_and_strings_are_pinned_by_keys(qtbot, violin):
    violin.screen_of("bowing").select(5)
    press(qtbot, violin, Qt.Key.Key_2)
    plan = violin.session.plan
    assert plan.contact.lane[plan.contact_rows[5]] == 2
    assert "lane 2" in violin.screen_of("bowing").panel.pins.text()
    grip = plan.fingered[5].grip
    press(qtbot, violin, Qt.Key.Key_G)
    assert violin.session.plan.fingered[5].grip != grip
    press(qtbot, violin, Qt.Key.Key_P)
    assert violin.session.plan.choices.pins == {}


def test_several_notes_are_slurred_split_and_let_go_at_once(qtbot, violin):
    screen, session = violin.screen_of("bowing"), violin.session
    screen.select(1)
    for _ in range(2):
        press(qtbot, violin, Qt.Key.Key_Right, SHIFT)
    press(qtbot, violin, Qt.Key.Key_S)
    assert [session.plan.notes[k].join for k in (2, 3)] == [Join.SLUR] * 2
    plan = session.plan
    assert plan.stroke_of(plan.notes[1]) == plan.stroke_of(plan.notes[3])
    press(qtbot, violin, Qt.Key.Key_X)
    assert [session.plan.notes[k].join for k in (2, 3)] == [Join.TURN] * 2
    press(qtbot, violin, Qt.Key.Key_H)
    assert [session.plan.notes[k].join for k in (2, 3)] == [Join.HOOK] * 2
    here = {n.id for n in session.plan.part.notes[1:4]}
    alike = [p.join for i, p in session.plan.choices.pins.items() if i not in here]
    assert alike == [Join.HOOK] * 4  # bars 5 and 13, which are as bar 1
    press(qtbot, violin, Qt.Key.Key_P)  # lets go here alone: an exception
    assert not here & set(session.plan.choices.pins)
    assert len(session.plan.choices.pins) == 4
    lengths = [session.plan.notes[k].length_mm for k in (1, 2, 3)]
    press(qtbot, violin, Qt.Key.Key_Minus)
    assert all(
        session.plan.notes[k].length_mm < length
        for k, length in zip((1, 2, 3), lengths, strict=True)
    )
    assert session.undo_stack.undoText() == "length of bow"
    session.undo_stack.undo()
    wait_planned(qtbot, violin)
    assert [session.plan.notes[k].length_mm for k in (1, 2, 3)] == lengths


def test_the_force_window_shows_the_note_inside_its_wedge(qtbot, violin):
    force = violin.screen_of("bowing").panel.force
    force.resize(260, 168)
    for index in (1, 9, 40):
        violin.screen_of("bowing").select(index)
        plan = violin.session.plan
        row = plan.contact_rows[index]
        frame, point = force._frame(), force.point()
        weight = (frame.bottom() - point.y()) / frame.height() * force._top_n()
        assert weight == pytest.approx(plan.contact.weight_n[row])
        assert plan.contact.weight_min_n[row] < weight < plan.contact.weight_max_n[row]
        assert f"{plan.contact.weight_n[row]:.2f}" in force.accessibleDescription()


def test_a_fault_is_found_and_its_remedy_taken(qtbot, violin):
    screen = violin.screen_of("bowing")
    screen.select(5)
    finder = screen.panel.faults
    finder.symptom.setCurrentIndex(finder.symptom.findData(Symptom.WEAK))
    assert finder.causes
    lane = next(c.lane for c in finder.causes if c.lane is not None)
    button = next(b for b in finder.buttons if "lane" in b.text())
    button.click()
    wait_planned(qtbot, violin)
    plan = violin.session.plan
    assert plan.contact.lane[plan.contact_rows[5]] == lane
    finder.symptom.setCurrentIndex(finder.symptom.findData(Symptom.CHOKED))
    assert len(finder.causes) == 3


def test_the_playhead_runs_loops_and_stops(qtbot, violin):
    screen = violin.screen_of("bowing")
    screen.select(0)
    press(qtbot, violin, Qt.Key.Key_Space)
    qtbot.waitUntil(lambda: any(i.playhead_x for i in screen.view.items_by_system), timeout=30_000)
    press(qtbot, violin, Qt.Key.Key_Space)
    assert not screen.playhead.running
    assert all(i.playhead_x is None for i in screen.view.items_by_system)
    press(qtbot, violin, Qt.Key.Key_Right, SHIFT)
    with qtbot.waitSignal(screen.playhead.note_reached, timeout=30_000):
        press(qtbot, violin, Qt.Key.Key_L)
    qtbot.keyClick(screen, Qt.Key.Key_Escape)
    assert not screen.playhead.running


# the player


def test_a_player_is_made_kept_and_chosen_again(qtbot, violin):
    qtbot.keyClick(violin, Qt.Key.Key_2, CONTROL)
    screen, session = violin.screen_of("player"), violin.session
    before = session.plan
    screen.limits.spins["slowest_mm_s"].setValue(12)
    wait_planned(qtbot, violin)
    assert session.document.choices.player.slowest_mm_s == 120
    assert session.document.choices.player.title == "Growing, changed"
    screen.abilities.checks["can_hook"].click()
    screen.abilities.numbered["lanes", 4].click()
    wait_planned(qtbot, violin)
    assert session.document.choices.player.lanes == (2, 3)
    assert not session.document.choices.player.can_hook
    assert all(p.join is not Join.HOOK for p in session.plan.notes)
    found = compare(before, session.plan)
    assert found.differences
    screen.keep_as("Mika")
    wait_planned(qtbot, violin)
    assert "Mika" in [violin.header.player.itemText(k) for k in range(violin.header.player.count())]
    header = violin.header.player
    header.activated.emit(header.findText("Steady"))
    wait_planned(qtbot, violin)
    header.activated.emit(header.findText("Mika"))
    wait_planned(qtbot, violin)
    assert session.document.choices.player.lanes == (2, 3)
    screen.forget.click()
    assert screen.desk.named_players() == []
    assert session.document.choices.player.title == "Mika"


def test_tapes_balance_and_ends_move_by_mouse_and_by_keys(qtbot, violin):
    qtbot.keyClick(violin, Qt.Key.Key_2, CONTROL)
    bow, session = violin.screen_of("player").bow, violin.session
    start = bow.place_of("tape 1").toPoint()
    target = bow.place_of("to").toPoint()
    qtbot.mousePress(bow, Qt.MouseButton.LeftButton, pos=start)
    qtbot.mouseMove(bow, QPoint((start.x() + target.x()) // 2, start.y()))
    qtbot.mouseRelease(bow, Qt.MouseButton.LeftButton)
    wait_planned(qtbot, violin)
    middle = session.document.choices.bow.marks[1]
    assert 0.6 < middle.at < 0.85
    assert session.plan.choices.bow.marks[1] == middle
    bow.setFocus()
    bow.chosen = "from"
    qtbot.keyClick(bow, Qt.Key.Key_Right, SHIFT)
    wait_planned(qtbot, violin)
    assert session.document.choices.player.usable_from == pytest.approx(0.0916, abs=0.001)
    qtbot.keyClick(bow, Qt.Key.Key_Down)
    assert bow.chosen != "from"
    violin.screen_of("player").add_tape.click()
    wait_planned(qtbot, violin)
    assert len(session.document.choices.bow.marks) == 4
    violin.screen_of("player").remove_tape.click()
    wait_planned(qtbot, violin)
    assert len(session.document.choices.bow.marks) == 3
    size = violin.screen_of("player").bow_size
    size.setCurrentIndex(size.findData("1/2"))
    size.activated.emit(size.currentIndex())
    wait_planned(qtbot, violin)
    assert session.document.choices.bow.hair_mm == 530


def test_nonsense_limits_are_refused_with_the_reason(qtbot, violin):
    qtbot.keyClick(violin, Qt.Key.Key_2, CONTROL)
    screen, session = violin.screen_of("player"), violin.session
    before = session.document.choices.player
    screen.limits.spins["slowest_mm_s"].setValue(90)
    assert session.document.choices.player == before
    assert "must hold" in violin.statusBar().currentMessage()
    assert screen.limits.spins["slowest_mm_s"].value() == pytest.approx(6.5)


def test_a_change_is_shown_on_the_miniature_and_in_words(qtbot, violin):
    qtbot.keyClick(violin, Qt.Key.Key_2, CONTROL)
    screen, session = violin.screen_of("player"), violin.session
    combo = screen.schools["amount"]
    combo.setCurrentIndex(1)
    combo.activated.emit(1)
    wait_planned(qtbot, violin)
    assert session.plan.choices.school.amount is AmountSchool.VALUES
    assert screen.change.text()[0].isdigit()
    assert "notes differ" in screen.change.text()
    assert screen.miniature._before is not None
    assert screen.miniature._plan is session.plan


# the shell


def test_the_palette_finds_commands_by_a_few_letters(qtbot, violin):
    qtbot.keyClick(violin.screen_of("bowing").view, Qt.Key.Key_K, CONTROL)
    palette = violin.palette_dialog
    qtbot.keyClicks(palette.line, "split")
    assert palette.list.item(0).text().startswith("Note › Split the slur here")
    palette.line.clear()
    qtbot.keyClicks(palette.line, "bar 9")
    qtbot.keyClick(palette.line, Qt.Key.Key_Return)
    assert violin.screen_of("bowing").panel.title.text().startswith("Bar 9")
    texts = [c.text for c in commands_of(violin.menuBar())]
    assert len(texts) == len(set(texts))
    assert any("Amount" in t or "How much bow" in t for t in texts)


def test_letters_in_order_find_a_command_and_others_do_not():
    commands = [Command("Note › Up-bow", "U", print), Command("View › Zoom in", "", print)]
    best = max(commands, key=lambda c: score("zin", c.text))
    assert best.text == "View › Zoom in"
    assert score("qqq", "Note › Up-bow") < 0


def test_theme_and_scale_change_everything_and_are_remembered(qtbot, violin):
    view = violin.screen_of("bowing").view
    light = view.grab().toImage().pixelColor(3, 3)
    violin.menus.dark_action.trigger()
    try:
        qtbot.waitUntil(lambda: view.is_laid_out, timeout=30_000)
        dark = view.grab().toImage().pixelColor(3, 3)
        assert (light.name(), dark.name()) == (theme.LIGHT.paper.name(), theme.DARK.paper.name())
        width = violin.screen_of("bowing").panel.width()
        for _ in range(3):
            violin.scale_step(1)
        assert violin.settings.scale == 1.5
        assert violin.screen_of("bowing").panel.width() == pytest.approx(width * 1.5, abs=2)
        wait_engraved(qtbot, violin)
        assert violin.settings.dark
    finally:
        violin.menus.dark_action.setChecked(False)
        violin.scale_step(0)


def cut_off(window) -> list[str]:
    """Words on the screen that are shown that have less room than they need."""
    from PySide6.QtWidgets import QCheckBox, QLabel, QPushButton, QToolButton

    found = []
    for kind in (QLabel, QPushButton, QToolButton, QCheckBox):
        for widget in window.findChildren(kind):
            if not widget.isVisible() or not widget.text():
                continue
            if isinstance(widget, QLabel) and widget.wordWrap():
                needed = widget.heightForWidth(widget.width()) - theme.px(3)
                fits = widget.height() >= needed
            else:
                fits = widget.width() >= widget.minimumSizeHint().width() - 1
            if not fits:
                found.append(widget.text()[:40])
    return found


@pytest.mark.parametrize("size", [(1280, 800), (1920, 1080)])
@pytest.mark.parametrize("scale", [1.0, 1.5])
def test_no_text_is_cut_off(qtbot, violin, size, scale):
    """Words have the room they need on every screen, once it has come to rest."""
    violin.resize(*size)
    violin.settings.scale = scale
    violin.refresh_look()
    try:
        assert (violin.width(), violin.height()) == size
        for screen in range(7):
            violin.show_screen(screen)
            qtbot.wait(400)
            with contextlib.suppress(qtbot.TimeoutError):
                qtbot.waitUntil(lambda: not cut_off(violin), timeout=30_000)
            assert cut_off(violin) == []
            assert (violin.width(), violin.height()) == size
    finally:
        violin.settings.scale = 1.0
        violin.refresh_look()


def test_every_control_has_a_name_for_a_screen_reader(qtbot, violin):
    from PySide6.QtWidgets import (
        QAbstractButton,
        QAbstractSpinBox,
        QComboBox,
        QLineEdit,
        QListWidget,
    )

    violin.screen_of("bowing").start_comparing()
    nameless = []
    for screen in range(7):
        violin.show_screen(screen)
        qtbot.wait(50)
        for kind in (QComboBox, QAbstractSpinBox, QListWidget, QLineEdit, QAbstractButton):
            for widget in violin.findChildren(kind):
                said = widget.accessibleName() or (
                    widget.text() if isinstance(widget, QAbstractButton) else ""
                )
                inner = widget.parent().__class__.__name__ in ("QDoubleSpinBox", "QSpinBox")
                if widget.isVisible() and not said and not inner:
                    nameless.append(f"{screen}: {widget!r}")
    assert nameless == []


def test_path_and_staff_have_a_text_form(qtbot, violin):
    violin.screen_of("bowing").select(1)
    press(qtbot, violin, Qt.Key.Key_Right, SHIFT)
    said = violin.screen_of("bowing").view.accessibleDescription()
    assert said.startswith("bar 1, beat 1, D: Down-bow from")
    assert "bar 1, beat 2.5, E: Up-bow" in said
    qtbot.keyClick(violin, Qt.Key.Key_1, CONTROL)
    qtbot.waitUntil(lambda: bool(violin.screen_of("piece").typing.written), timeout=30_000)
    qtbot.keyClick(violin.screen_of("piece").view, Qt.Key.Key_Right)
    assert violin.screen_of("piece").view.accessibleDescription() == "after A"
    qtbot.keyClick(violin.screen_of("piece").view, Qt.Key.Key_Right, SHIFT)
    assert violin.screen_of("piece").view.accessibleDescription() == "selected: D"


# the safety net


def test_a_file_changed_on_disk_is_noticed_and_loaded_anew(qtbot, opened, tmp_path):
    path = tmp_path / "tune.musicxml"
    path.write_bytes(tune_xml("A4 B4 C5 D5|"))
    window = opened(path)
    assert window.saving.banner.isHidden()
    path.write_bytes(tune_xml("E4 F4 G4 A4|"))
    qtbot.waitUntil(lambda: not window.saving.banner.isHidden(), timeout=30_000)
    assert "tune.musicxml was changed" in window.saving.banner.text.text()
    with qtbot.waitSignal(window.session.opened, timeout=30_000):
        window.saving.banner.take.click()
    assert window.session.plan.part.notes[0].pitches[0].name == "E4"
    assert window.saving.banner.isHidden()
    temporary = tmp_path / "other"
    temporary.write_bytes(tune_xml("G4 F4 E4 D4|"))
    os.replace(temporary, path)  # as programs do that write safely
    qtbot.waitUntil(lambda: not window.saving.banner.isHidden(), timeout=30_000)
    window.saving.banner.leave.click()
    assert window.session.plan.part.notes[0].pitches[0].name == "E4"


def test_its_own_saving_is_not_taken_for_another_program(qtbot, violin, tmp_path, monkeypatch):
    target = tmp_path / "own.plectrum"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(target), ""))
    assert violin.saving.save_as()
    press(qtbot, violin, Qt.Key.Key_U)
    assert violin.saving.save()
    qtbot.wait(700)
    assert violin.saving.banner.isHidden()


def test_from_start_to_exported_musicxml_by_keyboard_alone(qtbot, window, tmp_path, monkeypatch):
    """Type, look, turn a bow, mend nothing, export: the mouse is never touched."""
    out = tmp_path / "typed.musicxml"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(out), ""))
    with qtbot.waitSignal(window.session.opened, timeout=30_000):
        qtbot.keyClick(QApplication.focusWidget(), Qt.Key.Key_N, CONTROL)
    wait_planned(qtbot, window)
    assert QApplication.focusWidget() is window.screen_of("piece").view
    type_keys(qtbot, window, SIXTEEN_BARS)
    qtbot.keyClick(QApplication.focusWidget(), Qt.Key.Key_3, CONTROL)
    wait_engraved(qtbot, window)
    assert QApplication.focusWidget() is window.screen_of("bowing").view
    qtbot.keyClick(QApplication.focusWidget(), Qt.Key.Key_Right, CONTROL)
    qtbot.keyClick(QApplication.focusWidget(), Qt.Key.Key_U)
    wait_planned(qtbot, window)
    qtbot.keyClick(QApplication.focusWidget(), Qt.Key.Key_E, CONTROL)
    qtbot.keyClick(window.exporter.marking_dialog, Qt.Key.Key_Return)
    part = read_part(open_score(out.read_bytes(), "x"), "P1")
    assert part.notes[window.screen_of("bowing").selected].mark is Direction.UP
    assert len(part.notes) == len(window.session.plan.notes)


def test_an_edit_of_the_notes_keeps_pins_and_undo_brings_all_back(qtbot, violin):
    violin.screen_of("bowing").select(5)
    press(qtbot, violin, Qt.Key.Key_U)
    pins = violin.session.document.choices.pins
    qtbot.keyClick(violin, Qt.Key.Key_1, CONTROL)
    qtbot.waitUntil(lambda: bool(violin.screen_of("piece").typing.written), timeout=30_000)
    before = violin.session.document
    type_keys(qtbot, violin, "4a")
    after = violin.session.document
    assert len(after.part.notes) == len(before.part.notes) + 1
    assert after.choices.pins == pins
    qtbot.keyClick(violin.screen_of("piece").view, Qt.Key.Key_Z, CONTROL)
    wait_planned(qtbot, violin)
    assert violin.session.document is before
    assert replace(violin.session.plan.choices, pins={}) == replace(before.choices, pins={})


def test_a_plan_of_an_earlier_planner_is_shown_as_kept_until_todays_is_taken(
    qtbot, tmp_path, opened
):
    from tests.core.files.test_kept_plan import flowing, kept_by_another

    document = open_document_path(demo_paths()[0])
    kept = kept_by_another(document, flowing(document))
    path = tmp_path / "kept.plectrum"
    path.write_bytes(document_bytes(kept))
    window = opened(path)
    qtbot.waitUntil(lambda: any("go otherwise today" in t for t in window.notices.texts))
    shown = [(n.direction, n.join) for n in window.session.plan.notes]
    assert shown == [(n.direction, n.join) for n in plan_of(kept).notes]
    window.notices.shown["kept"].button.click()
    bar = window.screen_of("bowing").compare_bar
    qtbot.waitUntil(lambda: bar.result is not None and bool(bar.result.places))
    bar.take.click()
    wait_planned(qtbot, window)
    today = [(n.direction, n.join) for n in window.session.plan.notes]
    assert today == [(n.direction, n.join) for n in plan_of(document).notes] != shown
    assert not window.notices.texts
