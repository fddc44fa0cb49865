"""Named variants of a plan: kept in the file, taken up again, forgotten."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtWidgets import QInputDialog, QWidget

from plectrum.core.wording import say, tr
from plectrum.ui.editing.session import Session


class Variants:
    """Commands on the open document's variants."""

    def __init__(self, session: Session, parent: QWidget, say: Callable[[str], None]) -> None:
        self._session = session
        self._parent = parent
        self._say = say

    def names(self) -> list[str]:
        """The names that are kept."""
        document = self._session.document
        return list(document.variants) if document is not None else []

    def ask(self) -> None:
        """Ask for a name and keep the plan under it."""
        if self._session.document is None:
            return
        name, ok = QInputDialog.getText(
            self._parent, tr("Keep as a variant"), tr("Name of this plan:")
        )
        if ok and name.strip():
            self.keep(name.strip()[:80])

    def keep(self, name: str) -> None:
        """Keep the present choices under a name."""
        document = self._session.document
        if document is not None:
            choices = document.choices
            self._session.change(
                lambda d: d.with_variant(name, choices), say("keep “{name}”", name=name)
            )
            self._say(say("Kept as “{name}”; it is saved with the plan.", name=name))

    def take(self, name: str) -> None:
        """Go on with the choices of a variant."""
        document = self._session.document
        if document is not None and name in document.variants:  # it may be gone by an undo
            self._session.take_choices(document.variant(name), say("take “{name}”", name=name))

    def forget(self, name: str) -> None:
        """Take a variant out of the file."""
        self._session.change(
            lambda d: d.with_variant(name, None), say("forget “{name}”", name=name)
        )
