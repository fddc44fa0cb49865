"""Rules that were once changed unnoticed, each held at numbers worked out by hand.

Facts of the trade are common practice without a source; the amounts are own defaults.
"""

from __future__ import annotations

from dataclasses import replace
from math import log

import numpy as np
import pytest

from plectrum.core.document.choices import Pin
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.planning.plan import Plan
from plectrum.core.planning.strokes.amounts import moving_shares, school_range
from plectrum.core.planning.strokes.problem import TURN, Step
from plectrum.core.planning.strokes.stroke_tables import Kind, stroke_tables
from plectrum.core.player.school import AmountSchool, DirectionSchool
from plectrum.core.score.model import Articulation, Direction
from tests.tunes import tune_document, tune_plan


def with_kinds(music: str, **kinds: Articulation) -> Plan:
    """A plan of a tune in which notes "n0", "n1" … have an articulation more."""
    document = tune_document(music, player="steady")
    notes = list(document.part.notes)
    for name, kind in kinds.items():
        index = int(name[1:])
        notes[index] = notes[index]._replace(articulations=frozenset({kind}))
    return plan_of(replace(document, part=replace(document.part, notes=tuple(notes))))


def test_a_crossing_costs_more_the_farther_from_the_middle():
    """D to B in quarters at 80 (0.75 s): trouble 0.3/0.75, halved by rolling, 0.2; a stroke that
    begins at cell 12 of 48 is a quarter of the bow from the middle: 0.2 · 0.25² = 0.0125."""
    plan = tune_plan("D4 B4 D4 B4")
    assert plan.units[1].crossings == ((0.0, 0.2),)
    near = plan.unit_terms(1, Step(0, TURN, 24, 40))
    far = plan.unit_terms(1, Step(0, TURN, 12, 28))
    assert far["crossing"] == pytest.approx(0.0125e6, abs=1)
    assert near.get("crossing", 0) == 0


def test_crossings_draw_the_bow_to_the_middle():
    """Common practice: quick crossings lie in the middle of the bow."""

    def off_middle(plan: Plan) -> float:
        starts = [p.start for p in plan.notes if p is not None]
        return sum(abs(x - 0.5) for x in starts[1:]) / (len(starts) - 1)

    bar = "{0}*1/2 {1}*1/2 " * 4
    crossing = tune_plan("|".join([bar.format("G3", "E5")] * 4), bpm=60, player="steady")
    staying = tune_plan("|".join([bar.format("B4", "C#5")] * 4), bpm=60, player="steady")
    assert off_middle(crossing) < off_middle(staying)


@pytest.mark.parametrize(
    ("bpm", "trouble"),
    [
        (30, 0.075),  # 2 s before the crossing: 0.3 / 2 halved is 0.075, to hundredths
        (80, 0.20),  # 0.75 s: 0.4 halved
        (240, 0.50),  # 0.25 s: fully, halved by rolling
    ],
)
def test_a_slow_crossing_troubles_less_than_a_fast_one(bpm, trouble):
    plan = tune_plan("D4 B4 D4 B4", bpm=bpm)
    assert plan.units[1].crossings[0][1] == pytest.approx(trouble, abs=0.006)


def test_too_slow_and_too_fast_cost_by_the_squared_log():
    """Beyond a limit a stroke costs 40, and 60 · ln² more: a cell of 650/48 mm in 0.75 s is
    18.06 mm/s, against a slowest of 65; the whole bow in 0.25 s is 2600 mm/s, against a fastest of
    1000. The shortest stroke of all, too fast, does not cost the 40: nothing could replace it."""
    slow = tune_plan("A4 B4 A4 B4").unit_terms(1, Step(0, TURN, 20, 21))
    assert slow["limit"] == pytest.approx(40e6 + 60e6 * log(65 / (650 / 48 / 0.75)) ** 2, rel=1e-5)
    fast = tune_plan("A4 B4 A4 B4", bpm=240).unit_terms(1, Step(0, TURN, 0, 48))
    assert fast["limit"] == pytest.approx(40e6 + 60e6 * log(2600 / 1000) ** 2, rel=1e-5)
    plan = tune_plan("A4 B4")
    kind = Kind(0.1, 0.5, 0.01, ())
    tables = stroke_tables((kind,), plan.choices.bow, plan.player, (2, 46), DirectionSchool.FLOW)
    assert tables.limit[0, 1] == pytest.approx(60e6 * log(650 / 48 / 0.01 / 1000) ** 2, rel=1e-5)
    assert tables.limit[0, 2] > 40e6


def test_the_time_to_lift_is_taken_from_what_the_bow_can_be_carried():
    """A rest of 0.75 s, 0.35 s to lift and set down, 900 mm/s in the air: 360 mm, 26 cells; a rest
    too short to lift in allows none."""
    plan = tune_plan("A4*2 r A4|r*1/4 A4*3/4 A4*3")
    reach = plan.tables.problem.reach
    assert plan.units[1].free_s == pytest.approx(0.75)
    assert reach[1] == 26
    assert plan.units[2].free_s == pytest.approx(0.1875)
    assert reach[2] == -1
    quicker = replace(plan.choices, player=replace(plan.choices.player, lift_s=0.1))
    again = Plan(plan.part, quicker)
    assert again.tables.problem.reach[1] == 43


