"""The Log screen in a real window: a lesson from beginning to end, measuring, pictures, copies."""

from __future__ import annotations

import json
import shutil
import sqlite3
from dataclasses import replace
from datetime import date, timedelta
from pathlib import Path

import pypdf
import pytest
from PySide6.QtCore import QPointF, QRectF, QSettings, Qt
from PySide6.QtGui import QImage, QPainter
from PySide6.QtPrintSupport import QPrinter
from PySide6.QtWidgets import QFileDialog, QInputDialog

from plectrum.core.advice.care import LONG_DAY_MINUTES, PAIN_TEXT
from plectrum.core.advice.warnings import warnings_of
from plectrum.core.instrument.bow import Bow
from plectrum.core.log.demo import open_demo
from plectrum.core.log.records import (
    FaultSeen,
    Lesson,
    Measure,
    Measured,
    PlanGiven,
    Practised,
    StepDone,
    Student,
)
from plectrum.core.log.store import LogStore
from plectrum.core.log.summaries import Series
from plectrum.core.player.player import stage
from plectrum.core.player.records import NamedPlayer
from plectrum.core.playing.motion import Motion
from plectrum.core.playing.performance import Performance
from plectrum.core.tracking.feedback import score_bars
from plectrum.core.tracking.sensor import BowSample, head_lines, sample_line
from plectrum.core.tracking.simulated import Clumsiness, SimulatedBow
from plectrum.core.wording.dates import day_month_short_year
from plectrum.demo import demo_log, demo_paths
from plectrum.ui.desk.settings import Settings
from plectrum.ui.handout import handing_out as handout_module
from plectrum.ui.log import plot as plot_module
from plectrum.ui.log.charts import CHARTS, Chart
from plectrum.ui.log.pictures_page import EMPTY
from plectrum.ui.log.plot import LineLook, Plot, day_steps, look_of, number_steps
from plectrum.ui.log.screen import LESSON, MEASURE, PICTURES
from plectrum.ui.look import theme
from plectrum.ui.shell.main_window import MainWindow
from tests.ui.conftest import shown_window

SOLID = Qt.PenStyle.SolidLine
CONTROL = Qt.KeyboardModifier.ControlModifier


@pytest.fixture(scope="module")
def demo_of(tmp_path_factory):
    """The folder with the demo's players and log of a day; to be copied."""
    made: dict[date, Path] = {}

    def folder(today: date) -> Path:
        if today not in made:
            made[today] = tmp_path_factory.mktemp("demo")
            store, _ = open_demo(made[today], demo_log(), today)
            store.close()
        return made[today]

    return folder


@pytest.fixture
def demo_window(qtbot, themed, tmp_path: Path, demo_of):
    """A window on the demo's players and log, with Wren shown."""
    shutil.copytree(demo_of(date.today()), tmp_path, dirs_exist_ok=True)
    with shown_window(tmp_path) as made:
        qtbot.keyClick(made, Qt.Key.Key_7, CONTROL)
        show(made, "Wren")
        yield made


def show(window: MainWindow, name: str) -> None:
    log = window.screen_of("log")
    names = [s.name for s in log.students]
    log.who.setCurrentIndex(names.index(name))
    log.who.activated.emit(names.index(name))


def open_for(qtbot, window: MainWindow, name: str) -> None:
    """The violin piece, open for a named player."""
    with qtbot.waitSignal(window.session.opened, timeout=30_000):
        window.open_path(demo_paths()[0])
    named = next(p for p in window.desk.named_players() if p.name == name)
    window.session.change(lambda document: document.for_player(named), "player")
    qtbot.waitUntil(lambda: not window.session.planning, timeout=30_000)


class Clock:
    now_s = 0.0

    def __call__(self) -> float:
        return self.now_s


