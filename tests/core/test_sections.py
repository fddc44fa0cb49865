"""Sections and figures: the phrases found, and what the teacher makes of them."""

from __future__ import annotations

from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from plectrum.core.document import section_edits as edits
from plectrum.core.document.document import Document
from plectrum.core.document.phrases import LENGTH_COSTS
from plectrum.core.document.sections import Section, bars_name, notes_name
from plectrum.core.errors import ChoiceError
from plectrum.core.files.opening import open_document_path
from plectrum.core.files.planfile import document_bytes, document_from_bytes
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.practice.ladder import ladders_of, step_study
from plectrum.core.practice.studies import make_study
from plectrum.core.practice.study_kinds import StudyKind
from plectrum.core.score.writing.editor import Editor
from plectrum.demo import demo_paths
from tests.tunes import tune_document

FOUR = "A4 B4 C5 D5|" * 4
OTHER = "E5*2 D5*2|C5 B4 A4 B4|E5*4|D5*4|"
PICKUP = "A4|D5 C#5 B4 A4|D5*3 A4|D5 C#5 B4 A4|D5*3 A4|B4 A4 G4 F#4|E4*3 A4|G4 F#4 E4 E4|D4*3|"


def _spans(document: Document) -> list[tuple[str, int, int]]:
    return [(s.name, s.first_note, s.last_note) for s in document.form]


# those found


def test_sections_of_four_bars_alike_share_a_letter():
    changed = "A4 B4 C5 D5|" * 3 + "D5*4|"
    document = tune_document(FOUR + OTHER + changed)
    assert _spans(document) == [("A", 0, 15), ("B", 16, 23), ("A′", 24, 36)]


def test_every_note_is_in_just_one_section():
    for bars_n in range(1, 20):
        document = tune_document("A4 B4 C5 D5|" * bars_n)
        covered = [k for s in document.form for k in range(s.first_note, s.last_note + 1)]
        assert covered == list(range(4 * bars_n))


def test_a_pickup_belongs_to_what_follows():
    """Common practice without a source. The piece's own pickup is a quarter, so is that of its
    second half, which stands at the end of bar 4."""
    document = tune_document(PICKUP, pickup=True)
    assert [s.bars for s in document.form] == ["pickup to bar 4", "bars 5–8 with pickup"]
    first, second = document.form
    assert document.part.notes[second.first_note].place == "bar 4, beat 4"
    assert first.last_note + 1 == second.first_note


def test_a_pickup_before_a_repeat_sign_is_no_section_of_its_own():
    from plectrum.core.score.reading.opening import open_score
    from tests.tunes import tune_xml

    xml = tune_xml(PICKUP, pickup=True).decode()
    mark = '<barline location="left"><repeat direction="forward"/></barline>'
    xml = xml.replace('<measure number="1">', f'<measure number="1">{mark}')
    document = Document.from_score(open_score(xml.encode(), "tune.musicxml"))
    assert document.form[0].first_note == 0
    assert len(document.form) == 2


def test_sections_are_two_to_four_bars_and_end_with_the_phrases():
    document = tune_document("A4 B4 C#5 D5|E5*3 r|A4 B4 C#5 D5|E5 D5 C#5 B4|A4*3 r|B4*4|")
    assert document.form[0].bars == "bars 1–2"
    assert max(LENGTH_COSTS) == 4


def test_a_section_does_not_end_inside_a_slur():
    music = "A4 B4 C#5 D5|" * 3 + "A4 B4 C#5 D5(|" + "E5) D5 C#5 B4|" + "A4 B4 C#5 D5|" * 2
    document = tune_document(music)
    assert not any(document.part.notes[s.first_note].slurred for s in document.form)


