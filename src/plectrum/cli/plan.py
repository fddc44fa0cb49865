"""`plectrum plan`: the bowing of a score, printed; of many, each in a file of its own."""

from __future__ import annotations

from argparse import ArgumentParser, ArgumentTypeError, Namespace
from dataclasses import replace
from functools import partial
from pathlib import Path

from plectrum.cli.many import add_jobs, for_each, made_folder, wants_many
from plectrum.cli.options import (
    add_marking,
    add_output,
    add_score_options,
    document_for,
    document_from,
    ending_checked,
    marking_from,
    write_output,
)
from plectrum.core.advice.rehearsal import to_settle
from plectrum.core.atomic import write_atomically
from plectrum.core.document.document import Document
from plectrum.core.errors import ChoiceError
from plectrum.core.files.exports import (
    PLAN_FORMATS,
    plan_as_csv,
    plan_as_json,
    plan_as_musicxml,
    plan_as_text,
    score_as_json,
    score_as_musicxml,
)
from plectrum.core.files.shelf import ShelfTune, tunes_on
from plectrum.core.outputs import note_all_read
from plectrum.core.planning.ensemble.documents import ensemble_of, parts_in_order, plan_of
from plectrum.core.planning.plan import Plan
from plectrum.core.wording import say, tr


def add_options(parser: ArgumentParser) -> None:
    add_score_options(parser, several_files=True)
    parser.add_argument("--format", choices=tuple(PLAN_FORMATS), default="text", metavar="FORMAT",
                        help=" ".join(PLAN_FORMATS))  # fmt: skip
    add_output(
        parser,
        endings=(*PLAN_FORMATS.values(), ".xml"),
        metavar="OUT",
        words=tr("a file, - for standard output, or a folder for many"),
        default="-",
    )
    add_marking(parser)
    add_jobs(parser)
    parser.add_argument("--all", action="store_true", help=tr("all string parts, planned as one"))


def run(arguments: Namespace) -> int:
    if wants_many(arguments.files, arguments.tune, arguments.output):
        return _run_many(arguments)
    arguments.file = arguments.files[0]
    if arguments.output != "-":
        _refuse_ending(arguments.output, arguments.format)
    write_output(arguments.output, _written(document_for(arguments), arguments))
    return 0


def _refuse_ending(output: str, wanted: str) -> None:
    try:
        ending_checked(output, (PLAN_FORMATS[wanted], *((".xml",) if wanted == "musicxml" else ())))
    except ArgumentTypeError as error:
        raise ChoiceError(str(error), remedy=tr("Name another, or choose --format")) from error


def _run_many(arguments: Namespace) -> int:
    """A file in the folder for every tune."""
    folder = made_folder(arguments.output)
    tunes = tunes_on([Path(file) for file in arguments.files], arguments.tune)
    if not tunes:
        raise ChoiceError(say("there is no tune {tune} in these books", tune=arguments.tune))
    note_all_read(tune.path for tune in tunes)  # also those that another process reads
    return for_each(tunes, partial(_write_one, arguments, folder), arguments.jobs)


def _write_one(arguments: Namespace, folder: Path, tune: ShelfTune) -> str:
    data, name, source = tune.read()
    document = document_from(data, name, arguments, source)
    path = folder / (tune.stem + PLAN_FORMATS[arguments.format])
    write_atomically(path, _written(document, arguments))
    return say(
        "{name}: {title}, {bars_n} bars",
        name=path.name,
        title=document.title,
        bars_n=document.part.bars_n,
    )


def _written(document: Document, arguments: Namespace) -> bytes:
    if arguments.all:
        document = replace(document, together=not arguments.alone)
        return _render_all(document, arguments)
    return _render(document, plan_of(document), arguments)


def _render_all(document: Document, arguments: Namespace) -> bytes:
    wanted = arguments.format
    plans = parts_in_order(document)
    if wanted == "musicxml":
        return score_as_musicxml(document, plans, marking_from(arguments))
    if wanted == "csv":
        raise ChoiceError(tr("a table has one part"), remedy=tr("Leave out --all, or use json"))
    ensemble = ensemble_of(document) if document.together and len(plans) > 1 else None
    if wanted == "json":
        return score_as_json(document, plans, ensemble).encode()
    texts = [plan_as_text(document, plan) for plan in plans]
    if ensemble is not None:
        lines = [f"! {p.where}: {p.text}" for p in to_settle(ensemble)]
        texts.append("\n".join([f"{ensemble.words}.", *lines]) + "\n")
    return "\n".join(texts).encode()


def _render(document: Document, plan: Plan, arguments: Namespace) -> bytes:
    wanted = arguments.format
    if wanted == "musicxml":
        return plan_as_musicxml(document, plan, marking_from(arguments))
    if wanted == "json":
        return plan_as_json(document, plan).encode()
    if wanted == "csv":
        return plan_as_csv(plan).encode()
    return plan_as_text(document, plan).encode()
