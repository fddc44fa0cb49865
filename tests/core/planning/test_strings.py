"""Strings and fingers: optimal, possible, and as the score and the teacher say."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from itertools import product

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from plectrum.core.advice.reasons import reasons_for
from plectrum.core.advice.warnings import warnings_of
from plectrum.core.document.choices import Choices, Pin
from plectrum.core.instrument.specification import instrument
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.planning.fingering.grips import fingers_for, grips_for
from plectrum.core.planning.fingering.search import (
    _crossing_scale,
    _Search,
    fingering_of,
    move_cost,
    plan_strings,
)
from plectrum.core.player.player import stage
from plectrum.core.practice.handout import HandoutOptions, Words, handout_of
from tests.tunes import tune_document, tune_plan

VIOLIN = ("G3", "A3", "C4", "D4", "E4", "F#4", "A4", "B4", "C#5", "D5", "E5", "F#5", "A5", "B5")
CELLO = ("C2", "D2", "F2", "G2", "B2", "D3", "F#3", "A3", "C4", "D4")


def total_cost(search: _Search, notes, grips) -> float:
    cost = 0.0
    for note, grip in zip(notes, grips, strict=True):
        possible = search.grips(note)
        cost += search.own_costs(note, possible)[possible.index(grip)]
    for k in range(1, len(notes)):
        scale = _crossing_scale(notes[k - 1], notes[k])
        cost += move_cost(grips[k - 1], grips[k], *scale)
    return cost


@settings(max_examples=40, deadline=None)
@given(st.lists(st.sampled_from(VIOLIN), min_size=2, max_size=6), st.booleans())
def test_no_other_fingering_costs_less(names, higher):
    """Every combination of grips of a short phrase is tried."""
    document = tune_document(" ".join(names) + "|", f"{len(names)}/4")
    player = stage("steady") if higher else stage("growing")
    choices = replace(document.choices, player=player)
    notes = document.part.notes
    search = _Search(notes, choices, instrument("violin"))
    found = search.best()
    best = min(total_cost(search, notes, g) for g in product(*[search.grips(n) for n in notes]))
    assert total_cost(search, notes, found) == pytest.approx(best)


@pytest.mark.parametrize(
    ("name", "clef", "pitches"), [("Violin", "G2", VIOLIN), ("Cello", "F4", CELLO)]
)
def test_every_grip_sounds_the_written_pitch(name, clef, pitches):
    plan = tune_plan(" ".join(pitches) + "|", f"{len(pitches)}/4", name=name, clef=clef)
    for note, fingered in zip(plan.part.notes, plan.fingered, strict=True):
        main = fingered.grip.main
        assert plan.instrument.open_midis[main.string] + main.semitones == note.pitches[0].midi
        assert fingered.level == 2 * main.string + 1
        assert (main.finger == 0) == (main.semitones == 0)


@pytest.mark.parametrize("name", ["violin", "viola", "cello", "bass"])
def test_tunings_and_frequencies_agree_with_music21(name):
    """Outside check; A4 = 440 Hz is ISO 16."""
    m21 = pytest.importorskip("music21")
    theirs = {
        "violin": m21.instrument.Violin, "viola": m21.instrument.Viola,
        "cello": m21.instrument.Violoncello, "bass": m21.instrument.Contrabass,
    }[name]().stringPitches  # fmt: skip
    midis = [p.midi for p in theirs]
    ours = list(instrument(name).open_midis)
    if name == "bass":
        midis = [m21.pitch.Pitch(p).midi for p in ("E1", "A1", "D2", "G2")]  # as sounding
    assert sorted(midis) == ours
    for midi in ours:
        assert m21.pitch.Pitch(midi=midi).frequency == pytest.approx(440 * 2 ** ((midi - 69) / 12))


def test_first_position_patterns_are_the_usual_ones():
    """Common practice: semitones above the open string to finger, unstretched."""
    patterns = {
        "violin": {0: 0, 2: 1, 3: 2, 4: 2, 5: 3, 7: 4},
        "cello": {0: 0, 2: 1, 3: 2, 4: 3, 5: 4},
        "bass": {0: 0, 1: 1, 2: 1, 3: 2, 4: 4},
    }
    for name, pattern in patterns.items():
        lowest = instrument(name).open_midis[0]
        for semitones, finger in pattern.items():
            found = {
                f.finger for f in fingers_for(name, lowest + semitones, (1,)) if not f.stretched
            }
            assert finger in found, (name, semitones)


def test_the_bass_uses_no_third_finger_in_low_positions():
    """Common practice: 1-2-4."""
    for midi in range(28, 60):
        assert all(f.finger != 3 for f in fingers_for("bass", midi, (1,)))


def test_double_stops_lie_on_neighbouring_strings_with_possible_fingers():
    for grip in grips_for("violin", (62, 71), (1,)):  # D4 + B4
        strings = [f.string for f in grip.fingers]
        assert strings[1] == strings[0] + 1
        assert grip.level % 2 == 0
    assert grips_for("violin", (56, 57), (1,)) == ()  # two notes on the lowest string alone


def test_a_fifth_is_one_finger_across():
    assert any([f.finger for f in g.fingers] == [1, 1] for g in grips_for("violin", (64, 71), (1,)))


def test_higher_positions_only_for_players_who_have_them():
    growing, steady = tune_plan("D6*4|"), tune_plan("D6*4|", player="steady")
    assert growing.fingered[0].grip is None
    assert steady.fingered[0].grip.main.position == 3
    assert any(w.code == "not_on_instrument" for w in warnings_of(growing))


def test_pins_hold_a_string_and_a_finger():
    document = tune_document("E5 D5 E5 D5|")
    note_id = document.part.notes[0].id
    choices = document.choices.with_pin(note_id, Pin(string=2, finger=4))
    main = plan_strings(document.part.notes, choices)[0].grip.main
    assert (main.string, main.finger) == (2, 4)


def test_a_pin_no_finger_can_keep_is_said():
    document = tune_document("G3*4|")
    choices = document.choices.with_pin(document.part.notes[0].id, Pin(string=3))
    plan = plan_of(document.with_choices(choices))
    assert any(w.code == "pin_not_kept" for w in warnings_of(plan))


def test_fingerings_and_string_numbers_of_the_score_are_kept():
    document = tune_document("E5 D5 E5 A4|")
    notes = list(document.part.notes)
    notes[0] = notes[0]._replace(fingerings=("4",))
    notes[2] = notes[2]._replace(strings=(1,))  # scores number from the highest string
    found = plan_strings(notes, Choices.default("violin"))
    assert found[0].grip.main.finger == 4
    assert found[2].grip.main.string == 3


def test_a_starter_is_told_of_a_finger_not_learnt():
    plan = tune_plan("B5*4|", player="starter")
    assert any(w.code == "finger_not_learnt" for w in warnings_of(plan))


def test_a_skipped_string_inside_a_slur_is_said():
    plan = tune_plan("G3( E5) A4*2|")
    assert any(w.code == "slur_skips_string" for w in warnings_of(plan))


@pytest.mark.parametrize("finger", [0, 4])
def test_a_pinned_finger_is_kept_whichever_way_it_differs(finger):
    """E5 is the open string or the fourth finger on A; the teacher's pin decides (and only it)."""
    document = tune_document("C#5 D5 E5 D5", player="steady")
    note = document.part.notes[2]
    choices = document.choices.with_pin(note.id, Pin(finger=finger))
    assert fingering_of(document.part, choices)[2].grip.main.finger == finger
    others = [f.finger_words for f in fingering_of(document.part, choices)]
    assert others[:2] == ["2", "3"]


