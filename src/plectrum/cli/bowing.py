"""`plectrum bowing`: a teacher's own bowing, learnt from kept plans."""

from __future__ import annotations

import sys
from argparse import ArgumentParser, Namespace
from pathlib import Path

from plectrum.cli.options import add_output, write_output
from plectrum.core.advice.own_bowing import explained, learn_from
from plectrum.core.files.opening import open_document_path
from plectrum.core.player.records import bowing_as_json
from plectrum.core.wording import say, several, tr


def add_options(parser: ArgumentParser) -> None:
    parser.add_argument("plans", metavar="PLAN", nargs="+", help=tr("plan files with pinned bows"))
    add_output(
        parser,
        endings=(".json",),
        metavar="OUT",
        words=tr("the file for --bowing; - for standard output"),
        default="-",
    )


def run(arguments: Namespace) -> None:
    bowing = learn_from([open_document_path(Path(name)) for name in arguments.plans])
    write_output(arguments.output, bowing_as_json(bowing).encode())
    if arguments.output != "-":
        marks = several("{n} bow", "{n} bows", bowing.marks_n)
        plans = several("{n} plan", "{n} plans", bowing.plans_n)
        print(say("Learnt from {marks} in {plans}.", marks=marks, plans=plans), file=sys.stderr)
        for line in explained(bowing) or (tr("It bows as print does."),):
            print(line, file=sys.stderr)
