"""`plectrum exercise`: an exercise without a tune, as a page, a score, sound, or its own file."""

from __future__ import annotations

from argparse import ArgumentParser, BooleanOptionalAction, Namespace

from plectrum.cli.options import add_output, add_who, between, write_output
from plectrum.core.practice.exercises.catalogue import Made, listed
from plectrum.core.practice.exercises.patterns import MOST_BOW_NOTES, MOST_OCTAVES
from plectrum.core.wording import say, tr
from plectrum.interface.checking import (
    FASTEST_EXERCISE_BPM,
    MOST_DAYS,
    MOST_TIMES,
    SLOWEST_EXERCISE_BPM,
)
from plectrum.interface.practice import EXERCISE_ENDINGS, exercise, write_exercise


def add_options(parser: ArgumentParser) -> None:
    parser.add_argument(
        "name", nargs="?", metavar="NAME", help=tr("of the list, or a file FILE.json")
    )
    parser.add_argument("--list", action="store_true", help=tr("a line each: name and what for"))
    add_who(parser)
    parser.add_argument("--strings", metavar="G,D,G-D", help=tr("names, neighbours, each or pairs"))
    parser.add_argument("--part", metavar="WHERE", help=tr("whole, upper-half … or MARK..MARK"))
    parser.add_argument("--counts", metavar="PLAY+LOOK", help=tr("beats to play, and to look"))
    parser.add_argument("--times", type=between(int, 1, MOST_TIMES), help=tr("on each string"))
    parser.add_argument("--day", type=between(int, 1, MOST_DAYS), default=1, help=tr("of practice"))
    parser.add_argument("--key", default="", help=tr("of a pattern: D, Bb, A minor"))
    parser.add_argument("--octaves", type=between(int, 1, MOST_OCTAVES), default=1)
    parser.add_argument(
        "--bow-notes", type=between(int, 1, MOST_BOW_NOTES), default=1, help=tr("notes in a bow")
    )
    parser.add_argument("--rhythm", default="long", help=tr("on every pitch: long short short"))
    parser.add_argument("--fingers", default="", help=tr("on each string: 0 1 2 3"))
    tempo = between(float, SLOWEST_EXERCISE_BPM, FASTEST_EXERCISE_BPM)
    parser.add_argument("--tempo", type=tempo, default=72.0, metavar="BPM")
    parser.add_argument(
        "--voice", action=BooleanOptionalAction, default=True, help=tr("counts and words aloud")
    )
    add_output(
        parser,
        endings=EXERCISE_ENDINGS,
        metavar="OUT",
        words=say("{endings}, or - for a description", endings=" ".join(EXERCISE_ENDINGS)),
        default="-",
    )


def run(arguments: Namespace) -> None:
    if arguments.list or arguments.name is None:
        for row in listed():
            print(f"{row.name:<20} {row.title}: {row.purpose}")
        return
    made = exercise(
        arguments.name,
        instrument=arguments.instrument,
        player=arguments.player,
        size=arguments.size,
        strings=arguments.strings,
        part=arguments.part,
        counts=arguments.counts,
        times=arguments.times,
        day=arguments.day,
        key=arguments.key,
        octaves=arguments.octaves,
        bow_notes=arguments.bow_notes,
        rhythm=arguments.rhythm,
        fingers=arguments.fingers,
        bpm=arguments.tempo,
    )
    if arguments.output == "-":
        write_output("-", _described(made).encode())
    else:
        write_exercise(made, arguments.output, voice=arguments.voice)


def _described(made: Made) -> str:
    lines = [made.title, f"{made.seconds:.0f} s", *made.lines]
    if made.drill is not None:
        lines += ["", *(f"{step.seconds:5.1f} s  {step.text}" for step in made.drill.steps)]
        lines += ["", made.drill.caution]
    return "\n".join(lines) + "\n"
