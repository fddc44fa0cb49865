"""The plan: every note with its direction, join and place on the bow, and how it came about."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

from plectrum.core.instrument.tables import instrument
from plectrum.core.planning import weights as w
from plectrum.core.planning.amounts import Amounts, amounts_of, moving_share
from plectrum.core.planning.choices import Choices, Join
from plectrum.core.planning.contact import Contact, contact_of
from plectrum.core.planning.costs import DIRECTION_CODES, TERMS, CostTables, Nudges
from plectrum.core.planning.equals import find_equals, wishes_of
from plectrum.core.planning.program import HOOK, RETAKE, TURN, Solution, Step, cost_of
from plectrum.core.planning.seams import settle_seams
from plectrum.core.planning.sharing import share_unit
from plectrum.core.planning.strings import crossings_n, fingering_of
from plectrum.core.planning.tempo import tempo_window
from plectrum.core.planning.units import Unit, build_units, stops_inside
from plectrum.core.score.model import Articulation, Direction, Note, Part

ROUNDS_N = 4  # how often equal bars and repeats are asked again; two are nearly always enough
DIRECTIONS = (Direction.DOWN, Direction.UP)
JOINS = {TURN: Join.TURN, HOOK: Join.HOOK, RETAKE: Join.RETAKE}
JOIN_CODES = {join: code for code, join in JOINS.items()}


@dataclass(frozen=True, slots=True)
class PlannedNote:
    """What the bow does on one note. Positions are fractions of the hair from the frog.

    `moving_s` is the part of the note's time in which the bow moves, from its onset.
    """

    note: Note
    unit: int
    stroke: int
    direction: Direction
    join: Join
    start: float
    end: float
    length_mm: float
    moving_s: float
    stop_after: bool

    @property
    def speed_mm_s(self) -> float:
        return self.length_mm / self.moving_s if self.moving_s > 0 else 0.0


@dataclass(frozen=True, slots=True)
class Stroke:
    """All that is played in one bow direction without turning or lifting."""

    index: int
    direction: Direction
    join: Join
    first_note: int
    last_note: int
    start: float
    end: float
    length_mm: float
    speed_mm_s: float
    kind: str


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


class Plan:
    """A complete plan of one part. Immutable; derived views are made when first asked for.

    Attributes:
        part: the part, at the plan's tempo.
        choices: what it was made from.
        fingered: string and finger of every note.
        notes: one entry a note; None for notes without bow.
        strokes: the strokes in order.
    """

    def __init__(
        self, part: Part, choices: Choices, together: Mapping[int, Direction] | None = None
    ) -> None:
        self.part = part.at_tempo(choices.tempo_bpm)
        self.choices = choices
        self.player = choices.player.on(choices.instrument)
        self.instrument = instrument(choices.instrument)
        self.fingered = fingering_of(self.part, choices)
        self.units: list[Unit] = build_units(self.part, choices, self.fingered)
        self.tables, self.solution = self._solve(dict(together or {}))
        self.steps: list[Step] = self.solution.steps
        self.notes: tuple[PlannedNote | None, ...] = self._planned_notes()

    def _solve(self, together: dict[int, Direction]) -> tuple[CostTables, Solution]:
        """Solve, ask equal bars for equal bows and repeats to close, until nothing changes."""
        wanted = {
            u.index: DIRECTION_CODES[together[u.first]] for u in self.units if u.first in together
        }
        equals = find_equals(self.part, self.units, self.fingered)
        plain = CostTables(self.units, self.choices, Nudges({}, (), wanted))
        tables = plain.with_seams(settle_seams(plain, equals.sections))
        solution = Solution(tables.problem)
        for _ in range(ROUNDS_N):
            same = wishes_of(equals, solution.steps)
            if same == tables.nudges.same:
                break
            asked = plain.nudged(Nudges(same, (), wanted))
            tables = asked.with_seams(settle_seams(asked, equals.sections))
            still_best = cost_of(tables.problem, solution.steps) == solution.total
            solution = Solution(tables.problem, solution.steps if still_best else None)
        return tables, solution

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
        sums = dict.fromkeys(TERMS, 0)
        for i, step in enumerate(self.steps):
            before = self.steps[i - 1] if i else None
            for name, cost in self.tables.terms_of(i, step, before).items():
                sums[name] += cost
        return {name: cost / w.MILLIONTHS for name, cost in sums.items() if cost}

    def unit_of(self, note_index: int) -> int | None:
        planned = self.notes[note_index]
        return None if planned is None else planned.unit

    def head_of(self, unit: int) -> Note:
        return self.part.notes[self.units[unit].first]

    def _planned_notes(self) -> tuple[PlannedNote | None, ...]:
        notes: list[PlannedNote | None] = [None] * len(self.part.notes)
        stroke = -1
        amounts = amounts_of(self.part, self.choices)
        kept = amounts.kept(self.fingered)
        last = len(self.steps) - 1
        for i, (unit, step) in enumerate(zip(self.units, self.steps, strict=True)):
            stroke += i == 0 or step.join != HOOK
            hooked_on = i < last and self.steps[i + 1].join == HOOK
            key = ("notes", i, unit.first, unit.last, stroke, step, hooked_on)
            members = kept.get(key)
            if members is None:
                members = kept[key] = self._unit_notes(unit, step, stroke, hooked_on, amounts)
            notes[unit.first : unit.last + 1] = members
        return tuple(notes)

    def _unit_notes(
        self, unit: Unit, step: Step, stroke: int, hooked_on: bool, amounts: Amounts
    ) -> list[PlannedNote]:
        """The notes of one unit as its step plays them."""
        members = self.part.notes[unit.first : unit.last + 1]
        join = Join.START if unit.index == 0 else JOINS[step.join]
        ends = share_unit(members, amounts, step.start / w.CELLS_N, step.end / w.CELLS_N)
        planned = []
        for k, (note, (start, end)) in enumerate(zip(members, ends, strict=True)):
            inner_stop = k > 0 and stops_inside(note, members[k - 1])
            last = k == len(members) - 1
            stop_after = hooked_on if last else stops_inside(members[k + 1], note)
            planned.append(
                PlannedNote(
                    note,
                    unit.index,
                    stroke,
                    DIRECTIONS[step.direction],
                    join if k == 0 else (Join.HOOK if inner_stop else Join.SLUR),
                    start,
                    end,
                    abs(end - start) * self.choices.bow.hair_mm,
                    note.duration_s * moving_share(note, stop_after),
                    stop_after,
                )
            )
        return planned

    @cached_property
    def strokes(self) -> tuple[Stroke, ...]:
        """The strokes in order; made when first asked for."""
        grouped: dict[int, list[PlannedNote]] = {}
        for planned in self.notes:
            if planned is not None:
                grouped.setdefault(planned.stroke, []).append(planned)
        strokes = []
        for index, members in grouped.items():
            first, last = members[0], members[-1]
            length_mm = abs(last.end - first.start) * self.choices.bow.hair_mm
            moving_s = sum(m.moving_s for m in members)
            strokes.append(
                Stroke(
                    index,
                    first.direction,
                    first.join,
                    first.note.index,
                    last.note.index,
                    first.start,
                    last.end,
                    length_mm,
                    length_mm / moving_s if moving_s > 0 else 0.0,
                    _kind(members),
                )
            )
        return tuple(strokes)

    @cached_property
    def summary(self) -> dict[str, int]:
        """How often the bow turns, hooks and lifts."""
        joins = [p.join for p in self.notes if p is not None]
        return {
            "crossings": crossings_n(self.fingered),
            "hooks": joins.count(Join.HOOK),
            "retakes": joins.count(Join.RETAKE),
            "turns": joins.count(Join.TURN),
        }

    def alternatives(self, unit: int) -> tuple[Alternative, ...]:
        """Every direction and join of a unit with its exact extra cost, cheapest first.

        The extra cost is what the whole piece costs more, all else planned anew for the
        best; 0 for the plan's own choice. A unit's own mark or pin is left out of account.
        """
        own = self.tables.own_constraints()[unit]
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
        sums = dict.fromkeys(TERMS, 0)
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


_KINDS = (
    Articulation.SPICCATO,
    Articulation.STACCATISSIMO,
    Articulation.STACCATO,
    Articulation.PORTATO,
    Articulation.MARCATO,
    Articulation.ACCENT,
    Articulation.TENUTO,
)


def _kind(members: Sequence[PlannedNote]) -> str:
    articulations = set().union(*(m.note.articulations for m in members))
    if Articulation.RICOCHET in articulations:
        return "ricochet"
    if any(m.join is Join.HOOK for m in members[1:]):
        return "hooked"
    if len(members) > 1:
        return "slur"
    for kind in _KINDS:
        if kind in articulations:
            return kind.value
    return "détaché"


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


def changed_bars(before: Plan, after: Plan) -> tuple[int, ...]:
    """Printed numbers of the bars in which two plans of the same part differ."""
    bars: dict[int, None] = {}
    for a, b in zip(before.notes, after.notes, strict=True):
        if (a is None) != (b is None) or (a is not None and b is not None and differs(a, b)):
            bars[(a or b).note.bar] = None  # type: ignore[union-attr]
    return tuple(bars)


def differs(a: PlannedNote, b: PlannedNote) -> bool:
    """Whether a note is bowed otherwise: way, join, or place by more than a half cell."""
    if (a.direction, a.join) != (b.direction, b.join):
        return True
    half_cell = 0.5 / w.CELLS_N
    return abs(a.start - b.start) > half_cell or abs(a.end - b.end) > half_cell
