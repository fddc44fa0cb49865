"""Note values: how a length of time is written as notes, dots and triplets."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

TYPES = {
    Fraction(8): "breve",
    Fraction(4): "whole",
    Fraction(2): "half",
    Fraction(1): "quarter",
    Fraction(1, 2): "eighth",
    Fraction(1, 4): "16th",
    Fraction(1, 8): "32nd",
    Fraction(1, 16): "64th",
}
BASES = {name: base for base, name in TYPES.items()}
MAX_DOTS = 2
TRIPLET = (3, 2)
DOT_FACTORS = tuple(Fraction(2) - Fraction(1, 2**dots) for dots in range(MAX_DOTS + 1))


@dataclass(frozen=True, slots=True)
class Value:
    """One written note value. `base_q` is the plain note in quarters.

    `tuplet` is (actual, normal), such as (3, 2) for a triplet; None outside one.
    """

    base_q: Fraction
    dots: int = 0
    tuplet: tuple[int, int] | None = None

    @property
    def length_q(self) -> Fraction:
        """How long it lasts, in quarters."""
        length_q = self.base_q * DOT_FACTORS[self.dots]
        if self.tuplet is not None:
            length_q = length_q * self.tuplet[1] / self.tuplet[0]
        return length_q

    @property
    def type(self) -> str:
        """Its name in MusicXML."""
        return TYPES[self.base_q]

    @property
    def flags_n(self) -> int:
        """How many flags or beams it has."""
        return {"eighth": 1, "16th": 2, "32nd": 3, "64th": 4}.get(self.type, 0)


_PLAIN = sorted(
    (Value(base, dots) for base in TYPES for dots in range(MAX_DOTS + 1)),
    key=lambda v: (-v.length_q, v.dots),
)


def single_value(length_q: Fraction, tuplet: tuple[int, int] | None = None) -> Value | None:
    """The one note value that lasts so long, None if there is none."""
    plain_q = length_q if tuplet is None else length_q * tuplet[0] / tuplet[1]
    found = next((v for v in _PLAIN if v.length_q == plain_q), None)
    return None if found is None else Value(found.base_q, found.dots, tuplet)


def values_of(length_q: Fraction, tuplet: tuple[int, int] | None = None) -> list[Value]:
    """The note values, to be tied, that last so long together: as few and long as there are.
    Thirds that no plain values make are written as parts of triplets.

    Raises:
        ValueError: no values add up to it.
    """
    if tuplet is None and length_q.denominator % 3 == 0:
        tuplet = TRIPLET
    found = single_value(length_q, tuplet)
    if found is not None:
        return [found]
    plain_q = length_q if tuplet is None else length_q * tuplet[0] / tuplet[1]
    values = []
    for value in (v for v in _PLAIN if v.dots == 0):
        while plain_q >= value.length_q:
            values.append(Value(value.base_q, 0, tuplet))
            plain_q -= value.length_q
    if plain_q or not values:
        raise ValueError(f"no note values last {length_q} quarters")
    return values