def test_a_lesson_from_the_sheet_to_next_weeks_handout(qtbot, demo_window, tmp_path, monkeypatch):
    """Open the student, time a longest bow by one key, tick steps, write a note, take the proposed
    limit, see the plan's warnings change, and print next week's handout."""
    window, log = demo_window, demo_window.screen_of("log")
    open_for(qtbot, window, "Wren")
    window.show_screen("log")
    assert log.student.name == "Wren"
    assert "longest bow" in log.lesson.texts["measured"].text()

    log.tabs.setCurrentIndex(MEASURE)
    page, clock = log.measure, Clock()
    page._clock = clock
    page.press.setFocus()
    for seconds in (2.0, 2.1, 1.9, 2.0, 2.05):
        qtbot.keyClick(page.press, Qt.Key.Key_Space)
        clock.now_s += seconds
        qtbot.keyClick(page.press, Qt.Key.Key_Space)
    assert "Median 2, best 2.1" in page.tries.text()
    page.string.setCurrentIndex(0)
    assert page.tries.text() == "No try yet."
    for _ in range(12):  # so many that the older tries do not outweigh them
        qtbot.keyClick(page.press, Qt.Key.Key_Space)
        clock.now_s += 2.0
        qtbot.keyClick(page.press, Qt.Key.Key_Space)
    page.keep.click()
    taken = [m for m in log.store.all(Measured, student_id=log.student.id) if m.on == date.today()]
    assert taken[-1].tries == (2.0,) * 12
    assert (taken[-1].string, taken[-1].direction) == (0, "down")

    log.tabs.setCurrentIndex(LESSON)
    steps = log.lesson.steps
    steps.setFocus()
    qtbot.keyClick(steps, Qt.Key.Key_G)
    qtbot.keyClick(steps, Qt.Key.Key_A)
    qtbot.keyClicks(log.lesson.note, "Good bows today.")
    log.lesson.checks["thumb"].setChecked(True)
    qtbot.keyClick(log.lesson.note, Qt.Key.Key_Return, CONTROL)
    qtbot.waitUntil(lambda: log.lesson.note.toPlainText() == "", timeout=30_000)
    lesson = log.store.all(Lesson, student_id=log.student.id)[-1]
    assert (lesson.on, lesson.note) == (date.today(), "Good bows today.")
    assert lesson.checks["thumb"]
    marks = [
        s.mark for s in log.store.all(StepDone, student_id=log.student.id) if s.on == date.today()
    ]
    assert sorted(marks) == ["again", "good"]

    log.tabs.setCurrentIndex(MEASURE)
    qtbot.waitUntil(lambda: not log.busy, timeout=30_000)
    assert page.proposals
    assert "given on" in page.flagged.text()
    before = window.session.plan.player.slowest_mm_s
    things = len(warnings_of(window.session.plan))
    page.take.click()
    qtbot.waitUntil(
        lambda: window.session.plan.player.slowest_mm_s != before and not window.session.planning,
        timeout=30_000,
    )
    assert window.desk.named_players()
    assert len(warnings_of(window.session.plan)) != things

    printed = tmp_path / "printed.pdf"
    made = handout_module.make_printer

    def to_file(paper):
        printer = made(paper)
        printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
        printer.setOutputFileName(str(printed))
        return printer

    monkeypatch.setattr(handout_module, "make_printer", to_file)
    handing_out = window.screen_of("handout").handing_out
    monkeypatch.setattr(handing_out, "ask_how_to_print", lambda _printer: True)
    log.tabs.setCurrentIndex(LESSON)
    log.lesson.handout.click()
    feeding = window.screen_of("handout").feeding
    qtbot.waitUntil(lambda: printed.exists() and not feeding.busy, timeout=30_000)
    text = " ".join(" ".join(p.extract_text().split()) for p in pypdf.PdfReader(str(printed)).pages)
    assert "Wren" in text
    assert "This week" in text


