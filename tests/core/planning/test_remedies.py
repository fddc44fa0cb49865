"""A remedy, once taken, makes its warning go away; where none is offered, none of them would."""

from __future__ import annotations

from dataclasses import replace

import pytest

from plectrum.core.advice.plan_warning import Severity
from plectrum.core.advice.remedies import find_remedy, tried_warnings
from plectrum.core.advice.warnings import warnings_of
from plectrum.core.document.choices import Join, Pin
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.planning.plan import make_plan
from plectrum.core.player.player import stage
from tests.tunes import tune_document, tune_plan

LONG = "A4*4( B4*4 C5*4 D5*4)|E5 D5 C5 B4|"


def warned(plan, code):
    return [w for w in warnings_of(plan) if w.code == code]


@pytest.mark.parametrize(
    ("code", "music", "options"),
    [
        ("slur_too_long", LONG, {"bpm": 42}),
        ("slur_not_learnt", "A4*1/2( B4*1/2 C5*1/2 D5*1/2 E5*1/2 D5*1/2 C5*1/2 B4*1/2)|",
         {"player": "starter"}),
        ("slur_skips_string", "G3( E5) A4 B4|", {}),
        ("too_slow", "A4*4|A4*4|", {"bpm": 18}),
        ("reach", "[ff] A4*1/4 B4*1/4 A4*1/4 B4*1/4 A4*1/4 B4*1/4 A4*1/4 B4*1/4 A4*2|",
         {"bpm": 40, "player": "growing"}),
    ],
)  # fmt: skip
def test_a_remedy_mends_its_warning(code, music, options):
    plan = tune_plan(music, **options)
    found = warned(plan, code)
    assert found, [w.text for w in warnings_of(plan)]
    remedy = find_remedy(plan, found[0])
    assert remedy is not None
    after = warned(make_plan(plan.part, remedy.choices), code)
    assert found[0].note not in {w.note for w in after}
    assert remedy.choices != plan.choices
    problems = [w for w in warnings_of(remedy.plan) if w.severity is Severity.PROBLEM]
    assert len(problems) <= sum(1 for w in warnings_of(plan) if w.severity is Severity.PROBLEM)


def test_no_remedy_breaks_a_limit():
    """Played slower, this is too slow to last, and no longer said to be too soft."""
    plan = tune_plan("[ff] A4*4|A4*4|", bpm=60, player="starter")
    light = warned(plan, "reach")[0]
    assert light.severity is Severity.NOTE
    remedy = find_remedy(plan, light)
    assert remedy is None or all(w.severity is Severity.NOTE for w in warnings_of(remedy.plan))


def test_a_slur_too_soft_for_its_bow_is_split_and_nobody_misses_the_half_it_uses():
    plan = tune_plan("A4*4(|B4*4)|C#5*4(|D5*4)|", bpm=60)
    said = warned(plan, "reach")
    assert said
    assert all("half is not" not in w.text and "se half" not in w.remedy for w in said)
    remedy = find_remedy(plan, said[0])
    assert remedy is not None
    assert remedy.text == "split the slur at bar 4, beat 1"


def test_a_pin_that_cannot_be_kept_is_let_go():
    document = tune_document("A4 B4 C5 D5|")
    note = document.part.notes[1]
    choices = document.choices.with_pin(note.id, Pin(join=Join.RETAKE))
    plan = plan_of(document.with_choices(choices))
    remedy = find_remedy(plan, warned(plan, "pin_not_kept")[0])
    assert remedy is not None
    assert remedy.text == "let go of the pin"
    assert remedy.choices.pins == {}


def test_a_hook_not_learnt_becomes_a_turn():
    document = tune_document("A4u B4u C5 D5|")
    choices = replace(document.choices, player=replace(stage("growing"), can_hook=False))
    plan = plan_of(document.with_choices(choices))
    remedy = find_remedy(plan, warned(plan, "not_learnt")[0])
    assert remedy is not None
    assert not warned(remedy.plan, "not_learnt")


def test_what_no_change_of_the_bow_mends_has_no_remedy():
    plan = tune_plan("G2 A4 B4 C5|")
    assert find_remedy(plan, warned(plan, "not_on_instrument")[0]) is None


@pytest.mark.parametrize(
    ("music", "options"),
    [
        (LONG, {"bpm": 42}),
        ("[ff] A4*1/4 B4*1/4 A4*1/4 B4*1/4 A4*1/4 B4*1/4 A4*1/4 B4*1/4 A4*2|", {}),
        ("G2 A4 B4 C7|D6 A4 B4 C5", {}),
        ("A4*4|A4*4|", {"bpm": 18}),
    ],
)
def test_every_remedy_that_is_said_was_tried_or_says_that_nothing_helps(music, options):
    plan = tune_plan(music, **options)
    for general, warning in zip(warnings_of(plan), tried_warnings(plan), strict=True):
        remedy = find_remedy(plan, general)
        if remedy is not None:
            assert warning.remedy.lower() == remedy.text.lower()
        elif warning.code == "not_on_instrument":
            assert "position" in warning.remedy
        else:
            assert warning.remedy != general.remedy


def test_what_a_player_lacks_is_said_once():
    plan = tune_plan("D6 A4 D6 B4|A4*1/2( B4*1/2 C5*1/2 D5*1/2 E5*1/2 D5*1/2 C5*1/2 B4*1/2)|" * 2)
    codes = [w.code for w in warnings_of(plan)]
    assert codes.count("not_on_instrument") == codes.count("slur_not_learnt") == 1
    (slurs,) = warned(plan, "slur_not_learnt")
    assert "and 1 more slur)" in slurs.text
    remedy = find_remedy(plan, slurs)
    assert remedy is not None
    assert not warned(remedy.plan, "slur_not_learnt")
    (high,) = (w for w in tried_warnings(plan) if w.code == "not_on_instrument")
    assert high.remedy.startswith("It lies in position 3")
