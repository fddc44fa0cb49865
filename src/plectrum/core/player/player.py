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

from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

from plectrum.core.errors import PlayerError
from plectrum.core.instrument.tables import value

STAGES = ("starter", "growing", "steady")


@dataclass(frozen=True, slots=True)
class Player:
    """Limits of one player.

    `usable_from` and `usable_to` are fractions of the hair. `lift_s` is the time to lift
    and set down without travelling, `travel_mm_s` how fast the bow is carried in the air,
    `level_change_s` the time to roll to the neighbouring string. `range_share` is the part of
    the usable bow that the schools "middle" and "frog" give this player.
    """

    name: str
    title: str
    sentence: str
    usable_from: float
    usable_to: float
    comfortable_mm_s: float
    slowest_mm_s: float
    fastest_mm_s: float
    lift_s: float
    travel_mm_s: float
    can_hook: bool
    can_retake: bool
    slur_notes_n: int
    mark_weight: float
    level_change_s: float = 0.1
    range_share: float = 0.6
    lanes: tuple[int, ...] = (2, 3, 4)
    positions: tuple[int, ...] = (1,)
    fingers: tuple[int, ...] = (1, 2, 3, 4)
    strings: tuple[int, ...] = (1, 2, 3, 4)
    techniques: tuple[str, ...] = ("staccato", "accent", "tenuto")

    def on(self, instrument: str) -> Player:
        """The same player on another instrument: slower on the larger ones."""
        ratio = value("bow speed against the violin", instrument)
        return replace(
            self,
            comfortable_mm_s=self.comfortable_mm_s * ratio,
            slowest_mm_s=self.slowest_mm_s * ratio,
            fastest_mm_s=self.fastest_mm_s * ratio,
        )

    def as_dict(self) -> dict[str, Any]:
        return asdict(self)


Technique = Literal[
    "staccato", "accent", "tenuto", "portato", "spiccato", "ricochet", "double stops"
]
_Fraction = Annotated[float, Field(ge=0, le=1)]
_Speed = Annotated[float, Field(gt=0, le=5000)]


class _PlayerFile(BaseModel):
    """The shape of a player file. Unknown keys are refused, so a slip of the pen is seen."""

    model_config = ConfigDict(extra="forbid")

    name: Annotated[str, Field(min_length=1, max_length=80)]
    title: str = ""
    sentence: str = ""
    usable_from: _Fraction
    usable_to: _Fraction
    comfortable_mm_s: _Speed
    slowest_mm_s: _Speed
    fastest_mm_s: _Speed
    lift_s: Annotated[float, Field(ge=0, le=10)]
    travel_mm_s: _Speed
    can_hook: bool
    can_retake: bool
    slur_notes_n: Annotated[int, Field(ge=1, le=64)]
    mark_weight: Annotated[float, Field(ge=0, le=5)]
    level_change_s: Annotated[float, Field(gt=0, le=5)] = 0.1
    range_share: Annotated[float, Field(ge=0.1, le=1)] = 0.6
    lanes: Annotated[tuple[Annotated[int, Field(ge=1, le=5)], ...], Field(min_length=1)] = (2, 3, 4)
    positions: Annotated[tuple[Annotated[int, Field(ge=1, le=5)], ...], Field(min_length=1)] = (1,)
    fingers: tuple[Annotated[int, Field(ge=1, le=4)], ...] = (1, 2, 3, 4)
    strings: Annotated[tuple[Annotated[int, Field(ge=1, le=4)], ...], Field(min_length=1)] = (
        1,
        2,
        3,
        4,
    )
    techniques: tuple[Technique, ...] = ("staccato", "accent", "tenuto")

    @model_validator(mode="after")
    def _in_order(self) -> _PlayerFile:
        if self.usable_to - self.usable_from < 0.1:
            raise ValueError("usable_to must lie at least 0.1 above usable_from")
        if not self.slowest_mm_s < self.comfortable_mm_s < self.fastest_mm_s:
            raise ValueError("slowest_mm_s < comfortable_mm_s < fastest_mm_s must hold")
        return self


def player_from_json(data: bytes | str, where: str) -> Player:
    """Read a player.

    Raises:
        PlayerError: all faults in one line, each with its key.
    """
    try:
        fields = _PlayerFile.model_validate(json.loads(data)).model_dump()
    except (json.JSONDecodeError, UnicodeDecodeError) as error:
        raise PlayerError(f"not a JSON file ({error})", where=where) from error
    except ValidationError as error:
        faults = "; ".join(
            f"{'.'.join(map(str, e['loc'])) or 'player'}: {e['msg']}" for e in error.errors()
        )
        raise PlayerError(faults, where=where, remedy="Correct these keys") from error
    if not fields["title"]:
        fields["title"] = fields["name"]
    return Player(**fields)


@cache
def stage(name: str) -> Player:
    """One of the stages shipped with the program.

    Raises:
        PlayerError: no such stage.
    """
    if name not in STAGES:
        raise PlayerError(
            f"there is no player stage {name!r}", remedy=f"Choose one of {', '.join(STAGES)}"
        )
    file = resources.files("plectrum.core.player").joinpath("stages", f"{name}.json")
    return player_from_json(file.read_bytes(), f"{name}.json")
