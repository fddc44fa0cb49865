"""A teacher types a tune with a method book on the stand: keys alone, then corrections."""

from __future__ import annotations

from fractions import Fraction

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication

from plectrum.core.score.model import Articulation
from plectrum.core.score.scorefile import read_part
from plectrum.ui.editing.session import Session
from plectrum.ui.piece.typing import nearest_pitch
from tests.ui.conftest import wait_planned

# Sixteen bars in D, composed for this test: a letter a note, a figure where the length changes.
SIXTEEN_BARS = (
    "ddaa|bb2a|ggff|ee2d|aagg|ff2e|aagg|ff2e|8defg4aa|bagf4ee|4dfgb|2ae|4ddaa|bb2a|ggff|ee2d"
).replace("|", "")
CONTROL = Qt.KeyboardModifier.ControlModifier
SHIFT = Qt.KeyboardModifier.ShiftModifier
ALT = Qt.KeyboardModifier.AltModifier


@pytest.fixture
def blank(qtbot, window):
    """An empty tune on the Piece screen."""
    with qtbot.waitSignal(window.session.opened, timeout=30_000):
        qtbot.keyClick(window, Qt.Key.Key_N, CONTROL)
    wait_planned(qtbot, window)
    return window


def settle(qtbot, window) -> None:
    qtbot.waitUntil(
        lambda: not window.screen_of("piece").typing.busy and not window.session.planning,
        timeout=30_000,
    )


def type_keys(qtbot, window, text: str) -> int:
    """Type on the staff; returns how many keys were pressed."""
    for key in text:
        qtbot.keyClicks(window.screen_of("piece").view, key)
    settle(qtbot, window)
    return len(text)


def press(qtbot, window, key, modifier=Qt.KeyboardModifier.NoModifier) -> None:
    qtbot.keyClick(window.screen_of("piece").view, key, modifier)
    settle(qtbot, window)


def names(window) -> str:
    return " ".join(n.pitches[0].name for n in window.session.plan.part.notes)


def test_a_tune_of_sixteen_bars_is_typed_by_keys_alone_and_planned(qtbot, blank):
    """About one key press and a half a note, in the key and near the note before."""
    form = blank.screen_of("piece").head
    form.key.setCurrentIndex(form.key.findData(2))
    form.key.activated.emit(form.key.currentIndex())
    settle(qtbot, blank)
    presses = type_keys(qtbot, blank, SIXTEEN_BARS)
    part = blank.session.plan.part
    assert part.bars_n == 16
    assert all(bar.duration_q == 4 for bar in part.bars)
    assert names(blank).startswith("D5 D5 A4 A4 B4 B4 A4 G4 G4 F#4 F#4 E4 E4 D4")
    assert presses / len(part.notes) <= 1.35
    assert all(p is not None for p in blank.session.plan.notes)
    assert blank.session.plan.notes[0].direction == "down"
    assert blank.isWindowModified()
    press(qtbot, blank, Qt.Key.Key_3, CONTROL)
    assert blank.stack.currentWidget() is blank.screen_of("bowing")


def test_keys_typed_faster_than_edits_wait_their_turn(qtbot, blank):
    for key in "4defgabag":
        qtbot.keyClicks(blank.screen_of("piece").view, key)
    assert blank.screen_of("piece").typing.busy
    settle(qtbot, blank)
    assert names(blank) == "D5 E5 F5 G5 A5 B5 A5 G5"


def test_signs_act_on_the_note_just_typed(qtbot, blank):
    type_keys(qtbot, blank, "4a.8b4c#d'2e")
    notes = blank.session.plan.part.notes
    assert [n.duration_q for n in notes] == [Fraction(3, 2), Fraction(1, 2), 1, 1, 2]
    assert [n.pitches[0].name for n in notes] == ["A4", "B4", "C#5", "D5", "E5"]
    assert notes[3].articulations == {Articulation.STACCATO}
    press(qtbot, blank, Qt.Key.Key_Up)
    assert names(blank).endswith("F5")
    press(qtbot, blank, Qt.Key.Key_Down, CONTROL)
    assert names(blank).endswith("F4")
    press(qtbot, blank, Qt.Key.Key_Backspace)
    assert names(blank) == "A4 B4 C#5 D5"
    press(qtbot, blank, Qt.Key.Key_Z, CONTROL)
    assert names(blank).endswith("D5 F4")


def test_a_selection_is_changed_as_one(qtbot, blank):
    type_keys(qtbot, blank, "4defg")
    for _ in range(3):
        press(qtbot, blank, Qt.Key.Key_Left, SHIFT)
    assert len(blank.screen_of("piece").typing.selected) == 3
    type_keys(qtbot, blank, "s")
    assert [n.slurred for n in blank.session.plan.part.notes] == [False, False, True, True]
    type_keys(qtbot, blank, "<")
    assert [bool(n.in_hairpin) for n in blank.session.plan.part.notes] == [False, True, True, True]
    type_keys(qtbot, blank, "8")
    assert [n.duration_q for n in blank.session.plan.part.notes][1:] == [Fraction(1, 2)] * 3
    press(qtbot, blank, Qt.Key.Key_Delete)
    assert names(blank) == "D5"
    press(qtbot, blank, Qt.Key.Key_Escape)
    assert blank.screen_of("piece").typing.selected == ()


