"""The command line: `plectrum [FILE]` opens the window, `plectrum plan` works without one."""

from __future__ import annotations

import sys
from enum import StrEnum
from pathlib import Path
from typing import Annotated, Any

import typer
from typer.core import TyperGroup
from typer.exceptions import Exit, TyperException

from plectrum import __version__
from plectrum.cli.options import (
    AmountOption,
    CrossingOption,
    DirectionOption,
    DottedOption,
    DynamicsOption,
    FileArg,
    FourthOption,
    InstrumentOption,
    PartOption,
    PinOption,
    PlayerOption,
    SourceOption,
    TempoOption,
    Wanted,
    document_for,
    write_output,
)
from plectrum.cli.playing import sensor, sound
from plectrum.cli.practice import handout, study
from plectrum.core.document.document import Document
from plectrum.core.errors import PlectrumError
from plectrum.core.files.exports import plan_as_csv, plan_as_json, plan_as_musicxml, plan_as_text
from plectrum.core.planning.plan import Plan, plan_of


class OutputFormat(StrEnum):
    """What `plectrum plan` prints."""

    JSON = "json"
    CSV = "csv"
    TEXT = "text"
    MUSICXML = "musicxml"


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
    from plectrum.ui.shell.app import run

    raise typer.Exit(run([file] if file else []))


@app.command("demo")
def _demo() -> None:
    """Open the window with the demo pieces."""
    from plectrum.demo import demo_paths
    from plectrum.ui.shell.app import run

    raise typer.Exit(run(demo_paths(), demo=True))


@app.command("plan")
def _plan(
    file: FileArg,
    part: PartOption = None,
    instrument: InstrumentOption = None,
    player: PlayerOption = None,
    direction: DirectionOption = None,
    amount: AmountOption = None,
    dotted: DottedOption = None,
    dynamics: DynamicsOption = None,
    crossing: CrossingOption = None,
    fourth: FourthOption = None,
    tempo: TempoOption = None,
    pin: PinOption = None,
    source: SourceOption = None,
    format_: Annotated[OutputFormat, typer.Option("--format")] = OutputFormat.TEXT,
    out: Annotated[str, typer.Option("-o", "--output", metavar="OUT")] = "-",
) -> None:
    """Plan the bowing of a score and print it."""
    wanted = Wanted(
        part, instrument, player, direction, amount, dotted, dynamics, crossing, fourth, tempo,
        tuple(pin or ()), source,
    )  # fmt: skip
    document = document_for(file, wanted)
    write_output(out, _render(document, plan_of(document), format_))


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
app.command("handout")(handout)
app.command("study")(study)


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
