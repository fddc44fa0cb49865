"""What a conductor settles in rehearsal: where parts go apart, and what a player cannot do."""

from __future__ import annotations

from dataclasses import dataclass

from plectrum.core.advice.plan_warning import Severity
from plectrum.core.advice.region_words import region_of
from plectrum.core.advice.warnings import warnings_of
from plectrum.core.planning.ensemble.differing import Difference
from plectrum.core.planning.ensemble.ensemble import Ensemble
from plectrum.core.score.model import Direction, beat_words
from plectrum.core.wording import say

SIGNS = {Direction.DOWN: "⊓", Direction.UP: "V"}


@dataclass(frozen=True, slots=True)
class ToSettle:
    """One place.

    Attributes:
        where: such as "Bar 41, beat 1". part, note: whose note leads there.
    """

    where: str
    text: str
    part: int
    note: int


def to_settle(ensemble: Ensemble) -> tuple[ToSettle, ...]:
    """All places in the order of the music; what differs in the same way in bar after bar for the
    same reason is said once."""
    found: list[tuple[int, ToSettle]] = []
    said: set[tuple[object, ...]] = set()
    for difference in ensemble.differences:
        key = difference.what, difference.odd, difference.reason
        if key in said:
            continue
        said.add(key)
        part = difference.odd[0]
        note = difference.notes[part]
        if note is not None:
            more = sum((d.what, d.odd, d.reason) == key for d in ensemble.differences) - 1
            found.append((difference.bar, _place(ensemble, difference, part, note, more)))
    for part, plan in enumerate(ensemble.plans):
        for warning in warnings_of(plan):
            if warning.severity is Severity.PROBLEM and warning.note is not None:
                bar = plan.part.notes[warning.note].bar
                place = ToSettle(plan.part.name, warning.text, part, warning.note)
                found.append((bar, place))
    return tuple(place for _, place in sorted(found, key=lambda row: row[0]))


def _place(ensemble: Ensemble, difference: Difference, part: int, note: int, more: int) -> ToSettle:
    where = say("Bar {bar}, beat {beat}", bar=difference.bar, beat=beat_words(difference.beat))
    again = say(" And {more} more.", more=more) if more else ""
    what = "" if difference.what == "slur" else f"{_what(ensemble, difference)}. "
    return ToSettle(where, f"{what}{difference.reason}.{again}", part, note)


def _what(ensemble: Ensemble, difference: Difference) -> str:
    """Such as "V Viola, Cello against ⊓ Violin I"."""
    names = [plan.part.name for plan in ensemble.plans]
    odd = ", ".join(names[p] for p in difference.odd)
    if difference.what == "join":
        return say("{odd}: not joined as the others are", odd=odd)
    if difference.what == "region":
        return ", ".join(
            f"{names[p]} {region_of(ensemble.plans[p].steps[planned.unit])}"
            for p, note in enumerate(difference.notes)
            if note is not None and (planned := ensemble.plans[p].notes[note]) is not None
        )
    here = difference.directions[difference.odd[0]]
    if here is None:
        return odd
    others = [names[p] for p, way in enumerate(difference.directions) if way is here.other]
    return f"{SIGNS[here]} {odd}, {SIGNS[here.other]} {', '.join(others)}"