def test_runs_are_named_as_they_are_said():
    assert bars_name(0, 0) == "pickup"
    assert bars_name(0, 4) == "pickup to bar 4"
    assert bars_name(3, 3) == "bar 3"
    assert bars_name(5, 8) == "bars 5–8"
    part = tune_document(FOUR).part
    assert notes_name(part, 0, 15) == "bars 1–4"
    assert notes_name(part, 1, 3) == "bar 1, beats 2–4"
    assert notes_name(part, 3, 7) == "bar 2 with pickup"
    assert notes_name(part, 5, 5) == "bar 2, beat 2"
    assert notes_name(part, 5, 10) == "bar 2, beat 2 to bar 3, beat 3"


# what the teacher makes of them


def test_the_first_edit_takes_the_found_sections_over():
    document = tune_document(FOUR + OTHER)
    assert not any(s.own for s in document.form)
    split = document.with_sections(edits.begun_at, 7)
    assert [(s.first_note, s.last_note) for s in split.form] == [(0, 6), (7, 15), (16, 23)]
    assert all(s.own for s in split.form)
    assert [s.key for s in split.form if s.first_note in (0, 16)] == ["1", "2"]
    assert split.form[1].bars == "bars 3–4 with pickup"


def test_splitting_and_joining_come_out_even():
    document = tune_document(FOUR + OTHER)
    split = document.with_sections(edits.begun_at, 6)
    assert _spans(split.with_sections(edits.joined, 6)) == _spans(document)
    with pytest.raises(ChoiceError, match="begins here already"):
        split.with_sections(edits.begun_at, 6)
    with pytest.raises(ChoiceError, match="no section before"):
        split.with_sections(edits.joined, 2)


def test_a_selection_becomes_a_section_and_the_others_keep_the_rest():
    document = tune_document(FOUR + OTHER).with_sections(edits.section_of, 4, 11)
    assert [(s.first_note, s.last_note) for s in document.form] == [
        (0, 3), (4, 11), (12, 15), (16, 23)
    ]  # fmt: skip
    over = document.with_sections(edits.section_of, 2, 20)
    assert [(s.first_note, s.last_note) for s in over.form] == [(0, 1), (2, 20), (21, 23)]


def test_names_are_kept_and_letters_come_back():
    document = tune_document(FOUR + OTHER)
    named = document.with_sections(edits.named, "2", "  The answer ")
    assert [s.name for s in named.form] == ["A", "The answer"]
    assert [s.name for s in named.with_sections(edits.named, "2", "").form] == ["A", "B"]
    taken = document.with_sections(edits.named, "1", "B")
    assert [s.name for s in taken.form] == ["B", "A"]


def test_a_section_that_is_moved_takes_from_the_one_before():
    document = tune_document(FOUR + OTHER)
    moved = document.with_sections(edits.moved, "2", 14)
    assert [(s.first_note, s.last_note) for s in moved.form] == [(0, 13), (14, 23)]
    back = moved.with_sections(edits.moved, "2", 18)
    assert [(s.first_note, s.last_note) for s in back.form] == [(0, 17), (18, 23)]
    with pytest.raises(ChoiceError, match="no notes left"):
        document.with_sections(edits.moved, "2", 0)
    with pytest.raises(ChoiceError, match="after its end"):
        document.with_sections(edits.moved, "1", 16)


def test_a_figure_comes_before_its_section_with_steps_of_its_own():
    document = tune_document(FOUR + OTHER).with_sections(edits.figure_of, 17, 20)
    assert [(s.name, s.figure) for s in document.form] == [
        ("A", False), ("figure 1", True), ("B", False)
    ]  # fmt: skip
    assert not document.form[0].own
    plan = plan_of(document)
    figure = ladders_of(document, plan)[1]
    assert {s.key.split(".")[0] for s in figure.steps} == {"f1"}
    for step in figure.steps:
        assert step_study(document, plan, step).document.part.notes
    with pytest.raises(ChoiceError, match="a figure has 2 to 12 notes"):
        document.with_sections(edits.figure_of, 0, 15)
    with pytest.raises(ChoiceError, match="a figure already"):
        document.with_sections(edits.figure_of, 17, 20)
    assert _spans(document.with_sections(edits.without, "f1")) == _spans(
        tune_document(FOUR + OTHER)
    )


