"""Places and amounts of bow in a teacher's words: what they mean, that they are kept, and where
they cannot be."""

from __future__ import annotations

import itertools
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from plectrum.core.advice.warnings import warnings_of
from plectrum.core.document.choices import Join, Pin
from plectrum.core.document.document import Document
from plectrum.core.document.places import (
    AMOUNTS,
    REGIONS,
    SERIES,
    STARTS,
    STAY,
    WHOLE,
    WORDS,
    check_word,
    for_notes,
    for_strokes,
    said,
    span_of,
    words_of,
)
from plectrum.core.errors import ChoiceError
from plectrum.core.files.planfile import document_bytes, document_from_bytes
from plectrum.core.instrument.bow import Bow
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.planning.parallels import notes_like
from plectrum.core.planning.plan import held_at
from plectrum.core.player.player import stage
from plectrum.core.score.model import Direction
from tests.tunes import tune_document

TUNE = "D4 E4 F#4 G4|A4 B4 C#5 D5|D5*1/2 C#5*1/2 B4*1/2 A4*1/2 G4 F#4|E4*2 D4*2|D4 E4 F#4 G4|A4*4"
BOW = Bow.full_size("violin")
ALL = (0.0, 1.0)


def document(music: str = TUNE, player: str = "growing") -> Document:
    made = tune_document(music)
    return made.with_choices(replace(made.choices, player=stage(player)))


def strokes(plan, bar: int) -> list[tuple[float, float]]:
    """Start and end of the strokes of a bar, in fractions of the hair."""
    return [(p.start, p.end) for p in plan.notes if p is not None and p.note.bar == bar]


def test_the_words_of_the_trade_have_their_meaning():
    """Halves, quarters and marks of the bow: common practice, no source."""
    assert span_of("upper-half", None, BOW, ALL)[2:4] == (0.5, 1.0)
    assert span_of("lower-half", None, BOW, (0.1, 0.9))[2:4] == (0.1, 0.5)
    assert span_of("middle", None, BOW, ALL)[2:4] == (0.25, 0.75)
    assert span_of("frog", None, BOW, (0.1, 0.9)).start == 0.1
    assert span_of("tip", None, BOW, (0.1, 0.9)).start == 0.9
    assert span_of("balance", None, BOW, ALL).start == BOW.balance
    assert span_of("quarter mark..middle", None, BOW, ALL)[:2] == (0.25, 0.5)
    assert span_of(WHOLE, None, BOW, (0.1, 0.9)).length == pytest.approx(0.8)
    assert span_of("upper-half", "much", BOW, ALL).length == 0.5
    assert span_of(None, "growing 2/4", BOW, ALL).length == 0.5
    assert span_of(None, "shrinking 1/4", BOW, ALL).length == 1.0


def test_every_word_is_known_and_has_words():
    assert set(WORDS) == {WHOLE, *REGIONS, *STARTS, STAY, *AMOUNTS, *SERIES}
    for word in (set(WORDS) - set(SERIES)) | {"growing 1/3", "frog..tip"}:
        assert check_word(word) == word
        assert words_of(word)
    for word in ("", "Upper", "growing", "growing 4/3", "growing 0/3", "x" * 200 + ".."):
        with pytest.raises(ValueError, match="no such place"):
            check_word(word)


def test_a_place_the_player_does_not_use_is_refused_with_the_reason():
    with pytest.raises(ChoiceError, match="does not use the upper half"):
        span_of("upper-half", None, BOW, (0.0, 0.5))
    with pytest.raises(ChoiceError, match="no mark 'blue'") as refused:
        span_of("blue..tip", None, BOW, ALL)
    assert "quarter mark" in refused.value.remedy


@pytest.mark.parametrize(("word", "low", "high"), [(w, *r) for w, r in REGIONS.items()])
def test_strokes_lie_where_they_are_told(word, low, high):
    plan = plan_of(document().placed("1-2", word))
    for start, end in strokes(plan, 1) + strokes(plan, 2):
        assert low - 1e-9 <= min(start, end) < max(start, end) <= high + 1e-9
    assert not [w for w in warnings_of(plan) if w.code == "place_not_kept"]