def test_a_phrase_end_gives_time_to_lift():
    """0.15 s are taken at the end of a phrase, besides a rest that is there."""
    document = tune_document("A4 B4 A4 B4|C#5*4")
    notes = list(document.part.notes)
    notes[3] = notes[3]._replace(phrase_end=True)
    plan = plan_of(replace(document, part=replace(document.part, notes=tuple(notes))))
    assert plan.units[4].free_s == pytest.approx(0.15)
    assert plan.units[3].free_s == 0.0


@pytest.mark.parametrize(
    ("music", "pairs"),
    [
        ("A4*3/2 B4*1/2 A4*2", [False, True, False]),  # dotted quarter and eighth
        ("A4*3/4 B4*1/4 A4*3", [False, True, False]),  # dotted eighth and sixteenth
        ("A4*2 B4 A4", [False, False, False]),  # a quarter is a whole beat
        ("A4*3/4 B4*1/2 A4*11/4", [False, False, False]),  # not twice as long
        ("A4 r*1/2 B4*1/2 A4*2", [False, False, False]),  # a rest between
        ("A4*2 B4*1/2( C#5*1/2) A4", [False, False, False]),  # a slur is no short note
    ],
)
def test_a_dotted_pair_is_a_short_note_inside_a_beat(music, pairs):
    assert [u.short_after_long for u in tune_plan(music).units] == pairs


def test_accents_and_staccato_lie_heavier():
    """An accent bites: heavier and faster at its start than the rest of the note, and than the
    notes beside it; a stopped note leans a little."""
    accented = with_kinds("A4 A4 A4 A4", n1=Articulation.ACCENT).contact
    assert accented.start.weight_n[1] > 1.3 * accented.weight_n[0]
    assert accented.start.weight_n[1] > accented.end.weight_n[1]
    assert accented.start.speed_m_s[1] > 1.2 * accented.end.speed_m_s[1]
    assert accented.weight_n[0] == accented.weight_n[2]
    stopped = with_kinds("A4 A4 A4 A4", n1=Articulation.STACCATO).contact
    assert stopped.weight_n[1] >= stopped.weight_n[0]


def test_a_stopped_note_sounds_on_a_shorter_string():
    """An octave up is half the string (equal temperament): the same contact point lies at twice
    the share of it. E5 on the A string, a fifth above, leaves 2^(-7/12) of 328 mm."""
    plan = tune_plan("A4 B4 D5 A4", player="steady")
    c = plan.contact
    for k, semitones in enumerate((0, 2, 5, 0)):
        sounding_mm = 328.0 * 2 ** (-semitones / 12)
        assert c.beta[k] == pytest.approx(c.contact_mm[k] / sounding_mm)
    assert np.all(c.beta[1:3] > c.contact_mm[1:3] / 328.0)


@pytest.mark.parametrize(
    ("usable", "share", "expected"),
    [
        ((0.0, 1.0), 0.5, (0.25, 0.75)),  # around the middle
        ((0.0, 0.6), 0.5, (0.3, 0.6)),  # as near the middle as the player gets
        ((0.6, 1.0), 0.5, (0.6, 0.8)),
    ],
)
def test_the_school_of_the_middle_keeps_around_it(usable, share, expected):
    """So much of the usable bow as the player's share, by hand."""
    choices = tune_document("A4 B4").choices
    player = replace(choices.player, usable_from=usable[0], usable_to=usable[1], range_share=share)
    middle = replace(choices.school, amount=AmountSchool.MIDDLE)
    found = school_range(replace(choices, player=player, school=middle))
    assert found == pytest.approx(expected)
    frog = replace(choices.school, amount=AmountSchool.FROG)
    low, high = school_range(replace(choices, player=player, school=frog))
    assert (low, high) == pytest.approx((usable[0], usable[0] + (usable[1] - usable[0]) * share))


def test_a_note_without_length_has_no_stop():
    note = tune_document("A4 B4").part.notes[0]._replace(duration_s=0.0)
    assert moving_shares([note], True).tolist() == [1.0]


def test_a_direction_pinned_inside_a_slur_is_that_of_its_bow():
    """The bow cannot turn inside it; the first note's own pin goes before."""
    document = tune_document("A4( B4) C#5 D5")
    first, second = document.part.notes[0].id, document.part.notes[1].id
    inside = document.choices.with_pin(second, Pin(direction=Direction.UP))
    assert Plan(document.part, inside).units[0].pin.direction is Direction.UP
    both = inside.with_pin(first, Pin(direction=Direction.DOWN))
    assert Plan(document.part, both).units[0].pin.direction is Direction.DOWN
