"""What should be looked at about single bows: too long, too fast, not as marked or pinned, not
learnt."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace
from functools import partial

import numpy as np

from plectrum.core.advice.plan_warning import PlanWarning, Severity, at
from plectrum.core.advice.words import length_words
from plectrum.core.document.choices import Join
from plectrum.core.document.places import LEAST_STROKE, span_of, words_of
from plectrum.core.errors import ChoiceError
from plectrum.core.planning.plan import Plan
from plectrum.core.planning.rules import CELLS_N, REACH_DB, RUN_N
from plectrum.core.planning.strokes.amounts import school_range
from plectrum.core.planning.strokes.costs import usable_cells
from plectrum.core.planning.strokes.held_inside import HeldInside
from plectrum.core.planning.strokes.planned import JOINS
from plectrum.core.planning.strokes.stroke_tables import held_by, in_cells, keeps, lies_in
from plectrum.core.planning.tempo_window import SPOKEN, runs_of_strokes
from plectrum.core.score.model import Direction
from plectrum.core.wording import say, tr

RUNS_OUT = 0.6  # own default: less than this part of the wished-for bow is running out
AT_THE_END = 0.06  # own default, of the hair: what is left beyond a stroke that has run out
TOLERANCE = 1.02  # a speed within two per cent of a limit is not spoken of
Warn = Callable[[str, Severity, str, str], PlanWarning]


def bow_warnings(plan: Plan) -> Iterator[PlanWarning]:
    for look in (_kept, _learnt, _slur_or_slow, _fast, _unspoken, _short):
        yield from look(plan)


def _warning_at(plan: Plan, index: int) -> Warn:
    """Makes warnings of a bow."""
    return partial(at, plan.head_of(index))


def _slur_or_slow(plan: Plan) -> Iterator[PlanWarning]:
    full_s = _longest_s(plan)
    for index, unit in enumerate(plan.units):
        if unit.last > unit.first or too_slow(plan, index):
            yield from _slur_or_slow_at(plan, index, full_s)


def _slur_or_slow_at(plan: Plan, index: int, full_s: float) -> Iterator[PlanWarning]:
    unit, warn = plan.units[index], _warning_at(plan, index)
    slurred = unit.last > unit.first
    if slurred and unit.duration_s > full_s * TOLERANCE:
        text = say(
            "the slur is longer than this player's slowest bow: it lasts {duration:.1f} s, "
            "the bow {full:.1f} s",
            duration=unit.duration_s,
            full=full_s,
        )
        remedy = say("Split it at {place} (X)", place=_split_place(plan, index))
        yield warn("slur_too_long", Severity.PROBLEM, text, remedy)
    elif slurred and (notes_n := _slurred_n(plan, index)) > plan.player.slur_notes_n:
        text = say(
            "a slur of {notes} notes; this player slurs up to {slur_notes}",
            notes=notes_n,
            slur_notes=plan.player.slur_notes_n,
        )
        remedy = say("Split it at {place} (X)", place=_split_place(plan, index))
        yield warn("slur_not_learnt", Severity.NOTE, text, remedy)
    elif too_slow(plan, index):
        text = say(
            "too little bow for so long a note: {length} in {moving:.1f} s, "
            "where this player needs {least}",
            length=length_words(_length(plan, index)),
            moving=unit.moving_s,
            least=_cm(plan.player.slowest_mm_s * unit.moving_s),
        )
        remedy = tr("Use more bow, split the note, or play faster")
        yield warn("too_slow", Severity.CAUTION, text, remedy)


def _longest_s(plan: Plan) -> float:
    """How long this player's slowest bow lasts."""
    low, high = usable_cells(plan.choices)
    return (high - low) / CELLS_N * plan.choices.bow.hair_mm / plan.player.slowest_mm_s


def _fast(plan: Plan) -> Iterator[PlanWarning]:
    fast = plan.speeds_mm_s > plan.player.fastest_mm_s * TOLERANCE
    for index in np.flatnonzero(fast).tolist():
        moving_s = plan.units[index].moving_s
        text = say(
            "too much bow for so short a note: {length} in {moving:.2f} s, "
            "where this player draws {most}",
            length=length_words(_length(plan, index)),
            moving=moving_s,
            most=_cm(plan.player.fastest_mm_s * moving_s),
        )
        remedy = tr("Use less bow, or play slower")
        yield _warning_at(plan, index)("too_fast", Severity.CAUTION, text, remedy)


