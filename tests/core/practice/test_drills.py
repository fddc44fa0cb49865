"""Drills of the bow arm: facts of the trade, common practice without a source, and arithmetic."""

from __future__ import annotations

from itertools import pairwise

import pytest

from plectrum.core.instrument.bow import Bow
from plectrum.core.instrument.specification import instrument
from plectrum.core.player.player import STAGES, stage
from plectrum.core.practice import drills
from plectrum.core.score.model import Direction

BOW = Bow.full_size("violin")


def test_fact_14_a_silent_roll_changes_only_the_level():
    drill = drills.silent_rolls(stage("growing"), instrument("violin"))
    assert {(s.start, s.end, s.direction) for s in drill.steps} == {(0.5, 0.5, None)}
    levels = [s.level for s in drill.steps]
    assert max(levels) == 7
    assert all(abs(a - b) == 1 for a, b in pairwise(levels))


def test_fact_14_arcs_go_over_all_strings_and_back_in_one_bow():
    drill = drills.arcs(stage("steady"), instrument("cello"))
    assert [s.level for s in drill.steps] == [1, 3, 5, 7, 5, 3, 1]
    assert {s.direction for s in drill.steps} == {Direction.DOWN}
    assert all(a.end == pytest.approx(b.start) for a, b in pairwise(drill.steps))


def test_fact_14_the_slow_crossing_runs_from_quarter_mark_to_quarter_mark():
    drill = drills.slow_crossing(stage("growing"), BOW, instrument("violin"))
    assert drill.steps[0].start == 0.25
    assert drill.steps[3].end == pytest.approx(0.75)
    assert drill.steps[-1].end == pytest.approx(0.25)
    assert [s.level for s in drill.steps] == [1, 3, 5, 7, 7, 5, 3, 1]


@pytest.mark.parametrize("hair_mm", [650.0, 420.0])
def test_fact_15_placements_land_25_to_50_mm_from_the_tip_ten_times_a_string(hair_mm):
    bow = Bow("violin", hair_mm, 60.0, 0.3)
    drill = drills.placements(stage("growing"), bow)
    landings = [s for s in drill.steps if s.end]
    assert len(landings) == 40
    assert all(25 <= (1 - s.end) * hair_mm <= 50 for s in landings)
    assert {s.level for s in drill.steps} == {1, 3, 5, 7}


def test_fact_16_straight_bow_plays_two_checks_four_every_string_twice():
    drill = drills.straight_bow(stage("steady"), BOW)
    assert [s.seconds for s in drill.steps] == [2.0, 4.0] * 8
    assert [s.level for s in drill.steps[::2]] == [1, 3, 5, 7, 7, 5, 3, 1]


def test_fact_16_it_starts_smaller_where_a_whole_bow_is_too_much():
    lengths = {}
    for name in STAGES:
        step = drills.straight_bow(stage(name), BOW).steps[0]
        lengths[name] = step.end - step.start
        assert lengths[name] * BOW.hair_mm / 2 <= stage(name).comfortable_mm_s + 1e-9
        assert stage(name).usable_from - 1e-9 <= step.start
        assert step.end <= stage(name).usable_to + 1e-9
    assert lengths["starter"] < lengths["steady"]


def test_fact_17_the_longest_bow_is_the_slowest_clean_one_and_the_up_bow_shorter():
    player = stage("growing")
    drill = drills.longest_bow(player, BOW)
    down, up = drill.steps[:2]
    length_mm = (player.usable_to - player.usable_from) * BOW.hair_mm
    assert length_mm / down.seconds == pytest.approx(player.slowest_mm_s)
    assert up.seconds < down.seconds
    assert len(drill.steps) == 8


@pytest.mark.parametrize("turns_n", [1, 4, 6])
def test_fact_20_as_many_turns_loose_as_tight(turns_n):
    texts = [s.text for s in drills.bow_care(turns_n).steps]
    assert sum("tighten" in t for t in texts) == sum("loosen" in t for t in texts) == turns_n
    assert any("little finger" in t and "do not touch the hair" in t for t in texts)


def test_bow_care_without_a_turn_is_refused():
    with pytest.raises(ValueError, match="at least 1"):
        drills.bow_care(0)


def test_every_drill_carries_its_caution():
    player, own = stage("growing"), instrument("violin")
    made = [
        drills.straight_bow(player, BOW), drills.longest_bow(player, BOW),
        drills.placements(player, BOW), drills.silent_rolls(player, own),
        drills.slow_crossing(player, BOW, own), drills.arcs(player, own),
    ]  # fmt: skip
    for drill in made:
        assert "pain" in drill.caution
        assert drill.seconds > 0
    assert "adult" in drills.bow_care().caution
