"""A plan cut into the frames between which contact point and weight may change.

A frame is a note; a third of a note that grows or fades; the bite of an accented note, and the
rest of it. Loudness is in dB with mf = 0, weights in neper around the one at rest.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields, replace
from math import log
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from plectrum.core.document.choices import Join
from plectrum.core.instrument.specification import Instrument
from plectrum.core.planning import rules
from plectrum.core.planning.fingering.grips import Fingered
from plectrum.core.planning.strokes.amounts import string_gain
from plectrum.core.planning.strokes.kept import kept_of
from plectrum.core.planning.strokes.planned import PlannedNote, PlannedPart
from plectrum.core.score.model import Articulation, note_table

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
THIRDS = np.array([-2 / 3, 0.0, 2 / 3])  # of the change from middle to end, in each third
_STACCATO = Articulation.STACCATO
_JOIN_CODES = {join: code for code, join in enumerate(Join)}
_SLUR, _HOOK, _RETAKE = (_JOIN_CODES[j] for j in (Join.SLUR, Join.HOOK, Join.RETAKE))


@dataclass(frozen=True)
class Written:
    """What of the bowed notes neither strokes nor pins change, a row each; kept."""

    index: Ints
    level_db: Floats
    change_db: Floats
    bite_db: Floats
    rest_db: Floats
    lean: Floats
    hairpin: Ints
    seconds: Floats
    gap_s: Floats
    impedance: Floats
    length_mm: Floats
    string_gain: Floats
    string_level: Floats
    high: Floats
    lane: Ints
    row_of_id: Mapping[str, int]

    def of_rows(self, at: Ints) -> Written:
        return _sliced(self, at, ("row_of_id",))


_Rows = TypeVar("_Rows", "Written", "Bowed")


def _sliced(rows: _Rows, at: Ints, kept: tuple[str, ...] = ()) -> _Rows:
    names = [f.name for f in fields(rows) if f.name not in kept]
    return replace(rows, **{name: getattr(rows, name)[at] for name in names})


def written(plan: PlannedPart) -> Written:
    """The rows of a plan; the same ones while only pins change."""
    kept = kept_of(plan.part, plan.choices, plan.fingered)
    if "contact" not in kept:
        kept["contact"] = _written(plan)
    found: Written = kept["contact"]
    return found


def _written(plan: PlannedPart) -> Written:
    own, table = plan.instrument, note_table(plan.part)
    rows = [k for k, p in enumerate(plan.notes) if p is not None]

    def column(name: str) -> Floats:
        return np.array(table[name], dtype=float)[rows]

    bites, leans = np.zeros((len(rows), 2)), np.zeros(len(rows))
    for row, k in enumerate(rows):
        if signs := table["articulations"][k]:
            bites[row], leans[row] = _bite(signs), rules.STACCATO_LEAN * (_STACCATO in signs)
    ways = {id(f): f for f in plan.fingered}  # few, so each is looked at once
    numbers = {way: number for number, way in enumerate(ways)}
    kinds = np.array([_on_string(own, f) for f in ways.values()], dtype=float).reshape(-1, 5)
    strings = kinds[[numbers[id(plan.fingered[k])] for k in rows]]
    return Written(
        np.array(rows, dtype=np.int64),
        column("level_db"),
        column("level_change_db"),
        bites[:, 0],
        bites[:, 1],
        leans,
        column("in_hairpin").astype(np.int64),
        column("duration_s"),
        column("gap_before_s"),
        strings[:, 0],
        strings[:, 1],
        strings[:, 2],
        strings[:, 3],
        strings[:, 4],
        np.array([_written_lane(plan, k) for k in rows], dtype=np.int64),
        {table["id"][k]: row for row, k in enumerate(rows)},
    )


def _on_string(own: Instrument, fingered: Fingered) -> tuple[float, ...]:
    """Impedance, sounding length in mm, gain and level of what a note is played on, and whether
    the hand is above the third position."""
    heaviest = max((own.impedances_kg_s[s] for s in fingered.strings), default=0.0)
    stopped = 0 if fingered.grip is None else fingered.grip.main.semitones
    return (
        heaviest or own.impedances_kg_s[-1],
        own.string_length_mm * 2.0 ** (-stopped / 12),
        string_gain(own, fingered.strings),
        fingered.level or 0,
        float(fingered.grip is not None and fingered.grip.position > rules.HIGH_POSITION),
    )


def _written_lane(plan: PlannedPart, note: int) -> int:
    """The player's lane nearest to the one that words over the staff ask for; 0 for none."""
    written = plan.part.notes[note].written_lane
    if not written:
        return 0
    return min(plan.player.lanes, key=lambda lane: (abs(lane - written), lane))


