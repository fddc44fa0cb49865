"""Places said by letters: the menu at the selection, equal bars together, one undo."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from plectrum.ui.bowing.place_menu import OF_NOTE
from tests.tunes import tune_xml
from tests.ui.conftest import wait_planned


def say(qtbot, window, first: int, last: int, *keys: Qt.Key) -> None:
    """Select, press W, and a letter or two in the menu that opens."""
    screen = window.screen_of("bowing")
    screen.select(first)
    screen.select(last, extend=True)
    QTest.keyClick(screen.view, Qt.Key.Key_W)
    assert screen.place_menu.isVisible()
    for key in keys:
        assert screen.place_menu.isVisible()
        QTest.keyClick(screen.place_menu, key)
    qtbot.waitUntil(lambda: screen.view.hasFocus(), timeout=10_000)
    wait_planned(qtbot, window)


def at_second_note(opened, folder, music: str):
    """A window with a tune, and its Bowing screen at the second note."""
    path = folder / "tune.musicxml"
    path.write_bytes(tune_xml(music))
    window = opened(path)
    screen = window.screen_of("bowing")
    screen.select(1)
    return window, screen


def inside(window, notes: range, low: float, high: float) -> bool:
    plan = window.session.plan
    planned = [plan.notes[i] for i in notes]
    return all(low - 1e-6 <= min(p.start, p.end) and max(p.start, p.end) <= high + 1e-6
               for p in planned)  # fmt: skip


def test_upper_half_by_two_keys_in_all_bars_like_it(qtbot, violin):
    """Bars 1, 5 and 13 of the demo piece are alike."""
    say(qtbot, violin, 1, 4, Qt.Key.Key_U)
    plan = violin.session.plan
    for bar in (1, 5, 13):
        notes = [n.index for n in plan.part.notes if n.bar == bar]
        assert inside(violin, range(notes[0], notes[-1] + 1), 0.5, 1.0)
    told = {i for i, p in violin.session.document.choices.pins.items() if p.place == "upper-half"}
    assert len(told) == 12
    assert "upper half" in " ".join(violin.session.document.choices.pins[min(told)].words())
    violin.session.undo_stack.undo()
    assert not violin.session.document.choices.pins


def test_only_here_by_one_key_more(qtbot, violin):
    say(qtbot, violin, 1, 4, Qt.Key.Key_O, Qt.Key.Key_L)
    assert inside(violin, range(1, 5), 0.0, 0.5)
    pins = violin.session.document.choices.pins
    assert len(pins) == 4


def test_a_correction_is_meant_wherever_it_is_like_this_or_here_alone(qtbot, violin):
    """By default in all bars that are alike, one step to undo; O turns that, and says so."""
    screen, session = violin.screen_of("bowing"), violin.session
    screen.select(2)
    QTest.keyClick(screen.view, Qt.Key.Key_H)
    wait_planned(qtbot, violin)
    bars = sorted(n.bar for n in session.plan.part.notes if n.id in session.document.choices.pins)
    assert bars == [1, 5, 13]
    assert "bars 5, 13" in violin.statusBar().currentMessage()
    session.undo_stack.undo()
    wait_planned(qtbot, violin)
    assert not session.document.choices.pins
    QTest.keyClick(screen.view, Qt.Key.Key_O)
    assert "this place alone" in violin.statusBar().currentMessage()
    QTest.keyClick(screen.view, Qt.Key.Key_H)
    wait_planned(qtbot, violin)
    assert len(session.document.choices.pins) == 1


def test_three_places_by_three_presses_each(qtbot, violin):
    """Lower half; lift to the frog; upper half."""
    say(qtbot, violin, 1, 4, Qt.Key.Key_L)
    screen = violin.screen_of("bowing")
    screen.select(5)
    QTest.keyClick(screen.view, Qt.Key.Key_R)
    wait_planned(qtbot, violin)
    say(qtbot, violin, 5, 5, Qt.Key.Key_F)
    say(qtbot, violin, 9, 12, Qt.Key.Key_U)
    assert inside(violin, range(1, 5), 0.0, 0.5)
    plan = violin.session.plan
    assert abs(plan.notes[5].start - plan.choices.player.usable_from) <= 1 / 48
    assert inside(violin, range(9, 13), 0.5, 1.0)


def test_the_words_are_in_the_panel_and_on_the_page(qtbot, violin):
    say(qtbot, violin, 1, 4, Qt.Key.Key_U)
    screen = violin.screen_of("bowing")
    screen.select(1)
    wait_planned(qtbot, violin)
    assert "upper half" in screen.panel.why.text()
    violin.show_screen("handout")
    page = violin.screen_of("handout")
    qtbot.waitUntil(lambda: bool(page._handouts), timeout=30_000)
    assert any("upper half" in text for text in page._handouts[0].said.values())


def test_the_menu_says_of_what_a_word_is_said(qtbot, opened, tmp_path):
    """One note of a slur is that note; all of them are the bow."""
    window, screen = at_second_note(opened, tmp_path, "A4( B4 C#5 D5)|A4*4")
    screen.say_place()
    assert screen.place_menu.actions()[0].text() == OF_NOTE
    screen.commands.say_place("half", False)
    wait_planned(qtbot, window)
    assert window.session.plan.notes[1].length_mm == pytest.approx(
        window.session.plan.choices.bow.hair_mm / 2, rel=0.1
    )
    assert "half a bow on this note" in screen.panel.why.text()
    screen.select(0)
    screen.select(3, extend=True)
    screen.say_place()
    assert screen.place_menu.actions()[0].text() != OF_NOTE


def test_a_place_by_the_command_palette(qtbot, violin):
    """A few letters of the word, from any screen."""
    screen = violin.screen_of("bowing")
    screen.select(1)
    screen.select(4, extend=True)
    violin.show_screen("piece")
    violin.open_palette()
    palette = violin.palette_dialog
    qtbot.keyClicks(palette.line, "upper half")
    assert "Upper half" in palette.list.item(0).text()
    qtbot.keyClick(palette.line, Qt.Key.Key_Return)
    wait_planned(qtbot, violin)
    assert violin.settings.screen == "bowing"
    assert inside(violin, range(1, 5), 0.5, 1.0)


def test_a_place_said_of_plucked_notes_is_refused_in_words(qtbot, opened, tmp_path):
    window, screen = at_second_note(opened, tmp_path, "A4! B4! C#5! D5!|A4*4")
    for word in ("upper-half", "frog", "growing", "stay", "tiny"):
        screen.commands.say_place(word, True)
        assert "plucked" in window.statusBar().currentMessage()
    assert not window.session.document.choices.pins
