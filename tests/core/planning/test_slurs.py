"""Slurs as decisions of the plan: what may be joined, what it costs, and what the teacher keeps."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from plectrum.core.advice.warnings import warnings_of
from plectrum.core.document.choices import Join, Pin
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.planning.fingering.search import fingering_of
from plectrum.core.planning.learning.figures import fit_figures
from plectrum.core.planning.learning.groups import Cuts, ManyCuts
from plectrum.core.planning.plan import make_plan
from plectrum.core.planning.rules import MILLIONTHS
from plectrum.core.planning.strokes.dynamic_program import Solution
from plectrum.core.planning.strokes.problem import cost_of
from plectrum.core.planning.strokes.segments import segments_of
from plectrum.core.planning.strokes.slur_columns import slur_columns
from plectrum.core.planning.strokes.slur_features import group_features
from plectrum.core.planning.strokes.slur_figures import SHAPES, figure_scores, figures_of
from plectrum.core.planning.strokes.units import build_units
from plectrum.core.score.model import Direction
from tests.core.planning.strategies import players, tunes
from tests.core.planning.test_program import brute_force, few_cells
from tests.tunes import tune_document, tune_plan

EXAMPLES = settings(max_examples=25, deadline=None)
EIGHTHS = "A4*1/2 B4*1/2 C#5*1/2 B4*1/2 A4*1/2 G4*1/2 F#4*1/2 G4*1/2"
free = st.sampled_from(["help", "song"])


def slurred(plan) -> list[int]:
    return [p.note.index for p in plan.notes if p is not None and p.join is Join.SLUR]


def song(music: str):
    """A plan with as many slurs as the slider gives."""
    document = tune_document(music, answers={"slurs": "song"})
    return make_plan(document.part, replace(document.choices, slur_amount=100))


@EXAMPLES
@given(tunes(), players(), free)
def test_no_slur_over_a_rest_nor_beyond_what_the_player_can(music, player, slurs):
    plan = tune_plan(music, player=player, answers={"slurs": slurs})
    for unit in plan.units:
        members = plan.part.notes[unit.first : unit.last + 1]
        if len(members) > 1 and not any(n.slurred for n in members[1:]):
            assert len(members) <= plan.player.slur_notes_n
        for note in members[1:]:
            assert note.gap_before_s == 0 or note.slurred


@EXAMPLES
@given(tunes(), free)
def test_the_total_is_the_sum_of_its_terms_with_free_slurs(music, slurs):
    plan = tune_plan(music, answers={"slurs": slurs})
    assert round(sum(plan.terms.values()) * MILLIONTHS) == plan.solution.total
    assert cost_of(plan.tables.problem, plan.steps) == plan.solution.total
    assert sum(s.units_n for s in plan.steps) == plan.tables.problem.units_n
    assert [u.index for u in plan.units] == list(range(len(plan.steps)))


@EXAMPLES
@given(tunes(marks=False), free)
def test_what_an_alternative_would_change_costs_what_is_said(music, slurs):
    plan = tune_plan(music, answers={"slurs": slurs})
    for unit in range(len(plan.units)):
        for alternative in plan.alternatives_at_once(unit):
            if alternative.possible:
                change = plan.change_by(unit, alternative.direction, alternative.join)
                whole = sum(cost for _, cost in change.terms)
                assert whole == pytest.approx(alternative.extra_cost, abs=1e-6)


def test_free_slurs_equal_trying_everything():
    """The program's own tables for three notes, on a few cells, every slur tried too."""
    plan = song("A4*1/2 B4*1/2 C#5*1/2 r*5/2")
    problem = few_cells(plan.tables.problem, [8, 20, 32, 44])
    assert problem.longest_n == 3
    assert Solution(problem).total == brute_force(problem)


def test_as_written_adds_and_drops_nothing():
    music = "A4( B4) C#5 D5|" + EIGHTHS
    assert slurred(tune_plan(music)) == [1]


def test_song_slurs_more_the_more_is_asked():
    document = tune_document("|".join([EIGHTHS] * 4), answers={"slurs": "song"})
    counts = []
    for amount in (0, 50, 100):
        choices = replace(document.choices, slur_amount=amount)
        counts.append(len(slurred(make_plan(document.part, choices))))
    assert counts == sorted(counts)
    assert counts[0] < counts[2]


