"""What a plan says about itself: sentences, reasons, warnings and their remedies."""

from __future__ import annotations

from dataclasses import replace

import pytest

from plectrum.core.advice.comparison import changed_bars
from plectrum.core.advice.reasons import bars_words, reasons_for
from plectrum.core.advice.warnings import warnings_of
from plectrum.core.advice.words import length_words, note_sentence, place_words
from plectrum.core.document.choices import Join, Pin
from plectrum.core.errors import ChoiceError, PlayerError
from plectrum.core.instrument.bow import Bow
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.planning.plan import make_plan
from plectrum.core.player.player import STAGES, stage
from plectrum.core.player.player_file import player_from_json
from plectrum.core.player.school import SlurSchool
from plectrum.core.score.model import Direction
from tests.tunes import tune_document, tune_plan

BOW = Bow.full_size("violin")


def codes(plan) -> list[str]:
    return [w.code for w in warnings_of(plan)]


@pytest.mark.parametrize(
    ("at", "words"),
    [
        (0.0, "the frog"),
        (0.06, "near the frog"),
        (0.25, "the quarter mark"),
        (0.48, "the middle"),
        (0.55, "just above the middle"),
        (0.375, "between the quarter mark and the middle"),
        (0.95, "near the tip"),
        (1.0, "the tip"),
    ],
)
def test_places_are_said_by_their_nearest_mark(at, words):
    assert place_words(at, BOW) == words


def test_lengths_are_said_in_parts_of_a_bow():
    assert length_words(0.5) == "half a bow"
    assert length_words(1.0) == "the whole bow"
    assert length_words(0.03) == "a tiny bit of bow"


def test_a_sentence_names_way_places_amount_and_time():
    plan = tune_plan("A4*2 B4|" * 2, "3/4")
    sentence = note_sentence(plan.notes[0], plan.choices.bow)
    assert sentence.startswith("Down-bow from ")
    assert sentence.endswith("half a bow in 1.5 s.")


def test_reasons_speak_of_the_beat_the_score_and_the_pin():
    document = tune_document("A4 B4u C5 D5|")
    plan = plan_of(document)
    assert reasons_for(plan, 0)[0].code == "first_beat"
    assert reasons_for(plan, 1)[0].code == "score_mark"
    pinned = plan_of(
        document.with_choices(
            document.choices.with_pin(document.part.notes[2].id, Pin(Direction.UP))
        )
    )
    assert reasons_for(pinned, 2)[0].code == "pin"
    slurred = tune_plan("A4( B4) C5 D5!|")
    assert reasons_for(slurred, 1)[0].code == "slur"
    assert reasons_for(slurred, 3)[0].code == "pizzicato"


def test_a_slur_too_long_for_one_bow_says_where_to_split_it():
    plan = tune_plan("A4*4( B4*4 C5*4 D5*4)|", "16/4", bpm=60)
    warning = next(w for w in warnings_of(plan) if w.code == "slur_too_long")
    assert "16.0 s" in warning.text
    assert warning.remedy == "Split it at bar 1, beat 9 (X)"


def test_splitting_where_told_clears_the_warning():
    document = tune_document("A4*4( B4*4 C5*4 D5*4)|", "16/4", bpm=60)
    note = document.note_at("1.9")
    split = document.with_choices(document.choices.with_pin(note.id, Pin(join=Join.TURN)))
    assert "slur_too_long" not in codes(plan_of(split))


def test_a_note_too_long_for_the_player_is_too_slow():
    assert "too_slow" in codes(tune_plan("A4*16|", "16/4", bpm=60))


def test_running_out_of_bow_is_said():
    """Seven long downs in a row: each must make do with little."""
    assert "runs_out" in codes(tune_plan("A4d B4d C5d D5d E5d F5d G5d|", "7/4"))


def test_too_fast_is_said_when_the_teacher_pins_too_much_bow():
    document = tune_document("A4*1/8 B4*1/8 C5*1/8 D5*1/8|", "1/4", bpm=120)
    pinned = document.choices.with_pin(document.part.notes[1].id, Pin(length_cells=24))
    assert "too_fast" in codes(plan_of(document.with_choices(pinned)))


@pytest.mark.parametrize(("over", "said"), [(1.01, False), (1.03, True)])
def test_a_speed_within_two_per_cent_of_the_limit_is_not_spoken_of(over, said):
    document = tune_document("A4*1/4 B4*1/4 C5*1/4 D5*1/4|", "1/4", bpm=60)
    note = document.part.notes[1]
    choices = document.choices.with_pin(note.id, Pin(length_cells=24))
    speed_mm_s = plan_of(document.with_choices(choices)).notes[1].speed_mm_s
    player = replace(choices.player, fastest_mm_s=speed_mm_s / over)
    plan = plan_of(document.with_choices(replace(choices, player=player)))
    assert plan.notes[1].speed_mm_s == pytest.approx(speed_mm_s)
    assert any(w.code == "too_fast" and w.note == 1 for w in warnings_of(plan)) == said


