"""Bows: hair, mass, balance and tape marks. What the teacher measures overrides the table."""

from __future__ import annotations

from dataclasses import dataclass

from plectrum.core.instrument.specification import SIZES, instrument


@dataclass(frozen=True, slots=True)
class TapeMark:
    """A coloured tape on the stick. `at` is a fraction of the hair from the frog."""

    name: str
    at: float
    colour: str


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
