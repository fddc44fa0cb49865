"""Where parts of the same rhythm do different things, and why."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from itertools import pairwise
from typing import Literal

from plectrum.core.document.choices import Join
from plectrum.core.planning import rules
from plectrum.core.planning.ensemble.matching import Matched, Span, main_note, span_of
from plectrum.core.planning.plan import Plan
from plectrum.core.planning.strokes.planned import PlannedNote
from plectrum.core.planning.strokes.units import slurs_are_free
from plectrum.core.score.model import Direction, Note
from plectrum.core.wording import say, tr

What = Literal["way", "join", "region", "slur"]
FAR = 0.25  # of the bow between the middles of two bows: another region (own default)


@dataclass(frozen=True, slots=True)
class Difference:
    """A moment at which bows that begin and end together differ, or slurs.

    Attributes:
        what: "way" if they go different ways; else "join" if one turns where another hooks or
            lifts; else "region" if they lie in different regions of the bow; "slur" if one has a
            slur in the score where another has the same notes without.
        notes: the first note of the bow in each part; None for a part that has none there.
        odd: the parts that do not do as most do, by number.
    """

    bar: int
    beat: Fraction
    what: What
    notes: tuple[int | None, ...]
    directions: tuple[Direction | None, ...]
    odd: tuple[int, ...]
    reason: str


def differences_of(plans: Sequence[Plan], matched: Matched) -> tuple[Difference, ...]:
    """All of them, in the order of the piece."""
    bowed = [_by_unit(plan) for plan in plans]
    found = []
    for m, row in enumerate(matched.units.tolist()):
        present = {p: bowed[p][i] for p, i in enumerate(row) if i in bowed[p]}
        if len(present) > 1:
            before = {p: matched.went_before(m, p) for p in present}
            what, odd = _what(plans, present, before)
            if what is not None:
                found.append(_difference(plans, row, present, what, odd))
    found += _slurs_missing(plans)
    return tuple(sorted(found, key=lambda d: (d.bar, d.beat)))


def _slurs_missing(plans: Sequence[Plan]) -> Iterator[Difference]:
    """Slurs of one part that another with the same rhythm has not, by their first notes."""
    written = [p for p, plan in enumerate(plans) if not slurs_are_free(plan.choices)]
    at = {p: {span_of(n): n for n in plans[p].part.notes if not n.grace} for p in written}
    seen: dict[Span, dict[int, Note | None]] = {}
    for p in written:
        part = plans[p].part
        for unit in plans[p].tables.units:
            members = [n for n in part.notes[unit.first : unit.last + 1] if not n.grace]
            if len(members) < 2:
                continue
            spans = [span_of(n) for n in members]
            heads = seen.setdefault((spans[0][0], spans[-1][1]), {})
            heads[p] = None
            for q in written:
                notes = [at[q][span] for span in spans if span in at[q]]
                if len(notes) == len(spans) and _could_be_slurred(notes):
                    heads[q] = notes[0]
    for heads in seen.values():
        odd = tuple(sorted(p for p, note in heads.items() if note is not None))
        if odd:
            whose = next(plans[p].part.name for p, note in heads.items() if note is None)
            yield _missing(plans, {p: heads[p] for p in odd}, whose)


def _could_be_slurred(notes: Sequence[Note]) -> bool:
    """Whether notes have bows of their own and none is said again, which nobody slurs."""
    return not any(b.slurred or b.pitches == a.pitches for a, b in pairwise(notes))


def _missing(plans: Sequence[Plan], heads: Mapping[int, Note | None], whose: str) -> Difference:
    odd = tuple(heads)
    note = next(n for n in heads.values() if n is not None)
    at = [None if (n := heads.get(p)) is None else n.index for p in range(len(plans))]
    planned = [None if k is None else plan.notes[k] for k, plan in zip(at, plans, strict=True)]
    names = tr(" and ").join(plans[p].part.name for p in odd)
    return Difference(
        note.bar,
        note.beat,
        "slur",
        tuple(at),
        tuple(None if p is None else p.direction for p in planned),
        odd,
        say("{names}: the same rhythm without the slur of {whose}", names=names, whose=whose),
    )


def _by_unit(plan: Plan) -> dict[int, PlannedNote]:
    """Each unit of the tables to what its first note does."""
    found = {}
    for unit in plan.tables.units[: plan.tables.problem.units_n]:
        planned = plan.notes[unit.first]
        if planned is not None:
            found[unit.index] = planned
    return found


def _difference(
    plans: Sequence[Plan],
    row: list[int],
    present: dict[int, PlannedNote],
    what: What,
    odd: tuple[int, ...],
) -> Difference:
    p = odd[0]
    note = main_note(plans[p].part, plans[p].tables.units[row[p]]) or present[p].note
    most, usual = next((q, head) for q, head in present.items() if q not in odd)
    heads = [present.get(q) for q in range(len(plans))]
    return Difference(
        note.bar,
        note.beat,
        what,
        tuple(None if h is None else h.note.index for h in heads),
        tuple(None if h is None else h.direction for h in heads),
        odd,
        _reason(plans[p], row[p], what, usual, _range_of(plans[most])),
    )


def _what(
    plans: Sequence[Plan], present: dict[int, PlannedNote], before: dict[int, int]
) -> tuple[What | None, tuple[int, ...]]:
    """What differs, and in which parts.

    Args:
        before: the moment of the bow before each; joins are compared where that is shared too.
    """
    ways = {p: h.direction for p, h in present.items()}
    if len(set(ways.values())) > 1:
        return "way", _odd(ways)
    for moment in set(before.values()) - {-1}:
        joins = {p: h.join for p, h in present.items() if before[p] == moment}
        if len(set(joins.values())) > 1:
            return "join", _odd(joins)
    middles = {p: _middle(plans[p], h) for p, h in present.items()}
    centre = sorted(middles.values())[(len(middles) - 1) // 2]
    far = tuple(p for p, middle in middles.items() if abs(middle - centre) > FAR)
    return ("region", far) if far else (None, ())


def _odd(values: dict[int, Direction] | dict[int, Join]) -> tuple[int, ...]:
    """The parts that do otherwise than most; on a tie, than the first."""
    counts = Counter(values.values())
    first = next(iter(values.values()))
    usual = max(counts, key=lambda value: (counts[value], value == first))
    return tuple(p for p, value in values.items() if value != usual)


def _middle(plan: Plan, head: PlannedNote) -> float:
    stroke = plan.steps[head.unit]
    return (stroke.start + stroke.end) / (2 * rules.CELLS_N)


def _range_of(plan: Plan) -> tuple[float, float]:
    return plan.player.usable_from, plan.player.usable_to


def _reason(
    plan: Plan, unit: int, what: What, usual: PlannedNote, usual_range: tuple[float, float]
) -> str:
    """Why the part does not do as the others do, in one line."""
    own, name = plan.tables.units[unit], plan.part.name
    pin = plan.own_pin(own)
    if pin.direction is not None or pin.join is not None:
        return say("{name} is pinned here", name=name)
    if own.mark is not None:
        return say("{name} is marked here in the score", name=name)
    if what == "region":
        if _range_of(plan) != usual_range:
            return say("{name} is played with less of the bow, or more", name=name)
        return say("{name} is kept there by the notes before and after", name=name)
    planned = plan.notes[own.first]
    k = planned.unit if planned is not None else 0
    if plan.units[k].first != own.first:
        return say("{name} has the note inside a slur", name=name)
    ways = [a for a in plan.alternatives_at_once(k) if a.direction is usual.direction]
    same = next((a for a in ways if a.join is usual.join), None)
    if same is not None and same.obstacle:
        return f"{name}: {same.obstacle}"
    if what == "join" and same is not None:
        ways = [same]
    if not ways or not ways[0].possible:
        return say("{name}: no bow left for it", name=name)
    return f"{name}: {_price(plan, k, ways[0].direction, ways[0].join)}"


_PRICES = {
    "pin": tr("it would go against a pin"),
    "score_mark": tr("it would go against a mark of the score"),
    "limit": tr("it would need a bow beyond what the player can"),
    "together": tr("it would part from the others elsewhere"),
    "join": tr("it would need a hook or a lift"),
    "metre": tr("strong beats would come on the wrong bow"),
    "slur": tr("it would need a slur more or less"),
    "same": tr("bars that are alike would bow differently"),
    "amount": tr("its notes would get too little or too much bow"),
    "place": tr("it would come to the wrong part of the bow"),
    "crossing": tr("string crossings would come at the ends of the bow"),
    "even": tr("its strokes would be uneven"),
    "tape": tr("it would leave the tape marks"),
    "travel": tr("the bow would have to be carried far"),
}


def _price(plan: Plan, unit: int, direction: Direction, join: Join) -> str:
    change = plan.change_by(unit, direction, join)
    worst = next((name for name, cost in change.terms if cost > 0), "join")
    bars = sorted(set(change.bars)) or [plan.head_of(unit).bar]
    where = (
        say("bar {bars}", bars=bars[0])
        if len(bars) == 1
        else say("bars {first} to {last}", first=bars[0], last=bars[-1])
    )
    return f"{_PRICES[worst]} ({where})"