def test_no_students_page_is_printed_for_another(qtbot, demo_window):
    """Maris is in the lesson, Wren's plan is open: nothing is printed, and it is said why."""
    window, log = demo_window, demo_window.screen_of("log")
    open_for(qtbot, window, "Wren")
    window.show_screen("log")
    show(window, "Maris")
    log.lesson.handout.click()
    assert window.stack.currentWidget() is log
    assert "choose Maris as its player" in window.statusBar().currentMessage()


def inked(plot):
    """The share of a picture that is not paper."""
    image = plot.grab().toImage()
    paper = theme.colours().paper.rgb()
    places = [(x, y) for x in range(0, image.width(), 3) for y in range(0, image.height(), 3)]
    return sum(image.pixel(x, y) != paper for x, y in places) / len(places)


def test_every_picture_has_its_numbers_beside_it(qtbot, demo_window):
    log = demo_window.screen_of("log")
    for name in ("Wren", "Tarn", "Maris"):
        show(demo_window, name)
        log.tabs.setCurrentIndex(PICTURES)
        for number in range(len(CHARTS)):
            log.pictures.choose.setCurrentIndex(number)
            chart = log.pictures.chart
            assert chart.rows
            assert log.pictures.rows.rowCount() == len(chart.rows)
            assert log.pictures.rows.columnCount() == len(chart.head)
            assert not log.pictures.nothing.isVisible()
            assert log.pictures.plot.isVisible()
            assert inked(log.pictures.plot) > 0.02


def test_lines_differ_without_colour(demo_window):
    """Every line has a dash or a point of its own, also where hues are taken away."""
    log = demo_window.screen_of("log")
    log.tabs.setCurrentIndex(PICTURES)
    log.pictures.choose.setCurrentIndex(0)
    assert len(log.pictures.chart.lines) == 8
    looks = {(look_of(k).dash, look_of(k).corners) for k in range(8)}
    assert len(looks) == 8
    shapes = set()
    for corners in {corners for _, corners in looks}:
        image = QImage(40, 40, QImage.Format.Format_Grayscale8)
        image.fill(255)
        painter = QPainter(image)
        plot_module._paint_marker(painter, LineLook("#000000", SOLID, corners), QPointF(20, 20))
        painter.end()
        shapes.add(bytes(image.constBits()))
    assert len(shapes) == 8  # each is painted as another shape


def test_empty_and_one_entry_pictures(qtbot, window, monkeypatch):
    window.show_screen("log")
    log = window.screen_of("log")
    assert log.nobody.isVisible()
    assert not log.tabs.isVisible()
    monkeypatch.setattr(QInputDialog, "getText", lambda *_a, **_k: ("Ember", True))
    monkeypatch.setattr(QInputDialog, "getItem", lambda *_a, **_k: ("cello", True))
    log.new.click()
    assert (log.student.name, log.student.instrument) == ("Ember", "cello")
    assert not log.nobody.isVisible()
    log.tabs.setCurrentIndex(PICTURES)
    for number in range(len(CHARTS)):
        log.pictures.choose.setCurrentIndex(number)
        assert log.pictures.nothing.isVisible()
        assert log.pictures.nothing.text() == EMPTY
    log.link.put(
        Practised(log.student.id, date.today(), 10),
        Measured(log.student.id, date.today(), Measure.LONGEST_BOW, 5.0, (5.0,), 1, "up"),
    )
    for number in (0, 2, 6):
        log.pictures.choose.setCurrentIndex(number)
        assert not log.pictures.nothing.isVisible()
        assert log.pictures.rows.rowCount() == 1


