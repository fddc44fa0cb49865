"""Passages that come again, as they are or on other strings: learn once, play twice.

A passage on other strings has the same rhythm, bows and fingers, and every string is as many
strings higher or lower as the first. A passage that comes again just so is found too.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Hashable, Sequence
from dataclasses import dataclass

from plectrum.core.document.sections import section_bars
from plectrum.core.planning.plan import Plan
from plectrum.core.planning.strokes.kept import kept_of
from plectrum.core.score.model import Note
from plectrum.core.wording import several


@dataclass(frozen=True, slots=True)
class Passage:
    """A run of bars, by bar index, that is an earlier run again.

    Attributes:
        strings_up: how many strings higher than the earlier one; below zero lower.
    """

    first_bar: int
    last_bar: int
    like_first: int
    like_last: int
    strings_up: int = 0

    @property
    def bars_n(self) -> int:
        return self.last_bar - self.first_bar + 1


@dataclass(frozen=True, slots=True)
class _Shape:
    """A bar without what differs between strings: `kind` is a number that bars have in common that
    are alike so, `string` its first one."""

    kind: int
    string: int | None


def passages_of(plan: Plan) -> tuple[Passage, ...]:
    """Every run of bars that is an earlier run again, the longest possible, none overlapping; kept,
    because no pin changes it."""
    kept = kept_of(plan.part, plan.choices, plan.fingered)
    if "passages" not in kept:
        kept["passages"] = _found(plan)
    found: tuple[Passage, ...] = kept["passages"]
    return found


def _found(plan: Plan) -> tuple[Passage, ...]:
    shapes = _shapes(plan)
    places: dict[int, list[int]] = defaultdict(list)
    found: list[Passage] = []
    covered = -1
    for bar in range(len(plan.part.bars)):
        shape = shapes.get(bar)
        if shape is None:
            continue
        if bar > covered:
            best = _longest(shapes, places[shape.kind], bar)
            if best is not None:
                found.append(best)
                covered = best.last_bar
        places[shape.kind].append(bar)
    return tuple(found)


def _longest(shapes: dict[int, _Shape], earlier: Sequence[int], bar: int) -> Passage | None:
    """The longest run from a bar that is a run from one of some earlier bars; of those as long,
    one on the same strings, then the first."""
    runs = []
    for start in earlier:
        up = _strings_up(shapes[start], shapes[bar])
        length = 1
        while start + length < bar and _same(shapes, start + length, bar + length, up):
            length += 1
        runs.append((-length, up != 0, start, up))
    if not runs:
        return None
    length, _, start, up = min(runs)
    return Passage(bar, bar - length - 1, start, start - length - 1, up)


def _same(shapes: dict[int, _Shape], a: int, b: int, up: int) -> bool:
    first, second = shapes.get(a), shapes.get(b)
    if first is None or second is None:
        return False
    return first.kind == second.kind and _strings_up(first, second) == up


def _strings_up(a: _Shape, b: _Shape) -> int:
    return 0 if a.string is None or b.string is None else b.string - a.string


def _shapes(plan: Plan) -> dict[int, _Shape]:
    grouped: dict[int, list[Note]] = defaultdict(list)
    for note in plan.part.notes:
        grouped[note.bar_index].append(note)
    kinds: dict[Hashable, int] = {}
    return {bar: _shape(plan, notes, kinds) for bar, notes in grouped.items()}


def _shape(plan: Plan, notes: Sequence[Note], kinds: dict[Hashable, int]) -> _Shape:
    bar = plan.part.bars[notes[0].bar_index]
    grips = [plan.fingered[n.index].grip for n in notes]
    base = next((g.main.string for g in grips if g is not None), None)
    rows: list[Hashable] = []
    for note, grip in zip(notes, grips, strict=True):
        stopped: Hashable = note.pitches
        if grip is not None and base is not None:
            stopped = tuple((f.string - base, f.finger, f.semitones) for f in grip.fingers)
        rows.append(
            (note.onset_q - bar.onset_q, note.duration_q, note.slurred, note.articulations,
             note.pizzicato, note.grace, stopped)
        )  # fmt: skip
    key = bar.metre, bar.duration_q, tuple(rows)
    return _Shape(kinds.setdefault(key, len(kinds)), base)


def passage_words(plan: Plan, passage: Passage) -> str:
    """A passage as a teacher says it: "bars 9–12 are bars 1–4 again"."""
    here = section_bars(plan.part, passage.first_bar, passage.last_bar)
    there = section_bars(plan.part, passage.like_first, passage.like_last)
    if passage.strings_up == 0:
        return several("{here} is {there} again", "{here} are {there} again", passage.bars_n,
                       here=here, there=there)  # fmt: skip
    count = abs(passage.strings_up)
    strings = (
        several("the next higher string", "{n} strings higher", count)
        if passage.strings_up > 0
        else several("the next lower string", "{n} strings lower", count)
    )
    return several(
        "{here} is {there} on {strings}: same fingers, same bows",
        "{here} are {there} on {strings}: same fingers, same bows",
        passage.bars_n,
        here=here,
        there=there,
        strings=strings,
    )