def _unspoken(plan: Plan) -> Iterator[PlanWarning]:
    """Runs of more strokes a second than this player speaks, each passage once."""
    most = plan.player.strokes_per_s
    seconds, units = runs_of_strokes(plan)
    rates = 1 / np.maximum(seconds, 1e-9)
    last = -1  # unit of the passage before
    for first in np.flatnonzero(rates > most * (1 + SPOKEN)).tolist():
        if first > last:
            until = first
            while until + 1 < len(rates) and rates[until + 1] > most * (1 + SPOKEN):
                until += 1
            last = until + int(RUN_N) - 1
            text = say(
                "{rate:g} strokes a second, where this player speaks {most:g}",
                rate=round(float(rates[first : until + 1].max()), 1),
                most=round(most, 1),
            )
            remedy = tr("Play slower, or slur the notes in pairs")
            warning = _warning_at(plan, units[first])("too_quick", Severity.CAUTION, text, remedy)
            among = dict.fromkeys(units[first : last + 1])
            notes = tuple(plan.units[i].first for i in among)
            yield replace(warning, notes=notes)


def _short(plan: Plan) -> Iterator[PlanWarning]:
    hair_mm = plan.choices.bow.hair_mm
    for index, unit in enumerate(plan.units):
        if runs_out(plan, index):
            text = say(
                "the bow runs out: {length} ({left}) is left of the {wanted} it wants",
                length=length_words(_length(plan, index)),
                left=_cm(plan.lengths_mm.item(index)),
                wanted=_cm(plan.wished_length(unit) * hair_mm),
            )
            remedy = tr("Turn or lift the bow earlier, or give the notes before it less")
            yield _warning_at(plan, index)("runs_out", Severity.CAUTION, text, remedy)


def _length(plan: Plan, index: int) -> float:
    """What a bow takes of the hair, as a share of it."""
    step = plan.steps[index]
    return abs(step.end - step.start) / CELLS_N


def _cm(length_mm: float) -> str:
    return say("{length:.0f} cm", length=length_mm / 10)


def too_slow(plan: Plan, index: int) -> bool:
    """Whether the bow itself is below the player's limit; that is then the thing to mend."""
    return plan.speeds_mm_s.item(index) * TOLERANCE < plan.player.slowest_mm_s


def runs_out(plan: Plan, index: int) -> bool:
    """Whether a bow is much shorter than it would like, because of what is marked or pinned or so
    that it is heard, and its stroke comes to the end of the bow; where the plan saves bow and the
    note sounds, there is nothing to say."""
    unit = plan.units[index]
    if _length(plan, index) >= RUNS_OUT * plan.wished_length(unit) or not _at_the_end(plan, index):
        return False
    pin = plan.own_pin(unit)
    if pin.amount is not None or pin.length_cells is not None:
        return False  # so much bow is what the teacher has said
    if unit.mark is not None or not pin.is_empty:
        return True
    rows = (plan.contact_rows[i] for i in range(unit.first, unit.last + 1))
    return any(plan.contact.left_over_db[row] > REACH_DB for row in rows)


def _at_the_end(plan: Plan, index: int) -> bool:
    """Whether a bow's stroke ends where the bow, as far as it may be used, does."""
    planned = plan.notes[plan.units[index].first]
    if planned is None:
        return False
    (low, high), (start, end) = school_range(plan.choices), plan.stroke_ends(planned)
    return (high - end if end > start else end - low) <= AT_THE_END


def _slurred_n(plan: Plan, index: int) -> int:
    unit = plan.units[index]
    return sum(1 for n in plan.part.notes[unit.first : unit.last + 1] if not n.grace)


def _kept(plan: Plan) -> Iterator[PlanWarning]:
    for index, unit in enumerate(plan.units):
        if unit.mark is not None or not plan.own_pin(unit).is_empty:
            yield from _kept_at(plan, index, _warning_at(plan, index))
    yield from _inside(plan)


def _inside(plan: Plan) -> Iterator[PlanWarning]:
    """What the teacher says of single notes in a bow, and cannot be."""
    said_of = HeldInside(plan.part, plan.choices)
    for index in said_of.bows([u.first for u in plan.units], [u.last for u in plan.units]):
        unit = plan.units[index]
        inside = said_of.inside(unit.first, unit.last)
        for said, span in zip(inside, said_of.spans(inside), strict=True):
            planned = plan.notes[unit.first + said.k]
            if planned is None or lies_in(planned.start, planned.end, in_cells(span)):
                continue
            words = tr(" and ").join(words_of(w) for w in (said.place, said.amount) if w)
            text = say(
                "“{words}” on this note cannot be kept: its bow does not allow it", words=words
            )
            remedy = tr("Say less of the notes in this bow, or split the slur")
            yield at(planned.note, "place_not_kept", Severity.PROBLEM, text, remedy)


