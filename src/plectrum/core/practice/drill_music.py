"""A drill written as music: seconds as beats, open strings, and what is done under each note."""

from __future__ import annotations

import math
from collections.abc import Sequence
from fractions import Fraction

from plectrum.core.document.choices import Choices, Join, Pin
from plectrum.core.document.document import Document
from plectrum.core.planning.rules import CELLS_N
from plectrum.core.practice.catalogue import Setting
from plectrum.core.practice.drills import Drill, DrillStep
from plectrum.core.score.instruments import open_pitch
from plectrum.core.score.model import Metre, Pitch
from plectrum.core.score.writing.sheet import SheetBar, SheetNote, SheetPart, write_sheet

BPM = 60.0  # a beat is a second
FINEST_Q = Fraction(1, 2)
LEAST_CELLS = 1


def has_music(drill: Drill) -> bool:
    """Whether anything in a drill is done on a string."""
    return any(step.level is not None for step in drill.steps)


def drill_document(drill: Drill, choices: Choices) -> Document:
    """A drill as a document: its notes, and its bowing as pins.

    Silent steps are crossed notes on the string they are done on, with a word under them; what is
    only looked at is a rest. Times are rounded to half seconds.

    Raises:
        ValueError: nothing in it is done on a string.
    """
    if not has_music(drill):
        raise ValueError(f"{drill.name} is done without a string")
    setting = Setting.of(choices)
    lengths = [_length_q(step.seconds) for step in drill.steps]
    metre = _metre(lengths)
    notes: list[SheetNote] = []
    pins: dict[str, Pin] = {}
    at_q = Fraction(0)
    before: DrillStep | None = None
    for k, (step, length_q) in enumerate(zip(drill.steps, lengths, strict=True)):
        if step.level is not None and not _only_looks(step):
            note_id = f"d{k + 1}"
            slurred = _goes_on(before, step)
            follows = k + 1 < len(drill.steps) and _goes_on(step, drill.steps[k + 1])
            strings = sorted({(step.level - 1) // 2, step.level // 2})
            pitches = tuple(open_pitch(setting.instrument, string) for string in strings)
            notes.append(_note(note_id, at_q, length_q, step, pitches, slurred, follows))
            if step.direction is not None:
                pins[note_id] = _pin(step, before, strings[0], slurred, follows)
            before = step
        at_q += length_q
    bars_n = math.ceil(at_q / metre.length_q)
    bars = tuple(SheetBar(k + 1, metre, metre.length_q) for k in range(bars_n))
    part = SheetPart(
        setting.instrument.name.capitalize(), setting.instrument.name, bars, tuple(notes)
    )
    score = write_sheet(drill.name.capitalize(), [part], BPM)
    document = Document.from_score(score, None, setting.instrument.name)
    own = Choices(choices.instrument, choices.bow, choices.player, choices.school, None, pins)
    return document.with_choices(own)


def _length_q(seconds: float) -> Fraction:
    return max(FINEST_Q, Fraction(round(seconds / float(FINEST_Q))) * FINEST_Q)


def _metre(lengths: Sequence[Fraction]) -> Metre:
    """Bars that hold two steps where that makes four to six beats, else four beats."""
    pair = sum(lengths[:2])
    if len(lengths) > 1 and pair.denominator == 1 and 4 <= pair <= 6:
        return Metre((int(pair),), 4)
    return Metre((4,), 4)


def _only_looks(step: DrillStep) -> bool:
    return step.direction is None and step.start is None


def _goes_on(before: DrillStep | None, step: DrillStep) -> bool:
    """Whether a step is played in the bow of the one before: over other strings, no stop."""
    if before is None or before.direction is None or before.direction is not step.direction:
        return False
    return before.level != step.level and before.end == step.start


def _note(
    note_id: str,
    at_q: Fraction,
    length_q: Fraction,
    step: DrillStep,
    pitches: tuple[Pitch, ...],
    slurred: bool,
    follows: bool,
) -> SheetNote:
    return SheetNote(
        note_id,
        at_q,
        length_q,
        pitches,
        mark=None if slurred else step.direction,
        slur_starts=follows and not slurred,
        slur_stops=slurred and not follows,
        lyric=step.word,
        head="" if step.direction is not None else "x",
    )


def _pin(
    step: DrillStep, before: DrillStep | None, string: int, slurred: bool, follows: bool
) -> Pin:
    """Way, join and place; the length only where the stroke is this note alone."""
    if slurred:
        return Pin(string=string, finger=0)
    start = step.start if step.start is not None else 0.0
    end = step.end if step.end is not None else 1.0
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
        length_cells=None if follows else cells,
        string=string,
        finger=0,
    )