def test_lower_half_then_upper_half_comes_with_what_the_bow_needs_between():
    plan = plan_of(document().placed("1", "lower-half").placed("2", "upper-half"))
    assert all(max(s) <= 0.5 for s in strokes(plan, 1))
    assert all(min(s) >= 0.5 for s in strokes(plan, 2))


def test_starts_marks_and_amounts():
    plan = plan_of(document().placed("4", "frog"))
    usable = plan.choices.player.usable_from
    assert strokes(plan, 4)[0][0] == pytest.approx(usable, abs=1 / 48)
    plan = plan_of(document().placed("6", "frog..tip"))
    start, end = strokes(plan, 6)[0]
    assert start < 0.1
    assert end > 0.9
    assert plan.notes[-1].direction is Direction.DOWN
    for word, share in (("quarter", 0.25), ("half", 0.5)):
        plan = plan_of(document().placed("1", word))
        assert all(abs(e - s) == pytest.approx(share, abs=1e-6) for s, e in strokes(plan, 1))


def test_growing_and_shrinking_go_by_even_steps():
    plan = plan_of(document().placed("5", "growing"))
    lengths = [abs(e - s) for s, e in strokes(plan, 5)]
    assert lengths == sorted(lengths)
    steps = [b - a for a, b in itertools.pairwise(lengths)]
    assert max(steps) - min(steps) <= 1.5 / 48
    shrinking = plan_of(document().placed("5", "shrinking"))
    assert [abs(e - s) for s, e in strokes(shrinking, 5)] == pytest.approx(lengths[::-1])


def test_stay_keeps_short_notes_where_the_long_one_ended():
    plan = plan_of(document("A4*2 B4*1/2 C5*1/2 B4*1/2 A4*1/2|A4*4").placed("1", "stay"))
    (_, ended), *short = strokes(plan, 1)
    for start, end in short:
        assert abs(start - ended) <= 3.01 / 48
        assert abs(end - start) == pytest.approx(1 / 16)


SLURRED = "D4( E4 F#4 G4)|A4*4|A4*2( B4*2)|G4*4"


def test_an_amount_said_of_one_note_of_a_slur_is_that_notes():
    plain = plan_of(document(SLURRED))
    for where in ("1.1", "1.2", "1.4"):
        plan = plan_of(document(SLURRED).placed(where, "half"))
        at = int(where[2]) - 1
        lengths = [abs(e - s) for s, e in strokes(plan, 1)]
        assert lengths[at] == pytest.approx(0.5, abs=1 / 24)
        others = lengths[:at] + lengths[at + 1 :]
        assert max(others) == pytest.approx(min(others), rel=0.01)  # equal notes share alike
        assert [p.direction for p in plan.notes] == [p.direction for p in plain.notes]
        for (_, ended), (begins, _) in itertools.pairwise(strokes(plan, 1)):
            assert begins == pytest.approx(ended)
    quarter = plan_of(document(SLURRED).placed("3.1-3.3", "half"))
    assert abs(strokes(quarter, 3)[-1][1] - strokes(quarter, 3)[0][0]) == pytest.approx(0.5)


def test_a_place_said_of_one_note_of_a_slur_is_that_notes():
    told = document(SLURRED).placed("1.3", "lower-half")
    plan = plan_of(told)
    start, end = strokes(plan, 1)[2]
    assert max(start, end) <= 0.5 + 1.5 / 48
    assert "lower half" in " ".join(plan.choices.pins[plan.part.notes[2].id].words())
    again = document_from_bytes(document_bytes(told), "again.plectrum")
    assert plan_of(again).notes == plan.notes


