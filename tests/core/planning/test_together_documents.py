"""A document whose parts are planned as one: seats, corrections carried, what is said."""

from __future__ import annotations

from dataclasses import replace

from plectrum.core.advice.reasons import reasons_for
from plectrum.core.advice.region_words import places_that_matter
from plectrum.core.advice.rehearsal import to_settle
from plectrum.core.advice.warnings import warnings_of
from plectrum.core.document.choices import Join, Pin
from plectrum.core.document.seats import Seat
from plectrum.core.files.exports import score_as_musicxml
from plectrum.core.files.opening import open_document
from plectrum.core.files.planfile import document_bytes
from plectrum.core.instrument.bow import Bow
from plectrum.core.planning.ensemble.carrying import carried, matching_notes
from plectrum.core.planning.ensemble.documents import ensemble_of, plan_of, plans_beside
from plectrum.core.planning.plan import make_plan
from plectrum.core.player.player import stage
from plectrum.core.score.model import Direction, Pitch
from plectrum.core.score.writing.editor import Editor
from tests.tunes import score_xml, tune_plan

TRIO = {
    "Violin": "A4 B4 C5 D5|E5*2 D5*2|C5*4|",
    "Viola": "D4 E4 F4 G4|A4*2 G4*2|F4*4|",
    "Cello": "D3*2 A2*2|D3*4|D3*4|",
}


def trio(**changes: str):
    return open_document(score_xml({**TRIO, **changes}), "trio.musicxml")


def test_a_score_of_several_parts_is_opened_to_be_planned_as_one():
    document = trio()
    assert document.together
    assert [info.name for info in document.string_parts] == list(TRIO)
    assert plan_of(document) is ensemble_of(document).plans[0]
    assert plans_beside(document) == ensemble_of(document).plans[1:]


def test_each_part_by_itself_is_planned_as_if_the_others_were_not_there():
    document = replace(trio(), together=False)
    alone = ensemble_of(trio()).alone
    assert plan_of(document).steps == alone[0].steps
    assert [p.steps for p in plans_beside(document)] == [p.steps for p in alone[1:]]


def test_another_player_of_one_part_is_no_other_player_of_the_rest():
    document = trio().with_seat("P2", Seat(stage("starter"), Bow.sized("viola", "1/2")))
    assert document.choices.player == stage("growing")
    viola = document.with_part("P2")
    assert viola.choices.player == stage("starter")
    assert viola.choices.bow.size == "1/2"
    assert viola.with_part("P1").choices.player == stage("growing")
    assert viola.with_part("P3").choices.player == stage("growing")
    assert viola.with_everybody(stage("steady")).seat_of("P3").player == stage("steady")


def test_seats_and_together_are_kept_in_the_plan_file():
    document = trio().with_seat("P3", Seat(stage("starter"), Bow.sized("cello", "3/4")))
    again = open_document(document_bytes(document), "trio.plectrum")
    assert again.together
    assert again.seats == document.seats
    assert [p.steps for p in ensemble_of(again).plans] == [
        p.steps for p in ensemble_of(document).plans
    ]


def test_a_plan_file_of_before_plans_its_part_by_itself():
    document = replace(trio(), together=False, seats={})
    again = open_document(document_bytes(document), "old.plectrum")
    assert not again.together
    assert again.seats == {}


def test_an_edit_of_the_notes_of_one_part_keeps_the_pins_of_the_others():
    document = trio().with_part("P2")
    note = document.part.notes[0].id
    document = document.with_choices(document.choices.with_pin(note, Pin(direction=Direction.UP)))
    document = document.with_part("P1")
    editor = Editor(document.score, "P1")
    editor.set_pitch(document.part.notes[-1].id, Pitch("A", 0, 4))
    assert note in document.with_score(editor.result()).choices.pins


def test_what_is_pinned_in_one_part_moves_those_that_match():
    document = trio()
    head = document.part.notes[0]
    pinned = document.with_choices(document.choices.with_pin(head.id, Pin(direction=Direction.UP)))
    violin, viola, cello = ensemble_of(pinned).plans
    assert violin.notes[0].direction is viola.notes[0].direction is Direction.UP
    assert cello.notes[0].direction is Direction.DOWN  # another rhythm: it is free


