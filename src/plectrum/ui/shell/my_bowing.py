"""My bowing: learnt from plans the teacher has kept, used by choice, explained and forgotten."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QFileDialog, QMessageBox, QWidget

from plectrum.core.atomic import write_atomically
from plectrum.core.errors import PlectrumError
from plectrum.core.wording import say, several, tr
from plectrum.ui.desk.desk import Desk
from plectrum.ui.editing.runner import Runner
from plectrum.ui.look.plain import message_box

if TYPE_CHECKING:
    from plectrum.core.document.document import Document
    from plectrum.core.player.own_bowing import OwnBowing

PLAN_FILTER = tr("Plans (*.plectrum)")


class MyBowing(QObject):
    """Commands on the teacher's own bowing; it is kept in one file, and in each plan that uses
    it."""

    def __init__(self, desk: Desk, parent: QWidget) -> None:
        super().__init__(parent)
        self._desk, self._parent = desk, parent
        self._session, self._path = desk.session, desk.bowing_path
        self._learner = Runner(self)

    @property
    def is_there(self) -> bool:
        """Whether one was learnt, or came with the open plan."""
        document = self._session.document
        return self._path.exists() or (document is not None and document.choices.bowing is not None)

    @property
    def learning(self) -> bool:
        return self._learner.busy

    def _kept(self) -> OwnBowing | None:
        """The one that was learnt here; else that of the open plan."""
        if self._path.exists():
            from plectrum.core.player.records import bowing_from_json

            try:
                return bowing_from_json(self._path.read_bytes(), self._path.name)
            except (OSError, PlectrumError) as error:
                self._session.failed.emit(error)
                return None
        document = self._session.document
        return document.choices.bowing if document is not None else None

    def use(self, wanted: bool) -> None:
        """Plan with it, or as print does."""
        bowing = self._kept() if wanted else None
        words = tr("my bowing") if bowing is not None else tr("bow as print does")
        self._session.edit(lambda choices: replace(choices, bowing=bowing), words)

    def ask_learn(self) -> None:
        """Ask for plans and learn from what is pinned in them."""
        names, _ = QFileDialog.getOpenFileNames(
            self._parent, tr("Kept plans to learn from"), "", PLAN_FILTER
        )
        if names:
            self.learn([Path(name) for name in names])

    def learn(self, paths: Sequence[Path]) -> None:
        """Learn from some plan files, then say what it changes and whether to use it."""
        document = self._session.document
        self._desk.message.emit(
            several("Learning from {n} plan …", "Learning from {n} plans …", len(paths))
        )

        def work() -> object:
            from plectrum.core.advice.own_bowing import learn_from
            from plectrum.core.files.opening import open_document_path

            bowing = learn_from([open_document_path(path) for path in paths])
            return bowing, self._words(bowing, document)

        self._learner.run(work, self._learnt, self._session.failed.emit)

    def _learnt(self, found: Any) -> None:
        bowing, words = found
        if not self.ask(tr("Keep this as my bowing?"), words):
            return
        from plectrum.core.player.records import bowing_as_json

        try:
            self._path.parent.mkdir(parents=True, exist_ok=True)
            write_atomically(self._path, bowing_as_json(bowing).encode())
        except (OSError, PlectrumError) as error:
            self._session.failed.emit(error)
            return
        if self._session.document is not None:
            self.use(True)
        self._desk.message.emit(
            tr("Kept as my bowing. School menu, My bowing: use it, or forget it.")
        )

    def explain(self) -> None:
        """Say what it changes, in general and in the open piece."""
        document = self._session.document
        used = document.choices.bowing if document is not None else None
        bowing = used or self._kept()
        if bowing is not None:
            self._learner.run(
                lambda: self._words(bowing, document),
                lambda words: self.tell(tr("What my bowing changes"), words),
                self._session.failed.emit,
            )

    def explain_print(self) -> None:
        """Say what the planner knows without it."""
        from plectrum.core.advice.own_bowing import print_words

        self.tell(tr("What print has taught"), print_words())

    def forget(self) -> None:
        """Take it off, here and from the open plan."""
        if not self.ask(tr("Forget my bowing?"), tr("Plans that use it keep it; this "
                                                    "one goes back to "
                        "bowing as print does.")):  # fmt: skip
            return
        self._path.unlink(missing_ok=True)
        document = self._session.document
        if document is not None and document.choices.bowing is not None:
            self.use(False)
        self._desk.message.emit(tr("My bowing is forgotten."))

    def _words(self, bowing: OwnBowing, document: Document | None) -> str:
        from plectrum.core.advice.own_bowing import effect_on, explained

        bows = several("{n} pinned bow", "{n} pinned bows", bowing.marks_n)
        plans = several("{n} plan", "{n} plans", bowing.plans_n)
        lines = [
            say("Learnt from {bows} in {plans}.", bows=bows, plans=plans),
            "",
            *(f"•  {line}" for line in explained(bowing) or (tr("You bow as print does."),)),
        ]
        if document is not None and document.part.notes:
            lines += ["", f"{effect_on(document, bowing)}."]
        return "\n".join(lines)

    def ask(self, question: str, words: str) -> bool:
        """A question with an explanation; True for yes."""
        box = self._box(question, words)
        box.setStandardButtons(QMessageBox.StandardButton.Yes | QMessageBox.StandardButton.No)
        answer = box.exec()
        box.deleteLater()
        return answer == QMessageBox.StandardButton.Yes

    def tell(self, title: str, words: str) -> None:
        box = self._box(title, words)
        box.exec()
        box.deleteLater()

    def _box(self, title: str, words: str) -> QMessageBox:
        return message_box(self._parent, title, words, title=tr("My bowing"))