def test_what_is_said_inside_a_bow_and_does_not_fit_is_said_back():
    told = document(SLURRED)
    for beat in "234":
        told = told.placed(f"1.{beat}", "half")
    assert len([w for w in warnings_of(plan_of(told)) if w.code == "place_not_kept"]) == 3


@settings(max_examples=25, deadline=None)
@given(st.dictionaries(st.integers(0, 5), st.sampled_from([*AMOUNTS, *REGIONS]), max_size=3))
def test_whatever_is_said_inside_bows_the_notes_meet_on_the_bow(words):
    made = document(SLURRED)
    notes = [n for n in made.part.notes if n.bar in (1, 3)]
    pins = {notes[k].id: said(Pin(), *for_notes(w, 1, from_first=k in (0, 4))[0])
            for k, w in words.items()}  # fmt: skip
    plan = plan_of(made.with_choices(made.choices.with_pins(pins)))
    for bar in (1, 3):
        for (_, ended), (begins, _) in itertools.pairwise(strokes(plan, bar)):
            assert begins == pytest.approx(ended)
        assert all(p.length_mm > 0 for p in plan.notes if p is not None)


def test_what_cannot_be_kept_is_said_in_words():
    quick = document("A4*1/4 B4*1/4 A4*1/4 B4*1/4 A4*3")
    plan = plan_of(quick.placed("1.1", "frog..tip").placed("1.1.25", "frog..tip"))
    told = [w for w in warnings_of(plan) if w.code == "place_not_kept"]
    assert told
    assert "from frog to tip" in told[0].text
    assert "leaves the bow elsewhere" in told[0].text or "time does not allow" in told[0].text
    starter = plan_of(document(player="starter").placed("1", "tip..frog"))
    low, high = starter.choices.player.usable_from, starter.choices.player.usable_to
    assert all(low - 1e-6 <= min(s) and max(s) <= high + 1e-6 for s in strokes(starter, 1))


def test_places_survive_other_edits_other_tempos_and_are_fitted_to_other_players():
    """The meaning is kept, not the cells: the starter's upper half is a smaller one."""
    told = document().placed("1", "upper-half")
    edited = told.pinned("3.1", "up").placed("4", "whole")
    slower = edited.with_choices(replace(edited.choices, tempo_bpm=50.0))
    other = slower.with_choices(replace(slower.choices, player=stage("steady")))
    for changed in (edited, slower, other):
        plan = plan_of(changed)
        assert all(min(s) >= 0.5 - 1e-9 for s in strokes(plan, 1))
    again = document_from_bytes(document_bytes(told), "x")
    assert again.choices == told.choices
    assert plan_of(again).steps == plan_of(told).steps


def test_a_later_word_takes_the_place_of_an_earlier_one():
    pin = said(Pin(start_cell=3, length_cells=9), "upper-half", None)
    assert (pin.place, pin.start_cell, pin.length_cells) == ("upper-half", None, 9)
    pin = said(pin, None, "half")
    assert (pin.place, pin.amount, pin.length_cells) == ("upper-half", "half", None)
    assert said(pin, WHOLE, None).amount is None


def test_words_become_a_place_for_each_stroke():
    assert for_strokes("frog", 3) == [("frog", None), (None, None), (None, None)]
    assert for_strokes("growing", 2) == [(None, "growing 1/2"), (None, "growing 2/2")]
    assert for_strokes("stay", 2) == [(None, None), (None, "stay")]
    assert for_strokes("upper-half", 2) == [("upper-half", None)] * 2


def test_equal_bars_and_the_same_fingers_on_other_strings_are_alike():
    """D E F# G on the D string, A B C# D on the A string: 0 1 2 3 on both; bar 5 is as bar 1."""
    plan = plan_of(document())
    alike = notes_like(plan, range(4))
    assert [[plan.part.notes[i].bar for i in place] for place in alike] == [[2] * 4, [5] * 4]
    assert notes_like(plan, [1]) == [(5,), (alike[1][1],)]
    assert notes_like(plan, [len(plan.notes) - 1]) == []


