"""Bows: length of hair and tape marks.

Standing of the numbers: hair lengths are published figures quoted from memory, meant to be
overridden by what the teacher measures; tape marks at the quarters are common practice.
"""

from __future__ import annotations

from dataclasses import dataclass

# Length of the hair of a full-size bow, mm (published, quoted from memory).
HAIR_MM = {"violin": 650.0, "viola": 640.0, "cello": 600.0, "bass": 550.0}

# A beginner's comfortable bow speed relative to the violin (own default): the lower the
# instrument, the slower the bow, slowest on the bass (common practice).
SPEED_RATIO = {"violin": 1.0, "viola": 0.95, "cello": 0.85, "bass": 0.7}

# Where players of the lower instruments keep the bow, as a shift of the preferred place
# towards the frog, in fractions of the hair (own default after common practice).
PLACE_SHIFT = {"violin": 0.0, "viola": 0.0, "cello": -0.03, "bass": -0.08}


@dataclass(frozen=True, slots=True)
class TapeMark:
    """A coloured tape on the stick. `at` is a fraction of the hair from the frog."""

    name: str
    at: float
    colour: str


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
    marks: tuple[TapeMark, ...] = QUARTER_MARKS

    @classmethod
    def full_size(cls, instrument: str) -> Bow:
        """The full-size bow of an instrument.

        Raises:
            KeyError: not one of violin, viola, cello, bass.
        """
        return cls(instrument, HAIR_MM[instrument])
