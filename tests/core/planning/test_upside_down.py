"""A beginner gets a way out where bars begin upside down because hooks are not learnt."""

from __future__ import annotations

from dataclasses import replace

from hypothesis import given

from plectrum.core.advice.remedies import find_remedy
from plectrum.core.advice.warnings import warnings_of
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.player.player import stage
from tests.core.planning.strategies import tunes
from tests.core.planning.test_contact import EXAMPLES
from tests.tunes import tune_document, tune_plan

ODD = "A4 B4*2 C5|A4 B4*2 C5|A4*3/2( B4*1/2) C5 D5|A4*2 B4 C5|A4*3/2( B4*1/2) C5 D5|A4 B4 C5 D5"


def said(plan):
    return [w for w in warnings_of(plan) if w.code == "upside_down"]


def test_the_bars_are_named_and_one_slur_mends_them():
    plan = tune_plan(f"{ODD}|A4*4", player="starter")
    (warning,) = said(plan)
    assert warning.text.startswith("Bars 6, 7 begin with an up-bow")
    remedy = find_remedy(plan, warning)
    assert remedy is not None
    assert "slur the two notes from bar 5" in remedy.text
    first = plan.part.notes[warning.notes[0]].index
    assert remedy.plan.notes[first].direction == "down"


def test_who_has_hooks_is_told_nothing_and_nor_is_what_comes_as_it_comes():
    """Bars of three strokes alternate (common practice): nothing is wrong with them."""
    assert not said(tune_plan(f"{ODD}|A4*4", player="growing"))
    assert not said(tune_plan("A4*2 B4 C5|" * 6 + "A4*4", player="starter"))
    assert not said(tune_plan("A4 B4 C5|A4 B4 C5|A4*3", "3/4", player="starter"))


@EXAMPLES
@given(tunes())
def test_with_hooks_the_bars_that_are_named_begin_down(music):
    document = tune_document(music, player="starter")
    plan = plan_of(document)
    for warning in said(plan):
        hooks = replace(stage("starter"), can_hook=True)
        choices = replace(document.choices, player=hooks)
        hooked = plan_of(document.with_choices(choices))
        for note in warning.notes:
            assert plan.notes[note].direction == "up"
            assert hooked.notes[note].direction == "down"
