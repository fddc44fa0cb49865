"""The plan: every note with its direction, join and place on the bow, and how it came about."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

from plectrum.core.document.choices import Choices, Join
from plectrum.core.document.document import Document
from plectrum.core.planning import rules as w
from plectrum.core.planning.contact.contact import Contact, contact_of
from plectrum.core.planning.fingering.search import fingering_of
from plectrum.core.planning.strokes.dynamic_program import (
    TURN,
    Step,
)
from plectrum.core.planning.strokes.planned import DIRECTIONS, JOINS, PlannedPart, planned_notes
from plectrum.core.planning.strokes.solving import solve_strokes
from plectrum.core.planning.strokes.units import build_units
from plectrum.core.planning.tempo_window import tempo_window
from plectrum.core.score.model import Direction, Part

JOIN_CODES = {join: code for code, join in JOINS.items()}


@dataclass(frozen=True, slots=True)
class Alternative:
    """One other way to play a unit, with what it costs all in all and what would change."""

    direction: Direction
    join: Join
    extra_cost: float
    possible: bool
    obstacle: str = ""


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
        fingered = fingering_of(part, choices)
        units = build_units(part, choices, fingered)
        wanted = together or {}
        self.tables, self.solution = solve_strokes(part, choices, units, wanted)
        steps = self.solution.steps
        notes = planned_notes(part, choices, fingered, units, steps)
        super().__init__(part, choices, fingered, units, steps, notes)

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
        sums = dict.fromkeys(w.TERMS, 0)
        for i, step in enumerate(self.steps):
            before = self.steps[i - 1] if i else None
            for name, cost in self.tables.terms_of(i, step, before).items():
                sums[name] += cost
        return {name: cost / w.MILLIONTHS for name, cost in sums.items() if cost}

    def alternatives(self, unit: int) -> tuple[Alternative, ...]:
        """Every direction and join of a unit with its exact extra cost, cheapest first.

        The extra cost is what the whole piece costs more, all else planned anew for the
        best; 0 for the plan's own choice. A unit's own mark or pin is left out of account.
        """
        own = self.tables.own_constraints(unit)
        chosen = self.steps[unit]
        found = []
        for d, direction in enumerate(DIRECTIONS):
            for code, join in JOINS.items():
                if unit == 0 and code != TURN:
                    continue
                extra = int(self.solution.extra[unit, d, code])
                possible = extra < w.IMPOSSIBLE // 2
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
        return tuple(sorted(found, key=lambda a: (not a.possible, a.extra_cost)))

    def _obstacle(self, unit: int, join: Join, possible: bool) -> str:
        if unit and join is Join.RETAKE and self.units[unit].free_s < self.player.lift_s:
            return f"no time to lift here: it needs {self.player.lift_s:.1f} s"
        if unit and join is Join.HOOK and not self.player.can_hook:
            return "hooks are not learnt yet"
        if unit and join is Join.RETAKE and not self.player.can_retake:
            return "lifting is not learnt yet"
        return "" if possible else "no bow left for it"

    def change_by(self, unit: int, direction: Direction, join: Join) -> Change:
        """What choosing an alternative would change in the rest of the piece."""
        code = JOIN_CODES.get(join, TURN)
        changed = self.solution.changed_by(unit, DIRECTIONS.index(direction), code)
        bars: dict[int, None] = {}
        flipped: dict[int, None] = {}
        for i in sorted(changed):
            bar = self.head_of(i).bar
            bars[bar] = None
            if changed[i].direction != self.steps[i].direction:
                flipped[bar] = None
        return Change(tuple(bars), tuple(flipped), self._term_difference(changed))

    def _term_difference(self, changed: dict[int, Step]) -> tuple[tuple[str, float], ...]:
        sums = dict.fromkeys(w.TERMS, 0)
        touched = {j for i in changed for j in (i, i + 1) if j < len(self.steps)}
        for i in touched:
            old_before = self.steps[i - 1] if i else None
            new_before = changed.get(i - 1, old_before) if i else None
            for name, cost in self.tables.terms_of(
                i, changed.get(i, self.steps[i]), new_before
            ).items():
                sums[name] += cost
            for name, cost in self.tables.terms_of(i, self.steps[i], old_before).items():
                sums[name] -= cost
        rows = [(name, cost / w.MILLIONTHS) for name, cost in sums.items() if cost]
        return tuple(sorted(rows, key=lambda row: -abs(row[1])))


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


def plan_of(document: Document) -> Plan:
    """The plan of a document: its part under its choices."""
    return make_plan(document.part, document.choices)