def test_pain_stops_the_ladder_until_it_is_over(qtbot, demo_window):
    window, log = demo_window, demo_window.screen_of("log")
    open_for(qtbot, window, "Wren")
    window.show_screen("log")
    log.lesson.pain.setChecked(True)
    log.lesson.save.click()
    assert log.student.pain_since == date.today()
    assert log.pain.isVisible()
    assert PAIN_TEXT in log.lesson.texts["next"].text()
    log.tabs.setCurrentIndex(MEASURE)
    assert not log.measure.isEnabled()
    window.show_screen("practice")
    practice = window.screen_of("practice")
    qtbot.waitUntil(lambda: practice.programme is not None and not practice.busy, timeout=30_000)
    assert practice.hurts.isVisible()
    assert PAIN_TEXT in practice.hurts.text()
    assert not practice.ladder.isEnabled()
    practice.practise_today()
    assert practice.timer.stage is None
    window.show_screen("log")
    log.pain_over.click()
    assert log.student.pain_since is None
    window.show_screen("practice")
    assert practice.ladder.isEnabled()
    assert not practice.hurts.isVisible()


def test_practice_by_the_clock_is_in_the_log(qtbot, demo_window):
    window, log = demo_window, demo_window.screen_of("log")
    open_for(qtbot, window, "Wren")
    window.show_screen("practice")
    practice = window.screen_of("practice")
    qtbot.waitUntil(lambda: practice.programme is not None and not practice.busy, timeout=30_000)
    wren = window.desk.log.student_here()
    before = len(log.store.all(StepDone, student_id=wren.id))
    practice.practise_today()
    timer, clock = practice.timer, Clock()
    timer._clock = clock
    stages = len(timer.stages)
    for _ in range(stages):
        timer.toggle()
        clock.now_s += timer.stage.seconds
        timer._tick()
        if timer.stage is not None and not timer.stage.is_pause and timer.passed_s > 0:
            qtbot.keyClick(timer.play, Qt.Key.Key_G)
    today = [p for p in log.store.all(Practised, student_id=wren.id) if p.on == date.today()]
    assert today[-1].minutes == practice.programme.days[0].minutes
    assert len(log.store.all(StepDone, student_id=wren.id)) > before


def test_pain_by_the_clock_is_noted(qtbot, demo_window):
    window, log = demo_window, demo_window.screen_of("log")
    open_for(qtbot, window, "Wren")
    window.show_screen("practice")
    practice = window.screen_of("practice")
    qtbot.waitUntil(lambda: practice.programme is not None and not practice.busy, timeout=30_000)
    practice.practise_today()
    practice.timer.pain.click()
    wren = window.desk.log.student_here()
    assert wren.pain_since == date.today()
    assert log.store.all(Practised, student_id=wren.id)[-1].pain
    assert practice.hurts.isVisible()


def test_undo_in_the_log(qtbot, demo_window):
    log = demo_window.screen_of("log")
    log.lesson.note.setPlainText("by mistake")
    log.lesson.save.click()
    count = len(log.store.all(Lesson, student_id=log.student.id))
    alt = Qt.KeyboardModifier.AltModifier
    qtbot.keyClick(demo_window, Qt.Key.Key_Z, CONTROL | alt)
    assert len(log.store.all(Lesson, student_id=log.student.id)) == count - 1
    log.whole.redo()
    assert len(log.store.all(Lesson, student_id=log.student.id)) == count


def test_values_events_and_what_cannot_be(qtbot, demo_window):
    log = demo_window.screen_of("log")
    log.tabs.setCurrentIndex(MEASURE)
    page = log.measure
    page.measure.setCurrentIndex(list(Measure).index(Measure.PLACEMENTS))
    assert not page.press.isVisible()
    page.value.setValue(99)
    page.add.click()
    page.keep.click()
    row = log.store.all(Measured, student_id=log.student.id, measure=Measure.PLACEMENTS)[-1]
    assert (row.on, row.value) == (date.today(), 10.0)
    page.measure.setCurrentIndex(list(Measure).index(Measure.ROSIN))
    page.add.click()
    assert (
        log.store.all(Measured, student_id=log.student.id, measure=Measure.ROSIN)[-1].on
        == date.today()
    )
    page.measure.setCurrentIndex(0)
    page._clock = clock = Clock()
    page.toggle()
    clock.now_s = 1000.0
    page.toggle()
    page.keep.click()
    assert "cannot be" in demo_window.error_box.text()
    demo_window.error_box.close()


