"""What is written: bars, notes, tempo and levels of one part, as immutable values.

Conventions: musical time is an exact `Fraction` of quarter notes from the start of the
piece (`_q`), sounding time is in seconds (`_s`), levels are in dB with mf = 0 (`_db`).
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from enum import StrEnum
from fractions import Fraction
from functools import lru_cache
from typing import Any, NamedTuple

from plectrum.core.score.left_out import LeftOut
from plectrum.core.score.note_names import note_words, pitch_written
from plectrum.core.wording import in_figures, say

STEP_SEMITONES = {"C": 0, "D": 2, "E": 4, "F": 5, "G": 7, "A": 9, "B": 11}
ACCIDENTAL_SIGNS = {-2: "bb", -1: "b", 0: "", 1: "#", 2: "##"}


class Direction(StrEnum):
    """Which way the bow goes: down towards the tip, up towards the frog."""

    DOWN = "down"
    UP = "up"

    @property
    def other(self) -> Direction:
        return Direction.UP if self is Direction.DOWN else Direction.DOWN


class Articulation(StrEnum):
    """Signs at a note that change how the bow plays it."""

    STACCATO = "staccato"
    STACCATISSIMO = "staccatissimo"
    SPICCATO = "spiccato"
    RICOCHET = "ricochet"
    TENUTO = "tenuto"
    PORTATO = "portato"
    ACCENT = "accent"
    MARCATO = "marcato"
    SFORZANDO = "sforzando"
    BREATH = "breath"
    FERMATA = "fermata"


@dataclass(frozen=True, slots=True)
class Pitch:
    """A written pitch; `midi` is what sounds, with A4 = 69 (ISO 16 gives it 440 Hz)."""

    step: str
    alter: int
    octave: int
    transpose_semitones: int = 0

    @property
    def midi(self) -> int:
        written = 12 * (self.octave + 1) + STEP_SEMITONES[self.step] + self.alter
        return written + self.transpose_semitones

    @property
    def name(self) -> str:
        """The written name for machines, such as F#4."""
        return f"{self.step}{ACCIDENTAL_SIGNS[self.alter]}{self.octave}"

    @property
    def written(self) -> str:
        """The written name for people, in their language: F♯4, fis′."""
        return pitch_written(self.step, self.alter, self.octave)

    @property
    def spoken(self) -> str:
        """The name as said aloud, such as F sharp."""
        return note_words(self.step, self.alter)


@dataclass(frozen=True, slots=True)
class Metre:
    """A time signature; `groups` are the beats' lengths in units of the lower figure."""

    groups: tuple[int, ...]
    beat_type: int

    @property
    def beats(self) -> int:
        return sum(self.groups)

    @property
    def unit_q(self) -> Fraction:
        """Length of the lower figure's note, in quarters."""
        return Fraction(4, self.beat_type)

    @property
    def length_q(self) -> Fraction:
        return self.beats * self.unit_q

    @property
    def is_compound(self) -> bool:
        return len(self.groups) == 1 and self.beats % 3 == 0 and self.beats > 3

    @property
    def beat_q(self) -> Fraction:
        """Length of what a player counts as one beat: a dotted quarter in 6/8."""
        return self.unit_q * 3 if self.is_compound else self.unit_q

    def __str__(self) -> str:
        return f"{'+'.join(map(str, self.groups))}/{self.beat_type}"


COMMON_TIME = Metre((4,), 4)


class Sign(StrEnum):
    """What sends the player elsewhere, or is where he goes."""

    CAPO = "da capo"
    DAL_SEGNO = "dal segno"
    SEGNO = "segno"
    TO_CODA = "to coda"
    CODA = "coda"
    FINE = "fine"


@dataclass(frozen=True, slots=True)
class Bar:
    """One written measure.

    Attributes:
        number: as printed; a pickup bar is 0.
        repeat_end: how often what ends here is played; 0 without a repeat sign.
        endings: the times for which it is, under a bracket of endings.
    """

    index: int
    number: int
    onset_q: Fraction
    duration_q: Fraction
    metre: Metre
    pad_q: Fraction = Fraction(0)
    repeat_start: bool = False
    repeat_end: int = 0
    endings: tuple[int, ...] = ()
    section_end: bool = False
    signs: frozenset[Sign] = frozenset()


class Note(NamedTuple):
    """One bowed event of a part: a note or chord with its tied continuations merged.

    `written_lane` and `written_part` are what words over the staff say of where on the string, and
    with which part of the bow: a lane, 0 for none, and a word of `document.places`, "" for none.
    `stroke_q` is how long each stroke of a tremolo is, 0 where it is not measured.
    A named tuple, because a long part makes thousands and its making is a third of reading.
    """

    index: int  # type: ignore[assignment]
    id: str
    ids: tuple[str, ...]
    bar_index: int
    bar: int
    beat: Fraction
    metric_weight: float
    onset_q: Fraction
    duration_q: Fraction
    onset_s: float
    duration_s: float
    pitches: tuple[Pitch, ...]
    level_db: float
    dynamic: str
    gap_before_s: float = 0.0
    beat_s: float = 0.75
    in_hairpin: int = 0
    level_change_db: float = 0.0
    articulations: frozenset[Articulation] = frozenset()
    mark: Direction | None = None
    slurred: bool = False
    pizzicato: bool = False
    grace: bool = False
    phrase_end: bool = False
    fingerings: tuple[str, ...] = ()
    strings: tuple[int, ...] = ()
    open_string: bool = False
    written_lane: int = 0
    written_part: str = ""
    stroke_q: Fraction | None = None

    @property
    def end_q(self) -> Fraction:
        return self.onset_q + self.duration_q

    @property
    def end_s(self) -> float:
        return self.onset_s + self.duration_s

    @property
    def place(self) -> str:
        """Where it stands, such as "bar 3, beat 2.5"."""
        return say("bar {bar}, beat {beat}", bar=self.bar, beat=beat_words(self.beat))


