"""Turns, clicks and notes of a performance, and the plan at other tempos."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from plectrum.core.document.choices import Join
from plectrum.core.document.document import Document
from plectrum.core.files.opening import open_document_path
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.planning.plan import Plan
from plectrum.core.player.school import RestSchool
from plectrum.core.playing.cards import CardStream, stroke_cards
from plectrum.core.playing.performance import Kind, Performance, Rehearsal
from plectrum.core.playing.practice_tempo import Verdict, at_tempo
from plectrum.core.score.reading.opening import open_score
from plectrum.demo import demo_paths
from tests.core.planning.strategies import players, schools, tunes
from tests.tunes import tune_document, tune_plan, tune_xml

EXAMPLES = settings(max_examples=30, deadline=None)
SCALE = "D4 E4 F#4 G4|A4 B4 A4 G4|F#4 E4 D4 E4|D4*4"


def test_one_bar_is_counted_first_and_the_beats_are_even():
    """At 80 quarters a minute a beat lasts 0.75 s; four are counted, the first of them strong."""
    performance = Performance(tune_plan(SCALE, bpm=80))
    assert performance.music_s == pytest.approx(4 * 0.75)
    counted = [b for b in performance.beats if b.count_in]
    assert [b.strong for b in counted] == [True, False, False, False]
    assert [b.at_s for b in performance.beats] == pytest.approx([0.75 * k for k in range(20)])
    assert sum(b.strong for b in performance.beats) == 5
    assert performance.notes[0].onset_s == pytest.approx(3.0)


def test_a_pickup_is_counted_into_with_the_rest_of_its_bar():
    plan = tune_plan("A4|D4 E4 F#4 G4|A4*3", pickup=True)
    performance = Performance(plan)
    assert [b.strong for b in performance.beats if b.count_in] == [True, False, False]
    strong = [b.at_s for b in performance.beats if b.strong and not b.count_in]
    assert strong[0] == pytest.approx(performance.notes[1].onset_s)


def test_from_the_middle_of_a_bar_a_whole_bar_and_its_first_beats_are_counted():
    performance = Performance(tune_plan(SCALE), Rehearsal(from_q=Fraction(3)))
    assert performance.notes[0].note.bar == 1
    assert len([b for b in performance.beats if b.count_in]) == 3
    performance = Performance(tune_plan(SCALE), Rehearsal(from_q=Fraction(1)))
    assert len([b for b in performance.beats if b.count_in]) == 5


def test_a_stretch_is_played_and_nothing_else():
    performance = Performance(tune_plan(SCALE), Rehearsal(Fraction(4), Fraction(8)))
    assert [p.note.bar for p in performance.notes] == [2, 2, 2, 2]
    with pytest.raises(ValueError, match="no notes"):
        Performance(tune_plan(SCALE), Rehearsal(Fraction(15), Fraction(16)))


def test_a_loop_takes_whole_beats_and_leaves_time_to_carry_the_bow():
    plan = tune_plan(SCALE)
    performance = Performance(plan, Rehearsal(Fraction(0), Fraction(5), loop=True))
    first, last = performance.notes[0], performance.notes[-1]
    beats = (performance.length_s - performance.music_s) / performance.beat_s(first.note)
    assert beats == pytest.approx(round(beats))
    free_s = performance.length_s - last.moved_s
    assert last.end != first.start
    assert free_s >= performance.carry_s(last.end, first.start) - 1e-9
    period_s = performance.length_s - performance.music_s
    for k in (1, 5, 500):
        later = performance.music_s + 0.3 + k * period_s
        assert performance.fold(later) == pytest.approx(performance.music_s + 0.3, abs=1e-6)


def test_without_a_loop_time_ends():
    performance = Performance(tune_plan(SCALE))
    assert performance.ends
    assert performance.fold(1e6) == performance.length_s


def test_after_each_section_there_is_a_pause_of_the_same_length():
    sections = (Fraction(8),)
    performance = Performance(tune_plan(SCALE), Rehearsal(answer=True, sections=sections))
    assert [t.answering for t in performance.turns] == [False, True, False, True]
    assert [(t.first, t.last) for t in performance.turns] == [(0, 7), (0, 7), (8, 12), (8, 12)]
    for own, answer in zip(performance.turns[::2], performance.turns[1::2], strict=True):
        assert own.end_s == answer.start_s
        assert answer.end_s - answer.start_s >= own.end_s - own.start_s - 0.76


def test_open_strings_and_bow_only():
    """The same bow on open strings, and on the one that is used most."""
    plan = tune_plan("D4 E4 A4 B4|E5 E4 D4 E4|D4*4")
    written = Performance(plan)
    opened = Performance(plan, Rehearsal(kind=Kind.OPEN))
    alone = Performance(plan, Rehearsal(kind=Kind.ONE))
    assert [p.strings[0][1] for p in written.notes[:4]] == [62, 64, 69, 71]
    assert [p.strings[0][1] for p in opened.notes[:4]] == [62, 62, 69, 69]
    assert {p.strings for p in alone.notes} == {((1, 62),)}
    assert {p.level for p in alone.notes} == {3}
    for a, b in zip(written.notes, alone.notes, strict=True):
        assert (a.start, a.end, a.onset_s, a.moving_s) == (b.start, b.end, b.onset_s, b.moving_s)


def test_plucked_and_silent_take_no_bow():
    for kind in (Kind.PLUCKED, Kind.SILENT):
        performance = Performance(tune_plan(SCALE), Rehearsal(kind=kind))
        assert not performance.bows
        assert all(p.planned is None for p in performance.notes)
        assert len({p.level for p in performance.notes}) > 1


def test_a_lift_without_a_rest_takes_its_time_from_the_note_before():
    """What the plan reckons with: the note before a lift is played in less time."""
    document = open_document_path(demo_paths()[3])
    plan = plan_of(document.with_choices(document.choices.with_school("rests", RestSchool.LIFT)))
    performance = Performance(plan)
    lifted = [k for k, p in enumerate(performance.notes) if p.join is Join.RETAKE]
    for k in lifted:
        a, b = performance.notes[k - 1], performance.notes[k]
        free_s = b.onset_s - a.moved_s
        assert free_s > 0
        assert free_s >= min(performance.carry_s(a.end, b.start), 0.6 * a.planned.moving_s) - 1e-9
    assert lifted, "the tune asks for lifts"


@EXAMPLES
@given(tunes(), players(), schools(), st.floats(0.3, 1.2), st.booleans())
def test_notes_turns_and_beats_are_in_order(music, player, school, ratio, loop):
    plan = tune_plan(music, player=player, school=school)
    performance = Performance(plan, Rehearsal(ratio=ratio, loop=loop))
    for a, b in pairwise(performance.notes):
        assert b.onset_s >= a.onset_s
        assert a.moved_s <= b.onset_s + 1e-9
    for a, b in pairwise(performance.beats):
        assert b.at_s > a.at_s
    assert performance.length_s >= performance.notes[-1].end_s - 1e-9
    zero_s = performance.notes[0].onset_s - plan.part.notes[0].onset_s / ratio
    for played, note in zip(performance.notes, plan.part.notes, strict=True):
        assert played.onset_s == pytest.approx(zero_s + note.onset_s / ratio)


# other tempos


def test_inside_its_window_a_plan_keeps_every_place():
    plan = tune_plan(SCALE)
    slow, fast = (bpm / plan.part.tempo.bpm for bpm in plan.tempo_window)
    for ratio in (max(0.3, slow + 0.01), 1.0, min(1.2, fast - 0.01)):
        practised = at_tempo(plan, ratio)
        assert practised.verdict is Verdict.SAME
        assert practised.plan is plan


def test_below_its_window_a_plan_is_made_anew_and_bears_that_tempo():
    plan = tune_plan(SCALE, bpm=80)
    ratio = 0.9 * plan.tempo_window[0] / 80
    assert ratio > 0.3
    practised = at_tempo(plan, ratio)
    assert practised.verdict is Verdict.ADAPTED
    assert practised.plan.part.tempo.bpm == pytest.approx(80 * ratio)
    assert "other bow in" in practised.text
    low, high = practised.plan.tempo_window
    assert low - 0.1 <= 80 * ratio <= high + 0.1


def test_what_cannot_be_is_said_with_its_bars():
    """A slur that fills the bow cannot be played at a third of its tempo."""
    plan = tune_plan("D4*2( E4*2 F#4*2 G4*2)|D4*4", "8/4", bpm=60)
    practised = at_tempo(plan, 0.3)
    assert practised.verdict is Verdict.BEYOND
    assert 1 in practised.bars
    assert "too slow to last" in practised.text


def test_a_player_too_slow_for_a_tempo_is_told_so():
    document = tune_document(SCALE, bpm=100, school="flow")
    fastest = max(p.speed_mm_s for p in plan_of(document).notes)
    held = replace(document.choices.player, fastest_mm_s=fastest * 1.02)
    plan = plan_of(document.with_choices(replace(document.choices, player=held)))
    assert plan.tempo_window[1] < 120
    practised = at_tempo(plan, 1.2)
    hurried = max(p.speed_mm_s for p in practised.plan.notes) * practised.ratio
    assert practised.verdict is Verdict.BEYOND or hurried <= held.fastest_mm_s * 1.001


# cards


def test_cards_say_what_the_hand_does():
    plan = tune_plan("D4u E4( F#4) A4|E5*2 r E5|D4*4")
    cards = stroke_cards(Performance(plan))
    assert cards[0].action == "up"
    assert cards[1].notes_n == 2
    assert cards[1].beats == pytest.approx(2.0)
    assert [c.strings for c in cards[:3]] == ["D", "D", "A"]
    assert all(c.amount and c.goal for c in cards)


def test_a_slur_over_strings_names_them_in_order():
    cards = stroke_cards(Performance(tune_plan("D4( B4 D4) B4|D4*4")))
    assert cards[0].levels == (3, 5, 3)
    assert cards[0].strings == "D–A–D"


@EXAMPLES
@given(tunes(), players(), st.floats(0.0, 1.0))
def test_cards_come_in_time(music, player, share):
    """The card played has begun, the next have not, and they are in order; loops go round."""
    performance = Performance(tune_plan(music, player=player), Rehearsal(loop=True))
    stream = CardStream(performance)
    at_s = performance.music_s + share * 3 * (performance.length_s - performance.music_s)
    coming = stream.upcoming(at_s, 6)
    assert len(coming) == 6
    waits = [seconds for _, seconds in coming]
    assert waits[0] <= 1e-6
    assert all(b >= a for a, b in pairwise(waits))
    assert all(wait >= -1e-6 for wait in waits[1:])


# repeats

REPEATED = "D4 E4 F#4 G4|A4*2 A4*2|A4 G4 F#4 E4|D4*4"


def _repeated(first: int, last: int) -> Plan:
    """The tune with repeat signs round some of its bars, by number."""
    xml = tune_xml(REPEATED, bpm=80).decode()
    start = '<barline location="left"><repeat direction="forward"/></barline>'
    end = '<barline location="right"><repeat direction="backward"/></barline>'
    xml = xml.replace(f'<measure number="{first}">', f'<measure number="{first}">{start}')
    head, tail = xml.split(f'<measure number="{last}">')
    xml = f'{head}<measure number="{last}">' + tail.replace("</measure>", f"{end}</measure>", 1)
    return plan_of(Document.from_score(open_score(xml.encode(), "tune.musicxml")))


def test_repeats_are_played_out_in_time():
    plan = _repeated(1, 2)
    played = Performance(plan)
    assert [p.note.index for p in played.notes] == [*range(6), *range(11)]
    assert [t.time for t in played.turns] == [1, 2, 1]
    bar_s = 4 * 60 / 80
    onsets = [p.onset_s - played.music_s for p in played.notes]
    assert onsets[6] == pytest.approx(2 * bar_s)
    assert played.length_s - played.music_s == pytest.approx(6 * bar_s)
    strong = [b.at_s - played.music_s for b in played.beats if b.strong and not b.count_in]
    assert strong == pytest.approx([bar_s * k for k in range(6)])


def test_the_second_time_has_the_same_bows_as_the_first():
    played = Performance(_repeated(1, 2))
    for a, b in zip(played.notes[:6], played.notes[6:12], strict=True):
        assert (a.start, a.end, a.direction) == (b.start, b.end, b.direction)
    seam = played.notes[6]
    if abs(played.notes[5].end - seam.start) > 1e-6:
        assert seam.join is Join.RETAKE
        lands_s = played.notes[5].moved_s + played.carry_s(played.notes[5].end, seam.start)
        assert lands_s <= seam.onset_s + 1e-9


def test_a_stretch_and_an_answer_are_played_as_written():
    plan = _repeated(1, 2)
    for rehearsal in (
        Rehearsal(from_q=Fraction(4)),
        Rehearsal(answer=True, sections=(Fraction(8),)),
        Rehearsal(repeats=False),
    ):
        assert [t.time for t in Performance(plan, rehearsal).turns if not t.answering][:1] == [1]
        indices = [p.note.index for p in Performance(plan, rehearsal).notes]
        assert indices == sorted(indices) or rehearsal.answer


def test_a_loop_of_a_piece_with_repeats_goes_round_the_whole():
    played = Performance(_repeated(3, 4), Rehearsal(loop=True))
    assert [p.note.index for p in played.notes] == [*range(11), *range(6, 11)]
    assert played.fold(played.length_s + 0.1) == pytest.approx(played.music_s + 0.1)
