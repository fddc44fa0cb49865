"""One stroke a note and two: the same music, plainly bowed."""

from __future__ import annotations

from itertools import pairwise

import pytest
from hypothesis import given, settings

from plectrum.core.document.choices import Join, Pin
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.practice.strokes_per_note import SECOND, Strokes, study, study_plan
from tests.core.planning.strategies import players, schools, tunes
from tests.tunes import tune_document, tune_plan

EXAMPLES = settings(max_examples=30, deadline=None)


@EXAMPLES
@given(tunes(), players(), schools())
def test_one_stroke_a_note(music, player, school):
    """Same notes, times and strings; every note turns the bow or is lifted to, none is slurred;
    after a rest the bow may go on the same way."""
    plan = tune_plan(music, player=player, school=school)
    plain = study_plan(plan, Strokes.ONE)
    assert len(plain.notes) == len(plan.notes)
    for a, b in zip(plan.part.notes, plain.part.notes, strict=True):
        assert (a.id, a.onset_s, a.duration_s, a.pitches) == (
            b.id,
            b.onset_s,
            b.duration_s,
            b.pitches,
        )
    assert not any(
        p.join is Join.SLUR or (p.join is Join.HOOK and p.note.gap_before_s == 0)
        for p in plain.notes
    )
    for a, b in zip(plan.fingered, plain.fingered, strict=True):
        assert a.strings == b.strings


@EXAMPLES
@given(tunes(), players())
def test_two_strokes_a_note(music, player):
    """Every note is two halves, there and back, which fill its time and stay on its string."""
    plan = tune_plan(music, player=player)
    double = study_plan(plan, Strokes.TWO)
    notes = double.part.notes
    assert len(notes) == 2 * len(plan.notes)
    for k, note in enumerate(plan.part.notes):
        first, second = notes[2 * k], notes[2 * k + 1]
        assert (first.index, second.index) == (2 * k, 2 * k + 1)
        assert second.id == first.id + SECOND == note.id + SECOND
        assert first.onset_q == note.onset_q
        assert first.end_q == second.onset_q
        assert second.end_q == note.end_q
        assert second.onset_s == pytest.approx(first.end_s)
        assert second.end_s == pytest.approx(note.end_s)
        assert double.fingered[2 * k].strings == double.fingered[2 * k + 1].strings
        a, b = double.notes[2 * k], double.notes[2 * k + 1]
        assert a.direction is not b.direction
    for a, b in pairwise(notes):
        assert a.onset_s < b.onset_s


def test_as_planned_is_the_plan_itself():
    plan = tune_plan("D4 E4 F#4 G4")
    assert study_plan(plan, Strokes.WRITTEN) is plan
    assert study(plan.part, Strokes.WRITTEN) is plan.part


def test_lanes_pinned_stay_and_marks_go():
    document = tune_document("D4u E4( F#4) G4.|A4*4")
    note = document.part.notes[1]
    document = document.with_choices(
        document.choices.with_pin(note.id, Pin(lane=2, join=Join.SLUR))
    )
    plain = study_plan(plan_of(document), Strokes.ONE)
    assert plain.contact.lane[1] == 2
    assert not any(n.slurred or n.mark or n.articulations for n in plain.part.notes)


def test_plucked_notes_and_grace_notes_stay_single():
    plan = tune_plan("D4^ E4 F#4! G4 A4|A4*4")
    notes = study(plan.part, Strokes.TWO).notes
    assert [n.id.endswith(SECOND) for n in notes].count(True) == sum(
        not (n.grace or n.pizzicato) for n in plan.part.notes
    )
