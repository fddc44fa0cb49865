"""`plectrum exercise`: an exercise without a tune, as a page, a score, sound, or its own file."""

from __future__ import annotations

import os
from argparse import ArgumentParser, BooleanOptionalAction, Namespace
from datetime import date
from pathlib import Path

from plectrum.cli.options import add_output, add_who, between, choices_asked_for, write_output
from plectrum.core.document.choices import Choices
from plectrum.core.document.document import Document
from plectrum.core.errors import ChoiceError
from plectrum.core.files.exports import plan_as_musicxml
from plectrum.core.incoming.files import read_file
from plectrum.core.instrument.specification import instrument_names
from plectrum.core.plain_text import one_line
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.playing.performance import Kind
from plectrum.core.practice.exercises.catalogue import Made, exercise_named, listed, made_of
from plectrum.core.practice.exercises.model import Changes, exercise_bytes, exercise_from_bytes
from plectrum.core.practice.exercises.patterns import MOST_BOW_NOTES, MOST_OCTAVES, Asked
from plectrum.core.practice.exercises.routine import alone, counts_of
from plectrum.core.wording import say, tr

SOUNDS = {".wav", ".mid", ".midi"}


def add_options(parser: ArgumentParser) -> None:
    parser.add_argument(
        "name", nargs="?", metavar="NAME", help=tr("of the list, or a file FILE.json")
    )
    parser.add_argument("--list", action="store_true", help=tr("a line each: name and what for"))
    add_who(parser)
    parser.add_argument("--strings", metavar="G,D,G-D", help=tr("names, neighbours, each or pairs"))
    parser.add_argument("--part", metavar="WHERE", help=tr("whole, upper-half … or MARK..MARK"))
    parser.add_argument("--counts", metavar="PLAY+LOOK", help=tr("beats to play, and to look"))
    parser.add_argument("--times", type=between(int, 1, 40), help=tr("on each string"))
    parser.add_argument("--day", type=between(int, 1, 400), default=1, help=tr("of practice"))
    parser.add_argument("--key", default="", help=tr("of a pattern: D, Bb, A minor"))
    parser.add_argument("--octaves", type=between(int, 1, MOST_OCTAVES), default=1)
    parser.add_argument(
        "--bow-notes", type=between(int, 1, MOST_BOW_NOTES), default=1, help=tr("notes in a bow")
    )
    parser.add_argument("--rhythm", default="long", help=tr("on every pitch: long short short"))
    parser.add_argument("--fingers", default="", help=tr("on each string: 0 1 2 3"))
    parser.add_argument("--tempo", type=between(float, 20, 240), default=72.0, metavar="BPM")
    parser.add_argument(
        "--voice", action=BooleanOptionalAction, default=True, help=tr("counts and words aloud")
    )
    endings = ".pdf .svg .musicxml .xml .wav .mid .midi .json"
    add_output(
        parser,
        endings=endings.split(),
        metavar="OUT",
        words=say("{endings}, or - for a description", endings=endings),
        default="-",
    )


def run(arguments: Namespace) -> None:
    if arguments.list or arguments.name is None:
        for row in listed():
            print(f"{row.name:<20} {row.title}: {row.purpose}")
        return
    choices = choices_asked_for(arguments, arguments.instrument or instrument_names()[0])
    made = _made(arguments, choices)
    output = Path(arguments.output)
    suffix = output.suffix.lower()
    if suffix == ".json":
        if made.exercise is None:
            raise ChoiceError(
                say("{name} has no file of its own", name=arguments.name),
                remedy=tr("It is asked for by --key, --octaves, --bow-notes, --rhythm, --fingers"),
            )
        write_output(arguments.output, exercise_bytes(made.exercise))
    elif suffix in (".pdf", ".svg"):
        _page(made, choices, output)
    elif suffix in SOUNDS:
        _sound(made, choices, output, voice=arguments.voice)
    elif suffix in (".musicxml", ".xml"):
        document = _music_of(made)
        write_output(arguments.output, plan_as_musicxml(document, plan_of(document)))
    elif arguments.output == "-":
        write_output("-", _described(made).encode())
    else:
        raise ChoiceError(say("{name!r} has no ending known here", name=one_line(output.name, 40)),
                          remedy=tr("Use .pdf, .svg, .musicxml, .wav, .mid or .json"))  # fmt: skip


def _made(arguments: Namespace, choices: Choices) -> Made:
    play, look = counts_of(arguments.counts)
    changes = Changes(arguments.strings, arguments.part, play, look, arguments.times)
    asked = Asked(arguments.key, arguments.octaves, arguments.bow_notes, arguments.rhythm,
                  arguments.fingers, arguments.tempo)  # fmt: skip
    if arguments.name.lower().endswith(".json"):
        path = Path(arguments.name)
        own = exercise_from_bytes(read_file(path), path.name)
        return made_of(own, choices, changes, arguments.day)
    return exercise_named(arguments.name, choices, changes, asked, arguments.day)


def _music_of(made: Made) -> Document:
    if made.document is None:
        raise ChoiceError(
            say("{title} is done without a string", title=made.title),
            remedy=tr("Ask for .pdf, .svg, .wav or .json"),
        )
    return made.document


def _page(made: Made, choices: Choices, output: Path) -> None:
    """Its music with the bow under it; what is done in silence has words and pictures alone."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from plectrum.core.practice.handout import HandoutOptions, Picture, Words
    from plectrum.ui.handout.command import write_handout

    if made.document is None or made.kind is Kind.SILENT:
        from plectrum.ui.handout.routine_page import write_routine

        routine, items = alone(made)
        days = routine.days(date.today())
        write_routine(output, routine, items, choices, days, HandoutOptions())
        return
    options = HandoutOptions(picture=Picture.BOWS, words=Words.NONE, watch=False, steps=False)
    write_handout(output, [made.document], options, date.today())


def _sound(made: Made, choices: Choices, output: Path, *, voice: bool) -> None:
    from plectrum.core.atomic import write_atomically
    from plectrum.core.files.midi_export import performance_as_midi
    from plectrum.core.playing.performance import Performance, Rehearsal
    from plectrum.core.practice.exercises.sound import blocks_of
    from plectrum.core.sound.wav import write_wav

    if output.suffix.lower() == ".wav":
        write_wav(output, blocks_of(made, choices, voice=voice))
        return
    played = Performance(plan_of(_music_of(made)), Rehearsal(kind=made.kind))
    write_atomically(output, performance_as_midi(played, made.title))


def _described(made: Made) -> str:
    lines = [made.title, f"{made.seconds:.0f} s", *made.lines]
    if made.drill is not None:
        lines += ["", *(f"{step.seconds:5.1f} s  {step.text}" for step in made.drill.steps)]
        lines += ["", made.drill.caution]
    return "\n".join(lines) + "\n"
