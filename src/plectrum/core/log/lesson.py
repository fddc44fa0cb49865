"""The lesson sheet: what was given, done and measured since the last lesson, and what is next."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

from plectrum.core.advice.care import PAIN_TEXT
from plectrum.core.instrument.specification import instrument, string_words
from plectrum.core.log.limits import Proposal
from plectrum.core.log.records import (
    UNITS,
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
from plectrum.core.wording import in_figures, in_words, say, several, tr
from plectrum.core.wording.dates import day_month

FIRST = timedelta(weeks=4)  # looked back at before the first lesson
LOOK_BACK, ONE_DAY = timedelta(weeks=52), timedelta(days=1)
STALE = timedelta(weeks=4)  # a measurement older than this is worth taking anew
USUAL_MEASURES = (Measure.LONGEST_BOW, Measure.PLACEMENTS, Measure.LEVEL_CALLS)
CARE = timedelta(weeks=8)  # after so long the hair is asked after (own default)


@dataclass(frozen=True)
class LessonSheet:
    """What stands on the sheet, as lines."""

    student: Student
    since: date
    given: tuple[str, ...]
    done: tuple[str, ...]
    went: tuple[str, ...]
    measured: tuple[str, ...]
    next: tuple[str, ...]
    last_note: str


def lesson_sheet(
    store: LogStore, student: Student, today: date, proposed: Sequence[Proposal] = ()
) -> LessonSheet:
    """The sheet of a student for a lesson on a day.

    Args:
        proposed: limits that the measurements propose.
    """
    own: dict[str, Any] = {"student_id": student.id}
    lessons = store.all(Lesson, since=today - LOOK_BACK, until=today - ONE_DAY, **own)
    last = lessons[-1] if lessons else None
    since = last.on if last is not None else today - FIRST
    pieces = {p.id: p.title for p in store.all(Piece)}
    given = store.all(PlanGiven, since=since, **own)
    sessions = store.all(Practised, since=since, until=today, **own)
    steps = store.all(StepDone, since=since, until=today, **own)
    measured = store.all(Measured, since=today - LOOK_BACK, **own)
    return LessonSheet(
        student,
        since,
        tuple(f"{pieces.get(x.piece_id, tr('a piece'))}, {day_month(x.on)}" for x in given),
        _done(sessions),
        _went(steps),
        _measured_lines(student, measured, since),
        _next(student, steps, measured, proposed, today),
        last.next_note if last is not None else "",
    )


def _done(sessions: Sequence[Practised]) -> tuple[str, ...]:
    if not sessions:
        return (tr("no practice noted"),)
    days = len({x.on for x in sessions})
    minutes = sum(x.minutes for x in sessions)
    lines = [
        several("{n} day, {minutes} minutes", "{n} days, {minutes} minutes", days, minutes=minutes)
    ]
    lines += [say("{day}: something hurt", day=day_month(x.on)) for x in sessions if x.pain]
    lines += [f"{day_month(x.on)}: {x.note}" for x in sessions if x.note]
    return tuple(lines)


def _latest(steps: Sequence[StepDone]) -> dict[tuple[str | None, str], StepDone]:
    return {(x.piece_id, x.key): x for x in sorted(steps, key=lambda x: (x.on, x.id))}


def _went(steps: Sequence[StepDone]) -> tuple[str, ...]:
    latest = _latest(steps).values()
    good = [x.title for x in latest if x.mark == "good"]
    again = [x.title for x in latest if x.mark == "again"]
    lines = []
    if good:
        lines.append(say("went well: {some}", some=_some(good)))
    if again:
        lines.append(say("not yet: {some}", some=_some(again)))
    return tuple(lines) or (tr("no steps noted"),)


def _some(names: Sequence[str], most: int = 4) -> str:
    more = len(names) - most
    return "; ".join(names[:most]) + (say("; and {count} more", count=more) if more > 0 else "")


def _measured_lines(student: Student, measured: Sequence[Measured], since: date) -> tuple[str, ...]:
    """Each thing measured since, against the time before."""
    names = instrument(student.instrument).string_names
    groups: dict[tuple[str, int | None, str | None, str], list[Measured]] = defaultdict(list)
    for m in measured:
        groups[m.measure, m.string, m.direction, m.section].append(m)
    lines = []
    for (measure, string, direction, section), rows in groups.items():
        if rows[-1].on < since:
            continue
        place = " ".join(
            p for p in (
                string_words(names[string]) if string is not None and string < len(names) else "",
                in_words(direction or ""), section,
            ) if p
        )  # fmt: skip
        unit = in_words(UNITS[Measure(measure)]) if measure in set(Measure) else ""
        before = [r for r in rows[:-1] if r.on < rows[-1].on]
        change = say(", before {value:.3g}", value=before[-1].value) if before else ""
        head = f"{in_words(measure)}, {place}" if place else in_words(measure)
        note = f" ({rows[-1].note})" if rows[-1].note else ""
        lines.append(f"{head}: {in_figures(rows[-1].value, '.3g')} {unit}".rstrip() + change + note)
    return tuple(lines) or (tr("nothing measured"),)


def _next(
    student: Student,
    steps: Sequence[StepDone],
    measured: Sequence[Measured],
    proposed: Sequence[Proposal],
    today: date,
) -> tuple[str, ...]:
    lines = []
    if student.pain_since is not None:
        lines.append(
            say(
                "since {day} something hurts. {pain_text}",
                day=day_month(student.pain_since),
                pain_text=PAIN_TEXT,
            )
        )
    again = [x.title for x in _latest(steps).values() if x.mark == "again"]
    lines += [say("again: {title}", title=title) for title in again[:4]]
    lines += [
        say("new limit: {text} ({evidence})", text=p.text, evidence=p.evidence) for p in proposed
    ]
    for measure in USUAL_MEASURES:
        days = [m.on for m in measured if m.measure == measure]
        if not days or max(days) < today - STALE:
            lines.append(say("measure: {measure}", measure=measure))
    cared = [m.on for m in measured if m.measure in (Measure.ROSIN, Measure.REHAIR)]
    if cared and max(cared) < today - CARE:
        lines.append(tr("look at the hair of the bow, and at the rosin"))
    return tuple(lines) or (tr("on with the next step"),)
