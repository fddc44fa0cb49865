"""The plan: every note with its direction, join and place on the bow, and how it came about."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Iterable, Iterator, Mapping
from copy import copy
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import takewhile

from plectrum.core.document.choices import NO_PIN, Choices, Join, Pin
from plectrum.core.document.kept_bows import as_held, held_bows, let_go_about
from plectrum.core.planning import rules as w
from plectrum.core.planning.contact.contact import Contact, contact_of
from plectrum.core.planning.feedback import Tried, unpinned
from plectrum.core.planning.fingering.grips import Fingered
from plectrum.core.planning.fingering.search import fingering_of
from plectrum.core.planning.strokes.amounts import school_range
from plectrum.core.planning.strokes.costs import CostTables
from plectrum.core.planning.strokes.dynamic_program import Solution
from plectrum.core.planning.strokes.equal_bars import find_equals
from plectrum.core.planning.strokes.kept import kept_of
from plectrum.core.planning.strokes.other_bows import changed_by
from plectrum.core.planning.strokes.planned import DIRECTIONS, JOINS, PlannedPart
from plectrum.core.planning.strokes.problem import (
    TURN,
    Ints,
    Step,
    cost_of_rows,
    rows_of,
    unlike_rows,
)
from plectrum.core.planning.strokes.solving import Solved, hold_ways, solve_strokes
from plectrum.core.planning.strokes.stroke_tables import NOT_HELD, Held, held_by
from plectrum.core.planning.strokes.terms import Nudges, nominal_joins
from plectrum.core.planning.strokes.units import Unit, pin_of
from plectrum.core.planning.tempo_window import tempo_window
from plectrum.core.score.model import Direction, Part
from plectrum.core.wording import say, tr

JOIN_CODES = {join: code for code, join in JOINS.items()}


@dataclass(frozen=True, slots=True)
class Alternative:
    """One other way to play a unit, with what it costs all in all and what would change."""

    direction: Direction
    join: Join
    extra_cost: float
    possible: bool
    obstacle: str = ""


def in_order(found: Iterable[Alternative]) -> tuple[Alternative, ...]:
    """The cheapest first, then what cannot be."""
    return tuple(sorted(found, key=lambda a: (not a.possible, a.extra_cost)))


@dataclass(frozen=True, slots=True)
class Change:
    """What an alternative would change: bars that bow otherwise, and the cost by term."""

    bars: tuple[int, ...]
    flipped_bars: tuple[int, ...]
    terms: tuple[tuple[str, float], ...]


class Plan(PlannedPart):
    """A planned part with what it cost, what else could be, and what follows from it."""

    def __init__(
        self, part: Part, choices: Choices, together: Mapping[int, Direction] | None = None
    ) -> None:
        part = part.at_tempo(choices.tempo_bpm)
        held = as_held(part, choices)
        fingered = fingering_of(part, held)
        base = unpinned(part, held, fingered)
        solved = _solved(part, held, fingered, together or {}, base)
        super().__init__(part, choices, fingered, solved.units, solved.rows, solved.notes)
        if solved is base.solved and not choices.pins:
            self.contact = base.contact
        self._take(solved)
        self.is_settled = False  # with other parts

    def _take(self, solved: Solved) -> None:
        self._solved = solved  # nothing else holds it for the plans that share it
        self.tables, self.solution = solved.tables, solved.solution
        self.units, self.rows, self.notes = solved.units, solved.rows, solved.notes
        self._firsts = self.rows[:, 0].tolist()

    def settled(self, tables: CostTables, solution: Solution) -> Plan:
        """The same part and choices as their bows were settled with other parts."""
        other = copy(self)
        for name in _DERIVED:
            vars(other).pop(name, None)
        other._take(Solved.of(self.part, self.choices, self.fingered, tables, solution))
        other.is_settled = True
        return other

    @cached_property
    def contact(self) -> Contact:
        """Contact, weight, hand and arm of every bowed note."""
        return contact_of(self)

    @cached_property
    def contact_rows(self) -> dict[int, int]:
        """Note index to its row in `contact`."""
        return {int(note): row for row, note in enumerate(self.contact.notes)}

    @cached_property
    def tempo_window(self) -> tuple[float, float] | None:
        """Slowest and fastest tempo this very plan bears, in beats a minute; None if none."""
        return tempo_window(self)

    @property
    def total_cost(self) -> float:
        """Cost of the optimum; the sum of `terms`."""
        return self.solution.total / w.MILLIONTHS

    @cached_property
    def terms(self) -> dict[str, float]:
        """The total cost by term."""
        rows = self.solution.bow_rows
        sums = self.tables.terms_of(*unlike_rows(self.tables.problem, rows, rows[:0]))
        return {name: sums[name] / w.MILLIONTHS for name in w.TERMS if name in sums}

    def alternatives(self, unit: int) -> tuple[Alternative, ...]:
        """Every direction and join of a unit with what it costs when it is taken, cheapest first:
        planned anew with it pinned, each in its turn; 0 for the plan's own choice. Bars that are
        held alike now may go otherwise then, so another way can come cheaper.
        """
        return in_order(self.priced_anew(unit, a) for a in self.alternatives_at_once(unit))

    def priced_anew(self, unit: int, alternative: Alternative) -> Alternative:
        """One of them, with what it costs when it is taken."""
        settled = self.is_settled  # other parts would have their say again
        if settled or alternative.extra_cost == 0.0 or not alternative.possible:
            return alternative
        more = self.taking(unit, alternative).solution.total - self.solution.total
        return replace(alternative, extra_cost=more / w.MILLIONTHS)

    @cached_property
    def prices_are_sure(self) -> bool:
        """Whether what is known at once is what it costs: no bars are alike that would follow."""
        alike = find_equals(self.part, self.tables.units)
        return self.is_settled or (not alike and self.pricing.total == self._price)

    def taking(self, unit: int, alternative: Alternative) -> Plan:
        """The plan with an alternative of a unit pinned."""
        head, join = self.head_of(unit), alternative.join
        pin = replace(
            self.choices.pins.get(head.id, NO_PIN),
            direction=alternative.direction,
            join=None if join is Join.START else join,
        )
        return Plan(self.part, self.choices.with_pin(head.id, pin), self.goes_with)

    @cached_property
    def pricing(self) -> Solution:
        """What is asked for prices: the problem without what every bar is asked to hold, so that
        another way does not cost what it would not when it is taken."""
        base = self.tables.units.base
        known = {} if self.is_settled else base.kept.setdefault("solved", {})
        solution = Solution(self._free_tables.problem, earlier=known.get("free"))
        known["free"] = solution.way_back
        return solution

    @cached_property
    def _free_tables(self) -> CostTables:
        return self.tables.nudged(Nudges(asked=self.tables.nudges.asked))

    @cached_property
    def _price(self) -> int:
        """What the plan costs there."""
        return cost_of_rows(self._free_tables.problem, self.solution.rows)

    def alternatives_at_once(self, unit: int) -> tuple[Alternative, ...]:
        """The same from one table for all units, which is right but where bars that are alike
        would follow. A unit's own mark or pin is left out of account. Where the bow is one that
        was kept, those about it are let go, as they would be.
        """
        if (freed := self.freed_about(unit)) is not None:
            return self._over_kept(freed, unit)
        own = self.tables.own_constraints(self._firsts[unit])
        chosen = self.steps[unit]
        through = self.pricing.forwards[1][self._firsts[unit]].min(axis=0)
        found = []
        for d, direction in enumerate(DIRECTIONS):
            for join in JOINS.values():
                code = self._join_code(unit, d, join)
                if code is None or (unit == 0 and code != TURN):
                    continue
                possible = int(through[d, code]) < w.IMPOSSIBLE // 2
                extra = int(through[d, code]) - self._price if possible else w.IMPOSSIBLE
                mine = (d, code) == (chosen.direction, chosen.join if unit else TURN)
                if possible and not mine:
                    extra -= int(own[d, code if unit else TURN])
                found.append(
                    Alternative(
                        direction,
                        join if unit else Join.START,
                        0.0 if mine else extra / w.MILLIONTHS,
                        possible,
                        self._obstacle(unit, join, possible),
                    )
                )
        return in_order(found)

    def _join_code(self, unit: int, direction: int, join: Join) -> int | None:
        """As what the program has a join of a unit; None where it is not to be had. After a tremolo
        that is not counted, whatever is cheaper turns the bow."""
        first = self._firsts[unit]
        base = self.tables.units.base
        if base.after_uncounted[first] and join is Join.HOOK:
            return None
        codes = nominal_joins(self.tables.units, first, JOIN_CODES[join])
        return min(codes, key=lambda code: int(self.pricing.extra[first, direction, code]))

    def freed_about(self, unit: int) -> Plan | None:
        """The plan with the kept bows about a unit let go; None where none is kept there."""
        bar = self.part.notes[self.units[unit].first].bar_index
        if bar not in self._freed:
            held = held_bows(self.part, self.choices)
            choices = let_go_about(self.part, self.choices, self.units[unit].first)
            free = len(held) == len(held_bows(self.part, choices))
            self._freed[bar] = None if free else Plan(self.part, choices, self.goes_with)
        return self._freed[bar]

    @cached_property
    def _freed(self) -> dict[int, Plan | None]:
        return {}

    def _over_kept(self, freed: Plan, unit: int) -> tuple[Alternative, ...]:
        """The ways of a unit whose bow is kept, by what they cost more than to leave it."""
        mine, first = self.notes[self.units[unit].first], self.units[unit].first
        at = next((k for k, u in enumerate(freed.units) if u.first == first), None)
        if at is None or mine is None:
            return ()
        left = freed._price
        if freed.tables.problem.fits(self.tables.problem):
            left = cost_of_rows(freed._free_tables.problem, self.solution.rows)
        over = (left - freed._price) / w.MILLIONTHS
        found = []
        for a in freed.alternatives_at_once(at):
            own = (a.direction, a.join) == (mine.direction, mine.join)
            extra = 0.0 if own else max(0.0, a.extra_cost - over)
            found.append(replace(a, extra_cost=extra if a.possible else a.extra_cost))
        return in_order(found)

    def own_pin(self, unit: Unit) -> Pin:
        """What the teacher has pinned of a unit, not what is kept or written."""
        if self.choices.kept is None and not self.part.notes[unit.first].written_part:
            return unit.pin
        return pin_of(self.part.notes[unit.first : unit.last + 1], self.choices)

    def unit_terms(self, unit: int, step: Step) -> dict[str, int]:
        """What one bow in the place of a unit's own would cost by itself, in millionths."""
        row = rows_of({self._firsts[unit]: step})
        return self.tables.terms_of(row, 0 * row - 1)

    def parted_cost(self, note_index: int) -> float | None:
        """What the whole piece costs more if a bow begins with a note that is slurred to the one
        before; None where the slurs are as written, or it cannot begin one."""
        if self.tables.problem.longest_n == 1:
            return None
        unit = self.unit_of(note_index)
        freed = None if unit is None else self.freed_about(unit)
        if freed is not None:
            return freed.parted_cost(note_index)
        heads = {u.first: i for i, u in enumerate(self.tables.units)}
        first = heads.get(note_index)
        if first is None:
            return None
        least = int(self.pricing.forwards[1][first].min())
        return (least - self._price) / w.MILLIONTHS if least < w.IMPOSSIBLE // 2 else None

    def _obstacle(self, unit: int, join: Join, possible: bool) -> str:
        if unit and join is Join.RETAKE and self.units[unit].free_s < self.player.lift_s:
            return say("no time to lift here: it needs {lift_s:.1f} s", lift_s=self.player.lift_s)
        if unit and join is Join.HOOK and not self.player.can_hook and self.stops_for_hook(unit):
            return tr("hooks are not learnt yet")
        if unit and join is Join.RETAKE and not self.player.can_retake:
            return tr("lifting is not learnt yet")
        return "" if possible else tr("no bow left for it")

    def asked_ways(self, unit: int) -> dict[Direction, float] | None:
        """What other parts in the same rhythm make each way of a bow cost; None if nothing."""
        costs = self.tables.asked.direction[self._firsts[unit]]
        if not costs.any():
            return None
        return {way: int(c) / w.MILLIONTHS for way, c in zip(DIRECTIONS, costs, strict=True)}

    @property
    def goes_with(self) -> dict[int, Direction]:
        """Note index to the way that other parts in the same rhythm ask for: for another plan of
        the same part, to go with them as well."""
        costs = self.tables.asked.direction
        return {
            self.tables.units[i].first: DIRECTIONS[int(costs[i].argmin())]
            for i in (costs[:, 0] != costs[:, 1]).nonzero()[0].tolist()
        }

    def stops_for_hook(self, unit: int) -> bool:
        """Whether the bow would have to stop for a hook; over a rest it has stopped anyway, and
        to go the same way again needs no learning."""
        return self.part.notes[self.units[unit].first].gap_before_s <= w.REST_S

    def change_by(self, unit: int, direction: Direction, join: Join) -> Change:
        """What choosing an alternative would change in the rest of the piece."""
        first = self.units[unit].first
        if (freed := self.freed_about(unit)) is not None:
            at = next(k for k, u in enumerate(freed.units) if u.first == first)
            return freed.change_by(at, direction, join)
        first, d = self._firsts[unit], DIRECTIONS.index(direction)
        code = self._join_code(unit, d, join) if join in JOIN_CODES else TURN
        if (d, code) == (self.steps[unit].direction, self.steps[unit].join if unit else TURN):
            return Change((), (), ())
        changed = changed_by(self.pricing, first, d, TURN if code is None else code)
        about = self._about(changed)
        here = self._term_difference(rows_of(about), rows_of(_merged(about, changed)))
        sums = {name: here[name] + self.held_terms[name] for name in w.TERMS}
        rows = [(name, cost / w.MILLIONTHS) for name, cost in sums.items() if cost]
        bars = self._bars_unlike(first, changed)
        return Change(*bars, tuple(sorted(rows, key=lambda row: -abs(row[1]))))

    def _bars_unlike(
        self, first: int, changed: Mapping[int, Step]
    ) -> tuple[tuple[int, ...], tuple[int, ...]]:
        """The bars in which bows go otherwise than the plan's, and where their way does: those that
        change, and those about unit `first` that prices are read from go otherwise already. What
        else differs there is no doing of this bow's."""
        bows, priced = self.solution.bows, self.pricing.bows
        taken = {k for i, step in changed.items() for k in range(i, i + step.units_n)}

        def there(i: int) -> Step | None:
            return changed.get(i) if i in taken else priced.get(i)

        def unlike(units: Iterable[int]) -> Iterator[int]:
            begun = (i for i in units if i in bows or there(i))
            return takewhile(lambda i: bows.get(i) != there(i), begun)

        near = {*unlike(range(first, len(self.tables.units))), *unlike(range(first - 1, -1, -1))}
        bars: dict[int, None] = {}
        flipped: dict[int, None] = {}
        for i in sorted(near.union(i for i in changed if bows.get(i) != changed[i])):
            mine, other = bows.get(i), there(i)
            bar = self.part.notes[self.tables.units[i].first].bar
            bars[bar] = None
            if mine is None or other is None or mine.direction != other.direction:
                flipped[bar] = None
        return tuple(bars), tuple(flipped)

    @cached_property
    def held_terms(self) -> dict[str, int]:
        """What the bows that prices are read from cost more than the plan's, by term: less where
        bars that are alike are held."""
        return self._term_difference(self.solution.bow_rows, self.pricing.bow_rows)

    @cached_property
    def _pricing_firsts(self) -> list[int]:
        return sorted(self.pricing.bows)

    def _unit_before(self, i: int) -> int:
        """The unit that is played before unit i, where no slur is the plan's own; −1 for none."""
        return int(self.tables.problem.before[i])

    def _about(self, changed: Mapping[int, Step]) -> dict[int, Step]:
        """The bows that prices are read from and some others touch, and one on each side, which
        is entered otherwise."""
        firsts, bows = self._pricing_firsts, self.pricing.bows
        end = max((i + step.units_n for i, step in changed.items()), default=0)
        a = bisect_right(firsts, min(changed, default=0)) - 2
        b = bisect_left(firsts, end) + 1
        about = set(firsts[max(0, a) : b])
        forks = self.tables.units.base.forks
        about.update(i for i in forks if i in bows)  # they are few
        about.update(firsts[bisect_right(firsts, self._unit_before(i)) - 1] for i in forks)
        return {i: bows[i] for i in sorted(about)}

    def _term_difference(self, old: Ints, new: Ints) -> dict[str, int]:
        """What new bows, as rows, cost more than old ones, by term, in millionths."""
        tables = self._free_tables
        more = tables.terms_of(*unlike_rows(tables.problem, new, old))
        less = tables.terms_of(*unlike_rows(tables.problem, old, new))
        return {name: more.get(name, 0) - less.get(name, 0) for name in w.TERMS}


