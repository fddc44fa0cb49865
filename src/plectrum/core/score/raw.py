"""What stands in each measure, nothing interpreted yet.

Times are whole ticks (`_t`) from the start of the measure, so many to a quarter that every duration
of the file is whole.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from fractions import Fraction

from plectrum.core.score.left_out import Ledger
from plectrum.core.score.model import Articulation, Direction, Metre, Pitch, Sign


@dataclass(slots=True)
class RawNote:
    """One `<note>` with what hangs on it. `pitch` is None for a rest; `stroke_q` as in `Note`."""

    id: str
    offset_t: int
    duration_t: int
    pitch: Pitch | None
    voice: tuple[int, str]
    chord: bool = False
    grace: bool = False
    tie_start: bool = False
    tie_stop: bool = False
    slur_starts: tuple[str, ...] = ()
    slur_stops: tuple[str, ...] = ()
    articulations: frozenset[Articulation] = frozenset()
    mark: Direction | None = None
    pizzicato: bool = False
    fingerings: tuple[str, ...] = ()
    strings: tuple[int, ...] = ()
    open_string: bool = False
    dynamics: tuple[str, ...] = ()
    stroke_q: Fraction | None = None


@dataclass(slots=True)
class RawDirection:
    """Something said at a time: a dynamic, a wedge, words, a tempo."""

    offset_t: int
    kind: str
    value: str = ""
    number: float = 0.0
    beat_q: Fraction = Fraction(1)


@dataclass(slots=True)
class RawMeasure:
    """One measure of one part."""

    number: str
    implicit: bool
    metre: Metre
    content_t: int = 0
    notes: list[RawNote] = field(default_factory=list)
    directions: list[RawDirection] = field(default_factory=list)
    repeat_start: bool = False
    repeat_end: int = 0
    endings: tuple[int, ...] = ()
    ending_stops: bool = False
    section_end: bool = False
    signs: frozenset[Sign] = frozenset()


@dataclass(slots=True)
class RawPart:
    """One part with its head, as the part list and its first clef describe it."""

    id: str
    name: str
    other_names: tuple[str, ...]
    midi_program: int
    ticks_a_quarter: int
    clef: str = ""
    clef_octaves: int = 0
    transposed: bool = False
    percussion: bool = False
    measures: list[RawMeasure] = field(default_factory=list)
    left_out: Ledger = field(default_factory=Ledger)
