"""A drill written as music: open strings, and what is done under each note."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from plectrum.core.document.choices import Choices, Join, Pin
from plectrum.core.document.document import Document
from plectrum.core.planning.rules import CELLS_N
from plectrum.core.practice.exercises.drills import Drill, DrillStep, Setting
from plectrum.core.score.instruments import open_pitch
from plectrum.core.score.model import Metre, Pitch
from plectrum.core.score.writing.sheet import SheetBar, SheetNote, SheetPart, write_sheet

FINEST_Q = Fraction(1, 4)
ROUNDED_Q = Fraction(1, 2)  # to which what is no whole number of sixteenths is rounded
LEAST_CELLS = 1


@dataclass(frozen=True, slots=True)
class Written:
    """A step where it stands in the music, in quarters."""

    step: DrillStep
    at_q: Fraction
    length_q: Fraction


def written(drill: Drill) -> tuple[Written, ...]:
    """The steps as they are written and played: in whole sixteenths of the drill's tempo, or
    rounded to eighths."""
    found, at_q = [], Fraction(0)
    for step in drill.steps:
        length_q = _length_q(step.seconds * drill.bpm / 60)
        found.append(Written(step, at_q, length_q))
        at_q += length_q
    return tuple(found)


def has_music(drill: Drill) -> bool:
    """Whether anything in a drill is done on a string."""
    return any(step.level is not None and not step.looks for step in drill.steps)


def drill_document(drill: Drill, choices: Choices) -> Document:
    """A drill as a document: its notes, and its bowing as pins.

    Silent steps are crossed notes on the string they are done on, with a word under them; what is
    only looked at is a rest.

    Raises:
        ValueError: nothing in it is done on a string.
    """
    if not has_music(drill):
        raise ValueError(f"{drill.name} is done without a string")
    setting = Setting.of(choices)
    rows = written(drill)
    metre = _metre([row.length_q for row in rows])
    notes: list[SheetNote] = []
    pins: dict[str, Pin] = {}
    before: DrillStep | None = None
    for k, row in enumerate(rows):
        step = row.step
        if step.level is not None and not step.looks:
            note_id = f"d{k + 1}"
            slurred = _goes_on(before, step)
            follows = k + 1 < len(rows) and _goes_on(step, rows[k + 1].step)
            strings = sorted({(step.level - 1) // 2, step.level // 2})
            pitches = tuple(open_pitch(setting.instrument, string) for string in strings)
            notes.append(_note(note_id, row, pitches, slurred, follows))
            if step.direction is not None:
                end = _end_of_bow(rows, k)
                pins[note_id] = _pin(step, before, strings[0], slurred, end)
            before = step
    bars_n = math.ceil((rows[-1].at_q + rows[-1].length_q) / metre.length_q)
    bars = tuple(SheetBar(k + 1, metre, metre.length_q) for k in range(bars_n))
    part = SheetPart(
        setting.instrument.name.capitalize(), setting.instrument.name, bars, tuple(notes)
    )
    score = write_sheet(drill.name.capitalize(), [part], drill.bpm)
    document = Document.from_score(score, None, setting.instrument.name)
    own = Choices(choices.instrument, choices.bow, choices.player, choices.school, None, pins)
    return document.with_choices(own)


def _length_q(beats: float) -> Fraction:
    exact = Fraction(round(beats / float(FINEST_Q))) * FINEST_Q
    if abs(float(exact) - beats) < 1e-6:
        return max(FINEST_Q, exact)
    return max(FINEST_Q, Fraction(round(beats / float(ROUNDED_Q))) * ROUNDED_Q)


def _metre(lengths: Sequence[Fraction]) -> Metre:
    """Bars that hold two steps where that makes four to six beats, else four beats."""
    pair = lengths[:2]
    whole = len(pair) == 2 and all(length.denominator == 1 for length in pair)
    if whole and 4 < sum(pair) <= 6:
        return Metre((int(pair[0]), int(pair[1])), 4)
    return Metre((4,), 4)


def _goes_on(before: DrillStep | None, step: DrillStep) -> bool:
    """Whether a step is played in the bow of the one before: over other strings, no stop."""
    if before is None or before.direction is None or before.direction is not step.direction:
        return False
    return before.level != step.level and before.end == step.start


def _note(
    note_id: str, row: Written, pitches: tuple[Pitch, ...], slurred: bool, follows: bool
) -> SheetNote:
    step = row.step
    return SheetNote(
        note_id,
        row.at_q,
        row.length_q,
        pitches,
        mark=None if slurred else step.direction,
        slur_starts=follows and not slurred,
        slur_stops=slurred and not follows,
        lyric=step.said,
        head="" if step.direction is not None else "x",
    )


def _end_of_bow(rows: Sequence[Written], k: int) -> float:
    """Where the bow that begins with a step ends, with all that goes on in it."""
    while k + 1 < len(rows) and _goes_on(rows[k].step, rows[k + 1].step):
        k += 1
    end = rows[k].step.end
    return end if end is not None else 1.0


def _pin(step: DrillStep, before: DrillStep | None, string: int, slurred: bool, end: float) -> Pin:
    """Way, join and place of a whole bow, at its first note."""
    if slurred:
        return Pin(string=string, finger=0)
    start = step.start if step.start is not None else 0.0
    join = None
    if before is not None and before.direction is not None:
        join = Join.TURN if before.direction is not step.direction else Join.HOOK
        if before.end is not None and abs(before.end - start) > 0.5 / CELLS_N:
            join = None
    cells = max(LEAST_CELLS, abs(round(end * CELLS_N) - round(start * CELLS_N)))
    return Pin(
        direction=step.direction,
        join=join,
        start_cell=round(start * CELLS_N),
        length_cells=cells,
        string=string,
        finger=0,
    )
