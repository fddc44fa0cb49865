"""How much bow each note would like, and where on the bow: the amount schools.

Lengths and places are fractions of the hair. What fact of the trade a rule follows is said at
the rule (common practice, no source); numbers without a source are own defaults.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable, Sequence
from functools import lru_cache
from typing import Any, TypeVar

from plectrum.core.document.choices import Choices
from plectrum.core.instrument.bow import Bow
from plectrum.core.instrument.specification import Instrument, instrument
from plectrum.core.planning import rules
from plectrum.core.planning.fingering.grips import Fingered
from plectrum.core.player.player import Player
from plectrum.core.player.school import AmountSchool, DynamicsSchool, School
from plectrum.core.score.model import Articulation, Note, Part

KEPT_MOST = 100_000  # parts of plans kept for the next one
KEPT_FEW = 2  # of those that may take megabytes
Made = TypeVar("Made")
STOPPED = frozenset({Articulation.STACCATO, Articulation.STACCATISSIMO, Articulation.SPICCATO})
ACCENTED = frozenset({Articulation.ACCENT, Articulation.MARCATO, Articulation.SFORZANDO})


def moving_share(note: Note, stop_after: bool) -> float:
    """Which part of a note's time the bow moves.

    Args:
        stop_after: the next note follows in the same direction after a stop.
    """
    if note.articulations & STOPPED:
        return rules.STACCATO_SHARE
    if stop_after and note.duration_s > 0:
        low_s, high_s = rules.HOOK_STOP_S
        stop_s = min(high_s, max(low_s, rules.HOOK_STOP_SHARE * note.duration_s))
        return 1.0 - min(stop_s / note.duration_s, rules.HOOK_STOP_MOST)
    return 1.0


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


def level_gain(note: Note, hairpin: tuple[float, float] | None, shared_db: float) -> float:
    """How much more or less bow a note wants for its level.

    Args:
        hairpin: mean level in dB and length in seconds of the hairpin it stands in.
        shared_db: dB for ten times the bow.
    """
    if hairpin is None or hairpin[1] > rules.SHAPING_LIMIT_S:
        return float(10.0 ** (note.level_db / shared_db))
    mean_db, _ = hairpin
    return float(10.0 ** (mean_db / shared_db + (note.level_db - mean_db) / rules.SHAPING_DB))


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


class Amounts:
    """Ideal lengths and places for one part under one set of choices."""

    def __init__(self, notes: Sequence[Note], choices: Choices, own: Instrument) -> None:
        self.own = own
        self.school = choices.school.amount
        self.player: Player = choices.player.on(choices.own)
        self.hair_mm = choices.bow.hair_mm
        self.balance = choices.bow.balance
        self.low, self.high = school_range(choices)
        self.hairpins = hairpins_of(notes)
        alone = choices.school.dynamics is DynamicsSchool.AMOUNT
        self.shared_db = rules.ALONE_DB if alone else rules.SHARED_DB
        self._string_gains: dict[tuple[int, ...], float] = {}
        self._places: dict[int, float] = {}
        self._kept: tuple[object, dict[Hashable, Any]] = (None, {})

    def kept(self, fingered: object) -> dict[Hashable, Any]:
        """Parts of plans made before with these amounts and this fingering, by what they depend
        on: a pin changes few of them."""
        kept = self._kept  # one value, so that threads never mix two fingerings
        if kept[0] is not fingered or len(kept[1]) > KEPT_MOST:
            self._kept = kept = (fingered, {})
        return kept[1]

    def few(self, fingered: object, kind: str, key: Hashable, make: Callable[[], Made]) -> Made:
        """One of the large parts, made if it is not among the last few."""
        few: dict[Hashable, Made] = self.kept(fingered).setdefault(kind, {})
        found = few.get(key)
        if found is None:
            found = few[key] = make()
            for old in list(few)[:-KEPT_FEW]:
                few.pop(old, None)
        return found

    def gain(self, note: Note) -> float:
        return level_gain(note, self.hairpins.get(note.in_hairpin), self.shared_db)

    def length(self, note: Note, share: float) -> float:
        """Fraction of the hair a note would like on the highest string.

        Args:
            share: the part of its time in which the bow moves.
        """
        kinds = note.articulations & rules.AMOUNT_OF.keys() if note.articulations else ()
        scale = self.gain(note)
        for kind in kinds:
            scale *= rules.AMOUNT_OF[kind]
        if self.school is AmountSchool.VALUES:
            return scale * self._by_value(note) * share
        seconds = max(note.duration_s * share, 1e-3)
        stretched_s: float = (
            rules.REFERENCE_S * (seconds / rules.REFERENCE_S) ** rules.DURATION_EXPONENT
        )
        length = self.player.comfortable_mm_s * scale * stretched_s / self.hair_mm
        if self.school is AmountSchool.STEADY:
            return length
        return length * (self.high - self.low) / (self.player.usable_to - self.player.usable_from)

    def string_gain(self, strings: tuple[int, ...]) -> float:
        """How much less it would like on other strings."""
        if strings not in self._string_gains:
            self._string_gains[strings] = string_gain(self.own, strings)
        return self._string_gains[strings]

    def _by_value(self, note: Note) -> float:
        """Whole bows for a beat or more, halves for half beats, quarters below (practice)."""
        beats = note.duration_s / note.beat_s if note.beat_s > 0 else 1.0
        usable = self.high - self.low
        if beats >= rules.WHOLE_FROM_BEATS:
            return usable
        return usable / 2 if beats >= rules.HALF_FROM_BEATS else usable / 4

    def place(self, note: Note) -> float:
        """Where the middle of a stroke would like to be.

        Loud and accented notes towards the lower half, soft ones towards the upper, stopped
        notes above the middle, spiccato near the balance point, ricochet above the middle
        (common practice).
        """
        known = self._places.get(note.index)
        if known is None:
            known = self._places[note.index] = self._place(note)
        return known

    def _place(self, note: Note) -> float:
        if Articulation.SPICCATO in note.articulations:
            return self.balance + rules.SPICCATO_ABOVE_BALANCE
        if Articulation.RICOCHET in note.articulations:
            return rules.RICOCHET_PLACE
        middle = (self.low + self.high) / 2
        place = middle - rules.PLACE_PER_DB * note.level_db + self.own.place_shift
        if note.articulations & ACCENTED:
            place += rules.ACCENTED_PLACE
        if note.articulations & STOPPED:
            place += rules.STOPPED_PLACE
        return min(middle + rules.PLACE_MOST, max(middle - rules.PLACE_MOST, place))


def amounts_of(part: Part, choices: Choices) -> Amounts:
    """The amounts of a part; kept, because pins do not change them."""
    return _kept_amounts(part, choices.instrument, choices.bow, choices.player, choices.school)


@lru_cache(maxsize=4)
def _kept_amounts(part: Part, name: str, bow: Bow, player: Player, school: School) -> Amounts:
    return Amounts(part.notes, Choices(name, bow, player, school), instrument(name))
