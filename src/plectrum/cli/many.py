"""Many tunes in one call: each done for itself, in as many processes as are wanted; what fails is
said and stops nothing else."""

from __future__ import annotations

import os
import sys
from argparse import ArgumentParser
from collections.abc import Callable, Iterator, Sequence
from functools import partial
from pathlib import Path

from plectrum.cli.options import between
from plectrum.core.errors import ChoiceError, PlectrumError
from plectrum.core.files.shelf import ALL_TUNES, ShelfTune
from plectrum.core.incoming.border import border
from plectrum.core.plain_text import one_line, shown_path
from plectrum.core.wording import say, several, tr
from plectrum.core.wording.system import reason_of

MOST_JOBS = 64
WORTH_A_PROCESS_N = 12  # own default: tunes that take about as long as a process to start

Done = tuple[bool, str]  # whether it was done, and what is said


def add_jobs(parser: ArgumentParser) -> None:
    parser.add_argument(
        "--jobs",
        type=between(int, 1, MOST_JOBS),
        metavar="N",
        help=tr("of many tunes, how many at once; as many as the machine has cores"),
    )


def wants_many(files: Sequence[str], tune: str | None, out: str) -> bool:
    """Whether a call is for many tunes: several files, a folder, a whole book, or into a folder."""
    into_folder = out.endswith(os.sep) or (out != "-" and os.path.isdir(out))
    many = len(files) > 1 or tune == ALL_TUNES or os.path.isdir(files[0])
    return many or (into_folder and files[0] != "-")


def made_folder(out: str) -> Path:
    """The folder that is written into, made where it is missing.

    Raises:
        ChoiceError: none is named, or it cannot be made.
    """
    if out == "-":
        raise ChoiceError(
            tr("many tunes need a folder to be written into"), remedy=tr("Give -o FOLDER")
        )
    folder = Path(out)
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        reason = reason_of(error)
        raise ChoiceError(
            say(
                "{path}: the folder cannot be made ({reason})",
                path=shown_path(folder),
                reason=reason,
            ),
            remedy=tr("Name another"),
        ) from error
    return folder


def for_each(tunes: Sequence[ShelfTune], work: Callable[[ShelfTune], str], jobs: int | None) -> int:
    """Do something for every tune, and say a line for each: what was done on standard output,
    what could not be on standard error, and a line for all.

    Returns:
        The exit code: 1 where some failed.
    """
    failed = 0
    for good, line in each_of(tunes, work, jobs):
        failed += not good
        print(line if good else f"plectrum: {line}", file=sys.stdout if good else sys.stderr)
        sys.stdout.flush()
    good_n = len(tunes) - failed
    count = several("{n} tune planned", "{n} tunes planned", good_n)
    print(say("{count}, {failed} failed.", count=count, failed=failed) if failed else f"{count}.")
    return 1 if failed else 0


def each_of(
    tunes: Sequence[ShelfTune], work: Callable[[ShelfTune], str], jobs: int | None
) -> Iterator[Done]:
    """What comes of every tune, in their order.

    Args:
        work: what is done for one; picklable.

    Raises:
        PlectrumError: a process that worked was ended from outside.
    """
    most = jobs or min(os.cpu_count() or 1, 1 + len(tunes) // WORTH_A_PROCESS_N)
    one = partial(_one, work)
    if min(most, len(tunes)) < 2:
        yield from map(one, tunes)
        return
    from plectrum.cli.processes import in_processes  # loaded for many alone

    yield from in_processes(one, tunes, most)


def _one(work: Callable[[ShelfTune], str], tune: ShelfTune) -> Done:
    try:
        with border(tune.words):
            return True, work(tune)
    except PlectrumError as error:
        said = str(error)
        return False, one_line(said if tune.words in said else f"{tune.words}: {said}", 1000)
