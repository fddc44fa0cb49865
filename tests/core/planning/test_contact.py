"""Contact, weight, hand and arm: the published formulas, and what must always hold.

Schelleng's limits: J. C. Schelleng, "The bowed string and the player", J. Acoust. Soc. Am. 53,
1973, with values quoted from memory.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from plectrum.core.advice.sound_faults import Symptom, find_faults
from plectrum.core.advice.warnings import warnings_of
from plectrum.core.instrument.specification import instrument, instrument_names
from plectrum.core.planning.contact.limits import force_max_n, force_min_n, lane_centre_mm
from plectrum.core.planning.fingering.search import fingering_of
from plectrum.core.planning.plan import make_plan
from plectrum.core.planning.strokes.amounts import school_range
from plectrum.core.planning.strokes.units import build_units
from plectrum.core.planning.tempo_window import Limits
from plectrum.core.player.player import stage
from plectrum.core.player.school import DynamicsSchool, School
from tests.core.planning.strategies import players, schools, tunes
from tests.tunes import tune_document, tune_plan

EXAMPLES = settings(max_examples=30, deadline=None)


def test_limits_at_a_point_worked_out_by_hand():
    """Z = 0.25 kg/s, v = 0.4 m/s, β = 0.1, Δμ = 0.5, R = 20 kg/s:
    F_max = 2·0.25·0.4 / (0.5·0.1) = 4 N; F_min = 0.0625·0.4 / (2·20·0.5·0.01) = 0.125 N."""
    z, v, beta = np.array(0.25), np.array(0.4), np.array(0.1)
    assert force_max_n(z, v, beta) == pytest.approx(4.0)
    assert force_min_n(z, v, beta, 20.0) == pytest.approx(0.125)


@given(st.floats(0.1, 4), st.floats(0.05, 1.5), st.floats(0.02, 0.2), st.floats(1.05, 3))
def test_limits_are_monotonic(z, v, beta, more):
    """Published form: both grow with speed; F_max falls as 1/β, F_min as 1/β²."""
    z, v, beta = np.array(z), np.array(v), np.array(beta)
    assert force_max_n(z, v * more, beta) == pytest.approx(more * force_max_n(z, v, beta))
    assert force_max_n(z, v, beta * more) == pytest.approx(force_max_n(z, v, beta) / more)
    low = force_min_n(z, v, beta, 20.0)
    assert force_min_n(z, v, beta * more, 20.0) == pytest.approx(low / more**2)
    assert force_min_n(z * more, v, beta, 20.0) == pytest.approx(low * more**2)


@pytest.mark.parametrize("name", instrument_names())
def test_the_playable_wedge_is_open_in_every_lane(name):
    own = instrument(name)
    z = np.array(own.impedances_kg_s)[:, None]
    beta = lane_centre_mm(own, np.arange(1.0, 6.0))[None, :] / own.string_length_mm
    v = np.array(0.2)
    assert np.all(force_min_n(z, v, beta, own.loss_kg_s) < force_max_n(z, v, beta))


def test_forces_are_of_the_size_players_use():
    """Askenfelt (J. Acoust. Soc. Am. 1986, 1989; from memory) measured about 0.2 to 2 N."""
    plan = tune_plan("[p] A4 D5 E5 B4|[f] G3 D4 A4 E5|", player="steady")
    assert np.all((plan.contact.weight_n > 0.1) & (plan.contact.weight_n < 3))


@EXAMPLES
@given(tunes(), players(), schools())
def test_weight_lies_between_the_limits_and_contact_in_the_lanes_allowed(music, player, school):
    plan = tune_plan(music, player=player, school=school)
    contact = plan.contact
    assert np.all(contact.weight_n >= contact.weight_min_n)
    assert np.all(contact.weight_n <= contact.weight_max_n)
    assert set(contact.lane.tolist()) <= set(plan.player.lanes)
    own = plan.instrument
    width = own.bridge_to_fingerboard_mm / 5
    assert np.all(contact.contact_mm >= (contact.lane - 1) * width - 1e-9)
    assert np.all(contact.contact_mm < contact.lane * width)


@EXAMPLES
@given(tunes(), players())
def test_what_comes_out_clearly_too_soft_or_too_loud_is_said(music, player):
    """From 4 dB too soft and 6 too loud (own defaults), unless the bow is too slow or runs out:
    then that is said."""
    plan = tune_plan(music, player=player)
    said = {note for w in warnings_of(plan) if w.code == "reach" for note in w.notes}
    slow = {
        plan.unit_of(w.note)
        for w in warnings_of(plan)
        if w.code in ("too_slow", "slur_too_long", "slur_not_learnt", "runs_out")
    }
    left_over_db = plan.contact.left_over_db
    for row in np.flatnonzero((left_over_db > 4.0) | (left_over_db < -6.0)):
        note = int(plan.contact.notes[row])
        assert note in said or plan.unit_of(note) in slow


@EXAMPLES
@given(tunes(), players())
def test_no_warning_asks_for_bow_that_is_not_there(music, player):
    plan = tune_plan(music, player=player)
    for warning in warnings_of(plan):
        assert "dB" not in warning.text
        assert " cm in " not in warning.remedy
        if warning.code == "reach":
            assert warning.notes[0] <= warning.note <= warning.notes[-1]
        if warning.code == "runs_out":  # what is not used is no bow that has run out
            low, high = school_range(plan.choices)
            start, end = plan.stroke_ends(plan.notes[warning.note])
            assert (high - end if end > start else end - low) < 0.1
        if "half is not" in warning.text:
            stroke = plan.strokes[plan.stroke_of(plan.notes[warning.note])]
            assert (stroke.start - 0.5) * (stroke.end - 0.5) >= 0
            assert plan.stroke_ends(plan.notes[warning.note]) == (stroke.start, stroke.end)
            assert plan.contact.left_over_db[plan.contact_rows[warning.note]] > 0


@EXAMPLES
@given(tunes(marks=False))
def test_doubled_hair_halves_the_fractions_wished_for(music):
    document = tune_document(music, player="steady")
    long = replace(document.choices, bow=replace(document.choices.bow, hair_mm=1300.0))
    fingered = fingering_of(document.part, document.choices)
    for one, other in zip(
        build_units(document.part, document.choices, fingered),
        build_units(document.part, long, fingered),
        strict=True,
    ):
        if one.ideal_length < 0.99:  # not cut off at the whole bow
            assert other.ideal_length == pytest.approx(one.ideal_length / 2)


@EXAMPLES
@given(tunes(marks=False), players())
def test_the_floor_of_the_tempo_window_is_clean_and_below_it_is_not(music, player):
    plan = tune_plan(music, player=player)
    window = plan.tempo_window
    if window is None:
        return
    limits = Limits(plan)
    floor, ceiling = (bpm / plan.part.tempo.bpm for bpm in window)
    assert limits.not_too_slow(floor)
    assert limits.not_too_fast(ceiling)
    assert floor <= 0.1 + 1e-9 or not limits.not_too_slow(floor * 0.999)
    assert ceiling >= 6 - 1e-9 or not limits.not_too_fast(ceiling * 1.001)


def test_a_wider_window_for_a_better_player():
    music = "A4 B4 C5 D5|E5*2 D5*2|"
    widths = []
    for player in ("starter", "growing", "steady"):
        low, high = tune_plan(music, player=player).tempo_window
        widths.append(high / low)
    assert widths == sorted(widths)


def test_hand_torque_at_a_point_worked_out_by_hand():
    """M = F·p·hair − m·g·balance·hair, in N·mm, at the note's middle."""
    plan = tune_plan("A4*4|")
    bow, planned = plan.choices.bow, plan.notes[0]
    place = (planned.start + planned.end) / 2
    own = 0.060 * 9.81 * 0.30 * 650
    expected = plan.contact.weight_n[0] * place * bow.hair_mm - own
    assert plan.contact.hand_nmm[0] == pytest.approx(expected)