def fingers(plan) -> list[str]:
    return [f.string_words + f.finger_words for f in plan.fingered]


@pytest.mark.parametrize("player", ["starter", "growing", "steady"])
@pytest.mark.parametrize(
    ("name", "music", "said"),
    [
        ("cello", "G2 A2 B2 C3|D3 E3 F#3 G3", "G0 G1 G3 G4 D0 D1 D3 D4"),
        ("cello", "C3 D3 E3 F3|G3 A3 B3 C4", "G4 D0 D1 D2 D4 A0 A1 A2"),
        ("cello", "D3 E3 F#3 G3|A3 B3 C#4 D4", "D0 D1 D3 D4 A0 A1 A3 A4"),
        ("cello", "Eb2 F2 G2 Ab2|Bb2 C3 D3 Eb3", "C2 C4 G0 G1 G2 G4 D0 D1"),
        ("bass", "G2 A2 B2 C3|D3 E3 F#3 G3", "E2 A0 A1 A2 D0 D1 D4 G0"),
        ("bass", "F2 G2 A2 Bb2|C3 D3 E3 F3", "E1 E4 A0 A1 A4 D0 D2 D4"),
        ("bass", "Bb2 C3 D3 Eb3|F3 G3 A3 Bb3", "A1 A4 D0 D1 D4 G0 G2 G4"),
    ],
)
def test_scales_are_fingered_as_method_books_have_them(name, music, said, player):
    """Common practice: the cello's hand by semitones, the bass 1-2-4 in half and first position,
    the hand kept where it is while open strings sound."""
    plan = tune_plan(music, instrument=name, player=player)
    assert fingers(plan) == said.split()
    assert not any(w.code == "finger_not_learnt" for w in warnings_of(plan))


