"""`plectrum parts`: every player's page, the marked score and one plan of all parts."""

from __future__ import annotations

from argparse import ArgumentParser, Namespace
from dataclasses import replace

from plectrum.cli.options import add_output, add_score_options, document_for
from plectrum.core.document.document import Document
from plectrum.core.document.seats import Seat
from plectrum.core.errors import ChoiceError
from plectrum.core.instrument.bow import Bow
from plectrum.core.instrument.specification import instrument_names
from plectrum.core.plain_text import one_line
from plectrum.core.player.named import player_named
from plectrum.core.practice.class_tune import Student, class_document
from plectrum.core.practice.easier import Easier, easier_part
from plectrum.core.practice.exercises.routine import routine_bytes
from plectrum.core.practice.handout import HandoutOptions, Paper
from plectrum.core.wording import say, tr
from plectrum.interface.pages import parts
from plectrum.interface.practice import routine_asked_for


def add_options(parser: ArgumentParser) -> None:
    add_score_options(parser)
    add_output(parser, endings=(), metavar="FOLDER", words="", default=None)
    parser.add_argument(
        "--seat", action="append", default=[], metavar="PART=WHO",
        help=tr("who plays a part; may be given for each"),
    )  # fmt: skip
    parser.add_argument(
        "--student", action="append", default=[], metavar="INSTRUMENT=WHO",
        help=tr("a class on the part: a part for each student, moved into his range"),
    )  # fmt: skip
    parser.add_argument(
        "--easier",
        choices=("open", "fewer"),
        help=tr("add an easier version of the part, for --player"),
    )
    parser.add_argument(
        "--routine", metavar="NAME|FILE.json", help=tr("a routine for all, on every player's pages")
    )
    parser.add_argument("--one-file", action="store_true", help=tr("all pages in one PDF file"))
    papers = [str(paper) for paper in Paper]
    parser.add_argument("--paper", choices=papers, default=str(Paper.A4), help=tr("paper size"))
    parser.add_argument("--large", action="store_true", help=tr("large print"))


def run(arguments: Namespace) -> None:
    document = replace(document_for(arguments), together=not arguments.alone)
    if arguments.student:
        document = class_document(document, [_student(text) for text in arguments.student])
    for text in arguments.seat:
        document = _seated(document, text)
    if arguments.easier is not None:
        kind = Easier.OPEN if arguments.easier == "open" else Easier.FEWER
        proposal = easier_part(document, document.seat_of(document.part_id), kind)
        print(f"{proposal.document.part.name}: {proposal.words}")
        document = proposal.document
    if arguments.routine is not None:
        text = routine_bytes(routine_asked_for(arguments.routine)).decode()
        document = document.with_homework(replace(document.homework, routine=text))
    options = HandoutOptions(Paper(arguments.paper), arguments.large)
    for line in parts(document, arguments.output, options, one_file=arguments.one_file):
        print(line, flush=True)


def _student(text: str) -> Student:
    name, equals, who = text.partition("=")
    if name not in instrument_names() or not equals:
        raise ChoiceError(
            say("{text!r} is no student", text=one_line(text, 40)),
            remedy=tr("Write INSTRUMENT=WHO, such as cello=starter"),
        )
    player = player_named(who)
    return Student(player.title, Seat(player, Bow.sized(name)))


def _seated(document: Document, text: str) -> Document:
    name, equals, who = text.partition("=")
    if not equals:
        raise ChoiceError(
            say("{text!r} is no seat", text=one_line(text, 40)),
            remedy=tr("Write PART=WHO, such as Viola=starter"),
        )
    info = document.score.part_named(name)
    seat = document.seat_of(info.id)
    return document.with_seat(info.id, replace(seat, player=player_named(who)))
