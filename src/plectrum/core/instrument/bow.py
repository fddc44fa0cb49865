"""Bows: hair, mass, balance and tape marks. What the teacher measures overrides the table."""

from __future__ import annotations

import math
from dataclasses import dataclass

from plectrum.core.instrument.specification import SIZES, instrument
from plectrum.core.wording import in_words, tr
from plectrum.core.wording.language import chosen


@dataclass(frozen=True, slots=True)
class TapeMark:
    """A coloured tape on the stick. `at` is a fraction of the hair from the frog."""

    name: str
    at: float
    colour: str

    @property
    def called(self) -> str:
        """As people read it: by its name, or by its colour where they prefer that."""
        by_colour = chosen().own_words.says("marks")
        return _coloured(self.colour) if by_colour else in_words(self.name)


# What a tape of such a colour is called: the nearest of these (own defaults).
_COLOURS = {
    "#c0392b": tr("red mark"), "#d98a2b": tr("orange mark"), "#c9a227": tr("yellow mark"),
    "#3b7d4f": tr("green mark"), "#2b5fa0": tr("blue mark"), "#7a4a9e": tr("violet mark"),
    "#6b4226": tr("brown mark"), "#6b6f76": tr("grey mark"), "#111111": tr("black mark"),
    "#fafafa": tr("white mark"),
}  # fmt: skip


def _coloured(colour: str) -> str:
    def parts(of: str) -> list[int]:
        return [int(of[k : k + 2], 16) for k in (1, 3, 5)]

    try:
        seen = parts(colour)
    except ValueError:  # a colour by a name
        seen = parts("#6b6f76")
    return _COLOURS[min(_COLOURS, key=lambda c: math.dist(parts(c), seen))]


# Tapes at the quarters are common practice.
QUARTER_MARKS = (
    TapeMark("quarter mark", 0.25, "#b8860b"),
    TapeMark("middle", 0.5, "#6b6f76"),
    TapeMark("three-quarter mark", 0.75, "#3b7d4f"),
)


@dataclass(frozen=True, slots=True)
class Bow:
    """A bow. Positions on it are fractions of the hair: 0 at the frog, 1 at the tip.

    `size` is that of the bow and of the instrument it plays; what is measured of the bow does
    not change it.
    """

    instrument: str
    hair_mm: float
    mass_g: float
    balance: float
    marks: tuple[TapeMark, ...] = QUARTER_MARKS
    size: str = "4/4"

    @classmethod
    def sized(cls, name: str, size: str = "4/4") -> Bow:
        """The bow of an instrument and size, from the table; mass goes with the hair.

        Raises:
            KeyError: no such instrument or size.
        """
        own = instrument(name, size)
        return cls(name, own.hair_mm, own.bow_mass_g, own.balance, size=size)

    @classmethod
    def full_size(cls, name: str) -> Bow:
        return cls.sized(name)


def size_of_hair(name: str, hair_mm: float) -> str:
    """The size whose bow has this hair, to the millimetre; full size for any other length."""
    sizes = (s for s in SIZES if round(instrument(name, s).hair_mm) == round(hair_mm))
    return next(sizes, "4/4")
