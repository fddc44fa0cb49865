"""How much bow each note would like, and where on the bow: the amount schools.

Lengths and places are fractions of the hair. What fact of the trade a rule follows is said at
the rule (common practice, no source); numbers without a source are own defaults.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from plectrum.core.document.choices import Choices
from plectrum.core.instrument.bow import Bow
from plectrum.core.instrument.specification import Instrument, instrument
from plectrum.core.planning import rules
from plectrum.core.player.player import Player
from plectrum.core.player.school import AmountSchool, DynamicsSchool, School
from plectrum.core.score.model import Articulation, Note, Part

Floats = NDArray[np.float64]
STOPPED = frozenset({Articulation.STACCATO, Articulation.STACCATISSIMO, Articulation.SPICCATO})
ACCENTED = frozenset({Articulation.ACCENT, Articulation.MARCATO, Articulation.SFORZANDO})


def moving_shares(notes: Sequence[Note], stop_after: bool) -> Floats:
    """Which part of each note's time the bow moves, shape (N,).

    Args:
        stop_after: the next note follows in the same direction after a stop.
    """
    shares = np.ones(len(notes))
    if stop_after:
        seconds = np.array([n.duration_s for n in notes])
        stop_s = np.clip(rules.HOOK_STOP_SHARE * seconds, *rules.HOOK_STOP_S) * (seconds > 0)
        shares -= np.minimum(stop_s / np.maximum(seconds, 1e-9), rules.HOOK_STOP_MOST)
    shares[[k for k, n in enumerate(notes) if n.articulations & STOPPED]] = rules.STACCATO_SHARE
    return shares


def hairpins_of(notes: Sequence[Note]) -> dict[int, tuple[float, float]]:
    """Mean level in dB and length in seconds of every hairpin, by its number."""
    grouped: dict[int, list[Note]] = {}
    for note in notes:
        if note.in_hairpin:
            grouped.setdefault(note.in_hairpin, []).append(note)
    return {
        number: (
            sum(n.level_db for n in members) / len(members),
            members[-1].end_s - members[0].onset_s,
        )
        for number, members in grouped.items()
    }


def level_gains(notes: Sequence[Note], shared_db: float) -> Floats:
    """How much more or less bow each note wants for its level, shape (N,).

    Args:
        shared_db: dB for ten times the bow.
    """
    exponent = np.array([n.level_db for n in notes]) / shared_db
    hairpins = hairpins_of(notes)
    for k, note in enumerate(notes) if hairpins else ():
        if note.in_hairpin and hairpins[note.in_hairpin][1] <= rules.SHAPING_LIMIT_S:
            mean_db = hairpins[note.in_hairpin][0]
            exponent[k] = mean_db / shared_db + (note.level_db - mean_db) / rules.SHAPING_DB
    gains: Floats = 10.0**exponent
    return gains


def string_gain(own: Instrument, strings: Sequence[int]) -> float:
    """Slower bow on lower strings: 1 on the highest, less by impedance below it."""
    if not strings:
        return 1.0
    heaviest = max(own.impedances_kg_s[s] for s in strings)
    lightest: float = min(own.impedances_kg_s)
    return float((lightest / heaviest) ** rules.STRING_EXPONENT)


def school_range(choices: Choices) -> tuple[float, float]:
    """The part of the bow a plan may use: the player's, narrowed by the amount school."""
    player = choices.player
    low, high = player.usable_from, player.usable_to
    width = (high - low) * player.range_share
    if choices.school.amount is AmountSchool.MIDDLE:
        middle = min(max(0.5, low + width / 2), high - width / 2)
        return middle - width / 2, middle + width / 2
    if choices.school.amount is AmountSchool.FROG:
        return low, low + width
    return low, high


def tremolo_of(note: Note) -> tuple[int, bool]:
    """How many strokes a note takes, and whether they are counted; one for all but a tremolo."""
    if note.stroke_q is None:
        return 1, True
    counted = max(1, round(note.duration_q / note.stroke_q)) if note.stroke_q else 0
    if counted and note.duration_s / counted >= rules.MEASURED_S:
        return counted, True
    return max(2, round(note.duration_s * rules.TREMOLO_PER_S)), False


