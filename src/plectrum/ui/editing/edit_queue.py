"""The one path for every edit: each waits its turn and is made on the document as it is then.

A change is a function from a document to another. Quick ones are made where they are asked for,
slow ones aside; whatever is asked for meanwhile waits behind them in order. Nothing is dropped,
and nothing is made on a document that another edit has since replaced.
"""

from __future__ import annotations

from collections import deque
from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, TypeAlias

from PySide6.QtCore import QObject, Signal

from plectrum.core.errors import PlectrumError
from plectrum.ui.editing.runner import Runner

if TYPE_CHECKING:
    from plectrum.core.document.document import Document

Make: TypeAlias = "Callable[[Document], tuple[Any, Document]]"
Taken: TypeAlias = "Callable[[Document, Document, str], None]"


@dataclass(frozen=True, slots=True)
class _Edit:
    """One edit that is asked for.

    Attributes:
        make: a result and the changed document, from the document as it is.
        aside: made in a thread.
        then: gets the result once the edit is taken; otherwise: the error of one that fails.
    """

    make: Make
    text: str
    aside: bool
    then: Callable[[Any], None] | None
    otherwise: Callable[[Exception], None]


@dataclass(frozen=True, slots=True)
class _Step:
    """Something to be done in its turn, which may ask for edits of its own."""

    do: Callable[[], None]
    owner: object


class EditQueue(QObject):
    """Makes edits one after another.

    Signals:
        idle: nothing waits and nothing is being made.
    """

    idle = Signal()

    def __init__(
        self, document: Callable[[], Document | None], take: Taken, parent: QObject | None = None
    ) -> None:
        """Make a queue.

        Args:
            document: tells the document as it is.
            take: gets the document before and after an edit, and the edit's name.
        """
        super().__init__(parent)
        self._document = document
        self._take = take
        self._runner = Runner(self)
        self._waiting: deque[_Edit | _Step] = deque()
        self._asked_in_turn: list[_Edit | _Step] | None = None
        self._going = False

    @property
    def busy(self) -> bool:
        return bool(self._waiting) or self._runner.busy or self._going

    def ask(
        self,
        make: Make,
        text: str,
        otherwise: Callable[[Exception], None],
        *,
        aside: bool = False,
        then: Callable[[Any], None] | None = None,
    ) -> None:
        """Ask for an edit; a quick one is made at once if nothing waits."""
        self._put(_Edit(make, text, aside, then, otherwise))

    def in_turn(self, do: Callable[[], None], owner: object = None) -> None:
        """Do something when all that was asked before is done; what it asks for comes next."""
        self._put(_Step(do, owner))

    def forget(self, owner: object) -> None:
        """Drop the steps of an owner that still wait."""
        kept = [w for w in self._waiting if not (isinstance(w, _Step) and w.owner is owner)]
        self._waiting = deque(kept)

    def clear(self) -> None:
        """Another document is there: what was asked of the old one is void."""
        self._waiting.clear()
        self._runner.cancel()

    def _put(self, wanted: _Edit | _Step) -> None:
        if self._asked_in_turn is not None:
            self._asked_in_turn.append(wanted)
        else:
            self._waiting.append(wanted)
            self._go_on()

    def _go_on(self) -> None:
        """Make what waits, up to the first slow edit."""
        if self._going:
            return
        self._going = True
        try:
            while self._waiting and not self._runner.busy:
                wanted = self._waiting.popleft()
                if isinstance(wanted, _Step):
                    self._do(wanted)
                elif wanted.aside:
                    self._make_aside(wanted)
                else:
                    self._make(wanted)
        finally:
            self._going = False
        if not self.busy:
            self.idle.emit()

    def _do(self, step: _Step) -> None:
        self._asked_in_turn = []
        try:
            step.do()
        finally:
            asked, self._asked_in_turn = self._asked_in_turn, None
            self._waiting.extendleft(reversed(asked))

    def _make(self, edit: _Edit) -> None:
        document = self._document()
        if document is None:
            return
        try:
            done = edit.make(document)
        except PlectrumError as error:
            edit.otherwise(error)
            return
        self._finish(edit, document, done)

    def _make_aside(self, edit: _Edit) -> None:
        document = self._document()
        if document is None:
            return

        def take(done: Any) -> None:
            if self._document() is document:
                self._finish(edit, document, done)
            else:  # undone or redone meanwhile: made anew on what is there now
                self._waiting.appendleft(edit)
            self._go_on()

        def fail(error: Exception) -> None:
            edit.otherwise(error)
            self._go_on()

        self._runner.run(lambda: edit.make(document), take, fail)

    def _finish(self, edit: _Edit, before: Document, done: tuple[Any, Document]) -> None:
        result, after = done
        if after is not before:
            self._take(before, after, edit.text)
        if edit.then is not None:
            edit.then(result)
