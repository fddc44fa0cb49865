"""What the commands share that play a plan in time."""

from __future__ import annotations

import sys
from argparse import ArgumentParser, BooleanOptionalAction, Namespace
from pathlib import Path

from plectrum.cli.options import add_file, between
from plectrum.core.document.document import Document
from plectrum.core.files.opening import open_document_path
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.playing.performance import Kind, Performance, Rehearsal
from plectrum.core.playing.practice_tempo import FASTEST_RATIO, SLOWEST_RATIO, Verdict, at_tempo
from plectrum.core.wording import say, tr


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


def performance(arguments: Namespace, kind: Kind) -> Performance:
    """A plan in time; what the tempo does to it is said on standard error."""
    return played(arguments, kind)[0]


def played(arguments: Namespace, kind: Kind) -> tuple[Performance, Document]:
    """A plan in time, and the document it is of."""
    document = open_document_path(Path(arguments.file), part=arguments.part, tune=arguments.tune)
    practised = at_tempo(plan_of(document), arguments.percent / 100)
    if practised.verdict is Verdict.BEYOND:
        print(say("plectrum: at this tempo {warning}", warning=practised.text), file=sys.stderr)
    rehearsal = Rehearsal(ratio=practised.ratio, kind=kind, repeats=arguments.repeats)
    return Performance(practised.plan, rehearsal), document
