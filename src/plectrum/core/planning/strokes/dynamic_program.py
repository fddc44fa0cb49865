"""The exact dynamic program over bows: direction × place on the bow × join × speed × slur.

Question it answers: which units share a bow, which way each bow goes, how it joins the one
before and between which two places it runs, so that the sum of all costs (see `problem`) is least.

Tables from both ends together give the exact extra cost of every choice of every unit. Work is
O(N·L·(K² + S²K + LSK)) for S speed classes. Ties: turn before hook before retake, down before up,
lower position first, shorter slur first.
"""

from __future__ import annotations

from functools import cached_property
from threading import local
from typing import NamedTuple

import numpy as np

from plectrum.core.planning.rules import IMPOSSIBLE
from plectrum.core.planning.strokes import kernels
from plectrum.core.planning.strokes.problem import (
    POSITIONS_N,
    Bools,
    Ints,
    Problem,
    Step,
    cost_of_rows,
    steps_of,
)


class Onward(NamedTuple):
    """The table of the way back: best cost of a bow of so many units from each unit and all after
    it, by its speed class, direction and start; shape (N, L, S, 2, K+1).

    Two problems that are nearly alike share nearly all of it: a unit's costs are a row of `base`
    or, for negative numbers, of `own`, counted from −1 down, and as much more as `shift` says. For
    some bows after a change all costs are others by one and the same amount.
    """

    base: Ints
    own: Ints
    where: Ints
    shift: Ints

    def on_base(self) -> Onward:
        """The same with all rows in a base of its own."""
        own = self.where < 0
        if own.all():
            base = self.own[-1 - self.where]
        else:
            base = self.base[np.maximum(self.where, 0)]
            base[own] = self.own[-1 - self.where[own]]
        return Onward(base, self.own[:0], np.arange(len(base)), self.shift)

    @property
    def whole(self) -> Ints:
        """The table, written out."""
        table = self.on_base().base
        table += self.shift[:, None, None, None, None]
        return table

    @property
    def least(self) -> int:
        """The least cost of all."""
        if not len(self.where):
            return 0
        at = int(self.where[0])
        row = self.base[at] if at >= 0 else self.own[-1 - at]
        return int(row.min() + self.shift[0])


class WayBack(NamedTuple):
    """What solving a problem has worked out, to go on from where the next one is the same: its
    table, and the bows as rows (see `problem`)."""

    problem: Problem
    onward: Onward
    rows: Ints


