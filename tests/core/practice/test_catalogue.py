"""Every drill for every instrument and player: as asked, within limits, and as music."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from plectrum.core.document.choices import Choices
from plectrum.core.files.planfile import Document
from plectrum.core.instrument.specification import instrument_names
from plectrum.core.planning.plan import plan_of
from plectrum.core.player.player import STAGES, stage
from plectrum.core.practice import drills
from plectrum.core.practice.catalogue import DRILLS, DrillKind, Setting
from plectrum.core.practice.drill_music import drill_document, has_music
from plectrum.core.score.model import Direction
from plectrum.core.score.reading.opening import open_score

SILENT = {"hand-exercise", "bow-care"}


def _choices(instrument: str, player: str) -> Choices:
    return replace(Choices.default(instrument), player=stage(player))


@st.composite
def _set_up(draw: st.DrawFn) -> tuple[DrillKind, dict[str, float], Choices]:
    kind = draw(st.sampled_from(list(DRILLS.values())))
    values = {}
    for p in kind.parameters:
        high = len(p.words) - 1 if p.words else p.high
        steps = int((high - p.low) / p.step)
        values[p.name] = p.low + p.step * draw(st.integers(0, steps))
    choices = _choices(draw(st.sampled_from(instrument_names())), draw(st.sampled_from(STAGES)))
    return kind, values, choices


@settings(max_examples=120, deadline=None)
@given(_set_up())
def test_every_setting_makes_a_drill_within_the_players_limits(case):
    """Strokes stay on the usable bow and below the fastest speed; cautions are there."""
    kind, values, choices = case
    setting = Setting.of(choices)
    drill = kind.make(setting, values)
    assert "pain" in drill.caution or "adult" in drill.caution
    assert drill.what
    assert drill.good
    assert drill.seconds > 0
    for step in drill.steps:
        assert step.seconds > 0
        assert step.level is None or 1 <= step.level <= 7
        if step.direction is not None:
            assert (step.end > step.start) == (step.direction is Direction.DOWN)
            assert 0 <= min(step.start, step.end) <= max(step.start, step.end) <= 1
            speed_mm_s = abs(step.end - step.start) * choices.bow.hair_mm / step.seconds
            if kind.key not in ("arcs", "slow-crossing", "straight-bow"):
                assert speed_mm_s <= setting.player.fastest_mm_s + 1e-6


@settings(max_examples=60, deadline=None)
@given(_set_up())
def test_every_drill_on_strings_is_music_with_its_bowing(case):
    """Bars are full, notes are open strings, bows go the drill's way from its place to its place
    within a forty-eighth of the hair."""
    kind, values, choices = case
    drill = kind.make(Setting.of(choices), values)
    if kind.key in SILENT:
        assert not has_music(drill)
        return
    document: Document = drill_document(drill, choices)
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


def test_the_hand_exercise_moves_down_half_an_inch_a_day_ten_times():
    """Fact 19: ten repetitions higher up the stick, then 13 mm lower each day (practice)."""
    heights = []
    for day in range(1, 7):
        drill = drills.hand_exercise(day=day)
        assert sum("lean" in s.text for s in drill.steps) == 10
        assert "stretched, locked" in drill.caution
        words = drill.what.split("the hand ")[1]
        heights.append(0.0 if words.startswith("at") else float(words.split()[0]))
    assert all(a - b == 13.0 for a, b in pairwise(heights))
    assert heights[-1] == 0.0
    with pytest.raises(ValueError, match="at least 1"):
        drills.hand_exercise(day=0)


def test_level_calls_never_call_the_same_twice_and_mix_the_same_way_each_time():
    setting = Setting.of(_choices("violin", "growing"))
    make = DRILLS["level-calls"].make
    single = [s.level for s in make(setting, {"calls": 40}).steps]
    assert set(single) == {1, 3, 5, 7}
    assert all(a != b for a, b in pairwise(single))
    double = [s.level for s in make(setting, {"calls": 40, "together": 1}).steps]
    assert set(double) == {1, 2, 3, 4, 5, 6, 7}
    assert make(setting, {"seed": 2}) == make(setting, {"seed": 2})
    assert make(setting, {"seed": 2}) != make(setting, {"seed": 3})


def test_hooked_figures_stop_where_the_way_stays():
    setting = Setting.of(_choices("violin", "growing"))
    drill = DRILLS["hooked-bows"].make(setting, {"figure": 0, "times": 1})
    assert [s.word for s in drill.steps] == ["down", "stop down", "up", "stop up"]
    with pytest.raises(ValueError, match="figure must be one of"):
        drills.hooked_pattern(setting.player, setting.bow, figure="round and round")


def test_the_amount_of_bow_grows_in_the_same_time_and_shrinks_again():
    setting = Setting.of(_choices("violin", "growing"))
    drill = DRILLS["bow-amounts"].make(setting)
    amounts = [s.end - s.start for s in drill.steps if s.direction is Direction.DOWN]
    top = amounts.index(max(amounts))
    assert amounts[: top + 1] == sorted(amounts[: top + 1])
    assert amounts[top:] == sorted(amounts[top:], reverse=True)
    assert len({s.seconds for s in drill.steps}) == 1
    assert all(a.end == b.start for a, b in pairwise(drill.steps))


def test_values_out_of_bounds_are_kept_within_them():
    setting = Setting.of(_choices("violin", "growing"))
    most = DRILLS["placements"].make(setting, {"times": 10_000})
    assert len(most.steps) == 20 * 2 * 4
