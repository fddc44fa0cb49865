"""Bars that begin upside down because hooks are not learnt yet, and the ways out of it: one slur, a
lift, or the hook itself (common practice)."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace

from plectrum.core.advice.plan_warning import PlanWarning, Severity
from plectrum.core.advice.reasons import bars_words
from plectrum.core.document.choices import NO_PIN, Choices, Join
from plectrum.core.planning.plan import Plan
from plectrum.core.planning.strokes.amounts import ACCENTED, STOPPED
from plectrum.core.planning.strokes.problem import UP
from plectrum.core.score.model import Direction, Note
from plectrum.core.wording import say, sentence_like, several, tr

TRIED_N = 4  # slurs before the first such bar that are tried (own default)


def upside_down(plan: Plan) -> Iterator[PlanWarning]:
    """Once, where any bar begins up that would begin down with hooks."""
    firsts = _begin_up(plan)
    if plan.player.can_hook or plan.is_settled or not firsts:
        return
    hooked = set(_begin_up(_with_hooks(plan)))
    notes = [k for k in firsts if k not in hooked]
    if not notes:
        return
    bars = tuple(dict.fromkeys(plan.part.notes[k].bar for k in notes))
    where = bars_words(bars)
    text = (
        say("{bars} begins with an up-bow, as hooks are not learnt", bars=where)
        if len(bars) == 1
        else say("{bars} begin with an up-bow, as hooks are not learnt", bars=where)
    )
    remedy = tr("Slur two notes before it, lift in a rest, or teach the hook first")
    yield PlanWarning(
        "upside_down", Severity.NOTE, bars[0], notes[0], sentence_like(text), remedy, tuple(notes)
    )


def _begin_up(plan: Plan) -> list[int]:
    """The notes on first beats that begin an up-bow."""
    heads = [(u.first, step) for u, step in zip(plan.units, plan.steps, strict=True)]
    return [k for k, s in heads if s.direction == UP and plan.part.notes[k].metric_weight == 1.0]


def _with_hooks(plan: Plan) -> Plan:
    player = replace(plan.choices.player, can_hook=True)
    return Plan(plan.part, replace(plan.choices, player=player), plan.goes_with)


def ways_out(plan: Plan, warning: PlanWarning) -> Iterator[tuple[str, Choices]]:
    """The gentlest first: a slur of two before the first such bar, a lift into it, the hook."""
    first = warning.notes[0]
    notes = plan.part.notes
    here = [n for n in notes[first:] if n.bar == notes[first].bar]
    before_it = _may_be_slurred(plan, notes[:first])[-TRIED_N:][::-1]
    for note in [*before_it, *_may_be_slurred(plan, here)[:TRIED_N]]:
        before = notes[plan.note_before(note.index)]
        text = say("slur the two notes from {place}", place=before.place)
        pin = replace(plan.choices.pins.get(note.id, NO_PIN), join=Join.SLUR)
        yield text, plan.choices.with_pin(note.id, pin)
    head = notes[first]
    if plan.player.can_retake:
        own = plan.choices.pins.get(head.id, NO_PIN)
        pin = replace(own, join=Join.RETAKE, direction=Direction.DOWN)
        yield say("lift before {place}", place=head.place), plan.choices.with_pin(head.id, pin)
    player = replace(plan.choices.player, can_hook=True)
    bars_n = len({notes[k].bar for k in warning.notes})
    then = several("{n} bar begins down then", "{n} bars begin down then", bars_n)
    text = say("teach the hook: {then}", then=then)
    yield text, replace(plan.choices, player=player)


def _may_be_slurred(plan: Plan, notes: Sequence[Note]) -> list[Note]:
    """Notes that can share a bow with the one before, in one bar and from a place that is no
    weaker."""
    found = []
    for note in notes:
        came = plan.note_before(note.index)
        before = plan.part.notes[came] if came >= 0 else None
        if before is None or plan.player.slur_notes_n < 2 or before.bar != note.bar:
            continue
        signed = (note.articulations | before.articulations) & (STOPPED | ACCENTED)
        bound = note.slurred or before.slurred or note.gap_before_s > 0 or note.mark is not None
        same = note.pitches[0].midi == before.pitches[0].midi
        if not (signed or bound or same or before.metric_weight < note.metric_weight):
            found.append(note)
    return found
