"""Tempo and loudness over the piece, from the directions the score gives.

Times are quarters as floats; the same moment always gives the same float.

Tempo words and levels of dynamics are own defaults or common practice, named at each table.
"""

from __future__ import annotations

import bisect
import re
from collections.abc import Iterable
from dataclasses import dataclass
from fractions import Fraction

from plectrum.core.score.model import TempoMap, TempoSegment
from plectrum.core.score.raw import RawDirection

# Own default: 4 dB a step, mf = 0 dB at the player's comfortable speed.
LEVEL_DB = {
    "pppp": -16.0,
    "ppp": -14.0,
    "pp": -12.0,
    "p": -8.0,
    "mp": -4.0,
    "mf": 0.0,
    "f": 4.0,
    "ff": 8.0,
    "fff": 10.0,
    "ffff": 12.0,
}
STEP_DB = 4.0
# A sudden accent at one note; fp and its kin then go on softly.
ACCENTED = {"sf", "sfz", "sffz", "fz", "rf", "rfz", "fp", "sfp", "sfpp"}
THEN_SOFT = {"fp": "p", "sfp": "p", "sfpp": "pp"}

DEFAULT_BPM = 80.0  # own default where the page says nothing
MIN_BPM, MAX_BPM = 10.0, 480.0
RIT_RATIO, ACCEL_RATIO = 0.7, 1.3  # own defaults: where a ritardando or accelerando ends
FERMATA_SHARE = 0.5  # own default: how much of its length a fermata adds to a note
MORE_RATIO = 1.15  # own default: "più mosso", and "meno mosso" the other way
RIT_LIMIT_Q = 8  # a ritardando nobody ends lasts two bars of four (own default)

# Quarter notes a minute usually meant by a tempo word (common practice, no source).
TEMPO_WORDS = {
    "largo": 50,
    "lento": 54,
    "adagio": 63,
    "andante": 80,
    "andantino": 86,
    "moderato": 96,
    "allegretto": 108,
    "allegro": 126,
    "vivace": 144,
    "presto": 168,
    "lent": 56,
    "langsam": 56,
    "modéré": 92,
    "mäßig": 92,
    "vif": 138,
    "lebhaft": 132,
    "schnell": 144,
    "slowly": 60,
    "gently": 76,
    "lively": 120,
    "fast": 132,
}
_SLOWING = re.compile(r"\b(rit|rall|ritard|rallent|ritardando|rallentando|riten)\b", re.I)
_HURRYING = re.compile(r"\b(accel|accelerando|stringendo)\b", re.I)
_FIRST = re.compile(r"\b(tempo i|tempo primo|tempo 1|1er mouvement|erstes zeitmaß)\b", re.I)
_BACK = re.compile(r"\b(a tempo|in tempo|au mouvement|im tempo|im zeitmaß)\b", re.I)
_MORE = re.compile(
    r"\b(pi[uù] (mosso|vivo|animato)|plus (vite|anim[eé])|schneller|bewegter)\b", re.I
)
_LESS = re.compile(r"\b(meno mosso|pi[uù] lento|moins vite|plus lent|langsamer|ruhiger)\b", re.I)
_LOUDER = re.compile(r"\bcresc", re.I)
_SOFTER = re.compile(r"\b(dim|decresc)", re.I)


def nearest_dynamic(level_db: float) -> str:
    """The dynamic whose level lies nearest."""
    usual = ("pp", "p", "mp", "mf", "f", "ff")
    return min(usual, key=lambda name: abs(LEVEL_DB[name] - level_db))


def build_tempo(directions: list[tuple[float, RawDirection]], end_q: float) -> TempoMap:
    """The tempo map of a piece from its directions, given with their absolute times."""
    marked = {at_q for at_q, d in directions if d.kind == "tempo" and d.value == "metronome"}
    sets: list[tuple[float, float]] = []
    bends: list[tuple[float, float]] = []
    holds: list[tuple[float, float]] = []
    beat_q = Fraction(1)
    written = False
    for at_q, d in sorted(directions, key=lambda pair: pair[0]):
        if d.kind == "tempo" and MIN_BPM <= d.number <= MAX_BPM:
            if d.value == "sound" and at_q in marked:
                continue
            if not written:
                beat_q = d.beat_q
                if not sets or sets[0][0] > 0:
                    sets.insert(0, (0.0, d.number))
            written = True
            sets.append((at_q, d.number))
        elif d.kind == "modulation" and sets:
            sets.append((at_q, _sane(sets[-1][1] * d.number)))
        elif d.kind == "fermata" and at_q > 0:  # the first tempo is that of the page
            holds.append((at_q, at_q + d.number))
        elif d.kind == "words":
            if _SLOWING.search(d.value):
                bends.append((at_q, RIT_RATIO))
            elif _HURRYING.search(d.value):
                bends.append((at_q, ACCEL_RATIO))
            elif at_q not in marked and (bpm := _bpm_of_words(d.value, sets)) is not None:
                sets.append((at_q, bpm))
    if not sets or sets[0][0] > 0:
        sets.insert(0, (0.0, DEFAULT_BPM))
    return TempoMap(tuple(_held(_segments(sets, bends, end_q), holds)), beat_q, written)


