"""Several parts planned as one: exact on small scores, and no part worse off than it can."""

from __future__ import annotations

from copy import copy
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from plectrum.core.advice.rehearsal import to_settle
from plectrum.core.document.choices import Pin
from plectrum.core.planning import rules
from plectrum.core.planning.ensemble.coupling import Coupling
from plectrum.core.planning.ensemble.ensemble import answering, plan_together
from plectrum.core.planning.ensemble.matching import match
from plectrum.core.planning.ensemble.rounds import Rounds, Voice
from plectrum.core.planning.plan import make_plan
from plectrum.core.planning.strokes.problem import HOOK, RETAKE, TURN
from plectrum.core.score.model import Direction
from tests.core.planning.strategies import players, tunes
from tests.tunes import tune_document

CELLS = np.arange(rules.CELLS_N + 1)


def score(*tunes_of_parts: str, players: tuple[str, ...] = (), **options):
    """Parts and choices of a small score, a tune a part."""
    names = players or ("growing",) * len(tunes_of_parts)
    documents = [
        tune_document(music, player=name, **options)
        for music, name in zip(tunes_of_parts, names, strict=True)
    ]
    return [(d.part, d.choices) for d in documents]


def few_places(parts, cells: list[int]) -> Rounds:
    """The rounds of some parts where bows may only start and end at some cells."""
    plans = [make_plan(part, choices) for part, choices in parts]
    ends = np.isin(CELLS[None, :], cells) & np.isin(CELLS[:, None] + CELLS, cells)
    voices = []
    for plan in plans:
        tables = copy(plan.tables.firm())
        strokes = tables.strokes.strokes
        strokes = replace(strokes, ends=np.where(ends, strokes.ends, rules.IMPOSSIBLE))
        tables.strokes = replace(tables.strokes, strokes=strokes)
        voices.append(Voice(tables))
    matched = match([p.part for p in plans], [p.tables.units for p in plans])
    return Rounds(voices, Coupling(matched, [v.units_n for v in voices], free=False))


def all_bowings(problem) -> list[tuple[int, list[tuple[int, int, int]]]]:
    """Every way to bow a part: its cost, and direction, join and both ends' sum of every bow."""
    found = []

    def extend(i, cost, came, rows):
        if i == problem.units_n:
            found.append((cost, rows))
            return
        kind = problem.kind[i, 0]
        for d, length, low in np.argwhere(problem.strokes.table[kind] < rules.IMPOSSIBLE).tolist():
            a, b = (low, low + length) if d == 0 else (low + length, low)
            own = cost + int(problem.strokes[kind, d, length, low] + problem.direction[i, 0, d])
            speed = problem.speed_of[kind, length]
            if came is None:
                extend(1, own, (d, b, speed), [(int(d), TURN, int(a + b))])
                continue
            ways = []
            if a == came[1]:
                even = int(problem.evenness[problem.even[i], came[2], speed])
                ways.append((HOOK if d == came[0] else TURN, even))
            if abs(a - came[1]) <= problem.reach[i]:
                ways.append((RETAKE, int(problem.travel[abs(a - came[1])])))
            for join, more in ways:
                total = own + more + int(problem.join[i, 0, 0, d, join])
                extend(i + 1, total, (d, b, speed), [*rows, (int(d), join, int(a + b))])

    extend(0, 0, None, [])
    return found


