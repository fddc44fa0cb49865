"""Passages that come again, on the same strings and on others."""

from __future__ import annotations

from hypothesis import given, settings

from plectrum.core.advice.passages import passage_words, passages_of
from tests.core.planning.strategies import tunes
from tests.tunes import tune_plan

ON_D = "D4 E4 F#4 G4|G4 F#4 E4 D4|"
ON_A = "A4 B4 C#5 D5|D5 C#5 B4 A4|"


def test_the_same_passage_again_is_found_whole():
    plan = tune_plan(ON_A + "E5*4|" + ON_A)
    (found,) = passages_of(plan)
    assert (found.first_bar, found.last_bar, found.like_first, found.like_last) == (3, 4, 0, 1)
    assert found.strings_up == 0
    assert passage_words(plan, found) == "bars 4–5 are bars 1–2 again"


def test_the_same_fingers_on_another_string_are_the_same_passage():
    plan = tune_plan(ON_A + ON_D)
    (found,) = passages_of(plan)
    assert found.strings_up == -1
    assert "the next lower string" in passage_words(plan, found)


def test_another_rhythm_or_another_bow_is_another_passage():
    assert passages_of(tune_plan("A4 B4 C#5 D5|A4*2 B4 C#5|")) == ()
    assert passages_of(tune_plan("A4 B4 C#5 D5|A4( B4) C#5 D5|")) == ()


def test_fingers_must_move_to_the_next_string_all_together():
    """The second bar stays on the D string, so only the first is like it."""
    plan = tune_plan("A4 B4 A4 B4|D4 E4 D4 E4|A4 B4 A4 B4|A4 B4 A4 B4|")
    runs = [(p.first_bar, p.bars_n, p.strings_up) for p in passages_of(plan)]
    assert runs[0] == (1, 1, -1)
    assert runs[1] == (2, 1, 0)


@settings(max_examples=40, deadline=None)
@given(tunes(most_bars=8))
def test_a_passage_and_its_like_are_the_same_music(music):
    """Whatever is found: as many bars, the same rhythm and fingers, never overlapping."""
    plan = tune_plan(music)
    for found in passages_of(plan):
        assert found.like_last < found.first_bar
        assert found.bars_n == found.like_last - found.like_first + 1
        for k in range(found.bars_n):
            a = [n for n in plan.part.notes if n.bar_index == found.like_first + k]
            b = [n for n in plan.part.notes if n.bar_index == found.first_bar + k]
            assert [n.duration_q for n in a] == [n.duration_q for n in b]
            for x, y in zip(a, b, strict=True):
                f, g = plan.fingered[x.index], plan.fingered[y.index]
                if f.grip is not None and g.grip is not None:
                    assert g.grip.main.string - f.grip.main.string == found.strings_up
                    assert g.grip.main.finger == f.grip.main.finger
