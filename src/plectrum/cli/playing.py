"""What the commands share that play a plan in time."""

from __future__ import annotations

import sys
from argparse import ArgumentParser, BooleanOptionalAction, Namespace
from pathlib import Path

from plectrum.cli.options import add_file, between
from plectrum.core.document.document import Document
from plectrum.core.files.opening import open_document_path
from plectrum.core.playing.performance import Kind, Performance
from plectrum.core.playing.practice_tempo import (
    FASTEST_RATIO,
    SLOWEST_RATIO,
    PracticeTempo,
    Verdict,
)
from plectrum.core.wording import say, tr
from plectrum.interface.sounds import played


def add_playing_options(parser: ArgumentParser) -> None:
    """What is played, and how fast."""
    add_file(parser)
    add_percent(parser)
    parser.add_argument(
        "--repeats", action=BooleanOptionalAction, default=True, help=tr("played out")
    )


def add_percent(parser: ArgumentParser) -> None:
    """How fast, of the plan's tempo."""
    parser.add_argument(
        "--percent",
        type=between(float, 100 * SLOWEST_RATIO, 100 * FASTEST_RATIO),
        default=100.0,
        metavar="PERCENT",
        help=tr("of the plan's tempo"),
    )


def opened(arguments: Namespace) -> Document:
    """What is played."""
    return open_document_path(Path(arguments.file), part=arguments.part, tune=arguments.tune)


def warn(tempo: PracticeTempo) -> None:
    """What the tempo does to the plan, on standard error."""
    if tempo.verdict is Verdict.BEYOND:
        print(say("plectrum: at this tempo {warning}", warning=tempo.text), file=sys.stderr)


def performance(arguments: Namespace, kind: Kind) -> Performance:
    """A plan in time."""
    tempo, performed = played(opened(arguments), arguments.percent, kind, repeats=arguments.repeats)
    warn(tempo)
    return performed
