"""Measuring: the tries of a stop-watch, and what a followed bow tells by itself."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from datetime import date
from itertools import pairwise
from statistics import median

from plectrum.core.errors import PlectrumError
from plectrum.core.log.records import BOUNDS, UNITS, Measure, Measured
from plectrum.core.score.model import Direction
from plectrum.core.tracking.sensor import BowSample
from plectrum.core.wording import say, tr

STANDING_MM_S = 15.0  # slower than this a followed bow stands
LEAST_BOW, LEAST_S = 0.6, 2.5  # of the hair, and long: other strokes are no longest bows
LONGER = 1.1  # the next longest bow against the last
RUN_N = 8  # strokes in a row that are counted together (own default)
TOP_SHARE = 0.9  # the speed that a stroke reaches nine tenths of the time below


def check_value(measure: Measure, value: float) -> None:
    """Refuse what cannot be.

    Raises:
        PlectrumError: out of the measure's bounds.
    """
    low, high = BOUNDS[measure]
    if not (math.isfinite(value) and low <= value <= high):
        unit = UNITS[measure]
        raise PlectrumError(
            say("{measure}: {value:g} {unit} cannot be", measure=measure, value=value, unit=unit),
            remedy=say("Between {low:g} and {high:g} {unit}", low=low, high=high, unit=unit),
        )


def longest_bow_aim_s(
    measured: Iterable[Measured], string: int, direction: str, usable_mm: float, slowest_mm_s: float
) -> float:
    """How long the next longest bow is to be: a tenth longer than the last one of this string and
    way (common practice), or what the player's slowest bow gives where none is measured.

    Args:
        measured: of the student, in the order of days.
        usable_mm: of the bow; slowest_mm_s: the slowest clean speed known.
    """
    last = [
        m for m in measured
        if m.measure == Measure.LONGEST_BOW and m.string == string and m.direction == direction
    ]  # fmt: skip
    aim_s = LONGER * last[-1].value if last else usable_mm / slowest_mm_s
    return min(aim_s, BOUNDS[Measure.LONGEST_BOW][1])


@dataclass
class StopWatch:
    """Several tries of one thing by one key."""

    tries: list[float] = field(default_factory=list)
    since_s: float | None = None

    @property
    def running(self) -> bool:
        return self.since_s is not None

    def press(self, now_s: float) -> float | None:
        """Start, or stop and keep the try; what was kept."""
        if self.since_s is None:
            self.since_s = now_s
            return None
        passed_s = now_s - self.since_s
        self.since_s = None
        self.tries.append(passed_s)
        return passed_s

    def drop(self) -> None:
        """Take the last try back, or stop without keeping it."""
        if self.since_s is not None:
            self.since_s = None
        elif self.tries:
            self.tries.pop()

    @property
    def median(self) -> float | None:
        return median(self.tries) if self.tries else None

    @property
    def best(self) -> float | None:
        return max(self.tries, default=None)


@dataclass(frozen=True, slots=True)
class StrokeSeen:
    """One stroke of a followed bow. Places are fractions of the hair."""

    direction: Direction
    seconds: float
    start: float
    end: float
    top_mm_s: float


def strokes_seen(samples: Iterable[BowSample], hair_mm: float) -> tuple[StrokeSeen, ...]:
    """The strokes in a run of samples: from one standstill or turn to the next."""
    strokes: list[StrokeSeen] = []
    run: list[BowSample] = []
    way = 0
    before: BowSample | None = None
    for sample in samples:
        speed = _speed(before, sample, hair_mm)
        now = 0 if abs(speed) < STANDING_MM_S else int(math.copysign(1, speed))
        if now != way:
            _end(run, way, hair_mm, strokes)
            run = [before] if before is not None and now else []
            way = now
        if way:
            run.append(sample)
        before = sample
    _end(run, way, hair_mm, strokes)
    return tuple(strokes)


def _speed(before: BowSample | None, sample: BowSample, hair_mm: float) -> float:
    if not math.isnan(sample.speed_mm_s):
        return sample.speed_mm_s
    if before is None or sample.at_s <= before.at_s:
        return 0.0
    return (sample.position - before.position) * hair_mm / (sample.at_s - before.at_s)


def _end(run: Sequence[BowSample], way: int, hair_mm: float, strokes: list[StrokeSeen]) -> None:
    if way == 0 or len(run) < 2:
        return
    speeds = sorted(abs(_speed(a, b, hair_mm)) for a, b in pairwise(run))
    strokes.append(
        StrokeSeen(
            Direction.DOWN if way > 0 else Direction.UP,
            run[-1].at_s - run[0].at_s,
            run[0].position,
            run[-1].position,
            speeds[min(len(speeds) - 1, int(TOP_SHARE * len(speeds)))],
        )
    )


def measured_by_bow(
    strokes: Sequence[StrokeSeen],
    measure: Measure,
    student_id: str,
    on: date,
    string: int | None = None,
) -> list[Measured]:
    """What strokes tell of the longest bow, each way, of the fastest, or of the quickest strokes;
    only of what was asked, as a bow drawn for the one says nothing of the other. Nothing where no
    stroke is long enough, or too few are played in a row."""
    note = tr("followed bow")
    return [
        Measured(student_id, on, measure, median(tries), tries, string, direction, note=note)
        for direction, tries in _tries_by(strokes, measure)
        if tries
    ]


def _tries_by(
    strokes: Sequence[StrokeSeen], measure: Measure
) -> list[tuple[str | None, tuple[float, ...]]]:
    """The tries that strokes are, each way where that counts."""
    if measure is Measure.STROKES:
        runs = [strokes[k : k + RUN_N] for k in range(0, len(strokes) - RUN_N + 1, RUN_N)]
        return [(None, tuple(round(RUN_N / sum(s.seconds for s in run), 2) for run in runs))]
    whole = [s for s in strokes if abs(s.end - s.start) >= LEAST_BOW]
    if measure is Measure.FASTEST_BOW:
        return [(None, tuple(round(s.top_mm_s, 1) for s in whole))]
    long = [s for s in whole if s.seconds >= LEAST_S]
    return [
        (str(way), tuple(round(s.seconds, 3) for s in long if s.direction is way))
        for way in Direction
    ]
