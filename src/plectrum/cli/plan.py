"""`plectrum plan`: the bowing of a score, printed."""

from __future__ import annotations

from argparse import ArgumentParser, Namespace

from plectrum.cli.options import add_score_options, document_for, write_output
from plectrum.core.document.document import Document
from plectrum.core.files.exports import plan_as_csv, plan_as_json, plan_as_musicxml, plan_as_text
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.planning.plan import Plan

FORMATS = ("text", "json", "csv", "musicxml")


def add_options(parser: ArgumentParser) -> None:
    add_score_options(parser)
    parser.add_argument("--format", choices=FORMATS, default="text", metavar="FORMAT",
                        help=" ".join(FORMATS))  # fmt: skip
    parser.add_argument("-o", "--output", default="-", metavar="OUT", help="- for standard output")


def run(arguments: Namespace) -> None:
    document = document_for(arguments)
    write_output(arguments.output, _render(document, plan_of(document), arguments.format))


def _render(document: Document, plan: Plan, wanted: str) -> bytes:
    if wanted == "musicxml":
        return plan_as_musicxml(document, plan)
    if wanted == "json":
        return plan_as_json(document, plan).encode()
    if wanted == "csv":
        return plan_as_csv(plan).encode()
    return plan_as_text(document, plan).encode()
