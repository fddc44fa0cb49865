"""The command line: `plectrum [FILE]` opens the window, `plectrum plan` works without one."""

from __future__ import annotations

import sys
from dataclasses import replace
from enum import StrEnum
from pathlib import Path
from typing import Annotated, Any

import typer
from typer.core import TyperGroup
from typer.exceptions import Exit, TyperException

from plectrum import __version__
from plectrum.cli_playing import sensor, sound
from plectrum.core.atomic import write_atomically
from plectrum.core.errors import ChoiceError, PlectrumError
from plectrum.core.files.exports import plan_as_csv, plan_as_json, plan_as_musicxml, plan_as_text
from plectrum.core.files.planfile import open_document
from plectrum.core.planning.document import Document
from plectrum.core.planning.plan import Plan
from plectrum.core.player.player import STAGES, Player, player_from_json, stage
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


class OutputFormat(StrEnum):
    """What `plectrum plan` prints."""

    JSON = "json"
    CSV = "csv"
    TEXT = "text"
    MUSICXML = "musicxml"


class InputFormat(StrEnum):
    """What standard input holds."""

    MUSICXML = "musicxml"
    ABC = "abc"
    MIDI = "mid"


class _OpenByDefault(TyperGroup):
    """Takes a first word that is no command as a file to open."""

    def parse_args(self, ctx: Any, args: list[str]) -> list[str]:
        known = {*self.commands, "--help", "--version"}
        if not args or args[0] not in known:
            args = ["open", *args]
        return super().parse_args(ctx, args)


app = typer.Typer(
    cls=_OpenByDefault,
    add_completion=False,
    no_args_is_help=False,
    pretty_exceptions_enable=False,
    help="Plan bow direction and bow distribution for string teachers.",
)


def _say_version(wanted: bool) -> None:
    if wanted:
        typer.echo(f"plectrum {__version__}")
        raise typer.Exit


@app.callback()
def _main(
    version: Annotated[
        bool, typer.Option("--version", callback=_say_version, is_eager=True)
    ] = False,
) -> None:
    """Plan bow direction and bow distribution for string teachers."""


@app.command("open", hidden=True)
def _open(file: Annotated[Path | None, typer.Argument()] = None) -> None:
    """Open the window, with a file if one is named."""
    from plectrum.ui.app import run

    raise typer.Exit(run([file] if file else []))


@app.command("demo")
def _demo() -> None:
    """Open the window with the demo pieces."""
    from plectrum.demo import demo_paths
    from plectrum.ui.app import run

    raise typer.Exit(run(demo_paths()))


def _read_input(file: str) -> tuple[bytes, str]:
    if file == "-":
        return sys.stdin.buffer.read(MAX_FILE_BYTES + 1), "standard input"
    return read_file(Path(file)), Path(file).name


def _player(name: str) -> Player:
    if name in STAGES:
        return stage(name)
    if name.endswith(".json"):
        return player_from_json(read_file(Path(name)), Path(name).name)
    return stage(name)


def _with_pins(document: Document, pins: list[str]) -> Document:
    for pin in pins:
        place, equals, what = pin.partition("=")
        if not equals:
            raise ChoiceError(f"{pin!r} is not a pin", remedy="Write BAR.BEAT=down, say 3.1=up")
        document = document.pinned(place.strip(), what.strip())
    return document


def _write_output(out: str, data: bytes) -> None:
    if out == "-":
        sys.stdout.buffer.write(data)
        sys.stdout.buffer.flush()
    else:
        write_atomically(Path(out), data)


@app.command("plan")
def _plan(
    file: Annotated[str, typer.Argument(metavar="FILE", help="A score or plan file, - for pipes")],
    part: Annotated[str | None, typer.Option(help="Name or number of the part")] = None,
    instrument: Annotated[Instrument | None, typer.Option()] = None,
    player: Annotated[
        str | None, typer.Option(help="starter, growing, steady, or a player's JSON file")
    ] = None,
    direction: Annotated[DirectionSchool | None, typer.Option(help="What turns the bow")] = None,
    amount: Annotated[AmountSchool | None, typer.Option(help="How much bow")] = None,
    dotted: Annotated[DottedSchool | None, typer.Option(help="Dotted pairs")] = None,
    dynamics: Annotated[DynamicsSchool | None, typer.Option(help="Loud and soft by")] = None,
    crossing: Annotated[CrossingSchool | None, typer.Option(help="String crossings")] = None,
    fourth: Annotated[FourthSchool | None, typer.Option(help="Fourth finger or open")] = None,
    tempo: Annotated[float | None, typer.Option(min=10, max=480, metavar="BPM")] = None,
    pin: Annotated[
        list[str] | None, typer.Option(metavar="BAR.BEAT=WHAT", help="down|up|hook|retake|turn")
    ] = None,
    source: Annotated[InputFormat | None, typer.Option("--from")] = None,
    format_: Annotated[OutputFormat, typer.Option("--format")] = OutputFormat.TEXT,
    out: Annotated[str, typer.Option("-o", "--output", metavar="OUT")] = "-",
) -> None:
    """Plan the bowing of a score and print it."""
    data, name = _read_input(file)
    document = open_document(data, name, source=source, part=part, instrument=instrument)
    choices = document.choices
    if player is not None:
        choices = replace(choices, player=_player(player))
    schools = {
        "direction": direction, "amount": amount, "dotted": dotted,
        "dynamics": dynamics, "crossing": crossing, "fourth": fourth,
    }  # fmt: skip
    chosen: dict[str, Any] = {name: value for name, value in schools.items() if value is not None}
    choices = replace(choices, school=replace(choices.school, **chosen))
    if tempo is not None:
        choices = replace(choices, tempo_bpm=tempo)
    document = _with_pins(document.with_choices(choices), pin or [])
    plan = document.plan()
    _write_output(out, _render(document, plan, format_))


def _render(document: Document, plan: Plan, wanted: OutputFormat) -> bytes:
    if wanted is OutputFormat.MUSICXML:
        return plan_as_musicxml(document, plan)
    if wanted is OutputFormat.JSON:
        return plan_as_json(document, plan).encode()
    if wanted is OutputFormat.CSV:
        return plan_as_csv(plan).encode()
    return plan_as_text(document, plan).encode()


app.command("sound")(sound)
app.command("sensor")(sensor)


def main() -> None:
    """Entry point. Exit 2 with one line on standard error for anything the user can mend."""
    try:
        ended = app(standalone_mode=False)
    except PlectrumError as error:
        print(f"plectrum: {error}", file=sys.stderr)
        sys.exit(2)
    except Exit as done:
        sys.exit(done.exit_code)
    except TyperException as error:
        said = error.format_message() if hasattr(error, "format_message") else str(error)
        print(f"plectrum: {' '.join(said.split())}", file=sys.stderr)
        sys.exit(2)
    except (typer.Abort, KeyboardInterrupt):
        sys.exit(130)
    except BrokenPipeError:
        sys.stderr.close()
        sys.exit(0)
    sys.exit(ended or 0)
