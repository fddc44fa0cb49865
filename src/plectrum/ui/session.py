"""What is open: the document, its plan, a choice being tried, and the undo stack.

Documents and plans are immutable. Every edit replaces the document's choices through the
undo stack; the plan follows from a worker thread, and only the newest request counts.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from PySide6.QtCore import QObject, QRunnable, QThreadPool, Signal
from PySide6.QtGui import QUndoCommand, QUndoStack

from plectrum.core.errors import PlectrumError
from plectrum.core.files.planfile import open_document_path, save_document
from plectrum.core.planning.choices import Choices, Join, Pin
from plectrum.core.planning.document import Document
from plectrum.core.planning.plan import Plan, changed_bars
from plectrum.core.planning.warnings import warnings_of
from plectrum.core.score.model import Direction


@dataclass(frozen=True, slots=True)
class Trial:
    """A plan being tried before it is taken: the choices behind it and what it would change."""

    text: str
    choices: Choices
    plan: Plan
    bars: tuple[int, ...]


def plan_in_full(document: Document) -> Plan:
    """A plan with all that the screen will ask of it, made where this is called."""
    plan = document.plan()
    warnings_of(plan)
    _ = plan.solution.extra
    return plan


class _Signals(QObject):
    done = Signal(int, object)
    failed = Signal(int, object)


class _Job(QRunnable):
    """Runs one function off the interface thread."""

    def __init__(self, number: int, work: Callable[[], object], signals: _Signals) -> None:
        super().__init__()
        self._number = number
        self._work = work
        self._signals = signals

    def run(self) -> None:
        try:
            result = self._work()
        except Exception as error:  # handed to the interface thread, which shows it
            self._signals.failed.emit(self._number, error)
        else:
            self._signals.done.emit(self._number, result)


class Runner(QObject):
    """Runs work in a thread and hands back only the result of the newest request."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._number = 0
        self._then: Callable[[Any], None] | None = None
        self._otherwise: Callable[[Exception], None] | None = None
        self._signals = _Signals()
        self._signals.done.connect(self._done)
        self._signals.failed.connect(self._failed)

    @property
    def busy(self) -> bool:
        return self._then is not None

    def run(
        self,
        work: Callable[[], object],
        then: Callable[[Any], None],
        otherwise: Callable[[Exception], None],
    ) -> None:
        """Start work; `then` gets its result, `otherwise` its error."""
        self._number += 1
        self._then, self._otherwise = then, otherwise
        QThreadPool.globalInstance().start(_Job(self._number, work, self._signals))

    def cancel(self) -> None:
        """Forget the running request; its result is dropped."""
        self._number += 1
        self._then = self._otherwise = None

    def _done(self, number: int, result: object) -> None:
        if number == self._number and self._then is not None:
            then, self._then, self._otherwise = self._then, None, None
            then(result)

    def _failed(self, number: int, error: Exception) -> None:
        if number == self._number and self._otherwise is not None:
            otherwise, self._then, self._otherwise = self._otherwise, None, None
            otherwise(error)


class _Edit(QUndoCommand):
    """One edit: the document before and after it."""

    def __init__(self, session: Session, before: Document, after: Document, text: str) -> None:
        super().__init__(text)
        self._session, self._before, self._after = session, before, after

    def redo(self) -> None:
        self._session.set_document(self._after)

    def undo(self) -> None:
        self._session.set_document(self._before)