def beat_words(beat: Fraction) -> str:
    """A beat as the user's language writes it: 2.5, or 2,5."""
    return in_figures(round(float(beat), 3))


def format_beat(beat: Fraction) -> str:
    """A beat as a short decimal: 1, 2.5, 3.333."""
    return f"{float(beat):.3f}".rstrip("0").rstrip(".")


@dataclass(frozen=True, slots=True)
class TempoSegment:
    """From `onset_q` the quarter-note tempo goes in a straight line from start to end."""

    onset_q: float
    end_q: float
    start_bpm: float
    end_bpm: float

    def bpm_at(self, at_q: float) -> float:
        """The tempo at a time inside."""
        share = (at_q - self.onset_q) / (self.end_q - self.onset_q)
        return self.start_bpm + share * (self.end_bpm - self.start_bpm)

    def seconds_to(self, at_q: float) -> float:
        """Seconds from the segment's start to a time inside or after it."""
        x = at_q - self.onset_q
        if self.start_bpm == self.end_bpm:
            return 60.0 * x / self.start_bpm
        slope = (self.end_bpm - self.start_bpm) / (self.end_q - self.onset_q)
        return 60.0 / slope * math.log((self.start_bpm + slope * x) / self.start_bpm)


@dataclass(frozen=True, slots=True)
class TempoMap:
    """Tempo over the piece. `beat_q` and `bpm` are the first mark as the page shows it."""

    segments: tuple[TempoSegment, ...]
    beat_q: Fraction = Fraction(1)
    written: bool = False

    @property
    def bpm(self) -> float:
        """Beats of `beat_q` a minute at the start."""
        return self.segments[0].start_bpm / float(self.beat_q)

    def scaled(self, ratio: float) -> TempoMap:
        """The same map with every tempo multiplied."""
        return replace(
            self,
            segments=tuple(
                replace(s, start_bpm=s.start_bpm * ratio, end_bpm=s.end_bpm * ratio)
                for s in self.segments
            ),
        )


class TempoClock:
    """Turns quarters into seconds along a tempo map; makes its running sums once."""

    def __init__(self, tempo: TempoMap) -> None:
        self._segments = tempo.segments
        self._starts_s = [0.0]
        for segment in self._segments[:-1]:
            self._starts_s.append(self._starts_s[-1] + segment.seconds_to(segment.end_q))
        self._at = 0
        self._last = (0.0, 0.0)

    def seconds(self, at_q: float) -> float:
        """Seconds from the start of the piece. Fast when asked in rising order."""
        if at_q != self._last[0]:
            self._last = (at_q, self._seconds(at_q))
        return self._last[1]

    def _seconds(self, at_q: float) -> float:
        if at_q < self._segments[self._at].onset_q:
            self._at = 0
        while self._at + 1 < len(self._segments) and at_q >= self._segments[self._at + 1].onset_q:
            self._at += 1
        return self._starts_s[self._at] + self._segments[self._at].seconds_to(at_q)


@dataclass(frozen=True, slots=True, eq=False)
class Part:
    """One part of a score, ready for planning. Compared by identity: a part is read once."""

    id: str
    name: str
    instrument: str | None
    bars: tuple[Bar, ...]
    notes: tuple[Note, ...]
    tempo: TempoMap
    left_out: tuple[LeftOut, ...] = field(default=())

    @property
    def bars_n(self) -> int:
        """Number of bars as printed: a pickup and the halves of a split bar do not count."""
        return len({b.number for b in self.bars if b.number > 0})

    def at_tempo(self, bpm: float | None) -> Part:
        """The part played at another tempo, in beats of the tempo mark a minute."""
        if bpm is None or not self.notes or bpm == self.tempo.bpm:
            return self
        return _at_tempo(self, bpm)


@lru_cache(maxsize=8)
def note_table(part: Part) -> Mapping[str, tuple[Any, ...]]:
    """The notes of a part turned round: every field of theirs, an entry a note."""
    if not part.notes:
        return dict.fromkeys(Note._fields, ())
    return dict(zip(Note._fields, zip(*part.notes, strict=True), strict=True))


@lru_cache(maxsize=8)
def note_numbers(part: Part) -> Mapping[str, int]:
    """The index of every note by its id."""
    return {note_id: k for k, note_id in enumerate(note_table(part)["id"])}


@lru_cache(maxsize=8)
def _at_tempo(part: Part, bpm: float) -> Part:
    """Kept, because a plan is made anew far more often than its tempo changes."""
    ratio = bpm / part.tempo.bpm
    table = dict(note_table(part))
    for name in ("onset_s", "duration_s", "gap_before_s", "beat_s"):
        table[name] = tuple(seconds / ratio for seconds in table[name])
    notes = tuple(map(Note._make, zip(*table.values(), strict=True)))
    return replace(part, notes=notes, tempo=part.tempo.scaled(ratio))
