"""Facts of the trade in the shipped exercises (common practice, no source), and their arithmetic;
every one for every instrument and player within its limits."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from plectrum.core.document.choices import Choices
from plectrum.core.errors import ChoiceError
from plectrum.core.instrument.bow import Bow
from plectrum.core.instrument.specification import instrument_names
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.player.player import STAGES, stage
from plectrum.core.practice.exercises.drill_music import drill_document, has_music, written
from plectrum.core.practice.exercises.drills import Drill, Moves, Setting
from plectrum.core.practice.exercises.model import Changes, Exercise, shipped
from plectrum.core.practice.exercises.steps import ON_STRINGS, drill_of
from plectrum.core.score.model import Direction
from plectrum.core.score.reading.opening import open_score


def _choices(instrument: str = "violin", player: str = "growing") -> Choices:
    return replace(Choices.default(instrument), player=stage(player))


def _drill(key: str, choices: Choices | None = None, day: int = 1, **changes) -> Drill:
    row = Changes(**changes).made_in(shipped()[key]).on_day(day)
    return drill_of(row, Setting.of(choices or _choices()), day)


@st.composite
def _set_up(draw: st.DrawFn) -> tuple[Exercise, Choices]:
    row = draw(st.sampled_from(list(shipped().values())))
    row = row.on_day(draw(st.integers(1, 12)))
    if row.moves in ON_STRINGS and draw(st.booleans()):
        row = Changes(times=draw(st.integers(1, 4)), play_beats=draw(st.integers(1, 4))).made_in(
            row
        )
    choices = _choices(draw(st.sampled_from(instrument_names())), draw(st.sampled_from(STAGES)))
    return row, choices


@settings(max_examples=120, deadline=None)
@given(_set_up())
def test_every_setting_is_within_the_players_limits(case):
    """Strokes stay on the usable bow and below the fastest speed; cautions are there."""
    row, choices = case
    setting = Setting.of(choices)
    try:
        drill = drill_of(row, setting)
    except ChoiceError:
        return
    assert "pain" in drill.caution
    assert row.caution in drill.caution
    assert drill.seconds > 0
    for step in drill.steps:
        assert step.seconds > 0
        assert step.level is None or 1 <= step.level <= setting.instrument.levels_n
        if step.direction is not None:
            assert (step.end > step.start) == (step.direction is Direction.DOWN)
            assert 0 <= min(step.start, step.end) <= max(step.start, step.end) <= 1
            speed_mm_s = abs(step.end - step.start) * choices.bow.hair_mm / step.seconds
            if row.pace == "counts":
                assert speed_mm_s <= setting.player.fastest_mm_s + 1e-6


@settings(max_examples=40, deadline=None)
@given(_set_up())
def test_every_exercise_on_strings_is_music_with_its_bowing(case):
    """Bars are full, notes are open strings, bows go the way from place to place within a
    forty-eighth of the hair."""
    row, choices = case
    try:
        drill = drill_of(row, Setting.of(choices))
    except ChoiceError:
        return
    if row.strings == "none":
        assert not has_music(drill)
        return
    document = drill_document(drill, choices)
    again = open_score(document.score.xml, "drill.musicxml")
    assert again.parts[0].instrument == choices.instrument
    part = document.part
    assert all(b.duration_q == b.metre.length_q for b in part.bars)
    open_midis = Setting.of(choices).instrument.open_midis
    assert all(p.midi in open_midis for n in part.notes for p in n.pitches)
    drawn = [s for s in drill.steps if s.direction is not None]
    if drawn:
        plan = plan_of(document)
        assert [n.direction for n in plan.notes] == [s.direction for s in drawn]
        assert plan.notes[0].start == pytest.approx(drawn[0].start, abs=1 / 24)


def test_fact_14_a_silent_roll_changes_only_the_level():
    steps = _drill("silent-rolls").steps
    assert {(s.start, s.end, s.direction, s.moves) for s in steps} == {(0.5, 0.5, None, Moves.ROLL)}
    levels = [s.level for s in steps]
    assert max(levels) == 7
    assert all(abs(a - b) == 1 for a, b in pairwise(levels))
    skipping = [s.level for s in _drill("silent-rolls-skipping", times=1).steps]
    assert skipping == [1, 5, 3, 7]


def test_fact_14_arcs_go_over_all_strings_and_back_in_one_bow():
    steps = _drill("arcs", _choices("cello", "steady")).steps
    assert [s.level for s in steps] == [1, 3, 5, 7, 5, 3, 1]
    assert {s.direction for s in steps} == {Direction.DOWN}
    assert all(a.end == pytest.approx(b.start) for a, b in pairwise(steps))


def test_fact_14_the_slow_crossing_runs_from_quarter_mark_to_quarter_mark_from_either_side():
    steps = _drill("slow-crossing").steps
    assert steps[0].start == 0.25
    assert steps[3].end == pytest.approx(0.75)
    assert steps[-1].end == pytest.approx(0.25)
    assert [s.level for s in steps] == [1, 3, 5, 7, 7, 5, 3, 1]
    other = _drill("slow-crossing-from-the-top").steps
    assert [s.level for s in other] == [7, 5, 3, 1, 1, 3, 5, 7]


@pytest.mark.parametrize("hair_mm", [650.0, 420.0])
def test_fact_15_placements_land_25_to_50_mm_from_the_tip_ten_times_a_string(hair_mm):
    choices = replace(
        _choices(player="steady"), bow=replace(Bow.full_size("violin"), hair_mm=hair_mm)
    )
    steps = _drill("placements", choices).steps
    landings = [s for s in steps if s.word == "tip"]
    assert len(landings) == 40
    usable_mm = (1 - stage("steady").usable_to) * hair_mm
    assert all(usable_mm <= (1 - s.end) * hair_mm <= 60 + usable_mm for s in landings)
    assert {s.level for s in steps} == {1, 3, 5, 7}
    assert {s.moves for s in steps} == {Moves.CARRY}


def test_fact_16_straight_bow_plays_two_checks_four_every_string_twice():
    steps = _drill("straight-bow", _choices(player="steady")).steps
    assert [s.seconds for s in steps] == [2.0, 4.0] * 14
    assert [s.level for s in steps[::4]] == [1, 3, 5, 7, 5, 3, 1]


def test_fact_16_it_starts_smaller_where_a_whole_bow_is_too_much():
    lengths = {}
    for name in STAGES:
        choices = _choices(player=name)
        step = _drill("straight-bow", choices).steps[0]
        lengths[name] = step.end - step.start
        assert lengths[name] * choices.bow.hair_mm / 2 <= stage(name).comfortable_mm_s + 1e-9
    assert lengths["starter"] < lengths["steady"]


def test_fact_17_the_longest_bow_is_the_slowest_clean_one_and_the_up_bow_shorter():
    choices = _choices()
    down, up, *rest = _drill("longest-bow", choices).steps
    length_mm = (down.end - down.start) * choices.bow.hair_mm
    assert length_mm / down.seconds == pytest.approx(choices.player.slowest_mm_s)
    assert up.seconds < down.seconds
    assert len(rest) == 6


def test_fact_19_the_hand_moves_down_half_an_inch_a_day_ten_times():
    """Ten repetitions higher up the stick, then 13 mm lower each day."""
    hair_mm = _choices().bow.hair_mm
    heights = []
    for day in range(1, 8):
        drill = _drill("hand-exercise", day=day)
        assert sum(s.word == "lean" for s in drill.steps) == 10
        assert "stretched, locked" in drill.caution
        heights.append(round(drill.steps[0].hand * hair_mm, 6))
        at = f"{heights[-1]:.0f} mm above the frog" if heights[-1] else "at the frog"
        assert drill.today == f"the hand {at}"
    assert heights == [65, 52, 39, 26, 13, 0, 0]


def test_fact_20_the_bow_is_tightened_looked_at_and_loosened():
    words = [s.word for s in _drill("bow-care").steps]
    assert words.index("tighten") < words.index("look") < words.index("loosen")
    drill = _drill("bow-care")
    assert "do not touch the hair" in drill.what.lower()
    assert "adult" in drill.caution


def test_level_calls_never_call_the_same_twice_and_are_mixed_anew_each_day():
    single = [s.level for s in _drill("level-calls", times=40).steps]
    assert len(single) == 40
    assert set(single) == {1, 3, 5, 7}
    assert all(a != b for a, b in pairwise(single))
    double = _drill("level-calls-double", times=40).steps
    assert {s.level for s in double} == {1, 2, 3, 4, 5, 6, 7}
    assert all(s.late for s in double)
    assert _drill("level-calls", day=2) == _drill("level-calls", day=2)
    assert _drill("level-calls", day=2) != _drill("level-calls", day=3)


def test_hooked_figures_stop_where_the_way_stays():
    for key in ("hooked", "hooked-offset", "hooked-one-two", "hooked-three"):
        steps = _drill(key, times=1, strings="D").steps
        for a, b in pairwise(steps):
            same = a.direction is b.direction
            assert ("stop" in b.word) == same
            if same:
                assert a.end == pytest.approx(b.start)


def test_the_amount_of_bow_grows_in_the_same_time_and_shrinks_again():
    steps = _drill("bow-amounts", strings="D").steps
    amounts = [s.end - s.start for s in steps if s.direction is Direction.DOWN]
    top = amounts.index(max(amounts))
    assert amounts[: top + 1] == sorted(amounts[: top + 1])
    assert amounts[top:] == sorted(amounts[top:], reverse=True)
    assert len({s.seconds for s in steps}) == 1
    assert all(a.end == pytest.approx(b.start) for a, b in pairwise(steps))


def test_a_thrown_bow_bounces_as_often_as_it_says_and_lower_each_time():
    steps = _drill("ricochet-two-one", times=1, strings="D").steps
    thrown = [(s.direction, s.height_mm) for s in steps if s.direction is not None]
    assert [way for way, _ in thrown] == [Direction.DOWN, Direction.DOWN, Direction.UP]
    assert thrown[1][1] < thrown[0][1] == 40.0
    assert _drill("drop-and-catch", day=3).today == "from 40 mm"


def test_what_grows_by_the_tempo_is_written_at_that_tempo():
    """The beats stay as they are written; the metronome is another."""
    row = shipped()["halves-at-the-tip"]
    for day, bpm in ((1, 60), (4, 72)):
        drill = drill_of(row.on_day(day), Setting.of(_choices()), day)
        assert drill.bpm == bpm
        assert {w.length_q for w in written(drill)} == {written(drill)[0].length_q}
        assert drill.seconds == pytest.approx(32 * 0.5 * 60 / bpm)
    document = drill_document(drill_of(row.on_day(4), Setting.of(_choices())), _choices())
    assert document.part.tempo.bpm == 72
