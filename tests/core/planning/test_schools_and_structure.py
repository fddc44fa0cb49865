"""Schools, articulations, equal bars and repeats."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from plectrum.core.advice.rests import rest_sentence
from plectrum.core.advice.warnings import warnings_of
from plectrum.core.document.choices import Join, Pin
from plectrum.core.planning import rules
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.planning.plan import make_plan
from plectrum.core.planning.strokes.amounts import school_range
from plectrum.core.planning.strokes.dynamic_program import Solution
from plectrum.core.planning.strokes.stroke_tables import NOT_HELD
from plectrum.core.player.school import (
    AmountSchool,
    CrossingSchool,
    DottedSchool,
    School,
)
from plectrum.core.score.model import Direction
from plectrum.core.score.reading.opening import open_score
from plectrum.core.score.scorefile import read_part
from tests.core.planning.strategies import tunes
from tests.core.planning.test_program import brute_force, few_cells
from tests.tunes import tune_document, tune_plan, tune_xml, ways

DOTTED = "A4*3/2 B4*1/2 C5*3/2 D5*1/2|" * 4


def under(music: str, school: School, metre: str = "4/4", **options):
    document = tune_document(music, metre, **options)
    return make_plan(document.part, replace(document.choices, school=school))


@pytest.mark.parametrize("amount", [AmountSchool.MIDDLE, AmountSchool.FROG])
def test_middle_and_frog_stay_in_their_range_and_it_grows(amount):
    widths = []
    for player in ("starter", "growing", "steady"):
        plan = under("[f] A4 B4 C5*2|" * 4, School(amount=amount), player=player)
        low, high = school_range(plan.choices)
        places = [x for p in plan.notes for x in (p.start, p.end)]
        assert low - 1e-9 <= min(places)
        assert max(places) <= high + 1e-9
        widths.append(high - low)
        if amount is AmountSchool.FROG:
            assert low == pytest.approx(plan.player.usable_from)
        else:
            assert (low + high) / 2 == pytest.approx(0.5)
    assert widths == sorted(widths)


def test_dotted_pairs_hook_separate_or_lift():
    joins = {}
    for dotted in DottedSchool:
        plan = under("A4*3/2 B4*1/2 C5*2|" * 6, School(dotted=dotted), bpm=60)
        shorts = [p for p in plan.notes if p.note.duration_q < 1]
        joins[dotted] = {p.join for p in shorts}
    assert Join.HOOK in joins[DottedSchool.HOOK]
    assert joins[DottedSchool.SEPARATE] == {Join.TURN}
    assert Join.RETAKE in joins[DottedSchool.LIFT]


def test_spiccato_is_short_and_near_the_balance_point():
    plan = tune_plan("{spiccato} " + "A4*1/2 B4*1/2 C5*1/2 B4*1/2 " * 2 + "|", player="steady")
    plain = tune_plan("A4*1/2 B4*1/2 C5*1/2 B4*1/2 " * 2 + "|", player="steady")
    middles = [(p.start + p.end) / 2 for p in plan.notes]
    assert np.mean(middles) == pytest.approx(plan.choices.bow.balance, abs=0.12)
    assert plan.notes[2].length_mm < 0.6 * plain.notes[2].length_mm
    assert plan.strokes[0].kind == "spiccato"


def test_staccato_stops_and_accents_take_more():
    plan = tune_plan("A4. B4 C5> B4|" * 2)
    assert plan.notes[0].moving_s == pytest.approx(plan.notes[0].note.duration_s / 2)
    assert plan.units[2].ideal_length > plan.units[1].ideal_length
    assert plan.units[0].ideal_length < plan.units[1].ideal_length
    assert [s.kind for s in plan.strokes[:3]] == ["staccato", "détaché", "accent"]


def test_slurred_dots_are_stops_in_one_direction():
    plan = tune_plan("A4(. B4). C5 D5|")
    assert plan.notes[1].join is Join.HOOK
    assert plan.notes[1].direction is plan.notes[0].direction


def test_techniques_not_learnt_are_said():
    music = "{spiccato} A4 B4 {ord.} C5 D4+A4|"
    said = [w.text for w in warnings_of(tune_plan(music)) if w.code == "technique_not_learnt"]
    assert any("spiccato" in t for t in said)
    assert any("double stops" in t for t in said)
    steady = warnings_of(tune_plan(music, player="steady"))
    assert not [w for w in steady if w.code == "technique_not_learnt"]


def test_fast_crossings_want_the_middle():
    """The same rhythm with crossings lies nearer the middle than without."""

    def distance(music: str) -> float:
        plan = under(music, School(crossing=CrossingSchool.STILL), player="steady")
        return float(np.mean([abs(p.start - 0.5) for p in plan.notes]))

    loud = "[ff] "
    assert distance(loud + "D4*1/2 A4*1/2 " * 4 + "|") < distance(loud + "A4*1/2 B4*1/2 " * 4 + "|")


def test_equal_bars_get_equal_bows():
    music = "A4*3/2 B4*1/2 C5 D5|E5 D5 C5*2|A4*3/2 B4*1/2 C5 D5|F5*3 E5|A4*3/2 B4*1/2 C5 D5|"
    bars = ways(tune_plan(music)).split("|")
    assert len({bar[:1].upper() + bar[1:] for bar in bars[0::2]}) == 1  # free to be entered


def test_equal_bars_may_differ_where_a_pin_asks():
    document = tune_document("A4 B4 C5 D5|" * 4).pinned("2.1", "up")
    assert plan_of(document).notes[4].direction == "up"


def repeated(music: str) -> bytes:
    """A tune whose whole is repeated."""
    end = b'<barline location="right"><repeat direction="backward"/></barline></measure></part>'
    return tune_xml(music).replace(b"</measure></part>", end)


@pytest.mark.parametrize(
    "music",
    [
        "A4*2 B4*2|C5*4|",
        "A4 B4 C5 D5|E5 D5 C5 B4|",
        "A4*3/2 B4*1/2 C5*2|A4( B4) C5*2|",
        "A4*1/2 B4*1/2 C5 D5*2|A4*3 B4|",
    ],
)
def test_a_repeat_changes_nothing_that_is_right_without_it(music):
    part = read_part(open_score(repeated(music), "x"), "P1")
    document = tune_document(music)
    assert make_plan(part, document.choices).steps == plan_of(document).steps


def test_a_repeated_section_begins_anew_at_little_cost():
    """A bar of three bows before a repeat: what follows may begin down with a hook or a turn."""
    inner = b'<barline location="right"><repeat direction="backward"/></barline></measure>'
    music = "A4 B4 C5*2|C5 B4 A4 B4|"
    xml = tune_xml(music).replace(b"</measure>", inner, 1)
    document = tune_document(music)
    plan = make_plan(read_part(open_score(xml, "x"), "P1"), document.choices)
    assert ways(plan).split("|")[1][0] in "Dd"
    assert plan.total_cost < plan_of(document).total_cost


ALL_TERMS = (
    "[p] G3*1/2 E5*1/2 A4u B4 r|G3*1/2 E5*1/2 A4 B4 r|",
    "[f] A4*3/2 B4*1/2 C5*2|A4*3/2 B4*1/2 C5*2|",
    "[p] [<] A4*1/2( E5*1/2) D5. G3> [x]|[f] D5*2d r B4d|",
)


@pytest.mark.parametrize("music", ALL_TERMS)
def test_no_plan_is_better_with_all_terms_on(music):
    """Crossings, equal bars, another part, a pin, marks and lifts at once; on a few cells, every
    plan of the first notes is tried."""
    part = read_part(open_score(repeated(music), "x"), "P1")
    school = School(dotted=DottedSchool.LIFT, crossing=CrossingSchool.STILL)
    choices = replace(tune_document("A4*4|").choices, school=school)
    choices = choices.with_pin(part.notes[2].id, Pin(direction=Direction.UP, start_cell=30))
    plan = make_plan(part, choices, {0: Direction.UP, len(part.notes) - 1: Direction.DOWN})
    assert plan.tables.nudges.asked is not None
    tables = plan.tables
    for costs in (tables.metre, tables.asked.direction, tables.pins_direction, tables.join):
        assert costs.any()
    assert any(held != NOT_HELD for held in tables.strokes.held)
    p = few_cells(tables.problem, [8, 19, 30, 41])
    first = {n: getattr(p, n)[:4] for n in ("kind", "direction", "join", "reach", "before", "even")}
    problem = replace(p, **first)
    assert Solution(problem).total == brute_force(problem)


@settings(max_examples=25, deadline=None)
@given(tunes(), st.sampled_from(["growing", "steady"]))
def test_a_school_that_lifts_in_rests_does_so_in_every_long_one(music, player):
    """A school does what it says; half a second is our own bound for long enough."""
    plan = tune_plan(music, player=player, answers={"rests": "lift"})
    for unit in plan.units[1:]:
        rest_s = plan.part.notes[unit.first].gap_before_s
        planned = plan.notes[unit.first]
        assert planned is not None
        if rest_s >= max(rules.LIFTED_REST_S, plan.player.lift_s + 0.05):
            assert planned.join is Join.RETAKE


def test_in_other_schools_the_bow_waits_in_a_rest():
    plan = tune_plan("A4 B4 r C5|A4*4")
    assert all(p is not None and p.join is not Join.RETAKE for p in plan.notes)
    lifted = tune_plan("A4 B4 r C5|A4*4", answers={"rests": "lift"})
    assert lifted.notes[2] is not None
    assert lifted.notes[2].join is Join.RETAKE
    words = rest_sentence(lifted, 2)
    assert words.startswith("In the rest of 1 beat before it: lift, hover over the A string")
