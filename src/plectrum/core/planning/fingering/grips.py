"""The ways to play a note: which finger on which string, alone or together.

Conventions: strings count from the lowest, 0; fingers 0 (open) to 4; positions are named as
players name them, 0 being the half position of the double bass. A string level is 1 for the
lowest string: odd for one string, even for the two beside it.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache
from itertools import pairwise, product
from typing import NamedTuple

from plectrum.core.instrument.specification import instrument

FIRST_POSITION = 1


class Finger(NamedTuple):
    """One way to stop one pitch: string, finger, position, semitones above the open string."""

    string: int
    finger: int
    position: int
    semitones: int
    stretched: bool


class Grip(NamedTuple):
    """One way to play an event: its fingers, lowest string first."""

    fingers: tuple[Finger, ...]

    @property
    def level(self) -> int:
        """String level; of more than two strings, the two highest."""
        strings = [f.string for f in self.fingers[-2:]]
        return strings[0] + strings[-1] + 1

    @property
    def main(self) -> Finger:
        """The finger on the lowest string, which carries the name of the note."""
        return self.fingers[0]

    @property
    def position(self) -> int:
        """Where the hand is: of open strings alone, where it waits."""
        return next((f.position for f in self.fingers if f.finger), self.main.position)

    @property
    def is_open(self) -> bool:
        return not any(f.finger for f in self.fingers)

    def waiting(self, position: int) -> Grip:
        """The same open strings with the hand in a position."""
        return Grip(tuple(f._replace(position=position) for f in self.fingers))


@lru_cache(maxsize=2048)
def fingers_for(name: str, midi: int, positions: tuple[int, ...]) -> tuple[Finger, ...]:
    """Every way to stop a sounding pitch on an instrument, highest string first."""
    own = instrument(name)
    hand = own.hand
    allowed = (set(positions) | hand.always) & set(hand.positions)
    found: dict[tuple[int, int, int], Finger] = {}
    for string in range(own.strings_n - 1, -1, -1):
        semitones = midi - own.open_midis[string]
        if semitones == 0:
            found[string, 0, 1] = Finger(string, 0, FIRST_POSITION, 0, False)
        for position in sorted(allowed):
            for reach in hand.fingers:
                key = string, reach.finger, position
                above = hand.positions[position] + reach.above
                if semitones == above and semitones > 0 and key not in found:
                    found[key] = Finger(string, reach.finger, position, semitones, reach.stretched)
    return tuple(found.values())


@lru_cache(maxsize=4096)
def grips_for(name: str, midis: tuple[int, ...], positions: tuple[int, ...]) -> tuple[Grip, ...]:
    """Every way to play a note or chord; empty if it cannot be played.

    The notes of a chord lie on neighbouring strings, each stopped by a finger of its own,
    unless one finger lies across two strings a fifth apart.
    """
    choices = [fingers_for(name, midi, positions) for midi in midis]
    grips = []
    for fingers in product(*choices):
        ordered = sorted(fingers)
        strings = [f.string for f in ordered]
        if strings != list(range(strings[0], strings[0] + len(strings))):
            continue
        if _hand_can(ordered):
            grips.append(Grip(tuple(ordered)))
    return tuple(grips)


def _hand_can(fingers: Sequence[Finger]) -> bool:
    stopped = [f for f in fingers if f.finger]
    if len({f.position for f in stopped}) > 1:
        return False
    by_finger: dict[int, int] = {}
    for f in stopped:
        if by_finger.setdefault(f.finger, f.semitones) != f.semitones:
            return False
    order = sorted(stopped, key=lambda f: f.semitones)
    return all(a.finger <= b.finger for a, b in pairwise(order))


@lru_cache(maxsize=4096)
def held_grips_for(
    name: str, midis: tuple[int, ...], positions: tuple[int, ...]
) -> tuple[Grip, ...]:
    """The same, open strings once for every position in which the hand may wait."""
    hand = instrument(name).hand
    places = sorted((set(positions) | hand.always) & set(hand.positions))
    return tuple(
        held
        for grip in grips_for(name, midis, positions)
        for held in ([grip.waiting(p) for p in places] if grip.is_open else [grip])
    )


@dataclass(frozen=True)
class Fingered:
    """How one note is played. `grip` is None where the instrument cannot play it."""

    grip: Grip | None
    string_names: tuple[str, ...]

    @cached_property
    def level(self) -> int | None:
        return None if self.grip is None else self.grip.level

    @cached_property
    def strings(self) -> tuple[int, ...]:
        return () if self.grip is None else tuple(f.string for f in self.grip.fingers)

    def across(self, other: Fingered) -> tuple[int, int] | None:
        """The two strings that one finger lies across to play both notes, the lower first."""
        if self.grip is None or other.grip is None:
            return None
        for a in self.grip.fingers:
            for b in other.grip.fingers:
                stopped = a.finger, a.semitones
                if (
                    a.finger
                    and stopped == (b.finger, b.semitones)
                    and b.string - a.string in (1, -1)
                ):
                    return min(a.string, b.string), max(a.string, b.string)
        return None

    @property
    def string_words(self) -> str:
        """Such as "A", or "D+A" for a double stop."""
        return "+".join(self.string_names[s] for s in self.strings)

    @property
    def finger_words(self) -> str:
        return "" if self.grip is None else "+".join(str(f.finger) for f in self.grip.fingers)
