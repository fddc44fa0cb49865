"""What a rule is: a row of the rule table."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import TypeVar

from plectrum.core.planning.rules.example import FOUND, Example
from plectrum.core.player.school import DirectionSchool

Weight = TypeVar("Weight", float, Mapping[DirectionSchool, float], tuple[float, float])


_NO_EXAMPLE = Example()


@dataclass(frozen=True)
class Rule:
    """One row.

    Attributes:
        name: lower case; the number itself has this name in capitals.
        weight: the number, or one for each direction school.
        unit: what it counts.
        place: the module that uses it, inside `plectrum.core`.
        why: words for what it is about, as "because of …" would go on.
        term: the term of a plan's cost it goes into; empty where it shapes wishes, not costs.
        out: what stands in its place when it is taken out.
        example: what then changes.
    """

    name: str
    weight: object
    unit: str
    place: str
    why: str
    term: str = ""
    out: object = 0.0
    example: Example = _NO_EXAMPLE


TABLE: dict[str, Rule] = {}


def by_school(**numbers: float) -> dict[DirectionSchool, float]:
    """A number for each school of direction."""
    return {DirectionSchool(name): number for name, number in numbers.items()}


def rule(
    name: str,
    weight: Weight,
    unit: str,
    place: str,
    why: str,
    *,
    term: str = "",
    out: object = 0.0,
    example: Example | None = None,
) -> Weight:
    """Write a row, and give its number."""
    TABLE[name] = Rule(
        name, weight, unit, place, why, term, out, example or FOUND.get(name, _NO_EXAMPLE)
    )
    return weight
