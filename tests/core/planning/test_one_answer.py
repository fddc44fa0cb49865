"""What is heard has one answer: the list, what mends it and the finder of faults say the same
first, inside what the bow and the player have."""

from __future__ import annotations

import pytest
from hypothesis import given

from plectrum.core.advice import remedies
from plectrum.core.advice.sound_faults import Symptom, find_faults
from plectrum.core.advice.warnings import warnings_of
from plectrum.core.planning.rules import CELLS_N
from plectrum.core.planning.strokes.costs import usable_cells
from plectrum.core.wording import sentence_like
from tests.core.planning.strategies import players, tunes
from tests.core.planning.test_contact import EXAMPLES
from tests.tunes import tune_plan

SOFT = "[ff] E5*1/4 F5*1/4 G5*1/4 E5*1/4 " * 4 + "|[ff] A4*4"


@pytest.mark.parametrize("player", ["starter", "growing", "steady"])
@pytest.mark.parametrize("instrument", ["violin", "cello"])
def test_list_and_panel_say_the_same_first(player, instrument):
    music = SOFT if instrument == "violin" else SOFT.replace("5", "3").replace("4*4", "2*4")
    plan = tune_plan(music, player=player, instrument=instrument, bpm=100)
    soft = [w for w in warnings_of(plan) if w.code == "reach" and "soft" in w.text]
    soft += [w for w in warnings_of(plan) if w.code == "reach" and "comes out as" in w.text]
    for warning in soft:
        causes = find_faults(plan, warning.note, Symptom.WEAK)
        if causes[0].place or causes[0].lane or causes[0].speed_mm_s:
            assert warning.remedy == causes[0].remedy
        first = next(text for text, _ in remedies._candidates(plan, warning))
        assert sentence_like(first) == warning.remedy or "tempo" in warning.remedy


def test_louder_is_the_lower_half_and_nearer_the_bridge_first():
    """Common practice, no source."""
    plan = tune_plan("[ff] A4*1/4 B4*1/4 A4*1/4 B4*1/4 A4*3", player="steady", bpm=60)
    first = find_faults(plan, 4, Symptom.WEAK)[0]
    assert first.lane is None or first.lane < plan.contact.lane[4]
    high = max(plan.notes[4].start, plan.notes[4].end)
    assert (first.place == "lower-half") == (high > 0.52)


@EXAMPLES
@given(tunes(), players())
def test_no_remedy_asks_for_what_is_not_there(music, player):
    plan = tune_plan(music, player=player)
    low, high = usable_cells(plan.choices)
    whole_mm = (high - low) / CELLS_N * plan.choices.bow.hair_mm
    for planned in plan.notes:
        for symptom in Symptom if planned is not None else ():
            for cause in find_faults(plan, planned.note.index, symptom):
                unit = plan.units[planned.unit]
                assert cause.lane is None or cause.lane in plan.player.lanes
                if cause.speed_mm_s is not None:
                    assert cause.speed_mm_s * unit.moving_s <= whole_mm * 1.02
                    assert cause.speed_mm_s <= plan.player.fastest_mm_s * 1.02


def test_thumb_shoulder_and_straightness_are_among_the_causes():
    plan = tune_plan("A4*2 B4*2")
    for symptom in (Symptom.CHOKED, Symptom.WHISTLING):
        codes = {c.code for c in find_faults(plan, 0, symptom)}
        assert {"stiff_thumb", "crooked"} <= codes
