"""`plectrum handout`: the page for the student."""

from __future__ import annotations

import os
from argparse import ArgumentParser, BooleanOptionalAction, Namespace
from datetime import date
from pathlib import Path

from plectrum.cli.options import add_output, add_score_options, between, document_for
from plectrum.core.document.homework import LEAST_MINUTES, MOST_MINUTES
from plectrum.core.errors import ChoiceError
from plectrum.core.incoming.days import day
from plectrum.core.plain_text import one_line
from plectrum.core.practice.handout import HandoutOptions, Paper, Picture, Words
from plectrum.core.wording import say, tr

PICTURES = {"bows": Picture.BOWS, "path": Picture.PATH, "both": Picture.BOTH, "none": Picture.NONE}
WORDS = {"tricky": Words.TRICKY, "all": Words.ALL, "none": Words.NONE}


def add_options(parser: ArgumentParser) -> None:
    add_score_options(parser, several_players=True)
    add_output(parser, endings=(".pdf", ".svg"), metavar="OUT.pdf", words="", default=None)
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
    parser.add_argument("--start", default="", help=tr("first day, such as 2027-01-11"))


def run(arguments: Namespace) -> None:
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from plectrum.ui.handout.command import write_handout

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
    write_handout(
        Path(arguments.output), documents, options, _day(arguments.start), arguments.minutes
    )


def _day(text: str) -> date:
    found = day(text) if text else date.today()
    if found is None:
        shown = one_line(text, 40)
        raise ChoiceError(
            say("{shown!r} is not a day", shown=shown), remedy=tr("Write it as 2027-01-11")
        )
    return found