def _sane(bpm: float) -> float:
    return min(MAX_BPM, max(MIN_BPM, bpm))


def _bpm_of_words(words: str, before: list[tuple[float, float]]) -> float | None:
    """The tempo that words ask for: back to the one before, to the first, more or less of it, or
    one of their own; None where they say nothing of it.

    Args:
        before: the tempos so far, with their times.
    """
    first, last = (before[0][1], before[-1][1]) if before else (DEFAULT_BPM, DEFAULT_BPM)
    if _FIRST.search(words):
        return first
    if _BACK.search(words):
        return last
    if _MORE.search(words):
        return _sane(last * MORE_RATIO)
    if _LESS.search(words):
        return _sane(last / MORE_RATIO)
    found = re.findall(r"[a-zà-ü]+", words.lower())
    if before:  # later it must be what the words begin with: "gently" may speak of anything
        found = found[:1]
    return next((float(TEMPO_WORDS[word]) for word in found if word in TEMPO_WORDS), None)


def _held(
    segments: Iterable[TempoSegment], holds: list[tuple[float, float]]
) -> Iterable[TempoSegment]:
    """The same with the time of notes under a fermata drawn out; all parts wait for it."""
    for whole in segments:
        rest = whole
        for start_q, end_q in holds:
            start_q, end_q = max(start_q, rest.onset_q), min(end_q, rest.end_q)
            if start_q >= end_q:
                continue
            at, until = rest.bpm_at(start_q), rest.bpm_at(end_q)
            if start_q > rest.onset_q:
                yield TempoSegment(rest.onset_q, start_q, rest.start_bpm, at)
            slower = 1 + FERMATA_SHARE
            yield TempoSegment(start_q, end_q, at / slower, until / slower)
            rest = TempoSegment(end_q, rest.end_q, until, rest.end_bpm)
        if rest.onset_q < rest.end_q:
            yield rest


def _segments(
    sets: list[tuple[float, float]], bends: list[tuple[float, float]], end_q: float
) -> Iterable[TempoSegment]:
    for k, (start_q, bpm) in enumerate(sets):
        stop_q = sets[k + 1][0] if k + 1 < len(sets) else max(end_q, start_q + 1)
        at_q = start_q
        for bend_q, ratio in bends:
            if not at_q <= bend_q < stop_q:
                continue
            bend_end_q = min(stop_q, bend_q + RIT_LIMIT_Q)
            if bend_q > at_q:
                yield TempoSegment(at_q, bend_q, bpm, bpm)
            yield TempoSegment(bend_q, bend_end_q, bpm, bpm * ratio)
            at_q = bend_end_q
        if at_q < stop_q:
            yield TempoSegment(at_q, stop_q, bpm, bpm)


@dataclass(frozen=True, slots=True)
class Hairpin:
    """A change of level in a straight line between two times."""

    start_q: float
    end_q: float
    from_db: float
    to_db: float


