"""My bowing: learnt from kept pins, used by choice, kept with the plan, explained and reset."""

from __future__ import annotations

import subprocess
import sys
from dataclasses import replace

import pytest

from plectrum.core.advice.own_bowing import effect_on, explained, kept_marks, learn_from
from plectrum.core.document.choices import Join, Pin
from plectrum.core.errors import ChoiceError, PlayerError
from plectrum.core.files.exports import plan_as_text
from plectrum.core.files.opening import open_document_path
from plectrum.core.files.planfile import document_bytes, document_from_bytes, save_document
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.planning.learning.bowings import BOUNDS
from plectrum.core.planning.plan import make_plan
from plectrum.core.planning.rules import LEARNT
from plectrum.core.player.records import bowing_as_json, bowing_from_json
from plectrum.core.score.model import Direction
from tests.tunes import tune_document, tune_xml, ways

JIGS = (
    "A4 B4*1/2 C#5 D5*1/2|E5 D5*1/2 C#5 B4*1/2|A4 B4*1/2 A4 B4*1/2|A4*3/2 D5*3/2",
    "D5*3/2 E5*3/2|D5 E5*1/2 F#5 E5*1/2|D5*3/2 A4*3/2",
)


def half_bars_up(music):
    """A jig whose second half bars the teacher pinned up."""
    document = tune_document(music, "6/8")
    pins = {n.id: Pin(Direction.UP) for n in document.part.notes if n.beat == 4}
    return document.with_choices(document.choices.with_pins(pins))


@pytest.fixture(scope="module")
def bowing():
    return learn_from([half_bars_up(music) for music in JIGS])


def test_a_habit_is_learnt_and_bows_another_piece(bowing):
    assert (bowing.plans_n, bowing.marks_n) == (2, 7)
    new = tune_document("F#5 E5*1/2 D5 C#5*1/2|B4 C#5*1/2 D5 C#5*1/2", "6/8")
    own = new.with_choices(replace(new.choices, bowing=bowing))
    assert ways(plan_of(new)) == "D U D U|D U D U"
    for bar in ways(plan_of(own)).split("|"):
        assert bar.replace(" ", "")[2].upper() == "U"
    assert "changes bars 1, 2" in effect_on(new, bowing)
    assert effect_on(new, None) == "It changes nothing here"


def test_it_is_said_in_words(bowing):
    lines = explained(bowing)
    assert "the middle of a compound bar: up" in lines
    assert not explained(replace(bowing, worths=tuple(LEARNT.items())))


def test_the_trade_bounds_what_can_be_learnt():
    """Common practice: nobody unteaches the first beat."""
    document = tune_document("A4 B4 C5 D5|E5 D5 C5 B4|A4 B4 C5 D5|E5*4", "4/4")
    pins = {n.id: Pin(Direction.UP) for n in document.part.notes if n.beat == 1}
    found = learn_from([document.with_choices(document.choices.with_pins(pins))])
    for name, (least, most) in BOUNDS.items():
        worth = dict(found.worths)[name]
        assert least is None or worth >= least - 1e-9
        assert most is None or worth <= most + 1e-9


def test_a_pinned_join_fixes_both_its_bows():
    document = tune_document("A4 B4 C5 D5|E5 D5 C5 B4")
    note = document.part.notes[2]
    plan = plan_of(document.with_choices(document.choices.with_pin(note.id, Pin(join=Join.HOOK))))
    marks = kept_marks(plan)
    assert set(marks) == {document.part.notes[1].id, note.id}
    assert len(set(marks.values())) == 1


def test_there_must_be_something_to_learn_from():
    with pytest.raises(ChoiceError, match="no bow is pinned"):
        learn_from([tune_document("A4 B4 C5 D5")])


def test_it_goes_with_the_plan_file_and_its_own_file_and_can_be_taken_off(bowing):
    document = tune_document(JIGS[0], "6/8")
    own = document.with_choices(replace(document.choices, bowing=bowing))
    again = document_from_bytes(document_bytes(own), "kept.plectrum")
    assert again.choices.bowing == bowing
    assert plan_of(again).total_cost == plan_of(own).total_cost
    assert bowing_from_json(bowing_as_json(bowing).encode(), "b.json") == bowing
    back = make_plan(document.part, replace(own.choices, bowing=None))
    assert back.steps == plan_of(document).steps


@pytest.mark.parametrize(
    "data",
    [b"", b"[]", b"{}", b'{"format": "plectrum-player"}', b"\xff\xfe",
     b'{"format": "plectrum-bowing", "worths": {"hook": 1e9}, "plans_n": 1, "marks_n": 1}',
     b'{"format": "plectrum-bowing", "worths": {"hook": NaN}, "plans_n": 1, "marks_n": 1}'],
)  # fmt: skip
def test_a_file_that_is_no_bowing_is_refused_in_a_line(data):
    with pytest.raises(PlayerError, match="not a bowing that can be used"):
        bowing_from_json(data, "b.json")


def test_worths_of_a_newer_version_are_left_alone(bowing):
    newer = replace(bowing, worths=(*bowing.worths, ("something_new", 1.0)))
    assert newer.over(LEARNT) == bowing.over(LEARNT)


def test_the_command_line_learns_and_uses_it(tmp_path):
    plan, out, tune = tmp_path / "jig.plectrum", tmp_path / "mine.json", tmp_path / "new.musicxml"
    save_document(half_bars_up(JIGS[0]), plan)
    tune.write_bytes(tune_xml("F#5 E5*1/2 D5 C#5*1/2|B4 C#5*1/2 D5 C#5*1/2", "6/8"))

    def run(*words):
        return subprocess.run(
            [sys.executable, "-m", "plectrum", *words], capture_output=True, text=True, check=False
        )

    learnt = run("bowing", str(plan), "-o", str(out))
    assert learnt.returncode == 0, learnt.stderr
    assert "Learnt from 4 bows in 1 plan." in learnt.stderr
    own = run("plan", str(tune), "--bowing", str(out)).stdout
    assert "my bowing" in own
    assert signs(own) != signs(plan_as_text(*planned(tune)))
    refused = run("plan", str(tune), "--bowing", str(tune))
    assert refused.returncode == 2
    assert refused.stderr.count("\n") == 1


def signs(text: str) -> list[str]:
    return [c for c in text if c in "⊓V"]


def planned(path):
    document = open_document_path(path)
    return document, plan_of(document)