class Session(QObject):
    """The one place the screens look at and send commands to."""

    opened = Signal()
    planned = Signal(tuple)
    tried = Signal()
    failed = Signal(object)
    busy_changed = Signal(str)
    saved_changed = Signal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.document: Document | None = None
        self.plan: Plan | None = None
        self.trial: Trial | None = None
        self.path: Path | None = None
        self.undo_stack = QUndoStack(self)
        self.undo_stack.cleanChanged.connect(self._clean_changed)
        self._planner = Runner(self)
        self._opener = Runner(self)
        self._trier = Runner(self)

    def _clean_changed(self, _clean: bool) -> None:
        self.saved_changed.emit()

    # opening and saving

    def open_path(self, path: Path, part: str | None = None, instrument: str | None = None) -> None:
        """Open a score or plan file in a thread; what is open stays if it fails."""
        self.busy_changed.emit(f"Opening {path.name} …")

        def work() -> object:
            document = open_document_path(path, part=part, instrument=instrument)
            return document, plan_in_full(document)

        self._opener.run(work, lambda result: self._take_opened(path, result), self._fail)

    def recover(self, copy: Path, original: Path | None) -> None:
        """Open an unsaved copy as what it was: the original's document with changes unsaved."""

        def work() -> object:
            document = open_document_path(copy)
            return document, plan_in_full(document)

        def take(result: Any) -> None:
            document, plan = result
            self.show_document(document, plan, original, saved=False)

        self._opener.run(work, take, self._fail)

    def cancel_opening(self) -> None:
        self._opener.cancel()
        self.busy_changed.emit("")

    def _take_opened(self, path: Path, result: Any) -> None:
        document, plan = result
        self.busy_changed.emit("")
        self.show_document(document, plan, path if path.suffix == ".plectrum" else None)

    def show_document(
        self, document: Document, plan: Plan, path: Path | None, *, saved: bool = True
    ) -> None:
        """Make a document the open one; the undo stack starts afresh.

        Args:
            saved: False for a recovered copy, which counts as changed from the start.
        """
        self._planner.cancel()
        self._trier.cancel()
        self.document, self.plan = document, plan
        self.trial, self.path = None, path
        self.undo_stack.clear()
        self.undo_stack.setClean()
        if not saved:
            self.undo_stack.resetClean()
        self.opened.emit()
        self.planned.emit(())

    def save(self, path: Path) -> None:
        """Write the plan file.

        Raises:
            PlectrumError: it cannot be written; the document stays as it is.
        """
        if self.document is None:
            return
        save_document(self.document, path)
        self.path = path
        self.undo_stack.setClean()
        self.saved_changed.emit()

    @property
    def unsaved(self) -> bool:
        return self.document is not None and not self.undo_stack.isClean()

    # editing

    def edit(self, choices: Choices, text: str) -> None:
        """Replace the choices, undoably."""
        if self.document is not None and choices != self.document.choices:
            self._push(lambda document: document.with_choices(choices), text)

    def choose_part(self, part_id: str) -> None:
        """Show another part of the same score, undoably."""
        if self.document is not None and part_id != self.document.part_id:
            self._push(lambda document: document.with_part(part_id), "choose the part")

    def _push(self, change: Callable[[Document], Document], text: str) -> None:
        if self.document is None:
            return
        try:
            after = change(self.document)
        except PlectrumError as error:
            self.failed.emit(error)
            return
        self.undo_stack.push(_Edit(self, self.document, after, text))

    def set_document(self, document: Document) -> None:
        """Make a state of the document the present one and plan it; the undo stack calls this."""
        self._trier.cancel()
        if self.trial is not None:
            self.trial = None
            self.tried.emit()
        self.document = document
        self._planner.run(lambda: plan_in_full(document), self._take_plan, self._fail)

    def _take_plan(self, plan: Any) -> None:
        before, self.plan = self.plan, plan
        if before is None or before.part.id != plan.part.id:
            self.opened.emit()
            self.planned.emit(())
        else:
            self.planned.emit(changed_bars(before, plan))

    def _fail(self, error: Exception) -> None:
        self.busy_changed.emit("")
        self.failed.emit(error)

    @property
    def planning(self) -> bool:
        return self._planner.busy

    def pin_of(self, note_id: str) -> Pin:
        return self.document.choices.pins.get(note_id, Pin()) if self.document else Pin()

    def pin(self, note_id: str, pin: Pin, text: str) -> None:
        if self.document is not None:
            self.edit(self.document.choices.with_pin(note_id, pin), text)

    def let_go_all(self) -> None:
        if self.document is not None:
            self.edit(replace(self.document.choices, pins={}), "let go of all pins")

    # trying an alternative

    def try_alternative(self, unit: int, direction: Direction, join: Join, text: str) -> None:
        """Plan with one alternative pinned and show the result without taking it."""
        if self.document is None or self.plan is None:
            return
        head = self.plan.head_of(unit)
        pin = replace(
            self.pin_of(head.id),
            direction=direction,
            join=None if join is Join.START else join,
        )
        choices = self.document.choices.with_pin(head.id, pin)
        document, current = self.document.with_choices(choices), self.plan

        def work() -> object:
            plan = plan_in_full(document)
            return Trial(text, choices, plan, changed_bars(current, plan))

        self._trier.run(work, self._take_trial, self._fail)

    def _take_trial(self, trial: Any) -> None:
        self.trial = trial
        self.tried.emit()

    def keep_trial(self) -> bool:
        """Take what is being tried; False if nothing is."""
        if self.trial is None:
            return False
        self.edit(self.trial.choices, self.trial.text)
        return True

    def drop_trial(self) -> bool:
        """Go back to the plan as it was; False if nothing was being tried."""
        self._trier.cancel()
        if self.trial is None:
            return False
        self.trial = None
        self.tried.emit()
        return True

    @property
    def shown_plan(self) -> Plan | None:
        """The plan on screen: the one being tried, else the plan."""
        return self.trial.plan if self.trial is not None else self.plan
