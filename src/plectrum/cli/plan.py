"""`plectrum plan`: the bowing of a score, printed."""

from __future__ import annotations

from argparse import ArgumentParser, Namespace
from dataclasses import replace

from plectrum.cli.options import add_score_options, document_for, write_output
from plectrum.core.advice.rehearsal import to_settle
from plectrum.core.document.document import Document
from plectrum.core.errors import ChoiceError
from plectrum.core.files.exports import (
    plan_as_csv,
    plan_as_json,
    plan_as_musicxml,
    plan_as_text,
    score_as_json,
    score_as_musicxml,
)
from plectrum.core.planning.ensemble.documents import ensemble_of, parts_in_order, plan_of
from plectrum.core.planning.plan import Plan

FORMATS = ("text", "json", "csv", "musicxml")


def add_options(parser: ArgumentParser) -> None:
    add_score_options(parser)
    parser.add_argument("--format", choices=FORMATS, default="text", metavar="FORMAT",
                        help=" ".join(FORMATS))  # fmt: skip
    parser.add_argument("-o", "--output", default="-", metavar="OUT", help="- for standard output")

    parser.add_argument("--all", action="store_true", help="all string parts, planned as one")


def run(arguments: Namespace) -> None:
    document = document_for(arguments)
    if arguments.all:
        document = replace(document, together=not arguments.alone)
        write_output(arguments.output, _render_all(document, arguments.format))
    else:
        write_output(arguments.output, _render(document, plan_of(document), arguments.format))


def _render_all(document: Document, wanted: str) -> bytes:
    plans = parts_in_order(document)
    if wanted == "musicxml":
        return score_as_musicxml(document, plans)
    if wanted == "csv":
        raise ChoiceError("a table has one part", remedy="Leave out --all, or use json")
    ensemble = ensemble_of(document) if document.together and len(plans) > 1 else None
    if wanted == "json":
        return score_as_json(document, plans, ensemble).encode()
    texts = [plan_as_text(document, plan) for plan in plans]
    if ensemble is not None:
        lines = [f"! {p.where}: {p.text}" for p in to_settle(ensemble)]
        texts.append("\n".join([f"{ensemble.words}.", *lines]) + "\n")
    return "\n".join(texts).encode()


def _render(document: Document, plan: Plan, wanted: str) -> bytes:
    if wanted == "musicxml":
        return plan_as_musicxml(document, plan)
    if wanted == "json":
        return plan_as_json(document, plan).encode()
    if wanted == "csv":
        return plan_as_csv(plan).encode()
    return plan_as_text(document, plan).encode()
