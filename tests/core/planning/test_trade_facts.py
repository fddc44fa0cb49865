"""Facts of the trade, one check each, numbered as our notes on the trade number them.

Every one is common practice among string teachers; none has a published source. Where a check
uses a published formula or value, that is said at the check. Facts 14 to 17 and 20, about
drills, are checked with the drills.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from plectrum.core.advice.sound_faults import Symptom, find_faults
from plectrum.core.advice.warnings import warnings_of
from plectrum.core.document.choices import Join
from plectrum.core.instrument.specification import instrument
from plectrum.core.planning.contact.limits import force_max_n, force_min_n
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.planning.ensemble.ensemble import plan_together
from plectrum.core.planning.plan import make_plan
from plectrum.core.planning.strokes.equal_bars import find_equals
from plectrum.core.player.player import stage
from plectrum.core.player.school import (
    AmountSchool,
    DynamicsSchool,
    FourthSchool,
    School,
)
from tests.tunes import tune_document


def planned(music: str, metre: str = "4/4", *, school=None, player=None, **options):
    """A plan under a school and player."""
    document = tune_document(music, metre, **options)
    choices = document.choices
    if school is not None:
        choices = replace(choices, school=school)
    if player is not None:
        choices = replace(choices, player=player)
    return make_plan(document.part, choices)


def weights(plan):
    return plan.contact.weight_n


def test_fact_01_lower_string_more_weight_slower_bow():
    low, high = planned("G3 G3 G3 G3|"), planned("E5 E5 E5 E5|")
    assert weights(low).mean() > weights(high).mean()
    assert low.notes[0].speed_mm_s < high.notes[0].speed_mm_s


def test_fact_02_the_resting_lane_is_the_middle():
    """mf at the comfortable speed of a beginner who knows one lane."""
    plan = planned("A4 B4 C5 D5|" * 2, player=stage("starter"))
    assert set(plan.contact.lane) == {3}


@pytest.mark.parametrize("name", ["violin", "viola", "cello", "bass"])
def test_fact_03_choking_and_whistling_come_out_of_the_formulas(name):
    """Schelleng's limits (J. Acoust. Soc. Am. 53, 1973; values quoted from memory): heavier or
    slower or farther from the bridge chokes; faster or nearer the bridge whistles."""
    own = instrument(name)
    z = np.array(own.impedances_kg_s)
    v, beta = np.array(0.3), np.array(0.08)
    top, low = force_max_n(z, v, beta), force_min_n(z, v, beta, own.loss_kg_s)
    assert np.all(force_max_n(z, v / 2, beta) < top)  # slower bears less weight
    assert np.all(force_max_n(z, v, beta * 1.5) < top)  # so does nearer the fingerboard
    assert np.all(force_min_n(z, v * 2, beta, own.loss_kg_s) > low)  # faster needs more
    assert np.all(force_min_n(z, v, beta / 1.5, own.loss_kg_s) > low)  # so does the bridge
    assert np.all(np.diff(top) < 0)  # the lowest string bears and needs most
    assert np.all(np.diff(low) < 0)


def test_fact_03_the_remedies_are_the_reverse():
    plan = planned("A4 B4 A4 B4|")
    choked = {c.code: c for c in find_faults(plan, 0, Symptom.CHOKED)}
    whistling = {c.code: c for c in find_faults(plan, 0, Symptom.WHISTLING)}
    lane = int(plan.contact.lane[0])
    assert choked["too_slow"].speed_mm_s > plan.notes[0].speed_mm_s
    assert choked["too_near_fingerboard"].lane < lane
    assert whistling["too_fast"].speed_mm_s < plan.notes[0].speed_mm_s
    assert whistling["too_near_bridge"].lane > lane


def test_fact_04_louder_is_more_bow_nearer_the_bridge_and_lower_on_it():
    soft, loud = planned("[p] A4 A4 A4 A4|" * 2), planned("[f] A4 A4 A4 A4|" * 2)
    assert loud.notes[0].length_mm > soft.notes[0].length_mm
    assert loud.contact.contact_mm[0] < soft.contact.contact_mm[0]
    assert weights(loud)[0] > weights(soft)[0]
    middle = [np.mean([(p.start + p.end) / 2 for p in plan.notes]) for plan in (loud, soft)]
    assert middle[0] < middle[1]


def test_fact_04_little_bow_cannot_reach_fortissimo():
    little = replace(stage("starter"), usable_from=0.4, usable_to=0.55)
    codes = {w.code for w in warnings_of(planned("[ff] A4 A4 A4 A4|", player=little))}
    assert "reach" in codes


VALUES = School(amount=AmountSchool.VALUES)


def test_fact_05_eighths_half_bows_quarters_whole():
    eighths = planned("A4*1/2 B4*1/2 " * 4 + "|", school=VALUES)
    quarters = planned("A4 B4 A4 B4|", school=VALUES)
    usable = 0.9583 - 0.0417
    half, whole = eighths.units[0].ideal_length, quarters.units[0].ideal_length
    assert half / whole == pytest.approx(0.5)
    string = instrument("violin").impedances_kg_s
    assert whole == pytest.approx(usable * (string[3] / string[2]) ** 0.25, abs=0.01)
    low_half = all(p.end <= 0.55 and p.start <= 0.55 for p in eighths.notes)
    high_half = all(p.end >= 0.45 and p.start >= 0.45 for p in eighths.notes)
    one_place = max(p.end for p in eighths.notes) - min(p.start for p in eighths.notes) < 0.55
    assert low_half or high_half or one_place


def test_fact_05_two_halves_slurred_are_one_whole_and_each_keeps_its_half():
    separate = planned("A4*1/2 B4*1/2 " * 4 + "|", school=VALUES)
    slurred = planned("A4*1/2( B4*1/2) " * 4 + "|", school=VALUES)
    assert slurred.units[0].ideal_length == pytest.approx(
        separate.units[0].ideal_length + separate.units[1].ideal_length, abs=0.02
    )
    first, second = slurred.notes[:2]
    assert first.length_mm == pytest.approx(second.length_mm)


def test_fact_06_the_slower_the_slur_the_slower_the_bow():
    music = "A4( B4 C5 D5)|" * 4
    speeds = [planned(music, bpm=bpm).notes[0].speed_mm_s for bpm in (120, 80, 60, 40)]
    assert speeds == sorted(speeds, reverse=True)
    assert len(set(speeds)) == 4


def test_fact_07_the_shorts_stay_small_where_the_long_stroke_ended():
    """Long, short, short: the shorts lie at the end of the long stroke, each a part of it."""
    plan = planned("A4*2 B4*1/2 C5*1/2|" * 4, "3/4")
    for k in range(0, 12, 3):
        long, *shorts = plan.notes[k : k + 3]
        for short in shorts:
            assert short.length_mm < 0.6 * long.length_mm
            assert abs(short.start - long.end) < 0.3


def test_fact_08_a_diminuendo_is_the_reverse_of_a_crescendo():
    plan = planned("[f] [>] A4d B4d A4d B4d [x]|[p] A4*2u r*2|")
    lengths = [p.length_mm for p in plan.notes[:4]]
    assert lengths == sorted(lengths, reverse=True)


def test_fact_09_the_long_note_keeps_its_full_beats():
    plan = planned("A4*1/2 B4*1/2 C5*2|" * 2, "3/4")
    for planned_note in plan.notes[2::3]:
        if not planned_note.stop_after:
            assert planned_note.moving_s == pytest.approx(planned_note.note.duration_s)


def test_fact_10_hooks_are_stops_not_slurs():
    plan = planned("A4u B4d C5d D5u E5u r*3|", "8/4")
    joins = [p.join for p in plan.notes]
    assert joins == [Join.START, Join.TURN, Join.HOOK, Join.TURN, Join.HOOK]
    for before, after in zip(plan.notes, plan.notes[1:], strict=False):
        if after.join is Join.HOOK:
            stop_s = before.note.duration_s - before.moving_s
            assert 0.08 <= stop_s <= 0.15 + 1e-9


def finger_of(plan, index):
    return plan.fingered[index].grip.main.finger


def test_fact_11_fourth_finger_when_the_line_comes_back_open_when_it_goes_on():
    back = planned("D5 E5 D5 C#5|")  # on the A string, up to E and back down
    assert finger_of(back, 1) == 4
    on = planned("D5 E5 F#5 G5|")  # up and on to the E string
    assert finger_of(on, 1) == 0


@pytest.mark.parametrize(("school", "finger"), [(FourthSchool.OPEN, 0), (FourthSchool.STOPPED, 4)])
def test_fact_11_the_other_schools_decide_always(school, finger):
    for music in ("D5 E5 D5 C#5|", "D5 E5 F#5 G5|"):
        assert finger_of(planned(music, school=School(fourth=school)), 1) == finger


def test_fact_12_a_fifth_across_two_strings_is_one_finger():
    plan = planned("E4 B4 E4 B4|")  # first finger on D and on A
    fingers = {finger_of(plan, k) for k in range(4)}
    assert fingers == {1}
    assert plan.summary["crossings"] == 3


def test_fact_13_one_level_on_the_cello_is_an_inch_or_a_little_more_of_elbow():
    """Common practice: 25 to 38 mm in the middle of the bow."""
    plan = planned("D3*2 D3+A3*2|", name="Cello", clef="F4")
    place = (plan.notes[1].start + plan.notes[1].end) / 2
    at_the_middle = plan.contact.elbow_mm[1] * 0.5 / place
    assert 25 <= at_the_middle <= 38


def test_fact_18_ricochet_is_thrown_above_the_middle():
    plan = planned("{ricochet} A4*1/2(. A4*1/2). A4 A4*1/2(. A4*1/2). A4|" * 2)
    thrown = [s for s in plan.strokes if s.kind == "ricochet"]
    assert thrown
    assert np.mean([(s.start + s.end) / 2 for s in thrown]) > 0.5


def test_fact_19_the_little_finger_carries_at_the_frog_the_index_leans_at_the_tip():
    plan = planned("[p] A4*4( B4*4)|", "8/4", bpm=120)
    first, last = plan.contact.hand_nmm
    assert plan.notes[0].start < plan.notes[1].end or plan.notes[0].direction == "up"
    by_place = sorted(zip([p.start for p in plan.notes], (first, last), strict=True))
    assert by_place[0][1] < by_place[1][1]
    assert by_place[0][1] < 0


def test_fact_21_equal_bars_are_found_and_learnt_once():
    document = tune_document("A4 B4 C5*2|D5 E5 D5*2|A4 B4 C5*2|E4*4|")
    plan = plan_of(document)
    found = find_equals(plan.part, plan.units)
    classes = [{plan.part.notes[plan.units[bar[0]].first].bar_index for bar in c} for c in found]
    assert any({0, 2} <= bars for bars in classes)
    assert not any(3 in bars for bars in classes)


def test_fact_22_rests_are_for_lifting_and_rit_slows_the_bow():
    lifted = planned("A4*2d r*2|A4*2d r*2|", bpm=50)
    assert lifted.notes[1].direction == "down"
    slowing = planned("A4 B4 C5 D5|{rit.} A4 B4 C5 D5|")
    wished = [u.ideal_length / u.moving_s for u in slowing.units]
    assert wished[4:] == sorted(wished[4:], reverse=True)
    assert wished[-1] < wished[0]


def test_fact_23_parts_in_the_same_rhythm_go_the_same_way():
    """Up, as the leader is marked; alone the second part begins down."""
    leader = tune_document("A4*3/2u B4*1/2 C5 D5|A4 B4 C5*2|")
    second = tune_document("D4*3/2 E4*1/2 F4 G4|D4 E4 F4*2|")
    both = plan_together([(d.part, d.choices) for d in (leader, second)])
    assert len(both.matched) == 7
    assert not [d for d in both.differences if d.what == "way"]
    assert plan_of(second).notes[0].direction == "down"
    assert both.plans[1].notes[0].direction == "up"


def test_dynamics_school_amount_keeps_the_lane():
    school = School(dynamics=DynamicsSchool.AMOUNT)
    plan = planned("[p] A4*2 B4*2|[f] C5*2 D5*2|", school=school)
    assert set(plan.contact.lane) == {3}
    moving = planned("[p] A4*2 B4*2|[f] C5*2 D5*2|", player=stage("steady"))
    assert len(set(moving.contact.lane)) > 1