def test_a_hook_forced_on_a_starter_is_said():
    assert "not_learnt" in codes(tune_plan("A4d B4d C5u D5u|", player="starter"))
    assert "not_learnt" not in codes(tune_plan("A4d B4d C5u D5u|"))


def test_a_starter_is_never_given_a_hook_unasked():
    plan = tune_plan("A4*3/2 B4*1/2 C5*2|" * 4, player="starter")
    assert plan.summary["hooks"] == 0


def test_a_lift_without_time_is_refused_with_the_reason():
    document = tune_document("A4 B4 C5 D5|").pinned("1.3", "retake")
    warning = next(w for w in warnings_of(plan_of(document)) if w.code == "pin_not_kept")
    assert "no time to lift" in warning.text


def test_more_downs_than_bow_keeps_what_it_can_and_says_the_rest():
    plan = tune_plan("A4*1/8d " * 60 + "|", "15/8")
    assert "mark_not_kept" in codes(plan)
    kept = sum(1 for p in plan.notes if p.direction is Direction.DOWN)
    assert kept >= 44  # 44 cells are usable: no more downs in a row can exist


def test_pinned_place_and_length_are_kept():
    document = tune_document("A4 B4 C5 D5|")
    note_id = document.part.notes[2].id
    plan = make_plan(
        document.part, document.choices.with_pin(note_id, Pin(start_cell=20, length_cells=12))
    )
    assert plan.steps[2].start == 20
    assert abs(plan.steps[2].end - 20) == 12
    assert "pin_not_kept" not in codes(plan)


def test_a_pin_outside_the_usable_bow_is_refused_with_the_reason():
    document = tune_document("A4 B4 C5 D5|", player="starter")
    choices = document.choices.with_pin(document.part.notes[0].id, Pin(start_cell=0))
    warning = next(
        w for w in warnings_of(make_plan(document.part, choices)) if w.code == "pin_not_kept"
    )
    assert "part of the bow" in warning.text


def test_changed_bars_name_what_moved():
    document = tune_document("A4 B4 C5 D5|" * 4)
    other = plan_of(document.pinned("2.1", "up"))
    assert 2 in changed_bars(plan_of(document), other)
    assert changed_bars(plan_of(document), plan_of(document)) == ()


def test_bars_are_listed_in_runs():
    assert bars_words((3,)) == "bar 3"
    assert bars_words((3, 4)) == "bars 3, 4"
    assert bars_words((0, 1, 2, 3, 7)) == "the pickup and bars 1–3, 7"


@pytest.mark.parametrize("place", ["x", "1.x", "1.1.1.1"])
def test_a_place_that_is_none_is_refused(place):
    with pytest.raises(ChoiceError):
        tune_document("A4*4|").note_at(place)


def test_stages_can_do_more_and_more():
    usable = [stage(s).usable_to - stage(s).usable_from for s in STAGES]
    slurs = [stage(s).slur_notes_n for s in STAGES]
    fastest = [stage(s).fastest_mm_s for s in STAGES]
    slowest = [stage(s).slowest_mm_s for s in STAGES]
    assert usable == sorted(usable)
    assert slurs == sorted(slurs)
    assert fastest == sorted(fastest)
    assert slowest == sorted(slowest, reverse=True)


@pytest.mark.parametrize("data", ["[1]", "{", '{"name": ""}'])
def test_a_player_that_cannot_be_read_is_refused(data):
    with pytest.raises(PlayerError):
        player_from_json(data, "x.json")


def test_a_slower_tempo_takes_no_less_bow():
    """Common practice: the same notes slower need more bow, until the bow runs out."""
    document = tune_document("A4 B4 C5 D5|" * 4)
    lengths = []
    for bpm in (120, 80, 60, 40):
        plan = make_plan(document.part, replace(document.choices, tempo_bpm=bpm))
        lengths.append(sum(s.length_mm for s in plan.strokes))
    assert lengths == sorted(lengths)


@pytest.mark.parametrize("slurs", list(SlurSchool))
def test_dots_under_a_slur_are_not_called_a_slur_that_was_parted(slurs):
    document = tune_document("A4.( B4. C5. D5.)|A4*4")
    plan = plan_of(document.with_choices(document.choices.with_school("slurs", slurs)))
    assert [str(p.join) for p in plan.notes[1:4]] == ["hook"] * 3
    codes = {reason.code for k in range(4) for reason in reasons_for(plan, k)}
    assert "slur_dropped" not in codes
