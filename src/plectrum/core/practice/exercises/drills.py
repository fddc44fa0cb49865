"""A drill: a list of timed steps for one player, bow and instrument, with its caution."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from plectrum.core.advice.care import CAUTION
from plectrum.core.document.choices import Choices
from plectrum.core.instrument.bow import Bow
from plectrum.core.instrument.specification import Instrument, string_words
from plectrum.core.player.player import Player
from plectrum.core.score.model import Direction
from plectrum.core.wording import in_words, say

SECOND_BPM = 60.0  # a beat is a second


class Moves(StrEnum):
    """What moves."""

    SOUND = "the bow sounding"
    ROLL = "the bow silent on the string"
    CARRY = "the bow in the air"
    THROW = "the bow thrown"
    HAND = "the hand on the stick"
    GLIDE = "the arm along the held bow"
    CARE = "the bow in both hands"


@dataclass(frozen=True, slots=True)
class DrillStep:
    """One thing to do. Places are fractions of the hair; `level` is the string level 1 to 7.

    Attributes:
        direction: None where the bow does not sound.
        word: said, and written under the note. count: which time it is, said before the word.
        moves: what moves; looks: nothing does, the student looks.
        height_mm: how high a thrown bow rises. hand: where the hand stands or arrives on the
            stick, as a fraction of the hair from the frog. finger: the one that does it.
        new_string: it is the first on its string or pair, which is said.
        late: where the bow goes is called, and shown only after the time to find it.
    """

    text: str
    seconds: float
    level: int | None = None
    direction: Direction | None = None
    start: float | None = None
    end: float | None = None
    word: str = ""
    count: str = ""
    moves: Moves = Moves.SOUND
    height_mm: float = 0.0
    hand: float | None = None
    finger: str = ""
    late: bool = False
    new_string: bool = False

    @property
    def looks(self) -> bool:
        return self.direction is None and self.start is None and self.hand is None

    @property
    def said(self) -> str:
        """The count and the word."""
        return " ".join(w for w in (self.count, in_words(self.word)) if w)


@dataclass(frozen=True, slots=True)
class Drill:
    """A named list of steps with the caution that is shown with it.

    Attributes:
        what: what is done; good: how to know that it is good. bpm: beats a minute.
        how_many: how often, with its counts. today: what grows, as it is now; grows: how.
    """

    name: str
    steps: tuple[DrillStep, ...]
    caution: str = CAUTION
    what: str = ""
    good: str = ""
    bpm: float = SECOND_BPM
    how_many: str = ""
    today: str = ""
    grows: str = ""

    @property
    def seconds(self) -> float:
        return sum(step.seconds for step in self.steps)


@dataclass(frozen=True, slots=True)
class Setting:
    """Whom a drill is for."""

    player: Player
    bow: Bow
    instrument: Instrument

    @classmethod
    def of(cls, choices: Choices) -> Setting:
        player = choices.player.on(choices.own)
        return cls(player, choices.bow, choices.own)


def level_sign(level: int, names: Sequence[str]) -> str:
    """A string level as short as it can be: "A", "D+A"."""
    low, high = (level - 1) // 2, level // 2
    return names[low] if low == high else f"{names[low]}+{names[high]}"


def level_name(level: int, names: Sequence[str]) -> str:
    """A string level in words: "A string", "D and A together"."""
    low, high = (level - 1) // 2, level // 2
    return (
        string_words(names[low])
        if low == high
        else say("{low} and {high} together", low=names[low], high=names[high])
    )
