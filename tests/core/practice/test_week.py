"""The week: minutes add up, nothing is left out, what went badly comes back."""

from __future__ import annotations

from datetime import date, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from plectrum.core.document.homework import Homework, Outcome, Result, WeekSettings
from plectrum.core.practice.week import Task, TaskKind, schedule, week_of

MONDAY = date(2026, 11, 30)


@st.composite
def _tasks(draw: st.DrawFn) -> list[Task]:
    tasks = [
        Task(f"drill.{k}", TaskKind.DRILL, f"drill {k}", draw(st.integers(1, 12)))
        for k in range(draw(st.integers(0, 5)))
    ]
    for section in range(draw(st.integers(0, 5))):
        tasks += [
            Task(
                f"{section}.{k}", TaskKind.STEP, f"step {k}", draw(st.integers(1, 9)), f"s{section}"
            )
            for k in range(draw(st.integers(1, 14)))
        ]
    return tasks


@st.composite
def _settings(draw: st.DrawFn) -> WeekSettings:
    return WeekSettings(
        MONDAY + timedelta(days=draw(st.integers(0, 6))),
        draw(st.integers(5, 60)),
        frozenset(draw(st.sets(st.integers(0, 6), min_size=1))),
        frozenset(MONDAY + timedelta(days=k) for k in draw(st.sets(st.integers(0, 30)))),
    )


def _results(tasks: list[Task], marks: list[bool]) -> dict[str, Result]:
    return {
        t.key: Result(Outcome.GOOD if good else Outcome.AGAIN, MONDAY)
        for t, good in zip(tasks, marks, strict=False)
    }


@settings(max_examples=150, deadline=None)
@given(_tasks(), _settings(), st.lists(st.booleans(), max_size=20))
def test_every_schedule_keeps_its_promises(tasks, week, marks):
    """Never over the day's minutes, on practice days alone; every drill and every step that has
    not gone well is there in full; sections keep their order; twice the same."""
    results = _results(tasks, marks)
    days = schedule(tasks, week, results)
    assert days == schedule(tasks, week, results)
    given_minutes: dict[str, int] = {}
    order: dict[str, list[str]] = {}
    for day in days:
        assert day.on >= week.start
        assert day.on.weekday() in week.weekdays
        assert day.on not in week.holidays
        assert day.minutes == sum(e.minutes for e in day.entries) <= week.minutes_a_day
        for entry in day.entries:
            assert entry.minutes >= 1
            if entry.kind is TaskKind.STEP:
                key = entry.task.key
                given_minutes[key] = given_minutes.get(key, 0) + entry.minutes
                if not entry.again and key not in order.setdefault(entry.task.group, []):
                    order[entry.task.group].append(key)
    done = {k for k, r in results.items() if r.mark is Outcome.GOOD}
    for task in tasks:
        if task.kind is TaskKind.STEP and task.key not in done:
            assert given_minutes[task.key] == task.minutes
    drilled = {e.task.key for d in days for e in d.entries if e.kind is TaskKind.DRILL}
    assert drilled == {t.key for t in tasks if t.kind is TaskKind.DRILL}
    for group, keys in order.items():
        assert keys == [t.key for t in tasks if t.group == group and t.key in keys]


def _steps(count: int, group: str = "A") -> list[Task]:
    return [Task(f"{group}.{k}", TaskKind.STEP, f"{group} {k}", 3, group) for k in range(count)]


def test_what_went_badly_comes_on_the_next_day_before_anything_new():
    tasks = _steps(6)
    results = {"A.0": Result(Outcome.GOOD, MONDAY), "A.1": Result(Outcome.AGAIN, MONDAY)}
    tuesday = MONDAY + timedelta(days=1)
    first = schedule(tasks, WeekSettings(MONDAY), results, tuesday)[0]
    assert first.on == tuesday
    assert first.entries[0].task.key == "A.1"
    assert first.entries[0].again
    assert any(e.kind is TaskKind.REVIEW and e.task.key == "A.0" for e in first.entries)


def test_what_went_well_is_reviewed_further_and_further_apart():
    tasks = _steps(1)
    days = schedule(tasks, WeekSettings(MONDAY, weekdays=frozenset(range(7))))
    reviewed = [k for k, d in enumerate(days) if any(e.kind is TaskKind.REVIEW for e in d.entries)]
    assert reviewed == [1, 4]  # one day after, three after that, the third is past the week


