"""The pages as they leave the program: as PDF, as SVG, on paper."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Protocol

from PySide6.QtPrintSupport import QPrintDialog, QPrinter
from PySide6.QtWidgets import QWidget

from plectrum.core.atomic import write_atomically
from plectrum.core.errors import PlectrumError
from plectrum.core.practice.handout import HandoutOptions
from plectrum.core.wording import say, several, tr
from plectrum.ui.desk.desk import Desk
from plectrum.ui.handout.feeding import Feeding
from plectrum.ui.handout.output import PdfFile, make_printer, printed, svg_paths, write_svgs
from plectrum.ui.handout.pages import Page
from plectrum.ui.look.where_to import is_free, may_replace, where_to


class Around(Protocol):
    """What the screen around has and does."""

    desk: Desk
    feeding: Feeding

    @property
    def pages(self) -> list[Page]: ...
    @property
    def options(self) -> HandoutOptions: ...
    @property
    def title(self) -> str: ...
    def when_ready(self, then: Callable[[], object]) -> None: ...
    def say(self, text: str) -> None: ...


class HandingOut:
    """Works for the Handout screen."""

    def __init__(self, screen: Around, parent: QWidget) -> None:
        self._screen, self._parent = screen, parent
        self._printer: QPrinter | None = None

    def save_pdf(self) -> None:
        """Ask where to, and write a PDF file."""
        self._screen.when_ready(self._save_pdf)

    def save_svg(self) -> None:
        """Ask where to, and write one SVG file a page."""
        self._screen.when_ready(self._save_svg)

    def print_out(self) -> None:
        """The print dialog, and then the printer."""
        self._screen.when_ready(self._print)

    def _save_pdf(self) -> None:
        path = self._ask("pdf", tr("PDF (*.pdf)"))
        if path is None or not self._pages_there():
            return
        made = PdfFile(self._screen.pages, self._screen.options.paper, self._screen.title)

        def finish() -> str:
            write_atomically(path, made.data())
            return say("Saved {name}", name=path.name)

        self._screen.feeding.run(made.feed, finish, tr("Writing the handout …"))

    def _save_svg(self) -> None:
        path = self._ask("svg", tr("SVG (*.svg)"))
        if path is None or not self._pages_there():
            return
        more = svg_paths(path, len(self._screen.pages))[1:]
        files = self._screen.desk.session.files
        if not (is_free(self._parent, more, files) and may_replace(self._parent, more)):
            return
        try:
            written = write_svgs(self._screen.pages, path, self._screen.title)
        except PlectrumError as error:
            self._screen.desk.session.failed.emit(error)
            return
        self._screen.say(say("Saved {names}", names=_names(written)))

    def _print(self) -> None:
        printer = make_printer(self._screen.options.paper)
        printer.setDocName(say("{title} handout", title=self._screen.title))
        if self.ask_how_to_print(printer) and self._pages_there():
            self._screen.feeding.run(
                printed(self._screen.pages, printer),
                lambda: tr("Sent to the printer"),
                tr("Printing …"),
            )

    def ask_how_to_print(self, printer: QPrinter) -> bool:
        """The print dialog; one place, so that tests can answer."""
        self._printer = printer  # the dialog looks at it as long as it is there
        dialog = QPrintDialog(printer, self._parent)
        dialog.setMinMax(1, len(self._screen.pages))
        try:
            return dialog.exec() == QPrintDialog.DialogCode.Accepted
        finally:
            dialog.deleteLater()

    def _ask(self, suffix: str, kind: str) -> Path | None:
        suggested = f"{self._screen.title} handout.{suffix}"
        settings = self._screen.desk.settings
        suggested = settings.to_be_written(suggested)
        files = self._screen.desk.session.files
        return where_to(self._parent, tr("Save the handout"), suggested, kind, files)

    def _pages_there(self) -> bool:
        """Whether there are pages still: they may have gone while a dialog was answered."""
        if not self._screen.pages:
            self._screen.say(tr("The page is being made anew; ask again in a moment."))
        return bool(self._screen.pages)


def _names(paths: Sequence[Path]) -> str:
    first = paths[0].name
    more = len(paths) - 1
    return (
        first
        if not more
        else several("{first} and {n} more page", "{first} and {n} more pages", more, first=first)
    )
