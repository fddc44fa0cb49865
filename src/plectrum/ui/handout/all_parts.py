"""Everything the players of a score need, written into a folder: pages, marked score, plan."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from datetime import date
from pathlib import Path
from typing import NamedTuple

from PySide6.QtGui import QGuiApplication

from plectrum.core.advice.rehearsal import to_settle
from plectrum.core.atomic import write_atomically
from plectrum.core.document.document import Document
from plectrum.core.errors import PlectrumError
from plectrum.core.files.exports import score_as_musicxml
from plectrum.core.files.planfile import save_document
from plectrum.core.outputs import refuse_outputs
from plectrum.core.plain_text import MOST_NAME, file_name
from plectrum.core.planning.ensemble.documents import ensemble_of, parts_in_order
from plectrum.core.planning.plan import Plan
from plectrum.core.practice.exercises.routine import planned_items, routine_from_bytes
from plectrum.core.practice.handout import HandoutOptions, handout_of
from plectrum.core.wording import say, several, tr
from plectrum.core.wording.system import reason_of
from plectrum.ui.handout.engrave import engrave
from plectrum.ui.handout.output import pdf_bytes
from plectrum.ui.handout.pages import Page, Sheet, compose
from plectrum.ui.handout.routine_page import routine_pages
from plectrum.ui.look import theme

NAMELESS = "part"


class PartFiles(NamedTuple):
    """What is written for the players of a score, by part id; pages of all have the id ""."""

    names: Mapping[str, str]
    pages: Mapping[str, Path]
    score: Path
    plan: Path

    @classmethod
    def of(cls, document: Document, folder: Path, *, one_file: bool) -> PartFiles:
        title = file_name(document.title, NAMELESS)
        names = _names(document)
        called = {"": tr("all parts")} if one_file else names
        pages = {
            part: folder
            / say("{title}, {file_name}.pdf", title=title, file_name=file_name(name, NAMELESS))
            for part, name in called.items()
        }
        return cls(names, pages, folder / f"{title} bowed.musicxml", folder / f"{title}.plectrum")

    @property
    def all(self) -> tuple[Path, ...]:
        return *self.pages.values(), self.score, self.plan


def write_parts(
    document: Document,
    folder: Path,
    options: HandoutOptions,
    today: date,
    *,
    one_file: bool = False,
) -> Iterator[str]:
    """Write a PDF file for every part (or one for all), the score with all bows in MusicXML, and
    a plan file of all parts; what was done is said line by line.

    Raises:
        PlectrumError: something cannot be engraved or written.
    """
    app = QGuiApplication.instance() or QGuiApplication([])
    theme.load_fonts()
    _make(folder)
    files = PartFiles.of(document, folder, one_file=one_file)
    refuse_outputs(*files.all)
    all_pages: list[Page] = []
    plans = parts_in_order(document)  # once for all, not anew for each part
    for plan in plans:
        own, name = document, files.names[plan.part.id]
        if plan.part.id != document.part_id:
            own = document.with_part(plan.part.id)
        pages = part_pages(own, plan, options, today)
        all_pages += pages
        if not one_file:
            path = files.pages[plan.part.id]
            write_atomically(path, pdf_bytes(pages, options.paper, f"{document.title}, {name}"))
            yield _said(path, pages, plan.player.called)
    if one_file:
        path = files.pages[""]
        write_atomically(path, pdf_bytes(all_pages, options.paper, document.title))
        yield _said(path, all_pages, say("{plans} parts", plans=len(plans)))
    write_atomically(files.score, score_as_musicxml(document, plans))
    yield say("{name}: the score with the bows of all parts", name=files.score.name)
    save_document(document, files.plan)
    yield say("{name}: the plan of all parts", name=files.plan.name)
    if document.together and len(plans) > 1:
        ensemble = ensemble_of(document)
        yield f"{ensemble.words}."
        for place in to_settle(ensemble):
            yield f"! {place.where}: {place.text}"
    del app


def _names(document: Document) -> dict[str, str]:
    """Part id to a name of its own: the same twice is numbered, so that no file overwrites one."""
    found: dict[str, str] = {}
    for info in document.string_parts:
        name, number = info.name, 2
        taken = {file_name(n, NAMELESS).casefold() for n in found.values()}
        while file_name(name, NAMELESS).casefold() in taken:
            name, number = f"{info.name[: MOST_NAME - 4]} {number}", number + 1
        found[info.id] = name
    return found


def part_pages(document: Document, plan: Plan, options: HandoutOptions, today: date) -> list[Page]:
    """The pages of one part for who plays it, with his tape marks, and of the routine that is set
    for all, as he can do it."""
    systems = engrave(document, Sheet.of(options).engraving_width)
    handout = handout_of(document, plan, options, today)
    pages = list(compose(systems, [handout], options))
    if document.homework.routine:
        routine = routine_from_bytes(document.homework.routine.encode(), tr("the routine"))
        items = planned_items(routine, document.choices)
        days = routine.days(document.homework.start or today)
        pages += routine_pages(routine, items, days, options)
    return pages


def _said(path: Path, pages: list[Page], who: str) -> str:
    count = len(pages)
    return several(
        "{name}: {n} page, {who}", "{name}: {n} pages, {who}", count, name=path.name, who=who
    )


def _make(folder: Path) -> None:
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise PlectrumError(
            say(
                "{name!r} cannot be written into ({reason})",
                name=folder.name,
                reason=reason_of(error),
            ),
            remedy=tr("Choose another folder"),
        ) from error