def _bite(signs: frozenset[Articulation]) -> tuple[float, float]:
    """What an accent adds at its bite and after it, in dB."""
    found = [rules.BITE_OF[a] for a in signs & rules.BITE_OF.keys()]
    return max(found, default=(0.0, 0.0))


@dataclass(frozen=True)
class Bowed:
    """What the bow does on each note: the rows that strokes change."""

    start: Floats
    end: Floats
    speed_m_s: Floats
    moving_s: Floats
    swell: Floats
    join: Ints
    pinned_lane: Ints

    def of_rows(self, at: Ints) -> Bowed:
        return _sliced(self, at)

    def differs(self, other: Bowed) -> NDArray[np.bool_]:
        """Which notes are not bowed as in another plan of the same notes."""
        differs = np.zeros(len(self.start), dtype=bool)
        for field in fields(self):
            differs |= getattr(self, field.name) != getattr(other, field.name)
        return differs


def bowed(
    plan: PlannedPart, rows: Written, before: tuple[Sequence[PlannedNote | None], Bowed] | None
) -> Bowed:
    """The rows of a plan.

    Args:
        before: the notes of a plan before and their rows; of notes that are still the same ones,
            the rows are taken over.
    """
    if before is None:
        return _bowed([p for p in plan.notes if p is not None], _pinned_lanes(plan, rows))
    notes, old = before
    others = [p for p, q in zip(plan.notes, notes, strict=True) if p is not q and p is not None]
    new = _bowed(others, _pinned_lanes(plan, rows))
    at = np.searchsorted(rows.index, [p.note.index for p in others])
    columns = {name: getattr(old, name).copy() for name in _BY_STROKES}
    for name, column in columns.items():
        column[at] = getattr(new, name)
    return replace(new, **columns)


_BY_STROKES = ("start", "end", "speed_m_s", "moving_s", "swell", "join")


def _bowed(notes: Sequence[PlannedNote], pinned_lane: Ints) -> Bowed:
    columns = zip(*notes, strict=True)
    table = dict(zip(PlannedNote._fields, columns, strict=False))  # none where nothing is bowed
    names = ("start", "end", "length_mm", "moving_s", "swell", "strokes_n")
    start, end, length_mm, moving_s, swell, strokes = (
        np.array(table.get(n, ()), float) for n in names
    )
    join = np.array([_JOIN_CODES[j] for j in table.get("join", ())], dtype=np.int64)
    moving_s = np.maximum(moving_s, 0.03)
    speed = np.maximum(strokes * length_mm / moving_s, 1.0) / 1000
    return Bowed(start, end, speed, moving_s, swell, join, pinned_lane)


def _pinned_lanes(plan: PlannedPart, rows: Written) -> Ints:
    pinned = rows.lane.copy()
    for note_id, pin in plan.choices.pins.items():
        if pin.lane and note_id in rows.row_of_id:
            pinned[rows.row_of_id[note_id]] = pin.lane
    return pinned


