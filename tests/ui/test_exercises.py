"""Exercises and routines in the window with nothing open: found, shaped, kept, shown, printed, done
by the clock, and found in the log."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta
from pathlib import Path

import icalendar
import pytest
from pypdf import PdfReader
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog

from plectrum.core.errors import PlectrumError
from plectrum.core.instrument.bow import Bow
from plectrum.core.log.records import Lesson, Measure, Measured, Practised, StepDone, Student
from plectrum.core.player.player import stage
from plectrum.core.player.records import NamedPlayer
from plectrum.core.practice.exercises.catalogue import listed
from plectrum.core.practice.exercises.drills import Moves
from plectrum.core.practice.exercises.model import (
    Exercise,
    exercise_bytes,
    exercise_from_bytes,
    shipped,
)
from plectrum.core.practice.exercises.shelf import Shelf, key_of_title
from plectrum.core.score.model import Direction
from plectrum.ui.practice.screen import EXERCISES, ROUTINES, TODAY, WEEK
from tests.ui.conftest import wait_planned

CONTROL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier
KEY = Qt.Key


class Clock:
    def __init__(self) -> None:
        self.now_s = 0.0

    def __call__(self) -> float:
        return self.now_s


@pytest.fixture
def alone(qtbot, window):
    """The Practice screen of a window in which nothing is open."""
    assert window.session.document is None
    qtbot.keyClick(window, KEY.Key_N, CONTROL | SHIFT)
    screen = window.screen_of("practice")
    settle(qtbot, screen, lambda: screen.exercises.preview is not None)
    return screen


@pytest.fixture
def wren(qtbot, window, alone):
    """A named player who is in the log too practises."""
    for name, instrument in (("Wren", "violin"), ("Ash", "violin"), ("Brook", "cello")):
        player = replace(stage("growing"), name=name, title=name)
        window.desk.shelf.save(NamedPlayer(player, Bow.full_size(instrument)))
    window.desk.log.put(Student("Wren", "violin"))
    window.desk.players_changed.emit()
    settle(qtbot, alone)
    alone.exercises.named_wanted.emit("Wren")
    settle(qtbot, alone)
    return alone


def settle(qtbot, screen, done=lambda: True) -> None:
    def all_done() -> bool:
        return not screen.busy and not screen.exercises.busy and done()

    qtbot.waitUntil(all_done, timeout=20_000)


def choose(qtbot, screen, name: str) -> None:
    screen.tabs.setCurrentIndex(EXERCISES)
    assert screen.exercises.list.choose(name)
    settle(qtbot, screen, lambda: screen.exercises.preview.name.removeprefix("own:") == name)


def save_as(monkeypatch, path: Path) -> None:
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(path), ""))


def test_all_are_listed_and_found_by_words_and_by_what_moves(qtbot, alone):
    found = alone.exercises.list
    assert found.list.count() == len(list(listed()))
    QTest.keyClicks(found.search, "upper half")
    titles = [found.list.item(k).text() for k in range(found.list.count())]
    assert "Eighths in the upper half" in titles
    assert len(titles) < 6
    found.search.setText("no such thing")
    assert found.list.count() == 0
    assert found.chosen == ""
    found.search.clear()
    found.kind.setCurrentText("Hand and hold")
    moves = {shipped()[name].moves for name in found.names()}
    assert moves == {Moves.HAND, Moves.GLIDE, Moves.CARE}


def test_every_exercise_says_what_shows_its_music_and_its_caution(qtbot, alone):
    page = alone.exercises
    for name in ("straight-bow", "landings", "bow-hold", "scale", "ricochet-two-one"):
        choose(qtbot, alone, name)
        assert page.what.text()
        assert "Good when" in page.good.text()
        assert " s" in page.facts.text()
        assert ("pain" in page.caution.text()) == (name != "scale")
        assert page.study.isHidden() == (page.preview.made.document is None)


def test_upper_half_two_strings_by_keys_made_shown_printed_done_and_in_the_log(
    qtbot, window, wren, tmp_path, monkeypatch
):
    """With nothing open: built, kept, shown, printed, done by the clock, found in the log."""
    page, form = wren.exercises, wren.exercises.form
    QTest.keyClicks(page.list.search, "straight")
    settle(qtbot, wren, lambda: page.preview.name == "straight-bow")
    QTest.keyClicks(form.strings, "G, D")
    form.part.setCurrentText("upper-half")
    form.play.setFocus()
    for box, value in ((form.play, "3"), (form.look, "2"), (form.times, "5")):
        box.selectAll()
        QTest.keyClicks(box, value)
    settle(qtbot, wren, lambda: page.preview.made.exercise.times == 5)
    played = [s for s in page.preview.made.drill.steps if s.direction is Direction.DOWN]
    assert {s.seconds for s in played} == {3.0}
    assert all(s.start >= 0.5 for s in played)
    assert not page.keep_button.isEnabled()
    QTest.keyClicks(page.name, "Upper half, five times")
    qtbot.keyClick(page.keep_button, KEY.Key_Space)
    settle(qtbot, wren, lambda: page.list.list.item(0).text() == "Upper half, five times")
    settle(qtbot, wren, lambda: page.preview.made.title == "Upper half, five times")

    page.list.list.setFocus()
    qtbot.keyClick(page.list.list, KEY.Key_S)
    qtbot.waitUntil(lambda: window.shown is window.screen_of("show"), timeout=20_000)
    show = window.screen_of("show")
    assert show.exercise.moving.play.made.title == "Upper half, five times"
    qtbot.keyClick(show.exercise.moving.stage, KEY.Key_Space)
    assert show.exercise.moving.transport.playing
    qtbot.keyClick(show.exercise.moving.stage, KEY.Key_Escape)
    assert not show.exercise.moving.transport.playing
    qtbot.keyClick(show.exercise.moving.stage, KEY.Key_Escape)
    assert window.shown is show  # there is no piece to go back to

    qtbot.keyClick(window, KEY.Key_6, CONTROL)
    qtbot.keyClick(window, KEY.Key_5, CONTROL)
    handout = window.screen_of("handout")
    qtbot.waitUntil(lambda: bool(handout.pages), timeout=20_000)
    save_as(monkeypatch, tmp_path / "page.pdf")
    handout.handing_out.save_pdf()
    qtbot.waitUntil((tmp_path / "page.pdf").exists, timeout=20_000)
    words = " ".join(PdfReader(tmp_path / "page.pdf").pages[0].extract_text().split())
    counts = "5 times on G, D: play for 3, look for 2"
    for said in ("Upper half, five times", "For Wren", counts):
        assert said in words

    qtbot.keyClick(window, KEY.Key_6, CONTROL)
    page.list.list.setFocus()
    qtbot.keyClick(page.list.list, KEY.Key_D)
    timer, clock = wren.timer, Clock()
    timer._clock = clock
    assert wren.tabs.currentIndex() == TODAY
    qtbot.waitUntil(lambda: timer.moving.play is not None, timeout=20_000)
    qtbot.keyClick(timer.play, KEY.Key_Space)
    assert timer.running
    assert timer.moving.transport.playing
    for key in (KEY.Key_1, KEY.Key_1, KEY.Key_0, KEY.Key_0, KEY.Key_Backspace):
        qtbot.keyClick(timer.play, key)
    assert timer.counted.text().endswith("2 of 3")
    clock.now_s += 180
    timer._tick()
    qtbot.keyClick(timer.play, KEY.Key_G)
    store = window.desk.log.store
    (done,) = store.all(StepDone)
    assert (done.title, done.mark, done.piece_id) == ("Upper half, five times", "good", None)
    (tried,) = store.all(Measured, measure=Measure.TRIES)
    assert (tried.section, tried.value) == ("Upper half, five times", 66.7)
    (session,) = store.all(Practised)
    assert session.minutes == 2
    qtbot.keyClick(window, KEY.Key_7, CONTROL)
    log = window.screen_of("log")
    shown = [log.lesson.steps.item(k).text() for k in range(log.lesson.steps.count())]
    assert any("Upper half, five times" in text for text in shown)


def test_a_kept_exercise_is_opened_as_a_tune_and_forgotten(qtbot, window, alone, tmp_path):
    page = alone.exercises
    choose(qtbot, alone, "hooked")
    QTest.keyClicks(page.name, "Own hooks")
    page.keep_button.click()
    settle(qtbot, alone, lambda: page.preview.made.title == "Own hooks")
    assert not page.forget_button.isHidden()
    with qtbot.waitSignal(window.session.opened, timeout=20_000):
        page.open_button.click()
    wait_planned(qtbot, window)
    assert window.session.document.title == "Own hooks"
    assert window.session.unsaved
    window.show_screen("practice")
    page.list.choose("own-hooks")
    page.forget()
    assert Shelf(window.desk.exercises_path, Exercise).all() == ([], [])


def test_an_exercise_is_shared_and_taken_as_a_file(qtbot, window, alone, tmp_path, monkeypatch):
    page = alone.exercises
    choose(qtbot, alone, "rocking")
    save_as(monkeypatch, tmp_path / "rocking.json")
    alone.export()
    assert (
        exercise_from_bytes((tmp_path / "rocking.json").read_bytes(), "x") == shipped()["rocking"]
    )
    shared = shipped()["rocking"].model_copy(update={"title": "From a friend"})
    (tmp_path / "friend.json").write_bytes(exercise_bytes(shared))
    monkeypatch.setattr(
        QFileDialog, "getOpenFileName", lambda *_a, **_k: (str(tmp_path / "friend.json"), "")
    )
    page.take_file()
    settle(qtbot, alone, lambda: page.preview.made.title == "From a friend")
    (tmp_path / "friend.json").write_bytes(b"{")
    page.take_file()
    assert "damaged" in page.facts.text()
    for name in ("rocking.musicxml", "rocking.wav"):
        save_as(monkeypatch, tmp_path / name)
        alone.export()
        qtbot.waitUntil((tmp_path / name).exists, timeout=60_000)


def test_a_pattern_has_its_own_fields(qtbot, alone):
    page = alone.exercises
    choose(qtbot, alone, "scale")
    assert not page.form.key.isHidden()
    assert page.form.strings.isHidden()
    page.form.key.setCurrentText("A minor")
    page.form.bow_notes.setValue(4)
    settle(qtbot, alone, lambda: page.preview.made.title == "Scale in A minor")
    bows = [n for n in page.preview.made.document.part.notes if not n.slurred]
    assert len(bows) == 4
    page._to_routine()
    assert alone.routines.routine.items[-1].asked.key == "A minor"
    assert alone.routines.planned[-1].made.title == "Scale in A minor"


def test_what_cannot_be_says_why_and_offers_nothing(qtbot, alone):
    page = alone.exercises
    choose(qtbot, alone, "straight-bow")
    QTest.keyClicks(page.form.strings, "H")
    settle(qtbot, alone, lambda: page.preview is None)
    assert "no string 'H'" in page.facts.text()
    for button in (page.open_button, page.do_button, page.show_button, page.page_button):
        assert not button.isEnabled()
    page.form.strings.clear()
    settle(qtbot, alone, lambda: page.preview is not None)
    assert page.open_button.isEnabled()
    choose(qtbot, alone, "landings")
    assert not page.open_button.isEnabled()
    assert "silence" in page.open_button.toolTip()


def test_a_damaged_file_of_the_teachers_own_is_said_and_left(qtbot, window):
    for folder in (window.desk.exercises_path, window.desk.routines_path):
        folder.mkdir(parents=True)
        (folder / "odd.json").write_bytes(b"{")
    window.choose_exercise()
    screen = window.screen_of("practice")
    settle(qtbot, screen)
    assert screen.exercises.list.list.count() == len(list(listed()))
    for page in (screen.exercises.list, screen.routines):
        assert "Not read" in page.faults.text()
    assert (folder / "odd.json").read_bytes() == b"{"


def test_practice_kept_damaged_is_said_and_begun_anew(qtbot, window):
    (window.desk.exercises_path.parent / "practice.json").write_text('{"format": "other"}')
    with qtbot.waitSignal(window.session.failed):
        window.choose_exercise()
    window.error_box.close()
    screen = window.screen_of("practice")
    settle(qtbot, screen, lambda: screen.exercises.preview is not None)


def test_titles_of_one_key_do_not_overwrite_each_other(tmp_path):
    shelf, row = Shelf(tmp_path / "own", Exercise), shipped()["hooked"]
    titles = ["Медленно", "Быстро", "Two strings", "Two – strings"]
    for title in (*titles, "Быстро"):
        shelf.keep(row.model_copy(update={"title": title}))
    found, _ = shelf.all()
    assert sorted(e.title for e in found) == sorted(titles)
    assert len({e.key for e in found}) == len(titles)
    (tmp_path / "own" / "torn.json").write_text("{")
    shelf.keep(row.model_copy(update={"title": "Torn"}))
    assert (tmp_path / "own" / "torn.json").read_text() == "{"
    (tmp_path / "file").write_text("")
    with pytest.raises(PlectrumError, match="can be kept"):
        Shelf(tmp_path / "file", Exercise).keep(row)
    assert key_of_title("Two strings, slow") == "two-strings-slow"
    assert key_of_title("12!") == "own-12"
    assert key_of_title("…") == "own-exercise"


def test_a_holiday_for_a_class_of_three_on_paper_and_in_the_calendar(
    qtbot, window, wren, tmp_path, monkeypatch
):
    qtbot.keyClick(window, KEY.Key_R, CONTROL | SHIFT)
    page = wren.routines
    assert wren.tabs.currentIndex() == ROUTINES
    page.choose("holiday")
    for action in page.group_menu.actions():
        action.setChecked(True)
    wren.work.hand_out()
    handout = window.screen_of("handout")
    qtbot.waitUntil(lambda: len(handout.pages) == 3, timeout=20_000)
    assert "Ash, Brook, Wren" in handout.sheets_words.text()
    save_as(monkeypatch, tmp_path / "holiday.pdf")
    handout.handing_out.save_pdf()
    qtbot.waitUntil((tmp_path / "holiday.pdf").exists, timeout=20_000)
    for reader, name in zip(PdfReader(tmp_path / "holiday.pdf").pages, ("Ash", "Brook", "Wren"),
                            strict=True):  # fmt: skip
        words = " ".join(reader.extract_text().split())
        assert f"For {name}" in words
        assert words.count("Mo") >= 8
        assert ("Cello" in words) == (name == "Brook")
    window.show_screen("practice")
    save_as(monkeypatch, tmp_path / "holiday.ics")
    wren.save_calendar()
    events = icalendar.Calendar.from_ical((tmp_path / "holiday.ics").read_bytes()).walk("VEVENT")
    assert len(events) == 10
    assert all("Scale" in str(e["description"]) for e in events)


def test_a_routine_is_shaped_kept_put_in_the_week_and_done_by_the_clock(qtbot, window, wren):
    page = wren.routines
    wren.choose_routine("warm-up")
    page.list.setCurrentRow(0)
    for key, modifiers in (
        (KEY.Key_Plus, Qt.KeyboardModifier.NoModifier), (KEY.Key_Down, CONTROL),
        (KEY.Key_Delete, Qt.KeyboardModifier.NoModifier),
    ):  # fmt: skip
        qtbot.keyClick(page.list, key, modifiers)
    titles = [item.exercise for item in page.routine.items]
    assert titles == ["landings", "long-bows", "rocking"]
    QTest.keyClicks(page.title, " of ours")
    page.keep_button.click()
    assert page.routine.key == "warm-up-of-ours"
    assert page.choice.currentText() == "Warm-up of ours"
    page.week_button.click()
    settle(qtbot, wren)
    wren.tabs.setCurrentIndex(WEEK)
    assert all(len(d.entries) == 3 for d in wren.programme.days)
    assert wren.desk.bench.homework.routine
    wren.practise_today()
    timer, clock = wren.timer, Clock()
    timer._clock = clock
    assert [s.title for s in timer.stages] == [p.made.title for p in page.planned]
    for _ in range(3):
        timer.toggle()
        clock.now_s += timer.stage.seconds
        timer._tick()
        qtbot.keyClick(timer.play, KEY.Key_G)
    done = window.desk.log.store.all(StepDone)
    assert [d.key for d in done] == ["drill.landings", "drill.long-bows", "drill.rocking"]
    settle(qtbot, wren)
    page.week_button.click()
    settle(qtbot, wren)
    assert not wren.desk.bench.homework.routine
    page.forget()
    assert page.routine.key == "warm-up"


def test_what_went_well_makes_tomorrow_more_and_pain_stops_it(qtbot, window, wren):
    """Growth comes from the log: ten landings grow by one each day they went well."""
    (student,) = window.desk.log.store.all(Student)
    today = date.today()
    for k in (3, 2, 1):
        on = today - timedelta(days=k)
        window.desk.log.put(StepDone(student.id, on, "drill.landings", "Landings", "good"))
    wren._changed()
    settle(qtbot, wren)
    choose(qtbot, wren, "landings")
    settle(qtbot, wren, lambda: wren.exercises.preview.made.exercise.times == 13)
    window.desk.log.practised(1, pain=True)
    wren._changed()
    settle(qtbot, wren, lambda: wren.exercises.preview.made.exercise.times == 10)
    assert not wren.exercises.isEnabled()
    wren.do_it()
    assert not wren.timer.stages


def test_the_longest_bow_is_measured_inside_the_exercise(qtbot, window, wren):
    choose(qtbot, wren, "longest-bow")
    wren.do_it()
    timer = wren.timer
    qtbot.waitUntil(lambda: timer.moving.play is not None, timeout=20_000)
    assert not timer.bow_end.isHidden()
    play = timer.moving.play
    timer.moving.transport.go_to(play.music_s + 4.25)
    qtbot.keyClick(timer.play, KEY.Key_B)
    timer.moving.transport.go_to(1.0)  # counted in: nothing sounds
    qtbot.keyClick(timer.play, KEY.Key_B)
    assert "longest bow 4.2 s" in timer.counted.text()
    qtbot.keyClick(timer.play, KEY.Key_A)
    (measured,) = window.desk.log.store.all(Measured)
    assert measured.measure == Measure.LONGEST_BOW
    assert (measured.tries, measured.string, measured.direction) == ((4.25,), 0, "down")
    assert measured.section == "Longest bow"
    choose(qtbot, wren, "hooked")
    wren.do_it()
    qtbot.waitUntil(lambda: timer.moving.play is not None, timeout=20_000)
    assert timer.bow_end.isHidden()


def test_who_practises_and_on_what_is_chosen_and_kept(qtbot, window, alone):
    page = alone.exercises
    page.whom.instrument.setCurrentText("cello")
    page.whom.instrument.activated.emit(page.whom.instrument.currentIndex())
    settle(qtbot, alone, lambda: window.desk.bench.choices.instrument == "cello")
    choose(qtbot, alone, "straight-bow")
    settle(qtbot, alone, lambda: "C string" in page.preview.made.drill.steps[0].text)
    item = page.list.list.item(page.list.names().index("arcs"))
    item.setCheckState(Qt.CheckState.Checked)
    settle(qtbot, alone)
    again = type(window.desk.bench)(window.desk.bench._path, window.session)
    assert again.choices.instrument == "cello"
    assert "arcs" in again.homework.drills
    assert [d.name for d in alone.programme.drills] == ["arcs"]


def test_a_stage_on_show_and_handout_says_what_to_do_with_nothing_open(qtbot, window):
    for key, words in (("show", "exercise"), ("handout", "exercise")):
        assert window.show_screen(key)
        screen = window.screen_of(key)
        qtbot.waitUntil(screen.nothing.isVisible, timeout=20_000)
        assert words in screen.nothing.text()
    assert window.show_screen("log")
    assert not window.show_screen("bowing")


def test_the_hold_is_looked_at_step_by_step_and_the_checklist_is_in_the_log(qtbot, window, wren):
    choose(qtbot, wren, "bow-hold")
    wren.do_it()
    timer = wren.timer
    qtbot.waitUntil(lambda: timer.moving.play is not None, timeout=20_000)
    assert timer.moving.scene(5.0).hand is not None
    boxes = [timer._checks.itemAt(k).widget() for k in range(timer._checks.count())]
    assert [b.text() for b in boxes][1:3] == ["thumb bent", "middle finger opposite"]
    for box in boxes[:-1]:
        box.setFocus()
        qtbot.keyClick(box, KEY.Key_Space)
    qtbot.keyClick(timer.play, KEY.Key_G)
    (kept,) = window.desk.log.store.all(Measured)
    assert kept.section == "The bow hold in steps"
    assert kept.value == pytest.approx(500 / 6, abs=0.1)
    assert kept.note == "not yet: little finger bent"
    window.show_screen("log")
    assert "not yet: little finger bent" in window.screen_of("log").lesson.texts["measured"].text()


def test_a_pacing_bow_shows_the_aim_and_each_try_beside_it(qtbot, window, wren):
    window.show_screen("log")
    log = window.screen_of("log")
    log.tabs.setCurrentIndex(1)
    page, clock = log.measure, Clock()
    page._clock = clock
    pacing = page.pacing
    assert pacing.isVisible()
    first_s = pacing.aim_s
    low, high = pacing._part
    page.direction.setCurrentText("down")
    page.press.setFocus()
    qtbot.keyClick(page.press, KEY.Key_Space)
    for share in (0.0, 0.5, 1.0, 1.5):
        clock.now_s = share * first_s
        page._show_time()
        assert pacing.position == pytest.approx(low + (high - low) * min(1.0, share))
    qtbot.keyClick(page.press, KEY.Key_Space)
    assert pacing._tries == (pytest.approx(1.5 * first_s),)
    page.keep.click()
    assert pacing.aim_s == pytest.approx(1.1 * 1.5 * first_s, rel=1e-3)
    page.direction.setCurrentText("up")
    assert pacing.aim_s == pytest.approx(first_s)
    page.measure.setCurrentIndex(1)
    assert not pacing.isVisible()


def test_the_week_without_a_piece_has_its_page(qtbot, window, wren):
    """What is ticked is on one page with boxes for its days, or the routine of the week is."""
    for name in ("arcs", "hooked"):
        wren.work._set_exercise(name, {"times": 3} if name == "hooked" else {})
    settle(qtbot, wren)
    wren.tabs.setCurrentIndex(WEEK)
    sheets = wren.sheets()
    assert [p.made.title for p in sheets.players[0].items] == [
        "Arcs over all strings", "Hooked bows",
    ]  # fmt: skip
    assert sheets.players[0].items[1].made.exercise.times == 3
    assert len(sheets.players[0].days) == 5
    wren.choose_routine("holiday")
    wren.routines.week_button.click()
    settle(qtbot, wren)
    wren.tabs.setCurrentIndex(WEEK)
    window.show_screen("handout")
    handout = window.screen_of("handout")
    qtbot.waitUntil(lambda: bool(handout.pages), timeout=20_000)
    assert handout.sheets.title == "Holiday"


def test_ten_placements_counted_are_the_measure_too(qtbot, window, wren):
    choose(qtbot, wren, "placements")
    wren.do_it()
    timer = wren.timer
    qtbot.waitUntil(lambda: timer.moving.play is not None, timeout=20_000)
    for k in range(11):
        qtbot.keyClick(timer.play, KEY.Key_0 if k in (2, 10) else KEY.Key_1)
    qtbot.keyClick(timer.play, KEY.Key_G)
    kept = {m.measure: m.value for m in window.desk.log.store.all(Measured)}
    assert kept == {Measure.TRIES: pytest.approx(81.8), Measure.PLACEMENTS: 9.0}


def test_pain_said_in_a_lesson_begins_growth_again_too(qtbot, window, wren):
    (student,) = window.desk.log.store.all(Student)
    today = date.today()
    on = today - timedelta(days=2)
    window.desk.log.put(StepDone(student.id, on, "drill.landings", "Landings", "good"))
    assert window.desk.log.practice_days(today) == {"landings": 2}
    window.desk.log.put(Lesson(student.id, today - timedelta(days=1), pain=True))
    assert window.desk.log.practice_days(today) == {"landings": 1}


def test_the_volume_of_the_voice_is_remembered_and_a_pause_is_asked_for(qtbot, window, alone):
    alone.timer.heard.volume.setValue(40)
    assert window.settings.voice == (40, False)
    choose(qtbot, alone, "rocking")
    alone.show_it()
    show = window.screen_of("show")
    qtbot.waitUntil(lambda: show.exercise.moving.play is not None, timeout=20_000)
    assert show.exercise.heard.volume.value() == 40
    show.exercise.heard.volume.setValue(70)
    show.controls.heard.voice.setChecked(True)
    assert window.settings.voice == (70, True)
    show.exercise.moving.transport.played_s = 601.0
    with qtbot.waitSignal(window.desk.message) as said:
        show.exercise.moving.transport.go_to(5.0)
    assert "pause" in said.args[0]
    assert show.exercise.moving.transport.played_s == 0