def test_a_long_step_is_spread_over_days_and_says_so():
    task = Task("A.0", TaskKind.STEP, "long", 12, "A")
    days = schedule([task], WeekSettings(MONDAY, 5))
    parts = [e for d in days for e in d.entries if e.kind is TaskKind.STEP]
    assert [e.title for e in parts] == ["long (1 of 3)", "long (2 of 3)", "long (3 of 3)"]
    assert sum(e.minutes for e in parts) == 12


def test_a_week_of_holidays_is_passed_over():
    holidays = frozenset(MONDAY + timedelta(days=k) for k in range(7))
    days = schedule(_steps(3), WeekSettings(MONDAY, holidays=holidays))
    assert days[0].on == MONDAY + timedelta(days=7)
    assert week_of(days, MONDAY) == ()


def test_weeks_that_cannot_be_are_refused():
    with pytest.raises(ValueError, match="minutes_a_day"):
        WeekSettings(MONDAY, 4)
    with pytest.raises(ValueError, match="weekdays"):
        WeekSettings(MONDAY, weekdays=frozenset())


def test_homework_marks_and_drills_are_set_and_taken_back():
    home = (
        Homework().marked("1.say", Result(Outcome.GOOD, MONDAY)).with_drill("arcs", {"slower": 3})
    )
    assert home.results["1.say"].mark is Outcome.GOOD
    assert home.drills["arcs"] == {"slower": 3}
    assert "1.say" not in home.marked("1.say", None).results
    assert "arcs" not in home.with_drill("arcs", None).drills
    assert home.settings(MONDAY).start == MONDAY


def _sections(sections: int, steps: int, minutes: int = 4) -> list[Task]:
    return [
        Task(f"{s}.{k}", TaskKind.STEP, f"step {k}", minutes, f"s{s}")
        for s in range(sections)
        for k in range(steps)
    ]


def test_what_is_learnt_comes_back_after_one_three_and_seven_days():
    """By hand: learnt on the first of daily practice days, reviewed on days 1, 1 + 3 and 4 + 7."""
    week = WeekSettings(MONDAY, 20, frozenset(range(7)))
    tasks = [Task("0.0", TaskKind.STEP, "first", 5, "s0"), *_sections(3, 30)[30:]]
    days = schedule(tasks, week)
    reviewed = [
        number
        for number, day in enumerate(days)
        for entry in day.entries
        if entry.task.key == "0.0" and entry.kind is TaskKind.REVIEW
    ]
    assert reviewed == [1, 4, 11]


def test_two_sections_are_learnt_at_a_time_in_turn():
    """A third section begins when one of the first two is done."""
    days = schedule(_sections(3, 4), WeekSettings(MONDAY, 20, frozenset(range(7))))
    new = [e.task.key for d in days for e in d.entries if e.kind is TaskKind.STEP]
    assert new[:4] == ["0.0", "1.0", "0.1", "1.1"]
    begun = new.index("2.0")
    assert {"0.3", "1.3"} & set(new[:begun])
    assert not {"0.3", "1.3"} <= set(new[: begun - 1])


def test_a_week_runs_from_monday_to_sunday():
    """Of three weeks of daily practice, the seven days around a Thursday."""
    days = schedule(_sections(3, 30), WeekSettings(MONDAY, 15, frozenset(range(7))))
    found = [d.on for d in week_of(days, MONDAY + timedelta(days=10))]
    assert found == [MONDAY + timedelta(days=k) for k in range(7, 14)]


def test_a_step_stays_for_as_many_days_as_are_set():
    """Pluck for three days, while the next steps are begun."""
    tasks = [
        Task("1.say", TaskKind.STEP, "say", 3, "A"),
        Task("1.pluck", TaskKind.STEP, "pluck", 4, "A", days=3),
        Task("1.open", TaskKind.STEP, "open", 4, "A"),
        Task("1.hands", TaskKind.STEP, "hands", 4, "A"),
    ]
    days = schedule(tasks, WeekSettings(date(2026, 11, 30), 15))
    plucked = [d.on for d in days for e in d.entries
               if e.task.key == "1.pluck" and e.kind is TaskKind.STEP]  # fmt: skip
    assert len(plucked) == 3
    assert plucked == sorted(set(plucked))
    assert days[1].entries[0].title == "pluck (day 2 of 3)"
    assert all(d.minutes <= 15 for d in days)
    first_review = next(d.on for d in days for e in d.entries
                        if e.task.key == "1.pluck" and e.kind is TaskKind.REVIEW)  # fmt: skip
    assert first_review > plucked[-1]
