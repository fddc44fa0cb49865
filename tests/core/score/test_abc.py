"""ABC goes through the converter in a child process, with a limit on its time."""

from __future__ import annotations

import pytest
from lxml import etree

from plectrum.core.errors import ScoreError
from plectrum.core.score.model import Direction
from plectrum.core.score.reading import abc
from plectrum.core.score.reading.abc import abc_to_musicxml
from plectrum.core.score.reading.abc_book import SeveralTunesError
from plectrum.core.score.reading.abc_text import one_bar_line
from plectrum.core.score.reading.opening import open_score
from plectrum.core.score.scorefile import read_part
from tests.musicxml_schema import schema

TUNE = b"""X:1
T:Gull Step
M:3/4
L:1/4
Q:1/4=90
K:D
uA|!p!d2 vf|(e/d/c) A|!f!d2|]
"""


def test_abc_keeps_bows_slurs_dynamics_tempo_and_pickup():
    score = open_score(TUNE, "gull.abc")
    part = read_part(score, "P1")
    assert score.title == "Gull Step"
    assert part.tempo.bpm == 90
    assert part.notes[0].bar == 0
    assert [part.notes[k].mark for k in (0, 2)] == [Direction.UP, Direction.DOWN]
    assert [n.slurred for n in part.notes[3:6]] == [False, True, True]
    assert part.notes[1].level_db == -8
    assert part.notes[1].pitches[0].name == "D5"
    assert part.notes[2].pitches[0].name == "F#5"


def test_a_converter_that_hangs_is_stopped():
    with pytest.raises(ScoreError, match="within 1 seconds of the processor"):
        abc_to_musicxml(TUNE + b"(3A/B/c/ [CEG] ^d | " * 15000, "slow.abc", cpu_limit_s=1)


def test_a_busy_machine_is_not_the_tunes_fault(monkeypatch):
    monkeypatch.setattr(abc, "PATIENCE_S", 0.01)
    with pytest.raises(ScoreError, match="too busy"):
        abc_to_musicxml(TUNE, "waiting.abc")


def test_abc_without_music_is_a_clear_line():
    with pytest.raises(ScoreError, match=r"cannot be converted|no part|no notes"):
        open_score(b"X:1\nT:Empty\nK:C\n", "empty.abc").part_named(None)


def test_a_tune_that_never_ends_is_refused():
    with pytest.raises(ScoreError, match="too long"):
        open_score(TUNE + b"ABcd|efga|\n" * 40000, "long.abc")


HEAD = "X:1\nT:Two bars and two\nM:4/4\nL:1/4\nK:D\n"


@pytest.mark.parametrize(
    "music",
    [
        "|:ABcd|efga:|\n||ABcd|efga|]\n",
        "ABcd|efga|\n||ABcd|efga|]\n",
        "ABcd|efga||\n||ABcd|efga|]\n",
        "ABcd|efga| % to here\n||ABcd|efga|]\n",
        "ABcd|efga:|\nP:B\n||:ABcd|efga:|\n",
        "ABcd|efga|\n|ABcd|efga|]\n",
        "ABcd|efga:|\n|:ABcd|efga:|\n",
        "ABcd|efga:| |:ABcd|efga |:|\n",
        "ABcd| |efga||||ABcd|efga [|]|]\n",
        'ABcd|efga|ABcd|efga:"^Segno"[|]|]\n',
        'ABcd|efga "_D.C."[|]|]\nABcd|efga "Fine"|[|]|]\n',
    ],
)
def test_a_bar_line_on_both_sides_of_a_line_break_is_one(music):
    """Bars and pitches as a second reader, music21, has them; no bar is empty."""
    from music21 import converter

    part = read_part(open_score((HEAD + music).encode(), "x.abc", "abc"), "P1")
    assert len(part.bars) == 4
    theirs = converter.parseData(HEAD + music, format="abc").flatten().notes
    assert [n.pitches[0].midi for n in part.notes] == [n.pitch.midi for n in theirs]


