"""The bow in motion is the plan: at any time, at any tempo, in any loop."""

from __future__ import annotations

import bisect

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from plectrum.core.document.choices import Join
from plectrum.core.playing.motion import Motion
from plectrum.core.playing.performance import Kind, Performance, Rehearsal
from tests.core.planning.strategies import players, schools, tunes
from tests.tunes import tune_plan

EXAMPLES = settings(max_examples=60, deadline=None)
SCALE = "D4 E4 F#4 G4|A4 B4 A4 G4|F#4 E4 D4 E4|D4*4"


def planned_place(plan, at_s: float) -> float | None:
    """Where the plan alone has the bow at a time of its own; None while it is lifted."""
    notes = [p for p in plan.notes if p is not None]
    k = max(0, bisect.bisect_right([p.note.onset_s for p in notes], at_s) - 1)
    planned = notes[k]
    following = notes[k + 1] if k + 1 < len(notes) else None
    if following is not None and following.join is Join.RETAKE:
        return None
    share = (at_s - planned.note.onset_s) / planned.moving_s if planned.moving_s else 1.0
    done = planned.done(min(1.0, max(0.0, share)))
    return planned.start + (planned.end - planned.start) * done


@EXAMPLES
@given(
    tunes(), players(), schools(), st.floats(0.3, 1.2), st.integers(0, 2000), st.floats(0.001, 1.0)
)
def test_at_any_time_the_bow_is_where_the_plan_has_it(music, player, school, ratio, loops, share):
    plan = tune_plan(music, player=player, school=school)
    performance = Performance(plan, Rehearsal(ratio=ratio, loop=True, count_in=False))
    motion = Motion(performance)
    played_s = performance.notes[-1].end_s
    inside = share * played_s * 0.999
    expected = planned_place(plan, inside * ratio + plan.part.notes[0].onset_s)
    state = motion.at(inside + loops * performance.length_s)
    if expected is not None and inside < performance.notes[-1].moved_s:
        assert state.position == pytest.approx(expected, abs=1e-6)
        assert state.lifted == 0.0
    assert 0.0 <= state.position <= 1.0
    assert 1.0 <= state.level <= 7.0
    assert 1.0 <= state.lane <= 5.0


@EXAMPLES
@given(tunes(), players(), st.booleans())
def test_the_bow_never_jumps(music, player, loop):
    """From one hundredth of a second to the next it goes no farther than a bow can."""
    performance = Performance(tune_plan(music, player=player), Rehearsal(loop=loop))
    motion = Motion(performance)
    before = motion.at(0.0)
    fastest = max(
        (p.planned.length_mm / p.moving_s for p in performance.notes if p.planned and p.moving_s),
        default=0.0,
    )
    air = 1.6 * performance.player.travel_mm_s
    hair_mm = performance.plan.choices.bow.hair_mm
    for k in range(1, 400):
        state = motion.at(k * performance.length_s / 350)
        step_s = performance.length_s / 350
        way_mm = abs(state.position - before.position) * hair_mm
        assert way_mm <= (max(fastest, air) * 1.01) * step_s + 1e-6
        before = state


def test_the_level_is_there_when_the_note_begins_and_the_arm_rolls_before():
    performance = Performance(tune_plan("D4 B4 D4 B4|D4*4"), Rehearsal(count_in=False))
    motion = Motion(performance)
    for played in performance.notes:
        assert motion.at(played.onset_s).level == pytest.approx(played.level)
    second = performance.notes[1]
    assert 3.0 < motion.at(second.onset_s - 0.03).level < 5.0
    assert motion.at(second.onset_s - 0.4).level == 3.0


def test_the_hand_leans_more_towards_the_tip():
    """Moment of the weight less the bow's own: more index towards the tip (trade fact 19,
    common practice)."""
    performance = Performance(tune_plan("D4*4d|D4*4", bpm=60), Rehearsal(count_in=False))
    motion, note = Motion(performance), performance.notes[0]
    hands = [motion.at(note.onset_s + share * note.moving_s).hand_nmm for share in (0.1, 0.5, 0.9)]
    assert hands == sorted(hands)


def test_for_silent_crossings_only_the_level_moves():
    performance = Performance(tune_plan("D4 A4 E5 A4|D4*4"), Rehearsal(kind=Kind.SILENT))
    motion = Motion(performance)
    states = [motion.at(k * 0.05) for k in range(120)]
    assert len({s.position for s in states}) == 1
    assert not any(s.moving for s in states)
    assert len({s.level for s in states}) > 3


def test_before_the_music_the_bow_lies_ready():
    performance = Performance(tune_plan(SCALE))
    state = Motion(performance).at(0.5)
    assert state.note is None
    assert state.position == performance.notes[0].start
    assert not state.moving
