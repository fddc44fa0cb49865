"""`plectrum routine`: exercises in their order, as a page, a calendar, or sound."""

from __future__ import annotations

import os
from argparse import ArgumentParser, BooleanOptionalAction, Namespace
from datetime import date
from pathlib import Path

from plectrum.cli.options import add_output, add_who, between, choices_asked_for, write_output
from plectrum.core.document.choices import Choices
from plectrum.core.errors import ChoiceError
from plectrum.core.incoming.days import day
from plectrum.core.incoming.files import read_file
from plectrum.core.instrument.specification import instrument_names
from plectrum.core.plain_text import one_line
from plectrum.core.practice.exercises.routine import (
    Planned,
    Routine,
    planned_items,
    routine_bytes,
    routine_from_bytes,
    routine_named,
    shipped_routines,
)
from plectrum.core.practice.routine_days import routine_days
from plectrum.core.wording import say, tr


def add_options(parser: ArgumentParser) -> None:
    parser.add_argument(
        "name", nargs="?", metavar="NAME", help=tr("of the list, or a file FILE.json")
    )
    parser.add_argument("--list", action="store_true", help=tr("a line each"))
    add_who(parser)
    parser.add_argument("--day", type=between(int, 1, 400), default=1, help=tr("of practice"))
    parser.add_argument("--start", default="", help=tr("first day, such as 2027-01-11"))
    parser.add_argument("--for", dest="made_for", default="", help=tr("whom the page is for"))
    parser.add_argument(
        "--voice", action=BooleanOptionalAction, default=True, help=tr("counts and words aloud")
    )
    endings = ".pdf .svg .ics .wav .json"
    add_output(
        parser,
        endings=endings.split(),
        metavar="OUT",
        words=say("{endings}, or - for a description", endings=endings),
        default="-",
    )


def run(arguments: Namespace) -> None:
    if arguments.list or arguments.name is None:
        for row in shipped_routines().values():
            print(
                say(
                    "{key:<16} {title}, {minutes} min: {what}",
                    key=row.key,
                    title=row.title,
                    minutes=row.minutes,
                    what=row.what,
                )
            )
        return
    routine = routine_asked_for(arguments.name)
    choices = choices_asked_for(arguments, arguments.instrument or instrument_names()[0])
    items = planned_items(routine, choices, arguments.day)
    start = day(arguments.start) if arguments.start else date.today()
    if start is None:
        shown = one_line(arguments.start, 40)
        raise ChoiceError(
            say("{shown!r} is not a day", shown=shown), remedy=tr("Write it as 2027-01-11")
        )
    _write(arguments, routine, choices, items, start)


def routine_asked_for(name: str) -> Routine:
    """A shipped routine by its name, or one of the user's own in a file."""
    if not name.lower().endswith(".json"):
        return routine_named(name)
    path = Path(name)
    return routine_from_bytes(read_file(path), path.name)


def _write(
    arguments: Namespace, routine: Routine, choices: Choices, items: list[Planned], start: date
) -> None:
    output = Path(arguments.output)
    suffix = output.suffix.lower()
    if arguments.output == "-":
        write_output("-", _described(routine, items).encode())
    elif suffix == ".json":
        write_output(arguments.output, routine_bytes(routine))
    elif suffix == ".ics":
        from plectrum.core.files.ics import days_as_ics

        days = routine_days(items, routine.days(start))
        who = (arguments.made_for,) if arguments.made_for else ()
        write_output(arguments.output, days_as_ics(days, routine.title, who))
    elif suffix in (".pdf", ".svg"):
        os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
        from plectrum.core.practice.handout import HandoutOptions
        from plectrum.ui.handout.routine_page import write_routine

        options = HandoutOptions(made_for=arguments.made_for)
        write_routine(output, routine, items, choices, routine.days(start), options)
    elif suffix == ".wav":
        from plectrum.core.practice.exercises.sound import RoutineSound
        from plectrum.core.sound.wav import write_wav

        made = [planned.made for planned in items]
        write_wav(output, RoutineSound(made, choices, voice=arguments.voice).blocks())
    else:
        raise ChoiceError(say("{name!r} has no ending known here", name=one_line(output.name, 40)),
                          remedy=tr("Use .pdf, .svg, .ics, .wav or .json"))  # fmt: skip


def _described(routine: Routine, items: list[Planned]) -> str:
    lines = [
        say(
            "{title}, {minutes} min a day, {days_a_week} days a week",
            title=routine.title,
            minutes=routine.minutes,
            days_a_week=routine.days_a_week,
        ),
        routine.what,
        "",
    ]
    for number, planned in enumerate(items, start=1):
        made = planned.made
        lines.append(
            f"{number}. {made.title}, " + say("{minutes} min", minutes=planned.item.minutes)
        )
        lines += [f"   {made.what}", say("   Good when: {good}.", good=made.good)]
    return "\n".join(lines) + "\n"