def test_a_study_of_a_run_begins_with_its_first_note():
    document = tune_document(PICKUP, pickup=True)
    second = document.form[1]
    study = make_study(
        document, plan_of(document), StudyKind.HANDS, second.first_note, second.last_note
    )
    notes = study.document.part.notes
    assert len(notes) == second.last_note - second.first_note + 1
    assert [n.pitches for n in notes] == [
        n.pitches for n in document.part.notes[second.first_note : second.last_note + 1]
    ]
    assert study.document.part.bars[0].pad_q == 3
    assert notes[1].onset_q - notes[0].onset_q == 1


def test_sections_follow_the_notes_that_are_left():
    document = tune_document(FOUR + OTHER).with_sections(edits.begun_at, 8)
    ids = [n.id for n in document.part.notes]
    editor = Editor(document.score, document.part_id)
    editor.delete(ids[8:10])
    edited = document.with_score(editor.result())
    assert [edited.part.notes[s.first_note].id for s in edited.form] == [ids[0], ids[10], ids[16]]
    assert [s.key for s in edited.form] == [s.key for s in document.form]


def test_sections_live_in_the_plan_file():
    document = tune_document(FOUR + OTHER)
    document = document.with_sections(edits.named, "1", "Out")
    document = document.with_sections(edits.figure_of, 2, 5)
    again = document_from_bytes(document_bytes(document), "x.plectrum")
    assert again.sections == document.sections
    assert again.form == tuple(
        Section(s.key, s.name, s.first_note, s.last_note, s.bars, s.repeated, s.own, s.figure)
        for s in document.form
    )


_NOTE = st.integers(0, 23)
_EDITS = st.one_of(
    st.tuples(st.just("begun_at"), _NOTE),
    st.tuples(st.just("joined"), _NOTE),
    st.tuples(st.just("section_of"), _NOTE, _NOTE),
    st.tuples(st.just("figure_of"), _NOTE, _NOTE),
    st.tuples(st.just("named"), st.sampled_from("123"), st.sampled_from(["", "A", "Tide"])),
    st.tuples(st.just("moved"), st.sampled_from(["1", "2", "3", "f1"]), _NOTE),
    st.tuples(st.just("without"), st.sampled_from(["1", "2", "3", "f1"])),
)


@settings(max_examples=120, deadline=None)
@given(st.lists(_EDITS, max_size=8))
def test_whatever_is_done_sections_lie_beside_one_another(wanted):
    """Own property: sections never overlap, keep an order, have keys of their own, and are the
    same after saving and opening; a figure is never in two minds where it begins."""
    document = tune_document(FOUR + OTHER)
    for name, *arguments in wanted:
        if name in ("section_of", "figure_of"):
            arguments = sorted(arguments)
        try:
            document = document.with_sections(getattr(edits, name), *arguments)
        except ChoiceError:
            continue
        sections = [s for s in document.form if not s.figure]
        assert all(s.first_note <= s.last_note for s in document.form)
        assert all(a.last_note < b.first_note for a, b in pairwise(sections))
        keys = [s.key for s in document.form]
        assert len(set(keys)) == len(keys)
        assert all(s.name for s in document.form)
    again = document_from_bytes(document_bytes(document), "x.plectrum")
    assert again.form == document.form


def test_a_pickup_in_a_bar_split_by_a_repeat_is_one_too():
    """The demo tune repeats its first half; bar 8 is shared with the pickup of the second."""
    document = open_document_path(demo_paths()[0])
    assert [s.bars for s in document.form] == [
        "pickup to bar 4", "bars 5–8 with pickup",
        "bars 9–12 with pickup", "bars 13–16 with pickup",
    ]  # fmt: skip