class LevelCurve:
    """Level in dB over the piece: steps at dynamics, straight lines under hairpins."""

    def __init__(self, directions: list[tuple[float, RawDirection]], end_q: float) -> None:
        self._steps: list[tuple[float, float, str]] = [(-1.0, 0.0, "mf")]
        self.hairpins: list[Hairpin] = []
        self._hairpin_starts: list[float] = []
        self.accents: set[float] = set()
        marks = sorted(directions, key=lambda pair: pair[0])
        dynamics = self._dynamics(marks)
        self._times = [s[0] for s in self._steps]
        for start_q, stop_q, louder in _wedges(marks, dynamics, end_q):
            self._add_hairpin(start_q, stop_q, louder, dynamics)

    def _dynamics(self, marks: list[tuple[float, RawDirection]]) -> list[tuple[float, float]]:
        found: list[tuple[float, float]] = []
        for at_q, d in marks:
            if d.kind != "dynamic":
                continue
            if d.value in ACCENTED:
                self.accents.add(at_q)
            name = THEN_SOFT.get(d.value, d.value)
            if name in LEVEL_DB:
                self._steps.append((at_q, LEVEL_DB[name], name))
                found.append((at_q, LEVEL_DB[name]))
        return found

    def _add_hairpin(
        self,
        start_q: float,
        end_q: float,
        louder: bool,
        dynamics: list[tuple[float, float]],
    ) -> None:
        from_db = self.level(start_q)
        sign = 1 if louder else -1
        to_db = from_db + sign * STEP_DB
        for at_q, level_db in dynamics:
            if start_q < at_q <= end_q + 2 and at_q >= end_q - 0.5:
                if (level_db - from_db) * sign > 0:
                    to_db = level_db
                break
        to_db = min(12.0, max(-16.0, to_db))
        self.hairpins.append(Hairpin(start_q, end_q, from_db, to_db))
        self._hairpin_starts.append(start_q)
        if not any(start_q < t <= end_q for t in self._times):
            k = bisect.bisect_right(self._times, end_q)
            self._steps.insert(k, (end_q, to_db, nearest_dynamic(to_db)))
            self._times.insert(k, end_q)

    def hairpin_at(self, at_q: float) -> int:
        """Number of the hairpin that covers a time, from 1; 0 where there is none."""
        if not self.hairpins:
            return 0
        k = bisect.bisect_right(self._hairpin_starts, at_q)
        if k and at_q < self.hairpins[k - 1].end_q:
            return k
        return 0

    def level(self, at_q: float) -> float:
        """Level in dB at a time."""
        k = self.hairpin_at(at_q)
        if k:
            h = self.hairpins[k - 1]
            share = (at_q - h.start_q) / (h.end_q - h.start_q)
            return h.from_db + share * (h.to_db - h.from_db)
        return self._steps[bisect.bisect_right(self._times, at_q) - 1][1]

    def change(self, start_q: float, end_q: float) -> float:
        """How many dB a hairpin adds between two times, as within one note."""
        change_db = 0.0
        k = max(bisect.bisect_right(self._hairpin_starts, start_q) - 1, 0)
        for h in self.hairpins[k:]:
            if h.start_q >= end_q:
                break
            shared_q = min(end_q, h.end_q) - max(start_q, h.start_q)
            if shared_q > 0:
                change_db += (h.to_db - h.from_db) * shared_q / (h.end_q - h.start_q)
        return change_db

    def dynamic(self, at_q: float) -> str:
        """The dynamic in force at a time, as written or, after a hairpin, as reached."""
        return self._steps[bisect.bisect_right(self._times, at_q) - 1][2]


def _wedges(
    marks: list[tuple[float, RawDirection]],
    dynamics: list[tuple[float, float]],
    end_q: float,
) -> list[tuple[float, float, bool]]:
    """(start, end, louder) of each hairpin or "cresc." in time order, none overlapping."""
    found: list[tuple[float, float, bool]] = []
    opened: tuple[float, bool] | None = None

    def close(at_q: float) -> None:
        nonlocal opened
        if opened is not None and at_q > opened[0]:
            found.append((opened[0], at_q, opened[1]))
        opened = None

    for at_q, d in marks:
        if d.kind == "wedge" and d.value in ("crescendo", "diminuendo"):
            close(at_q)
            opened = (at_q, d.value == "crescendo")
        elif d.kind == "wedge" and d.value == "stop":
            close(at_q)
        elif d.kind == "words" and (_LOUDER.search(d.value) or _SOFTER.search(d.value)):
            close(at_q)
            following = [t for t, _ in dynamics if t > at_q]
            until = following[0] if following else min(end_q, at_q + RIT_LIMIT_Q)
            if until > at_q:
                found.append((at_q, until, bool(_LOUDER.search(d.value))))
    kept: list[tuple[float, float, bool]] = []
    for start_q, stop_q, louder in sorted(found):
        if kept and start_q < kept[-1][1]:
            kept[-1] = (kept[-1][0], start_q, kept[-1][2])
            if kept[-1][0] >= kept[-1][1]:
                kept.pop()
        kept.append((start_q, stop_q, louder))
    return kept
