"""How well a followed bow kept to the plan, bar by bar.

The scores are own defaults: they are to show what to work on, not to grade a child.
"""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from plectrum.core.playing.motion import BowState, Motion
from plectrum.core.tracking.sensor import BowSample

# What counts for how much, from which error on points are lost, and at which all are.
PLACE, PLACE_FREE, PLACE_ALL = 0.45, 0.03, 0.25
WAY = 0.25
LANE, LANE_FREE, LANE_ALL = 0.15, 0.4, 2.0
LEVEL, LATE_FREE, LATE_ALL = 0.15, 0.02, 0.35
STANDING_MM_S = 15.0  # slower than this the bow counts as standing
# From here on a fault is named.
LEADS, CREEPS, DRIFTS, LATE_SHARE, WRONG_WAY = 0.05, 0.06, 0.6, 0.05, 0.15
ON_LEVEL = 0.75

# What is seen, as the log keeps it.
FAULTS = (
    "too fast at the start of the bow", "behind, too little bow", "creeping to the tip",
    "creeping to the frog", "drifting to the fingerboard", "drifting to the bridge",
    "late at the string crossing", "the other way round",
)  # fmt: skip

Floats = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class BarScore:
    """One bar of one turn: 0 to 100, and what was seen, the worst first.

    `place` is where on the bow, as a fraction of the hair, it was farthest from its plan.
    """

    bar_index: int
    turn: int
    score: int
    faults: tuple[str, ...]
    place: float = 0.0


def score_bars(motion: Motion, samples: Iterable[BowSample]) -> tuple[BarScore, ...]:
    """The scores of all bars that samples lie in, in the order of time.

    Args:
        samples: with times since the start of the performance.
    """
    groups: dict[tuple[int, int], list[tuple[BowSample, BowState]]] = defaultdict(list)
    performance = motion.performance
    onsets = np.array([float(bar.onset_q) for bar in performance.plan.part.bars])
    for sample in samples:
        if performance.fold(sample.at_s) < performance.music_s:
            continue
        state = motion.at(sample.at_s)
        bar = max(0, int(np.searchsorted(onsets, state.at_q + 1e-9)) - 1)
        groups[state.turn, bar].append((sample, state))
    return tuple(_score(bar, turn, seen) for (turn, bar), seen in groups.items())


def _score(bar: int, turn: int, seen: list[tuple[BowSample, BowState]]) -> BarScore:
    off = np.array([s.position - p.position for s, p in seen])
    way = np.array([math.copysign(1.0, p.speed_mm_s) if p.moving else 0.0 for _, p in seen])
    speed = np.array([s.speed_mm_s for s, _ in seen])
    lanes = np.array([s.lane - p.lane for s, p in seen])
    levels = np.array([abs(s.level - p.level) for s, p in seen])
    near = _kept_of(float(np.mean(np.abs(off))), PLACE_FREE, PLACE_ALL)
    right_way = _right_way(way, speed)
    lane = 1.0 if np.all(np.isnan(lanes)) else _kept_of(
        float(np.nanmean(np.abs(lanes))), LANE_FREE, LANE_ALL
    )  # fmt: skip
    late = 0.0 if np.all(np.isnan(levels)) else float(np.nanmean(levels >= ON_LEVEL))
    level = _kept_of(late, LATE_FREE, LATE_ALL)
    score = PLACE * near + WAY * right_way + LANE * lane + LEVEL * level
    faults = _faults(off, way, lanes, late, 1.0 - right_way)
    place = seen[int(np.argmax(np.abs(off)))][0].position
    return BarScore(bar, turn, round(100 * score), faults, min(1.0, max(0.0, place)))


def _kept_of(error: float, free: float, all_lost: float) -> float:
    return min(1.0, max(0.0, 1.0 - (error - free) / (all_lost - free)))


def _right_way(way: Floats, speed: Floats) -> float:
    """The part of the time in which the bow goes the planned way; where the plan's bow stands, it
    may do as it likes."""
    moving = (way != 0) & ~np.isnan(speed)
    if not moving.any():
        return 1.0
    going = np.where(np.abs(speed) < STANDING_MM_S, 0.0, np.sign(speed))
    wrong = going[moving] == -way[moving]
    return float(1.0 - np.mean(wrong))


def _faults(
    off: Floats, way: Floats, lanes: Floats, late: float, wrong_way: float
) -> tuple[str, ...]:
    moving = way != 0
    lead = float(np.mean(off[moving] * way[moving])) if moving.any() else 0.0
    drift = 0.0 if np.all(np.isnan(lanes)) else float(np.nanmean(lanes))
    creep = float(np.mean(off))
    how_much = (
        lead / LEADS, -lead / LEADS, creep / CREEPS, -creep / CREEPS, drift / DRIFTS,
        -drift / DRIFTS, late / LATE_SHARE, wrong_way / WRONG_WAY,
    )  # fmt: skip
    seen = sorted(zip(how_much, FAULTS, strict=True), reverse=True)
    return tuple(fault for much, fault in seen if much > 1.0)
