"""`plectrum routine`: exercises in their order, as a page, a calendar, or sound."""

from __future__ import annotations

from argparse import ArgumentParser, BooleanOptionalAction, Namespace

from plectrum.cli.options import add_output, add_start, add_who, between, write_output
from plectrum.core.practice.exercises.routine import shipped_routines
from plectrum.core.wording import say, tr
from plectrum.interface.checking import MOST_DAYS
from plectrum.interface.practice import (
    ROUTINE_ENDINGS,
    PlannedRoutine,
    routine,
    write_routine,
)


def add_options(parser: ArgumentParser) -> None:
    parser.add_argument(
        "name", nargs="?", metavar="NAME", help=tr("of the list, or a file FILE.json")
    )
    parser.add_argument("--list", action="store_true", help=tr("a line each"))
    add_who(parser)
    parser.add_argument("--day", type=between(int, 1, MOST_DAYS), default=1, help=tr("of practice"))
    add_start(parser)
    parser.add_argument("--for", dest="made_for", default="", help=tr("whom the page is for"))
    parser.add_argument(
        "--voice", action=BooleanOptionalAction, default=True, help=tr("counts and words aloud")
    )
    add_output(
        parser,
        endings=ROUTINE_ENDINGS,
        metavar="OUT",
        words=say("{endings}, or - for a description", endings=" ".join(ROUTINE_ENDINGS)),
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
    planned = routine(
        arguments.name,
        instrument=arguments.instrument,
        player=arguments.player,
        size=arguments.size,
        day=arguments.day,
    )
    if arguments.output == "-":
        write_output("-", _described(planned).encode())
    else:
        write_routine(
            planned,
            arguments.output,
            start=arguments.start,
            made_for=arguments.made_for,
            voice=arguments.voice,
        )


def _described(planned: PlannedRoutine) -> str:
    routine = planned.routine
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
    for number, one in enumerate(planned.items, start=1):
        made = one.made
        lines.append(f"{number}. {made.title}, " + say("{minutes} min", minutes=one.item.minutes))
        lines += [f"   {made.what}", say("   Good when: {good}.", good=made.good)]
    return "\n".join(lines) + "\n"
