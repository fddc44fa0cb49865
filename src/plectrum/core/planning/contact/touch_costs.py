"""What every contact point and weight costs at every frame, and what moving them costs.

Loudness given = 20·log10(v / (x · what sounds mf)) + 10·log10(L / L₀) + what long notes carry +
4·(share − neutral) dB: the level of a string follows v / x (published), the rest are own defaults.
Everything is in whole millionths, so that the least is exact.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from functools import lru_cache
from math import log

import numpy as np
from numpy.typing import NDArray

from plectrum.core.instrument.specification import FRICTION_DIFFERENCE
from plectrum.core.planning import rules
from plectrum.core.planning.contact import kernels
from plectrum.core.planning.contact.frames import Frames
from plectrum.core.planning.contact.limits import (
    LANES_N,
    MIDDLE_LANE,
    force_max_n,
    force_min_n,
    lane_centre_mm,
)
from plectrum.core.planning.strokes.amounts import string_gain
from plectrum.core.planning.strokes.planned import PlannedPart
from plectrum.core.player.school import AmountSchool, DynamicsSchool

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
QUARTERS = 4  # places in a lane
WEIGHT_STEP = 0.14  # neper
WEIGHTS = np.arange(-16, 14) * WEIGHT_STEP  # around the mean weight at rest of the strings
_PINNED = 1e4  # cost per lane away from a pinned one
_FARTHEST = 1.8  # times the comfortable speed that a school may mean by mf


def quarters_allowed(plan: PlannedPart, pinned: Ints) -> tuple[int, ...]:
    """The contact points to choose from, in quarters of a lane; whole lanes are multiples of 4."""
    one = plan.choices.school.dynamics is DynamicsSchool.AMOUNT
    return _quarters(plan.player.lanes, one, tuple(sorted(set(pinned[pinned > 0].tolist()))))


@lru_cache(maxsize=64)
def _quarters(lanes: Iterable[int], one: bool, pinned: tuple[int, ...]) -> tuple[int, ...]:
    usable = sorted(set(lanes))
    if one:
        usable = [min(usable, key=lambda k: (abs(k - MIDDLE_LANE), k))]
    fine = range(QUARTERS * usable[0], QUARTERS * usable[-1] + 1)
    kept = {q for q in fine if (q + QUARTERS // 2) // QUARTERS in usable}
    return tuple(sorted(kept | {QUARTERS * lane for lane in pinned}))


def nearest_lane(quarters: Ints) -> Ints:
    """The lane that a contact point lies in."""
    lane: Ints = (quarters + QUARTERS // 2) // QUARTERS
    return lane


@dataclass(frozen=True)
class Playable:
    """What every frame can give: rows are frames, columns contact points.

    Attributes:
        low_n, high_n: Schelleng's limits, shape (F, X).
        given_db: loudness at neutral weight, shape (F, X).
        rest_n: weight at rest, shape (F,); neutral: where that lies in the window at home.
        weights_n: the weights to choose from, shape (U,).
        reference_per_mm: speed over contact in m/s per mm that sounds mf.
    """

    contact_mm: Floats
    low_n: Floats
    high_n: Floats
    given_db: Floats
    rest_n: Floats
    neutral: Floats
    weights_n: Floats
    reference_per_mm: float

    def some(self, frames: Ints) -> Playable:
        """The same of some frames."""
        return replace(self, **{name: getattr(self, name)[frames] for name in _OF_FRAMES})

    def put(self, at: Ints, part: Playable) -> None:
        """Write what other frames can give over some."""
        for name in _OF_FRAMES:
            getattr(self, name)[at] = getattr(part, name)


_OF_FRAMES = ("low_n", "high_n", "given_db", "rest_n", "neutral")


def playable(plan: PlannedPart, f: Frames, quarters: Ints) -> Playable:
    """What each contact point gives at each frame."""
    own = plan.instrument
    x = lane_centre_mm(own, quarters / QUARTERS)
    beta = x[None, :] / f.length_mm[:, None]
    z, v = f.impedance[:, None], f.speed_m_s[:, None]
    reference_m_s = _reference_m_s(plan, f)
    middle_mm = float(lane_centre_mm(own, np.array(float(MIDDLE_LANE))))
    per_mm = reference_m_s / middle_mm
    given = 20 * np.log10(v / (x[None, :] * per_mm * f.string_gain[:, None]))
    given += (20 * rules.REGISTER * np.log10(f.length_mm / own.string_length_mm) + f.even_db)[
        :, None
    ]
    rest, neutral, mean = _rest(plan, f, reference_m_s, middle_mm / own.string_length_mm)
    return Playable(
        x, force_min_n(z, v, beta, own.loss_kg_s), force_max_n(z, v, beta), given, rest, neutral,
        mean * np.exp(WEIGHTS), per_mm,
    )  # fmt: skip


def _reference_m_s(plan: PlannedPart, f: Frames) -> float:
    """The speed that sounds mf in the middle lane: the comfortable one, or in the other amount
    schools what such a school gives on the average."""
    comfortable = plan.player.comfortable_mm_s / 1000
    if plan.choices.school.amount is AmountSchool.STEADY or not len(f.row):
        return comfortable
    usual = np.log(f.speed_m_s / f.string_gain) - np.log(10) * (f.level_db / 40 - f.even_db / 20)
    mean = float(np.exp((usual * f.seconds).sum() / f.seconds.sum()))
    return min(comfortable * _FARTHEST, max(comfortable / _FARTHEST, mean))


def _rest(
    plan: PlannedPart, f: Frames, speed_m_s: float, beta: float
) -> tuple[Floats, Floats, float]:
    """The weight at rest on each frame's string, in N, where it lies in the window there, and
    the mean of all strings.

    A heavier string takes more; part of the difference the hand evens out."""
    own = plan.instrument

    def window(z: Floats, v: Floats) -> tuple[Floats, Floats]:
        low = z**2 * v / (2 * own.loss_kg_s * FRICTION_DIFFERENCE * beta**2)
        return np.log(low), np.log(4 * own.loss_kg_s * beta / z)

    strings = np.array(own.impedances_kg_s)
    gains = np.array([string_gain(own, (s,)) for s in range(own.strings_n)])
    own_low, own_width = window(strings, speed_m_s * gains)
    evened = float((own_low + rules.NEUTRAL * own_width).mean())
    low, width = window(f.impedance, speed_m_s * f.string_gain)
    kept = rules.STRING_KEPT
    rest = kept * (low + rules.NEUTRAL * width) + (1 - kept) * evened
    return np.exp(rest), np.clip((rest - low) / width, 0.3, 0.52), float(np.exp(evened))


def inputs_of(f: Frames) -> Floats:
    """All of the frames that their own costs depend on, a row each."""
    return np.stack([getattr(f, name) for name in _INPUTS], axis=1).astype(float)


_INPUTS = (
    "seconds", "level_db", "lean", "speed_m_s", "impedance", "length_mm", "string_gain", "even_db",
    "high", "pinned_lane", "most_n",
)  # fmt: skip


def own_costs(plan: PlannedPart, f: Frames, p: Playable, quarters: Ints) -> Ints:
    """Cost of every contact point and weight at every frame by itself, shape (F, X, U)."""
    lane = quarters / QUARTERS
    walls_s = np.maximum(f.seconds, rules.WALL_S)[:, None]
    fixed = f.seconds[:, None] * _places(plan, f, lane) + _PINNED * _unpinned(f, lane)
    low, high = rules.WINDOW
    soft, loud = rules.LOUD, rules.LOUD * rules.TOO_LOUD_SHARE
    numbers = [rules.WEIGHT_DB / 4, rules.LOUD_KNEE, soft, loud, rules.OFF_NEUTRAL / 0.2**2,
               low, high, rules.MILLIONTHS]  # fmt: skip
    return kernels.own_costs(
        fixed,
        _weights(plan, f, p, walls_s),
        np.log(p.low_n),
        np.log(p.high_n / p.low_n),
        np.log(p.weights_n),
        (p.given_db - f.level_db[:, None]) / 4,
        np.stack([p.neutral, f.seconds, walls_s[:, 0] * rules.WALL / 0.1**2], axis=1),
        np.array(numbers, dtype=float),
    )


def _whole(costs: Floats) -> Ints:
    return np.rint(costs * rules.MILLIONTHS).astype(np.int64)


def _places(plan: PlannedPart, f: Frames, lane: Floats) -> Floats:
    """Cost of each place for a second: away from home, between lanes, at the edges; above the third
    position the string is short, and home a lane nearer the bridge (common practice)."""
    high = (f.length_mm / plan.instrument.string_length_mm) ** rules.REGISTER
    home = 0.5 + (MIDDLE_LANE - 0.5) * high
    edge = np.maximum(np.maximum(1.5 - lane, lane - (LANES_N - 0.5)), 0.0)
    between = lane - np.floor(lane + 0.5)
    fixed = rules.LANE_EDGE * edge**2 + rules.LANE_SNAP * between**2
    costs: Floats = rules.HOME * (lane[None, :] - home[:, None]) ** 2 + fixed[None, :]
    nearer = np.maximum(lane[None, :] - (home[:, None] - 1.0), 0.0)
    costs += rules.HIGH_HOME * f.high[:, None] * nearer**2
    return costs


def _unpinned(f: Frames, lane: Floats) -> Floats:
    """How far each place lies from the lane a teacher pinned."""
    away = np.abs(lane[None, :] - f.pinned_lane[:, None])
    return np.where(f.pinned_lane[:, None] > 0, away, 0.0)


def _weights(plan: PlannedPart, f: Frames, p: Playable, walls_s: Floats) -> Floats:
    """Cost of each weight: off what the level wishes, and beyond what a hand gives."""
    wished = f.level_db * log(10) / rules.LEVEL_PER_NEPER_DB + f.lean
    weight = np.log(p.weights_n)[None, :]
    light = log(plan.instrument.least_n) - weight
    heavy = weight - np.log(f.most_n)[:, None]
    beyond = np.maximum(np.maximum(light, heavy), 0.0)
    off = ((weight - np.log(p.rest_n)[:, None] - wished[:, None]) / 0.35) ** 2
    costs: Floats = f.seconds[:, None] * rules.OFF_WISHED * off
    costs += walls_s * rules.WALL / 4 * (beyond / 0.2) ** 2
    return costs


def move_costs(f: Frames) -> tuple[Ints, Ints]:
    """Cost of a step of contact and of weight into each frame, and of moving at all; (F, 2)."""
    contact, weight = f.moves[:, 0], f.moves[:, 1]
    step = rules.LANE_MOVE / (LANES_N * QUARTERS) / f.time_s * contact
    lean = rules.LEAN * 0.5 * WEIGHT_STEP / f.time_s * weight
    return (
        _whole(np.stack([step, rules.LANE_MOVE_ONCE * contact], axis=1)),
        _whole(np.stack([lean, rules.LEAN_ONCE * weight], axis=1)),
    )
