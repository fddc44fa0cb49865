"""Some bars as a score of their own: the same notes, valid, with what goes on from before."""

from __future__ import annotations

import pytest

from plectrum.core.score.reading.opening import open_score
from plectrum.core.score.scorefile import read_part
from plectrum.core.score.writing.excerpt import excerpt
from plectrum.demo import demo_paths
from tests.core.score.test_second_readers import QUARTETS, quartet
from tests.musicxml_schema import faults
from tests.tunes import tune_xml


def sounds(part, first: int, last: int) -> list[tuple]:
    return [
        (n.onset_q - part.bars[first].onset_q, n.duration_q, n.pitches, n.slurred)
        for n in part.notes
        if first <= n.bar_index <= last
    ]


@pytest.mark.parametrize("bars", [(0, 0), (1, 3), (4, 9), (7, 15)])
@pytest.mark.parametrize("path", demo_paths(), ids=lambda p: p.stem)
def test_bars_of_the_demo_pieces(path, bars):
    score = open_score(path.read_bytes(), path.name)
    part = read_part(score, "P1")
    xml = excerpt(score.xml, "P1", *bars)
    assert faults(xml) == []
    again = read_part(open_score(xml, "excerpt"), "P1", part.instrument)
    assert len(again.bars) == bars[1] - bars[0] + 1
    mine, theirs = sounds(again, 0, len(again.bars) - 1), sounds(part, *bars)
    assert [row[:3] for row in mine] == [row[:3] for row in theirs]
    assert [row[3] for row in mine[1:]] == [row[3] for row in theirs[1:]]
    assert again.tempo.bpm == part.tempo.bpm
    assert again.bars[0].metre == part.bars[bars[0]].metre


def test_an_inner_part_of_a_quartet():
    score = open_score(quartet(QUARTETS[1]).read_bytes(), "quartet")
    info = score.parts[2]
    part = read_part(score, info.id)
    again = read_part(open_score(excerpt(score.xml, info.id, 5, 8), "x"), info.id, "viola")
    assert [r[:3] for r in sounds(again, 0, 3)] == [r[:3] for r in sounds(part, 5, 8)]


def test_what_begins_or_ends_outside_is_left_out():
    tune = tune_xml("D4( E4 F#4 G4) | A4( B4 C#5 D5~ | D5 C#5) B4 A4( | G4 F#4) E4 D4")
    inner = excerpt(tune, "P1", 2, 2)
    assert b"<slur" not in inner
    assert b"<tie" not in inner
    whole = excerpt(tune, "P1", 1, 3)
    assert whole.count(b"<slur") == 4
    assert whole.count(b"<tie ") == 2
