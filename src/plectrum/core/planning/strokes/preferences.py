"""What each direction of a bow is worth, and what each way of joining two bows costs.

The worths are learnt from printed bow marks (see `planning.learning`), or from a teacher's own
plans; what the trade says without exception stands above them: a rest stops the bow anyway, a
repeat is a new beginning, a school does what it says, and nobody is asked for what he has not
learnt.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from plectrum.core.planning import rules
from plectrum.core.planning.strokes.context import (
    Bows,
    Columns,
    Features,
    goes_on,
    hook_features,
    resets,
    rest_before_s,
    up_features,
)
from plectrum.core.planning.strokes.problem import HOOK, RETAKE, TURN, UP, Ints
from plectrum.core.planning.strokes.stroke_tables import whole
from plectrum.core.player.player import Player
from plectrum.core.player.school import DirectionSchool, DottedSchool, RestSchool, School

Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]
NEARLY_Q = 0.01
# Asked for by every school: where a phrase begins, what leads into it, and chords.
_ALWAYS_WORTH = ("down_start", "down_pickup", "down_pickup_slur", "down_chord")


def direction_worths(
    features: Features, weights: Mapping[str, float], direction: DirectionSchool
) -> Floats:
    """What a down-bow wins, and an up-bow loses, at each bow."""
    share = rules.STRONG_BEATS[direction]
    worth: Floats = rules.FIRST_BEAT[direction] * features["down_on_bar"].astype(np.float64)
    for name, here in features.items():
        worth += weights[name] * (1.0 if name in _ALWAYS_WORTH else share) * here
    return worth


@dataclass(frozen=True)
class Boundary:
    """Neighbouring bows: each of `bows` follows that of `before`.

    Attributes:
        pair: whether a bow is a short note right after one at least twice as long.
        balances: whether going on upwards makes two ups that balance the slur before them.
        again: whether a figure between rests begins again that goes on as it comes; odd: one that
            would go the other way round then.
        back: whether there is time to lift and to carry the bow back before a bow.
        last: whether a bow is the last of its bar.
        wished: what the two wish for together, as a share of what there is.
    """

    columns: Columns
    before: Bows
    bows: Bows
    pair: Bools
    balances: Bools
    again: Bools
    odd: Bools
    back: Bools
    last: Bools
    wished: Floats

    @property
    def rest_s(self) -> Floats:
        return rest_before_s(self.columns, self.before, self.bows)

    @property
    def chords_apart(self) -> Bools:
        """Chords after chords with the time to set the bow down anew."""
        c = self.columns
        both: Bools = c.chord[self.before.last] & c.chord[self.bows.first]
        return both & (self.rest_s >= rules.CHORD_REST_S)

    @property
    def bars_of_one(self) -> Bools:
        """Bars of one bow and a rest after such bars."""
        c = self.columns
        begin = (c.place[self.before.first] == 0) & (c.place[self.bows.first] == 0)
        rested = self.rest_s >= rules.STOPPING_REST_S
        found: Bools = begin & rested & ~goes_on(c, self.bows)
        return found

    @property
    def seam(self) -> Bools:
        c = self.columns
        first: Bools = c.opens[self.bows.first] & (
            c.bar[self.bows.first] != c.bar[self.before.first]
        )
        return first


def join_costs(at: Boundary, weights: Mapping[str, float], school: School, player: Player) -> Ints:
    """Costs of each join by the direction it goes on in, in millionths; shape (J, 2, 3)."""
    reset = resets(at.columns, at.bows, player.lift_s)
    far = at.bars_of_one & ~at.back & ~reset
    down, up = _hooks(at, reset, far, weights, school, player)
    costs = np.zeros((len(down), 2, 3))
    crowded = rules.CROWDED_HOOK * np.maximum(0.0, at.wished - rules.CROWDED_FROM)
    costs[:, 0, HOOK], costs[:, UP, HOOK] = down + crowded, up + crowded
    lifts = school.dotted is DottedSchool.LIFT
    retake = np.where(at.pair & lifts, rules.RETAKE_PAIR, rules.RETAKE)
    if school.rests is RestSchool.LIFT:
        retake = np.where(at.rest_s >= rules.LIFTED_REST_S, rules.RETAKE_REST, retake)
    anew = reset | at.chords_apart | (at.bars_of_one & at.back)
    retake = np.where(anew, np.minimum(retake, 0.0), retake)
    retake = np.where(far, np.maximum(retake, rules.FAR_HOOK), retake)
    retake = np.where(reset & at.again, np.maximum(retake, rules.AGAIN_ANEW), retake)
    costs[:, :, RETAKE] = retake[:, None]
    costs[:, :, TURN] = np.where(reset & at.odd, rules.AGAIN_ANEW, 0.0)[:, None]
    if not player.can_hook:
        costs[at.rest_s <= rules.REST_S, :, HOOK] += rules.NOT_LEARNT
    if not player.can_retake:
        costs[:, :, RETAKE] += rules.NOT_LEARNT
    return whole(costs)


def _sum(features: Features, weights: Mapping[str, float]) -> Floats:
    total = np.zeros(len(next(iter(features.values()))))
    for name, here in features.items():
        total += weights[name] * here
    return total


def _hooks(
    at: Boundary,
    reset: Bools,
    far: Bools,
    weights: Mapping[str, float],
    school: School,
    player: Player,
) -> tuple[Floats, Floats]:
    """Cost of a hook down and of a hook up.

    Args:
        reset: where a long rest lets all begin anew.
        far: where a bar is one bow, and there is no time to go back for the next.
    """
    c, lift_s = at.columns, player.lift_s
    learnt = _sum(hook_features(c, at.before, at.bows, at.pair, lift_s), weights)
    learnt += rules.FEW_HOOKS[school.direction]
    if school.direction is DirectionSchool.DOWNBEAT:
        onto = (c.place[at.bows.first] == 0) & (at.rest_s <= rules.REST_S) & ~at.seam
        learnt += rules.FIRST_HOOK * onto
    up = _sum(up_features(c, at.before, at.bows, lift_s), weights)
    for reason, most in _reasons(at, school.direction):
        learnt = np.where(reason, np.minimum(learnt, most), learnt)
    learnt = np.where(_running(at), np.maximum(learnt, rules.RUNNING_HOOK), learnt)
    waits = ((at.rest_s >= rules.RESET_S) & ~reset) | at.again
    learnt = np.where(waits, np.maximum(learnt, rules.WAITING_HOOK), learnt)
    learnt = np.where(far, np.maximum(learnt, rules.FAR_HOOK), learnt)
    stopped = at.odd & (at.rest_s >= rules.STOPPING_REST_S)
    learnt = np.where(stopped, np.minimum(learnt, rules.ODD_HOOK), learnt)
    up = np.where(waits, np.maximum(up, 0.0), up)
    if school.direction in (DirectionSchool.USUAL, DirectionSchool.DOWNBEAT):
        up = np.where(at.balances, np.minimum(up, rules.TWO_UPS_HOOK - learnt), up)
    if school.dotted is DottedSchool.HOOK:
        hooked = at.pair & (_least_s(at) >= rules.HOOKED_PAIR_S)
        learnt = np.where(hooked, np.minimum(learnt, rules.PAIR_HOOKED), learnt)
        up = np.where(hooked, 0.0, up)
    elif school.dotted is not DottedSchool.USUAL:
        learnt = np.where(at.pair, np.maximum(learnt, rules.PAIR_SEPARATE), learnt)
    return learnt, learnt + up


def _running(at: Boundary) -> Bools:
    """Between equal quick notes, each in a bow of its own."""
    c = at.columns
    was_s = c.end_s[at.before.last] - c.onset_s[at.before.first]
    is_s = c.end_s[at.bows.last] - c.onset_s[at.bows.first]
    alone = (at.before.first == at.before.last) & (at.bows.first == at.bows.last)
    alike = np.isclose(was_s, is_s) & (at.rest_s < rules.REST_S)
    running: Bools = alone & alike & (is_s < rules.RUNNING_S)
    return running


def _least_s(at: Boundary) -> Floats:
    c = at.columns
    least: Floats = np.minimum(
        c.end_s[at.before.last] - c.onset_s[at.before.first],
        c.end_s[at.bows.last] - c.onset_s[at.bows.first],
    )
    return least


def _reasons(at: Boundary, direction: DirectionSchool) -> list[tuple[Bools, float]]:
    """Where a hook has a reason of its own, and what it costs there at most."""
    found = [(at.rest_s >= rules.STOPPING_REST_S, rules.REST_HOOK), (at.seam, rules.SEAM_HOOK)]
    if direction is DirectionSchool.DOWNBEAT:
        c = at.columns
        inside = c.bar[at.before.first] == c.bar[at.bows.first]
        slow = _least_s(at) >= rules.LAST_HOOK_S
        found.append((at.last & inside & slow, rules.LAST_HOOK))
    return found


def balancing_ups(c: Columns, first: Ints, last: Ints) -> Bools:
    """Where a single note after another, both after a slur of about their time in their own bar,
    would make two ups that balance it. One entry a bow; the first two are never."""
    found = np.zeros(len(first), dtype=bool)
    if len(first) < 3:
        return found
    quarters = c.end_q[last] - c.onset_q[first]
    seconds = c.end_s[last] - c.onset_s[first]
    rest = np.zeros(len(first), dtype=bool)
    rest[1:] = c.onset_s[first[1:]] - c.end_s[last[:-1]] >= rules.REST_S
    single = first == last
    slur, one, two = slice(0, -2), slice(1, -1), slice(2, None)
    share = (quarters[one] + quarters[two]) / np.maximum(quarters[slur], 1e-6)
    low, high = rules.BALANCE_SHARE
    found[two] = (
        (c.bar[first[slur]] == c.bar[first[two]])
        & ~single[slur] & single[one] & single[two]
        & ~rest[one] & ~rest[two]
        & (np.minimum(seconds[one], seconds[two]) >= rules.BALANCE_S)
        & (share >= low) & (share <= high)
        & (quarters[slur] > 1.5 * quarters[one])
    )  # fmt: skip
    return found


def figures_again(c: Columns, first: Ints, last: Ints) -> Bools:
    """Where a figure between rests comes again that goes on as it comes: one of an even number of
    bows, which goes the same way every time then, or a single note off the first beat. One entry a
    bow."""
    heads, bows_n = _come_again(c, first, last)
    alone = (bows_n == 1) & (first[heads] == last[heads]) & (c.place[first[heads]] > 0)
    return _at(heads[(bows_n % 2 == 0) | alone], len(first))


def odd_figures_again(c: Columns, first: Ints, last: Ints) -> Bools:
    """Where one of three bows or more comes again that would go the other way round: the rest lets
    it begin as before. One entry a bow."""
    heads, bows_n = _come_again(c, first, last)
    return _at(heads[(bows_n % 2 == 1) & (bows_n > 1)], len(first))


def _at(bows: Ints, bows_n: int) -> Bools:
    found = np.zeros(bows_n, dtype=bool)
    found[bows] = True
    return found


def _come_again(c: Columns, first: Ints, last: Ints) -> tuple[Ints, Ints]:
    """The first bows of figures between rests that come again, and how many bows they have."""
    onset_q, end_q = c.onset_q[first], c.end_q[last]
    heads = np.flatnonzero(np.round(onset_q - np.append(0.0, end_q)[:-1], 4) > 0)
    lengths_q = np.round(end_q - onset_q, 4).tolist()
    ends = np.append(heads[1:], len(first))[: len(heads)]
    figures = [
        (c.place.item(first.item(head)), *lengths_q[head:end])
        for head, end in zip(heads.tolist(), ends.tolist(), strict=True)
    ]
    again = [k for k in range(1, len(figures)) if figures[k] == figures[k - 1]]
    return heads[again], (ends - heads)[again]
