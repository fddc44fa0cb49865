"""Summaries, the lesson sheet, exports and imports, measuring, and the demo's weeks."""

from __future__ import annotations

import csv
import io
import json
import zipfile
from collections import defaultdict
from dataclasses import replace
from datetime import date, timedelta
from pathlib import Path

import pytest

from plectrum.core.advice.care import PAIN_TEXT
from plectrum.core.errors import PlectrumError
from plectrum.core.log.demo import demo_records, open_demo
from plectrum.core.log.exchange import (
    log_as_csv_zip,
    log_as_json,
    measured_from_csv,
    records_from_csv_zip,
    records_from_json,
)
from plectrum.core.log.lesson import lesson_sheet
from plectrum.core.log.limits import Proposal
from plectrum.core.log.log_file import LogError
from plectrum.core.log.measuring import StopWatch, check_value, measured_by_bow, strokes_seen
from plectrum.core.log.records import (
    KINDS,
    FaultSeen,
    Lesson,
    Measure,
    Measured,
    Piece,
    PlanGiven,
    Practised,
    StepDone,
    Student,
)
from plectrum.core.log.store import LogStore
from plectrum.core.log.summaries import (
    class_overview,
    fault_places,
    longest_bows,
    minutes_by_week,
    tempos_reached,
)
from plectrum.core.playing.performance import Performance
from plectrum.core.score.model import Direction
from plectrum.core.tracking.sensor import BowSample
from plectrum.core.tracking.simulated import Clumsiness, SimulatedBow
from plectrum.demo import demo_log
from tests.core.log.test_store import everything
from tests.tunes import tune_plan

MONDAY = date(2026, 11, 2)
STRINGS = ("G", "D", "A", "E")


@pytest.fixture
def store(tmp_path: Path):
    made = LogStore(tmp_path / "log.sqlite")
    yield made
    made.close()


@pytest.fixture
def demo(tmp_path: Path):
    made, shelf = open_demo(tmp_path / "demo", demo_log(), date(2027, 3, 3))
    yield made, shelf
    made.close()


def _day(days: int) -> date:
    return MONDAY + timedelta(days=days)


def test_minutes_are_added_up_by_week_with_empty_weeks_at_nought(store):
    wren = Student("Wren", "violin")
    rows = [(0, 10), (6, 5), (7, 20), (28, 30)]
    store.put(wren, *(Practised(wren.id, _day(d), m) for d, m in rows))
    series = minutes_by_week(store, wren)
    assert series.days == tuple(MONDAY + timedelta(weeks=k) for k in range(5))
    assert series.values == (15, 20, 0, 0, 30)
    assert minutes_by_week(store, Student("New", "violin")).days == ()


def test_longest_bows_by_string_way_and_week(store):
    wren = Student("Wren", "violin")
    store.put(
        wren,
        Measured(wren.id, _day(1), Measure.LONGEST_BOW, 5.0, (4.0, 5.0, 6.0), 2, "down"),
        Measured(wren.id, _day(3), Measure.LONGEST_BOW, 5.0, (5.0,), 2, "down"),
        Measured(wren.id, _day(8), Measure.LONGEST_BOW, 7.0, (7.0, 60.0, 7.2), 2, "down"),
        Measured(wren.id, _day(1), Measure.LONGEST_BOW, 3.0, (3.0,), 2, "up"),
        Measured(wren.id, _day(1), Measure.PLACEMENTS, 6.0),
    )
    down, up = longest_bows(store, wren, STRINGS)
    assert (down.name, down.days, down.values) == (
        "A string down", (MONDAY, MONDAY + timedelta(weeks=1)), (5.0, 7.1),
    )  # fmt: skip
    assert (up.name, up.values) == ("A string up", (3.0,))


def test_tempos_rise_to_the_best_so_far_towards_the_goal(store):
    wren, tune = Student("Wren", "violin"), Piece("Tune", "violin", 84.0)
    steps = [(0, 50.0, "good"), (1, 67.0, "again"), (2, 59.0, "good"), (4, 55.0, "good")]
    store.put(
        wren, tune,
        *(StepDone(wren.id, _day(d), "1.t", "t", m, tune.id, bpm, "A") for d, bpm, m in steps),
        Measured(wren.id, _day(6), Measure.TEMPO, 72.0, piece_id=tune.id, section="A"),
    )  # fmt: skip
    (found,) = tempos_reached(store, wren)
    assert (found.piece, found.section, found.goal_bpm) == ("Tune", "A", 84.0)
    assert found.reached.days == (_day(0), _day(2), _day(6))
    assert found.reached.values == (50.0, 59.0, 72.0)


