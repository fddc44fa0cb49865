"""Several parts bowed together: where rhythms match, bows start and turn together.

In a group everybody's bow goes the same way (common practice). A part that follows is asked to go
the way its leader goes in the same rhythm; where it cannot, the place is listed with the reason.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction

from plectrum.core.document.choices import Choices
from plectrum.core.planning.plan import Plan, make_plan
from plectrum.core.score.model import Direction, Note, Part

Key = tuple[Fraction, Fraction, bool]


@dataclass(frozen=True, slots=True)
class Disagreement:
    """A moment at which parts in the same rhythm bow different ways."""

    bar: int
    beat: Fraction
    notes: tuple[int | None, ...]
    directions: tuple[Direction | None, ...]
    reason: str


@dataclass(frozen=True)
class Ensemble:
    """Plans of several parts, in their order.

    Attributes:
        matched: moments at which two or more parts begin a bow in the same rhythm, as the
            index of the note in each part.
        disagreements: those of them at which the bows go different ways.
    """

    plans: tuple[Plan, ...]
    matched: tuple[tuple[int | None, ...], ...]
    disagreements: tuple[Disagreement, ...]

    @property
    def words(self) -> str:
        """Such as "24 places match, 3 of them go different ways"."""
        if not self.matched:
            return "no two bows begin together in the same rhythm"
        apart = len(self.disagreements)
        which = f"{apart} of them go different ways" if apart else "all go the same way"
        return f"{len(self.matched)} places match, {which}"


def _key(note: Note) -> Key:
    return note.onset_q, note.duration_q, note.slurred


def _heads(plan: Plan) -> dict[Key, int]:
    """Moments at which a bow begins, by rhythm, to note index."""
    heads = {}
    for unit in plan.units:
        note = plan.head_of(unit.index)
        if not note.grace:
            heads[_key(note)] = unit.first
    return heads


def _directions(plans: Sequence[Plan]) -> dict[Key, Direction]:
    """The way of the first part that has each moment."""
    ways: dict[Key, Direction] = {}
    for plan in plans:
        for key, index in _heads(plan).items():
            planned = plan.notes[index]
            if planned is not None:
                ways.setdefault(key, planned.direction)
    return ways


def _asked(part: Part, ways: Mapping[Key, Direction]) -> dict[int, Direction]:
    return {n.index: ways[_key(n)] for n in part.notes if not n.grace and _key(n) in ways}


def follow(leader: Plan, part: Part, choices: Choices) -> Ensemble:
    """A second part bowed to go with a plan that stays as it is."""
    follower = make_plan(part, choices, _asked(part, _directions([leader])))
    matched, disagreements = _compare([leader, follower])
    return Ensemble((leader, follower), tuple(matched), tuple(disagreements))


def _compare(
    plans: Sequence[Plan],
) -> tuple[list[tuple[int | None, ...]], list[Disagreement]]:
    heads = [_heads(plan) for plan in plans]
    moments = sorted({key for h in heads for key in h})
    matched = []
    found = []
    for key in moments:
        notes = tuple(h.get(key) for h in heads)
        planned = [p.notes[n] if n is not None else None for p, n in zip(plans, notes, strict=True)]
        present = [q for q in planned if q is not None]
        if len(present) < 2:
            continue
        matched.append(notes)
        if len({q.direction for q in present}) > 1:
            note = present[0].note
            directions = tuple(None if q is None else q.direction for q in planned)
            reason = _reason(plans, notes)
            found.append(Disagreement(note.bar, note.beat, notes, directions, reason))
    return matched, found


def _reason(plans: Sequence[Plan], notes: Sequence[int | None]) -> str:
    for plan, index in zip(plans, notes, strict=True):
        if index is None:
            continue
        unit = plan.unit_of(index)
        if unit is None:
            continue
        if not plan.units[unit].pin.is_empty:
            return f"{plan.part.name} is pinned here"
        if plan.units[unit].mark is not None:
            return f"{plan.part.name} is marked here in the score"
    return "the bars before it differ, and a hook or lift to meet would cost more"
