"""Pages for scripts and commands: handouts of a tune, and what all players of a score need.

They are set by the toolkit of the window, without one; it is loaded here and nowhere else.
"""

from __future__ import annotations

import os
from collections.abc import Iterator, Sequence
from dataclasses import fields
from datetime import date
from pathlib import Path
from typing import Any

from pydantic import InstanceOf, TypeAdapter

from plectrum.core.document.document import Document
from plectrum.core.errors import ChoiceError
from plectrum.core.outputs import ending_of
from plectrum.core.practice.exercises.routine import Planned, Routine
from plectrum.core.practice.handout import HandoutOptions
from plectrum.core.wording import say, tr
from plectrum.interface.checking import Minutes, Tune, checked, refusing

PAGES = (".pdf", ".svg")
USUAL = HandoutOptions()


@checked
def handout(
    documents: Tune | Sequence[Tune],
    path: str | Path,
    options: InstanceOf[HandoutOptions] = USUAL,
    *,
    start: date | None = None,
    minutes_a_day: Minutes | None = None,
    **changes: Any,
) -> None:
    """Write the page for the student.

    Args:
        documents: a tune, or several of one score: other players, other parts.
        path: of a PDF, or an SVG file of each page.
        start: the first day; None for today.
        minutes_a_day: of practice; None as the document says.
        changes: of the options, such as large=True or made_for="Wren".

    Raises:
        PlectrumError: it cannot be engraved or written, or there is no such option.
    """
    several = [documents] if isinstance(documents, Document) else list(documents)
    if not several:
        raise ChoiceError(tr("there is nothing to write"), remedy=tr("Hand in a tune"))
    ending_of(path, PAGES)
    _without_screen()
    from plectrum.ui.handout.command import write_handout

    chosen = _changed(options, changes)
    write_handout(Path(path), several, chosen, start or date.today(), minutes_a_day)


@checked
def parts(
    document: Tune,
    folder: str | Path,
    options: InstanceOf[HandoutOptions] = USUAL,
    *,
    start: date | None = None,
    one_file: bool = False,
    **changes: Any,
) -> Iterator[str]:
    """Write what all players of a score need into a folder: pages, the bowed score, one plan.

    Args:
        one_file: all pages in one PDF.
        changes: of the options.

    Yields:
        A line for each file that has been written, and what is to be settled between the parts.

    Raises:
        PlectrumError: something cannot be engraved or written, or there is no such option.
    """
    _without_screen()
    from plectrum.ui.handout.all_parts import write_parts

    chosen, day = _changed(options, changes), start or date.today()
    return write_parts(document, Path(folder), chosen, day, one_file=one_file)


def routine_page(
    path: Path,
    routine: Routine,
    items: Sequence[Planned],
    start: date | None = None,
    made_for: str = "",
) -> None:
    """Write the page of a routine.

    Raises:
        PlectrumError: it cannot be written.
    """
    _without_screen()
    from plectrum.ui.handout.routine_page import write_routine

    days = routine.days(start or date.today())
    write_routine(path, routine, items, days, HandoutOptions(made_for=made_for))


def _changed(options: HandoutOptions, changes: dict[str, Any]) -> HandoutOptions:
    known = [field.name for field in fields(HandoutOptions)]
    for name in changes:
        if name not in known:
            raise ChoiceError(
                say("a page has no option {names}", names=name),
                remedy=say("There are {names}", names=", ".join(known)),
            )
    values = {name: getattr(options, name) for name in known} | changes
    with refusing("handout"):
        return TypeAdapter(HandoutOptions).validate_python(values)


def _without_screen() -> None:
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
