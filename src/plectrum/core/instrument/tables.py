"""Every number about instruments and bows, with its unit, standing and source, in one place.

Nothing here is computed with directly: `Instrument` and `Bow` are made from it, and what a
teacher measures takes the place of any of it.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from plectrum.core.score.instruments import INSTRUMENTS
from plectrum.core.score.model import Pitch


class Standing(StrEnum):
    """What a number rests on."""

    STANDARD = "published standard"
    MEMORY = "published, quoted from memory"
    PRACTICE = "common practice, no source"
    DEFAULT = "own default"


@dataclass(frozen=True, slots=True)
class Row:
    """One quantity for the four instruments, in the order violin, viola, cello, bass."""

    quantity: str
    unit: str
    standing: Standing
    source: str
    values: tuple[tuple[float, ...], ...]

    def of(self, instrument: str) -> tuple[float, ...]:
        """The values for one instrument; most quantities have one, strings have four."""
        return self.values[INSTRUMENTS.index(instrument)]


_HANDBOOK = "instrument makers' handbooks, quoted from memory"
_SPEED = "bass bow slowest of all is common practice, the ratios are ours"

ROWS = {
    row.quantity: row
    for row in (
        # Lowest to highest string, sounding.
        Row(
            "open strings",
            "MIDI number",
            Standing.STANDARD,
            "standard tunings with A4 = 440 Hz, ISO 16",
            ((55, 62, 69, 76), (48, 55, 62, 69), (36, 43, 50, 57), (28, 33, 38, 43)),
        ),
        Row("string length", "mm", Standing.MEMORY, _HANDBOOK, ((328,), (375,), (695,), (1050,))),
        Row("hair length", "mm", Standing.MEMORY, _HANDBOOK, ((650,), (640,), (600,), (550,))),
        Row("bow mass", "g", Standing.MEMORY, _HANDBOOK, ((60,), (70,), (80,), (135,))),
        Row(
            "balance point",
            "fraction of the hair",
            Standing.MEMORY,
            _HANDBOOK,
            ((0.30,), (0.30,), (0.29,), (0.28,)),
        ),
        Row(
            "bridge to fingerboard",
            "mm",
            Standing.MEMORY,
            _HANDBOOK,
            ((58,), (68,), (110,), (150,)),
        ),
        Row("bridge radius", "mm", Standing.MEMORY, _HANDBOOK, ((42,), (47,), (62,), (80,))),
        Row("string spacing", "mm", Standing.MEMORY, _HANDBOOK, ((11.5,), (12.8,), (16.5,), (29,))),
        Row(
            "string impedance",
            "kg/s",
            Standing.MEMORY,
            "string acoustics, quoted from memory; lowest to highest string",
            (
                (0.36, 0.30, 0.25, 0.20),
                (0.55, 0.45, 0.35, 0.28),
                (1.6, 1.2, 0.9, 0.7),
                (3.2, 2.6, 2.0, 1.6),
            ),
        ),
        Row(
            "bow speed against the violin",
            "ratio",
            Standing.DEFAULT,
            _SPEED,
            ((1.0,), (0.95,), (0.85,), (0.7,)),
        ),
        Row(
            "preferred place towards the tip",
            "fraction of the hair",
            Standing.DEFAULT,
            "lower instruments keep nearer the frog: common practice, the amounts are ours",
            ((0.0,), (0.0,), (-0.03,), (-0.08,)),
        ),
    )
}

# Hair of fractional violin bows, mm (published, quoted from memory); others in proportion.
SIZE_HAIR_MM = {
    "4/4": 650.0,
    "3/4": 590.0,
    "1/2": 530.0,
    "1/4": 470.0,
    "1/8": 420.0,
    "1/10": 390.0,
    "1/16": 350.0,
}

# Bowed-string physics (J. C. Schelleng, "The bowed string and the player", J. Acoust. Soc.
# Am. 53, 1973; the values are quoted from memory).
FRICTION_DIFFERENCE = 0.5  # static minus dynamic coefficient, no unit
LOSS_KG_S = 20.0  # effective loss R at violin size; grows with the strings' impedance
GRAVITY_M_S2 = 9.81  # standard


def value(quantity: str, instrument: str) -> float:
    """The one value of a quantity.

    Raises:
        KeyError: no such quantity.
        ValueError: no such instrument.
    """
    return ROWS[quantity].of(instrument)[0]


_PITCH_CLASSES = ("C", "C#", "D", "D#", "E", "F", "F#", "G", "G#", "A", "A#", "B")


@dataclass(frozen=True, slots=True)
class Instrument:
    """One instrument as the planner needs it; strings go from lowest (0) to highest (3)."""

    name: str
    open_midis: tuple[int, ...]
    impedances_kg_s: tuple[float, ...]
    string_length_mm: float
    bridge_to_fingerboard_mm: float
    bridge_radius_mm: float
    string_spacing_mm: float
    place_shift: float

    @property
    def loss_kg_s(self) -> float:
        """The effective loss, in proportion to the mean impedance of the strings (own default)."""
        violin = ROWS["string impedance"].of("violin")
        ratio = (sum(self.impedances_kg_s) / 4) / (sum(violin) / 4)
        return LOSS_KG_S * ratio

    @property
    def string_names(self) -> tuple[str, ...]:
        return tuple(
            ["C", "C#", "D", "D#", "E", "F", "F#", "G", "G#", "A", "A#", "B"][m % 12]
            for m in self.open_midis
        )


def open_pitch(own: Instrument, string: int) -> Pitch:
    """The written pitch of an open string, 0 the lowest; the bass is written an octave higher
    than it sounds (published standard)."""
    shift = -12 if own.name == "bass" else 0
    written = own.open_midis[string] - shift
    return Pitch(own.string_names[string], 0, written // 12 - 1, shift)


def instrument(name: str) -> Instrument:
    """An instrument from the table."""
    return Instrument(
        name,
        tuple(int(m) for m in ROWS["open strings"].of(name)),
        ROWS["string impedance"].of(name),
        value("string length", name),
        value("bridge to fingerboard", name),
        value("bridge radius", name),
        value("string spacing", name),
        value("preferred place towards the tip", name),
    )