def test_faults_are_counted_by_tenth_of_the_bow_bar_and_kind(store):
    wren, tune = Student("Wren", "violin"), Piece("Tune", "violin", 84.0)
    store.put(
        wren, tune,
        FaultSeen(wren.id, MONDAY, "choked", tune.id, 9, 0.05),
        FaultSeen(wren.id, MONDAY, "choked", tune.id, 9, 0.95),
        FaultSeen(wren.id, MONDAY, "late", tune.id, 3, 1.0),
        FaultSeen(wren.id, MONDAY, "late", None, None, None),
        FaultSeen(wren.id, MONDAY, "choked", None, None, 0.0),
    )  # fmt: skip
    seen = fault_places(store, wren)
    assert seen.by_place == (2, 0, 0, 0, 0, 0, 0, 0, 0, 2)
    assert seen.by_bar == ((3, 1), (9, 2))
    assert seen.by_kind == (("choked", 3), ("late", 2))
    assert fault_places(store, wren, tune.id).by_place == (1, 0, 0, 0, 0, 0, 0, 0, 0, 2)


def test_the_class_at_a_glance(store):
    wren, tarn, gone = (
        Student("Wren", "violin"), Student("Tarn", "cello"),
        Student("Ember", "viola", archived=True),
    )  # fmt: skip
    store.put(
        wren, tarn, gone,
        Practised(wren.id, _day(7), 10), Practised(wren.id, _day(7), 5),
        Practised(wren.id, _day(9), 5), Practised(wren.id, _day(1), 12),
        Practised(gone.id, _day(8), 50),
        Measured(wren.id, _day(8), Measure.LONGEST_BOW, 6.0, (6.0,), 2, "down"),
        StepDone(wren.id, _day(8), "1.say", "A: say", "again"),
        Lesson(wren.id, _day(6)),
    )  # fmt: skip
    first, second = class_overview(store, _day(10))
    assert (first.student.name, second.student.name) == ("Tarn", "Wren")
    assert (second.minutes_week, second.days_week, second.minutes_before) == (20, 2, 12)
    assert (second.longest_s, second.last_lesson, second.again_n) == (6.0, _day(6), 1)
    assert (first.minutes_week, first.longest_s, first.last_lesson) == (0, None, None)


def test_the_lesson_sheet_tells_what_was_given_done_measured_and_is_next(store):
    wren, tune = Student("Wren", "violin"), Piece("Tune", "violin", 84.0)
    store.put(
        wren, tune,
        Lesson(wren.id, _day(0), "well", "say the bows aloud"),
        PlanGiven(wren.id, tune.id, _day(0), b"x"),
        Practised(wren.id, _day(1), 10), Practised(wren.id, _day(3), 15, pain=True),
        StepDone(wren.id, _day(1), "1.say", "A: say and clap", "again", tune.id),
        StepDone(wren.id, _day(3), "1.say", "A: say and clap", "good", tune.id),
        StepDone(wren.id, _day(3), "1.stops", "A: stop-bows", "again", tune.id),
        Measured(wren.id, _day(-9), Measure.LONGEST_BOW, 5.0, (5.0,), 2, "down"),
        Measured(wren.id, _day(4), Measure.LONGEST_BOW, 6.0, (6.0,), 2, "down"),
        Practised(wren.id, _day(-5), 99),
    )  # fmt: skip
    wish = Proposal("slowest_mm_s", 80, 96, "slowest clean bow 9.6 cm/s", "3 tries")
    sheet = lesson_sheet(store, wren, _day(7), [wish])
    assert sheet.since == _day(0)
    assert sheet.last_note == "say the bows aloud"
    assert sheet.given == ("Tune, 2 November",)
    assert sheet.done == ("2 days, 25 minutes", "5 November: something hurt")
    assert sheet.went == ("went well: A: say and clap", "not yet: A: stop-bows")
    assert sheet.measured == ("longest bow, A string down: 6 s, before 5",)
    assert "again: A: stop-bows" in sheet.next
    assert "new limit: slowest clean bow 9.6 cm/s (3 tries)" in sheet.next
    assert "measure: placements hit of ten" in sheet.next
    assert "measure: longest bow" not in sheet.next


def test_pain_comes_first_on_the_sheet_and_an_empty_log_has_one_too(store):
    sore = Student("Wren", "violin", pain_since=_day(2))
    store.put(sore)
    sheet = lesson_sheet(store, sore, _day(7))
    assert sheet.next[0] == f"since 4 November something hurts. {PAIN_TEXT}"
    assert sheet.done == ("no practice noted",)
    assert sheet.measured == ("nothing measured",)


