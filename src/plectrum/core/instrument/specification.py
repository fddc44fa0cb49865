"""Everything about an instrument, one row each: strings, body, bow, hand, and how scores name it.

To add an instrument write one `Instrument` into `TABLE`; nothing else names instruments. What a
field's numbers rest on stands in `SOURCES`. What a teacher measures takes the place of any of it.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import StrEnum
from functools import cache, cached_property

from plectrum.core.instrument.hands import BASS_HAND, CELLO_HAND, VIOLIN_HAND, Hand
from plectrum.core.wording import say


class Standing(StrEnum):
    """What a number rests on."""

    STANDARD = "published standard"
    MEMORY = "published, quoted from memory"
    PRACTICE = "common practice, no source"
    DEFAULT = "own default"


@dataclass(frozen=True, slots=True)
class Source:
    """Unit, standing and source of one field of `Instrument`."""

    unit: str
    standing: Standing
    source: str


_HANDBOOK = "instrument makers' handbooks, quoted from memory"

SOURCES = {
    "open_midis": Source(
        "MIDI number", Standing.STANDARD, "standard tunings with A4 = 440 Hz, ISO 16; sounding"
    ),
    "tensions_n": Source(
        "N", Standing.MEMORY, "string makers' lists, quoted from memory; lowest to highest string"
    ),
    "least_n": Source(
        "N", Standing.MEMORY, "recalled from published measurements of players, uncertain"
    ),
    "most_n": Source(
        "N", Standing.MEMORY, "recalled from published measurements of players, uncertain"
    ),
    "string_length_mm": Source("mm", Standing.MEMORY, _HANDBOOK),
    "hair_mm": Source("mm", Standing.MEMORY, _HANDBOOK),
    "bow_mass_g": Source("g", Standing.MEMORY, _HANDBOOK),
    "balance": Source("fraction of the hair", Standing.MEMORY, _HANDBOOK),
    "bridge_to_fingerboard_mm": Source("mm", Standing.MEMORY, _HANDBOOK),
    "bridge_radius_mm": Source("mm", Standing.MEMORY, _HANDBOOK),
    "string_spacing_mm": Source("mm", Standing.MEMORY, _HANDBOOK),
    "speed_ratio": Source(
        "ratio to the violin",
        Standing.DEFAULT,
        "bass bow slowest of all is common practice, the ratios are ours",
    ),
    "place_shift": Source(
        "fraction of the hair",
        Standing.DEFAULT,
        "lower instruments keep nearer the frog: common practice, the amounts are ours",
    ),
    "written_above_semitones": Source(
        "semitones", Standing.STANDARD, "the bass is written an octave above its sound"
    ),
    "midi_program": Source("1 to 128", Standing.STANDARD, "General MIDI, as MusicXML counts"),
    "reach_semitones": Source(
        "semitones",
        Standing.PRACTICE,
        "from the lowest string to the highest finger of the first position",
    ),
    "box": Source("ratio to the violin", Standing.DEFAULT, "resonances fitted to nothing"),
}


@dataclass(frozen=True)
class Instrument:
    """One instrument of one size; strings count from the lowest, 0, and there may be any number.

    Attributes:
        name: what files and commands call it; title: what people read.
        open_midis: what the open strings sound, lowest first.
        tensions_n: of the strings, lowest first, as they are strung at this size.
        least_n, most_n: what a hand leans on the bow, least and most, a third from the frog.
        speed_ratio: bow speeds against a full-size violin's.
        place_shift: how far from the usual place strokes lie, towards the tip.
        written_above_semitones: how far above its sound it is written.
        clef: sign and line; other_clefs: further ones by which an unnamed part is told.
        names: how scores name it, a pattern of words in several languages (common knowledge).
        first_pitch: step and octave, as written, at which typing begins.
        on_the_shoulder: whether it is held so; else it stands, the strings the other way round.
    """

    name: str
    title: str
    open_midis: tuple[int, ...]
    tensions_n: tuple[float, ...]
    least_n: float
    most_n: float
    string_length_mm: float
    hair_mm: float
    bow_mass_g: float
    balance: float
    bridge_to_fingerboard_mm: float
    bridge_radius_mm: float
    string_spacing_mm: float
    speed_ratio: float
    place_shift: float
    hand: Hand
    clef: tuple[str, int]
    names: str
    midi_program: int
    first_pitch: tuple[str, int]
    reach_semitones: int
    box: float
    other_clefs: tuple[str, ...] = ()
    written_above_semitones: int = 0
    on_the_shoulder: bool = True
    size: str = "4/4"

    @property
    def strings_n(self) -> int:
        return len(self.open_midis)

    @property
    def levels_n(self) -> int:
        """String levels: one a string, and one between each two for both together."""
        return 2 * self.strings_n - 1

    @cached_property
    def impedances_kg_s(self) -> tuple[float, ...]:
        """Z = T / (2 L f) of each open string (published), lowest first."""
        length_m = self.string_length_mm / 1000
        hertz = (A4_HZ * 2 ** ((midi - A4_MIDI) / 12) for midi in self.open_midis)
        return tuple(t / (2 * length_m * hz) for t, hz in zip(self.tensions_n, hertz, strict=True))

    @cached_property
    def loss_kg_s(self) -> float:
        """The effective loss, in proportion to the mean impedance of the strings (own default)."""
        return LOSS_PER_IMPEDANCE * sum(self.impedances_kg_s) / self.strings_n

    @property
    def string_names(self) -> tuple[str, ...]:
        return tuple(_PITCH_CLASSES[m % 12] for m in self.open_midis)

    def sized(self, size: str) -> Instrument:
        """The same instrument in another size: the bow and the speeds that are comfortable go with
        the hair; strings, their impedance, the room between bridge and fingerboard and what a hand
        leans shrink less (own default, fits the lengths of small violins).

        Raises:
            KeyError: no such size.
        """
        ratio = SIZES[size] / SIZES[self.size]
        if ratio == 1.0:
            return self
        body = ratio**BODY_EXPONENT
        return replace(
            self,
            tensions_n=tuple(t * body**2 for t in self.tensions_n),
            least_n=self.least_n * body,
            most_n=self.most_n * body,
            string_length_mm=self.string_length_mm * body,
            hair_mm=self.hair_mm * ratio,
            bow_mass_g=self.bow_mass_g * ratio,
            bridge_to_fingerboard_mm=self.bridge_to_fingerboard_mm * body,
            bridge_radius_mm=self.bridge_radius_mm * body,
            string_spacing_mm=self.string_spacing_mm * body,
            speed_ratio=self.speed_ratio * ratio,
            size=size,
        )


# Sizes by the ratio of their hair to a full-size violin bow's, 650 mm (published, quoted from
# memory for the violin; taken in proportion for the others).
SIZES = {
    "4/4": 1.0,
    "7/8": 620 / 650,
    "3/4": 590 / 650,
    "1/2": 530 / 650,
    "1/4": 470 / 650,
    "1/8": 420 / 650,
    "1/10": 390 / 650,
    "1/16": 350 / 650,
}
BODY_EXPONENT = 0.8  # of the ratio of the hair, for strings and body (own default)

# Bowed-string physics (J. C. Schelleng, "The bowed string and the player", J. Acoust. Soc.
# Am. 53, 1973; the values are quoted from memory).
FRICTION_DIFFERENCE = 0.5  # static minus dynamic coefficient, no unit
LOSS_PER_IMPEDANCE = 82.0  # effective loss R over the mean impedance; 20 kg/s on the violin
A4_HZ, A4_MIDI = 440.0, 69  # ISO 16
GRAVITY_M_S2 = 9.81  # standard

_PITCH_CLASSES = ("C", "C#", "D", "D#", "E", "F", "F#", "G", "G#", "A", "A#", "B")

TABLE = {
    row.name: row
    for row in (
        Instrument(
            name="violin",
            title="violin",
            open_midis=(55, 62, 69, 76),
            tensions_n=(45.0, 48.0, 56.0, 78.0),
            least_n=0.12,
            most_n=1.8,
            string_length_mm=328.0,
            hair_mm=650.0,
            bow_mass_g=60.0,
            balance=0.30,
            bridge_to_fingerboard_mm=58.0,
            bridge_radius_mm=42.0,
            string_spacing_mm=11.5,
            speed_ratio=1.0,
            place_shift=0.0,
            hand=VIOLIN_HAND,
            clef=("G", 2),
            names=(
                r"violin[oi]?s?|violinen?|violons?|geigen?|fiddles?|vln|vl|vn|viool|skrzypce|"
                r"скрипка|ヴァイオリン"
            ),
            midi_program=41,
            first_pitch=("A", 4),
            reach_semitones=28,
            box=1.0,
            other_clefs=("",),
        ),
        Instrument(
            name="viola",
            title="viola",
            open_midis=(48, 55, 62, 69),
            tensions_n=(53.0, 52.0, 56.0, 72.0),
            least_n=0.15,
            most_n=2.3,
            string_length_mm=375.0,
            hair_mm=640.0,
            bow_mass_g=70.0,
            balance=0.30,
            bridge_to_fingerboard_mm=68.0,
            bridge_radius_mm=47.0,
            string_spacing_mm=12.8,
            speed_ratio=0.95,
            place_shift=0.0,
            hand=VIOLIN_HAND,
            clef=("C", 3),
            names=r"violas?|viole|vla|bratschen?|altos?|altviool|altówka|альт|ヴィオラ",
            midi_program=42,
            first_pitch=("D", 4),
            reach_semitones=28,
            box=0.82,
        ),
        Instrument(
            name="cello",
            title="cello",
            open_midis=(36, 43, 50, 57),
            tensions_n=(134.0, 136.0, 144.0, 172.0),
            least_n=0.35,
            most_n=4.0,
            string_length_mm=695.0,
            hair_mm=600.0,
            bow_mass_g=80.0,
            balance=0.29,
            bridge_to_fingerboard_mm=110.0,
            bridge_radius_mm=62.0,
            string_spacing_mm=16.5,
            speed_ratio=0.85,
            place_shift=-0.03,
            hand=CELLO_HAND,
            clef=("F", 4),
            names=r"(violon)?cell[oi]s?|violoncelles?|vlc|vc|wiolonczela|виолончель|チェロ",
            midi_program=43,
            first_pitch=("D", 3),
            reach_semitones=26,
            box=0.42,
            other_clefs=("C4",),
            on_the_shoulder=False,
        ),
        Instrument(
            name="bass",
            title="double bass",
            open_midis=(28, 33, 38, 43),
            tensions_n=(285.0, 288.0, 288.0, 295.0),
            least_n=0.6,
            most_n=7.0,
            string_length_mm=1050.0,
            hair_mm=550.0,
            bow_mass_g=135.0,
            balance=0.28,
            bridge_to_fingerboard_mm=150.0,
            bridge_radius_mm=80.0,
            string_spacing_mm=29.0,
            speed_ratio=0.7,
            place_shift=-0.08,
            hand=BASS_HAND,
            clef=("F", 4),
            names=(
                r"(double|string|contra|kontra)[ -]?b[aä]s{1,2}e?s?|contrabajos?|contrebasses?|"
                r"contrabbass[oi]|basses|bass|basso|cb|db|kb|контрабас|コントラバス"
            ),
            midi_program=44,
            first_pitch=("D", 3),
            reach_semitones=19,
            box=0.25,
            written_above_semitones=12,
            on_the_shoulder=False,
        ),
    )
}
MOST_STRINGS = 6  # of any instrument, as bounds for files


def string_words(name: str) -> str:
    """A string by its name: "A string"."""
    return say("{name} string", name=name)


def instrument_names() -> tuple[str, ...]:
    """All instruments there are, in the order of the score."""
    return tuple(TABLE)


@cache
def instrument(name: str, size: str = "4/4") -> Instrument:
    """An instrument from the table.

    Raises:
        KeyError: no such instrument or size.
    """
    return TABLE[name].sized(size)