def test_loudness_ties_rests_triplets_repeats_and_chords(qtbot, blank):
    type_keys(qtbot, blank, "4a")
    press(qtbot, blank, Qt.Key.Key_Up, ALT)
    assert blank.session.plan.part.notes[0].dynamic == "f"
    type_keys(qtbot, blank, "a")
    press(qtbot, blank, Qt.Key.Key_Left)
    type_keys(qtbot, blank, "t")
    assert [n.duration_q for n in blank.session.plan.part.notes] == [2]
    press(qtbot, blank, Qt.Key.Key_End)
    type_keys(qtbot, blank, "}")
    assert blank.session.plan.part.bars[0].repeat_end == 2
    press(qtbot, blank, Qt.Key.Key_Z, CONTROL)
    press(qtbot, blank, Qt.Key.Key_Home)
    type_keys(qtbot, blank, "83def34g")
    lengths = [n.duration_q for n in blank.session.plan.part.notes]
    assert lengths[:4] == [Fraction(1, 3)] * 3 + [1]
    qtbot.keyClicks(blank.screen_of("piece").view, "B")
    settle(qtbot, blank)
    chord = blank.session.plan.part.notes[3]
    assert [p.name for p in chord.pitches] == ["G5", "B5"]


def test_what_cannot_be_done_is_said_and_nothing_is_lost(qtbot, blank):
    type_keys(qtbot, blank, "4ab")
    before = blank.session.document
    press(qtbot, blank, Qt.Key.Key_Home)
    press(qtbot, blank, Qt.Key.Key_Right)
    type_keys(qtbot, blank, "t")
    assert "nothing to tie" in blank.statusBar().currentMessage()
    assert blank.session.document is before
    assert blank.error_box is None


def test_the_whole_tune_is_changed_by_its_fields(qtbot, blank):
    type_keys(qtbot, blank, "4abcdefgabc")
    form = blank.screen_of("piece").head
    form.title.setText("Quay Steps")
    form.title.editingFinished.emit()
    settle(qtbot, blank)
    assert blank.windowTitle().startswith("Quay Steps")
    for combo, value in ((form.metre, "3/4"), (form.pickup, "1 beat")):
        combo.setCurrentIndex(combo.findText(value))
        combo.activated.emit(combo.currentIndex())
        settle(qtbot, blank)
        qtbot.waitUntil(lambda: blank.screen_of("piece").overview is not None)
    part = blank.session.plan.part
    assert [n.bar for n in part.notes] == [0, 1, 1, 1, 2, 2, 2, 3, 3, 3]
    form.tempo.setValue(120)
    settle(qtbot, blank)
    assert blank.session.plan.part.tempo.bpm == 120
    sounding = [n.pitches[0].midi for n in blank.session.plan.part.notes]
    form.instrument.setCurrentIndex(form.instrument.findData("cello"))
    form.instrument.activated.emit(form.instrument.currentIndex())
    settle(qtbot, blank)
    moved = blank.session.plan.part
    assert moved.instrument == "cello"
    apart = {b.pitches[0].midi - a for a, b in zip(sounding, moved.notes, strict=True)}
    assert len(apart) == 1
    assert all(f.grip is not None for f in blank.session.plan.fingered)
    blank.session.undo_stack.undo()
    settle(qtbot, blank)
    assert blank.session.plan.choices.instrument == "violin"


def test_the_glance_says_what_the_page_holds(qtbot, violin):
    qtbot.keyClick(violin, Qt.Key.Key_1, CONTROL)
    screen = violin.screen_of("piece")
    qtbot.waitUntil(lambda: screen.overview is not None and screen.view.is_laid_out, timeout=30_000)
    qtbot.waitUntil(lambda: "A4 to A5" in screen.glance.text())  # labels show a step later
    text = screen.glance.text()
    for words in ("A string: open", "softest p, loudest f", "bars 1, 5, 13"):
        assert words in text
    button = screen.glance.buttons[0]
    assert button.text().startswith("1.  Bar 9: hook")
    button.click()
    assert screen.typing.selected[0].bar_index == 10
    bars = [b.index for b in violin.session.plan.part.bars if b.number in (1, 5, 13)]
    alike = screen.view.look.alike
    assert len({alike[b] for b in bars}) == 1


