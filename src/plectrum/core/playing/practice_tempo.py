"""A plan at a slower or faster tempo: the same, planned anew, or not to be had."""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import StrEnum

from plectrum.core.advice.comparison import changed_bars
from plectrum.core.advice.reasons import bars_words
from plectrum.core.planning.plan import Plan, make_plan
from plectrum.core.planning.tempo_window import Limits
from plectrum.core.wording import say

SLOWEST_RATIO, FASTEST_RATIO = 0.3, 1.2


class Verdict(StrEnum):
    """How a plan bears a tempo."""

    SAME = "same"
    ADAPTED = "adapted"
    BEYOND = "beyond"


@dataclass(frozen=True, slots=True)
class PracticeTempo:
    """A plan to be played at a tempo.

    Attributes:
        plan: to be played at `ratio` of its own tempo.
        text: what a teacher is told; empty where nothing changes.
        bars: in which the bow goes otherwise, or which cannot be played.
    """

    plan: Plan
    ratio: float
    verdict: Verdict
    text: str
    bars: tuple[int, ...]


def at_tempo(plan: Plan, ratio: float) -> PracticeTempo:
    """The plan at a part of its tempo.

    Inside its tempo window every stroke keeps its place. Outside it the strokes are planned anew
    for that tempo, and what then still breaks a limit of the player is told.
    """
    bpm = plan.part.tempo.bpm * ratio
    window = plan.tempo_window
    if not plan.units or ratio == 1.0 or (window is not None and window[0] <= bpm <= window[1]):
        return PracticeTempo(plan, ratio, Verdict.SAME, "", ())
    anew = make_plan(plan.part, replace(plan.choices, tempo_bpm=bpm), plan.goes_with)
    slow, fast = _bars_beyond(anew)
    if slow or fast:
        return PracticeTempo(anew, 1.0, Verdict.BEYOND, _beyond_words(slow, fast), slow or fast)
    bars = changed_bars(plan, anew)
    text = say("planned for this tempo: other bow in {bars}", bars=bars_words(bars)) if bars else ""
    return PracticeTempo(anew, 1.0, Verdict.ADAPTED, text, bars)


def _bars_beyond(plan: Plan) -> tuple[tuple[int, ...], tuple[int, ...]]:
    """Bars in which a stroke is too slow, and too fast, for the player at the plan's tempo."""
    limits = Limits(plan)
    speeds = limits.speeds_mm_s(1.0)
    slow: dict[int, None] = {}
    fast: dict[int, None] = {}
    for unit, speed in zip(plan.units, speeds, strict=True):
        bar = plan.part.notes[unit.first].bar
        if speed < plan.player.slowest_mm_s - 1e-9:
            slow[bar] = None
        elif speed > plan.player.fastest_mm_s + 1e-9:
            fast[bar] = None
    return tuple(slow), tuple(fast)


def _beyond_words(slow: tuple[int, ...], fast: tuple[int, ...]) -> str:
    said = []
    if slow:
        said.append(
            say(
                "the bow runs out or breaks off in {bars}: too slow to last",
                bars=bars_words(slow),
            )
        )
    if fast:
        said.append(say("too fast for this player in {bars}", bars=bars_words(fast)))
    return "; ".join(said)
