"""What a plan itself says should be looked at, each with a remedy."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from enum import StrEnum

from plectrum.core.planning.choices import Join
from plectrum.core.planning.costs import usable_cells
from plectrum.core.planning.plan import JOINS, Plan
from plectrum.core.planning.weights import CELLS_N
from plectrum.core.score.model import Direction

RUNS_OUT = 0.6  # own default: less than this part of the wished-for bow is running out
TOLERANCE = 1.02  # a speed within two per cent of a limit is not spoken of


class Severity(StrEnum):
    """How much a warning matters."""

    NOTE = "note"
    CAUTION = "caution"
    PROBLEM = "problem"


@dataclass(frozen=True, slots=True)
class PlanWarning:
    """One thing to look at. `note` is an index, None for the whole piece."""

    code: str
    severity: Severity
    bar: int | None
    note: int | None
    text: str
    remedy: str


Warn = Callable[[str, Severity, str, str], PlanWarning]


def warnings_of(plan: Plan) -> tuple[PlanWarning, ...]:
    """All warnings of a plan, in the order of the music."""
    found = [
        PlanWarning("reading", Severity.NOTE, None, None, text, "Check these notes in the score")
        for text in plan.part.notices
    ]
    for unit in range(len(plan.units)):
        found.extend(_unit_warnings(plan, unit))
    return tuple(found)


def _unit_warnings(plan: Plan, index: int) -> Iterator[PlanWarning]:
    unit = plan.units[index]
    head = plan.head_of(index)

    def warn(code: str, severity: Severity, text: str, remedy: str) -> PlanWarning:
        return PlanWarning(
            code, severity, head.bar, head.index, f"{_place(plan, index)}: {text}", remedy
        )

    yield from _kept(plan, index, warn)
    yield from _learnt(plan, index, warn)
    length = abs(plan.steps[index].end - plan.steps[index].start) / CELLS_N
    hair_mm = plan.choices.bow.hair_mm
    speed = length * hair_mm / max(unit.moving_s, 1e-3)
    low, high = usable_cells(plan.player)
    full_s = (high - low) / CELLS_N * hair_mm / plan.player.slowest_mm_s
    if unit.last > unit.first and unit.duration_s > full_s * TOLERANCE:
        yield warn(
            "slur_too_long",
            Severity.PROBLEM,
            f"the slur lasts {unit.duration_s:.1f} s, one slow bow only {full_s:.1f} s",
            f"Split it at {_split_place(plan, index)} (X)",
        )
    elif (notes_n := _slurred_n(plan, index)) > plan.player.slur_notes_n:
        yield warn(
            "slur_not_learnt",
            Severity.NOTE,
            f"a slur of {notes_n} notes; this player slurs up to {plan.player.slur_notes_n}",
            f"Split it at {_split_place(plan, index)} (X)",
        )
    elif speed * TOLERANCE < plan.player.slowest_mm_s:
        yield warn(
            "too_slow",
            Severity.CAUTION,
            f"{speed / 10:.1f} cm/s is slower than this player keeps a clean sound "
            f"({plan.player.slowest_mm_s / 10:.1f} cm/s)",
            "Use more bow, split the note, or play faster",
        )
    if speed > plan.player.fastest_mm_s * TOLERANCE:
        yield warn(
            "too_fast",
            Severity.CAUTION,
            f"{speed / 10:.0f} cm/s is faster than this player's clean bow "
            f"({plan.player.fastest_mm_s / 10:.0f} cm/s)",
            "Use less bow, or play slower",
        )
    if length < RUNS_OUT * unit.ideal_length:
        yield warn(
            "runs_out",
            Severity.CAUTION,
            f"only {length * hair_mm / 10:.0f} cm of bow for a note that wants "
            f"{unit.ideal_length * hair_mm / 10:.0f} cm",
            "Turn or lift the bow earlier, or give the notes before it less",
        )


def _slurred_n(plan: Plan, index: int) -> int:
    unit = plan.units[index]
    return sum(1 for n in plan.part.notes[unit.first : unit.last + 1] if not n.grace)


def _place(plan: Plan, index: int) -> str:
    place = plan.head_of(index).place
    return place[0].upper() + place[1:]


def _kept(plan: Plan, index: int, warn: Warn) -> Iterator[PlanWarning]:
    unit, step = plan.units[index], plan.steps[index]
    direction = (Direction.DOWN, Direction.UP)[step.direction]
    if unit.mark is not None and unit.mark is not direction:
        reason = "your pin says otherwise" if unit.pin.direction else "there is no bow left for it"
        yield warn(
            "mark_not_kept",
            Severity.NOTE if unit.pin.direction else Severity.PROBLEM,
            f"the score marks it {unit.mark}; {reason}",
            "Let go of the pin to follow the score" if unit.pin.direction else "Change the marks",
        )
    pin = unit.pin
    length = abs(step.end - step.start)
    broken = [
        pin.direction is not None and pin.direction is not direction,
        index > 0 and pin.join is not None and pin.join is not JOINS[step.join],
        pin.start_cell is not None and pin.start_cell != step.start,
        pin.length_cells is not None and pin.length_cells != length,
    ]
    if any(broken):
        why = _why_refused(plan, index)
        yield warn(
            "pin_not_kept", Severity.PROBLEM, f"your pin cannot be kept: {why}", "Let it go (P)"
        )


def _why_refused(plan: Plan, index: int) -> str:
    unit = plan.units[index]
    if unit.pin.join is Join.RETAKE and unit.free_s < plan.player.lift_s:
        return f"no time to lift, it needs {plan.player.lift_s:.1f} s"
    if unit.pin.start_cell is not None or unit.pin.length_cells is not None:
        return "it would leave the part of the bow this player uses, or not meet its neighbours"
    return "it does not go together with the pins and marks around it"


def _learnt(plan: Plan, index: int, warn: Warn) -> Iterator[PlanWarning]:
    _unit, step = plan.units[index], plan.steps[index]
    join = JOINS[step.join] if index else Join.START
    if join is Join.HOOK and not plan.player.can_hook:
        yield warn(
            "not_learnt",
            Severity.PROBLEM,
            "a hook, which this player has not learnt",
            "Turn the bow instead, or change the marks",
        )
    if join is Join.RETAKE and not plan.player.can_retake:
        yield warn(
            "not_learnt",
            Severity.PROBLEM,
            "a lift, which this player has not learnt",
            "Turn the bow instead",
        )


def split_note(plan: Plan, index: int) -> int:
    """The note at which a long slur is best split: on the strongest beat nearest its middle."""
    unit = plan.units[index]
    notes = plan.part.notes[unit.first + 1 : unit.last + 1]
    middle_s = plan.head_of(index).onset_s + unit.duration_s / 2
    best = min(
        notes, key=lambda n: abs(n.onset_s - middle_s) / unit.duration_s - 0.25 * n.metric_weight
    )
    return best.index


def _split_place(plan: Plan, index: int) -> str:
    return plan.part.notes[split_note(plan, index)].place