@given(
    st.lists(
        st.tuples(st.sampled_from(["1", "2", "3.1-3.2", "5"]), st.sampled_from(sorted(WORDS))),
        min_size=1, max_size=4,
    )
)  # fmt: skip
@settings(max_examples=40, deadline=None)
def test_a_place_once_said_holds_or_is_reported(orders):
    told = document()
    for where, word in orders:
        told = told.placed(where, word)
    plan = plan_of(told)
    reported = {w.note for w in warnings_of(plan) if w.code == "place_not_kept"}
    reported |= {n for w in warnings_of(plan) if w.code == "place_not_kept" for n in w.notes}
    for planned in plan.notes:
        if planned is None or planned.note.index in reported:
            continue
        held = held_at(plan, planned.note.index)
        low, high = sorted((planned.start * 48, planned.end * 48))
        assert held.low is None or low >= held.low - 1e-6
        assert held.high is None or high <= held.high + 1e-6
        assert held.length is None or abs(high - low - held.length) < 1e-6


def test_nonsense_on_the_command_line_is_refused():
    for where, word in (("x", "half"), ("99", "half"), ("1", "upside-down"), ("1.x", "half")):
        with pytest.raises(ChoiceError):
            document().placed(where, word)


@pytest.mark.parametrize(("word", "way"), [("growing", 1), ("shrinking", -1)])
def test_growing_within_a_slur_is_how_its_notes_share_it(word, way):
    document = tune_document("A4( B4 C#5 D5)|E5*4")
    plan = plan_of(document.placed("1", word))
    lengths = [p.length_mm for p in plan.notes[:4] if p is not None]
    assert lengths == sorted(lengths, reverse=way < 0)
    assert max(lengths) == pytest.approx(4 * min(lengths))
    assert not [w for w in warnings_of(plan) if w.code == "place_not_kept"]
    before = plan_of(document)
    assert plan.steps[1].direction == before.steps[1].direction


_PARTS = ("D4 E4 F#4 G4", "A4*3/2 B4*1/2 C#5 D5", "D4( E4) F#4 r", "G4*2 E4*2")
_CORRECTIONS = st.sampled_from(
    [Pin(direction=Direction.UP), Pin(direction=Direction.DOWN), Pin(join=Join.HOOK),
     Pin(join=Join.TURN), Pin(place="upper-half"), Pin(amount="little"), Pin(lane=2)]
)  # fmt: skip


@settings(max_examples=40, deadline=None)
@given(
    st.lists(st.integers(0, len(_PARTS) - 1), min_size=4, max_size=8),
    st.integers(0, 3),
    st.integers(0, 3),
    _CORRECTIONS,
)
def test_equal_bars_are_equal_after_any_correction(bars, bar, beat, pin):
    """What is said in one bar is meant in all that are alike; where it then cannot be the same,
    that is reported."""
    document = tune_document("|".join(_PARTS[k] for k in bars))
    plan = plan_of(document)
    inside = [n for n in document.part.notes if n.bar_index == bar and not n.slurred]
    note = inside[min(beat, len(inside) - 1)]
    if note.index == 0 and pin.join is not None:
        return
    places = [(note.index,), *notes_like(plan, [note.index])]
    notes = [document.part.notes[i] for place in places for i in place]
    corrected = plan_of(
        document.with_choices(document.choices.with_pins({n.id: pin for n in notes}))
    )
    reported = {w.note for w in warnings_of(corrected)
                if w.code in ("pin_not_kept", "place_not_kept")}  # fmt: skip
    for other in notes:
        planned = corrected.notes[other.index]
        assert planned is not None
        if other.index in reported:
            continue
        assert pin.direction in (None, planned.direction)
        assert pin.join in (None, planned.join) or other.index == 0
        assert pin.place is None or min(planned.start, planned.end) >= 0.5 - 1e-6
        assert pin.amount is None or abs(planned.end - planned.start) <= 1 / 8 + 1 / 48