def _solved(
    part: Part,
    choices: Choices,
    fingered: tuple[Fingered, ...],
    together: Mapping[int, Direction],
    base: Tried,
) -> Solved:
    """The strokes as they are pinned: those of another plan that is still there where the pins say
    the same of strokes, as lanes alone change none."""
    said = ((note_id, pin.of_strokes) for note_id, pin in choices.pins.items())
    pins = frozenset((note_id, of) for note_id, of in said if of != NO_PIN.of_strokes)
    if not pins and not together:
        return base.solved

    def solve() -> Solved:
        held = hold_ways(part, choices, fingered, together)
        return solve_strokes(part, choices, fingered, held, base.fed)

    key = choices.bowing, choices.slur_amount, pins, frozenset(together.items())
    return kept_of(part, choices, fingered).shared("solved", key, solve)


_DERIVED = tuple(
    name
    for cls in (PlannedPart, Plan)
    for name, value in vars(cls).items()
    if isinstance(value, cached_property)
)


def _merged(bows: Mapping[int, Step], changed: Mapping[int, Step]) -> dict[int, Step]:
    """The bows of a plan with changed ones in place of all they touch."""
    merged: dict[int, Step] = {}
    free_from = 0
    for i in sorted({*bows, *changed}):
        if i < free_from:
            continue
        merged[i] = changed.get(i) or bows[i]
        free_from = i + merged[i].units_n
    return merged


def held_at(plan: Plan, note: int) -> Held:
    """What a word of the teacher's holds of the stroke a note is in, in cells."""
    planned = plan.notes[note]
    pin = NO_PIN if planned is None else plan.own_pin(plan.units[planned.unit])
    if pin.place is None and pin.amount is None:
        return NOT_HELD
    return held_by(pin, plan.choices.bow, school_range(plan.choices))


def make_plan(
    part: Part, choices: Choices, together: Mapping[int, Direction] | None = None
) -> Plan:
    """Plan a part: the same part and choices always give the same plan.

    Args:
        part: the notes, at the tempo of the page.
        choices: instrument, bow, player, school, tempo and pins.
        together: note index to the direction another part has in the same rhythm.
    """
    return Plan(part, choices, together)