def test_a_slow_note_rings_on_its_open_string_where_the_hand_would_have_to_go_up():
    """Common practice."""
    assert fingers(tune_plan("A3*2 D3*2|E3*2 A3*2", instrument="cello", player="steady")) == [
        "A0", "D0", "D1", "A0"
    ]  # fmt: skip


def test_one_finger_across_two_strings_is_said_on_both_notes():
    plan = tune_plan("E4 B4 E4 B4|A4 r B4 r")
    for index in range(4):
        said = {r.code: r.text for r in reasons_for(plan, index)}
        assert said["across"] == "first finger across D and A: only the bow moves"
    assert not any(r.code == "across" for r in reasons_for(plan, 5))
    document = tune_document("E4 B4 E4 B4|A4 r B4 r")
    page = handout_of(document, plan, HandoutOptions(words=Words.ALL), date(2027, 3, 1))
    assert page.said[0].endswith("first finger across D and A")
    assert "across" not in page.said[1]
    tricky = handout_of(document, plan, HandoutOptions(words=Words.TRICKY), date(2027, 3, 1))
    assert tricky.said[0].endswith("first finger across D and A")


@pytest.mark.parametrize("bpm", [30, 71, 131, 200])
def test_fingers_are_kept_from_tempo_to_tempo_only_while_they_are_the_same(bpm):
    """Slow notes ask for open strings, quick ones for short ways: another tempo can change both."""
    document = tune_document("E5 C5 G3 G5|D4 D4 C5 G4", player="steady")
    choices = document.choices
    walking, running = (document.part.at_tempo(tempo) for tempo in (71, 200))
    assert fingering_of(walking, choices) != fingering_of(running, choices)
    part = document.part.at_tempo(bpm)
    assert fingering_of(part, choices) == plan_strings(part.notes, choices)
    near = document.part.at_tempo(bpm * 1.000001)
    assert fingering_of(near, choices) is fingering_of(part, choices)


def test_a_note_below_the_instrument_is_said_with_the_octave_that_mends_it():
    (low,) = (w for w in warnings_of(tune_plan("A4 C3 B4")) if w.code == "not_on_instrument")
    assert "below the lowest string of the violin" in low.text
    assert low.remedy.startswith("Move it up an octave")