def test_arm_angle_between_neighbouring_strings():
    """Spacing over bridge radius: 11.5 / 42 rad on the violin (values quoted from memory)."""
    plan = tune_plan("A4*2 E5*2|")
    assert abs(plan.contact.arm_deg[1]) == pytest.approx(np.degrees(11.5 / 42))


@pytest.mark.parametrize("symptom", Symptom)
def test_every_symptom_has_ranked_causes_with_a_remedy(symptom):
    plan = tune_plan("[p] G3*2( E5*2)|[f] A4*1/2 B4*1/2 C5 D5d E5d|")
    for index in range(len(plan.notes)):
        causes = find_faults(plan, index, symptom)
        likelihoods = [c.likelihood for c in causes]
        assert causes
        assert likelihoods == sorted(likelihoods, reverse=True)
        assert all(c.text and c.remedy for c in causes)


@EXAMPLES
@given(tunes(), players())
def test_remedies_for_choking_and_whistling_lie_inside_the_limits(music, player):
    plan = tune_plan(music, player=player)
    contact = plan.contact
    for row, note in enumerate(contact.notes):
        for symptom in (Symptom.CHOKED, Symptom.WHISTLING):
            for cause in find_faults(plan, int(note), symptom):
                if cause.weight_n is not None:
                    assert contact.weight_min_n[row] < cause.weight_n < contact.weight_max_n[row]
                if cause.speed_mm_s is not None:
                    v = np.array(cause.speed_mm_s / 1000)
                    z, beta = contact.impedance_kg_s[row], contact.beta[row]
                    low = force_min_n(z, v, beta, plan.instrument.loss_kg_s)
                    high = force_max_n(z, v, beta)
                    if symptom is Symptom.CHOKED:
                        assert contact.weight_n[row] <= high * 1.001
                    else:
                        assert contact.weight_n[row] >= low * 0.999


@pytest.mark.parametrize(
    ("player", "school", "moves"),
    [("steady", "lanes", True), ("growing", "lanes", True), ("starter", "lanes", False),
     ("steady", "amount", False)],
)  # fmt: skip
def test_above_the_third_position_the_bow_moves_nearer_once(player, school, moves):
    """The string is shorter there (common practice, no source); never for starters, nor where the
    lane stays."""
    document = tune_document("A4*2 B4*2|C6*2 D6*2|E6*2 D6*2|C6*4|A4*2 B4*2|A4*4", bpm=72)
    choices = replace(
        document.choices,
        player=replace(stage(player), positions=(1, 3, 5)),
        school=School(dynamics=DynamicsSchool(school)),
    )
    plan = make_plan(document.part, choices)
    high = [f.grip is not None and f.grip.position > 3 for f in plan.fingered]
    assert any(high)
    lanes = plan.contact.lane.tolist()
    assert len({lane for lane, above in zip(lanes, high, strict=True) if above}) == 1
    low = {lane for lane, above in zip(lanes, high, strict=True) if not above}
    assert len(low) == 1
    assert (lanes[high.index(True)] < low.pop()) == moves


def test_where_high_and_low_notes_alternate_the_lane_stays():
    document = tune_document("E6 E4 E6 E4|D6 D4 D6 D4|E6 E4 E6 E4|E6*4", player="steady")
    player = replace(document.choices.player, positions=(1, 3, 5))
    plan = make_plan(document.part, replace(document.choices, player=player))
    assert len(set(plan.contact.lane.tolist())) == 1