def test_matching_notes_are_found_and_corrections_carried_to_them():
    ensemble = ensemble_of(trio())
    assert matching_notes(ensemble, 0, 0) == {1: 0}
    assert matching_notes(ensemble, 0, 6) == {1: 6, 2: 3}
    viola = ensemble.plans[1].part.notes
    assert carried(ensemble, 0, [0, 1]) == {viola[0].id: 0, viola[1].id: 1}
    assert matching_notes(ensemble, 2, 0) == {}


def test_what_is_to_settle_is_said_once_with_where_and_why():
    document = trio(Violin="A4d B4 C5 D5|E5*2 D5*2|C5*4|", Viola="D4u E4 F4 G4|A4*2 G4*2|F4*4|")
    first, *rest = to_settle(ensemble_of(document))
    assert first.where == "Bar 1, beat 1"
    assert first.text.startswith("V Viola, ⊓ Violin. Viola is marked here in the score.")
    assert (first.part, first.note) == (1, 0)
    assert len(rest) == len({place.text for place in rest})


def test_a_part_that_cannot_be_played_is_to_be_settled_too():
    places = to_settle(ensemble_of(trio(Viola="D4 E4 F4 A7|A4*2 G4*2|F4*4|")))
    assert any(place.where == "Viola" and "not playable" in place.text for place in places)


def test_the_score_is_written_with_the_bows_of_all_parts_and_nothing_else():
    document = trio()
    plans = ensemble_of(document).plans
    marked = open_document(score_as_musicxml(document, plans), "marked.musicxml")
    for plan in plans:
        part = marked.with_part(plan.part.id).part if plan.part.id != "P1" else marked.part
        heads = {unit.first for unit in plan.units}
        assert {n.index for n in part.notes if n.mark is not None} == heads
        for index in heads:
            assert part.notes[index].mark is plan.notes[index].direction
    text = score_as_musicxml(document, plans).decode()
    for tag in ("up-bow", "down-bow", "technical", "notations"):
        text = text.replace(f"<{tag}/>", "").replace(f"<{tag}>", "").replace(f"</{tag}>", "")
    assert text == document.score.xml.decode()


def test_places_are_said_where_they_matter_and_not_at_every_note():
    plan = tune_plan("A4*1/2 B4*1/2 A4*1/2 B4*1/2 A4*1/2 B4*1/2 A4*1/2 B4*1/2|" * 4)
    said = places_that_matter(plan)
    assert 0 in said
    assert len(said) <= 3
    document = trio()
    head = document.part.notes[4]
    said_there = document.with_choices(document.choices.with_pin(head.id, Pin(place="upper-half")))
    assert places_that_matter(plan_of(said_there))[4] == "upper half"


def test_a_hook_over_a_rest_needs_no_learning():
    """The bow has stopped: a starter may go the same way again, and is not warned of it."""
    over_rest = tune_plan("A4*7/2d r*1/2|B4*7/2d r*1/2|", player="starter")
    hooked = [n for n in over_rest.notes[1:] if n.join is Join.HOOK]
    assert hooked
    assert not [w for w in warnings_of(over_rest) if w.code == "not_learnt"]
    stopped = tune_plan("A4*2d B4*2d|", player="starter")
    assert [w for w in warnings_of(stopped) if w.code == "not_learnt"]


def test_a_bow_that_goes_with_another_part_says_so():
    """The violin is marked up; the viola follows, against the first beat."""
    document = trio(Violin="A4u B4 C5 D5|E5*2 D5*2|C5*4|")
    viola = ensemble_of(document).plans[1]
    codes = [reason.code for reason in reasons_for(viola, 0)]
    assert "together" in codes
    assert "first_beat_up" not in codes
    alone = ensemble_of(document).alone[1]
    assert "together" not in [reason.code for reason in reasons_for(alone, 0)]


def test_a_slower_plan_of_a_part_goes_with_the_others_as_well():
    document = trio(Violin="A4u B4 C5 D5|E5*2 D5*2|C5*4|")
    viola = ensemble_of(document).plans[1]
    assert viola.goes_with[0] is Direction.UP
    slower = make_plan(viola.part, replace(viola.choices, tempo_bpm=20), viola.goes_with)
    assert slower.notes[0].direction is Direction.UP
    alone = make_plan(viola.part, viola.choices)
    assert alone.goes_with == {}
