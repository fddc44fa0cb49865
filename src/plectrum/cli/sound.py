"""`plectrum sound`: a plan as it sounds, or as MIDI of its timing."""

from __future__ import annotations

from argparse import ArgumentParser, BooleanOptionalAction, Namespace

from plectrum.cli.options import add_output, one_of
from plectrum.cli.playing import add_playing_options, opened, warn
from plectrum.core.playing.performance import Kind
from plectrum.core.sound.together import Parts
from plectrum.core.wording import tr
from plectrum.interface.sounds import SOUNDS, sound


def add_options(parser: ArgumentParser) -> None:
    add_playing_options(parser)
    add_output(
        parser,
        endings=SOUNDS,
        metavar="OUT.wav",
        words=tr("a name that ends with .mid gives MIDI of the timing"),
        default=None,
    )
    parser.add_argument(
        "--strings", type=one_of(Kind), default=Kind.WRITTEN, metavar="KIND",
        help=tr("what is played of the notes: ") + ", ".join(Kind),
    )  # fmt: skip
    parser.add_argument(
        "--click", action=BooleanOptionalAction, default=True, help=tr("a metronome with it")
    )
    parser.add_argument(
        "--voice", action="store_true", help=tr("count-in, lifts and second times said aloud")
    )

    parser.add_argument(
        "--parts", type=one_of(Parts), default=Parts.ALONE, metavar="WHICH",
        help=tr("of the score that sound: ") + ", ".join(Parts),
    )  # fmt: skip


def run(arguments: Namespace) -> None:
    tempo = sound(
        opened(arguments),
        arguments.output,
        percent=arguments.percent,
        strings=arguments.strings,
        repeats=arguments.repeats,
        click=arguments.click,
        voice=arguments.voice,
        parts=arguments.parts,
    )
    warn(tempo)