def apart(matched, one, other) -> np.ndarray:
    """What every bowing of one part and every one of the other cost each other, in units of cost;
    the rules written down a second time. Rows are bowings of the first part."""
    cost = np.zeros((len(one), len(other)))
    shared = {tuple(row) for row in matched.units.tolist() if min(row) >= 0}
    moments = zip(matched.units.tolist(), matched.held, matched.place.tolist(), strict=True)
    for row, held, place in moments:
        if min(row) < 0:
            continue
        u, v = row
        mine = np.array([bows[u] for _, bows in one])[:, None]
        theirs = np.array([bows[v] for _, bows in other])[None]
        weak = (0.0, 0.0, 0.4, 0.6, 1.0)[place]
        times = rules.TOGETHER_HELD if held else 1.0 - weak * (1 - rules.TOGETHER_WEAK)
        cost += times * rules.TOGETHER * (mine[..., 0] != theirs[..., 0])
        if (u - 1, v - 1) in shared:
            cost += times * rules.TOGETHER_JOIN * (mine[..., 1] != theirs[..., 1])
        eighths = mine[..., 2] * 8 // 97, theirs[..., 2] * 8 // 97
        beyond = np.maximum(np.abs(eighths[0] - eighths[1]) - 1, 0)
        cost += times * rules.TOGETHER_PLACE * beyond**2 / 64
    for u, v in zip(*matched.begins[0, 1], strict=True):
        ways = [np.array([bows[i][0] for _, bows in of]) for i, of in ((u, one), (v, other))]
        cost += rules.BEGUN * rules.TOGETHER * (ways[0][:, None] != ways[1][None])
    return cost


SMALL = (
    ("A4 B4 C5 D5|", "D4u E4 F4 G4|"),
    ("A4*2u B4*2|C5*4|", "D4*2 E4*2|F4*4d|"),
    ("A4*3/2 B4*1/2 C5*2|", "D4*3/2 E4*1/2 F4*2u|"),
    ("A4 r B4d C5|", "D4*2 E4 F4u|"),
    ("A4 B4 C5*2|", "D4*2 F4*2u|"),
    ("A4( B4) C5( D5)|", "D4*2u F4*2|"),
    ("A4*3u B4|", "D4*3 E4d|"),
    ("[p] A4*1/2 B4*1/2 C5*3|", "[f] D4*1/2u E4*1/2 F4*3d|"),
)


def test_bows_that_begin_a_bar_together_go_one_way_whatever_their_length():
    """Common practice; the first bow of the first part lasts longer, so nothing else binds it."""
    parts = score("A4*2 B4 A4|A4( B4) A4 B4|E5*4", "D4( E4 D4) E4|D4( E4 D4) E4|A4*4")
    ensemble = plan_together(parts)
    assert [pairs.tolist() for pairs in ensemble.matched.begins[0, 1]] == [[0, 3], [0, 2]]
    one, other = ([n.direction for n in plan.notes if n.note.beat == 1] for plan in ensemble.plans)
    assert one == other == [Direction.DOWN] * 3


def test_too_many_parts_are_bowed_each_by_itself():
    parts = score("A4 B4 C5*2", "D4*2 E4 F4") * 21
    ensemble = plan_together(parts)
    assert ensemble.words == "42 parts are too many to agree: each is bowed by itself"
    assert ensemble.plans == ensemble.alone
    assert ensemble.differences == ()
    part, choices = parts[1]
    assert answering(part, choices, ensemble, 1).steps == ensemble.plans[1].steps


@pytest.mark.parametrize("tunes_of_parts", SMALL)
@pytest.mark.parametrize("named", [("growing", "growing"), ("starter", "steady")])
def test_small_scores_come_to_the_least_of_all_bowings(tunes_of_parts, named):
    """Every bowing of both parts is tried on three places of the bow; costs are added up here."""
    rounds = few_places(score(*tunes_of_parts, players=named), [14, 24, 34])
    matched = rounds.coupling.matched
    one, other = (all_bowings(answer.tables.problem) for answer in rounds.alone)
    own = np.array([cost for cost, _ in one])[:, None] + np.array([cost for cost, _ in other])
    least = (own + rules.MILLIONTHS * apart(matched, one, other)).min()
    found = rounds.best()
    assert found.cost == pytest.approx(least, abs=40)  # whole millionths, rounded pair by pair
    assert rounds.bound <= found.cost <= rounds.in_turn(0).cost


def test_parts_with_other_rhythms_are_left_alone():
    both = plan_together(score("A4*4|A4 B4 C5 D5|", "D4 E4 F4 G4|D4*2 E4*2|"))
    assert not len(both.matched)
    assert not both.differences
    assert both.plans == both.alone
    assert both.words == "no two bows begin and end together"