def test_a_tempo_reached_belongs_to_the_open_piece(qtbot, demo_window):
    window, log = demo_window, demo_window.screen_of("log")
    log.tabs.setCurrentIndex(MEASURE)
    page = log.measure
    page.measure.setCurrentIndex(list(Measure).index(Measure.TEMPO))
    page.section.setCurrentText("C")
    page.value.setValue(77)
    page.add.click()
    page.keep.click()
    assert "Open the piece first" in window.statusBar().currentMessage()
    open_for(qtbot, window, "Wren")
    window.show_screen("log")
    page.value.setValue(77)
    page.add.click()
    page.keep.click()
    log.tabs.setCurrentIndex(PICTURES)
    log.pictures.choose.setCurrentIndex(1)
    assert ("Lantern Ferry, C", day_month_short_year(date.today()), "77") in log.pictures.chart.rows


def test_what_a_followed_bow_did_wrong_is_in_the_log(qtbot, demo_window):
    """A clumsy bow is followed to the end: its faults, their bars and places on the bow."""
    window, log = demo_window, demo_window.screen_of("log")
    open_for(qtbot, window, "Wren")
    wren = window.desk.log.student_here()
    before = {f.id for f in log.store.all(FaultSeen, student_id=wren.id)}
    performance = Performance(window.session.plan)
    motion = Motion(performance)
    bow = SimulatedBow(performance, Clumsiness.ALL, 1)
    scores = score_bars(motion, bow.samples(0.0, performance.length_s))
    following = window.screen_of("show").following
    following._transport.set_performance(performance)
    following.follower._scores = {(m.turn, m.bar_index): m for m in scores}
    following._ended()
    new = [f for f in log.store.all(FaultSeen, student_id=wren.id) if f.id not in before]
    assert len(new) == sum(len(m.faults) for m in scores) > 0
    assert all(0.0 <= f.place <= 1.0 for f in new)
    assert {f.bar for f in new} <= {b.number for b in performance.plan.part.bars}


def test_a_followed_bow_is_measured_from_its_file(qtbot, demo_window, tmp_path, monkeypatch):
    path = tmp_path / "bow.txt"
    samples = [BowSample(t / 50, min(1.0, t / 300)) for t in range(340)]
    path.write_text(head_lines() + "".join(map(sample_line, samples)))
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_a, **_k: (str(path), ""))
    log = demo_window.screen_of("log")
    log.tabs.setCurrentIndex(MEASURE)
    log.measure.follow.click()

    def kept() -> bool:
        rows = log.store.all(Measured, student_id=log.student.id, note="followed bow")
        return any(r.measure == Measure.LONGEST_BOW and 5.8 < r.value < 6.3 for r in rows)

    qtbot.waitUntil(kept, timeout=30_000)


def test_a_plan_is_given_and_a_long_day_questioned(qtbot, demo_window):
    window, log = demo_window, demo_window.screen_of("log")
    log.lesson.give.click()
    assert "Open a plan first" in window.statusBar().currentMessage()
    open_for(qtbot, window, "Wren")
    window.show_screen("log")
    before = len(log.store.all(PlanGiven, student_id=log.student.id))
    log.lesson.give.click()
    given = log.store.all(PlanGiven, student_id=log.student.id)
    assert len(given) == before + 1
    log.lesson.minutes.setValue(LONG_DAY_MINUTES + 15)
    assert log.lesson.long.isVisible()
    log.lesson.minutes.setValue(20)
    assert not log.lesson.long.isVisible()


def imported(qtbot, log) -> None:
    """Import, and wait until it is over, well or ill."""
    log.whole.import_file()
    running = log.whole.importing
    qtbot.waitUntil(lambda: not running._runner.busy, timeout=30_000)


