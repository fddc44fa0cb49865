"""Sections and figures at the selected notes of the Bowing screen; every edit is one step to
undo."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from PySide6.QtWidgets import QInputDialog, QWidget

from plectrum.core.document import section_edits as edits
from plectrum.core.document.document import Document
from plectrum.core.document.sections import MOST_NAME, OwnSection, Section
from plectrum.core.errors import ChoiceError
from plectrum.core.wording import say, tr
from plectrum.ui.editing.session import Session


class SectionCommands:
    """Commands on the sections of the open piece; `selection` gives first and last note."""

    def __init__(
        self,
        session: Session,
        selection: Callable[[], tuple[int, int]],
        say: Callable[[str], None],
        parent: QWidget,
    ) -> None:
        self._session, self._selection, self._say = session, selection, say
        self._parent = parent

    def begin_here(self) -> None:
        """A section begins at the selected note, or the selected notes become one."""
        first, last = self._selection()
        if first == last:
            self._edit(lambda d: d.with_sections(edits.begun_at, first), tr("begin a section"))
        else:
            self._edit(
                lambda d: d.with_sections(edits.section_of, first, last), tr("set a section")
            )

    def join(self) -> None:
        """The section of the selected note becomes one with the section before."""
        first, _ = self._selection()
        self._edit(lambda d: d.with_sections(edits.joined, first), tr("join sections"))

    def figure(self) -> None:
        """The selected notes become a figure to practise."""
        first, last = self._selection()
        self._edit(lambda d: d.with_sections(edits.figure_of, first, last), tr("set a figure"))

    def name(self, section: Section | None = None) -> None:
        """Ask for the name of a section or figure, of the one at the selected note if none is
        given."""
        section = section or self.here()
        if section is None:
            self._say(tr("There is no section here to name."))
            return
        own = {s.key: s.name for s in self._own()}
        text, taken = QInputDialog.getText(
            self._parent,
            tr("Name the figure") if section.figure else tr("Name the section"),
            say("Name of {bars} (empty: by its letter)", bars=section.bars),
            text=own.get(section.key, ""),
        )
        if taken:
            name = text[:MOST_NAME]
            self._edit(
                lambda d: d.with_sections(edits.named, section.key, name), tr("name a section")
            )

    def move(self, key: str, note: int) -> None:
        """A section or figure begins at another note."""
        self._edit(lambda d: d.with_sections(edits.moved, key, note), tr("move a section"))

    def take_away(self) -> None:
        """The figure at the selected note, or else its section, is one no more."""
        section = self.here()
        if section is None:
            self._say(tr("There is no section here to take away."))
            return
        self._edit(lambda d: d.with_sections(edits.without, section.key), tr("take a section away"))

    def as_found(self) -> None:
        """The phrases that are found count again; figures stay."""
        if not any(not s.figure for s in self._own()):
            self._say(tr("The sections are those that were found."))
            return
        self._edit(
            lambda d: replace(d, sections=tuple(s for s in d.sections if s.figure)),
            tr("sections as found"),
        )

    def _own(self) -> tuple[OwnSection, ...]:
        document = self._session.document
        return () if document is None else document.sections

    def named(self, key: str) -> Section | None:
        """The section or figure of a key."""
        document = self._session.document
        form = document.form if document is not None else ()
        return next((s for s in form if s.key == key), None)

    def here(self) -> Section | None:
        """The smallest section or figure that holds the selected note."""
        document, (first, _) = self._session.document, self._selection()
        holding = [
            s
            for s in (document.form if document is not None else ())
            if s.first_note <= first <= s.last_note
        ]
        return min(holding, key=lambda s: s.last_note - s.first_note, default=None)

    def _edit(self, change: Callable[[Document], Document], text: str) -> None:
        document = self._session.document
        if document is None or not document.part.notes:
            return
        try:
            changed = change(document)
        except ChoiceError as error:
            self._say(f"{str(error)[0].upper()}{str(error)[1:]}.")
            return
        self._session.change(change, text)
        self._say(tr("Sections: ") + ", ".join(f"{s.name} {s.bars}" for s in changed.form))