@pytest.mark.parametrize(
    ("written", "same"),
    [
        ("d>{ed}c d<{f}(e", "d3/2 c1/2 d1/2 e3/2"),
        ("d2>>{e}c/ z", "d7/2 c1/8 z"),
        ("A3>{B}.A", "A9/2 A1/2"),
    ],
)
def test_graces_do_not_part_a_broken_rhythm(abc_here, written, same):
    """As the ABC standard has it (published: 2.1, section 4.4, from memory)."""
    lengths = []
    for music in (written, same):
        text = f"X:1\nT:Graces\nM:4/4\nL:1/4\nK:D\n{music}|]\n"
        part = read_part(open_score(text.encode(), "x.abc", "abc"), "P1", "violin")
        lengths.append([(n.onset_q, n.duration_q) for n in part.notes if not n.grace])
    assert lengths[0] == lengths[1]


@pytest.mark.parametrize("key", ["Hp", "HP"])
def test_the_scale_of_the_pipes_has_two_sharps(abc_here, key):
    text = f"X:1\nT:Pipes\nM:4/4\nL:1/4\nK:{key}\nefga|c'4|]\n"
    part = read_part(open_score(text.encode(), "x.abc", "abc"), "P1", "violin")
    assert [n.pitches[0].name for n in part.notes] == ["E5", "F#5", "G5", "A5", "C#6"]


def test_no_bar_line_is_made_of_texts_chords_or_repeats():
    for music in (
        "[CEG]|[CEG]",
        '"a | | b" c',
        "|1 a :|2 b",
        "[1 a :|[2 b|]",
        "a|[K:D]b",
        "a :|: b",
    ):
        assert one_bar_line(music) == music


def test_voices_and_tunes_keep_their_own_bar_lines():
    text = "X:1\nK:D\nV:1\nABcd|\nV:2\n||ABcd|\n\nX:2\nK:D\n||ABcd|\n"
    assert one_bar_line(text) == text


BOOK = (
    "%%fine\nM:4/4\nL:1/4\n\nX:3\nT:Fog Bell\nK:D\nABcd|efga|]\n\nwords between\n\n"
    "X:7\nT:Net Mender\nK:G\nGABc|d4|]\n\nX:7\nK:C\nCDEF|G4|]\n"
)


def test_a_book_of_tunes_is_never_opened_silently():
    with pytest.raises(SeveralTunesError) as caught:
        open_score(BOOK.encode(), "book.abc")
    assert [t.words for t in caught.value.tunes] == [
        "3. Fog Bell, D", "7. Net Mender, G", "7. without a title, C"
    ]  # fmt: skip
    assert "3 tunes (3. Fog Bell, D; 7. Net Mender, G" in str(caught.value)


@pytest.mark.parametrize(
    ("wanted", "first", "title"),
    [("3", "A4", "Fog Bell"), ("7", "G4", "Net Mender"), ("2", "G4", "Net Mender"),
     ("#3", "C4", "book")],
)  # fmt: skip
def test_a_tune_of_a_book_is_chosen_by_number_or_place(wanted, first, title):
    score = open_score(BOOK.encode(), "book.abc", tune=wanted)
    assert score.title == title
    assert read_part(score, "P1").notes[0].pitches[0].name == first


def test_a_tune_that_is_not_in_the_book_is_said():
    with pytest.raises(ScoreError, match="no tune '9'; it holds 3 tunes"):
        open_score(BOOK.encode(), "book.abc", tune="9")


def test_a_key_with_a_sign_of_its_own_is_valid_musicxml(abc_here):
    """The converter writes a mark of an octave without its number."""
    tune = b"X:1\nT:Ropewalk\nM:C\nL:1/4\nK:Dphr ^F\nDEFG|A4|]\n"
    xml = abc_to_musicxml(tune, "ropewalk.abc")
    assert schema().validate(etree.fromstring(xml)), schema().error_log


def test_what_is_no_letter_in_a_title_is_passed_over():
    """XML cannot hold it, so the tune was refused as a damaged file of another kind."""
    tune = b"X:1\nT:Ro\x1bpe\x07walk \xef\xbf\xbe\nM:C\nL:1/4\nK:D\nDEFG|A4|]\n"
    assert open_score(tune, "ropewalk.abc").title.strip() == "Ropewalk"
