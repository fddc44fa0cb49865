"""The page at a glance, on tunes small enough to check by hand."""

from __future__ import annotations

from plectrum.core.advice.overview import equal_bars, overview_of, tricky_bars
from tests.tunes import tune_plan


def test_range_dynamics_and_longest_note():
    plan = tune_plan("[p] G3 A4 B4 C5|[ff] E5*4|", bpm=60)
    seen = overview_of(plan)
    assert (seen.lowest.name, seen.highest.name) == ("G3", "E5")
    assert (seen.softest, seen.loudest) == ("p", "ff")
    assert (seen.longest_s, seen.longest_note) == (4.0, 4)


def test_finger_pattern_names_low_and_high_fingers():
    """On the A string C natural is the low second finger, C sharp the high one (practice)."""
    low = dict(overview_of(tune_plan("A4 B4 C5 D5|")).fingers)
    assert low["A"] == ("open", "1", "low 2", "3")
    high = dict(overview_of(tune_plan("A4 B4 C#5 D5|")).fingers)
    assert high["A"] == ("open", "1", "high 2", "3")
    cello = overview_of(tune_plan("D3 E3 F#3 G3|", name="Cello", clef="F4"))
    assert dict(cello.fingers)["D"] == ("open", "1", "3", "4")
    bass = overview_of(tune_plan("E2 F2 G2 A2|", name="Double bass", clef="F4"))
    assert dict(bass.fingers)["E"][:2] == ("open", "1 in half position")


def test_equal_bars_must_agree_in_every_note():
    plan = tune_plan("A4 B4 C5 D5|A4 B4 C5 E5|A4 B4 C5 D5|A4( B4) C5 D5|")
    assert equal_bars(plan.part) == ((0, 2),)


def test_tricky_bars_say_why_and_count_equal_bars_once():
    calm = "A4*2 B4*2|"
    hard = "G3*1/4 E5*1/4 G3*1/4 E5*1/4 A4 B4*2|"
    found = tricky_bars(tune_plan(calm + hard + calm + hard))
    assert [t.bar for t in found] == [2]
    assert "a string is skipped" in found[0].reasons
    assert "quick notes" in found[0].reasons
    assert tricky_bars(tune_plan(calm * 4)) == ()


def test_a_piece_without_notes_has_an_overview():
    seen = overview_of(tune_plan("r*4|A4*4|"))
    assert seen.lowest == seen.highest
