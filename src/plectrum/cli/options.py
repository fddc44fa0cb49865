"""Options that several commands share: what is read, for whom, in which school, how fast."""

from __future__ import annotations

import sys
from argparse import ArgumentParser, ArgumentTypeError, Namespace
from collections.abc import Callable, Sequence
from dataclasses import replace
from datetime import date
from enum import StrEnum
from pathlib import Path
from typing import TypeVar

from plectrum.core.atomic import write_atomically
from plectrum.core.document.choices import FASTEST_BPM, SLOWEST_BPM, SLUR_AMOUNT_MOST, Choices
from plectrum.core.document.document import Document
from plectrum.core.document.places import WORDS
from plectrum.core.errors import ChoiceError
from plectrum.core.files.marking import Division, Marking, Under
from plectrum.core.files.opening import open_document
from plectrum.core.incoming.days import day
from plectrum.core.incoming.files import read_file, read_standard_input
from plectrum.core.incoming.numbers import decimal, only_whole
from plectrum.core.instrument.bow import Bow
from plectrum.core.instrument.specification import SIZES, instrument_names
from plectrum.core.plain_text import one_line, shown_name
from plectrum.core.planning.kept_plan import planned_today
from plectrum.core.player.named import player_named
from plectrum.core.player.own_bowing import OwnBowing
from plectrum.core.player.player import STAGES
from plectrum.core.player.school import QUESTIONS
from plectrum.core.wording import say, tr

SOURCES = ("musicxml", "abc", "mid")
Number = TypeVar("Number", int, float)
Kind = TypeVar("Kind", bound=StrEnum)


def between(kind: type[Number], low: Number, high: Number) -> Callable[[str], Number]:
    """A number within bounds, for `type` of an option."""

    def read(text: str) -> Number:
        found = only_whole(text) if kind is int else decimal(text)
        if found is None:
            raise ArgumentTypeError(say("{text!r} is not a number", text=text))
        value = kind(found)
        if not low <= value <= high:
            raise ArgumentTypeError(
                say("{text} is not between {low:g} and {high:g}", text=text, low=low, high=high)
            )
        return value

    return read


def one_of(kind: type[Kind]) -> Callable[[str], Kind]:
    """A word of a kind, for `type` of an option."""

    def read(text: str) -> Kind:
        try:
            return kind(text)
        except ValueError:
            raise ArgumentTypeError(
                say("{text!r} is not one of {list}", text=text, list=", ".join(kind))
            ) from None

    return read


def add_file(parser: ArgumentParser, *, several: bool = False) -> None:
    """The score, or several, and which part of it."""
    if several:
        parser.add_argument(
            "files",
            metavar="FILE",
            nargs="+",
            help=tr("scores, plan files and folders, - for pipes"),
        )
    else:
        parser.add_argument("file", metavar="FILE", help=tr("a score or plan file, - for pipes"))
    parser.add_argument("--part", metavar="PART", help=tr("name or number of the part"))
    parser.add_argument(
        "--tune",
        metavar="N",
        help=tr("which tune of a book in ABC") + (tr(", or all") if several else ""),
    )


def add_score_options(
    parser: ArgumentParser, *, several_players: bool = False, several_files: bool = False
) -> None:
    """Everything a plan depends on.

    Args:
        several_players: `--player` may be given more than once.
        several_files: more than one file may be named, as `files`.
    """
    add_file(parser, several=several_files)
    add_who(parser, several_players)
    _add_school(parser)
    parser.add_argument(
        "--tempo",
        type=between(float, SLOWEST_BPM, FASTEST_BPM),
        metavar="BPM",
        help=tr("beats a minute"),
    )
    parser.add_argument(
        "--pin",
        action="append",
        default=[],
        metavar="BAR.BEAT=WHAT",
        help=tr("down, up, hook, retake or turn"),
    )
    parser.add_argument(
        "--place",
        action="append",
        default=[],
        metavar="BARS=WHERE",
        help=tr("bars 3, 1-4 or 3.2-3.4: ") + " ".join(WORDS) + tr(" or MARK..MARK"),
    )
    parser.add_argument(
        "--alone", action="store_true", help=tr("the part by itself, not with the other parts")
    )
    parser.add_argument(
        "--today", action="store_true", help=tr("plan anew what an earlier Plectrum has kept")
    )
    parser.add_argument(
        "--from",
        dest="source",
        choices=SOURCES,
        metavar="FORMAT",
        help=tr("of a pipe: ") + " ".join(SOURCES),
    )


