"""Which string and finger play each note: a Viterbi search over (string, finger, position).

Conventions are those of `grips`. All costs are own defaults.
Ties: lower cost of the first note, then higher string.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache
from itertools import pairwise
from operator import add

import numpy as np

from plectrum.core.document.choices import Choices, Pin
from plectrum.core.instrument.bow import Bow
from plectrum.core.instrument.specification import Instrument, instrument
from plectrum.core.planning import rules
from plectrum.core.planning.fingering.grips import (
    FIRST_POSITION,
    Finger,
    Fingered,
    Grip,
    fingers_for,
    held_grips_for,
)
from plectrum.core.player.player import Player
from plectrum.core.player.school import FourthSchool, School
from plectrum.core.score.model import Note, Part, Pitch, note_table

Moves = tuple[tuple[float, ...], ...]


def plan_strings(notes: Sequence[Note], choices: Choices) -> tuple[Fingered, ...]:
    """The cheapest strings and fingers for some notes, one entry a note.

    Every sequence of grips is covered: the result costs no more than any other.
    """
    own = instrument(choices.instrument)
    search = _Search(notes, choices, own)
    best = search.best()
    made = {g: _fingered(g, own) for g in set(best)}
    return tuple(made[g] for g in best)


def _fingered(grip: Grip | None, own: Instrument) -> Fingered:
    waits = grip is not None and grip.is_open
    return Fingered(grip.waiting(FIRST_POSITION) if waits and grip else grip, own.string_names)


class _Line:
    """What of the notes of a part their strings and fingers depend on. At another tempo it is the
    same line, as long as the same notes are slow and fast."""

    def __init__(self, part: Part) -> None:
        self.notes = part.notes
        table = note_table(part)
        seconds, gaps_s = (np.array(table[n], dtype=float) for n in ("duration_s", "gap_before_s"))
        self._times = np.stack(
            [seconds >= rules.SLOW_OPEN_S, seconds < rules.FAST_S, gaps_s == 0]
        ).tobytes()
        self._written = tuple(table[name] for name in _WRITTEN)

    def __hash__(self) -> int:
        return hash(self._times)

    def __eq__(self, other: object) -> bool:
        if not isinstance(other, _Line):
            return NotImplemented
        return (self._times, self._written) == (other._times, other._written)


_WRITTEN = ("id", "pitches", "slurred", "fingerings", "strings", "open_string")


def fingering_of(part: Part, choices: Choices) -> tuple[Fingered, ...]:
    """`plan_strings` for a part; kept, because most edits of the bow leave the left hand alone."""
    pins = {k: p for k, p in choices.pins.items() if (p.string, p.finger) != (None, None)}
    held = tuple((k, Pin(string=pins[k].string, finger=pins[k].finger)) for k in sorted(pins))
    fourth = choices.school.fourth
    return _kept_fingering(
        _line(part), choices.instrument, choices.bow, choices.player, fourth, held
    )


@lru_cache(maxsize=16)
def _line(part: Part) -> _Line:
    return _Line(part)


@lru_cache(maxsize=16)
def _kept_fingering(
    line: _Line,
    name: str,
    bow: Bow,
    player: Player,
    fourth: FourthSchool,
    held: tuple[tuple[str, Pin], ...],
) -> tuple[Fingered, ...]:
    choices = Choices(name, bow, player, School(fourth=fourth), None, dict(held))
    return plan_strings(line.notes, choices)


class _Search:
    """The Viterbi search of one part."""

    def __init__(self, notes: Sequence[Note], choices: Choices, own: Instrument) -> None:
        self.notes = notes
        self.choices = choices
        self.own = own
        self.player = choices.player
        # By identity: grips are kept, and to hash them is slow.
        self._grips: dict[tuple[Pitch, ...], tuple[Grip, ...]] = {}
        self._plain: dict[tuple[int, bool], list[float]] = {}
        self._moves: dict[tuple[int, int, bool, bool], Moves] = {}

    def grips(self, note: Note) -> tuple[Grip, ...]:
        """The grips of a note; the top notes of a chord the hand cannot hold; else none.

        The hand keeps its place while open strings sound, so that they come in every position.
        """
        found = self._grips.get(note.pitches)
        if found is None:
            midis = tuple(p.midi for p in note.pitches)
            tops = (midis[first:] for first in range(len(midis)))
            name, positions = self.choices.instrument, self.player.positions
            ways = (held_grips_for(name, top, positions) for top in tops)
            found = self._grips[note.pitches] = next(filter(None, ways), ())
        return found

    def best(self) -> list[Grip | None]:
        """Grips by note; each run between unplayable notes is solved as one."""
        result: list[Grip | None] = [None] * len(self.notes)
        costs: list[float] = []
        back: list[list[int]] = []
        columns: list[tuple[int, tuple[Grip, ...]]] = []
        for note in self.notes:
            grips = self.grips(note)
            if not grips:
                continue
            here = self.own_costs(note, grips)
            links = [0] * len(grips)
            if columns:
                index, before = columns[-1]
                slurred, fast = _crossing_scale(self.notes[index], note)
                for k, moves in enumerate(self._moves_between(before, grips, slurred, fast)):
                    options = list(map(add, costs, moves))
                    least = min(options)
                    here[k] += least
                    links[k] = options.index(least)
            columns.append((note.index, grips))
            back.append(links)
            costs = here
        if columns:
            k = min(range(len(costs)), key=costs.__getitem__)
            for (index, grips), links in zip(reversed(columns), reversed(back), strict=True):
                result[index] = grips[k]
                k = links[k]
        return result

    def own_costs(self, note: Note, grips: tuple[Grip, ...]) -> list[float]:
        """What each grip costs by itself: weak fingers, school, player, score and pins."""
        slow = note.duration_s >= rules.SLOW_OPEN_S
        plain = self._plain.get((id(grips), slow))
        if plain is None:
            school, name = self.choices.school.fourth, self.choices.instrument
            plain = [_plain_cost(g, self.player, school, name) for g in grips]
            if slow:
                plain = [c + s for c, s in zip(plain, self._slow_costs(grips), strict=True)]
            self._plain[id(grips), slow] = plain
        costs = list(plain)
        if note.fingerings or note.strings or note.open_string:
            written = (_written_cost(note, g, self.own.strings_n) for g in grips)
            costs = [c + w for c, w in zip(costs, written, strict=True)]
        pin = self.choices.pins.get(note.id)
        if pin is not None:
            costs = [c + _pin_cost(pin, g) for c, g in zip(costs, grips, strict=True)]
        return costs

    def _moves_between(
        self, before: tuple[Grip, ...], after: tuple[Grip, ...], in_slur: bool, fast: bool
    ) -> Moves:
        key = id(before), id(after), in_slur, fast
        found = self._moves.get(key)
        if found is None:
            found = self._moves[key] = move_costs(before, after, in_slur, fast)
        return found

    def _slow_costs(self, grips: tuple[Grip, ...]) -> list[float]:
        """What a slow note costs in a higher position where its open string would do."""
        if self.choices.school.fourth is FourthSchool.STOPPED:
            return [0.0] * len(grips)
        could = any(g.is_open for g in grips)
        return [rules.SLOW_OPEN * (could and not g.is_open and g.position > 1) for g in grips]


def _pin_cost(pin: Pin, grip: Grip) -> float:
    cost = rules.STRING_PIN * (pin.string is not None and grip.main.string != pin.string)
    return cost + rules.STRING_PIN * (pin.finger is not None and grip.main.finger != pin.finger)


def _plain_cost(grip: Grip, player: Player, fourth: FourthSchool, name: str) -> float:
    cost = 0.0
    own = instrument(name)
    for f in grip.fingers:
        cost += rules.FOURTH * (f.finger == 4 and own.hand.weak_fourth)
        cost += rules.EXTENSION * f.stretched + rules.HIGHER_POSITION * (
            f.finger > 0 and f.position > 1
        )
        cost += rules.HAND_NOT_LEARNT * (not player.knows_finger(f.finger, own))
        cost += rules.HAND_NOT_LEARNT * (not player.knows_string(f.string))
        twin = _has_twin(f, name)
        cost += rules.FOURTH_SCHOOL * (fourth is FourthSchool.OPEN and twin and f.finger == 4)
        cost += rules.FOURTH_SCHOOL * (fourth is FourthSchool.STOPPED and twin and f.finger == 0)
    return cost


def _has_twin(finger: Finger, name: str) -> bool:
    """Whether open string and fourth finger both play this pitch."""
    own = instrument(name)
    midi = own.open_midis[finger.string] + finger.semitones
    fingers = {f.finger for f in fingers_for(name, midi, (1,)) if not f.stretched}
    return {0, 4} <= fingers


def _written_cost(note: Note, grip: Grip, strings_n: int) -> float:
    fingers = {str(f.finger) for f in grip.fingers}
    cost = rules.WRITTEN * sum(1 for f in note.fingerings if f.isdigit() and f not in fingers)
    # Scores number strings from the highest, 1.
    strings = {strings_n - f.string for f in grip.fingers}
    cost += rules.WRITTEN * sum(1 for s in note.strings if s not in strings)
    return cost + rules.WRITTEN * (note.open_string and "0" not in fingers)


def _crossing_scale(before: Note, note: Note) -> tuple[bool, bool]:
    return note.slurred, before.duration_s < rules.FAST_S and note.gap_before_s == 0


@lru_cache(maxsize=16384)
def move_costs(
    before: tuple[Grip, ...], after: tuple[Grip, ...], in_slur: bool, fast: bool
) -> Moves:
    """Costs of every move between two notes' grips, by (after, before)."""
    return tuple(tuple(move_cost(a, b, in_slur, fast) for a in before) for b in after)


def move_cost(before: Grip, after: Grip, in_slur: bool, fast: bool) -> float:
    """What it costs to go from one grip to the next."""
    apart = abs(after.level - before.level) / 2
    cost = rules.CROSS * apart + rules.SKIP * max(0.0, apart - 1)
    cost *= (rules.IN_SLUR if in_slur else 1.0) * (rules.FAST if fast else 1.0)
    a, b = before.main, after.main
    if before.position != after.position:
        sounding_open = before.is_open or after.is_open
        cost += rules.SHIFT * (rules.OPEN_SHIFT if sounding_open else 1.0)
    if a.finger and b.finger:
        if a.finger == b.finger and a.semitones != b.semitones:
            cost += rules.SAME_FINGER_JUMP
        elif a.finger == b.finger and abs(a.string - b.string) == 1:
            cost -= rules.FIFTH_SAVED
    return cost


def crossings_n(fingered: Sequence[Fingered]) -> int:
    """How often the arm changes its level from one note to the next."""
    levels = [f.level for f in fingered if f.level is not None]
    return sum(1 for a, b in pairwise(levels) if a != b)