@dataclass(frozen=True)
class Frames:
    """One row a frame.

    Attributes:
        row: the note's row; first and last frame of each note in `first` and `last`.
        seconds: for which it counts, less than it lasts where the player cannot draw so slowly.
        level_db: wanted, accents included.
        lean: weight wished for besides what the level asks, in neper.
        moves: how dear it is to move the contact point into this frame, and the weight; (F, 2).
        time_s: for that move.
        most_n: what the hand can give at this place of the bow.
        bites: whether the frame is the bite of an accent.
    """

    row: Ints
    first: Ints
    last: Ints
    seconds: Floats
    level_db: Floats
    lean: Floats
    speed_m_s: Floats
    impedance: Floats
    length_mm: Floats
    string_gain: Floats
    even_db: Floats
    high: Floats
    pinned_lane: Ints
    moves: Floats
    time_s: Floats
    most_n: Floats
    bites: NDArray[np.bool_]

    def some(self, frames: Ints) -> Frames:
        """Some of the frames; which of them begin and end notes is not kept."""
        return replace(self, **{name: getattr(self, name)[frames] for name in _OF_FRAMES})

    def of_rows(self, rows: Ints) -> Frames:
        """The frames of some notes."""
        part, counts = self.some(self.at(rows)), self.counts(rows)
        first = np.cumsum(counts) - counts
        row = np.repeat(np.arange(len(rows)), counts)
        return replace(part, row=row, first=first, last=first + counts - 1)

    def counts(self, rows: Ints) -> Ints:
        """How many frames some notes have."""
        return self.last[rows] - self.first[rows] + 1

    def at(self, rows: Ints) -> Ints:
        """Which frames are those of some notes."""
        counts = self.counts(rows)
        within = np.arange(counts.sum()) - np.repeat(np.cumsum(counts) - counts, counts)
        found: Ints = np.repeat(self.first[rows], counts) + within
        return found

    def put(self, at: Ints, part: Frames) -> None:
        """Write other frames of the same notes over some."""
        for name in _OF_FRAMES[1:]:
            getattr(self, name)[at] = getattr(part, name)


_OF_FRAMES = tuple(f.name for f in fields(Frames) if f.name not in ("first", "last"))


def frames_of(plan: PlannedPart, rows: Written, now: Bowed) -> Frames:
    """Cut a plan into frames."""
    accented = rows.bite_db > 0
    split = accented & (now.moving_s >= rules.BITE_FROM_S)
    swells = (now.swell != 0) & ~accented
    count = np.where(swells, 3, np.where(split, 2, 1))
    row = np.repeat(np.arange(len(count)), count)
    first = np.cumsum(count) - count
    part = np.arange(len(row)) - first[row]  # which frame of its note
    seconds, level, speed = _cut(rows, now, (split, swells), (row, part))
    bitten = split[row]
    speed[bitten] = _bitten(now, plan.player.fastest_mm_s / 1000, row, part)[bitten]
    even = rules.EVEN_DB * np.log10(np.clip(rows.seconds, *rules.EVEN_RANGE_S) / rules.REFERENCE_S)
    gap = np.zeros(len(row))
    gap[first] = _gaps(rows, now)
    time = np.ones(len(row))
    time[1:] = 0.5 * seconds[:-1] + gap[1:] + 0.5 * seconds[1:]
    slowest = plan.player.slowest_mm_s / 1000
    seconds = seconds * np.where(speed * rules.SLOW_ENOUGH < slowest, rules.UNDRAWABLE, 1.0)
    moves = _moves(rows, now)[row]
    moves[part > 0] = rules.IN_HAIRPIN
    moves[(part > 0) & accented[row]] = rules.BITE_OUT
    beside = accented | np.append(False, accented[:-1])  # a bite leaves its neighbours as they are
    moves[(part == 0) & beside[row]] *= rules.BITE_IN
    bites = accented[row] & (part == 0)
    own = plan.instrument
    hand = rules.HAND_AT_FROG - rules.HAND_TO_TIP * (now.start + now.end) / 2
    return Frames(
        row, first, first + count - 1, seconds, level,
        rows.lean[row] + rules.BITE_LEAN * bites - _let_go(rows, row, part),
        speed, rows.impedance[row], rows.length_mm[row], rows.string_gain[row], even[row],
        rows.high[row], now.pinned_lane[row], moves, np.maximum(time, 0.08),
        (own.most_n * hand)[row], bites,
    )  # fmt: skip


