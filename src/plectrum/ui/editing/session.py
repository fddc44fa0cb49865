"""What is open: the document, its plan, a choice being tried, and the undo stack.

Documents and plans are immutable. Every edit replaces the document through the undo stack; the
plan follows from a worker thread, and only the newest request counts. A plan comes in two
steps: first what is drawn, at once after it what the panel lists (warnings, alternatives).
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any, NamedTuple

from PySide6.QtCore import QEventLoop, QObject, QThreadPool, QTimer, Signal
from PySide6.QtGui import QUndoCommand, QUndoStack

from plectrum.core.document.choices import Choices, Pin
from plectrum.core.document.rebase import rebased
from plectrum.core.errors import PlectrumError
from plectrum.core.plain_text import shown_name
from plectrum.core.wording import say, tr
from plectrum.ui.editing.edit_queue import EditQueue, Make
from plectrum.ui.editing.kept_plans import plans_alike
from plectrum.ui.editing.planner import Planner, drawn_plan
from plectrum.ui.editing.runner import Runner
from plectrum.ui.editing.trials import Trial, Trials

if TYPE_CHECKING:
    from plectrum.core.document.document import Document
    from plectrum.core.planning.ensemble.ensemble import Ensemble
    from plectrum.core.planning.plan import Plan
    from plectrum.core.score.scorefile import ScoreFile
    from plectrum.core.score.writing.editor import Editor

PAINTED_MS = 30  # by then a new plan has been painted
AT_ONCE_N = 2500  # notes in all parts of a score that is shown once it is planned as one


def add_details(plan: Plan) -> Plan:
    """Make what the panel lists of a plan: warnings, tempo window, extra costs."""
    from plectrum.core.advice.warnings import warnings_of

    warnings_of(plan)
    _ = plan.pricing.forwards, plan.held_terms
    return plan


class _Edit(QUndoCommand):
    """One edit: the document before and after it."""

    def __init__(self, session: Session, before: Document, after: Document, text: str) -> None:
        super().__init__(text)
        self._session, self._before, self._after = session, before, after

    def redo(self) -> None:
        self._session.set_document(self._after)

    def undo(self) -> None:
        self._session.set_document(self._before)


class Shown(NamedTuple):
    """A plan and the document that it is of: one value, for what needs them both."""

    document: Document
    plan: Plan


class Session(QObject):
    """The one place the screens look at and send commands to.

    Signals:
        opened: another document is open. score_changed: other notes, or another part.
        planned: a new plan is there to be drawn, with the bars in which it differs.
        detailed: its warnings and alternatives are there too.
        homework_changed: what is set for practice is different, the plan is not.
        form_changed: so are the sections.
    """

    opened = Signal()
    score_changed = Signal()
    planned = Signal(tuple)
    detailed = Signal()
    homework_changed = Signal()
    form_changed = Signal()
    failed = Signal(object)
    said = Signal(str)
    busy_changed = Signal(str)
    saved_changed = Signal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.document: Document | None = None
        self._shown: Shown | None = None
        self.path: Path | None = None
        self.read_from: Path | None = None  # the tune's own file, where it was opened from one
        self._drawn: tuple[ScoreFile, str] | None = None
        self.planner = Planner(lambda: self.planning, self)
        self.planner.planned.connect(self._take_plan)
        self.planner.failed.connect(self.fail)
        self.undo_stack = QUndoStack(self)
        self.undo_stack.cleanChanged.connect(self._clean_changed)
        self._detailer = Runner(self)
        self._opener = Runner(self, QThreadPool.globalInstance())
        self.trials = Trials(self._take_trial, self)
        self.trials.failed.connect(self.fail)
        self.edits = EditQueue(lambda: self.document, self._push, self)
        self._detail_soon = QTimer(self, singleShot=True, interval=PAINTED_MS)
        self._detail_soon.timeout.connect(self._detail)

    def _clean_changed(self, _clean: bool) -> None:
        self.saved_changed.emit()

    @property
    def plan(self) -> Plan | None:
        """The plan that is shown, while another is on its way still that of the document before."""
        return None if self._shown is None else self._shown.plan

    @property
    def both(self) -> Shown | tuple[None, None]:
        """What is shown, the document and its own plan; `document` may be newer."""
        return self._shown or (None, None)

    @property
    def ensemble(self) -> Ensemble | None:
        """The parts planned as one, of which the plan is; None where it is planned by itself, and
        while they are being planned."""
        found = self.planner.ensemble
        return found if found is not None and self.plan in found.plans else None

    # opening and saving

    def open_path(
        self,
        path: Path,
        part: str | None = None,
        instrument: str | None = None,
        tune: str | None = None,
        otherwise: Callable[[Exception], None] | None = None,
    ) -> None:
        """Open a score or plan file in a thread; what is open stays if it fails.

        Args:
            tune: which of a book in ABC. otherwise: gets the error; None shows it.
        """
        target = path if path.suffix == ".plectrum" else None

        def read() -> Document:
            from plectrum.core.files.opening import open_document_path

            return open_document_path(path, part=part, instrument=instrument, tune=tune)

        said = say("Opening {path} …", path=shown_name(path))
        self.open_made(read, said, target, read_from=path, otherwise=otherwise)

    def open_made(
        self,
        make: Callable[[], Document],
        said: str = "",
        path: Path | None = None,
        *,
        read_from: Path | None = None,
        saved: bool = True,
        otherwise: Callable[[Exception], None] | None = None,
    ) -> None:
        """Open a document that is made in a thread.

        Args:
            said: shown while it is being made.
            path: where saving goes. read_from: the file that is read.
            saved: False for a document that is on no disk yet.
            otherwise: gets the error if it cannot be made; None shows it.
        """
        if said:
            self.busy_changed.emit(said)

        def work() -> object:
            document = make()
            large = document.together and document.notes_n > AT_ONCE_N
            first = replace(document, together=False) if large else document
            return document, self.planner.first(first)

        def take(result: Any) -> None:
            document, plan = result
            self.busy_changed.emit("")
            self.show_document(document, plan, path, saved=saved)
            self.read_from = read_from
            if document.together and self.ensemble is None:  # of a large score the part comes first
                self.said.emit(tr("All parts are being planned together …"))
                self.planner.ask(document)

        def fail(error: Exception) -> None:
            self.busy_changed.emit("")
            (otherwise or self.fail)(error)

        self._opener.run(work, take, fail)

    def recover(
        self, copy: Path, original: Path | None, otherwise: Callable[[Exception], None]
    ) -> None:
        """Open an unsaved copy as what it was: the original's document with changes unsaved."""

        def read() -> Document:
            from plectrum.core.files.opening import open_document_path

            return open_document_path(copy)

        self.open_made(read, path=original, saved=False, otherwise=otherwise)

    def cancel_opening(self) -> None:
        self._opener.cancel()
        self.busy_changed.emit("")

    def show_document(
        self, document: Document, plan: Plan, path: Path | None, *, saved: bool = True
    ) -> None:
        """Make a document the open one; the undo stack starts afresh.

        Args:
            saved: False for a recovered copy, which counts as changed from the start.
        """
        self._detailer.cancel()
        self.trials.drop()
        self.edits.clear()
        self.document, self._shown, self.path = document, Shown(document, plan), path
        self.read_from = None
        self.planner.begin_with(document, plan)
        self.undo_stack.clear()
        self.undo_stack.setClean()
        if not saved:
            self.undo_stack.resetClean()
        self._drawn = (document.score, plan.part.id)
        self.opened.emit()
        self.score_changed.emit()
        self.planned.emit(())
        self._detail_soon.start()

    def save(self, path: Path) -> None:
        """Write the plan file.

        Raises:
            PlectrumError: it cannot be written; the document stays as it is.
        """
        from plectrum.core.files.planfile import save_document

        self.settle()
        if self.document is None:
            return
        save_document(self.document, path)
        self.path = path
        self.undo_stack.setClean()
        self.saved_changed.emit()

    @property
    def files(self) -> tuple[Path, ...]:
        """What is open, and what it was read from: an export writes over neither."""
        return tuple(path for path in (self.path, self.read_from) if path is not None)

    @property
    def unsaved(self) -> bool:
        return self.document is not None and not self.undo_stack.isClean()

    # editing

    def edit(self, change: Callable[[Choices], Choices], text: str, *, aside: bool = False) -> None:
        """Change the choices, undoably; the change gets them as they are in its turn."""

        def make(document: Document) -> tuple[object, Document]:
            wanted = change(document.choices)
            same = wanted == document.choices
            return None, document if same else document.with_choices(wanted)

        self._ask(make, text, aside=aside)

    def take_choices(self, choices: Choices, text: str) -> None:
        """Take choices made from those shown now; only what they change of these is changed."""
        if self.document is not None:
            shown = self.document.choices
            aside = choices.instrument != shown.instrument  # then the part is read anew
            self.edit(lambda now: rebased(now, shown, choices), text, aside=aside)

    def choose_part(self, part_id: str) -> None:
        """Show another part of the same score, undoably."""
        if self.document is not None and part_id != self.document.part_id:
            self.change_aside(lambda document: document.with_part(part_id), tr("choose the part"))

    def change(self, change: Callable[[Document], Document], text: str) -> None:
        """Any quick change of the document, undoably."""
        self._ask(lambda document: (None, change(document)), text)

    def change_aside(self, change: Callable[[Document], Document], text: str) -> None:
        """A change of the document that reads or writes the score, made in a thread, undoably."""
        self._ask(lambda document: (None, change(document)), text, aside=True)

    def edit_score(
        self,
        work: Callable[[Editor], object],
        text: str,
        then: Callable[[Any], None] | None = None,
        otherwise: Callable[[Exception], None] | None = None,
    ) -> None:
        """Edit the written notes in a thread, undoably.

        Args:
            work: changes the editor; what it returns goes to `then` once the edit is done.
            otherwise: gets the error of an edit that cannot be done; None shows it.
        """

        def make(document: Document) -> tuple[object, Document]:
            from plectrum.core.score.writing.editor import Editor

            editor = Editor(document.score, document.part_id)
            result = work(editor)
            return result, document.with_score(editor.result())

        self._ask(make, text, aside=True, then=then, otherwise=otherwise)

    def _ask(
        self,
        make: Make,
        text: str,
        *,
        aside: bool = False,
        then: Callable[[Any], None] | None = None,
        otherwise: Callable[[Exception], None] | None = None,
    ) -> None:
        if self.document is not None:
            self.edits.ask(make, text, otherwise or self.fail, aside=aside, then=then)

    def _push(self, before: Document, after: Document, text: str) -> None:
        self.undo_stack.push(_Edit(self, before, after, text))

    def set_document(self, document: Document) -> None:
        """Make a state of the document the present one and plan it; the undo stack calls this."""
        self.planner.foresight.stop()
        self.trials.drop()
        before, self.document = self.document, document
        if before is not None and plans_alike(before, document):
            if self._shown is not None and self._shown.document is before:
                self._shown = Shown(document, self._shown.plan)
            if before.sections != document.sections:
                self.form_changed.emit()
            self.homework_changed.emit()
            return
        self._detail_soon.stop()
        self._detailer.cancel()
        self.planner.ask(document, before)

    def _take_plan(self, plan: Any) -> None:
        from plectrum.core.advice.comparison import changed_bars

        if self.document is None:
            return
        before, self._shown = self.plan, Shown(self.document, plan)
        drawn = self.document.score, plan.part.id
        if before is not None and drawn == self._drawn:
            self.planned.emit(changed_bars(before, plan))
        else:
            self._drawn = drawn
            self.score_changed.emit()
            self.planned.emit(())
        self._detail_soon.start()

    def _detail(self) -> None:
        """What the panel lists, once the plan itself has been painted."""
        plan = self.plan
        if plan is None:
            return

        def take(done: Any) -> None:
            if done is self.plan:
                self.detailed.emit()

        self._detailer.run(lambda: add_details(plan), take, self.fail)

    def finished(self) -> Shown | None:
        """The document as it is now with all that was asked for, and its plan, made here if it is
        still on its way; None where nothing is open.

        Raises:
            PlectrumError: it cannot be planned.
        """
        self.settle()
        if self.document is None:
            return None
        if self._shown is None or self._shown.document is not self.document:
            return Shown(self.document, drawn_plan(self.document))
        return self._shown

    def not_engraved(self, reason: str) -> None:
        """The staff of a screen cannot be drawn."""
        what = say("the staff cannot be drawn: {reason}", reason=reason)
        self.failed.emit(
            PlectrumError(what, remedy=tr("The plan itself is complete. F5 tries once more"))
        )

    def fail(self, error: Exception) -> None:
        """Show an error."""
        self.busy_changed.emit("")
        self.failed.emit(error)

    @property
    def planning(self) -> bool:
        """Whether an edit, its plan or what the panel lists of it is on its way."""
        detailing = self._detail_soon.isActive() or self._detailer.busy
        return self.planner.busy or self.edits.busy or detailing

    def pin_of(self, note_id: str) -> Pin:
        return self.document.choices.pins.get(note_id, Pin()) if self.document else Pin()

    def pin(self, note_id: str, pin: Pin, text: str) -> None:
        self.pin_several({note_id: pin}, text)

    def pin_several(self, pins: Mapping[str, Pin], text: str) -> None:
        """Pin or let go several notes as one step."""
        self.edit(lambda choices: choices.with_pins(pins), text)

    def repin(self, changes: Mapping[str, Callable[[Pin], Pin]], text: str) -> None:
        """Change what is pinned at some notes, each from what is pinned there in its turn."""
        self.edit(lambda choices: choices.repinned(changes), text)

    def foresee(self, asks: Callable[[], Iterable[Mapping[str, Callable[[Pin], Pin]]]]) -> None:
        """Plan as each of these changes of pins would have it, before one is asked for.

        Args:
            asks: tells the changes, the likeliest first, once nothing has been asked for a moment.
        """

        def ahead(now: Document) -> Iterator[Document]:
            return (now.with_choices(now.choices.repinned(changes)) for changes in asks())

        if self.document is not None:
            self.planner.foresee(ahead, self.document)

    def let_go_all(self) -> None:
        self.edit(lambda choices: replace(choices, pins={}), tr("let go of all pins"))

    def settle(self, timeout_ms: int = 10_000) -> None:
        """Wait, with the window alive, until every edit that was asked for is made."""
        if not self.edits.busy:
            return
        waiting = QEventLoop()
        self.edits.idle.connect(waiting.quit)
        QTimer.singleShot(timeout_ms, waiting, waiting.quit)
        waiting.exec(QEventLoop.ProcessEventsFlag.ExcludeUserInputEvents)
        self.edits.idle.disconnect(waiting.quit)

    def try_choices(self, choices: Choices, text: str) -> None:
        """Plan with other choices and show the result without taking it."""
        if self._shown is not None:
            self.planner.foresight.stop()
            self.trials.begin(*self._shown, choices, text)

    def _take_trial(self, trial: Trial) -> None:
        self.edit(lambda now: rebased(now, trial.before, trial.choices), trial.text)

    @property
    def trial(self) -> Trial | None:
        """What is being tried; None if nothing is."""
        return self.trials.trial

    @property
    def shown_plan(self) -> Plan | None:
        """The plan on screen: the one being tried, else the plan."""
        return self.trial.plan if self.trial is not None else self.plan
