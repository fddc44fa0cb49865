"""The Practice screen in a real window: ladders, drills, the week, the clock."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

import icalendar
import pytest
from PySide6.QtCore import QDate, Qt
from PySide6.QtWidgets import QFileDialog

from plectrum.core.advice.care import CAUTION, PAIN_TEXT
from plectrum.core.document.homework import Outcome
from plectrum.core.instrument.bow import Bow
from plectrum.core.player.player import stage
from plectrum.core.player.records import NamedPlayer
from plectrum.core.playing.performance import Kind
from plectrum.core.practice.practice_day import (
    PAUSE_EVERY_S,
    PAUSE_S,
    TimedTask,
    stages_of,
)
from plectrum.core.practice.study_kinds import StudyKind
from plectrum.core.practice.week import TaskKind
from plectrum.core.score.reading.opening import open_path
from plectrum.demo import demo_paths
from plectrum.ui.playback.speaker import Speaker
from plectrum.ui.practice.screen import EXERCISES, LADDER, TODAY, WEEK
from plectrum.ui.practice.timer_page import DONE, HOW, TimerPage

CONTROL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier


def ready(qtbot, window) -> None:
    """Until what is to be practised is there and its study is engraved."""
    screen = window.screen_of("practice")

    def done() -> bool:
        study = screen.ladder.study
        return screen.programme is not None and not screen.busy and study.is_laid_out

    qtbot.waitUntil(done, timeout=30_000)


@pytest.fixture
def practice(qtbot, violin):
    """The violin piece on the Practice screen."""
    qtbot.keyClick(violin, Qt.Key.Key_6, CONTROL)
    ready(qtbot, violin)
    return violin


def test_the_interface_grows_before_the_steps_of_another_piece_are_there(qtbot, practice):
    screen = practice.screen_of("practice")
    assert screen.ladder.tree.topLevelItemCount()
    practice.show_screen("bowing")
    with qtbot.waitSignal(practice.session.opened, timeout=20_000):
        practice.open_path(demo_paths()[1])
    assert not screen.ladder.tree.topLevelItemCount()
    try:
        practice.scale_step(1)
    finally:
        practice.scale_step(0)
    practice.show_screen("practice")
    ready(qtbot, practice)
    assert screen.ladder.chosen is not None


def test_an_exercise_is_done_before_the_week_is_made(qtbot, violin, monkeypatch):
    screen = violin.screen_of("practice")
    monkeypatch.setattr(screen, "_take", lambda made: None)  # as if it took long
    violin.show_screen("practice")
    qtbot.waitUntil(lambda: screen.exercises.preview is not None, timeout=20_000)
    screen.choose_exercise("landings")
    qtbot.waitUntil(lambda: screen.exercises.preview.name == "landings", timeout=20_000)
    screen.do_it()
    qtbot.waitUntil(lambda: screen.timer.moving.play is not None, timeout=20_000)
    assert screen.programme is None


def test_every_step_is_engraved_and_says_what_how_often_and_when_it_is_good(qtbot, practice):
    screen = practice.screen_of("practice")
    ladder = screen.ladder
    for key, step in list(screen.programme.steps.items())[:16]:
        assert ladder.choose(key)
        ready(qtbot, practice)
        assert ladder.title.text().lower() == step.title.lower()
        assert ladder.what.text() == step.what
        assert step.good in ladder.good.text()
        assert f"{step.repetitions} times" in ladder.facts.text()
        assert ladder.note.isHidden() == (not step.note)
        guest = screen._guest
        engraved = set().union(*(i.system.notes for i in ladder.study.view.items_by_system))
        heads = {n.id for n in guest.document.part.notes}
        assert heads <= engraved
        shown = ladder.study.view is ladder.study.path
        assert shown == (step.kind not in (StudyKind.PLUCK, StudyKind.CROSSINGS))


def test_marks_are_set_by_key_undone_and_bring_the_step_back(qtbot, practice):
    screen = practice.screen_of("practice")
    first, second = list(screen.programme.steps)[:2]
    screen.ladder.choose(first)
    qtbot.keyClick(screen.ladder.tree, Qt.Key.Key_G)
    screen.ladder.choose(second)
    qtbot.keyClick(screen.ladder.tree, Qt.Key.Key_A)
    ready(qtbot, practice)
    results = practice.session.document.homework.results
    assert (results[first].mark, results[second].mark) == (Outcome.GOOD, Outcome.AGAIN)
    assert screen.ladder._items[first].text(0).startswith("✓")
    day = screen.programme.days[0]
    assert any(e.again and e.task.key == second for e in day.entries)
    assert all(e.task.key != first or e.kind is TaskKind.REVIEW for e in day.entries)
    assert practice.session.unsaved
    qtbot.keyClick(screen.ladder.tree, Qt.Key.Key_U)
    assert second not in practice.session.document.homework.results
    for _ in range(3):
        practice.session.undo_stack.undo()
    assert not practice.session.document.homework.results


def test_marking_does_not_plan_the_piece_anew(qtbot, practice):
    plan = practice.session.plan
    qtbot.keyClick(practice.screen_of("practice").ladder.tree, Qt.Key.Key_G)
    ready(qtbot, practice)
    assert practice.session.plan is plan


def test_a_step_is_shown_on_the_stage_and_let_go(qtbot, practice):
    """S plays the study on the Show screen, Esc brings the piece back there."""
    screen, show = practice.screen_of("practice"), practice.screen_of("show")
    key = next(k for k, s in screen.programme.steps.items() if s.kind is StudyKind.OPEN)
    screen.ladder.choose(key)
    ready(qtbot, practice)
    show.controls.kind.setCurrentIndex(2)
    qtbot.keyClick(screen.ladder.tree, Qt.Key.Key_S)
    assert practice.stack.currentWidget() is show
    guest = show.guest
    assert "open strings" in guest.title
    qtbot.waitUntil(lambda: show.transport.performance is not None, timeout=30_000)
    performance = show.transport.performance
    assert performance.plan.part.bars_n == guest.plan.part.bars_n
    open_midis = performance.plan.instrument.open_midis
    assert all(midi in open_midis for p in performance.notes for _, midi in p.strings)
    assert performance.rehearsal.loop
    assert show.guest_bar.isVisible()
    qtbot.waitUntil(lambda: show.line.is_laid_out, timeout=30_000)
    qtbot.keyClick(show.stage, Qt.Key.Key_Space)
    assert show.transport.playing
    qtbot.keyClick(show.stage, Qt.Key.Key_Escape)
    assert not show.transport.playing
    qtbot.keyClick(show.stage, Qt.Key.Key_Escape)
    assert show.guest is None
    assert show.controls.setup.kind is Kind.WRITTEN
    qtbot.waitUntil(
        lambda: (
            show.transport.performance is not None
            and show.transport.performance.plan.part is practice.session.plan.part
        ),
        timeout=30_000,
    )


def test_another_plan_takes_a_study_off_the_stage(qtbot, practice):
    practice.screen_of("practice").show_it()
    assert practice.screen_of("show").guest is not None
    practice.header.tempo.setValue(70)
    qtbot.waitUntil(lambda: practice.screen_of("show").guest is None, timeout=30_000)


def test_a_study_is_exported_as_a_score_that_opens_again(qtbot, practice, tmp_path, monkeypatch):
    target = tmp_path / "study.musicxml"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(target), ""))
    qtbot.keyClick(practice.screen_of("practice").ladder.tree, Qt.Key.Key_X)
    score = open_path(target)
    assert "say the rhythm" in score.title
    assert b"<up-bow/>" in score.xml


def test_exercises_are_set_in_the_week_shaped_and_undone(qtbot, practice):
    screen = practice.screen_of("practice")
    screen.tabs.setCurrentIndex(EXERCISES)
    page = screen.exercises
    assert not page.whom.who.isEnabled()  # it is the piece's player
    page.list.choose("placements")
    qtbot.waitUntil(lambda: not page.busy and page.preview is not None, timeout=30_000)
    page.form.times.setValue(5)
    drills = lambda: practice.session.document.homework.drills  # noqa: E731
    qtbot.waitUntil(lambda: drills()["placements"].get("times") == 5, timeout=30_000)
    item = page.list.list.item(page.list.names().index("arcs"))
    item.setCheckState(Qt.CheckState.Checked)
    assert "arcs" in drills()
    practice.session.undo_stack.undo()
    assert "arcs" not in drills()
    ready(qtbot, practice)
    assert {d.name for d in screen.programme.drills} == set(drills())


def test_the_week_is_set_by_minutes_days_and_holidays(qtbot, practice):
    screen = practice.screen_of("practice")
    screen.tabs.setCurrentIndex(WEEK)
    week = screen.week
    week.start.setDate(QDate(2027, 1, 11))  # a Monday
    week.minutes.setValue(20)
    week.days[5].setChecked(True)
    ready(qtbot, practice)
    home = practice.session.document.homework
    assert (home.start, home.minutes_a_day) == (date(2027, 1, 11), 20)
    assert 5 in home.weekdays
    assert all(d.minutes <= 20 for d in screen.programme.days)
    before = screen.programme.days
    week.monday = date(2027, 1, 11)
    week.fill()
    week.table.setCurrentCell(0, 1)
    qtbot.keyClick(week.table, Qt.Key.Key_H)
    ready(qtbot, practice)
    assert date(2027, 1, 12) in practice.session.document.homework.holidays
    assert all(d.on != date(2027, 1, 12) for d in screen.programme.days)
    assert week.table.item(0, 1).text() == "holiday"
    qtbot.keyClick(week.table, Qt.Key.Key_H)
    ready(qtbot, practice)
    assert screen.programme.days == before


def test_no_day_at_all_is_not_taken_and_a_long_day_is_questioned(qtbot, practice):
    screen = practice.screen_of("practice")
    screen.tabs.setCurrentIndex(WEEK)
    week = screen.week
    for box in week.days:
        box.setChecked(False)
    assert practice.session.document.homework.weekdays
    assert any(box.isChecked() for box in week.days)
    assert not week.long.isVisible()
    week.minutes.setValue(60)
    ready(qtbot, practice)
    assert week.long.isVisible()


def test_a_task_of_the_week_opens_and_is_marked_there(qtbot, practice):
    screen = practice.screen_of("practice")
    screen.tabs.setCurrentIndex(WEEK)
    week = screen.week
    column = screen.programme.days[0].on.weekday()
    week.table.setCurrentCell(1, column)
    key = week.chosen_key
    qtbot.keyClick(week.table, Qt.Key.Key_G)
    assert practice.session.document.homework.results[key].mark is Outcome.GOOD
    ready(qtbot, practice)
    week.table.setCurrentCell(0, column)
    qtbot.keyClick(week.table, Qt.Key.Key_Return)
    assert screen.tabs.currentIndex() == EXERCISES
    screen.tabs.setCurrentIndex(WEEK)
    week.table.setCurrentCell(1, column)
    qtbot.keyClick(week.table, Qt.Key.Key_Return)
    assert screen.tabs.currentIndex() == LADDER


def test_weeks_are_turned_as_far_as_there_are_any(qtbot, practice):
    week = practice.screen_of("practice").week
    practice.screen_of("practice").tabs.setCurrentIndex(WEEK)
    assert not week.back.isEnabled()
    seen = 1
    while week.on.isEnabled():
        week.on.click()
        seen += 1
    days = practice.screen_of("practice").programme.days
    first, last = days[0].on, days[-1].on
    monday = first.toordinal() - first.weekday()
    assert seen == (last.toordinal() - monday) // 7 + 1
    week.turn(1)
    assert week.monday <= last


def test_the_calendar_file_holds_the_days(qtbot, practice, tmp_path, monkeypatch):
    target = tmp_path / "practice.ics"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(target), ""))
    practice.screen_of("practice").week.ics.click()
    events = icalendar.Calendar.from_ical(target.read_bytes()).walk("VEVENT")
    assert len(events) == len(practice.screen_of("practice").programme.days)
    assert "Lantern Ferry" in str(events[0]["summary"])


def test_a_class_is_planned_together(qtbot, practice):
    for name, player in (("Wren", "starter"), ("Tarn", "steady")):
        own = replace(stage(player), name=name, title=name)
        practice.desk.shelf.save(NamedPlayer(own, Bow.full_size("violin")))
    practice.show_screen("bowing")
    practice.show_screen("practice")
    ready(qtbot, practice)
    week = practice.screen_of("practice").week
    for action in week.group_menu.actions():
        action.setChecked(True)
    qtbot.waitUntil(
        lambda: practice.screen_of("practice").programme.players == ("Tarn", "Wren"), timeout=30_000
    )
    practice.screen_of("practice").tabs.setCurrentIndex(WEEK)
    assert week.who.text() == "For Tarn, Wren together."


def test_a_piece_opened_afterwards_has_its_own_ladders(qtbot, practice):
    practice.open_path(demo_paths()[1])
    qtbot.waitUntil(lambda: practice.session.document.title == "Slow Water", timeout=30_000)
    ready(qtbot, practice)
    assert practice.screen_of("practice").ladder.chosen.bpm <= 60
    assert "Slow Water" in practice.screen_of("practice")._guest.title


# the clock


class Clock:
    """A clock that goes when it is told."""

    def __init__(self) -> None:
        self.now_s = 0.0

    def __call__(self) -> float:
        return self.now_s


def _stage(title: str, seconds: float, key: str = "k") -> TimedTask:
    return TimedTask(title, "Do it.", "it is good", seconds, key)


@pytest.fixture
def timed(qtbot, themed):
    clock = Clock()
    page = TimerPage(Speaker(), clock)
    qtbot.addWidget(page)
    page.show()
    return page, clock


def test_the_clock_runs_holds_and_asks_how_it_went(timed):
    page, clock = timed
    marks = []
    page.marked_as.connect(lambda key, mark: marks.append((key, mark)))
    page.load((_stage("One", 60, "a"), _stage("Two", 120, "b")))
    page.toggle()
    clock.now_s = 25.0
    page._tick()
    assert page.count.text() == "0:35"
    page.toggle()
    clock.now_s = 500.0
    page._tick()
    assert page.count.text() == "0:35"
    page.toggle()
    clock.now_s = 540.0
    page._tick()
    assert page.call.text() == HOW
    assert not page.running
    page.mark(Outcome.GOOD)
    assert page.title.text() == "Two"
    page.mark(Outcome.AGAIN)
    assert marks == [("a", Outcome.GOOD), ("b", Outcome.AGAIN)]
    assert page.title.text() == DONE


def test_a_pause_goes_by_by_itself(timed):
    page, clock = timed
    page.load((TimedTask("Pause", "Rest.", "loose", 60), _stage("Two", 60)))
    assert not page.good_button.isVisible()
    page.toggle()
    clock.now_s = 61.0
    page._tick()
    assert page.title.text() == "Two"
    assert page.good_button.isVisible()


def test_pain_ends_the_session_and_says_what_to_do(qtbot, timed):
    page, _clock = timed
    page.load((_stage("One", 60), _stage("Two", 60), _stage("Three", 60)))
    page.next()
    page.toggle()
    with qtbot.waitSignal(page.hurt):
        page.pain.click()
    assert page.call.text() == PAIN_TEXT
    assert not page.running
    assert not page.play.isEnabled()
    page.next()
    page.toggle()
    assert page.stage is None


def test_cautions_are_in_sight_wherever_practice_is_timed(qtbot, practice):
    screen = practice.screen_of("practice")
    for index in (LADDER, EXERCISES, WEEK, TODAY):
        screen.tabs.setCurrentIndex(index)
        shown = [w for w in (screen.caution, screen.exercises.caution, screen.timer.caution)
                 if w.isVisible()]  # fmt: skip
        assert any("pain" in w.text() or "adult" in w.text() for w in shown)
    assert screen.timer.stages
    screen.practise_today()
    assert screen.timer.caution.text() == CAUTION


def test_pauses_come_after_ten_minutes_of_playing(qtbot, practice):
    """A pause after every ten minutes at most, a minute long (own defaults)."""
    screen = practice.screen_of("practice")
    screen.tabs.setCurrentIndex(WEEK)
    screen.week.minutes.setValue(60)
    ready(qtbot, practice)
    stages = stages_of(screen.programme.days[0], screen.programme)
    played_s = 0.0
    for item in stages:
        if item.is_pause:
            assert item.seconds == PAUSE_S
            played_s = 0.0
        else:
            played_s += item.seconds
            assert played_s <= PAUSE_EVERY_S
    assert sum(s.is_pause for s in stages) >= 3
    minutes = sum(s.seconds for s in stages if not s.is_pause) / 60
    assert minutes == screen.programme.days[0].minutes


def test_an_exercise_is_called_step_by_step(qtbot, practice):
    screen = practice.screen_of("practice")
    screen.tabs.setCurrentIndex(EXERCISES)
    screen.exercises.list.choose("straight-bow")
    qtbot.waitUntil(lambda: not screen.exercises.busy, timeout=30_000)
    screen.exercises.do_button.click()
    timer = screen.timer
    assert timer.stage.title == "Straight bow with looks"
    qtbot.waitUntil(lambda: timer.moving.play is not None, timeout=30_000)
    play = timer.moving.play
    for at_s, words in ((0.5, "G string: play  ·  2 s"), (3.0, "G string: look  ·  3 s")):
        timer.moving.transport.go_to(play.music_s + at_s)
        assert timer.call.text().startswith(words)
    timer.moving.transport.go_to(play.length_s + play.music_s + 0.5)
    assert timer.call.text().endswith("time 2")
    clock = Clock()
    timer._clock = clock
    timer.play.setFocus()
    qtbot.keyClick(timer.play, Qt.Key.Key_Space)
    assert timer.running
    practice.show_screen("bowing")
    assert not timer.running
    assert not timer.moving.transport.playing


def test_a_step_of_the_piece_moves_while_it_is_practised(qtbot, practice):
    """Today shows the bow of the step that is due, over and over."""
    screen = practice.screen_of("practice")
    screen.practise_today()
    timer = screen.timer
    while timer.stage is not None and timer.stage.made is not None:
        timer.next()
    assert timer.stage is not None
    qtbot.waitUntil(lambda: timer.moving.scene(0.0) is not None, timeout=30_000)
    assert timer.moving.transport.subject.loops
    assert timer.moving.play is None
    assert timer.moving.scene(3.0).cards
