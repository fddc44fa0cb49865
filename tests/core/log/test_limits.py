"""Limits proposed from measurements: by hand, and unmoved by a wild value."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from plectrum.core.instrument.bow import Bow
from plectrum.core.instrument.specification import instrument
from plectrum.core.log.limits import NORMAL, Proposal, proposals, robust, with_proposals
from plectrum.core.log.records import Measure, Measured
from plectrum.core.player.player import STAGES, stage
from plectrum.core.player.player_file import player_from_json

TODAY = date(2026, 11, 23)
BOW = Bow.full_size("violin")


def _measured(measure: Measure, tries, string=None, direction=None, days_ago=3) -> Measured:
    tries = tuple(float(t) for t in tries)
    on = TODAY - timedelta(days=days_ago)
    return Measured("s", on, measure, sorted(tries)[len(tries) // 2], tries, string, direction)


def _by_field(measured, player, bow=BOW) -> dict[str, Proposal]:
    return {p.field: p for p in proposals(measured, player, bow, TODAY)}


def test_the_slowest_speed_is_the_usable_bow_in_the_shortest_median():
    """By hand: 0.96 of 650 mm are 624 mm; medians 8 s down and 6.5 s up; 624 / 6.5 = 96 mm/s."""
    player = replace(stage("growing"), usable_from=0.04, usable_to=1.0)
    found = _by_field(
        [
            _measured(Measure.LONGEST_BOW, (7.9, 8.0, 8.2), 2, "down"),
            _measured(Measure.LONGEST_BOW, (6.4, 6.5, 6.9), 2, "up"),
        ],
        player,
    )
    assert found["slowest_mm_s"].proposed == pytest.approx(96.0)
    assert "6.5 s for 62 cm" in found["slowest_mm_s"].evidence
    assert "6 tries" in found["slowest_mm_s"].evidence
    assert "up-bow on the A string" in found["slowest_mm_s"].evidence


def test_a_cello_player_is_kept_as_the_player_would_be_on_the_violin():
    """Speeds in the file are for the violin; on the cello they count 0.85 of that (own default)."""
    bow = Bow.full_size("cello")
    found = _by_field([_measured(Measure.FASTEST_BOW, (510, 510, 510))], stage("growing"), bow)
    assert found["fastest_mm_s"].proposed == pytest.approx(510 / instrument("cello").speed_ratio)
    assert "51 cm/s" in found["fastest_mm_s"].text


def test_strokes_a_second_are_learnt_and_then_warned_of():
    """A child who plays three clean strokes a second is told of quicker ones, on any instrument."""
    for name in ("violin", "cello"):
        bow = Bow.full_size(name)
        measured = [_measured(Measure.STROKES, (3.0, 3.1, 2.9))]
        found = _by_field(measured, stage("growing"), bow)
        assert "3.0 clean strokes a second" in found["strokes_per_s"].text
        own = with_proposals(stage("growing"), found.values()).on(instrument(name))
        assert own.strokes_per_s == pytest.approx(3.0)


def test_reach_and_level_change():
    """By hand: 65 and 585 mm of 650 are 0.1 and 0.9."""
    player = replace(stage("growing"), usable_from=0.0, usable_to=1.0, level_change_s=0.1)
    found = _by_field(
        [
            _measured(Measure.REACH_FROM, (60, 65, 70)),
            _measured(Measure.REACH_TO, (580, 585, 590, 585)),
            _measured(Measure.LEVEL_CHANGE, (0.2, 0.25, 0.3)),
        ],
        player,
    )
    assert found["usable_from"].proposed == pytest.approx(0.1)
    assert found["usable_to"].proposed == pytest.approx(0.9)
    assert found["level_change_s"].proposed == pytest.approx(0.25)


@pytest.mark.parametrize("wild", [0.6, 170.0])
def test_one_wild_value_does_not_move_a_limit(wild):
    """A stopped clock and a slip of the finger: both are left out."""
    usual = (7.8, 8.0, 8.1, 8.2, 7.9)
    calm = _by_field([_measured(Measure.LONGEST_BOW, usual)], stage("starter"))
    shaken = _by_field([_measured(Measure.LONGEST_BOW, (*usual, wild))], stage("starter"))
    a, b = calm["slowest_mm_s"].proposed, shaken["slowest_mm_s"].proposed
    assert a == pytest.approx(b, rel=0.02)
    assert "5 tries" in shaken["slowest_mm_s"].evidence


@given(
    st.lists(st.floats(5, 10), min_size=5, max_size=30),
    st.lists(st.floats(500, 5000), max_size=2),
)
def test_fewer_than_half_wild_values_never_get_in(usual, wild):
    """Whatever two are, the median stays among the usual ones."""
    middle, kept = robust([*usual, *wild])
    assert min(usual) <= middle <= max(usual)
    assert not set(kept) & set(wild)


def test_the_spread_is_scipys():
    """1.4826 times the median distance equals SciPy's normal-scaled median deviation."""
    from scipy import stats  # slow to load; only here

    values = np.array([7.1, 8.3, 7.7, 9.0, 8.1, 7.9])
    own = NORMAL * np.median(np.abs(values - np.median(values)))
    assert own == pytest.approx(stats.median_abs_deviation(values, scale="normal"), rel=1e-4)
    with pytest.raises(ValueError, match="no values"):
        robust([])


def test_too_few_too_old_or_nearly_the_same_propose_nothing():
    player = stage("growing")
    usable_mm = (player.usable_to - player.usable_from) * BOW.hair_mm
    same_s = usable_mm / player.slowest_mm_s
    assert not _by_field([_measured(Measure.LONGEST_BOW, (8.0, 8.0))], player)
    assert not _by_field([_measured(Measure.LONGEST_BOW, (3, 3, 3), days_ago=60)], player)
    assert not _by_field([_measured(Measure.LONGEST_BOW, (same_s * 1.02,) * 3)], player)
    assert not _by_field([], player)


@given(
    st.sampled_from(STAGES),
    st.lists(
        st.tuples(
            st.sampled_from(["slowest_mm_s", "fastest_mm_s", "usable_from", "usable_to",
                             "level_change_s"]),
            st.floats(0.02, 1.0),
        ),
        max_size=5,
    ),
)  # fmt: skip
def test_taking_proposals_always_leaves_a_player_that_can_be_used(name, wanted):
    """Whatever is proposed: the file of the player that results is read again."""
    taken = [
        Proposal(field, 0.0, share * (900.0 if field.endswith("mm_s") else 1.0), "", "")
        for field, share in wanted
    ]
    player = with_proposals(stage(name), taken)
    import json

    assert player_from_json(json.dumps(player.as_dict()), "x") == player


def test_values_close_together_have_a_floor_below_which_nothing_is_wild():
    """Four tries of 8.0 s have no spread at all; 10 % of the median stand in its place, three
    times over: 10.3 s is still kept, 10.5 s is not (own default)."""
    assert len(robust([8.0, 8.0, 8.0, 8.0, 10.3])[1]) == 5
    assert len(robust([8.0, 8.0, 8.0, 8.0, 10.5])[1]) == 4
    assert robust([8.0, 8.0, 8.0, 8.0, 10.5])[0] == 8.0