def add_start(parser: ArgumentParser) -> None:
    """The first day of practice."""
    parser.add_argument(
        "--start", type=_day, default=None, help=tr("first day, such as 2027-01-11")
    )


def _day(text: str) -> date | None:
    found = day(text) if text else None
    if text and found is None:
        shown = one_line(text, 40)
        raise ArgumentTypeError(say("{shown!r} is not a day. Write it as 2027-01-11", shown=shown))
    return found


SIGNS = ("joins", "fingerings", "strings")


def add_marking(parser: ArgumentParser) -> None:
    """What is written into a marked score beside the bows."""
    parser.add_argument("--division", type=one_of(Division), default=Division.OFF, metavar="HOW",
                        help=say("bow division in the score: "
                                 "{list}", list=' '.join(Division)))  # fmt: skip
    parser.add_argument("--under", type=one_of(Under), default=Under.LYRICS, metavar="AS",
                        help=say("the division as {list}", list=' or '.join(Under)))  # fmt: skip
    parser.add_argument("--signs", type=_signs, default=(), metavar="SIGNS",
                        help=say("into the score, with commas: "
                                 "{list}", list=','.join(SIGNS)))  # fmt: skip


def marking_from(arguments: Namespace) -> Marking:
    """What these options ask for."""
    signs = {name: name in arguments.signs for name in SIGNS}
    return Marking(arguments.division, arguments.under, **signs)


def _signs(text: str) -> tuple[str, ...]:
    names = tuple(word for word in text.split(",") if word)
    for name in names:
        if name not in SIGNS:
            raise ArgumentTypeError(
                say("{name!r} is not one of {list}", name=name, list=", ".join(SIGNS))
            )
    return names


def add_who(parser: ArgumentParser, several_players: bool = False) -> None:
    """Instrument, its size, and who plays it."""
    parser.add_argument(
        "--instrument",
        choices=instrument_names(),
        metavar="NAME",
        help=" ".join(instrument_names()),
    )
    parser.add_argument(
        "--player",
        metavar="WHO",
        action="append" if several_players else "store",
        help=say("{list}, or a player's JSON file", list=", ".join(STAGES))
        + (tr("; several make a page each") if several_players else ""),
    )
    parser.add_argument(
        "--size",
        choices=tuple(SIZES),
        metavar="SIZE",
        help=tr("of the instrument and bow: ") + " ".join(SIZES),
    )


def _add_school(parser: ArgumentParser) -> None:
    """The questions on which teachers differ, and what goes with them."""
    for question, title, answers in QUESTIONS:
        words = [str(answer) for answer in answers]
        parser.add_argument(
            f"--{question}",
            choices=words,
            metavar="HOW",
            help=f"{title}: {' '.join(words)}",
        )
    parser.add_argument(
        "--slur-amount",
        type=between(int, 0, SLUR_AMOUNT_MOST),
        metavar="N",
        help=say(
            "with --slurs song: 0 few slurs to {slur_amount_most} many",
            slur_amount_most=SLUR_AMOUNT_MOST,
        ),
    )
    parser.add_argument(
        "--bowing",
        metavar="BOWING",
        help=tr("your own bowing, as `plectrum bowing` writes it"),
    )


def document_for(arguments: Namespace, player: str | None = None) -> Document:
    """The document a command works on.

    Args:
        player: whose; None for the one of the options.

    Raises:
        PlectrumError: it cannot be read, or an option does not fit it.
    """
    data, name = read_input(arguments.file)
    return document_from(data, name, arguments, arguments.source, arguments.tune, player)


def document_from(
    data: bytes,
    name: str,
    arguments: Namespace,
    source: str | None,
    tune: str | None = None,
    player: str | None = None,
) -> Document:
    """The same from bytes.

    Args:
        source: their format; None to tell it by what they are.
    """
    document = open_document(
        data,
        name,
        source=source,
        part=arguments.part,
        instrument=arguments.instrument,
        tune=tune,
    )
    if arguments.today:
        document = planned_today(document)
    if arguments.alone:
        document = replace(document, together=False)
    who = player or arguments.player
    choices = _chosen(document.choices, arguments)
    if who is not None:
        choices = replace(choices, player=player_named(who))
    document = document.with_choices(choices)
    for pin in arguments.pin:
        place, equals, what = pin.partition("=")
        if not equals:
            raise ChoiceError(
                say("{pin!r} is not a pin", pin=pin), remedy=tr("Write BAR.BEAT=down, say 3.1=up")
            )
        document = document.pinned(place.strip(), what.strip())
    for said in arguments.place:
        bars, equals, word = said.partition("=")
        if not equals:
            raise ChoiceError(
                say("{said!r} is no place", said=said),
                remedy=tr("Write BARS=upper-half, say 1-4=half"),
            )
        document = document.placed(bars.strip(), word.strip())
    return document


