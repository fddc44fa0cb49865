"""Music written from scratch: what is said comes back, in full bars, for us and for music21."""

from __future__ import annotations

from fractions import Fraction
from itertools import pairwise

import music21
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from plectrum.core.errors import ScoreError
from plectrum.core.score.model import Articulation, Direction, Metre, Pitch
from plectrum.core.score.scorefile import read_part
from plectrum.core.score.writing.sheet import SheetBar, SheetNote, SheetPart, write_sheet

FOUR = Metre((4,), 4)
LENGTHS = [Fraction(1, 4), Fraction(1, 3), Fraction(1, 2), Fraction(3, 4), Fraction(1),
           Fraction(3, 2), Fraction(2), Fraction(3), Fraction(5)]  # fmt: skip


def _bars(count: int, metre: Metre = FOUR) -> tuple[SheetBar, ...]:
    return tuple(SheetBar(k + 1, metre, metre.length_q) for k in range(count))


def _note(k: int, onset_q: Fraction, length_q: Fraction, **signs: object) -> SheetNote:
    return SheetNote(f"s{k}", onset_q, length_q, (Pitch("A", 0, 4),), **signs)  # type: ignore[arg-type]


@st.composite
def _lines(draw: st.DrawFn) -> list[SheetNote]:
    """Notes of all lengths one after another, with gaps on the beat."""
    notes, at_q = [], Fraction(0)
    for k in range(draw(st.integers(1, 14))):
        length_q = draw(st.sampled_from(LENGTHS))
        if length_q == Fraction(1, 3):  # a triplet comes whole
            for part in range(3):
                notes.append(_note(10 * k + part, at_q, length_q))
                at_q += length_q
        else:
            notes.append(_note(10 * k, at_q, length_q))
            at_q += length_q
        if at_q.denominator == 1 and draw(st.integers(0, 3)) == 0:
            at_q += 1
    return notes


@settings(max_examples=60, deadline=None)
@given(_lines())
def test_notes_come_back_as_they_were_said(notes):
    """Onsets, lengths, ids and pitches; every bar is full for us and for music21."""
    bars = _bars(-(-int(notes[-1].end_q + 3) // 4))
    score = write_sheet("Line", [SheetPart("Violin", "violin", bars, tuple(notes))], 80)
    part = read_part(score, "P1")
    assert [(n.id, n.onset_q, n.duration_q) for n in part.notes] == [
        (n.id, n.onset_q, n.duration_q) for n in notes
    ]
    assert {b.duration_q for b in part.bars} == {Fraction(4)}
    other = music21.converter.parseData(score.xml, format="musicxml")
    measures = list(other.parts[0].getElementsByClass("Measure"))
    assert len(measures) == len(bars)
    assert all(m.duration.quarterLength == 4 for m in measures)


def test_everything_hung_on_a_note_comes_back():
    notes = (
        _note(1, Fraction(0), Fraction(1), mark=Direction.DOWN, slur_starts=True, dynamic="p",
              wedge="crescendo", finger="1", string=2, lyric="down"),
        _note(2, Fraction(1), Fraction(1), slur_stops=True,
              articulations=frozenset({Articulation.ACCENT})),
        _note(3, Fraction(2), Fraction(2), mark=Direction.UP, dynamic="f", wedge="stop", head="x"),
    )  # fmt: skip
    score = write_sheet("Signs", [SheetPart("Violin", "violin", _bars(1), notes)], 72)
    part = read_part(score, "P1")
    first, second, third = part.notes
    assert (first.mark, second.slurred, third.mark) == (Direction.DOWN, True, Direction.UP)
    assert (first.dynamic, third.dynamic) == ("p", "f")
    assert first.level_db < second.level_db < third.level_db
    assert first.fingerings == ("1",)
    assert first.strings == (2,)
    assert Articulation.ACCENT in second.articulations
    assert part.tempo.bpm == 72
    assert b"<text>down</text>" in score.xml
    assert b"<notehead>x</notehead>" in score.xml


def test_a_hairpin_left_open_is_closed_at_the_end():
    notes = (_note(1, Fraction(0), Fraction(2), dynamic="p", wedge="crescendo"),
             _note(2, Fraction(2), Fraction(2)))  # fmt: skip
    score = write_sheet("Open", [SheetPart("Violin", "violin", _bars(1), notes)], 60)
    assert score.xml.count(b'<wedge type="stop"') == 1


def test_a_pickup_is_short_and_keys_and_metres_change_where_they_do():
    bars = (
        SheetBar(0, FOUR, Fraction(1), fifths=2, pad_q=Fraction(3)),
        SheetBar(1, FOUR, Fraction(4), fifths=2),
        SheetBar(2, Metre((3,), 4), Fraction(3), fifths=-1),
    )
    notes = tuple(_note(k, Fraction(k), Fraction(1)) for k in range(8))
    score = write_sheet("Changes", [SheetPart("Cello", "cello", bars, notes)], 60)
    part = read_part(score, "P1")
    assert [b.number for b in part.bars] == [0, 1, 2]
    assert part.bars[0].pad_q == 3
    assert str(part.bars[2].metre) == "3/4"
    assert score.xml.count(b"<fifths>") == 2
    assert part.instrument == "cello"


def test_the_bass_sounds_an_octave_lower_than_written():
    note = SheetNote("b1", Fraction(0), Fraction(4), (Pitch("E", 0, 2, -12),))
    score = write_sheet("Low", [SheetPart("Bass", "bass", _bars(1), (note,))], 60)
    assert read_part(score, "P1").notes[0].pitches[0].midi == 28  # E1 sounds


def test_quintuplets_are_written_and_odd_lengths_refused():
    fifth = Fraction(1, 5)
    five = tuple(_note(k, fifth * k, fifth) for k in range(5))
    part = SheetPart("Violin", "violin", _bars(1), five)
    back = read_part(write_sheet("Five", [part], 60), "P1")
    assert [n.onset_q for n in back.notes] == [fifth * k for k in range(5)]
    odd = SheetPart("Violin", "violin", _bars(1), (_note(1, Fraction(0), Fraction(1, 11)),))
    with pytest.raises(ScoreError, match="no note values last"):
        write_sheet("Odd", [odd], 60)


def test_two_parts_sound_together():
    line = tuple(_note(k, Fraction(k), Fraction(1)) for k in range(4))
    low = (SheetNote("v1", Fraction(0), Fraction(4), (Pitch("C", 0, 3),)),)
    parts = [
        SheetPart("Violin", "violin", _bars(1), line),
        SheetPart("Viola", "viola", _bars(1), low),
    ]
    score = write_sheet("Duet", parts, 60)
    assert [p.instrument for p in score.parts] == ["violin", "viola"]
    assert all(a.end_q == b.onset_q for a, b in pairwise(read_part(score, "P1").notes))