def test_clicking_selects_and_a_letter_changes_the_pitch(qtbot, violin):
    qtbot.keyClick(violin, Qt.Key.Key_1, CONTROL)
    screen = violin.screen_of("piece")
    qtbot.waitUntil(lambda: screen.view.is_laid_out and bool(screen.typing.written), timeout=30_000)
    item = screen.view.items_by_system[0]
    note = violin.session.plan.part.notes[2]
    box = item.box_of(note.id)
    at = screen.view.mapFromScene(item.mapToScene(box.center()))
    qtbot.mouseClick(screen.view.viewport(), Qt.MouseButton.LeftButton, pos=at)
    assert [w.id for w in screen.typing.selected] == [note.id]
    type_keys(qtbot, violin, "g")
    assert violin.session.plan.part.notes[2].pitches[0].step == "G"
    shown = read_part(violin.session.document.score, "P1").notes[2].pitches[0]
    assert shown.step == "G"


def test_pasted_abc_opens(qtbot, window):
    QApplication.clipboard().setText("X:1\nT:Three Gulls\nM:3/4\nL:1/4\nK:D\nA|d2 c|uB2 A|D3|")
    window.opening.paste_abc()
    assert "Three Gulls" in window.opening.abc_dialog.text.toPlainText()
    with qtbot.waitSignal(window.session.opened, timeout=30_000):
        window.opening.abc_dialog._accept()
    assert window.session.document.title == "Three Gulls"
    assert window.isWindowModified()


def test_midi_is_previewed_before_it_opens(qtbot, window, tmp_path):
    from tests.core.score.test_midi import TUNE, midi_bytes

    path = tmp_path / "ferry.mid"
    path.write_bytes(midi_bytes(TUNE, gate=0.8, jitter=0.03))
    window.open_path(path)
    qtbot.waitUntil(lambda: hasattr(window.opening, "midi_dialog"), timeout=30_000)
    dialog = window.opening.midi_dialog
    qtbot.waitUntil(lambda: dialog.view.is_laid_out, timeout=30_000)
    assert "moved by" in dialog.said.text()
    dialog.finest.setCurrentIndex(dialog.finest.findData("quarter"))
    qtbot.waitUntil(lambda: len(read_part(dialog.result_score, "P1").notes) < len(TUNE))
    dialog.finest.setCurrentIndex(dialog.finest.findData("eighth"))
    qtbot.waitUntil(lambda: len(read_part(dialog.result_score, "P1").notes) == len(TUNE))
    with qtbot.waitSignal(window.session.opened, timeout=30_000):
        dialog._accept()
    assert [n.pitches[0].midi for n in window.session.plan.part.notes] == [m for _, m in TUNE]
    path.write_bytes(b"MThd")
    window.session.undo_stack.setClean()
    window.open_path(path)
    qtbot.waitUntil(lambda: window.error_box is not None, timeout=30_000)
    assert "damaged" in window.error_box.text()
    window.error_box.close()


def test_a_letter_goes_to_the_nearest_pitch_in_the_key():
    from plectrum.core.score.model import Pitch

    assert nearest_pitch("C", Pitch("B", 0, 4), 2) == Pitch("C", 1, 5)
    assert nearest_pitch("F", Pitch("C", 0, 5), 0) == Pitch("F", 0, 5)
    assert nearest_pitch("G", Pitch("C", 0, 5), 0) == Pitch("G", 0, 4)


def test_an_edit_of_no_document_does_nothing():
    session = Session()
    session.edit_score(lambda e: e.dot(["n1"]), "dot")
    assert not session.edits.busy


def test_the_short_note_of_a_dotted_pair_comes_by_itself(qtbot, blank):
    type_keys(qtbot, blank, "d.ef.g" + "a.2b")
    values = [(n.pitches[0].step, n.duration_q) for n in blank.session.plan.part.notes]
    assert values[:4] == [("D", 1.5), ("E", 0.5), ("F", 1.5), ("G", 0.5)]
    assert values[4:] == [("A", 1.5), ("B", 2)]  # a figure says otherwise


def test_a_bar_begins_with_the_length_of_the_bar_before(qtbot, blank):
    type_keys(qtbot, blank, "dd2e" + "ff2g" + "8agfe4dd" + "c")
    lengths = [n.duration_q for n in blank.session.plan.part.notes]
    assert lengths == [1, 1, 2, 1, 1, 2, 0.5, 0.5, 0.5, 0.5, 1, 1, 0.5]
    assert blank.screen_of("piece").typing.value.base_q == Fraction(1, 2)
    type_keys(qtbot, blank, "4")
    press(qtbot, blank, Qt.Key.Key_Left)
    type_keys(qtbot, blank, "b")  # among other notes nothing is guessed
    assert blank.screen_of("piece").typing.value.base_q == 1


def test_in_compound_time_dotted_notes_follow_one_another(qtbot, blank):
    form = blank.screen_of("piece").head
    form.metre.setCurrentIndex(form.metre.findText("6/8"))
    form.metre.activated.emit(form.metre.currentIndex())
    settle(qtbot, blank)
    type_keys(qtbot, blank, "4d.e.")
    assert [n.duration_q for n in blank.session.plan.part.notes] == [1.5, 1.5]
