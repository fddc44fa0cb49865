"""Bows and schools as they stand in files, and players kept by name with both."""

from __future__ import annotations

import json
from dataclasses import dataclass, field, fields
from pathlib import Path
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, ValidationError, WithJsonSchema

from plectrum.core.errors import PlayerError
from plectrum.core.incoming.border import border
from plectrum.core.incoming.files import read_file
from plectrum.core.incoming.json_text import json_value
from plectrum.core.instrument.bow import Bow, TapeMark, size_of_hair
from plectrum.core.instrument.specification import SIZES, instrument_names
from plectrum.core.plain_text import shown_name
from plectrum.core.player.own_bowing import OwnBowing
from plectrum.core.player.player import Player
from plectrum.core.player.player_file import player_from_json
from plectrum.core.player.school import (
    AmountSchool,
    CrossingSchool,
    DirectionSchool,
    DottedSchool,
    DynamicsSchool,
    FourthSchool,
    RestSchool,
    School,
    SlurSchool,
)
from plectrum.core.wording import tr


def _known_instrument(name: str) -> str:
    if name not in instrument_names():
        raise ValueError(f"no such instrument; there are {', '.join(instrument_names())}")
    return name


def _known_size(size: str) -> str:
    if size not in SIZES:
        raise ValueError(f"no such size; there are {', '.join(SIZES)}")
    return size


InstrumentName = Annotated[
    str,
    AfterValidator(_known_instrument),
    WithJsonSchema({"type": "string", "enum": list(instrument_names())}),
]
SizeName = Annotated[
    str, AfterValidator(_known_size), WithJsonSchema({"type": "string", "enum": list(SIZES)})
]


class Open(BaseModel):
    """Keys of a newer version are allowed everywhere and kept."""

    model_config = ConfigDict(extra="allow")


class MarkRecord(Open):
    name: Annotated[str, Field(max_length=60)]
    at: Annotated[float, Field(ge=0, le=1)]
    colour: Annotated[str, Field(pattern="^#[0-9a-fA-F]{6}$")]


class BowRecord(Open):
    hair_mm: Annotated[float, Field(ge=100, le=1000)]
    mass_g: Annotated[float, Field(ge=10, le=400)] | None = None
    balance: Annotated[float, Field(gt=0, lt=1)] | None = None
    marks: list[MarkRecord]
    size: SizeName | None = None

    def bow(self, instrument: str) -> Bow:
        """The bow; what is not said comes from the table, the size of older files from the hair."""
        usual = Bow.full_size(instrument)
        return Bow(
            instrument,
            self.hair_mm,
            self.mass_g or usual.mass_g,
            self.balance or usual.balance,
            tuple(TapeMark(m.name, m.at, m.colour) for m in self.marks),
            self.size or size_of_hair(instrument, self.hair_mm),
        )


class SchoolRecord(Open):
    direction: DirectionSchool = DirectionSchool.USUAL
    amount: AmountSchool = AmountSchool.STEADY
    dotted: DottedSchool = DottedSchool.USUAL
    dynamics: DynamicsSchool = DynamicsSchool.LANES
    crossing: CrossingSchool = CrossingSchool.ROLLING
    fourth: FourthSchool = FourthSchool.CONTOUR
    slurs: SlurSchool = SlurSchool.WRITTEN
    rests: RestSchool = RestSchool.USUAL

    def school(self) -> School:
        return School(**{f.name: getattr(self, f.name) for f in fields(School)})


class BowingRecord(Open):
    worths: dict[Annotated[str, Field(max_length=60)], Annotated[float, Field(ge=-50, le=50)]]
    plans_n: Annotated[int, Field(ge=0, le=10**9)]
    marks_n: Annotated[int, Field(ge=0, le=10**9)]

    def bowing(self) -> OwnBowing:
        return OwnBowing(tuple(sorted(self.worths.items())), self.plans_n, self.marks_n)


def bowing_as_dict(bowing: OwnBowing) -> dict[str, Any]:
    """A teacher's own bowing as it stands in a file."""
    return {
        "worths": dict(bowing.worths),
        "plans_n": bowing.plans_n,
        "marks_n": bowing.marks_n,
    }


def bow_as_dict(bow: Bow) -> dict[str, Any]:
    """A bow as it stands in a file."""
    return {
        "size": bow.size,
        "hair_mm": bow.hair_mm,
        "mass_g": bow.mass_g,
        "balance": bow.balance,
        "marks": [{"name": m.name, "at": m.at, "colour": m.colour} for m in bow.marks],
    }


@dataclass(frozen=True, slots=True)
class NamedPlayer:
    """A player kept under a name, with the bow and the school that go with them."""

    player: Player
    bow: Bow
    school: School = field(default_factory=School)

    @property
    def name(self) -> str:
        return self.player.title


class _File(Open):
    format: Literal["plectrum-player"]
    version: Literal[1] = 1
    instrument: InstrumentName
    player: dict[str, Any]
    bow: BowRecord
    school: SchoolRecord = SchoolRecord()


def named_as_json(named: NamedPlayer) -> str:
    """A named player as a file holds it."""
    record = {
        "format": "plectrum-player",
        "version": 1,
        "instrument": named.bow.instrument,
        "player": named.player.as_dict(),
        "bow": bow_as_dict(named.bow),
        "school": named.school.as_dict(),
    }
    return json.dumps(record, indent=1, ensure_ascii=False)


def named_from_file(path: Path) -> NamedPlayer:
    """Read a named player.

    Raises:
        PlayerError: the file cannot be used.
    """
    name = shown_name(path)
    try:
        record = _File.model_validate(json_value(read_file(path)))
    except (ValueError, ValidationError) as error:
        raise PlayerError(tr("not a player that can be used"), where=name) from error
    player = player_from_json(json.dumps(record.player), name)
    with border(name, PlayerError):
        return NamedPlayer(player, record.bow.bow(record.instrument), record.school.school())


class _BowingFile(BowingRecord):
    format: Literal["plectrum-bowing"]
    version: Literal[1] = 1


def bowing_as_json(bowing: OwnBowing) -> str:
    """A teacher's own bowing as a file of its own."""
    record = {"format": "plectrum-bowing", "version": 1, **bowing_as_dict(bowing)}
    return json.dumps(record, indent=1) + "\n"


def bowing_from_json(data: bytes, name: str) -> OwnBowing:
    """Read a teacher's own bowing.

    Raises:
        PlayerError: the file cannot be used.
    """
    try:
        return _BowingFile.model_validate(json_value(data)).bowing()
    except (ValueError, ValidationError) as error:
        raise PlayerError(
            tr("not a bowing that can be used"),
            where=name,
            remedy=tr("Learn one from kept plans: School menu, My bowing"),
        ) from error
