"""A plan to be drawn as a bow path, and which of its notes are drawn otherwise than another's: only
these are painted again."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from plectrum.core.planning.plan import Plan
from plectrum.core.planning.strokes.planned import PlannedNote

SEEN = 1e-6  # a smaller difference of weight is not


@dataclass(frozen=True)
class PathRow:
    """One plan to be drawn under the staff. `marked` are notes to be marked as differing."""

    plan: Plan
    label: str = ""
    marked: frozenset[int] = frozenset()
    pins_shown: bool = True


def same_rows(a: Sequence[PathRow], b: Sequence[PathRow]) -> bool:
    """Whether the same plans are drawn in the same way; plans are not compared note by note."""
    return len(a) == len(b) and all(x.plan is y.plan and x == y for x, y in zip(a, b, strict=True))


def drawn_otherwise(a: PathRow, b: PathRow) -> frozenset[int] | None:
    """The notes of which something that is drawn differs; None where more than notes may."""
    p, q = a.plan, b.plan
    if (a.label, a.marked) != (b.label, b.marked) or p.part is not q.part:
        return None
    if replace(p.choices, pins={}) != replace(q.choices, pins={}):
        return None
    return frozenset((*_bowed_otherwise(p, q), *_touched_otherwise(p, q), *_held_otherwise(p, q)))


def _bowed_otherwise(p: Plan, q: Plan) -> Iterator[int]:
    for k, (x, y) in enumerate(zip(p.notes, q.notes, strict=True)):
        if x is not y and _drawn(x) != _drawn(y):
            yield k
    if p.fingered is not q.fingered:
        grips = zip(p.fingered, q.fingered, strict=True)
        yield from (k for k, (x, y) in enumerate(grips) if x.grip != y.grip)


def _drawn(planned: PlannedNote | None) -> tuple[object, ...]:
    if planned is None:
        return ()
    return planned.direction, planned.join, planned.start, planned.end, planned.stop_after


def _touched_otherwise(p: Plan, q: Plan) -> Iterator[int]:
    was, now = p.contact, q.contact
    if was is not now:
        differs = (was.lane != now.lane) | (np.abs(was.share - now.share) > SEEN)
        yield from now.notes[differs].tolist()


def _held_otherwise(p: Plan, q: Plan) -> Iterator[int]:
    """All notes of the bows whose pins are others: a pin holds a place for all of them."""
    for note_id, _ in p.choices.pins.items() ^ q.choices.pins.items():
        for plan in (p, q):
            base = plan.tables.units.base
            number = base.unit_of_note.get(note_id)
            planned = None if number is None else plan.notes[base.units[number].first]
            if planned is not None:
                unit = plan.units[planned.unit]
                yield from range(unit.first, unit.last + 1)
