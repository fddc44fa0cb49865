"""Options that several commands share: what is read, for whom, in which school, how fast."""

from __future__ import annotations

import sys
from dataclasses import dataclass, replace
from enum import StrEnum
from pathlib import Path
from typing import Annotated, Any

import typer

from plectrum.core.atomic import write_atomically
from plectrum.core.document.document import Document
from plectrum.core.errors import ChoiceError
from plectrum.core.files.planfile import open_document
from plectrum.core.player.player import STAGES, Player, stage
from plectrum.core.player.player_file import player_from_json
from plectrum.core.player.school import (
    AmountSchool,
    CrossingSchool,
    DirectionSchool,
    DottedSchool,
    DynamicsSchool,
    FourthSchool,
)
from plectrum.core.score.guards import MAX_FILE_BYTES
from plectrum.core.score.scorefile import read_file


class Instrument(StrEnum):
    """Whose bow it is."""

    VIOLIN = "violin"
    VIOLA = "viola"
    CELLO = "cello"
    BASS = "bass"


class InputFormat(StrEnum):
    """What standard input holds."""

    MUSICXML = "musicxml"
    ABC = "abc"
    MIDI = "mid"


FileArg = Annotated[str, typer.Argument(metavar="FILE", help="A score or plan file, - for pipes")]
PartOption = Annotated[str | None, typer.Option(help="Name or number of the part")]
InstrumentOption = Annotated[Instrument | None, typer.Option()]
PlayerOption = Annotated[
    str | None, typer.Option(help="starter, growing, steady, or a player's JSON file")
]
DirectionOption = Annotated[DirectionSchool | None, typer.Option(help="What turns the bow")]
AmountOption = Annotated[AmountSchool | None, typer.Option(help="How much bow")]
DottedOption = Annotated[DottedSchool | None, typer.Option(help="Dotted pairs")]
DynamicsOption = Annotated[DynamicsSchool | None, typer.Option(help="Loud and soft by")]
CrossingOption = Annotated[CrossingSchool | None, typer.Option(help="String crossings")]
FourthOption = Annotated[FourthSchool | None, typer.Option(help="Fourth finger or open")]
TempoOption = Annotated[float | None, typer.Option(min=10, max=480, metavar="BPM")]
PinOption = Annotated[
    list[str] | None, typer.Option(metavar="BAR.BEAT=WHAT", help="down|up|hook|retake|turn")
]
SourceOption = Annotated[InputFormat | None, typer.Option("--from")]


@dataclass(frozen=True)
class Wanted:
    """What the options of a command ask for; None leaves a thing as it is."""

    part: str | None = None
    instrument: str | None = None
    player: str | None = None
    direction: DirectionSchool | None = None
    amount: AmountSchool | None = None
    dotted: DottedSchool | None = None
    dynamics: DynamicsSchool | None = None
    crossing: CrossingSchool | None = None
    fourth: FourthSchool | None = None
    tempo: float | None = None
    pins: tuple[str, ...] = ()
    source: str | None = None


def document_for(file: str, wanted: Wanted) -> Document:
    """The document a command works on.

    Raises:
        PlectrumError: it cannot be read, or an option does not fit it.
    """
    data, name = read_input(file)
    document = open_document(
        data, name, source=wanted.source, part=wanted.part, instrument=wanted.instrument
    )
    choices = document.choices
    if wanted.player is not None:
        choices = replace(choices, player=player_named(wanted.player))
    names = ("direction", "amount", "dotted", "dynamics", "crossing", "fourth")
    chosen: dict[str, Any] = {n: v for n in names if (v := getattr(wanted, n)) is not None}
    choices = replace(choices, school=replace(choices.school, **chosen))
    if wanted.tempo is not None:
        choices = replace(choices, tempo_bpm=wanted.tempo)
    return _with_pins(document.with_choices(choices), wanted.pins)


def read_input(file: str) -> tuple[bytes, str]:
    """The bytes of a file or of standard input, and what to call them."""
    if file == "-":
        return sys.stdin.buffer.read(MAX_FILE_BYTES + 1), "standard input"
    return read_file(Path(file)), Path(file).name


def player_named(name: str) -> Player:
    """A stage, or a player's own file."""
    if name in STAGES or not name.endswith(".json"):
        return stage(name)
    return player_from_json(read_file(Path(name)), Path(name).name)


def _with_pins(document: Document, pins: tuple[str, ...]) -> Document:
    for pin in pins:
        place, equals, what = pin.partition("=")
        if not equals:
            raise ChoiceError(f"{pin!r} is not a pin", remedy="Write BAR.BEAT=down, say 3.1=up")
        document = document.pinned(place.strip(), what.strip())
    return document


def write_output(out: str, data: bytes) -> None:
    """To a file, or with "-" to standard output."""
    if out == "-":
        sys.stdout.buffer.write(data)
        sys.stdout.buffer.flush()
    else:
        write_atomically(Path(out), data)


def bars_asked_for(document: Document, bars: str) -> tuple[int, int]:
    """Bar indices from the numbers printed in the score: "5-8", "5", "0-4" with the pickup.

    Raises:
        ChoiceError: not of that form, or no such bars.
    """
    first_text, dash, last_text = bars.replace("–", "-").partition("-")
    try:
        first = int(first_text)
        last = int(last_text) if dash else first
    except ValueError as error:
        raise ChoiceError(f"{bars!r} names no bars", remedy="Write 5 or 5-8") from error
    found = [b.index for b in document.part.bars if first <= b.number <= last]
    numbers = [b.number for b in document.part.bars]
    if not found or first not in numbers or last not in numbers:
        raise ChoiceError(
            f"there are no bars {bars}",
            remedy=f"The piece has bars {min(numbers)} to {max(numbers)}",
        )
    return found[0], found[-1]
