"""The examples of the rule table: their tunes, what is seen of their plans, and rules taken out."""

from __future__ import annotations

import sys
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from dataclasses import replace
from fractions import Fraction

import numpy as np

from plectrum.core.advice.out_of_reach import out_of_reach
from plectrum.core.advice.sound_faults import Symptom, find_faults
from plectrum.core.document.choices import Choices, Pin
from plectrum.core.instrument.bow import Bow
from plectrum.core.planning import rules
from plectrum.core.planning.ensemble.ensemble import plan_together
from plectrum.core.planning.fingering.search import fingering_of
from plectrum.core.planning.plan import Plan, make_plan
from plectrum.core.planning.rules import Example, Rule
from plectrum.core.planning.strokes.amounts import moving_shares
from plectrum.core.planning.strokes.slurs import slur_costs
from plectrum.core.planning.strokes.units import build_units
from plectrum.core.player.player import stage
from plectrum.core.player.school import QUESTIONS, School
from plectrum.core.score.model import Articulation, Direction, Part
from tests.tunes import tune_document


def forget_everything() -> None:
    """Empty what planning keeps between plans."""
    for name, module in list(sys.modules.items()):
        if name.startswith("plectrum.core.planning"):
            for value in vars(module).values():
                if hasattr(value, "cache_clear"):
                    value.cache_clear()


def part_and_choices(example: Example) -> tuple[Part, Choices]:
    """The tune of an example and what is set for it."""
    document = tune_document(
        example.music, example.metre, bpm=example.bpm, instrument=example.instrument,
        pickup=example.kind == "pickup",
    )  # fmt: skip
    notes, bars = list(document.part.notes), list(document.part.bars)
    if example.kind == "breath":
        notes = [n._replace(phrase_end=True) for n in notes]
    elif example.kind == "repeat":
        bars[0] = replace(bars[0], repeat_end=2)
    elif example.kind == "tremolo":
        notes = [n._replace(stroke_q=Fraction(0)) for n in notes]
    elif example.kind and example.kind not in ("pinned", "together", "pickup", "many slurs"):
        kind = frozenset({Articulation(example.kind)})
        notes = [n._replace(articulations=n.articulations | kind) for n in notes]
    if example.written_finger:
        notes[0] = notes[0]._replace(fingerings=(example.written_finger,))
    answers = {(q, str(a)): a for q, _, found in QUESTIONS for a in found}
    school = replace(School(), **{q: answers[q, a] for q, a in example.school.items()})
    player = stage(example.player)
    player = replace(player, positions=example.positions or (1,))
    pins = {}
    if example.pin_string is not None:
        pins[notes[0].id] = Pin(string=example.pin_string)
    if example.kind == "pinned":
        pins[notes[0].id] = Pin(direction=Direction.UP)
    bow = Bow.full_size(example.instrument)
    choices = Choices(example.instrument, bow, player, school, None, pins)
    if example.kind == "many slurs":
        choices = replace(choices, slur_amount=80)
    return replace(document.part, notes=tuple(notes), bars=tuple(bars)), choices


def seen(example: Example) -> list[object]:
    """What of the plan an example is about."""
    part, choices = part_and_choices(example)
    if example.see == "together":
        return _seen_of_two(example)
    if example.see in ("bows", "touch", "warned", "causes", "window"):
        other = {0: Direction.UP} if example.kind == "together" else None
        return _seen_in_plan(example.see, make_plan(part, choices, other))
    fingered = fingering_of(part, choices)
    units = build_units(part, choices, fingered)
    if example.see == "slurs":
        heads = [part.notes[u.first] for u in units]
        player = choices.player.on(choices.own)
        costs = slur_costs(part, heads, choices, fingered, player)
        return [np.round(x, 6).tolist() for x in (costs.first, costs.group, costs.follows)]
    return {
        "strings": lambda: [f.string_words + f.finger_words for f in fingered],
        "lengths": lambda: [round(u.ideal_length, 6) for u in units],
        "places": lambda: [round(u.ideal_place, 6) for u in units],
        "stops": lambda: np.round(moving_shares(part.notes, True), 6).tolist(),
        "crossings": lambda: [u.crossings for u in units],
        "lifts": lambda: [round(u.free_s, 6) for u in units],
        "pairs": lambda: [u.short_after_long for u in units],
    }[example.see]()


def _seen_of_two(example: Example) -> list[object]:
    """The bows of a part, and of the other that is planned with it."""
    other = replace(
        example, music=example.other, player=example.other_player, pin_string=None, kind=""
    )
    both = plan_together([part_and_choices(example), part_and_choices(other)])
    return [list(plan.steps) for plan in both.plans]


def _seen_in_plan(see: str, plan: Plan) -> list[object]:
    contact = plan.contact
    if see == "window":
        return [round(bpm, 3) for bpm in plan.tempo_window or ()]
    if see == "bows":
        return list(plan.steps)
    if see == "touch":
        columns = [contact.lane, contact.elbow_mm]
        for end in (contact.start, contact.end):
            columns += [end.contact_mm, end.weight_n, end.speed_m_s]
        return [np.round(column, 6).tolist() for column in columns]
    if see == "warned":
        return [(r.note, round(r.missing_db, 6)) for r in out_of_reach(plan)]
    return [
        (c.code, round(c.likelihood, 6), c.text, c.remedy)
        for note in range(len(plan.part.notes))
        for symptom in Symptom
        for c in find_faults(plan, note, symptom)
    ]


@contextmanager
def taken_out(rule: Rule) -> Iterator[None]:
    """A rule replaced by what stands in its place without it."""
    group, name = _group_of(rule)
    out = rule.out
    if isinstance(rule.weight, Mapping):
        out = dict.fromkeys(rule.weight, rule.out)
    elif isinstance(rule.weight, tuple) and not isinstance(rule.out, tuple):
        out = (rule.out,) * len(rule.weight)
    was = group[name]
    group[name] = out
    forget_everything()
    try:
        yield
    finally:
        group[name] = was
        forget_everything()


def _group_of(rule: Rule) -> tuple[dict, object]:
    """The mapping a rule's number is read from, and its key there."""
    for prefix, group in (("amount_of_", rules.AMOUNT_OF), ("bite_of_", rules.BITE_OF)):
        if rule.name.startswith(prefix):
            return group, Articulation(rule.name.removeprefix(prefix))
    for learnt in (rules.LEARNT, rules.SLUR_WORTH):
        if rule.name in learnt:
            return learnt, rule.name
    return vars(rules), rule.name.upper()