def _chosen(choices: Choices, arguments: Namespace) -> Choices:
    for question, _, answers in QUESTIONS:
        wanted = getattr(arguments, question)
        if wanted is not None:
            answer = next(a for a in answers if str(a) == wanted)
            choices = choices.with_school(question, answer)
    if arguments.size is not None:
        choices = replace(choices, bow=Bow.sized(choices.instrument, arguments.size))
    if arguments.slur_amount is not None:
        choices = replace(choices, slur_amount=arguments.slur_amount)
    if arguments.bowing is not None:
        choices = replace(choices, bowing=_bowing_in(arguments.bowing))
    if arguments.tempo is not None:
        choices = replace(choices, tempo_bpm=arguments.tempo)
    return choices


def _bowing_in(file: str) -> OwnBowing:
    from plectrum.core.player.records import bowing_from_json

    return bowing_from_json(read_file(Path(file)), shown_name(file))


def read_input(file: str) -> tuple[bytes, str]:
    """The bytes of a file or of standard input, and what to call them."""
    if file == "-":
        return read_standard_input(), tr("standard input")
    return read_file(Path(file)), shown_name(file)


def write_output(out: str, data: bytes) -> None:
    """To a file, or with "-" to standard output."""
    if out == "-":
        if sys.stdout.isatty():  # in its own letters
            sys.stdout.write(data.decode())
        else:
            sys.stdout.buffer.write(data)
        sys.stdout.flush()
    else:
        write_atomically(Path(out), data)


# Endings that say what is in a file; what has none of them may be called anything.
ENDINGS = (
    *(".txt", ".json", ".csv", ".musicxml", ".xml", ".mxl", ".abc", ".mid", ".midi", ".ics"),
    *(".wav", ".mp3", ".ogg", ".flac", ".pdf", ".svg", ".png", ".plectrum", ".sqlite"),
)


def add_output(
    parser: ArgumentParser, *, endings: Sequence[str], metavar: str, words: str, default: str | None
) -> None:
    """Where to, and whether what is there may be replaced.

    Args:
        endings: what it can write. default: None where it must be said.
    """

    def named(text: str) -> str:
        if not text.strip():
            raise ArgumentTypeError(tr("a file without a name"))
        return ending_checked(text, endings)

    parser.add_argument("-o", "--output", default=default, required=default is None, type=named,
                        metavar=metavar, help=words)  # fmt: skip
    parser.add_argument(
        "--force", action="store_true", help=tr("replace what is there; never what is read")
    )


def ending_checked(text: str, endings: Sequence[str]) -> str:
    """A name whose ending, if it says what is in the file, says what will be in it.

    Raises:
        ArgumentTypeError: it says something else.
    """
    ending = Path(text).suffix.lower()
    if endings and ending in ENDINGS and ending not in endings and not text.endswith("/"):
        raise ArgumentTypeError(
            say(
                "{name} ends in {ending}; what is written here ends in {list}",
                name=shown_name(text),
                ending=ending,
                list=", ".join(endings),
            )
        )
    return text


def bars_asked_for(document: Document, bars: str) -> tuple[int, int]:
    """Bar indices from the numbers printed in the score: "5-8", "5", "0-4" with the pickup.

    Raises:
        ChoiceError: not of that form, or no such bars.
    """
    first_text, dash, last_text = bars.replace("–", "-").partition("-")
    first = only_whole(first_text)
    last = only_whole(last_text) if dash else first
    if first is None or last is None:
        raise ChoiceError(say("{bars!r} names no bars", bars=bars), remedy=tr("Write 5 or 5-8"))
    found = [b.index for b in document.part.bars if first <= b.number <= last]
    numbers = [b.number for b in document.part.bars]
    if not found or first not in numbers or last not in numbers:
        raise ChoiceError(
            say("there are no bars {bars}", bars=bars),
            remedy=say(
                "The piece has bars {first} to {last}", first=min(numbers), last=max(numbers)
            ),
        )
    return found[0], found[-1]
