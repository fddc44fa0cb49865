"""`plectrum sound`: a plan as it sounds."""

from __future__ import annotations

from argparse import ArgumentParser, BooleanOptionalAction, Namespace
from pathlib import Path

from plectrum.cli.options import one_of
from plectrum.cli.playing import add_playing_options, performance
from plectrum.core.playing.performance import Kind
from plectrum.core.sound.render import Renderer
from plectrum.core.sound.wav import write_wav


def add_options(parser: ArgumentParser) -> None:
    add_playing_options(parser)
    parser.add_argument("-o", "--output", required=True, type=Path, metavar="OUT.wav")
    parser.add_argument(
        "--strings", type=one_of(Kind), default=Kind.WRITTEN, metavar="KIND",
        help="what is played of the notes: " + ", ".join(Kind),
    )  # fmt: skip
    parser.add_argument(
        "--click", action=BooleanOptionalAction, default=True, help="a metronome with it"
    )


def run(arguments: Namespace) -> None:
    played = performance(arguments.file, arguments.part, arguments.percent, arguments.strings)
    write_wav(arguments.output, Renderer(played, click=arguments.click).blocks())