def _kept_at(plan: Plan, index: int, warn: Warn) -> Iterator[PlanWarning]:
    unit, step = plan.units[index], plan.steps[index]
    pin = plan.own_pin(unit)
    direction = (Direction.DOWN, Direction.UP)[step.direction]
    if unit.mark is not None and unit.mark is not direction:
        reason = (
            tr("your pin says otherwise") if pin.direction else tr("there is no bow left for it")
        )
        yield warn(
            "mark_not_kept",
            Severity.NOTE if pin.direction else Severity.PROBLEM,
            say("the score marks it {mark}; {reason}", mark=unit.mark, reason=reason),
            tr("Let go of the pin to follow the score")
            if pin.direction
            else tr("Change the marks"),
        )
    length = abs(step.end - step.start)
    broken = [
        pin.direction is not None and pin.direction is not direction,
        index > 0 and pin.join is not None and pin.join is not JOINS[step.join],
        pin.start_cell is not None and pin.start_cell != step.start,
        pin.length_cells is not None and pin.length_cells != length,
    ]
    if pin.place is not None or pin.amount is not None:
        yield from _placed(plan, index, warn)
    if any(broken):
        why = _why_refused(plan, index)
        yield warn(
            "pin_not_kept",
            Severity.PROBLEM,
            say("your pin cannot be kept: {why}", why=why),
            tr("Let it go (P)"),
        )


def _placed(plan: Plan, index: int, warn: Warn) -> Iterator[PlanWarning]:
    """A place or an amount of bow that the teacher named and that cannot be."""
    pin, step, bow = plan.own_pin(plan.units[index]), plan.steps[index], plan.choices.bow
    words = tr(" and ").join(pin.where_words)
    usable = school_range(plan.choices)
    try:
        span = span_of(pin.place, pin.amount, bow, usable)
    except ChoiceError as error:
        remedy = error.remedy or tr("Choose another place, or another player")
        yield warn(
            "place_not_kept",
            Severity.PROBLEM,
            say("“{words}” cannot be: {what}", words=words, what=error.what),
            remedy,
        )
        return
    own = replace(pin, start_cell=None, length_cells=None)
    if keeps(step, held_by(own, bow, usable)):
        return
    reach = plan.units[index].moving_s * plan.player.fastest_mm_s / bow.hair_mm
    asked = LEAST_STROKE if span.length is None else span.length
    if span.start is not None and span.end is not None:
        asked = abs(span.end - span.start)
    too_short = reach < asked - 1 / CELLS_N
    why = (
        tr("this note's time does not allow so much bow")
        if too_short
        else tr("what stands before or after it leaves the bow elsewhere")
    )
    yield warn(
        "place_not_kept", Severity.PROBLEM,
        say("“{words}” cannot be kept: {why}", words=words, why=why),
        tr("Say the place of the notes around it too, or let it go (P)"),
    )  # fmt: skip


def _why_refused(plan: Plan, index: int) -> str:
    unit, pin = plan.units[index], plan.own_pin(plan.units[index])
    if pin.join is Join.RETAKE and unit.free_s < plan.player.lift_s:
        return say("no time to lift, it needs {lift_s:.1f} s", lift_s=plan.player.lift_s)
    if pin.start_cell is not None or pin.length_cells is not None:
        return tr("it would leave the part of the bow this player uses, or not meet its neighbours")
    return tr("it does not go together with the pins and marks around it")


def _learnt(plan: Plan) -> Iterator[PlanWarning]:
    player = plan.player
    if player.can_hook and player.can_retake:
        return
    for index, step in enumerate(plan.steps):
        join = JOINS[step.join] if index else Join.START
        if join is Join.HOOK and not player.can_hook and plan.stops_for_hook(index):
            yield _warning_at(plan, index)(
                "not_learnt",
                Severity.PROBLEM,
                tr("a hook, which this player has not learnt"),
                tr("Turn the bow instead, or change the marks"),
            )
        if join is Join.RETAKE and not player.can_retake:
            yield _warning_at(plan, index)(
                "not_learnt",
                Severity.PROBLEM,
                tr("a lift, which this player has not learnt"),
                tr("Turn the bow instead"),
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
