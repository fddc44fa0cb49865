"""Two plans of the same notes held against each other."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

from plectrum.core.planning.plan import Plan
from plectrum.core.planning.rules import CELLS_N
from plectrum.core.planning.strokes.planned import PlannedNote
from plectrum.core.wording import several, tr

NOTICED = 1 / 8  # of the hair (own default): a stroke that moves by less is the same to a teacher
KINDS = {
    "direction": tr("direction"),
    "join": tr("join"),
    "place": tr("place"),
    "lane": tr("lane"),
    "string": tr("string"),
}


@dataclass(frozen=True, slots=True)
class Difference:
    """One note that two plans bow otherwise. `note` is its index in both."""

    note: int
    bar: int
    kinds: tuple[str, ...]


@dataclass(frozen=True)
class Comparison:
    """Where two plans differ, in order."""

    differences: tuple[Difference, ...]

    @property
    def notes(self) -> frozenset[int]:
        return frozenset(d.note for d in self.differences)

    @property
    def counts(self) -> dict[str, int]:
        """How many notes differ in each way."""
        found = Counter(kind for d in self.differences for kind in d.kinds)
        return {kind: found[kind] for kind in KINDS if found[kind]}

    @property
    def words(self) -> str:
        """Such as "7 notes differ: 3 direction, 7 place"."""
        n = len(self.differences)
        if not n:
            return tr("no note differs")
        kinds = ", ".join(f"{count} {KINDS[kind]}" for kind, count in self.counts.items())
        return several("{n} note differs: {kinds}", "{n} notes differ: {kinds}", n, kinds=kinds)


def compare(a: Plan, b: Plan) -> Comparison:
    """Hold two plans of the same notes against each other.

    Raises:
        ValueError: they are not of the same notes.
    """
    if [n.id for n in a.part.notes] != [n.id for n in b.part.notes]:
        raise ValueError("the plans are of different notes")
    found = []
    for note in a.part.notes:
        kinds = _kinds(a, b, note.index)
        if kinds:
            found.append(Difference(note.index, note.bar, kinds))
    return Comparison(tuple(found))


def _kinds(a: Plan, b: Plan, index: int) -> tuple[str, ...]:
    one, other = a.notes[index], b.notes[index]
    found = []
    if one is None or other is None:
        if one is not other:
            found.append("direction")
    else:
        if one.direction is not other.direction:
            found.append("direction")
        if one.join is not other.join:
            found.append("join")
        if _moved(one, other):
            found.append("place")
        if a.contact.lane[a.contact_rows[index]] != b.contact.lane[b.contact_rows[index]]:
            found.append("lane")
    if a.fingered[index].grip != b.fingered[index].grip:
        found.append("string")
    return tuple(found)


def _moved(one: PlannedNote, other: PlannedNote) -> bool:
    """By more than one cell at either end."""
    ends = (one.start - other.start, one.end - other.end)
    return any(abs(end) * CELLS_N > 1.0 + 1e-9 for end in ends)


def changed_bars(before: Plan, after: Plan) -> tuple[int, ...]:
    """Printed numbers of the bars in which a teacher would say that two plans of the same part
    differ: in the way of a bow, in how it joins, or by an eighth of the bow."""
    bars: dict[int, None] = {}
    for a, b in zip(before.notes, after.notes, strict=True):
        if a is b:
            continue
        if (a is None) != (b is None) or (a is not None and b is not None and is_noticed(a, b)):
            bars[(a or b).note.bar] = None  # type: ignore[union-attr]
    return tuple(bars)


def is_noticed(a: PlannedNote, b: PlannedNote) -> bool:
    """Whether a teacher would call two bows of a note different."""
    if (a.direction, a.join) != (b.direction, b.join):
        return True
    return max(abs(a.start - b.start), abs(a.end - b.end)) >= NOTICED - 1e-9
