"""Exercises without a tune: every row, every pattern, on every instrument.

How often, how long and where is common practice without a source; the numbers checked here follow
from the rows themselves.
"""

from __future__ import annotations

import json
from functools import partial
from itertools import pairwise
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from plectrum.core.advice.plan_warning import Severity
from plectrum.core.advice.warnings import warnings_of
from plectrum.core.document.choices import Choices
from plectrum.core.errors import ChoiceError, PlectrumError
from plectrum.core.files.exports import plan_as_musicxml
from plectrum.core.instrument.specification import TABLE, instrument_names
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.playing.performance import Kind
from plectrum.core.practice.exercises.catalogue import exercise_named, listed, made_of
from plectrum.core.practice.exercises.drills import Moves, Setting
from plectrum.core.practice.exercises.model import (
    Changes,
    Exercise,
    exercise_bytes,
    exercise_from_bytes,
    shipped,
)
from plectrum.core.practice.exercises.patterns import MAJOR, MINOR, PATTERNS, Asked, key_of
from plectrum.core.practice.exercises.steps import drill_of, strings_of
from plectrum.core.score.reading.opening import open_score

NOTHING = Changes()


def _setting(instrument: str = "violin") -> Setting:
    return Setting.of(Choices.default(instrument))


@pytest.mark.parametrize("instrument", instrument_names())
@pytest.mark.parametrize("name", [row.name for row in listed()])
def test_every_exercise_is_music_that_plays(name, instrument):
    """Its seconds and counts are its steps'; its score is read again; its pins are kept."""
    made = exercise_named(name, Choices.default(instrument), NOTHING, Asked())
    assert made.seconds > 0
    assert made.what.endswith(".")
    assert made.good
    if made.drill is not None:
        assert made.drill.caution
    if made.document is None:
        assert made.exercise.strings == "none"
        return
    plan = plan_of(made.document)
    if made.kind is Kind.WRITTEN:
        grave = [w for w in warnings_of(plan) if w.severity is Severity.PROBLEM]
        assert not grave, grave
    again = open_score(plan_as_musicxml(made.document, plan), "x.musicxml")
    assert again.title == made.document.title


@pytest.mark.parametrize("row", shipped().values(), ids=shipped())
def test_a_row_has_as_many_strokes_as_it_says(row: Exercise):
    drill = drill_of(row, _setting())
    n = max(1, len(strings_of(row, _setting().instrument)))
    turns = {"up and back": 2 * n - 1, "random": row.times}.get(row.order, n)
    times = 1 if row.order == "random" or row.spread else row.times
    strokes = sum(max(1, s.bounces) for s in row.strokes)
    assert len(drill.steps) == turns * times * (strokes + (row.look_beats > 0))
    if row.pace == "counts" and not row.spread:
        beats = turns * times * (sum(s.beats for s in row.strokes) + row.look_beats)
        assert drill.seconds == pytest.approx(beats * row.counts * 60 / row.bpm)
    usable = _setting().player
    for step in drill.steps:
        for place in (step.start, step.end):
            assert place is None or usable.usable_from - 0.03 <= place <= usable.usable_to + 0.03
    sounding = [s for s in drill.steps if s.direction is not None]
    assert bool(sounding) == (row.moves in (Moves.SOUND, Moves.THROW))


def test_strings_are_each_pairs_or_named_in_their_order():
    own = TABLE["violin"]
    rocking, straight = shipped()["rocking"], shipped()["straight-bow"]

    def levels(row: Exercise) -> list[int]:
        steps = drill_of(row, _setting()).steps
        found = [s.level for s in steps if s.count in ("", "1") and s.level]
        return [a for k, a in enumerate(found) if not k or found[k - 1] != a]

    assert [(t.low, t.high) for t in strings_of(rocking, own)] == [(0, 1), (1, 2), (2, 3)]
    assert levels(straight) == [1, 3, 5, 7, 5, 3, 1]
    assert levels(Changes(strings="D, G").made_in(straight)) == [3, 1, 3]
    tune = shipped()["tune-first"]
    assert levels(tune) == [7, 5, 3, 1]
    assert levels(Changes(strings="D, A").made_in(tune)) == [3, 5]
    assert levels(Changes(strings="G+D, A", order="up").made_in(straight)) == [2, 5]
    with pytest.raises(ChoiceError, match="no string 'H'"):
        strings_of(Changes(strings="H").made_in(straight), own)
    with pytest.raises(ChoiceError, match="no neighbours"):
        strings_of(Changes(strings="G-A").made_in(rocking), own)
    with pytest.raises(ChoiceError, match="over two strings"):
        strings_of(Changes(strings="G").made_in(rocking), own)
    with pytest.raises(ChoiceError, match="is done on strings"):
        strings_of(Changes(strings="none").made_in(straight), own)


def test_upper_half_two_strings_three_counts_a_look_five_times():
    changes = Changes("G, D", "upper-half", 3, 2, 5)
    made = exercise_named("straight-bow", Choices.default("violin"), changes, Asked())
    assert made.drill is not None
    played = [s for s in made.drill.steps if s.direction is not None]
    assert {s.seconds for s in played} == {3.0}
    assert {s.seconds for s in made.drill.steps if s.direction is None} == {2.0}
    assert min(min(s.start, s.end) for s in played) >= 0.5
    assert sum(s.level == 1 for s in played) == 2 * 5 * 2
    with pytest.raises(ChoiceError, match="no part of the bow"):
        exercise_named("straight-bow", Choices.default("violin"), Changes(part="top"), Asked())
    with pytest.raises(ChoiceError, match="no strings, part"):
        exercise_named("scale", Choices.default("violin"), Changes(times=3), Asked())
    with pytest.raises(ChoiceError, match="there is no exercise"):
        exercise_named("nothing", Choices.default("violin"), NOTHING, Asked())


