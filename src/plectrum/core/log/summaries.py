"""The log as pictures need it: a few numbers a week, added up by the database."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from datetime import date, timedelta
from statistics import median

import sqlalchemy as sa

from plectrum.core.instrument.specification import string_words
from plectrum.core.log.limits import robust
from plectrum.core.log.records import Measure, Student
from plectrum.core.log.store import LogStore
from plectrum.core.log.tables import (
    faults,
    lessons,
    measurements,
    pieces,
    results,
    sessions,
    students,
)
from plectrum.core.wording import in_words, tr

PLACES_N = 10  # the bow in tenths
WEEK = timedelta(days=7)


def monday(on: date) -> date:
    return on - timedelta(days=on.weekday())


@dataclass(frozen=True, slots=True)
class Series:
    """One line of a picture: days and values, and its name."""

    name: str
    days: tuple[date, ...]
    values: tuple[float, ...]


def longest_bows(store: LogStore, student: Student, string_names: tuple[str, ...]) -> list[Series]:
    """The longest bow a week in seconds, by string and way; a week's is the median of its tries."""
    m = measurements.c
    query = sa.select(m.on, m.string, m.direction, m.value, m.tries).where(
        m.student_id == student.id, m.measure == Measure.LONGEST_BOW
    )
    found: dict[tuple[int, str], dict[date, list[float]]] = defaultdict(lambda: defaultdict(list))
    for row in store.rows(query):
        key = (row["string"] if row["string"] is not None else -1, row["direction"] or "")
        found[key][monday(row["on"])] += list(row["tries"]) or [row["value"]]
    series = []
    for (string, direction), weeks in sorted(found.items()):
        name = (
            string_words(string_names[string])
            if 0 <= string < len(string_names)
            else tr("any string")
        )
        days = tuple(sorted(weeks))
        values = tuple(robust(weeks[day])[0] for day in days)
        series.append(Series(f"{name} {in_words(direction)}".strip(), days, values))
    return series


def minutes_by_week(store: LogStore, student: Student) -> Series:
    """Minutes practised a week, the weeks without practice at 0."""
    s = sessions.c
    week = sa.func.date(s.on, "weekday 0", "-6 days")
    query = (
        sa.select(week.label("week"), sa.func.sum(s.minutes).label("minutes"))
        .where(s.student_id == student.id)
        .group_by(week)
        .order_by(week)
    )
    found = {date.fromisoformat(r["week"]): float(r["minutes"]) for r in store.rows(query)}
    if not found:
        return Series("minutes", (), ())
    days = []
    day, last = min(found), max(found)
    while day <= last:
        days.append(day)
        day += WEEK
    return Series("minutes", tuple(days), tuple(found.get(d, 0.0) for d in days))


@dataclass(frozen=True, slots=True)
class TempoReached:
    """How far one section has come towards its tempo."""

    piece: str
    section: str
    goal_bpm: float
    reached: Series


def tempos_reached(store: LogStore, student: Student) -> list[TempoReached]:
    """The best tempo so far of every section towards the goal of its piece: the days on which it
    rose, and the last."""
    r, p = results.c, pieces.c
    m = measurements.c
    done = sa.select(r.on, r.section, r.bpm, p.title, p.goal_bpm, p.id).where(
        r.student_id == student.id, r.bpm.is_not(None), r.mark == "good", r.piece_id == p.id
    )
    taken = sa.select(m.on, m.section, m.value.label("bpm"), p.title, p.goal_bpm, p.id).where(
        m.student_id == student.id, m.measure == Measure.TEMPO, m.piece_id == p.id
    )
    groups: dict[tuple[str, str, str, float], dict[date, float]] = defaultdict(dict)
    for row in [*store.rows(done), *store.rows(taken)]:
        days = groups[row["title"], row["section"], row["id"], row["goal_bpm"]]
        days[row["on"]] = max(row["bpm"], days.get(row["on"], 0.0))
    found = []
    for (title, section, _, goal), days in sorted(groups.items()):
        risen: dict[date, float] = {}
        best = 0.0
        for day in sorted(days):
            if days[day] > best:
                best = risen[day] = days[day]
        risen[max(days)] = best
        name = section or tr("whole piece")
        series = Series(name, tuple(risen), tuple(risen.values()))
        found.append(TempoReached(title, name, goal, series))
    return found


