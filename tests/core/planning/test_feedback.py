"""Contact and weight fed back into the strokes: louder where it was too soft, and no pin in it."""

from __future__ import annotations

import gc
import weakref
from dataclasses import replace
from functools import partial

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from plectrum.core.advice.warnings import warnings_of
from plectrum.core.document.choices import Join, Pin
from plectrum.core.planning import feedback
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.planning.feedback import unpinned
from plectrum.core.planning.plan import make_plan
from plectrum.core.planning.strokes.amounts import school_range
from plectrum.core.score.model import Direction
from tests.core.planning.rule_examples import forget_everything
from tests.core.planning.strategies import players
from tests.tunes import tune_document

EXAMPLES = settings(max_examples=25, deadline=None)
LEVELS = st.lists(
    st.tuples(
        st.sampled_from(["[pp] ", "[p] ", "", "[f] ", "[ff] "]),
        st.sampled_from(["A4 B4 C5 D5", "A4*2 D5*2", "E5*1/2 A4*1/2 E5*1/2 A4*1/2 D5*2", "G3*4"]),
    ),
    min_size=2,
    max_size=6,
).map(lambda bars: "|".join(level + notes for level, notes in bars))


def off_db(plan) -> float:
    seconds = np.array([plan.part.notes[i].duration_s for i in plan.contact.notes])
    return float((seconds * plan.contact.left_over_db**2).sum())


@EXAMPLES
@given(LEVELS, players())
def test_what_is_fed_back_brings_loudness_nearer_or_leaves_the_plan(music, player):
    document = tune_document(music, player=player)
    forget_everything()
    fed = plan_of(document)
    with_wishes = unpinned(document.part, document.choices, fed.fingered).fed
    forget_everything()
    held, feedback.rules.FED_FROM_DB = feedback.rules.FED_FROM_DB, 99.0
    try:
        plain = plan_of(document)
    finally:
        feedback.rules.FED_FROM_DB = held
        forget_everything()
    if with_wishes:
        assert off_db(fed) < off_db(plain)
    else:
        assert fed.steps == plain.steps


def test_a_loud_bar_among_soft_ones_gets_more_bow_than_by_its_wish_alone():
    document = tune_document("[pp] A4 B4 A4 B4|[ff] A4 B4 A4 B4|[pp] A4 B4 A4 B4")
    fed = unpinned(document.part, document.choices, plan_of(document).fingered).fed
    assert all(times > 1 for index, times in fed.items() if 4 <= index < 8)


def test_a_long_note_that_stays_too_soft_gets_more_than_by_its_wish_alone():
    """By itself it wishes for the whole bow already."""
    document = tune_document("A4*3 r|A4*3 r", player="starter", bpm=50)
    plan = plan_of(document)
    low, high = school_range(document.choices)
    wished = [plan.units[i].ideal_length for i in range(2)]
    assert max(wished) > high - low
    assert all(plan.wished_length(u) <= high - low for u in plan.units)
    assert [n.join for n in plan.notes] == [Join.START, Join.RETAKE]
    assert warnings_of(plan) == ()


@EXAMPLES
@given(LEVELS, players())
def test_what_is_said_to_be_wished_for_is_never_more_than_there_is(music, player):
    plan = plan_of(tune_document(music, player=player))
    low, high = school_range(plan.choices)
    assert max(map(plan.wished_length, plan.units)) <= high - low + 1e-9


def test_a_pin_takes_no_part_in_it():
    document = tune_document("[pp] A4 B4 A4 B4|[ff] A4 B4 A4*2|[pp] A4 B4 A4 B4")
    plan = plan_of(document)
    pinned = document.choices.with_pin(document.part.notes[5].id, Pin(Direction.DOWN))
    assert unpinned(document.part, pinned, plan.fingered) == unpinned(
        document.part, document.choices, plan.fingered
    )
    assert make_plan(document.part, pinned).total_cost >= plan.total_cost - 1e-9


def test_a_pinned_bow_is_fed_what_it_would_be_without_the_pin():
    document = tune_document("[pp] A4 B4 A4 B4|[ff] A4 B4 A4 B4|[pp] A4 B4 A4 B4")
    ids = [note.id for note in document.part.notes]
    pins = {ids[7]: Pin(Direction.DOWN), ids[2]: Pin(join=Join.SLUR)}
    units = make_plan(document.part, document.choices.with_pins(pins)).tables.units
    number = units.base.unit_of_note[ids[7]]
    assert number in units.touched
    assert units[number].ideal_length == units.base.units[number].ideal_length
    assert units[number].ideal_length == units.base.columns.ideal_length[number]


def test_a_school_that_gives_every_value_its_bow_is_not_talked_out_of_it():
    document = tune_document("[pp] A4*4|[ff] A4*1/2 B4*1/2 A4 B4*2", answers={"amount": "values"})
    assert not unpinned(document.part, document.choices, plan_of(document).fingered).fed


def test_a_lane_leaves_the_strokes_and_every_other_word_makes_them_anew():
    document = tune_document("A4 B4 C5 D5|E5*2 D5*2|A4 B4 C5 D5")
    choices, note = document.choices, document.part.notes[4]
    pinned = choices.with_pin(note.id, Pin(direction=Direction.UP))
    plan, before = plan_of(document), plan_of(document.with_choices(pinned))
    lane = plan_of(document.with_choices(choices.with_pin(note.id, Pin(lane=2))))
    assert lane.solution is plan.solution
    assert (lane.contact.lane[4], plan.contact.lane[4]) == (2, 3)
    both = plan_of(document.with_choices(pinned.repinned({note.id: partial(replace, lane=2)})))
    assert both.notes is before.notes
    assert both.contact.lane[4] == 2
    for pin in (Pin(start_cell=0), Pin(length_cells=7), Pin(place="tip"), Pin(join=Join.TURN)):
        other = plan_of(document.with_choices(choices.with_pin(note.id, pin)))
        assert other.solution is not plan.solution
    with_others = make_plan(document.part, choices, {4: Direction.UP})
    assert with_others.solution is not plan.solution
    assert with_others.contact is not plan.contact


def test_a_plan_is_let_go_when_the_next_is_made():
    """Without a collection for cycles, which comes late: a thousand notes hold 25 MB."""
    document = tune_document("A4 B4 C5 D5|E5*2 D5*2|A4 B4 C5 D5")
    gc.collect()
    was_on = gc.isenabled()  # off where windows were tested: widgets must not go in another thread
    gc.disable()
    try:
        plan = plan_of(document)
        assert plan.contact.lane.size
        assert warnings_of(plan) is not None
        seen = [weakref.ref(thing) for thing in (plan, plan.solution, plan.contact)]
        del plan
        other = plan_of(document.with_choices(replace(document.choices, tempo_bpm=71)))
        assert other.contact.lane.size
        assert [ref() for ref in seen] == [None] * 3
    finally:
        if was_on:
            gc.enable()
