"""What parts that bow together cost each other: every two of them, at every moment they share.

Bows cost that go different ways, that are joined differently to a bow before which is shared too,
or that lie in different regions of the bow; and bows of other lengths that begin a bar together
where they go different ways. With n parts at a moment each pair counts 1 / (n − 1),
so that one part against all others costs the same in a duet as in a quintet. What one part is
asked is the sum over the others, so the answer of one part to the rest is an exact plan of its
own, and never dearer for all together.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from plectrum.core.planning import rules
from plectrum.core.planning.ensemble.matching import Matched
from plectrum.core.planning.strokes.dynamic_program import Solution
from plectrum.core.planning.strokes.terms import Asked

Ints = NDArray[np.int64]
REGIONS_N = 8
IN_BOW = 3  # the join of a unit in the bow of the one before
_WEAK = np.array([0.0, 0.0, 0.4, 0.6, 1.0])  # how little the places of a bar bind (own default)
_APART = 1 - np.eye(IN_BOW + 1, dtype=np.int64)


@dataclass(frozen=True, eq=False)
class Bowed:
    """How one part bows each of its N units.

    Attributes:
        direction, join: shape (N,). place: shape (N,), the sum of both ends in cells; −1 in the
        bow of the unit before.
    """

    direction: Ints
    join: Ints
    place: Ints

    @classmethod
    def of(cls, solution: Solution) -> Bowed:
        rows = solution.way_back.rows
        heads = rows[:, 0] >= 0
        head = np.maximum.accumulate(np.where(heads, np.arange(len(rows)), 0))
        return cls(
            rows[head, 2],
            np.where(heads, rows[:, 3], IN_BOW),
            np.where(heads, rows[:, 4] + rows[:, 5], -1),
        )

    def cost_of(self, asked: Asked) -> int:
        """What all that is asked costs this part."""
        units = np.arange(len(self.direction))
        heads = np.flatnonzero(self.join != IN_BOW)
        later = heads[heads > 0]
        cost = int(asked.direction[units, self.direction].sum())
        cost += int(asked.join[later, self.join[later]].sum())
        if asked.place is not None:
            cost += int(asked.place[heads, self.place[heads]].sum())
        return cost


class Coupling:
    """The costs of going apart at the moments of some parts."""

    def __init__(
        self, matched: Matched, units_n: Sequence[int], *, free: bool, regions: bool = True
    ) -> None:
        """Weigh the moments.

        Args:
            free: whether the plan decides on slurs; then regions are not asked, because it is not
                known what a bow will hold.
            regions: False leaves regions out also where the slurs are known.
        """
        self.matched, self._units_n, self._free = matched, units_n, free
        self._with_regions = regions and not free
        others = np.maximum((matched.units >= 0).sum(axis=1) - 1, 1)
        times = np.where(matched.held, rules.TOGETHER_HELD, 1.0) * rules.MILLIONTHS / others
        share = 1.0 - (1.0 - rules.TOGETHER_WEAK) * _WEAK[matched.place]
        times *= np.where(matched.held, 1.0, share)
        self._way = np.rint(times * rules.TOGETHER).astype(np.int64)
        self._join = np.rint(times * rules.TOGETHER_JOIN).astype(np.int64)
        self._place = np.rint(times * rules.TOGETHER_PLACE).astype(np.int64)
        pairs = range(matched.parts_n)
        self._pairs = {(p, q): self._pair(p, q) for p in pairs for q in pairs if p != q}

    def _pair(self, p: int, q: int) -> _Pair:
        """What two parts ask of each other, as the first sees it."""
        matched = self.matched
        at, mine, theirs = matched.pairs(p, q)
        both, turned = (min(p, q), max(p, q)), slice(None, None, 1 if p < q else -1)
        one, other = matched.echoes.get(both, _NO_UNITS)[turned]
        here, there = matched.begins.get(both, _NO_UNITS)[turned]
        mine, theirs = np.append(mine, one), np.append(theirs, other)
        k = _joined(mine, theirs, matched.before[p], matched.before[q])
        echoed, begun = self._weights(rules.IMITATED, one), self._weights(rules.BEGUN, here)
        join = np.append(self._join[at], np.rint(echoed * rules.TOGETHER_JOIN).astype(np.int64))
        more = np.rint(np.append(echoed, begun) * rules.TOGETHER).astype(np.int64)
        return _Pair(
            np.append(mine, here),
            np.append(theirs, there),
            np.append(self._way[at], more),
            k,
            join[k],
            self._place[at],
        )

    def _weights(self, times: float, units: Ints) -> NDArray[np.float64]:
        """What some units count that are at no moment, each as much."""
        return np.full(len(units), rules.millionths(times) / max(self.matched.parts_n - 1, 1))

    def asked(self, part: int, bowed: Sequence[Bowed | None]) -> Asked:
        """What the others ask of one part; those that are None ask nothing."""
        n = self._units_n[part]
        direction, join = np.zeros((n, 2), dtype=np.int64), np.zeros((n, 3), dtype=np.int64)
        place = None
        if self._with_regions:
            place = np.zeros((n, 2 * rules.CELLS_N + 1), dtype=np.int64)
        for q, other in enumerate(bowed):
            if q == part or other is None:
                continue
            pair = self._pairs[part, q]
            np.add.at(direction, (pair.mine, 1 - other.direction[pair.theirs]), pair.way)
            k = pair.joined
            their_join = other.join[pair.theirs[k]]
            costs = _APART[:3, their_join].T
            if self._free:  # a bow need not begin here: what it costs that it does not, is saved
                costs = costs - _APART[IN_BOW, their_join][:, None]
            np.add.at(join, pair.mine[k], pair.join[:, None] * costs)
            if place is not None:
                at_once = slice(len(pair.place))
                region = _region(other.place[pair.theirs[at_once]])
                place[pair.mine[at_once]] += pair.place[:, None] * _FAR[:, region].T // _FAR_UNIT
        return Asked(direction, join, place)

    def cost(self, bowed: Sequence[Bowed]) -> int:
        """What all pairs cost, each once, in millionths."""
        total = 0
        for (p, q), pair in self._pairs.items():
            if p > q:
                continue
            one, other, mine, theirs = bowed[p], bowed[q], pair.mine, pair.theirs
            total += int((pair.way * (one.direction[mine] != other.direction[theirs])).sum())
            k = pair.joined
            apart = _APART[one.join[mine[k]], other.join[theirs[k]]]
            total += int((pair.join * apart).sum())
            if self._with_regions:
                n = len(pair.place)
                far = _FAR[one.place[mine[:n]], _region(other.place[theirs[:n]])]
                total += int((pair.place * far // _FAR_UNIT).sum())
        return total


@dataclass(frozen=True, eq=False)
class _Pair:
    """Where two parts ask something of each other: first the moments they share, then where one
    imitates the other, then where they only begin together.

    Attributes:
        mine, theirs: the units of both. way: what going different ways costs there.
        joined: which of them have a bow before that is shared too. join: what joining them
            otherwise costs. place: of the moments, what lying in another region costs.
    """

    mine: Ints
    theirs: Ints
    way: Ints
    joined: Ints
    join: Ints
    place: Ints


_NO_UNITS = (np.zeros(0, dtype=np.int64), np.zeros(0, dtype=np.int64))


def _joined(mine: Ints, theirs: Ints, my_before: Ints, their_before: Ints) -> Ints:
    """Those moments of two parts before which the bow before is one of both too: only there is
    what joins the two bows the same question to both."""
    shared = set(zip(mine.tolist(), theirs.tolist(), strict=True))
    pairs = zip(my_before[mine].tolist(), their_before[theirs].tolist(), strict=True)
    return np.flatnonzero([pair in shared for pair in pairs])


_FAR_UNIT = REGIONS_N**2


def _region(place: Ints) -> Ints:
    """The eighth of the bow in which the middle of a bow lies."""
    region: Ints = place * REGIONS_N // (2 * rules.CELLS_N + 1)
    return region


def _far() -> Ints:
    """How far each place is from each region: eighths beyond the next one, squared."""
    own = _region(np.arange(2 * rules.CELLS_N + 1))
    beyond: Ints = np.maximum(np.abs(own[:, None] - np.arange(REGIONS_N)) - 1, 0)
    return beyond * beyond


_FAR = _far()
