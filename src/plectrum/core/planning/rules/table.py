"""What a rule is: a row of the rule table."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import TypeVar

from plectrum.core.player.school import DirectionSchool

Weight = TypeVar("Weight", float, Mapping[DirectionSchool, float], tuple[float, float])


@dataclass(frozen=True, slots=True)
class Example:
    """A small tune that a rule decides.

    Attributes:
        music: bars split by "|", a note as PITCH*QUARTERS and signs: ( ) slur, . staccato,
            > accent, u d bow marks; [p] dynamics and [<] [x] hairpins before it.
        see: what of the plan the rule changes: "strings", "lengths", "places", "stops",
            "crossings", "lifts" or "pairs".
        metre, bpm, instrument, player, school: as they are set.
        positions: of the left hand, in place of the player's own.
        kind: an articulation all notes have, or "breath" for the ends of phrases.
        pin_string, written_finger: of the first note.
    """

    music: str
    see: str
    metre: str = "4/4"
    bpm: float = 80.0
    instrument: str = "violin"
    player: str = "steady"
    school: Mapping[str, str] = field(default_factory=dict)
    positions: tuple[int, ...] = ()
    kind: str = ""
    pin_string: int | None = None
    written_finger: str = ""


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
        example: what then changes; None where it waits for the strokes to be built anew.
    """

    name: str
    weight: object
    unit: str
    place: str
    why: str
    term: str = ""
    out: object = 0.0
    example: Example | None = None


TABLE: dict[str, Rule] = {}


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
    TABLE[name] = Rule(name, weight, unit, place, why, term, out, example)
    return weight