# files


def test_everything_goes_out_as_json_and_comes_back(demo, tmp_path):
    store, _ = demo
    data = log_as_json(store)
    again = LogStore(tmp_path / "again.sqlite")
    again.put_all(records_from_json(data, "log.json"))
    assert everything(again) == everything(store)
    assert log_as_json(again) == data
    again.close()


def test_one_student_goes_out_alone(demo):
    store, _ = demo
    tarn = store.all(Student, name="Tarn")[0]
    read = json.loads(log_as_json(store, tarn))
    assert [s["name"] for s in read["students"]] == ["Tarn"]
    assert {m["student_id"] for m in read["measurements"]} == {tarn.id}
    assert [p["title"] for p in read["pieces"]] == ["Slow Water"]


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"{", "not a log that was exported"),
        (b"[]", "not a log that was exported"),
        (b'{"format": "plectrum-log", "version": 9}', "newer version"),
        (b'{"format": "plectrum-log", "version": 1, "students": [3]}', "students 1"),
        (b'{"format": "plectrum-log", "version": 1, "students": [{"name": "W"}]}', "instrument"),
        (
            b"""{"format": "plectrum-log", "version": 1, "sessions":
                 [{"student_id": "s", "on": "soon", "minutes": 5}]}""",
            "sessions 1: on",
        ),
    ],
)
def test_a_json_that_is_no_log_is_one_clear_line(data, words):
    with pytest.raises(LogError) as failed:
        records_from_json(data, "log.json")
    assert words in str(failed.value)
    assert "log.json" in str(failed.value)


def test_csv_has_a_table_a_file_that_can_be_added_up(demo):
    store, _ = demo
    with zipfile.ZipFile(io.BytesIO(log_as_csv_zip(store))) as archive:
        assert {n.removesuffix(".csv") for n in archive.namelist()} >= {"students", "sessions"}
        assert len(archive.namelist()) == len(KINDS)
        rows = list(csv.DictReader(io.StringIO(archive.read("sessions.csv").decode())))
    minutes = defaultdict(int)
    for row in rows:
        minutes[row["student_id"]] += int(row["minutes"])
    for student in store.all(Student):
        own = sum(x.minutes for x in store.all(Practised, student_id=student.id))
        assert minutes[student.id] == own


def test_csv_tables_come_back_without_the_plans(demo, tmp_path):
    store, _ = demo
    again = LogStore(tmp_path / "again.sqlite")
    again.put_all(records_from_csv_zip(log_as_csv_zip(store), "log.zip"))
    plans = {p.id for p in store.all(PlanGiven)}
    assert plans
    assert everything(again) == {k: r for k, r in everything(store).items() if k not in plans}
    again.close()
    for bad, words in (
        (b"no zip", "not a zip"),
        (_zip({"x.csv": "a"}), "holds no log"),
        (_zip({"students.csv": "name\nWren\n"}), "students.csv, line 2"),
    ):
        with pytest.raises(LogError) as failed:
            records_from_csv_zip(bad, "log.zip")
        assert words in str(failed.value)


def _zip(files: dict[str, str]) -> bytes:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as archive:
        for name, text in files.items():
            archive.writestr(name, text)
    return buffer.getvalue()


def test_measurements_come_in_from_a_table():
    wren = Student("Wren", "violin")
    data = "student,on,measure,value,string,direction\nWren,2026-11-02,longest bow,6.5,2,up\n"
    (found,) = measured_from_csv(data.encode(), "m.csv", {"Wren": wren})
    assert (found.student_id, found.on, found.value) == (wren.id, MONDAY, 6.5)
    assert (found.string, found.direction) == (2, "up")
    for bad, words in (
        ("name,value\nWren,3\n", "needs the columns"),
        ("student,on,measure,value\nNobody,2026-11-02,x,1\n", "no student 'Nobody'"),
        ("student,on,measure,value\nWren,2026-11-02,x,much\n", "line 2"),
        ("student,on,measure,value\nWren,today,x,1\n", "line 2"),
    ):
        with pytest.raises(LogError) as failed:
            measured_from_csv(bad.encode(), "m.csv", {"Wren": wren})
        assert words in str(failed.value)


# measuring