@dataclass(frozen=True, slots=True)
class FaultPlaces:
    """Where faults cluster: how many in each tenth of the bow from the frog, in each bar, and of
    each kind, most first."""

    by_place: tuple[int, ...]
    by_bar: tuple[tuple[int, int], ...]
    by_kind: tuple[tuple[str, int], ...]


def fault_places(store: LogStore, student: Student, piece_id: str | None = None) -> FaultPlaces:
    """Faults of a student, all or of one piece."""
    f = faults.c
    own = [f.student_id == student.id] + ([f.piece_id == piece_id] if piece_id else [])
    tenth = sa.func.min(sa.cast(f.place * PLACES_N, sa.Integer), PLACES_N - 1)
    count = sa.func.count().label("n")
    places = [0] * PLACES_N
    by_tenth = sa.select(tenth.label("k"), count).where(*own, f.place.is_not(None)).group_by(tenth)
    for row in store.rows(by_tenth):
        places[max(0, int(row["k"]))] += row["n"]
    bars = store.rows(
        sa.select(f.bar, count).where(*own, f.bar.is_not(None)).group_by(f.bar).order_by(f.bar)
    )
    kinds = store.rows(
        sa.select(f.kind, count).where(*own).group_by(f.kind).order_by(count.desc(), f.kind)
    )
    return FaultPlaces(
        tuple(places),
        tuple((r["bar"], r["n"]) for r in bars),
        tuple((r["kind"], r["n"]) for r in kinds),
    )


@dataclass(frozen=True, slots=True)
class ClassRow:
    """One student in the overview of the class; None where there is nothing yet."""

    student: Student
    minutes_week: int
    days_week: int
    minutes_before: int
    longest_s: float | None
    last_lesson: date | None
    again_n: int


def class_overview(store: LogStore, today: date) -> list[ClassRow]:
    """All students who are not archived, by name."""
    this, before = monday(today), monday(today) - WEEK
    minutes = _minutes_since(store, this, this + WEEK)
    earlier = _minutes_since(store, before, this)
    longest = _longest_since(store, today - 4 * WEEK)
    last = {
        r["student_id"]: r["on"]
        for r in store.rows(
            sa.select(lessons.c.student_id, sa.func.max(lessons.c.on).label("on")).group_by(
                lessons.c.student_id
            )
        )
    }
    again = {
        r["student_id"]: r["n"]
        for r in store.rows(
            sa.select(results.c.student_id, sa.func.count().label("n"))
            .where(results.c.on >= before, results.c.mark == "again")
            .group_by(results.c.student_id)
        )
    }
    found = []
    for student in store.all(Student, archived=False):
        week = minutes.get(student.id, (0, 0))
        found.append(
            ClassRow(
                student,
                week[0],
                week[1],
                earlier.get(student.id, (0, 0))[0],
                longest.get(student.id),
                last.get(student.id),
                again.get(student.id, 0),
            )
        )
    return found


def _minutes_since(store: LogStore, start: date, end: date) -> dict[str, tuple[int, int]]:
    """Minutes, and days with practice, of every student between two days."""
    s = sessions.c
    query = (
        sa.select(
            s.student_id,
            sa.func.sum(s.minutes).label("minutes"),
            sa.func.count(sa.distinct(s.on)).label("days"),
        )
        .where(s.on >= start, s.on < end)
        .group_by(s.student_id)
    )
    return {r["student_id"]: (int(r["minutes"]), int(r["days"])) for r in store.rows(query)}


def _longest_since(store: LogStore, start: date) -> dict[str, float]:
    m = measurements.c
    query = sa.select(m.student_id, m.value).where(
        m.on >= start,
        m.measure == Measure.LONGEST_BOW,
        m.student_id.in_(sa.select(students.c.id).where(~students.c.archived)),
    )
    values: dict[str, list[float]] = defaultdict(list)
    for row in store.rows(query):
        values[row["student_id"]].append(row["value"])
    return {key: median(found) for key, found in values.items()}
