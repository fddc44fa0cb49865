"""How an exercise grows: from the log alone, never on after a pause, anew after pain."""

from __future__ import annotations

from datetime import date, timedelta

from hypothesis import given
from hypothesis import strategies as st

from plectrum.core.practice.exercises.growth import practice_day, practice_days

MONDAY = date(2027, 1, 11)


def _on(*days: int, well: bool = True):
    return [(MONDAY + timedelta(days=d), well) for d in days]


def test_each_day_that_went_well_makes_the_next_one_more():
    assert practice_day([], MONDAY) == 1
    assert practice_day(_on(0), MONDAY) == 1  # today itself does not count yet
    assert practice_day(_on(0, 1, 2), MONDAY + timedelta(days=3)) == 4
    assert practice_day(_on(0, 0, 0), MONDAY + timedelta(days=1)) == 2
    assert practice_day([*_on(0), *_on(1, well=False)], MONDAY + timedelta(days=2)) == 2


def test_a_pause_takes_back_and_pain_begins_again():
    done = _on(*range(8))
    after = MONDAY + timedelta(days=7)
    assert practice_day(done, after + timedelta(days=7)) == 9
    assert practice_day(done, after + timedelta(days=8)) == 8
    assert practice_day(done, after + timedelta(days=14)) == 6
    assert practice_day(done, after + timedelta(days=200)) == 1
    assert practice_day(done, after + timedelta(days=1), [after]) == 1
    later = [*done, *_on(10, 11)]
    assert practice_day(later, MONDAY + timedelta(days=12), [after + timedelta(days=1)]) == 3
    assert practice_days({"a": done}, after + timedelta(days=1)) == {"a": 9}


@given(
    st.lists(st.tuples(st.integers(0, 120), st.booleans()), max_size=40),
    st.integers(0, 140),
    st.integers(0, 60),
)
def test_it_never_jumps(done, today, waited):
    """From one day to the next by one at most; a longer wait never makes it more."""
    rows = [(MONDAY + timedelta(days=d), well) for d, well in done]
    on = MONDAY + timedelta(days=today)
    now = practice_day(rows, on)
    days_well = len({d for d, well in done if well and d < today})
    assert 1 <= now <= 1 + days_well
    assert practice_day(rows, on + timedelta(days=1)) <= now + 1
    past = [row for row in rows if row[0] < on]
    assert practice_day(past, on + timedelta(days=waited)) <= practice_day(past, on)