def test_traces_of_the_forgotten_go_when_another_program_lets_go(qtbot, demo_window, monkeypatch):
    log, said = demo_window.screen_of("log"), []
    monkeypatch.setattr(log.whole, "ask", lambda _question: True)
    log.whole.changed.connect(said.append)
    reader = sqlite3.connect(log.store.path, isolation_level=None)
    reader.execute("BEGIN")
    reader.execute("SELECT count(*) FROM lessons").fetchone()
    log.whole.forget(log.student)
    assert "go when it closes" in said[-1]
    reader.close()
    log.whole.left.setInterval(20)
    qtbot.waitUntil(lambda: not log.whole.left.isActive())
    assert said[-1] == "What was forgotten is out of the file now."


def test_copies_exports_and_imports(qtbot, demo_window, tmp_path, monkeypatch):
    log = demo_window.screen_of("log")
    target = {"name": ""}
    for way in ("getSaveFileName", "getOpenFileName"):
        monkeypatch.setattr(QFileDialog, way, lambda *_a, **_k: (target["name"], ""))
    monkeypatch.setattr(log.whole, "ask", lambda _question: True)
    whole = len(log.store.all(Measured))
    for name, work in (("b.sqlite", log.whole.backup), ("l.json", log.whole.export_json),
                       ("l.zip", log.whole.export_csv)):  # fmt: skip
        target["name"] = str(tmp_path / name)
        work()
        assert (tmp_path / name).stat().st_size > 1000
        assert (tmp_path / name).stat().st_mode & 0o077 == 0
    assert json.loads((tmp_path / "l.json").read_bytes())["format"] == "plectrum-log"
    log.whole.forget(log.student)
    assert [s.name for s in log.store.all(Student)] == ["Maris", "Tarn"]
    target["name"] = str(tmp_path / "l.json")
    imported(qtbot, log)
    assert len(log.store.all(Measured)) == whole
    log.whole.forget(log.student)
    target["name"] = str(tmp_path / "b.sqlite")
    log.whole.restore()
    assert len(log.store.all(Measured)) == whole
    target["name"] = str(tmp_path / "l.zip")
    imported(qtbot, log)
    assert len(log.store.all(Measured)) == whole
    log.whole.undo()  # an import is one step
    log.whole.redo()
    (tmp_path / "l.zip").write_bytes(b"no zip")
    imported(qtbot, log)
    assert "not a zip" in demo_window.error_box.text()
    demo_window.error_box.close()
    (tmp_path / "m.csv").write_text(
        "student,on,measure,value\nTarn,2026-11-02,placements hit of ten,7\n"
    )
    target["name"] = str(tmp_path / "m.csv")
    imported(qtbot, log)
    assert len(log.store.all(Measured)) == whole + 1


def test_a_log_that_cannot_be_opened_does_not_stop_the_window(qtbot, themed, tmp_path):
    (tmp_path / "log.sqlite").write_bytes(b"no database at all")
    settings = Settings(QSettings(str(tmp_path / "s.ini"), QSettings.Format.IniFormat))
    window = MainWindow(settings, tmp_path, tmp_path / "players")
    qtbot.addWidget(window)
    window.show()
    qtbot.waitUntil(lambda: "log" in window.notices.shown, timeout=30_000)
    window.show_screen("log")
    window.screen_of("log").add_student("Wren", "violin")
    assert window.screen_of("log").student.name == "Wren"
    window.close()
    (aside,) = tmp_path.glob("log-set-aside-*.sqlite")
    assert aside.read_bytes() == b"no database at all"
    assert (tmp_path / "log.sqlite").stat().st_mode & 0o077 == 0