def test_the_stop_watch_keeps_tries_by_one_key():
    watch = StopWatch()
    for start, end in ((0.0, 5.0), (10.0, 17.0), (20.0, 26.0)):
        assert watch.press(start) is None
        assert watch.press(end) == end - start
    assert (watch.median, watch.best) == (6.0, 7.0)
    watch.press(30.0)
    watch.drop()
    assert not watch.running
    assert watch.tries == [5.0, 7.0, 6.0]
    watch.drop()
    assert watch.tries == [5.0, 7.0]
    assert StopWatch().median is None


def test_values_that_cannot_be_are_refused_with_their_bounds():
    check_value(Measure.PLACEMENTS, 10)
    for measure, wrong in (
        (Measure.PLACEMENTS, 11), (Measure.LONGEST_BOW, 0.0), (Measure.LEVEL_CALLS, float("nan")),
    ):  # fmt: skip
        with pytest.raises(PlectrumError, match="cannot be"):
            check_value(measure, wrong)


def test_strokes_are_seen_in_a_followed_bow():
    """By hand: 4 s over the whole hair down, a rest, 2 s up, from the last sample at rest on."""
    samples = [BowSample(t / 50, min(1.0, t / 200)) for t in range(0, 226)]
    samples += [BowSample(4.5 + t / 50, 1.0 - t / 100) for t in range(1, 101)]
    down, up = strokes_seen(samples, 600.0)
    assert (down.direction, up.direction) == (Direction.DOWN, Direction.UP)
    assert (down.seconds, down.start, down.end) == pytest.approx((4.0, 0.0, 1.0))
    assert (up.seconds, up.start, up.end) == pytest.approx((2.0, 1.0, 0.0))
    assert down.top_mm_s == pytest.approx(150, rel=0.02)
    (longest,) = measured_by_bow([down, up], Measure.LONGEST_BOW, "s", MONDAY, 1)
    assert (longest.measure, longest.direction, longest.string) == ("longest bow", "down", 1)
    (fastest,) = measured_by_bow([down, up], Measure.FASTEST_BOW, "s", MONDAY, 1)
    assert fastest.value == pytest.approx((150 + 300) / 2, rel=0.03)
    assert measured_by_bow([], Measure.FASTEST_BOW, "s", MONDAY) == []
    (quick,) = measured_by_bow([down, up] * 8, Measure.STROKES, "s", MONDAY)
    assert quick.tries == pytest.approx((1 / 3, 1 / 3), abs=0.01)  # eight in 24 s, twice
    assert measured_by_bow([down, up], Measure.STROKES, "s", MONDAY) == []
    assert strokes_seen([], 600.0) == ()


def test_the_simulated_bow_is_measured_as_its_plan_says():
    plan = tune_plan("A4*4d|A4*4u|A4*4d|A4*4u|", bpm=60, player="steady")
    performance = Performance(plan)
    bow = SimulatedBow(performance, Clumsiness.CAREFUL, 1)
    samples = bow.samples(0.0, performance.length_s)
    strokes = [s for s in strokes_seen(samples, plan.choices.bow.hair_mm) if s.seconds > 1]
    assert [s.direction for s in strokes] == [p.direction for p in plan.strokes]
    for seen, planned in zip(strokes, plan.strokes, strict=True):
        assert seen.seconds == pytest.approx(4.0, abs=0.3)
        assert abs(seen.end - seen.start) == pytest.approx(
            abs(planned.end - planned.start), abs=0.1
        )


# the demo


def test_the_demo_ends_yesterday_and_has_six_weeks_of_three_players(demo):
    store, shelf = demo
    names = [s.name for s in store.all(Student)]
    assert names == ["Maris", "Tarn", "Wren"]
    assert sorted(p.name for p in shelf.all()[0]) == names
    days = [x.on for x in store.all(Practised)] + [x.on for x in store.all(Lesson)]
    assert max(days) == date(2027, 3, 2)
    assert (max(days) - min(days)).days >= 35
    for student in store.all(Student):
        assert len(store.all(Lesson, student_id=student.id)) == 6
        assert len(longest_bows(store, student, STRINGS)) == 8
        assert fault_places(store, student).by_kind
        assert store.all(PlanGiven, student_id=student.id)


def test_the_demo_is_opened_again_as_it_was_left(tmp_path):
    folder = tmp_path / "demo"
    store, _ = open_demo(folder, demo_log(), date(2027, 3, 3))
    wren = store.all(Student, name="Wren")[0]
    store.put(replace(wren, note="changed"))
    store.close()
    again, _ = open_demo(folder, demo_log(), date(2027, 5, 5))
    assert again.get(Student, wren.id).note == "changed"
    again.close()
    assert max(r.on for r in demo_records(demo_log(), MONDAY) if hasattr(r, "on")) == _day(-1)
