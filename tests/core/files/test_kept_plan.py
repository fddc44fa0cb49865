"""A plan that was kept stays as it was under a later planner, until the teacher takes today's."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from plectrum.core.advice.reasons import reasons_for
from plectrum.core.advice.since_kept import one_by_one, otherwise_today
from plectrum.core.document.choices import Choices, Kept, Pin
from plectrum.core.document.document import Document
from plectrum.core.files.opening import open_document_path
from plectrum.core.files.planfile import document_bytes, document_from_bytes
from plectrum.core.planning.ensemble.documents import parts_in_order, plan_of
from plectrum.core.planning.kept_plan import PLANNER, bows_of, planned_today
from plectrum.core.planning.plan import Plan
from plectrum.core.player.player import stage
from plectrum.core.player.school import DirectionSchool, SlurSchool
from plectrum.core.score.model import Direction
from plectrum.demo import demo_paths
from tests.command import plectrum
from tests.core.files.test_planfile import rewritten
from tests.tunes import tune_document

TUNE = "|".join(["D4 E4 F4", "G4*2 A4", "B4 A4 G4", "F4*2 E4", "D4 F4 A4", "D5*3"] * 2)


def bows(plan: Plan) -> list[object]:
    return [
        None if n is None else (n.direction, n.join, round(n.start, 6), round(n.end, 6))
        for n in plan.notes
    ]


def flowing(document: Document) -> Choices:
    return document.choices.with_school("direction", DirectionSchool.FLOW)


def kept_by_another(document: Document, other: Choices, planner: int = PLANNER - 1) -> Document:
    """A document as it comes from a file whose planner decided what these other choices make."""
    plan = plan_of(document.with_choices(other))
    held = Kept(planner, bows_of(plan), document.choices.pins, document.settings)
    given_on = document.with_choices(replace(document.choices, kept=held))
    return document_from_bytes(document_bytes(given_on), "kept.plectrum")


def waltz() -> Document:
    return tune_document(TUNE, "3/4", bpm=100)


def downbeat(document: Document) -> Choices:
    return document.choices.with_school("direction", DirectionSchool.DOWNBEAT)


def test_a_plan_of_an_earlier_planner_is_as_it_was_given():
    then = plan_of(waltz().with_choices(downbeat(waltz())))
    assert bows(then) != bows(plan_of(waltz()))  # the planner of today would do otherwise
    document = kept_by_another(waltz(), downbeat(waltz()))
    assert bows(plan_of(document)) == bows(then)
    assert bows(plan_of(document_from_bytes(document_bytes(document), "again"))) == bows(then)


def test_what_would_differ_is_said_bow_by_bow_and_can_be_taken(tmp_path):
    document = kept_by_another(waltz(), downbeat(waltz()))
    plan, today = plan_of(document), plan_of(waltz())
    differing = otherwise_today(document, plan)
    turned = {a.note.index for a, b in differing if a.direction is not b.direction}
    assert turned == {
        n.index
        for n in plan.part.notes
        if plan.notes[n.index].direction is not today.notes[n.index].direction
    }
    assert len(one_by_one(differing)) == len(differing)
    path = tmp_path / "kept.plectrum"
    path.write_bytes(document_bytes(document))
    said = plectrum("plan", str(path)).stdout.decode()
    assert all(line in said for line in one_by_one(differing))
    assert "as it was kept" not in plectrum("plan", str(path), "--today").stdout.decode()
    assert bows(plan_of(planned_today(document))) == bows(today)


def test_what_this_planner_kept_is_not_held():
    document = kept_by_another(waltz(), downbeat(waltz()), PLANNER)
    assert document.choices.kept is None
    assert not document.kept_before


def test_files_from_before_bows_were_kept_may_differ_if_their_planner_was_another():
    data = document_bytes(waltz())

    def older(version):
        def change(plan):
            plan["version"] = version
            del plan["kept"], plan["planner"]

        return document_from_bytes(rewritten(data, change), "old").kept_before

    assert older("1.5")
    assert older("1.11") == (PLANNER > 11)


@settings(max_examples=25, deadline=None)
@given(st.integers(0, 27), st.sampled_from(list(Direction)))
def test_a_pin_changes_the_bars_about_and_nothing_else(note, way):
    document = kept_by_another(waltz(), downbeat(waltz()))
    before = plan_of(document)
    here = document.part.notes[note]
    if before.notes[note].direction is way:
        return
    after = plan_of(document.with_choices(document.choices.with_pin(here.id, Pin(way))))
    assert after.notes[note].direction is way
    for a, b in zip(before.notes, after.notes, strict=True):
        if abs(a.note.bar_index - here.bar_index) > 1:
            assert (a.direction, a.start, a.end) == (b.direction, b.start, b.end)


def test_other_choices_ask_for_another_plan_and_undoing_them_brings_the_kept_one_back():
    document = kept_by_another(waltz(), downbeat(waltz()))
    slower = replace(document.choices, tempo_bpm=60.0)
    assert bows(plan_of(document.with_choices(slower))) == bows(
        plan_of(waltz().with_choices(replace(waltz().choices, tempo_bpm=60.0)))
    )
    again = replace(slower, tempo_bpm=None)
    assert bows(plan_of(document.with_choices(again))) == bows(plan_of(document))


def test_alternatives_of_a_kept_bow_cost_what_it_costs_to_leave_it():
    document = kept_by_another(waltz(), downbeat(waltz()))
    plan = plan_of(document)
    for unit, planned in enumerate(plan.units):
        first = plan.notes[planned.first]
        for other in plan.alternatives_at_once(unit):
            own = (other.direction, other.join) == (first.direction, first.join)
            assert other.extra_cost >= 0 or not other.possible
            assert not own or other.extra_cost == 0
            assert other.extra_cost < 3_000 or not other.possible  # a pin costs ten times that


def test_a_kept_bow_says_so_and_is_no_pin():
    document = kept_by_another(waltz(), downbeat(waltz()))
    plan = plan_of(document)
    assert not plan.choices.pins
    assert {r.code for n in plan.part.notes for r in reasons_for(plan, n.index)} & {"kept"}
    assert not {r.code for n in plan.part.notes for r in reasons_for(plan, n.index)} & {"pin"}


def test_proposed_slurs_are_kept_too():
    tune = tune_document("D4 E4 F4 G4|A4 G4 F4 E4|" * 4 + "D4*4|", bpm=96)
    song = tune.with_choices(tune.choices.with_school("slurs", SlurSchool.SONG))
    more = replace(song.choices, slur_amount=90)
    then = plan_of(song.with_choices(more))
    assert bows(then) != bows(plan_of(song))
    assert bows(plan_of(kept_by_another(song, more))) == bows(then)


@pytest.mark.parametrize("path", demo_paths(), ids=lambda p: p.stem)
def test_demo_pieces_of_another_player_are_kept_to_the_cell(path):
    """Also parts that are planned as one, each with its own bows."""
    document = open_document_path(path)
    other = document.choices.with_school("direction", DirectionSchool.DOWNBEAT)
    then = document.with_choices(other)
    several = document.together and len(document.string_parts) > 1
    plans = parts_in_order(then) if several else (plan_of(then),)
    held = Kept(
        PLANNER - 1, {k: b for p in plans for k, b in bows_of(p).items()}, {}, document.settings
    )
    document = document.with_choices(replace(document.choices, kept=held, pins={}))
    now = parts_in_order(document) if several else (plan_of(document),)
    assert [bows(p) for p in now] == [bows(p) for p in plans]


def test_other_notes_free_the_bars_about_them():
    """The same tune with one note longer: the bows two bars away are still as they were kept."""
    document = kept_by_another(waltz(), downbeat(waltz()))
    changed = tune_document(TUNE.replace("G4*2 A4", "G4 A4*2", 1), "3/4", bpm=100)
    edited = document.with_score(changed.score)
    before, after = plan_of(document), plan_of(edited)
    far = [n.index for n in before.part.notes if n.bar_index > 2]
    assert [bows(after)[k] for k in far] == [bows(before)[k] for k in far]
    assert bows(after)[3:5] != bows(before)[3:5]


def test_another_stage_is_planned_for_it():
    document = kept_by_another(waltz(), downbeat(waltz()))
    steady = replace(document.choices, player=stage("steady"))
    plain = replace(waltz().choices, player=stage("steady"))
    assert bows(plan_of(document.with_choices(steady))) == bows(
        plan_of(waltz().with_choices(plain))
    )
