"""A class on one tune, and easier parts: ranges, bows, ids, and what still cannot be played."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from plectrum.core.document.choices import Pin
from plectrum.core.document.document import Document
from plectrum.core.document.seats import Seat
from plectrum.core.errors import ChoiceError
from plectrum.core.files.opening import open_document
from plectrum.core.files.planfile import document_bytes
from plectrum.core.instrument.bow import Bow
from plectrum.core.instrument.specification import instrument
from plectrum.core.planning.ensemble.documents import ensemble_of, plan_of
from plectrum.core.player.player import stage
from plectrum.core.practice.class_tune import MOST_STUDENTS, Student, class_document, reaches
from plectrum.core.practice.easier import Easier, easier_part, hard_notes
from plectrum.core.score.model import Direction
from tests.core.planning.strategies import tunes
from tests.tunes import tune_document

CLASS = (("growing", "violin"), ("starter", "viola"), ("steady", "cello"), ("starter", "bass"))


def seat(player: str, name: str) -> Seat:
    return Seat(stage(player), Bow.sized(name))


def students(*who: tuple[str, str]) -> list[Student]:
    return [Student(stage(player).title, seat(player, name)) for player, name in who]


def sounding(document: Document) -> list[int]:
    return [note.pitches[0].midi for note in document.part.notes]


def test_every_student_gets_the_tune_in_his_range_an_octave_or_more_away():
    tune = tune_document("A4 B4 C#5 D5|E5 D5 C#5 B4|A4*4|")
    made = class_document(tune, students(*CLASS))
    assert [info.name for info in made.string_parts] == [
        "Growing, violin", "Starter, viola", "Steady, cello", "Starter, bass"
    ]  # fmt: skip
    for k, (player, name) in enumerate(CLASS, start=1):
        part = made if k == 1 else made.with_part(f"P{k}")
        assert part.part.instrument == name
        assert part.choices.player == stage(player)
        apart = {a - b for a, b in zip(sounding(part), sounding(tune), strict=True)}
        assert len(apart) == 1
        assert apart.pop() % 12 == 0
        assert all(reaches(m, seat(player, name)) for m in sounding(part))


def test_the_bass_is_written_above_its_sound_and_read_so_again():
    made = class_document(tune_document("G4 A4 B4*2|"), students(("steady", "bass")))
    note = made.part.notes[0].pitches[0]
    written = note.midi - note.transpose_semitones
    assert written - note.midi == instrument("bass").written_above_semitones
    again = open_document(document_bytes(made), "class.plectrum")
    assert sounding(again) == sounding(made)


def test_a_note_out_of_reach_moves_by_itself():
    """Nothing a starter's viola has in first position is as high as E5 and as low as C3 alike."""
    tune = tune_document("G3 D4 A4 E5|B5*4|")
    made = class_document(tune, students(("growing", "cello")))
    assert all(reaches(m, seat("growing", "cello")) for m in sounding(made))
    moved = {(a - b) // 12 for a, b in zip(sounding(made), sounding(tune), strict=True)}
    assert len(moved) > 1


def test_pins_repeats_and_dynamics_come_along_and_the_hand_does_not():
    tune = tune_document("[p] A4 B4 [f] C5 D5|A4*4|")
    first = tune.part.notes[0].id
    tune = tune.with_choices(tune.choices.with_pin(first, Pin(direction=Direction.UP, string=2)))
    made = class_document(tune, students(("growing", "violin"), ("growing", "cello")))
    assert [plan.notes[0].direction for plan in ensemble_of(made).plans] == [Direction.UP] * 2
    assert all(pin.string is None for pin in made.choices.pins.values())
    assert [note.dynamic for note in made.with_part("P2").part.notes[:3:2]] == ["p", "f"]


def test_in_unison_all_bows_match():
    made = class_document(tune_document("A4*3/2 B4*1/2 C5 D5|E5( D5) C5*2|"), students(*CLASS))
    both = ensemble_of(made)
    assert len(both.matched) == len(plan_of(made).units)
    assert not [d for d in both.differences if d.what == "way"]


def test_a_class_has_someone_in_it_and_not_too_many():
    tune = tune_document("A4*4|")
    with pytest.raises(ChoiceError, match="students"):
        class_document(tune, [])
    with pytest.raises(ChoiceError, match="students"):
        class_document(tune, students(*[("growing", "violin")] * (MOST_STUDENTS + 1)))


def test_two_of_the_same_name_have_parts_of_two_names():
    made = class_document(tune_document("A4*4|"), students(*[("growing", "violin")] * 2))
    assert [i.name for i in made.string_parts] == ["Growing, violin 1", "Growing, violin 2"]


@settings(max_examples=20, deadline=None)
@given(tunes(most_bars=3), st.lists(st.sampled_from(CLASS), min_size=1, max_size=3))
def test_any_tune_makes_a_class_that_is_kept_and_opened_again(music, who):
    made = class_document(tune_document(music), students(*who))
    again = open_document(document_bytes(made), "class.plectrum")
    assert again.seats == made.seats
    assert again.together is made.together
    one, other = ensemble_of(made).plans, ensemble_of(again).plans
    assert [p.steps for p in one] == [p.steps for p in other]


# easier parts


def test_open_strings_keep_rhythm_bows_and_crossings():
    tune = tune_document("A4 B4*1/2 C5*1/2 D5 F#4|E5( F5) D4*2|")
    tune = tune.with_seat("P1", seat("starter", "violin"))
    proposal = easier_part(tune, tune.seat_of("P1"), Easier.OPEN, everywhere=True)
    before, after = plan_of(tune), proposal.document
    assert set(sounding(after)) <= set(instrument("violin").open_midis)
    assert [(n.onset_q, n.duration_q) for n in after.part.notes] == [
        (n.onset_q, n.duration_q) for n in tune.part.notes
    ]
    strings = [f.strings for f in plan_of(after).fingered]
    assert strings == [f.strings for f in before.fingered]
    assert "easier (proposed)" in after.part.name


def test_fewer_notes_hold_a_slur_and_repeat_the_first_of_quick_ones():
    tune = tune_document("A4*1/2( B4*1/2 C5) D5*2|E5*1/2 F5*1/2 G5*1/2 E5*1/2 A4*2|")
    proposal = easier_part(tune, seat("starter", "violin"), Easier.FEWER, everywhere=True)
    notes = proposal.document.part.notes
    assert [float(n.duration_q) for n in notes] == [2, 2, 0.5, 0.5, 0.5, 0.5, 2]
    assert [n.pitches[0].name for n in notes] == ["A4", "D5", "E5", "E5", "G5", "G5", "A4"]
    assert not any(n.slurred for n in notes)
    both = ensemble_of(proposal.document)
    assert len(both.matched) == len(plan_of(tune).units)
    assert not [d for d in both.differences if d.what == "way"]


def test_only_what_is_out_of_reach_becomes_easier():
    """A starter knows no fourth finger and no second position: the high A of bar 2."""
    tune = tune_document("A4 B4 C#5 D5|A4 E6 A4*2|A4*4|")
    proposal = easier_part(tune, seat("growing", "violin"), Easier.OPEN)
    assert proposal.bars == (2,)
    assert proposal.before_n == 1
    assert proposal.after_n == 0
    names = [n.pitches[0].name for n in proposal.document.part.notes]
    assert names[:4] == ["A4", "B4", "C#5", "D5"]
    assert names[5] == "E5"
    assert "none now" in proposal.words


def test_what_a_player_can_do_needs_nothing_easier():
    with pytest.raises(ChoiceError, match="can play all"):
        easier_part(tune_document("A4 B4 C#5 D5|"), seat("steady", "violin"), Easier.OPEN)


def test_a_triplet_and_a_tie_over_the_bar_are_held_right():
    music = "A4*1/3( B4*1/3 C5*1/3) D5 E5( F5~|F5) E5*3|"
    tune = tune_document(music)
    made = easier_part(tune, seat("starter", "violin"), Easier.FEWER, everywhere=True).document
    assert sum(n.duration_q for n in made.part.notes) == sum(n.duration_q for n in tune.part.notes)
    assert [n.pitches[0].name for n in made.part.notes] == ["A4", "D5", "E5", "E5"]


@settings(max_examples=25, deadline=None)
@given(tunes(most_bars=3), st.sampled_from(list(Easier)), st.booleans())
def test_an_easier_part_lasts_as_long_and_leaves_other_bars_alone(music, kind, everywhere):
    tune = tune_document(music)
    who = seat("starter", "violin")
    try:
        proposal = easier_part(tune, who, kind, everywhere=everywhere)
    except ChoiceError:
        assert not hard_notes(plan_of(tune.with_seat("P1", who)), who)
        return
    made = proposal.document
    assert [i.id for i in made.string_parts] == ["P1", "P2"]
    heads = {n.onset_q for n in tune.part.notes}
    assert {n.onset_q for n in made.part.notes} <= heads
    assert made.part.notes[-1].end_q <= tune.part.notes[-1].end_q
    kept = [n for n in made.part.notes if n.bar not in proposal.bars]
    ours = [n for n in tune.part.notes if n.bar not in proposal.bars]
    assert [n.pitches for n in kept] == [n.pitches for n in ours]
    if kind is Easier.OPEN:
        changed = [n for n in made.part.notes if n.bar in proposal.bars]
        assert all(reaches(p.midi, who) for n in changed for p in n.pitches)