def test_a_slur_and_a_long_note_of_its_time_are_the_same_bow():
    both = plan_together(score("A4*1/2( B4*1/2) C5*3|", "D4 E4*3|"))
    assert len(both.matched) == 2


def test_places_where_parts_cannot_agree_are_listed_with_the_reason():
    both = plan_together(score("A4d B4 C5 D5|", "D4u E4 F4 G4|"))
    first = both.differences[0]
    assert (first.bar, first.beat, first.what) == (1, 1, "way")
    assert "marked" in first.reason
    assert "different ways" in both.words


def test_what_a_player_has_not_learnt_is_not_asked_of_him():
    """Two ups are marked in the first part; a starter does not hook, and says so."""
    both = plan_together(score("A4d B4u C5u D5d|", "D4 E4 F4 G4|", players=("steady", "starter")))
    joins = [n.join for n in both.plans[1].notes[1:]]
    assert "hook" not in joins
    assert any("hooks are not learnt" in d.reason for d in both.differences)


def test_three_parts_outvote_one_and_the_one_follows():
    tune = "A4*3/2 B4*1/2 C5 D5|A4 B4 C5*2|"
    up = "A4*3/2u B4*1/2 C5 D5|A4 B4 C5*2|"
    parts = plan_together(score(up, tune, tune, tune))
    assert {plan.notes[0].direction for plan in parts.plans} == {Direction.UP}
    assert parts.alone[1].notes[0].direction is Direction.DOWN


def _beyond(plan) -> int:
    """How many bows are beyond the player, or not learnt."""
    tables, count = plan.tables, 0
    for i, step in plan.solution.bows.items():
        count += int(tables.strokes.limit[tables.kind[i], step.length] > 0)
        learnt = plan.player.can_hook if step.join == HOOK else plan.player.can_retake
        rest = plan.units[i].free_s > rules.REST_S
        count += i > 0 and step.join in (HOOK, RETAKE) and not learnt and not rest
    return count


@settings(max_examples=25, deadline=None)
@given(st.lists(tunes(most_bars=3), min_size=2, max_size=3), st.data())
def test_no_part_is_worse_off_than_its_limits(music, data):
    named = tuple(data.draw(players()) for _ in music)
    both = plan_together(score(*music, players=named))
    for plan, alone in zip(both.plans, both.alone, strict=True):
        assert _beyond(plan) <= _beyond(alone)
        assert sum(plan.terms.values()) == pytest.approx(plan.total_cost, abs=1e-6)
    assert both.bound - 1e-6 <= both.cost <= both.in_turn + 1e-6


@settings(max_examples=25, deadline=None)
@given(tunes(most_bars=3, marks=False), st.data())
def test_a_pin_is_kept_in_all_that_match_or_the_place_is_named(music, data):
    parts = score(music, music.replace("A4", "D4"), music, players=("growing", "steady", "starter"))
    part, choices = parts[0]
    heads = [n for n in part.notes if not n.slurred]
    note = data.draw(st.sampled_from(heads))
    way = data.draw(st.sampled_from(list(Direction)))
    parts[0] = part, choices.with_pin(note.id, Pin(direction=way))
    both = plan_together(parts)
    assert both.plans[0].notes[note.index].direction is way
    ways = {plan.notes[note.index].direction for plan in both.plans}
    named = [d for d in both.differences if note.index in d.notes and d.what == "way"]
    assert ways == {way} or (named and named[0].reason)


@settings(max_examples=10, deadline=None)
@given(st.lists(tunes(most_bars=2), min_size=2, max_size=3))
def test_the_same_score_gives_the_same_plans(music):
    one, again = plan_together(score(*music)), plan_together(score(*music))
    assert [p.steps for p in one.plans] == [p.steps for p in again.plans]


