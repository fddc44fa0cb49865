"""Several parts planned as one, and what of it does not go together.

In a group everybody's bow goes the same way (common practice): where bows begin and end together
they go the same way, turn, hook and lift together, and lie in the same region of the bow. No part
is asked for what its player cannot; where parts must differ, the place is listed with the reason.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

from plectrum.core.document.choices import Choices
from plectrum.core.planning import rules
from plectrum.core.planning.ensemble.coupling import Bowed, Coupling
from plectrum.core.planning.ensemble.differing import Difference, differences_of
from plectrum.core.planning.ensemble.matching import Matched, match
from plectrum.core.planning.ensemble.rounds import Rounds, Voice
from plectrum.core.planning.plan import Plan, make_plan
from plectrum.core.planning.strokes.units import slurs_are_free
from plectrum.core.score.model import Part
from plectrum.core.wording import say, several, tr

MOST_REGIONS_N = 2500  # bows that match; with more, regions are not asked: each takes 40 kB


@dataclass(frozen=True, eq=False)
class Ensemble:
    """Plans of several parts, in their order.

    Attributes:
        alone: what each part would do by itself. matched: where they have the same rhythm.
        cost: of all parts and of all that goes apart; bound: no plan of all costs less;
        in_turn: what it costs if each part only follows those before it.
    """

    plans: tuple[Plan, ...]
    alone: tuple[Plan, ...]
    matched: Matched
    cost: float
    bound: float
    in_turn: float

    @cached_property
    def differences(self) -> tuple[Difference, ...]:
        """Where parts of the same rhythm do not do the same, with the reason."""
        return differences_of(self.plans, self.matched)

    @cached_property
    def before(self) -> tuple[Difference, ...]:
        """The same of the parts each planned by itself."""
        return differences_of(self.alone, self.matched)

    @property
    def words(self) -> str:
        """Such as "24 places match, 3 of them go different ways"."""
        if self.matched.too_many:
            return say(
                "{n} parts are too many to agree: each is bowed by itself", n=self.matched.parts_n
            )
        if not len(self.matched):
            return tr("no two bows begin and end together")
        apart = len([d for d in self.differences if d.what == "way"])
        which = (
            several("{n} of them goes different ways", "{n} of them go different ways", apart)
            if apart
            else tr("all go the same way")
        )
        return say("{count} places match, {which}", count=len(self.matched), which=which)


def answering(part: Part, choices: Choices, ensemble: Ensemble, number: int) -> Plan:
    """One part planned anew to go with the others as they are: soon there, and nearly always what
    planning all as one comes to. The part has the same notes as before."""
    plan = make_plan(part, choices)
    plans = [*ensemble.plans]
    plans[number] = plan
    matched = match([p.part for p in plans], [p.tables.units for p in plans])
    if matched.too_many:
        return plan
    units_n = [len(p.tables.units) for p in plans]
    coupling = Coupling(matched, units_n, free=slurs_are_free(choices))
    bowed: list[Bowed | None] = [Bowed.of(p.solution) for p in ensemble.plans]
    bowed[number] = None
    answer = Voice(plan.tables.firm()).answer(coupling.asked(number, bowed))
    return plan.settled(answer.tables, answer.solution)


def plan_together(parts: Sequence[tuple[Part, Choices]]) -> Ensemble:
    """Plan parts as one; the same parts and choices always give the same plans.

    First only the ways and joins are settled, from several beginnings; then, from the best of
    them, the regions of the bow too. It never costs more than if each part only followed.
    """
    alone = [make_plan(part, choices) for part, choices in parts]
    matched = match([p.part for p in alone], [p.tables.units for p in alone])
    if matched.too_many:
        cost = sum(plan.solution.total for plan in alone) / rules.MILLIONTHS
        return Ensemble(tuple(alone), tuple(alone), matched, cost, cost, cost)
    voices = [Voice(plan.tables.firm()) for plan in alone]
    free = any(slurs_are_free(choices) for _, choices in parts)
    units_n = [voice.units_n for voice in voices]
    ways = Rounds(voices, Coupling(matched, units_n, free=free, regions=False)).best()
    few = int((matched.units >= 0).sum()) <= MOST_REGIONS_N
    coupling = Coupling(matched, units_n, free=free, regions=few)
    rounds = Rounds(voices, coupling)
    in_turn = rounds.in_turn(0)
    settled = rounds.settle(rounds.priced(ways.answers))
    if in_turn.cost < settled.cost:
        settled = rounds.settle(in_turn)
    plans = [
        plan.settled(answer.tables, answer.solution) if len(matched) else plan
        for plan, answer in zip(alone, settled.answers, strict=True)
    ]
    return Ensemble(
        tuple(plans),
        tuple(alone),
        matched,
        settled.cost / rules.MILLIONTHS,
        rounds.bound / rules.MILLIONTHS,
        in_turn.cost / rules.MILLIONTHS,
    )