def test_an_exercise_grows_by_the_day_up_to_its_most():
    row = shipped()["landings"]
    assert [row.on_day(day).times for day in (1, 2, 6, 20)] == [10, 11, 15, 15]
    assert shipped()["hooked"].on_day(9) == shipped()["hooked"]


def test_an_exercise_goes_to_a_file_and_comes_back():
    for row in shipped().values():
        assert exercise_from_bytes(exercise_bytes(row), "x.json") == row
    raw = json.loads(exercise_bytes(shipped()["hooked"]))
    raw["times"] = 0
    with pytest.raises(ChoiceError, match=r"no exercise \(times"):
        exercise_from_bytes(json.dumps(raw).encode(), "x.json")
    with pytest.raises(PlectrumError, match="damaged"):
        exercise_from_bytes(b"{", "x.json")
    assert made_of(shipped()["hooked"], Choices.default("cello")).exercise is not None


@settings(max_examples=40, deadline=None)
@given(
    st.sampled_from([*MAJOR, *(f"{k} minor" for k in MINOR)]),
    st.sampled_from(instrument_names()),
    st.integers(1, 2),
    st.integers(1, 4),
)
def test_scales_and_arpeggios_are_in_their_key(key, instrument, octaves, bow_notes):
    """From tonic to tonic and back, every note in the key; so many notes in a bow."""
    asked = Asked(key, octaves, bow_notes)
    choices = Choices.default(instrument)
    for name in ("scale", "arpeggio"):
        document = exercise_named(name, choices, NOTHING, asked).document
        assert document is not None
        notes = document.part.notes
        midis = [n.pitches[0].midi for n in notes]
        assert midis == midis[::-1]
        assert max(midis) - midis[0] == 12 * octaves
        assert TABLE[instrument].open_midis[0] <= midis[0] < TABLE[instrument].open_midis[0] + 12
        fifths, _ = key_of(key)
        tonic = midis[0]
        steps = {(m - tonic) % 12 for m in midis}
        minor = "minor" in key
        third = 3 if minor else 4
        assert third in steps
        assert steps <= ({0, 2, 3, 5, 7, 8, 10} if minor else {0, 2, 4, 5, 7, 9, 11})
        assert -6 <= fifths <= 6
        bows = [n for n in notes if not n.slurred]
        assert len(bows) == -(-len(notes) // bow_notes)


def test_a_rhythm_comes_on_every_pitch_and_fingers_on_every_string():
    choices = Choices.default("violin")
    document = exercise_named("scale", choices, NOTHING, Asked(rhythm="long short short")).document
    assert document is not None
    groups = [document.part.notes[k : k + 3] for k in range(0, len(document.part.notes), 3)]
    for group in groups:
        assert len({n.pitches for n in group}) == 1
        assert [float(n.duration_q) for n in group] == [1, 0.5, 0.5]
    pattern = exercise_named("finger-pattern", choices, NOTHING, Asked(fingers="0 1 low 2 1"))
    assert pattern.document is not None
    plan = plan_of(pattern.document)
    said = [f"{f.string_words}{f.finger_words}" for f in plan.fingered]
    assert said == [f"{s}{f}" for s in "GDAE" for f in "0121"]
    for text in ("9", "0 1 2 3 " * 9):
        with pytest.raises(ChoiceError, match="no finger pattern"):
            exercise_named("finger-pattern", choices, NOTHING, Asked(fingers=text))
    for bad in (Asked(key="H"), Asked(rhythm="slow"), Asked(octaves=9), Asked(bow_notes=0)):
        with pytest.raises(ChoiceError):
            exercise_named("scale", choices, NOTHING, bad)
    assert len(PATTERNS) == 4


def test_an_echo_is_called_and_answered():
    document = exercise_named("echo", Choices.default("violin"), NOTHING, Asked()).document
    assert document is not None
    phrases = [document.part.notes[k : k + 4] for k in range(0, len(document.part.notes), 4)]
    for call, answer in list(pairwise(phrases))[::2]:
        assert [n.pitches for n in call] == [n.pitches for n in answer]


def test_the_command_line_lists_and_makes(command, tmp_path: Path):
    run = partial(command, "exercise")
    said = run("--list").out.splitlines()
    assert [line.split()[0] for line in said] == [row.name for row in listed()]
    assert run("straight-bow", "--counts", "3+4", "-o", "own.json").code == 0
    own = run("own.json", "--instrument", "cello")
    assert "C string: play" in own.out
    assert run("scale", "-o", "scale.musicxml").code == 0
    assert open_score((tmp_path / "scale.musicxml").read_bytes(), "x").title == "Scale in D major"
    for words in (("nothing",), ("hooked", "--strings", "H"), ("bow-care", "-o", "x.mid"),
                  ("scale", "-o", "x.odd"), ("hooked", "--counts", "x")):  # fmt: skip
        done = run(*words)
        assert done.code == 2
        assert done.err.count("\n") == 1