def test_another_order_of_two_alike_parts_matches_as_well():
    music = ("A4 B4 C5*2|D5*3u C5|", "A4 B4 C5*2|D5*3 C5d|")
    one, other = plan_together(score(*music)), plan_together(score(*reversed(music)))
    assert one.cost == pytest.approx(other.cost, abs=1e-4)


def test_where_slurs_are_free_parts_still_go_together():
    answers = {"slurs": "song"}
    both = plan_together(
        score("A4*1/2 B4*1/2 C5 D5 E5|F5*2 E5*2|", "D4*1/2 E4*1/2 F4 G4 A4|A4*2 G4*2u|",
              answers=answers)
    )  # fmt: skip
    assert not [d for d in both.differences if d.what == "way"]
    for plan in both.plans:
        assert sum(plan.terms.values()) == pytest.approx(plan.total_cost, abs=1e-6)


def test_bows_that_match_lie_in_the_same_region():
    """The first comes from a whole bow and is at the tip; the other by itself begins elsewhere."""
    one = "[f] A4*4|A4*2 B4*2 A4*1/2 A4*2 A4 B4 A4 B4*2|"
    two = "r*4|[p] D4*2 G3*2 D4*1/2 G3*2 D4 D4 G3 D4*2|"
    both = plan_together(score(one, two, players=("steady", "steady")))
    assert both.before
    assert not both.differences


ROUND = (
    "A4*3/2 B4*1/2 C5 D5|C5 B4*1/2 A4*1/2 G4*2|A4 A4*1/2 B4*1/2 C5 A4|B4*2 G4 E4|A4*3 r|",
    "A4 B4 C5 D5|E5*1/2 D5*1/2 C5 B4 A4|C5*3/2 B4*1/2 A4 B4|G4 A4 B4*2|A4*4|",
    "D5*2 C5 B4|A4 B4*1/2 C5*1/2 B4*2|A4*1/2 B4*1/2 A4 G4*2|A4 B4*1/2 G4*1/2 A4*2|",
)


@pytest.mark.parametrize("tune", ROUND)
@pytest.mark.parametrize("later", [1, 2])
def test_in_a_round_the_second_voice_bows_as_the_first(tune, later):
    """What is imitated is bowed as it was: common practice, no source."""
    silent = "r*4|" * later
    both = plan_together(score(tune + silent, silent + tune))
    ways = [[p.direction for p in plan.notes if p is not None] for plan in both.plans]
    assert ways[0] == ways[1]
    assert both.bound - 1e-6 <= both.cost <= both.in_turn + 1e-6


def test_equal_notes_imitate_nothing():
    scale = "A4 B4 C5 D5|E5 D5 C5 B4|A4*4|r*4|"
    both = plan_together(score(scale, "r*4|" + scale[:-4]))
    assert not both.matched.echoes


def test_a_slur_that_one_voice_has_and_its_twin_has_not_is_listed():
    music = ("A4( B4) C5 D5|A4*4|", "F4 G4 A4 B4|F4*4|")
    for order in (music, music[::-1]):
        both = plan_together(score(*order))
        missing = [d for d in both.differences if d.what == "slur"]
        assert [(d.bar, d.beat, d.odd) for d in missing] == [(1, 1, (order.index(music[1]),))]
        assert any("without the slur" in place.text for place in to_settle(both))
    same = plan_together(score(music[0], "G4 G4 A4 B4|F4*4|"))  # nobody slurs a note said again
    assert not [d for d in same.differences if d.what == "slur"]


def test_no_part_hooks_unlearnt_to_come_right_again():
    """A steady player is marked two ups; a starter who may not hook is out of step from there on,
    for longer than a hook would have cost him."""
    bars = "A4d B4 C5 D5|" * 30
    both = plan_together(
        score(
            "A4*2d B4u C5u|" + bars,
            "D4*2d E4 F4|" + bars.replace("d", ""),
            players=("steady", "starter"),
        )
    )
    assert "hook" not in [note.join for note in both.plans[1].notes]
    assert len([d for d in both.differences if d.what == "way"]) > 50
