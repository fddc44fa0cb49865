"""The tempo window: the slowest and fastest tempo at which this very plan stays playable."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import numpy as np
from numpy.typing import NDArray

from plectrum.core.planning import rules
from plectrum.core.planning.rules import CELLS_N
from plectrum.core.planning.strokes.amounts import tremolo_of
from plectrum.core.planning.strokes.planned import PlannedPart
from plectrum.core.planning.strokes.problem import RETAKE

SLOWEST_RATIO, FASTEST_RATIO = 0.1, 6.0
PRECISION = 1e-4  # of the ratio; below what a metronome shows
SPOKEN = 0.02  # own default: so little above what an arm speaks is not heard


class Limits:
    """The strokes of a plan as arrays, to be asked at any tempo.

    Bow places stay as they are; all times are divided by the tempo ratio.
    """

    def __init__(self, plan: PlannedPart) -> None:
        hair_mm = plan.choices.bow.hair_mm
        steps, units = plan.steps, plan.units
        self.player = plan.player
        self.own_mm_s = plan.speeds_mm_s
        lifts = [i for i, s in enumerate(steps) if i and s.join == RETAKE]
        self.free_s = np.array([units[i].free_s for i in lifts])
        ends = [steps[k].end for k in plan.unit_before]
        carried = [abs(steps[i].start - ends[i]) / CELLS_N * hair_mm for i in lifts]
        self.stroke_s = runs_of_strokes(plan)[0].min(initial=np.inf)
        self.needed_s = self.player.lift_s + np.array(carried) / self.player.travel_mm_s

    def speeds_mm_s(self, ratio: float) -> NDArray[np.float64]:
        """Speed of every unit at a tempo ratio, shape (N,)."""
        return self.own_mm_s * ratio

    def not_too_slow(self, ratio: float) -> bool:
        return bool(np.all(self.speeds_mm_s(ratio) >= self.player.slowest_mm_s))

    def not_too_fast(self, ratio: float) -> bool:
        fast = np.any(self.speeds_mm_s(ratio) > self.player.fastest_mm_s)
        hurried = np.any(self.free_s / ratio < self.needed_s - 1e-9)
        unspoken = ratio > self.stroke_s * self.player.strokes_per_s * (1 + SPOKEN)
        return not (fast or hurried or unspoken)


def runs_of_strokes(plan: PlannedPart) -> tuple[NDArray[np.float64], list[int]]:
    """Seconds that a stroke takes on the mean of each run of so many, by the first of the run; and
    the unit of every stroke.

    A rest gives time, and so does a slur; hooks are strokes, as the bow stops for them.
    """
    run_n = int(rules.RUN_N)
    strokes = list(_strokes(plan))
    units = [unit for unit, _, _ in strokes]
    if len(strokes) < run_n:
        return np.zeros(0), units
    _, begin, end = np.array(strokes).T
    found: NDArray[np.float64] = (end[run_n - 1 :] - begin[: len(begin) - run_n + 1]) / run_n
    return found, units


def _strokes(plan: PlannedPart) -> Iterator[tuple[int, float, float]]:
    """The unit of each stroke, and when it begins and ends; a tremolo that is not measured may be
    as quick as it is."""
    for unit in plan.units:
        a, b = plan.part.notes[unit.first], plan.part.notes[unit.last]
        n, counted = tremolo_of(a)
        step_s = (b.end_s - a.onset_s) / (n if counted else 1)
        for k in range(n if counted else 1):
            yield unit.index, a.onset_s + k * step_s, a.onset_s + (k + 1) * step_s


def _edge(good: Callable[[float], bool], inside: float, outside: float) -> float:
    """Bisect between a ratio that is good and one that is not; the last good one."""
    if good(outside):
        return outside
    while abs(outside - inside) > PRECISION * inside:
        middle = (inside + outside) / 2
        inside, outside = (middle, outside) if good(middle) else (inside, middle)
    return inside


def tempo_window(plan: PlannedPart) -> tuple[float, float] | None:
    """(slowest, fastest) tempo in beats of the tempo mark a minute, by bisection.

    Returns:
        None if the plan breaks a limit of the player at every tempo, or has no strokes.
    """
    if not plan.units:
        return None
    limits = Limits(plan)
    slowest = _edge(limits.not_too_slow, FASTEST_RATIO, SLOWEST_RATIO)
    fastest = _edge(limits.not_too_fast, SLOWEST_RATIO, FASTEST_RATIO)
    if slowest > fastest:
        return None
    bpm = plan.part.tempo.bpm
    return slowest * bpm, fastest * bpm
