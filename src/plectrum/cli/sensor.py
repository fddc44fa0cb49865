"""`plectrum sensor`: a stand-in for a tracked bow."""

from __future__ import annotations

import sys
import time
from argparse import ArgumentParser, Namespace

from plectrum.cli.options import one_of
from plectrum.cli.playing import add_playing_options, performance
from plectrum.core.playing.performance import Kind
from plectrum.core.tracking.sensor import head_lines, sample_line
from plectrum.core.tracking.simulated import Clumsiness, SimulatedBow
from plectrum.core.wording import tr


def add_options(parser: ArgumentParser) -> None:
    add_playing_options(parser)
    parser.add_argument(
        "--clumsy", type=one_of(Clumsiness), default=Clumsiness.CAREFUL, metavar="HOW",
        help=tr("what goes wrong: ") + ", ".join(Clumsiness),
    )  # fmt: skip
    parser.add_argument(
        "--seed", type=int, default=1, help=tr("the same seed trembles in the same way")
    )
    parser.add_argument("--at-once", action="store_true", help=tr("do not wait for the time"))


def run(arguments: Namespace) -> None:
    played = performance(arguments, Kind.WRITTEN)
    bow = SimulatedBow(played, arguments.clumsy, arguments.seed)
    sys.stdout.write(head_lines())
    begun = time.monotonic()
    for sample in bow.samples(0.0, played.length_s):
        if not arguments.at_once:
            sys.stdout.flush()
            time.sleep(max(0.0, begun + sample.at_s - time.monotonic()))
        sys.stdout.write(sample_line(sample))
    sys.stdout.flush()
