"""Bows: hair, mass, balance and tape marks. What the teacher measures overrides the table."""

from __future__ import annotations

from dataclasses import dataclass

from plectrum.core.instrument.tables import SIZE_HAIR_MM, value


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
    """A bow. Positions on it are fractions of the hair: 0 at the frog, 1 at the tip."""

    instrument: str
    hair_mm: float
    mass_g: float
    balance: float
    marks: tuple[TapeMark, ...] = QUARTER_MARKS

    @classmethod
    def sized(cls, instrument: str, size: str = "4/4") -> Bow:
        """The bow of an instrument and size, from the table; mass goes with the hair.

        Raises:
            KeyError: no such size.
            ValueError: no such instrument.
        """
        ratio = SIZE_HAIR_MM[size] / SIZE_HAIR_MM["4/4"]
        return cls(
            instrument,
            value("hair length", instrument) * ratio,
            value("bow mass", instrument) * ratio,
            value("balance point", instrument),
        )

    @classmethod
    def full_size(cls, instrument: str) -> Bow:
        return cls.sized(instrument)
