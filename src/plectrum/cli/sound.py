"""`plectrum sound`: a plan as it sounds, or as MIDI of its timing."""

from __future__ import annotations

from argparse import ArgumentParser, BooleanOptionalAction, Namespace
from pathlib import Path

from plectrum.cli.options import one_of
from plectrum.cli.playing import add_playing_options, performance
from plectrum.core.atomic import write_atomically
from plectrum.core.files.midi_export import performance_as_midi
from plectrum.core.playing.cues import tune_cues
from plectrum.core.playing.performance import Kind
from plectrum.core.sound.render import Renderer
from plectrum.core.sound.voice import spoken
from plectrum.core.sound.wav import write_wav

MIDI_SUFFIXES = {".mid", ".midi"}


def add_options(parser: ArgumentParser) -> None:
    add_playing_options(parser)
    parser.add_argument(
        "-o",
        "--output",
        required=True,
        type=Path,
        metavar="OUT.wav",
        help="a name that ends with .mid gives MIDI of the timing",
    )
    parser.add_argument(
        "--strings", type=one_of(Kind), default=Kind.WRITTEN, metavar="KIND",
        help="what is played of the notes: " + ", ".join(Kind),
    )  # fmt: skip
    parser.add_argument(
        "--click", action=BooleanOptionalAction, default=True, help="a metronome with it"
    )
    parser.add_argument(
        "--voice", action="store_true", help="count-in, lifts and second times said aloud"
    )


def run(arguments: Namespace) -> None:
    played = performance(arguments, arguments.strings)
    if arguments.output.suffix.lower() in MIDI_SUFFIXES:
        write_atomically(arguments.output, performance_as_midi(played, arguments.output.stem))
    else:
        voice = spoken(tune_cues(played)) if arguments.voice else []
        renderer = Renderer(played, click=arguments.click, voice=voice)
        write_wav(arguments.output, renderer.blocks())
