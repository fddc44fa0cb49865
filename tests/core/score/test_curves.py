"""Tempo and hairpins as the page means them: the words are common practice, the numbers ours."""

from __future__ import annotations

from fractions import Fraction

import pytest

from plectrum.core.errors import ScoreError
from plectrum.core.score.raw import RawDirection
from plectrum.core.score.reading.opening import open_score
from plectrum.core.score.scorefile import read_part
from plectrum.core.score.timeline import _wedges, build_tempo
from tests.tunes import tune_score, tune_xml

USUAL = {
    "Largo": 50, "Lento": 54, "Adagio": 63, "Andante": 80, "Andantino": 86, "Moderato": 96,
    "Allegretto": 108, "Allegro": 126, "Vivace": 144, "Presto": 168, "Slowly": 60, "Gently": 76,
    "Lively": 120, "Fast": 132,
}  # fmt: skip


def words(text: str) -> RawDirection:
    return RawDirection(0, "words", text)


def mark(bpm: float, source: str = "metronome") -> RawDirection:
    return RawDirection(0, "tempo", source, bpm, Fraction(1))


@pytest.mark.parametrize(("word", "bpm"), USUAL.items())
def test_a_tempo_word_at_the_start_sets_the_tempo(word, bpm):
    assert build_tempo([(0.0, words(f"{word} e dolce"))], 16.0).bpm == bpm
    later = build_tempo([(4.0, words(word))], 16.0)
    assert later.bpm == 80
    assert later.segments[-1].start_bpm == bpm


def test_a_mark_goes_before_words_and_before_the_sound_beside_it():
    """A program's own number at the same place repeats the mark; elsewhere it counts."""
    found = build_tempo([(0.0, words("Presto")), (0.0, mark(72)), (0.0, mark(90, "sound"))], 8.0)
    assert found.bpm == 72
    assert found.written
    assert build_tempo([(0.0, mark(72)), (0.0, mark(60))], 8.0).segments[-1].start_bpm == 60
    later = build_tempo([(0.0, mark(72)), (4.0, mark(90, "sound"))], 8.0)
    assert [s.start_bpm for s in later.segments] == [72, 90]


def levels(music: str) -> list[float]:
    return [n.level_db for n in read_part(tune_score(music), "P1").notes]


def test_a_hairpin_grows_to_what_follows_and_ends_where_it_is_closed():
    """From p (-8 dB) to f (4 dB) in four beats, each note by its middle; then it stays."""
    grown = levels("[p] [<] A4 B4 C#5 D5 [x]|[f] E5 F#5 G5 A5")
    assert grown[:4] == pytest.approx([-6.5, -3.5, -0.5, 2.5])
    assert grown[4:] == [4.0] * 4
    still = levels("[p] A4 B4 C#5 D5|[f] E5 F#5 G5 A5")
    assert still == [-8.0] * 4 + [4.0] * 4


def test_a_new_hairpin_ends_the_one_before():
    """Without an end of its own the first lasts up to the second, which falls."""
    found = levels("[mf] [<] A4 B4 [>] C#5 D5 [x]|[p] E5*4")
    assert found[1] > found[0]
    assert found[3] < found[2]
    assert found[4] == -8.0


def wedge(value: str) -> RawDirection:
    return RawDirection(0, "wedge", value)


def test_only_its_own_end_closes_a_hairpin():
    """What goes on, or ends something else, does not."""
    for between in (wedge("continue"), RawDirection(0, "dashes", "stop")):
        marks = [(0.0, wedge("crescendo")), (2.0, between), (4.0, wedge("stop"))]
        assert _wedges(marks, [], 16.0) == [(0.0, 4.0, True)]


def test_a_word_lasts_up_to_the_hairpin_after_it():
    marks = [(0.0, words("cresc.")), (2.0, wedge("diminuendo")), (4.0, wedge("stop"))]
    assert _wedges(marks, [(8.0, 4.0)], 16.0) == [(0.0, 2.0, True), (2.0, 4.0, False)]
    both = [(0.0, words("cresc.")), (0.0, wedge("crescendo")), (4.0, wedge("stop"))]
    assert _wedges(both, [(8.0, 4.0)], 16.0) == [(0.0, 8.0, True)]


@pytest.mark.parametrize("octave", ["-2", "11"])
def test_a_pitch_that_cannot_be_is_refused(octave):
    broken = tune_xml("A4 B4").replace(
        b"<octave>4</octave>", f"<octave>{octave}</octave>".encode(), 1
    )
    with pytest.raises(ScoreError, match="bar 1"):
        open_score(broken, "odd.musicxml")


@pytest.mark.parametrize(("program", "instrument"), [(41, "violin"), (42, "viola"), (43, "cello")])
def test_a_part_without_a_name_is_told_by_its_midi_program(program, instrument):
    sound = f"<midi-instrument id='I1'><midi-program>{program}</midi-program></midi-instrument>"
    head = f"<part-name></part-name>{sound}"
    xml = tune_xml("G4 A4").replace(b"<part-name>Violin</part-name>", head.encode())
    assert open_score(xml, "x.musicxml").parts[0].instrument == instrument