def test_help_keeps_what_is_written_where_nothing_is_saved():
    music = "A4*1/2( B4*1/2) C#5*1/2( D5*1/2) E5 D5|A4 B4 C#5 D5"
    assert slurred(tune_plan(music, answers={"slurs": "help"})) == slurred(tune_plan(music))


def test_help_saves_hooks():
    """Hooks and wrong ways cost more than helping slurs do."""
    music = "|".join(["A4*1/2 B4*1/2 C#5*1/2 A4 B4 C#5*1/2"] * 6)
    helped, written = tune_plan(music, answers={"slurs": "help"}), tune_plan(music)
    assert helped.summary["hooks"] <= written.summary["hooks"]
    assert helped.total_cost <= written.total_cost + 1e-9


@pytest.mark.parametrize("slurs", ["help", "song"])
def test_a_pinned_slur_and_a_pinned_turn_are_kept(slurs):
    document = tune_document("A4 B4 C#5 D5|A4 B4 C#5 D5", answers={"slurs": slurs})
    notes = document.part.notes
    joined = document.choices.with_pin(notes[2].id, Pin(join=Join.SLUR))
    assert make_plan(document.part, joined).notes[2].join is Join.SLUR
    plan = song("|".join([EIGHTHS] * 2))
    at = slurred(plan)[0]
    note = plan.part.notes[at]
    parted = plan.choices.with_pin(note.id, Pin(join=Join.TURN))
    assert make_plan(plan.part, parted).notes[at].join is Join.TURN


@settings(max_examples=40, deadline=None)
@given(tunes(), players(), st.sampled_from(["help", "song"]), st.integers(1, 30))
def test_every_pinned_slur_is_kept_or_refused(music, player, slurs, at):
    """Also over a stop or a rest, where none would be proposed: there it stops."""
    document = tune_document(music, player=player, answers={"slurs": slurs})
    notes = document.part.notes
    assume(len(notes) > 1)
    note = notes[max(1, at % len(notes))]
    plan = plan_of(document.with_choices(document.choices.with_pin(note.id, Pin(join=Join.SLUR))))
    one, other = plan.notes[note.index - 1 : note.index + 1]
    refused = {w.note for w in warnings_of(plan) if w.code == "pin_not_kept"}
    assert one.unit == other.unit or note.index in refused


def test_pinned_slurs_do_not_stay_in_what_is_kept():
    """Two threads may plan the same part at once, one with a slur pinned and one without."""
    document = tune_document("A4. B4. C5. D5.", player="steady", answers={"slurs": "help"})
    part, free = document.part, document.choices
    pinned = free.with_pin(part.notes[1].id, Pin(join=Join.SLUR))
    fingered = fingering_of(part, free)

    def bows_n(choices) -> int:
        return len(segments_of(part, choices, fingered, build_units(part, choices, fingered)).count)

    before = bows_n(free)
    assert bows_n(pinned) > before
    assert bows_n(free) == before


def test_a_direction_pinned_inside_a_slur_turns_the_slur():
    plan = song("|".join([EIGHTHS] * 2))
    at = slurred(plan)[0]
    for direction in Direction:
        pinned = plan.choices.with_pin(plan.part.notes[at].id, Pin(direction=direction))
        assert make_plan(plan.part, pinned).notes[at].direction is direction


def test_a_player_without_slurs_gets_none_proposed():
    document = tune_document("|".join([EIGHTHS] * 2), answers={"slurs": "song"})
    player = replace(document.choices.player, slur_notes_n=1)
    plan = plan_of(document.with_choices(replace(document.choices, player=player)))
    assert slurred(plan) == []


