"""Rounds in which each part answers the others, from several beginnings, until none would change.

An answer is an exact plan of one part under what the others ask, so the cost of all together never
rises, and a round without a change ends it. That is the least along each part, which need not be
the least of all: hence several beginnings. The parts' costs each by itself are a bound below.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from plectrum.core.planning import rules
from plectrum.core.planning.ensemble.coupling import Bowed, Coupling
from plectrum.core.planning.strokes.costs import CostTables
from plectrum.core.planning.strokes.dynamic_program import Solution, WayBack
from plectrum.core.planning.strokes.terms import Asked

MOST_ROUNDS = 12  # each but the last lowers the cost; two or three are usual
MOST_LEADERS = 5  # parts, from the first, that are once followed by all others
MOST_TRIED = 8  # moments at which all are tried one way


@dataclass(frozen=True, eq=False)
class Answer:
    """How a part bows under what is asked of it; `own` is its cost without that."""

    tables: CostTables
    solution: Solution
    bowed: Bowed
    own: int

    def under(self, asked: Asked) -> int:
        """What bowing so costs under what is asked."""
        return self.own + self.bowed.cost_of(asked)


class Voice:
    """One part, which can be asked."""

    def __init__(self, tables: CostTables) -> None:
        self.tables = tables
        self._earlier: WayBack | None = None
        self._kept: tuple[Asked, Answer] | None = None

    @property
    def units_n(self) -> int:
        return len(self.tables.units)

    def answer(self, asked: Asked) -> Answer:
        """The least cost of the part and what is asked."""
        if self._kept is not None and _alike(self._kept[0], asked):
            return self._kept[1]
        tables = self.tables.asking(asked)
        solution = Solution(tables.problem, earlier=self._earlier)
        self._earlier = solution.way_back
        bowed = Bowed.of(solution)
        answer = Answer(tables, solution, bowed, solution.total - bowed.cost_of(asked))
        self._kept = asked, answer
        return answer


def _alike(a: Asked, b: Asked) -> bool:
    same = np.array_equal(a.direction, b.direction) and np.array_equal(a.join, b.join)
    if a.place is None or b.place is None:
        return same and a.place is b.place
    return same and np.array_equal(a.place, b.place)


@dataclass(frozen=True, eq=False)
class Settled:
    """How all parts bow together.

    Attributes:
        cost: of all parts and all pairs, in millionths.
    """

    answers: tuple[Answer, ...]
    cost: int


def _cost(settled: Settled) -> int:
    return settled.cost


class Rounds:
    """Parts, and what they cost each other."""

    def __init__(self, voices: Sequence[Voice], coupling: Coupling) -> None:
        self.voices, self.coupling = voices, coupling
        nothing: list[Bowed | None] = [None] * len(voices)
        self.alone = tuple(
            voice.answer(coupling.asked(p, nothing)) for p, voice in enumerate(voices)
        )

    @property
    def bound(self) -> int:
        """No plan of all together costs less."""
        return sum(answer.own for answer in self.alone)

    def in_turn(self, leader: int) -> Settled:
        """One part as by itself, and every other bowed to go with those before it."""
        answers = list(self.alone)
        bowed: list[Bowed | None] = [None] * len(answers)
        bowed[leader] = answers[leader].bowed
        for p in range(len(answers)):
            if p != leader:
                answers[p] = self.voices[p].answer(self.coupling.asked(p, bowed))
                bowed[p] = answers[p].bowed
        return self.priced(answers)

    def best(self) -> Settled:
        """The cheapest that the rounds come to."""
        return self.met(min((self.settle(start) for start in self._beginnings()), key=_cost))

    def _beginnings(self) -> Iterator[Settled]:
        yield self.priced(self.alone)
        for leader in range(min(len(self.voices), MOST_LEADERS)):
            yield self.in_turn(leader)

    def met(self, settled: Settled) -> Settled:
        """The same after trying, wherever parts go apart and beside it, what comes of all going one
        way there: two parts may have to change at once for either to gain."""
        for moment in self._apart(settled)[:MOST_TRIED]:
            for way in (0, 1):
                tried = self.settle(self._forced(settled, moment, way))
                settled = min(settled, tried, key=_cost)
        return settled

    def _apart(self, settled: Settled) -> list[int]:
        """The moments at which parts go different ways, then those beside them."""
        units = self.coupling.matched.units
        ways = [a.bowed.direction[units[:, p]] for p, a in enumerate(settled.answers)]
        down, up = (
            np.any([(way == d) & (units[:, p] >= 0) for p, way in enumerate(ways)], axis=0)
            for d in (0, 1)
        )
        apart = np.flatnonzero(down & up).tolist()
        beside = (m + k for m in apart for k in (-1, 1) if 0 <= m + k < len(units))
        return list(dict.fromkeys([*apart, *beside]))

    def _forced(self, settled: Settled, moment: int, way: int) -> Settled:
        """The answers of all parts if they have to go one way at a moment."""
        bowed = [a.bowed for a in settled.answers]
        answers = list(settled.answers)
        for p, unit in enumerate(self.coupling.matched.units[moment].tolist()):
            if unit >= 0:
                asked = self.coupling.asked(p, bowed)
                asked.direction[unit, 1 - way] += rules.millionths(rules.GUARD)
                answers[p] = self.voices[p].answer(asked)
        return self.priced(answers)

    def settle(self, start: Settled) -> Settled:
        """Let the parts answer each other until none would change."""
        answers = list(start.answers)
        for _ in range(MOST_ROUNDS):
            gained = False
            for p, voice in enumerate(self.voices):
                asked = self.coupling.asked(p, [a.bowed for a in answers])
                answer = voice.answer(asked)
                # what the pairs without this part cost is the same before and after
                if answer.under(asked) < answers[p].under(asked):
                    answers[p], gained = answer, True
            if not gained:
                break
        return self.priced(answers)

    def priced(self, answers: Sequence[Answer]) -> Settled:
        own = sum(answer.own for answer in answers)
        return Settled(tuple(answers), own + self.coupling.cost([a.bowed for a in answers]))