def test_limits_follow_the_player_of_the_same_name_only(qtbot, window, tmp_path):
    own = replace(stage("starter"), name="Wren", title="Wren")
    window.desk.shelf.save(NamedPlayer(own, Bow.full_size("violin")))
    window.show_screen("log")
    log = window.screen_of("log")
    log.add_student("Wren", "violin")
    rows = [
        Measured(log.student.id, date.today() - timedelta(days=k), Measure.FASTEST_BOW, 900.0,
                 (890.0, 900.0, 910.0))
        for k in range(2)
    ]  # fmt: skip
    log.link.put(*rows)
    log.tabs.setCurrentIndex(MEASURE)
    (proposal,) = log.measure.proposals
    log.take_limits([proposal])
    assert window.desk.named_players()[0].player.fastest_mm_s == pytest.approx(900.0)
    log.add_student("Ember", "violin")
    assert log.measure.proposals == ()
    assert not log.measure.take.isEnabled()


def test_two_windows_on_one_log(qtbot, demo_window, tmp_path):
    log = demo_window.screen_of("log")
    other = LogStore(log.store.path)
    other.put(Practised(log.student.id, date.today(), 33))
    other.close()
    log.refresh()
    assert any(p.minutes == 33 for p in log.store.all(Practised, student_id=log.student.id))


@pytest.mark.parametrize("top", [0.4, 1.0, 5.3, 49.0, 130.0, 9999.0])
@pytest.mark.parametrize("most_n", [2, 5, 9])
def test_numbers_beside_a_picture_are_round_and_reach_the_top(top, most_n):
    steps = number_steps(top, most_n)
    step = steps[1]
    assert steps[0] == 0
    assert steps[-1] <= top < steps[-1] + step * (1 + 1e-9)
    assert 2 <= len(steps) <= most_n + 1
    assert f"{step:e}"[0] in "125"


@pytest.mark.parametrize("days_n", [1, 6, 13, 44, 100, 400, 1500, 3650, 12_000])
def test_days_below_a_picture_are_few_and_in_order(days_n):
    first = date(2016, 11, 3)
    last = first + timedelta(days=days_n)
    named = day_steps(first, last, 9)
    days = [on for on, _ in named]
    assert 1 <= len(days) <= 10
    assert days == sorted(set(days))
    assert first <= days[0]
    assert days[-1] <= last
    assert len({text for _, text in named}) == len(named) or days_n > 366


def test_weeks_are_named_by_their_mondays():
    named = day_steps(date(2026, 10, 8), date(2026, 11, 20), 9)
    assert [text for _, text in named][:2] == ["12 Oct", "19 Oct"]
    assert {on.weekday() for on, _ in named} == {0}


@pytest.mark.parametrize("size", [(240, 200), (900, 520)])
def test_a_picture_of_anything_is_painted(themed, size):
    """Hundreds of lines, long names, one day, nothing but noughts: the picture stays a picture."""
    day = date(2026, 11, 2)
    many = [Series(f"Lantern Ferry, {k}", (day,), (float(k),)) for k in range(300)]
    years = tuple(day - timedelta(days=7 * k) for k in range(520))[::-1]
    charts = (
        Chart("beats a minute", tuple(many), goals=(84.0, 400.0)),
        Chart("seconds", (Series("a name that is very long " * 20, years, (5.0,) * 520),)),
        Chart("times", bars=tuple((f"Student {k}", float(k % 7)) for k in range(60))),
        Chart("times", bars=(("alone", 0.25),)),
        Chart("minutes", (Series("none", (day,), (0.0,)),)),
    )
    for chart in charts:
        plot = Plot()
        plot.resize(*size)
        plot.show_chart(chart)
        assert 0.005 < inked(plot) < 0.8


def test_names_over_a_picture_leave_it_room(themed):
    day = date(2026, 11, 2)
    many = tuple(Series(f"Lantern Ferry, {k}", (day,), (float(k),)) for k in range(300))
    image = QImage(700, 400, QImage.Format.Format_RGB32)
    painter = QPainter(image)
    painting = plot_module._Painting(painter, QRectF(0, 0, 700, 400), Chart("x", many))
    painting.paint()
    painter.end()
    assert painting.area.height() > 200
