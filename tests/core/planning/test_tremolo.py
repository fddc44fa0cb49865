"""Tremolo: quick short strokes between the middle and the tip (common practice, no source)."""

from __future__ import annotations

from fractions import Fraction

import numpy as np
import pytest

from plectrum.core.advice.reasons import reasons_for
from plectrum.core.advice.warnings import warnings_of
from plectrum.core.document.choices import Join, Pin
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.playing.motion import Motion
from plectrum.core.playing.performance import Performance
from plectrum.core.sound.gestures import gestures_of
from tests.tunes import tune_document, tune_plan

STAGES = ("starter", "growing", "steady")


@pytest.mark.parametrize("player", STAGES)
@pytest.mark.parametrize("instrument", ["violin", "viola", "cello", "bass"])
@pytest.mark.parametrize("beams", ["=", "==", "==="])
def test_short_strokes_between_middle_and_tip(player, instrument, beams):
    music = f"A3*2{beams} A3*2{beams}|A3*4"
    plan = tune_plan(music, player=player, instrument=instrument, bpm=60)
    low, high = plan.player.usable_from, plan.player.usable_to
    for planned in plan.notes[:2]:
        assert planned.strokes_n == {"=": 4, "==": 8, "===": 16}[beams]
        assert min(planned.start, planned.end) >= min(0.48, high - 0.1)
        assert planned.length_mm < (0.36 if beams == "=" else 0.2) * plan.choices.bow.hair_mm
        assert all(low - 0.15 <= at <= high + 0.15 for at in planned.turns)
    assert reasons_for(plan, 0)[0].code == "tremolo"


@pytest.mark.parametrize(
    ("music", "ways"),
    [
        ("A4*2= B4*2|A4*2= B4*2|A4*4", "DDUUD"),  # four strokes: the next goes as the first
        ("A4*3/2= B4*1/2 A4*2|A4*4", "DUDU"),  # three: as after one
        ("A4*4=|B4*4=|A4*4", "DDD"),
    ],
)
def test_what_follows_goes_on_from_the_last_stroke(music, ways):
    """An even number of strokes comes back, so the bow turns into the same direction."""
    plan = tune_plan(music)
    assert "".join("DU"[p.direction == "up"] for p in plan.notes) == ways
    assert {p.join for p in plan.notes[1:]} == {Join.TURN}


def test_after_a_tremolo_nobody_counts_either_way_turns():
    plan = tune_plan("A4*4===|B4*4", bpm=100)
    assert plan.notes[0].strokes_n == 22
    joins = {(a.direction, a.join) for a in plan.alternatives(1)}
    assert {join for _, join in joins} == {Join.TURN, Join.RETAKE}
    assert len(joins) == 4


def test_a_pinned_join_after_a_tremolo_is_the_one_that_is_played():
    document = tune_document("A4*2= B4*2|A4*4")
    for join in (Join.TURN, Join.HOOK):
        pinned = document.choices.with_pin(document.part.notes[1].id, Pin(join=join))
        plan = plan_of(document.with_choices(pinned))
        assert plan.notes[1].join is join
        own = [a for a in plan.alternatives(1) if a.join is join and a.extra_cost == 0]
        assert [a.direction for a in own] == [plan.notes[1].direction]


def test_the_bow_goes_to_and_fro_and_ends_where_it_is_planned_to():
    for music in ("A4*2= B4*2|A4*4", "A4*3/2= B4*1/2 A4*2|A4*4"):
        performance = Performance(tune_plan(music))
        motion, played = Motion(performance), performance.notes[0]
        planned = played.planned
        times = np.linspace(played.onset_s, played.moved_s - 1e-6, 400)
        at = np.array([motion.place_at(t)[0] for t in times])
        turned_n = int((np.diff(np.sign(np.diff(at))) != 0).sum())
        assert turned_n == planned.strokes_n - 1
        assert at[-1] == pytest.approx(planned.end, abs=0.01)
        ways = [g.speed_m_s > 0 for row in gestures_of(performance) for g in row]
        assert ways[: planned.strokes_n] == [k % 2 == 0 for k in range(planned.strokes_n)]


def test_counted_strokes_are_strokes_and_others_are_exempt():
    """The speed of speech is no cost of a tremolo that is as quick as it is."""
    for token, said in (("A4*4==", True), ("A4*4===", False)):
        plan = tune_plan(f"{token}|{token}", bpm=130, player="starter")
        assert ("too_quick" in {w.code for w in warnings_of(plan)}) == said
        assert plan.notes[0].note.stroke_q == (Fraction(1, 4) if said else Fraction(1, 8))