def test_the_likelihood_of_printed_slurs_and_its_slope():
    """Two notes, one feature of their group: p = e^w / (1 + e^w), worked out by hand; and the
    slope of a longer chain against small steps."""
    one = Cuts(
        2, np.array([0]), np.array([2]), np.array([[1.0]]), np.zeros((2, 2, 1)),
        np.array([False, True]),
    )  # fmt: skip
    loss, slope = ManyCuts([one]).loss(np.array([0.7]))
    chance = np.exp(0.7) / (1 + np.exp(0.7))
    assert loss == pytest.approx(-np.log(chance))
    assert slope[0] == pytest.approx(chance - 1)
    rng = np.random.default_rng(3)
    groups = [(i, k) for i in range(6) for k in (2, 3) if i + k <= 6]
    first, units = (np.array(x) for x in zip(*groups, strict=True))
    cuts = Cuts(
        6, first, units, rng.normal(size=(len(groups), 4)), rng.normal(size=(2, 2, 4)),
        np.array([False, True, False, True, True, False]),
    )  # fmt: skip
    many, worth = ManyCuts([cuts, cuts]), rng.normal(size=4)
    _, slope = many.loss(worth)
    for k in range(4):
        step = np.zeros(4)
        step[k] = 1e-6
        measured = (many.loss(worth + step)[0] - many.loss(worth - step)[0]) / 2e-6
        assert slope[k] == pytest.approx(measured, rel=1e-4)


def test_a_run_is_one_way_from_its_first_note_to_its_last():
    """What comes before the group does not count: C D E after a higher B is a run all the same."""
    document = tune_document("B4*1/2 C4*1/2 D4*1/2 E4*1/2 D4*1/2 F4*1/2 G4*1/2 A4*1/2")
    columns = slur_columns(
        document.part, document.part.notes, fingering_of(document.part, document.choices)
    )
    first, last = np.array([0, 1, 1, 4, 3]), np.array([3, 3, 4, 7, 5])
    found = group_features(columns, first, last)
    assert found["slur_one_way"].tolist() == [False, True, False, True, False]
    assert found["slur_equal"].all()


def test_figures_say_what_stands_around_a_join():
    """Twelfths of a beat, classes of intervals, place, dots: a rhythm has one key in any key."""
    document = tune_document("A4*3/2 B4*1/2 A4( D5)|D5*2 E5*2")
    columns = slur_columns(
        document.part, document.part.notes, fingering_of(document.part, document.choices)
    )
    found = dict(zip(SHAPES, figures_of(columns)[1], strict=True))
    assert found == {
        "pair": "pair 18 6 off simple plain",
        "before": "before - 18 6 off simple plain",
        "after": "after 18 6 12 off simple plain",
        "around": "around - 18 6 12 off simple plain",
        "line": "line 18 6 i1 off simple plain",
        "turn": "turn 6 i0 i1 i1 off simple plain",
    }
    assert figure_scores(columns, {"pair 18 6 off simple plain": 2.0}).tolist()[:3] == [0, 2, 0]


def test_figures_are_learnt_by_how_often_they_are_joined():
    """Three keys joined 90, 50 and 10 times of 100: log odds of each, about their middle (the
    intercept), by the formula of a logistic regression with one column a key."""
    keys = [(name,) for name in ("often", "half", "seldom") for _ in range(100)]
    joined = [k < most for most in (90, 50, 10) for k in range(100)]
    found = fit_figures(keys, joined, pull=1e-4)
    assert found["often"] - found["half"] == pytest.approx(np.log(9), abs=0.01)
    assert found["half"] - found["seldom"] == pytest.approx(np.log(9), abs=0.01)


def test_dots_are_hooks_in_help_and_may_be_slurred_in_song():
    dotted = "A4*3/4 B4*1/4. C#5*3/4 B4*1/4.|A4*3/4 B4*1/4. A4"
    plan = tune_plan(dotted, answers={"slurs": "help"})
    assert not slurred(plan)
    assert slurred(song(dotted)) == [1, 3, 5]


@pytest.mark.parametrize(("sign", "kept"), [(">", False), (".", False), ("", True)])
def test_song_slurs_neither_accents_nor_staccato(sign, kept):
    """Common practice; what the page itself slurs stays possible."""
    music = "|".join([f"D4*1/2 E4*1/2{sign} F4*1/2{sign} G4*1/2{sign} A4*1/2 G4*1/2{sign} F4 "] * 4)
    document = tune_document(music, answers={"slurs": "song"}, player="steady")
    plan = plan_of(document.with_choices(replace(document.choices, slur_amount=100)))
    slurred = [p.note for p in plan.notes if p.join is Join.SLUR]
    assert not [note for note in slurred if note.articulations]
    assert kept <= bool(slurred)
