"""What a player can do with the bow, and the three stages that come with the program.

All limits are own defaults for a full-size violin bow, to be replaced by what the teacher
sees and measures; speeds are slowed for the larger instruments.
"""

from __future__ import annotations

import json
from dataclasses import asdict, dataclass, replace
from functools import cache
from importlib import resources
from typing import Annotated, Any, Literal

from annotated_types import Ge, Gt, Le, Len

from plectrum.core.errors import PlayerError
from plectrum.core.instrument.specification import MOST_STRINGS, TABLE, Instrument
from plectrum.core.wording import in_words, say

STAGE = "stage"  # what a stage's name is about, where it is a word in a sentence
STAGES = ("starter", "growing", "steady")


Technique = Literal[
    "staccato", "accent", "tenuto", "portato", "spiccato", "ricochet", "double stops"
]
_Fraction = Annotated[float, Ge(0), Le(1)]
_Speed = Annotated[float, Gt(0), Le(5000)]


@dataclass(frozen=True, slots=True)
class Player:
    """Limits of one player; the bounds are those of a player file.

    `usable_from` and `usable_to` are fractions of the hair. `lift_s` is the time to lift
    and set down without travelling, `travel_mm_s` how fast the bow is carried in the air,
    `level_change_s` the time to roll to the neighbouring string. `range_share` is the part of
    the usable bow that the schools "middle" and "frog" give this player. `strokes_per_s` is how
    many separate strokes a second the arm speaks on a violin; fewer on larger instruments.
    """

    name: Annotated[str, Len(1, 80)]
    title: str
    sentence: str
    usable_from: _Fraction
    usable_to: _Fraction
    comfortable_mm_s: _Speed
    slowest_mm_s: _Speed
    fastest_mm_s: _Speed
    lift_s: Annotated[float, Ge(0), Le(10)]
    travel_mm_s: _Speed
    can_hook: bool
    can_retake: bool
    slur_notes_n: Annotated[int, Ge(1), Le(64)]
    mark_weight: Annotated[float, Ge(0), Le(5)]
    strokes_per_s: Annotated[float, Gt(0), Le(30)] = 8.0
    level_change_s: Annotated[float, Gt(0), Le(5)] = 0.1
    range_share: Annotated[float, Ge(0.1), Le(1)] = 0.6
    lanes: Annotated[tuple[Annotated[int, Ge(1), Le(5)], ...], Len(1)] = (2, 3, 4)
    positions: Annotated[tuple[Annotated[int, Ge(1), Le(5)], ...], Len(1)] = (1,)
    fingers: tuple[Annotated[int, Ge(1), Le(4)], ...] = (1, 2, 3, 4)
    strings: Annotated[tuple[Annotated[int, Ge(1), Le(MOST_STRINGS)], ...], Len(1)] = (1, 2, 3, 4)
    techniques: tuple[Technique, ...] = ("staccato", "accent", "tenuto")

    __pydantic_config__ = {"extra": "forbid"}  # noqa: RUF012 - a slip of the pen is seen

    @property
    def called(self) -> str:
        """The title as people read it: a stage's in their language."""
        return in_words(self.title) if self._is_stage else self.title

    @property
    def described(self) -> str:
        """The sentence as people read it."""
        return in_words(self.sentence) if self._is_stage else self.sentence

    @property
    def _is_stage(self) -> bool:
        return self.name in STAGES and self.title.lower() == self.name

    def on(self, own: Instrument) -> Player:
        """The same player on an instrument: slower on larger ones, and on smaller sizes of one,
        which are spoken as quickly."""
        ratio = own.speed_ratio
        return replace(
            self,
            comfortable_mm_s=self.comfortable_mm_s * ratio,
            slowest_mm_s=self.slowest_mm_s * ratio,
            fastest_mm_s=self.fastest_mm_s * ratio,
            strokes_per_s=self.strokes_per_s * TABLE[own.name].speed_ratio,
        )

    def knows_string(self, string: int) -> bool:
        """Whether a string is learnt, counted from the lowest, 0; who knows the usual four knows
        any further one."""
        return string + 1 in self.strings or (string >= 4 and {1, 2, 3, 4} <= set(self.strings))

    def knows_finger(self, finger: int, own: Instrument) -> bool:
        """Whether a finger is learnt. Who leaves out the fourth, weak on small instruments, uses
        it from the first on those whose hand lies by semitones (common practice)."""
        if not finger or finger in self.fingers:
            return True
        return finger == 4 and not own.hand.weak_fourth and {1, 2, 3} <= set(self.fingers)

    def as_dict(self) -> dict[str, Any]:
        return asdict(self)


@cache
def stage(name: str) -> Player:
    """One of the stages shipped with the program.

    Raises:
        PlayerError: no such stage.
    """
    if name not in STAGES:
        raise PlayerError(
            say("there is no player stage {name!r}", name=name),
            remedy=say("Choose one of {list}", list=", ".join(STAGES)),
        )
    file = resources.files(__package__).joinpath("stages", f"{name}.json")
    fields: dict[str, Any] = json.loads(file.read_bytes())
    known: dict[str, Any] = {k: tuple(v) if isinstance(v, list) else v for k, v in fields.items()}
    return Player(**known)
