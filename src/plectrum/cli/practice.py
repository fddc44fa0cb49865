"""Commands for practice: the handout as a PDF, a study as MusicXML."""

from __future__ import annotations

import os
from collections.abc import Mapping
from datetime import date
from pathlib import Path
from typing import Annotated, Any

import typer

from plectrum.cli.options import (
    AmountOption,
    CrossingOption,
    DirectionOption,
    DottedOption,
    DynamicsOption,
    FileArg,
    FourthOption,
    InstrumentOption,
    PartOption,
    PinOption,
    PlayerOption,
    SourceOption,
    TempoOption,
    Wanted,
    bars_asked_for,
    document_for,
    write_output,
)
from plectrum.core.document.homework import LEAST_MINUTES, MOST_MINUTES
from plectrum.core.errors import ChoiceError
from plectrum.core.files.exports import plan_as_musicxml
from plectrum.core.planning.plan import plan_of
from plectrum.core.playing.practice_tempo import FASTEST_RATIO, SLOWEST_RATIO
from plectrum.core.practice.handout import HandoutOptions, Paper, Picture, Words
from plectrum.core.practice.studies import StudyKind, make_study

PICTURES = {"bows": Picture.BOWS, "path": Picture.PATH, "both": Picture.BOTH, "none": Picture.NONE}
WORDS = {"tricky": Words.TRICKY, "all": Words.ALL, "none": Words.NONE}


def handout(
    file: FileArg,
    output: Annotated[Path, typer.Option("-o", "--output", metavar="OUT.pdf")],
    part: PartOption = None,
    instrument: InstrumentOption = None,
    player: Annotated[
        list[str] | None,
        typer.Option(help="A stage or a player's JSON file; several make a page each"),
    ] = None,
    direction: DirectionOption = None,
    amount: AmountOption = None,
    dotted: DottedOption = None,
    dynamics: DynamicsOption = None,
    crossing: CrossingOption = None,
    fourth: FourthOption = None,
    tempo: TempoOption = None,
    pin: PinOption = None,
    source: SourceOption = None,
    paper: Annotated[Paper, typer.Option(help="Paper size")] = Paper.A4,
    large: Annotated[bool, typer.Option("--large", help="Large print")] = False,
    picture: Annotated[str, typer.Option(help="bows, path, both or none")] = "bows",
    words: Annotated[str, typer.Option(help="Bars in words: tricky, all or none")] = "tricky",
    watch: Annotated[bool, typer.Option(help="The box of what to watch")] = True,
    steps: Annotated[bool, typer.Option(help="The week's steps with boxes to tick")] = True,
    teacher: Annotated[bool, typer.Option("--teacher", help="The copy with numbers")] = False,
    made_for: Annotated[str, typer.Option("--for", help="Whom it is for")] = "",
    made_by: Annotated[str, typer.Option("--by", help="The teacher or school")] = "",
    minutes: Annotated[
        int | None, typer.Option(min=LEAST_MINUTES, max=MOST_MINUTES, help="Practice a day")
    ] = None,
    start: Annotated[str, typer.Option(help="First day, such as 2027-01-11")] = "",
) -> None:
    """Write the page for the student as a PDF file."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from plectrum.ui.handout.command import write_handout

    options = HandoutOptions(
        paper, large, _choice(PICTURES, picture), _choice(WORDS, words), watch, steps, teacher,
        made_for, made_by,
    )  # fmt: skip
    documents = []
    names: list[str | None] = [*player] if player else [None]
    for name in names:
        wanted = Wanted(
            part, instrument, name, direction, amount, dotted, dynamics, crossing, fourth, tempo,
            tuple(pin or ()), source,
        )  # fmt: skip
        documents.append(document_for(file, wanted))
    write_handout(output, documents, options, _day(start), minutes)


def _choice(known: Mapping[str, Any], word: str) -> Any:
    if word not in known:
        raise ChoiceError(f"{word!r} is not known", remedy=f"Use {', '.join(known)}")
    return known[word]


def _day(text: str) -> date:
    try:
        return date.fromisoformat(text) if text else date.today()
    except ValueError as error:
        raise ChoiceError(f"{text!r} is not a day", remedy="Write it as 2027-01-11") from error


def study(
    file: FileArg,
    bars: Annotated[str, typer.Option(metavar="FIRST-LAST", help="Bar numbers, such as 5-8")],
    kind: Annotated[StudyKind, typer.Option(help="What is made of them")],
    output: Annotated[str, typer.Option("-o", "--output", metavar="OUT.musicxml")] = "-",
    percent: Annotated[
        float,
        typer.Option(min=100 * SLOWEST_RATIO, max=100 * FASTEST_RATIO, help="Of the tempo"),
    ] = 100.0,
    part: PartOption = None,
    instrument: InstrumentOption = None,
    player: PlayerOption = None,
    direction: DirectionOption = None,
    amount: AmountOption = None,
    dotted: DottedOption = None,
    dynamics: DynamicsOption = None,
    crossing: CrossingOption = None,
    fourth: FourthOption = None,
    tempo: TempoOption = None,
    pin: PinOption = None,
    source: SourceOption = None,
) -> None:
    """Write one step of practice of some bars as a score, with its bowing."""
    wanted = Wanted(
        part, instrument, player, direction, amount, dotted, dynamics, crossing, fourth, tempo,
        tuple(pin or ()), source,
    )  # fmt: skip
    document = document_for(file, wanted)
    first, last = bars_asked_for(document, bars)
    made = make_study(document, plan_of(document), kind, first, last, percent / 100).document
    write_output(output, plan_as_musicxml(made, plan_of(made)))
