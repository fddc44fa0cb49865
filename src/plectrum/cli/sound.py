"""`plectrum sound`: a plan as it sounds, or as MIDI of its timing."""

from __future__ import annotations

from argparse import ArgumentParser, BooleanOptionalAction, Namespace
from pathlib import Path

from plectrum.cli.options import add_output, one_of
from plectrum.cli.playing import add_playing_options, played
from plectrum.core.atomic import write_atomically
from plectrum.core.files.midi_export import performance_as_midi
from plectrum.core.outputs import refuse_outputs
from plectrum.core.planning.ensemble.documents import plans_beside
from plectrum.core.playing.cues import tune_cues
from plectrum.core.playing.performance import Kind
from plectrum.core.sound.render import Renderer
from plectrum.core.sound.together import Parts, Together, beside
from plectrum.core.sound.voice import spoken
from plectrum.core.sound.wav import write_wav
from plectrum.core.wording import tr

MIDI_SUFFIXES = (".mid", ".midi")


def add_options(parser: ArgumentParser) -> None:
    add_playing_options(parser)
    add_output(
        parser,
        endings=(".wav", *MIDI_SUFFIXES),
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
    mine, document = played(arguments, arguments.strings)
    output = Path(arguments.output)
    refuse_outputs(output)  # before it is rendered, which takes a while
    if output.suffix.lower() in MIDI_SUFFIXES:
        write_atomically(output, performance_as_midi(mine, output.stem))
    else:
        voice = spoken(tune_cues(mine)) if arguments.voice else []
        if arguments.parts is Parts.ALONE:
            renderer: Renderer | Together = Renderer(mine, click=arguments.click, voice=voice)
        else:
            only = arguments.parts is Parts.OTHERS
            others = beside(mine, plans_beside(document), alone=only)
            renderer = Together(mine, others, click=arguments.click, voice=voice)
        write_wav(output, renderer.blocks())
