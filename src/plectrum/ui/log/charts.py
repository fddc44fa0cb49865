"""What each picture of the log shows, and its table."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import date

from plectrum.core.instrument.specification import instrument
from plectrum.core.log.records import Student
from plectrum.core.log.store import LogStore
from plectrum.core.log.summaries import (
    PLACES_N,
    Series,
    class_overview,
    fault_places,
    longest_bows,
    minutes_by_week,
    tempos_reached,
)
from plectrum.core.wording import in_figures, in_words, say, tr
from plectrum.core.wording.dates import day_month_short, day_month_short_year

CHARTS = (
    tr("Longest bow over the weeks"),
    tr("Tempo reached, by section"),
    tr("Minutes practised a week"),
    tr("Where on the bow it goes wrong"),
    tr("In which bars it goes wrong"),
    tr("What goes wrong"),
    tr("The class this week"),
)


@dataclass(frozen=True)
class Chart:
    """A picture and its table: lines over days, or bars with names."""

    unit: str
    lines: tuple[Series, ...] = ()
    bars: tuple[tuple[str, float], ...] = ()
    goals: tuple[float, ...] = ()
    head: tuple[str, ...] = ()
    rows: tuple[tuple[str, ...], ...] = field(default_factory=tuple)

    @property
    def empty(self) -> bool:
        return not any(line.days for line in self.lines) and not any(v for _, v in self.bars)


def _lines(unit: str, lines: Sequence[Series], goals: Sequence[float] = ()) -> Chart:
    rows = tuple(
        (line.name, day_month_short_year(on), in_figures(value, ".3g"))
        for line in lines
        for on, value in zip(line.days, line.values, strict=True)
    )
    return Chart(
        unit, tuple(lines), goals=tuple(goals), head=(tr("line"), tr("day"), unit), rows=rows
    )


def _bars(unit: str, bars: Sequence[tuple[str, float]], head: tuple[str, ...]) -> Chart:
    return Chart(unit, bars=tuple(bars), head=head, rows=tuple((n, in_figures(v)) for n, v in bars))


def chart_of(store: LogStore, student: Student, number: int, today: date) -> Chart:
    """What a chart shows of a student, by its number in `CHARTS`."""
    if number == 0:
        return _lines(
            tr("seconds"), longest_bows(store, student, instrument(student.instrument).string_names)
        )
    if number == 1:
        found = tempos_reached(store, student)
        series = [
            Series(f"{t.piece}, {t.section}", t.reached.days, t.reached.values) for t in found
        ]
        return _lines(tr("beats a minute"), series, sorted({t.goal_bpm for t in found}))
    if number == 2:
        weeks = minutes_by_week(store, student)
        bars = [(day_month_short(d), v) for d, v in zip(weeks.days, weeks.values, strict=True)]
        return _bars(tr("minutes"), bars, (tr("week from"), tr("minutes")))
    if number == 6:
        return _class(store, today)
    faults = fault_places(store, student)
    if number == 3:
        names = [tr("frog"), *(f"{k}/10" for k in range(1, PLACES_N - 1)), tr("tip")]
        return _bars(tr("times"), list(zip(names, map(float, faults.by_place), strict=True)),
                     (tr("tenth of the bow"), tr("times")))  # fmt: skip
    if number == 4:
        return _bars(
            "times",
            [(say("bar {bar}", bar=b), n) for b, n in faults.by_bar],
            (tr("bar"), tr("times")),
        )
    return _bars(
        tr("times"), [(in_words(what), n) for what, n in faults.by_kind], (tr("what"), tr("times"))
    )


def _class(store: LogStore, today: date) -> Chart:
    rows = class_overview(store, today)
    return Chart(
        tr("minutes this week"),
        bars=tuple((r.student.name, float(r.minutes_week)) for r in rows),
        head=(
            tr("name"),
            tr("minutes"),
            tr("days"),
            tr("week before"),
            tr("longest bow"),
            tr("last lesson"),
            tr("again"),
        ),
        rows=tuple(
            (
                r.student.name + (tr(" (pain)") if r.student.pain_since else ""),
                str(r.minutes_week),
                str(r.days_week),
                str(r.minutes_before),
                say("{seconds:.1f} s", seconds=r.longest_s) if r.longest_s is not None else "–",
                day_month_short_year(r.last_lesson) if r.last_lesson is not None else "–",
                str(r.again_n),
            )
            for r in rows
        ),
    )
