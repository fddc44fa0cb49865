"""The week: steps, drills and review spread over the days, never more than a day's minutes.

The order of the ladder is kept within each section, and two sections take turns. Every practice
day begins with a drill, goes on with what did not go well, then with new steps, and ends with
review. What went well is reviewed after one, three and seven practice days; what did not comes
back on the next. The shares and distances are own defaults; five days a week and ten to fifteen
minutes for young beginners are common practice.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from enum import StrEnum

from plectrum.core.document.homework import Outcome, Result, WeekSettings
from plectrum.core.wording import say

DRILL_SHARE = 0.25  # of a day, at most, for the drill it begins with
REVIEW_AFTER = (1, 3, 7)  # practice days
REVIEW_MINUTES = 1
SECTIONS_AT_ONCE = 2
DRILL_PREFIX = "drill."  # of the keys of exercises among the tasks


class TaskKind(StrEnum):
    """What a task is."""

    STEP = "step"
    DRILL = "drill"
    REVIEW = "review"


@dataclass(frozen=True, slots=True)
class Task:
    """Something to practise. `group` is its section; tasks of a group keep their order. `short`
    is its title for where the sections are named beside it; it stays for so many `days`."""

    key: str
    kind: TaskKind
    title: str
    minutes: int
    group: str = ""
    short: str = ""
    days: int = 1


@dataclass(frozen=True, slots=True)
class Entry:
    """A task on a day. `part` of `parts` where one does not fit a day; `again` where it comes
    back because it did not go well; `day` counts where it stays for several."""

    task: Task
    minutes: int
    kind: TaskKind
    part: int = 1
    parts: int = 1
    again: bool = False
    day: int = 1

    @property
    def title(self) -> str:
        return self._titled(self.task.title)

    @property
    def short(self) -> str:
        return self._titled(self.task.short or self.task.title)

    def _titled(self, title: str) -> str:
        if self.kind is TaskKind.REVIEW:
            title = say("review {title}", title=title)
        tail = (
            say(" ({part} of {parts})", part=self.part, parts=self.parts) if self.parts > 1 else ""
        )
        if self.task.days > 1 and self.kind is TaskKind.STEP:
            tail += say(" (day {day} of {days})", day=self.day, days=self.task.days)
        return f"{title}{tail}"


@dataclass(frozen=True, slots=True)
class Day:
    """One day of practice."""

    on: date
    entries: tuple[Entry, ...]

    @property
    def minutes(self) -> int:
        return sum(entry.minutes for entry in self.entries)


@dataclass
class _Queue:
    """What is still to be done of one section."""

    waiting: list[Entry] = field(default_factory=list)
    learnt: list[Task] = field(default_factory=list)


def schedule(
    tasks: Sequence[Task],
    settings: WeekSettings,
    results: Mapping[str, Result] | None = None,
    today: date | None = None,
    first: Sequence[Task] = (),
    weeks: int = 1,
) -> tuple[Day, ...]:
    """The days until every task has had its turn, at least to the end of the first weeks.

    Args:
        tasks: steps and drills, in the order in which they are to come.
        results: how tasks went that have been done, by key.
        today: days before it are past; what is planned begins with it.
        first: what every day begins with, in place of a drill; it is done whole.
        weeks: so many at least.
    """
    return tuple(_Scheduler(tasks, settings, dict(results or {}), today, first, weeks).days())


# Drills that went badly come first, those that went well last.
_DRILL_RANK = {Outcome.AGAIN: 0, None: 1, Outcome.GOOD: 2}


class _Scheduler:
    """Fills one day after the other."""

    def __init__(
        self,
        tasks: Sequence[Task],
        settings: WeekSettings,
        results: dict[str, Result],
        today: date | None,
        first: Sequence[Task],
        weeks: int,
    ) -> None:
        self.settings, self.results = settings, results
        self.start = max(settings.start, today or settings.start)
        self.first = [Entry(task, task.minutes, task.kind) for task in first]
        self.ends = settings.start + timedelta(days=7 * weeks)
        limit = settings.minutes_a_day
        self.drill_limit = max(1, int(limit * DRILL_SHARE))
        steps = [t for t in tasks if t.kind is not TaskKind.DRILL]
        drills = [t for t in tasks if t.kind is TaskKind.DRILL and not first]
        drills.sort(key=lambda t: _DRILL_RANK[self._mark(t)])
        self.drills = [e for t in drills for e in _pieces(t, self.drill_limit)]
        self.order = {t.key: k for k, t in enumerate(tasks)}
        self.drill_at = 0
        taken = sum(e.minutes for e in self.first)
        room = max(1, limit - (self.drill_limit if self.drills else taken))
        self.queues: dict[str, _Queue] = {}
        self.due: list[tuple[int, int, Task]] = []  # practice day, how many reviews so far
        self.again: list[Entry] = []
        self.staying: list[Entry] = []  # what stays from the day before
        for task in steps:
            self._sort_in(task, room)
        self.turn = -1

    def _mark(self, task: Task) -> Outcome | None:
        result = self.results.get(task.key)
        return result.mark if result is not None else None

    def _sort_in(self, task: Task, room: int) -> None:
        """A task to be learnt, to come back, or to be reviewed, as it went last time."""
        queue = self.queues.setdefault(task.group, _Queue())
        result = self.results.get(task.key)
        if result is None:
            queue.waiting += _pieces(task, room)
        elif result.mark is Outcome.AGAIN:
            self.again += [replace(e, again=True) for e in _pieces(task, room)]
        else:
            queue.learnt.append(task)
            self.due.append((REVIEW_AFTER[0] - 1, 0, task))

    # days

    def days(self) -> Iterator[Day]:
        for number, on in enumerate(self.settings.practice_days(self.start)):
            served = not self._left() and self.drill_at >= len(self.drills)
            if served and on >= self.ends:
                return
            yield Day(on, tuple(self._day(number)))

    def _left(self) -> bool:
        return bool(self.again or self.staying) or any(q.waiting for q in self.queues.values())

    def _day(self, number: int) -> Iterator[Entry]:
        room = self.settings.minutes_a_day - sum(e.minutes for e in self.first)
        yield from self.first
        if self.drills:
            drill = self.drills[self.drill_at % len(self.drills)]
            self.drill_at += 1
            room -= drill.minutes
            yield drill
        for entry in self._stays(number, room):
            room -= entry.minutes
            yield entry
        reviews = self._reviews(number)
        kept = min(len(reviews), max(1, room // 4)) * REVIEW_MINUTES if reviews else 0
        for entry in self._new(number, room, room - kept if self._left() else 0):
            room -= entry.minutes
            yield entry
        for key, done, task in reviews:
            if room < REVIEW_MINUTES:
                break
            self.due.remove((key, done, task))
            if done + 1 < len(REVIEW_AFTER):
                self.due.append((number + REVIEW_AFTER[done + 1], done + 1, task))
            room -= REVIEW_MINUTES
            yield Entry(task, REVIEW_MINUTES, TaskKind.REVIEW)

    def _stays(self, number: int, room: int) -> Iterator[Entry]:
        """What has been begun and stays for some days."""
        left, self.staying = self.staying, []
        for entry in left:
            if entry.minutes > room:
                self.staying.append(entry)
                continue
            room -= entry.minutes
            today = replace(entry, day=entry.day + 1)
            self._learnt(today, number)
            yield today

    def _reviews(self, number: int) -> list[tuple[int, int, Task]]:
        """Reviews that are due, of each section only the furthest step."""
        last: dict[str, tuple[int, int, Task]] = {}
        for row in sorted(self.due, key=lambda r: self.order[r[2].key]):
            if row[0] <= number:
                last[row[2].group] = row
        kept = list(last.values())
        for row in [r for r in self.due if r[0] <= number and r not in kept]:
            self.due.remove(row)
        return kept

    def _new(self, number: int, room: int, wanted: int) -> Iterator[Entry]:
        """What came out badly, then new steps: sections take turns, two at a time."""
        for entry in [e for e in self.again if e.minutes <= room]:
            if entry.minutes > room:
                break
            self.again.remove(entry)
            room -= entry.minutes
            wanted -= entry.minutes
            self._learnt(entry, number)
            yield entry
        full: set[str] = set()
        given_n = 0
        while (queue := self._next_queue(full)) is not None:
            group, waiting = queue
            first = waiting[0]
            if first.minutes > room or (given_n and first.minutes > wanted):
                full.add(group)
                continue
            waiting.pop(0)
            given_n += 1
            room -= first.minutes
            wanted -= first.minutes
            self._learnt(first, number)
            yield first

    def _open(self) -> list[tuple[str, list[Entry]]]:
        """The sections that are being learnt: the first two with steps left."""
        left = [(g, q.waiting) for g, q in self.queues.items() if q.waiting]
        return left[:SECTIONS_AT_ONCE]

    def _next_queue(self, full: set[str]) -> tuple[str, list[Entry]] | None:
        choices = [row for row in self._open() if row[0] not in full]
        if not choices:
            return None
        self.turn += 1
        return choices[self.turn % len(choices)]

    def _learnt(self, entry: Entry, number: int) -> None:
        if entry.part < entry.parts:
            return
        if entry.day < entry.task.days and entry.parts == 1:
            self.staying.append(entry)
        else:
            self.due.append((number + REVIEW_AFTER[0], 0, entry.task))


def _pieces(task: Task, room: int) -> list[Entry]:
    """A task as one entry, or as several where it is longer than there is room on a day."""
    parts = -(-task.minutes // room)
    shares = [task.minutes // parts + (k < task.minutes % parts) for k in range(parts)]
    return [Entry(task, minutes, task.kind, k, parts) for k, minutes in enumerate(shares, start=1)]


def week_of(days: Sequence[Day], on: date) -> tuple[Day, ...]:
    """The practice days of the week that a date lies in."""
    monday = on - timedelta(days=on.weekday())
    return tuple(d for d in days if monday <= d.on < monday + timedelta(days=7))