class Amounts:
    """What the N notes of a part would like under one set of choices; arrays of shape (N,).

    Attributes:
        gain: how much more or less bow for the level.
        strokes, counted: see `tremolo_of`.
        moving_s: how long the bow moves; length: what each stroke would like on the highest
            string.
        stopped_moving_s, stopped_length: the same where the bow stops after the note and goes on
            the same way.
        place: where the middle of a stroke would like to be.
    """

    def __init__(self, notes: Sequence[Note], choices: Choices, own: Instrument) -> None:
        self.own = own
        self._signed = [(k, n) for k, n in enumerate(notes) if n.articulations]
        self.school = choices.school.amount
        self.player: Player = choices.player.on(choices.own)
        self.hair_mm = choices.bow.hair_mm
        self.balance = choices.bow.balance
        self.low, self.high = school_range(choices)
        alone = choices.school.dynamics is DynamicsSchool.AMOUNT
        self.gain = level_gains(notes, rules.ALONE_DB if alone else rules.SHARED_DB)
        seconds = np.array([n.duration_s for n in notes])
        shares, stopped = (moving_shares(notes, stop_after) for stop_after in (False, True))
        self.moving_s, self.stopped_moving_s = seconds * shares, seconds * stopped
        tremolos = [tremolo_of(n) for n in notes]
        self.strokes = np.array([n for n, _ in tremolos], dtype=np.int64)
        self.counted = np.array([counted for _, counted in tremolos], dtype=bool)
        self.length = self._lengths(notes, shares, self.moving_s)
        self.stopped_length = self._lengths(notes, stopped, self.stopped_moving_s)
        self.place = self._places(notes)
        self._string_gains: dict[tuple[int, ...], float] = {}

    def string_gain(self, strings: tuple[int, ...]) -> float:
        """How much less bow than on the highest string a note would like on others."""
        if strings not in self._string_gains:
            self._string_gains[strings] = string_gain(self.own, strings)
        return self._string_gains[strings]

    def _lengths(self, notes: Sequence[Note], shares: Floats, moving_s: Floats) -> Floats:
        scale = self.gain.copy()
        for k, note in self._signed:
            for kind in note.articulations & rules.AMOUNT_OF.keys():
                scale[k] *= rules.AMOUNT_OF[kind]
        if self.school is AmountSchool.VALUES:
            return scale * self._by_value(notes) * shares
        seconds = np.maximum(moving_s / self.strokes, 1e-3)
        stretched_s = rules.REFERENCE_S * (seconds / rules.REFERENCE_S) ** rules.DURATION_EXPONENT
        lengths: Floats = self.player.comfortable_mm_s * scale * stretched_s / self.hair_mm
        if self.school is AmountSchool.STEADY:
            return lengths
        return lengths * (self.high - self.low) / (self.player.usable_to - self.player.usable_from)

    def _by_value(self, notes: Sequence[Note]) -> Floats:
        """Whole bows for a beat or more, halves for half beats, quarters below (practice)."""
        beats = np.array([n.duration_s / n.beat_s if n.beat_s > 0 else 1.0 for n in notes])
        beats = beats / self.strokes
        usable = self.high - self.low
        half = np.where(beats >= rules.HALF_FROM_BEATS, usable / 2, usable / 4)
        return np.where(beats >= rules.WHOLE_FROM_BEATS, usable, half)

    def _places(self, notes: Sequence[Note]) -> Floats:
        """Loud and accented notes towards the lower half, soft ones towards the upper, stopped
        notes above the middle, spiccato near the balance point, ricochet above the middle
        (common practice)."""
        middle = (self.low + self.high) / 2
        level_db = np.array([n.level_db for n in notes])
        places = middle - rules.PLACE_PER_DB * level_db + self.own.place_shift
        spiccato, ricochet = Articulation.SPICCATO, Articulation.RICOCHET
        signs = [(k, note.articulations) for k, note in self._signed]
        for k, articulations in signs:
            if articulations & ACCENTED:
                places[k] += rules.ACCENTED_PLACE
            if articulations & STOPPED:
                places[k] += rules.STOPPED_PLACE
        places = np.clip(places, middle - rules.PLACE_MOST, middle + rules.PLACE_MOST)
        for k, articulations in signs:
            if ricochet in articulations:
                places[k] = rules.RICOCHET_PLACE
            if spiccato in articulations:
                places[k] = self.balance + rules.SPICCATO_ABOVE_BALANCE
        return places


def amounts_of(part: Part, choices: Choices) -> Amounts:
    """The amounts of a part; kept, because pins do not change them."""
    return _kept_amounts(part, choices.instrument, choices.bow, choices.player, choices.school)


@lru_cache(maxsize=4)
def _kept_amounts(part: Part, name: str, bow: Bow, player: Player, school: School) -> Amounts:
    return Amounts(part.notes, Choices(name, bow, player, school), instrument(name))
