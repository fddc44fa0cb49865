"""`plectrum study`: one step of practice as a score."""

from __future__ import annotations

from argparse import ArgumentParser, Namespace

from plectrum.cli.options import (
    add_output,
    add_score_options,
    bars_asked_for,
    document_for,
    one_of,
    write_output,
)
from plectrum.cli.playing import add_percent
from plectrum.core.document.sections import notes_in_bars
from plectrum.core.errors import ChoiceError
from plectrum.core.files.exports import plan_as_musicxml
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.practice.studies import make_study
from plectrum.core.practice.study_kinds import StudyKind
from plectrum.core.wording import say, tr


def add_options(parser: ArgumentParser) -> None:
    add_score_options(parser)
    add_percent(parser)
    parser.add_argument(
        "--bars", required=True, metavar="FIRST-LAST", help=tr("bar numbers, such as 5-8")
    )
    parser.add_argument(
        "--kind", required=True, type=one_of(StudyKind), metavar="KIND",
        help=tr("what is made of them: ") + ", ".join(StudyKind),
    )  # fmt: skip
    add_output(
        parser,
        endings=(".musicxml", ".xml"),
        metavar="OUT",
        words=tr("- for standard output"),
        default="-",
    )


def run(arguments: Namespace) -> None:
    document = document_for(arguments)
    first, last = bars_asked_for(document, arguments.bars)
    ratio = arguments.percent / 100
    notes = notes_in_bars(document.part, first, last)
    if notes is None:
        raise ChoiceError(
            say("bars {bars} have no notes", bars=arguments.bars), remedy=tr("Choose other bars")
        )
    made = make_study(document, plan_of(document), arguments.kind, *notes, ratio).document
    write_output(arguments.output, plan_as_musicxml(made, plan_of(made)))