class Solution:
    """The optimum of a problem, and everything that lies beside it.

    Everything is worked out when it is first asked for.
    """

    def __init__(
        self,
        problem: Problem,
        known: Ints | None = None,
        earlier: WayBack | None = None,
    ) -> None:
        """Solve a problem.

        Args:
            known: the optimum as rows (see `problem`), where it is known; then nothing is solved
                until alternatives are asked for.
            earlier: a problem of the same units that has been solved; of its table and bows
                those are taken over that must be the same.
        """
        self.problem = problem
        self._earlier = earlier if earlier and problem.fits(earlier.problem) else None
        self._given = known

    def give_back(self) -> None:
        """Give back the memory of the tables: they are made anew when they are asked for."""
        self._given = self.rows
        for name in _TABLES:
            vars(self).pop(name, None)

    @cached_property
    def total(self) -> int:
        """Cost of the optimum in millionths."""
        if self._given is not None:
            return cost_of_rows(self.problem, self.rows)
        return self._onward.least

    @cached_property
    def bows(self) -> dict[int, Step]:
        """The optimum: the first unit of every bow, and what the bow does."""
        return steps_of(self.bow_rows)

    @cached_property
    def steps(self) -> list[Step]:
        """The optimum, one `Step` a bow."""
        return list(self.bows.values())

    @cached_property
    def _changed(self) -> Bools:
        """The units of which something is not as it was in the earlier problem."""
        if self._earlier is None:
            return np.ones(self.problem.units_n, dtype=bool)
        return self.problem.differs(self._earlier.problem)

    @cached_property
    def _solved(self) -> tuple[Onward, Bools]:
        """The way back; and the units whose costs are not the earlier ones but for a shift."""
        p = self.problem
        own = _ROOM.take(_shape(p))
        where, shift = np.empty((2, p.units_n), dtype=np.int64)
        differs = np.zeros(p.units_n, dtype=bool)
        none = np.empty(0, dtype=np.int64)
        before = Onward(own[:0], own[:0], none, none)
        if self._earlier is not None:
            before = self._earlier.onward
        rows_n, copied_n = kernels.run_backwards(
            *p.costs, *before, self._changed, own, where, shift, differs
        )
        if not len(before.where):
            return Onward(own, own[:0], -1 - where, shift), differs
        if rows_n < p.units_n // 4:
            _ROOM.table, own = own, own[:rows_n].copy()  # else all its room would be kept
        onward = Onward(before.base, own, where, shift)
        if copied_n > p.units_n // 4:
            onward = onward.on_base()  # else they would be copied every time
        return onward, differs

    @property
    def _onward(self) -> Onward:
        return self._solved[0]

    @cached_property
    def onward(self) -> Ints:
        """The table of the way back, written out (see `Onward`)."""
        return self._onward.whole

    @property
    def way_back(self) -> WayBack:
        """What was worked out, for a problem like this one."""
        return WayBack(self.problem, self._onward, self.rows)

    @cached_property
    def forwards(self) -> tuple[Ints, Ints]:
        """Before[i, l, s, d, k1]: best cost up to and with the bow of l + 1 units that ends with
        unit i at k1. Through[i, l, d, join]: least cost of the whole with such a bow from unit i.
        Made when alternatives are first asked for; the optimum itself needs only the way back.
        """
        before, through = kernels.run_forwards(*self.problem.costs, self.onward)
        return before, through

    @cached_property
    def extra(self) -> Ints:
        """Exact extra cost of a bow that begins with each unit in each direction and join, all the
        rest solved for the best, shape (N, 2, 3); `IMPOSSIBLE` if it cannot be."""
        return self._extra_of(self.forwards[1].min(axis=1))

    def _extra_of(self, through: Ints) -> Ints:
        """How much more than the optimum; what cannot be may cost a little less than it should."""
        extra: Ints = np.where(through < IMPOSSIBLE // 2, through - self.total, IMPOSSIBLE)
        return extra

    @property
    def bow_rows(self) -> Ints:
        """The optimum, a row a bow (see `problem`)."""
        return self.rows[self.rows[:, 0] >= 0]

    @cached_property
    def rows(self) -> Ints:
        """The optimum by first unit, as the inner loops take it (see `problem`)."""
        return self._first_rows() if self._given is None else self._given

    def _first_rows(self) -> Ints:
        """The optimum; where nothing is changed, the earlier one."""
        earlier, n = self._earlier, self.problem.units_n
        rows = np.full((n, 6), -1, dtype=np.int64)
        known = rows[:0] if earlier is None else earlier.rows
        begun = self.trace(0, np.zeros(4, dtype=np.int64), known, self._changed, self._solved[1])
        rows[begun[:, 0]] = begun
        self._earlier = None  # all that was to be had of it
        return rows

    def trace(self, first: int, came: Ints, known: Ints, changed: Bools, differs: Bools) -> Ints:
        """Best bows from unit `first` on, as rows (see `kernels.trace`)."""
        base, own, where, _ = self._onward
        rows: Ints = kernels.trace(
            *self.problem.costs, base, own, where, first, came, known, changed, differs
        )
        return rows


class _Room(local):
    """Room for a table of which little will be needed: to ask the system for it every time takes
    longer than to fill it. One for each thread."""

    table: Ints | None = None

    def take(self, shape: tuple[int, ...]) -> Ints:
        found, self.table = self.table, None
        return np.empty(shape, dtype=np.int64) if found is None or found.shape != shape else found


_ROOM = _Room()
_TABLES = ("_changed", "_solved", "onward", "forwards")


def _shape(p: Problem) -> tuple[int, ...]:
    return p.units_n, p.longest_n, p.evenness.shape[1], 2, POSITIONS_N