def _let_go(rows: Written, row: Ints, part: Ints) -> Floats:
    """How much less weight than its level asks the rest of an accent wishes for, in neper: the arm
    lets go after the bite, and speed carries it (common practice)."""
    let: Floats = np.where(part > 0, rows.rest_db[row], 0.0) * log(10) / rules.LEVEL_PER_NEPER_DB
    return let


def _cut(
    rows: Written, now: Bowed, kinds: tuple[NDArray[np.bool_], ...], at: tuple[Ints, Ints]
) -> tuple[Floats, Floats, Floats]:
    """Seconds, level and speed of every frame."""
    (split, swells), (row, part) = kinds, at
    bite_s = np.minimum(rules.BITE_S, rules.BITE_SHARE * now.moving_s)
    seconds = now.moving_s[row]
    seconds = np.where(swells[row], seconds / 3, seconds)
    seconds = np.where(split[row] & (part == 0), bite_s[row], seconds)
    seconds = np.where(split[row] & (part == 1), (now.moving_s - bite_s)[row], seconds)
    third = np.where(swells[row], THIRDS[np.minimum(part, 2)], 0.0)
    level = rows.level_db[row] + third * rows.change_db[row] / 2
    short = (rows.bite_db > 0) & ~split
    level += np.where(
        part == 0, (rows.bite_db * np.where(short, 0.75, 1.0))[row], rows.rest_db[row]
    )
    speed = now.speed_m_s[row] * (1 + third * now.swell[row])
    return seconds, level, speed


def _bitten(now: Bowed, fastest_m_s: float, row: Ints, part: Ints) -> Floats:
    """Speeds of a bite and of what follows it: quicker first, so that the whole stays the same."""
    mean, moving_s = now.speed_m_s, now.moving_s
    bite_s = np.minimum(rules.BITE_S, rules.BITE_SHARE * moving_s)
    quick = np.minimum(rules.BITE_SPEED * mean, np.maximum(fastest_m_s, mean))
    rest = (mean * moving_s - quick * bite_s) / (moving_s - bite_s)
    return np.where(part == 0, quick[row], rest[row])


def _gaps(rows: Written, now: Bowed) -> Floats:
    """Seconds in which the bow stands or is in the air before each note."""
    gap = np.zeros(len(rows.seconds))
    gap[1:] = rows.gap_s[1:] + np.maximum(rows.seconds - now.moving_s, 0.0)[:-1]
    return gap


def _moves(rows: Written, now: Bowed) -> Floats:
    """How dear it is to move contact and weight into each note, shape (N, 2)."""
    n = len(rows.seconds)
    moves = np.tile(np.array(rules.AT_TURN), (n, 1))
    slur = now.join == _SLUR
    moves[slur] = rules.INSIDE_SLUR
    moves[now.join == _HOOK] = rules.AT_HOOK
    swelling = rows.hairpin > 0
    moves[swelling, 0] = rules.IN_HAIRPIN[0]
    moves[swelling, 1] *= rules.IN_HAIRPIN[1]
    start = rows.level_db - rows.change_db / 2 + rows.bite_db
    end = rows.level_db + rows.change_db / 2 + rows.rest_db
    new = np.zeros(n, dtype=bool)
    new[1:] = np.abs(start[1:] - end[:-1]) >= rules.NEW_LEVEL_DB
    moves[new] = rules.AT_NEW_LEVEL
    moves[new & slur, 0] *= 2
    moves[_high_shifts(rows.high), 0] = rules.AT_SHIFT
    free = (_gaps(rows, now) >= rules.MOVING_REST_S) | (now.join == _RETAKE)
    moves[free, 1] = rules.AT_REST[1]
    moves[free & new, 0] = rules.AT_REST[0]  # a rest gives time for it, but no reason
    return moves


def _high_shifts(high: Floats) -> Ints:
    """The notes at which the hand goes up into high positions or down from them, and stays."""
    at = np.flatnonzero(np.diff(high)) + 1
    stays = np.diff(at, prepend=0, append=len(high)) >= rules.HIGH_STAY_N
    shifts: Ints = at[stays[:-1] & stays[1:]]
    return shifts
