"""`plectrum handout`: the page for the student."""

from __future__ import annotations

from argparse import ArgumentParser, BooleanOptionalAction, Namespace
from dataclasses import replace

from plectrum.cli.options import (
    add_output,
    add_score_options,
    add_start,
    between,
    document_for,
)
from plectrum.core.document.document import Document
from plectrum.core.document.homework import LEAST_MINUTES, MOST_MINUTES
from plectrum.core.practice.handout import HandoutOptions, Paper, Picture, Words
from plectrum.core.wording import tr
from plectrum.interface.pages import PAGES, handout

PICTURES = {"bows": Picture.BOWS, "path": Picture.PATH, "both": Picture.BOTH, "none": Picture.NONE}
WORDS = {"tricky": Words.TRICKY, "all": Words.ALL, "none": Words.NONE}


def add_options(parser: ArgumentParser) -> None:
    add_score_options(parser, several_players=True)
    add_output(parser, endings=PAGES, metavar="OUT.pdf", words="", default=None)
    papers = [str(paper) for paper in Paper]
    parser.add_argument("--paper", choices=papers, default=str(Paper.A4), help=tr("paper size"))
    parser.add_argument("--large", action="store_true", help=tr("large print"))
    parser.add_argument("--picture", choices=PICTURES, default="bows", help=tr("of each stroke"))
    parser.add_argument("--words", choices=WORDS, default="tricky", help=tr("bars in words"))
    for name, what in (
        ("watch", tr("the box of what to watch")),
        ("steps", tr("the week's steps with boxes to tick")),
    ):
        parser.add_argument(f"--{name}", action=BooleanOptionalAction, default=True, help=what)
    parser.add_argument("--teacher", action="store_true", help=tr("the copy with numbers"))
    parser.add_argument("--for", dest="made_for", default="", help=tr("whom it is for"))
    parser.add_argument("--by", dest="made_by", default="", help=tr("the teacher or school"))
    parser.add_argument(
        "--minutes", type=between(int, LEAST_MINUTES, MOST_MINUTES), help=tr("practice a day")
    )
    add_start(parser)
    parser.add_argument("--all", action="store_true", help=tr("all string parts, planned as one"))


def run(arguments: Namespace) -> None:
    options = HandoutOptions(
        Paper(arguments.paper),
        arguments.large,
        PICTURES[arguments.picture],
        WORDS[arguments.words],
        arguments.watch,
        arguments.steps,
        arguments.teacher,
        arguments.made_for,
        arguments.made_by,
    )
    players = arguments.player or [None]
    arguments.player = None
    documents = [document_for(arguments, player) for player in players]
    if arguments.all:
        documents = [own for document in documents for own in _parts_of(document, arguments.alone)]
    handout(
        documents,
        arguments.output,
        options,
        start=arguments.start,
        minutes_a_day=arguments.minutes,
    )


def _parts_of(document: Document, alone: bool) -> list[Document]:
    """All string parts, planned as one unless each is alone."""
    whole = replace(document, together=not alone)
    return [whole.with_part(part.id) for part in whole.string_parts]
