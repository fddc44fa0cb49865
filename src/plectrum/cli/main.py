"""The command line: `plectrum [FILE]` opens the window, `plectrum plan` works without one.

Only the module of the command that is called is loaded. To add a command write a module with
`add_options(parser)` and `run(arguments)`, and one row in `COMMANDS`.
"""

from __future__ import annotations

import argparse
import errno
import io
import os
import sys
from collections.abc import Sequence
from contextlib import nullcontext
from importlib import import_module
from typing import NoReturn

from plectrum import __version__
from plectrum.core.errors import PlectrumError
from plectrum.core.outputs import Outputs
from plectrum.core.plain_text import one_line
from plectrum.core.wording import say, tr

# Name to what it does; the module of the same name holds it.
COMMANDS = {
    "plan": tr("plan the bowing of a score and print it"),
    "shelf": tr("a line for every tune of a folder or book: key, tempo window, what to look at"),
    "sound": tr("write a WAV or MIDI file of a plan as it sounds"),
    "sensor": tr("play a plan as a tracked bow would, line by line"),
    "handout": tr("write the page for the student as a PDF file"),
    "parts": tr("write every player's page, the marked score and the plan of all parts"),
    "study": tr("write one step of practice of some bars as a score, with its bowing"),
    "exercise": tr("an exercise without a tune, as a page, a score or sound"),
    "routine": tr("exercises in their order, as a page, a calendar or sound"),
    "bowing": tr("learn your own bowing from plans that you have kept"),
    "demo": tr("open the window with the demo pieces"),
    "open": tr("open the window, with a file if one is named; the same as no command"),
}

# What is typed for the commonest wishes; every line is tried by the tests.
EXAMPLES = {
    "plan": (
        "plectrum plan tune.musicxml --player starter",
        "plectrum plan tune.abc --pin 3.1=up --place 5-8=upper-half --format json -o plan.json",
        "plectrum plan tune.mxl --format musicxml --division marks --signs joins -o out.musicxml",
        "plectrum plan tunes book.abc -o plans --format csv",
    ),
    "shelf": ("plectrum shelf tunes", "plectrum shelf book.abc --tune 12 --format json"),
    "sound": ("plectrum sound tune.musicxml --percent 70 -o slow.wav",
              "plectrum sound tune.musicxml --voice -o counted.wav"),
    "sensor": ("plectrum sensor tune.musicxml --at-once",),
    "handout": ("plectrum handout tune.musicxml -o page.pdf --for Wren",
                "plectrum handout tune.musicxml -o pages.pdf --player starter --player growing"),
    "parts": ("plectrum parts quartet.mxl -o evening --seat Viola=starter",
              "plectrum parts tune.abc -o class --student violin=starter --student cello=steady"),
    "study": ("plectrum study tune.musicxml --bars 5-8 --kind open-strings -o study.musicxml",),
    "exercise": ("plectrum exercise --list",
                 "plectrum exercise longest-bow --strings G,D -o page.pdf"),
    "routine": ("plectrum routine --list", "plectrum routine warm-up -o week.ics"),
    "bowing": ("plectrum bowing kept1.plectrum kept2.plectrum -o mine.json",),
    "demo": ("plectrum demo",),
    "open": ("plectrum tune.musicxml", "plectrum tunes"),
}  # fmt: skip
EXITS = tr(
    "exit: 0 all went well; 1 some of many tunes failed; 2 options or files that cannot be used"
)
# What the parser of the standard library says, by way of our catalogue.
PARSER_TEXTS = (
    "usage: ", "positional arguments", "options", "show this help message and exit",
    "the following arguments are required: %s", "unrecognized arguments: %s",
    "expected one argument", "expected at least one argument",
    "argument %(argument_name)s: %(message)s", "invalid %(type)s value: %(value)r",
    "invalid choice: %(value)r (choose from %(choices)s)", "not allowed with argument %s",
)  # fmt: skip
argparse._ = tr  # type: ignore[attr-defined]


class Parser(argparse.ArgumentParser):
    """Says what is wrong in one line."""

    def error(self, message: str) -> NoReturn:
        print(f"plectrum: {one_line(message, 1000)}", file=sys.stderr)
        sys.exit(2)


def _overview() -> str:
    width = max(map(len, COMMANDS))
    rows = "\n".join(f"  {name:<{width}}  {does}" for name, does in COMMANDS.items())
    return say(
        "usage: plectrum [FILE]\n       plectrum COMMAND …\n\nPlan bow direction and bow "
        "distribution for string teachers.\n\n{rows}\n\nplectrum COMMAND "
        "--help tells a command's options.\n",
        rows=rows,
    )


def _run(words: Sequence[str]) -> int:
    first = words[0] if words else ""
    if first in ("--help", "-h"):
        print(_overview(), end="")
        return 0
    if first == "--version":
        print(f"plectrum {__version__}")
        return 0
    name, rest = (first, words[1:]) if first in COMMANDS else ("open", words)
    module = import_module(f"plectrum.cli.{name}")
    parser = Parser(
        prog="plectrum" if name == "open" else f"plectrum {name}",
        description=f"{COMMANDS[name][0].upper()}{COMMANDS[name][1:]}.",
        epilog="\n  ".join([tr("examples:"), *EXAMPLES[name]]) + f"\n\n{EXITS}",
        formatter_class=argparse.RawDescriptionHelpFormatter,
        allow_abbrev=False,
    )
    module.add_options(parser)
    arguments = parser.parse_args(rest)
    force = getattr(arguments, "force", None)
    # A window asks by itself, and saves over what it has read.
    rule = nullcontext() if force is None else Outputs(replace=force).hold()
    with rule:
        done: int | None = module.run(arguments)
    return done or 0


def main() -> None:
    """Entry point. Exit 2 with one line on standard error for anything the user can mend."""
    for stream in (sys.stdout, sys.stderr):  # a terminal that knows fewer letters shows some as ?
        if isinstance(stream, io.TextIOWrapper):
            stream.reconfigure(errors="replace")
    try:
        ended = _run(sys.argv[1:])
        sys.stdout.flush()
    except PlectrumError as error:
        print(f"plectrum: {one_line(str(error), 1000)}", file=sys.stderr)
        sys.exit(2)
    except KeyboardInterrupt:
        sys.exit(130)
    except BrokenPipeError:
        sys.stderr.close()
        sys.exit(0)
    except Exception as trouble:
        sys.exit(_unforeseen(trouble))
    sys.exit(ended)


def _unforeseen(trouble: Exception) -> int:
    """One line for what nobody foresaw; the trace goes to the program's log file."""
    from plectrum.core.trouble_log import note_trouble, trouble_log_path

    note_trouble(trouble)
    if isinstance(trouble, OSError):  # what could not be written is not tried again at the end
        os.dup2(os.open(os.devnull, os.O_WRONLY), 1)
    full = isinstance(trouble, OSError) and trouble.errno == errno.ENOSPC
    what = (
        tr("the disk is full")
        if full
        else tr("something unexpected went wrong; no file was changed")
    )
    print(
        say(
            "plectrum: {what}. It is noted in {path}",
            what=what,
            path=trouble_log_path(),
        ),
        file=sys.stderr,
    )
    return 2
