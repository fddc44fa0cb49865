"""Two plans held against each other: what differs is marked, counted, and nothing else."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given, settings

from plectrum.core.advice.comparison import compare
from plectrum.core.document.choices import Pin
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.planning.plan import make_plan
from plectrum.core.player.player import stage
from plectrum.core.score.model import Direction
from tests.core.planning.strategies import tunes
from tests.tunes import tune_document, tune_plan


@settings(max_examples=20, deadline=None)
@given(tunes())
def test_a_plan_does_not_differ_from_itself(music):
    plan = tune_plan(music)
    assert compare(plan, make_plan(plan.part, plan.choices)).differences == ()


def test_a_flipped_note_is_marked_with_what_differs():
    document = tune_document("A4 B4 C5 D5|A4 B4 C5 D5|")
    plan = plan_of(document)
    pin = Pin(direction=Direction.UP)
    other = plan_of(document.with_choices(document.choices.with_pin(plan.part.notes[4].id, pin)))
    seen = compare(plan, other)
    for note in plan.part.notes:
        flipped = plan.notes[note.index].direction != other.notes[note.index].direction
        kinds = {d.note: d.kinds for d in seen.differences}.get(note.index, ())
        assert ("direction" in kinds) == flipped
    assert seen.counts["direction"] >= 1
    assert seen.words.startswith(f"{len(seen.differences)} note")


def test_players_differ_in_place():
    document = tune_document("[ff] A4*4 |[f] C5 D5 E5 A5*1/2 A5*1/2|")
    small = replace(document.choices, player=stage("starter"))
    seen = compare(plan_of(document), plan_of(document.with_choices(small)))
    assert set(seen.counts) >= {"place"}


def test_plans_of_different_notes_are_refused():
    with pytest.raises(ValueError, match="different notes"):
        compare(tune_plan("A4 B4|"), tune_plan("A4 B4 C5 D5|"))
