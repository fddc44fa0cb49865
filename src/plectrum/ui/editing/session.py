"""What is open: the document, its plan, a choice being tried, and the undo stack.

Documents and plans are immutable. Every edit replaces the document through the undo stack; the
plan follows from a worker thread, and only the newest request counts. A plan comes in two
steps: first what is drawn, at once after it what the panel lists (warnings, alternatives).
"""

from __future__ import annotations

import time
from collections import deque
from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QEventLoop, QObject, QThreadPool, QTimer, Signal
from PySide6.QtGui import QUndoCommand, QUndoStack

from plectrum.core.document.choices import Choices, Join, Pin
from plectrum.core.document.rebase import rebased
from plectrum.core.errors import PlectrumError
from plectrum.core.plain_text import shown_name
from plectrum.core.wording import say, tr
from plectrum.ui.editing.edit_queue import EditQueue, Make
from plectrum.ui.editing.foresight import Foresight
from plectrum.ui.editing.kept_plans import KeptPlans, is_one_of_several, plans_alike
from plectrum.ui.editing.runner import Runner

if TYPE_CHECKING:
    from plectrum.core.advice.plan_warning import PlanWarning
    from plectrum.core.document.document import Document
    from plectrum.core.planning.ensemble.ensemble import Ensemble
    from plectrum.core.planning.plan import Plan
    from plectrum.core.score.model import Direction
    from plectrum.core.score.scorefile import ScoreFile
    from plectrum.core.score.writing.editor import Editor

PAINTED_MS = 30  # by then a new plan has been painted
AT_ONCE_N = 2500  # notes in all parts of a score that is shown once it is planned as one
AT_ONCE_S = 0.08  # a plan that takes no longer is made in the interface thread
FORESEEN_S = 0.05  # nor is one foreseen that takes longer: it would be felt


@dataclass(frozen=True, slots=True)
class Trial:
    """A plan being tried before it is taken: the choices behind it and what it would change."""

    text: str
    before: Choices
    choices: Choices
    plan: Plan
    bars: tuple[int, ...]


def drawn_plan(document: Document) -> Plan:
    """A plan with all that is drawn of it, made where this is called."""
    from plectrum.core.planning.ensemble.documents import plan_of

    plan = plan_of(document)
    _ = plan.contact
    return plan


def add_details(plan: Plan) -> Plan:
    """Make what the panel lists of a plan: warnings, tempo window, extra costs."""
    from plectrum.core.advice.warnings import warnings_of

    warnings_of(plan)
    _ = plan.solution.extra
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
    tried = Signal()
    failed = Signal(object)
    said = Signal(str)
    busy_changed = Signal(str)
    saved_changed = Signal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.document: Document | None = None
        self.plan: Plan | None = None
        self.trial: Trial | None = None
        self.path: Path | None = None
        self._ensemble: Ensemble | None = None
        self._keep_next = False
        self._took_s: deque[float] = deque(maxlen=2)  # the last plannings of what is open
        self._answer_s = 0.0  # the last answer of one part to the others
        self._drawn: tuple[ScoreFile, str] | None = None
        self.kept_plans = KeptPlans()
        self.foresight = Foresight(
            self._drawn_and_timed, self.kept_plans, lambda: self.planning, self
        )
        self.undo_stack = QUndoStack(self)
        self.undo_stack.cleanChanged.connect(self._clean_changed)
        self._planner = Runner(self)
        self._detailer = Runner(self)
        self._opener = Runner(self, QThreadPool.globalInstance())
        self._trier = Runner(self)
        self.edits = EditQueue(lambda: self.document, self._push, self)
        self._mender = Runner(self)
        self._detail_soon = QTimer(self, singleShot=True, interval=PAINTED_MS)
        self._detail_soon.timeout.connect(self._detail)

    def _clean_changed(self, _clean: bool) -> None:
        self.saved_changed.emit()

    @property
    def ensemble(self) -> Ensemble | None:
        """The parts planned as one, of which the plan is; None where it is planned by itself, and
        while they are being planned."""
        found = self._ensemble
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

        self.open_made(
            read, say("Opening {path} …", path=shown_name(path)), target, otherwise=otherwise
        )

    def open_made(
        self,
        make: Callable[[], Document],
        said: str = "",
        path: Path | None = None,
        *,
        saved: bool = True,
        otherwise: Callable[[Exception], None] | None = None,
    ) -> None:
        """Open a document that is made in a thread.

        Args:
            said: shown while it is being made.
            path: where saving goes.
            saved: False for a document that is on no disk yet.
            otherwise: gets the error if it cannot be made; None shows it.
        """
        if said:
            self.busy_changed.emit(said)

        def work() -> object:
            document = make()
            large = document.together and document.notes_n > AT_ONCE_N
            first = replace(document, together=False) if large else document
            self._took_s.clear()
            return document, self._planned(first)

        def take(result: Any) -> None:
            document, plan = result
            self.busy_changed.emit("")
            self.show_document(document, plan, path, saved=saved)
            if document.together and self.ensemble is None:  # of a large score the part comes first
                self.said.emit(tr("All parts are being planned together …"))
                self._planner.run(lambda: self._planned(document), self._take_plan, self._fail)

        def fail(error: Exception) -> None:
            self.busy_changed.emit("")
            (otherwise or self._fail)(error)

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
        for runner in (self._planner, self._trier, self._mender, self._detailer):
            runner.cancel()
        self.foresight.stop()
        self.edits.clear()
        self.document, self.plan = document, plan
        self.kept_plans.forget()  # those of what was open before
        self.kept_plans.keep(document, plan)
        self.trial, self.path = None, path
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
            self.edits.ask(make, text, otherwise or self._fail, aside=aside, then=then)

    def _push(self, before: Document, after: Document, text: str) -> None:
        self.undo_stack.push(_Edit(self, before, after, text))

    def set_document(self, document: Document) -> None:
        """Make a state of the document the present one and plan it; the undo stack calls this."""
        self._trier.cancel()
        self.foresight.stop()
        if self.trial is not None:
            self.trial = None
            self.tried.emit()
        before, self.document = self.document, document
        if before is not None and plans_alike(before, document):
            if before.sections != document.sections:
                self.form_changed.emit()
            self.homework_changed.emit()
            return
        self._detail_soon.stop()
        self._detailer.cancel()
        known = self.kept_plans.find(document)
        if known is not None:
            self._planner.cancel()
            self.kept_plans.keep(document, known)
            self._take_plan(known)
        elif before is not None and before.part is document.part and self._is_quick:
            self._plan_at_once(document)
        else:
            self._answer_at_once(before, document)
            self._planner.run(lambda: self._planned(document), self._take_plan, self._fail)

    @property
    def _is_quick(self) -> bool:
        """Whether a plan is known to be made sooner than a thread is asked to."""
        return min(self._took_s, default=1.0) < AT_ONCE_S

    def _plan_at_once(self, document: Document) -> None:
        """A short piece is planned sooner than a thread is asked to."""
        self._planner.cancel()
        try:
            plan = self._planned(document)
        except PlectrumError as error:
            self._fail(error)
            return
        self._take_plan(plan)

    def _answer_at_once(self, before: Document | None, document: Document) -> None:
        """Where all parts are planned as one, which takes a while, this one is shown at once as it
        goes with the others as they are."""
        ensemble = self._ensemble
        if before is None or ensemble is None or self._answer_s > AT_ONCE_S:
            return
        ids = [plan.part.id for plan in ensemble.plans]
        changed = before.part is not document.part or before.seats != document.seats
        if changed or not document.together or document.part_id not in ids:
            return
        from plectrum.core.planning.ensemble.ensemble import answering

        begun = time.perf_counter()
        number = ids.index(document.part_id)
        try:
            plan = answering(document.part, document.choices, ensemble, number)
            _ = plan.contact
        except PlectrumError:
            return  # it is said when all are planned
        self._answer_s = time.perf_counter() - begun
        self._take_plan(plan)

    def _drawn_and_timed(self, document: Document) -> Plan:
        begun = time.thread_time()  # a thread's own: beside the window all takes longer
        plan = drawn_plan(document)
        self._took_s.append(time.thread_time() - begun)
        return plan

    def _planned(self, document: Document) -> Plan:
        """The plan of a document, kept, and beside it the parts it is planned with; also in another
        thread."""
        plan = self._drawn_and_timed(document)
        if is_one_of_several(document):
            from plectrum.core.planning.ensemble.documents import ensemble_of

            self._ensemble = ensemble_of(document)  # kept since it was planned
        self.kept_plans.keep(document, plan)
        return plan

    def _take_plan(self, plan: Any) -> None:
        from plectrum.core.advice.comparison import changed_bars

        before, self.plan = self.plan, plan
        drawn = (self.document.score, plan.part.id) if self.document is not None else None
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

        self._detailer.run(lambda: add_details(plan), take, self._fail)

    def finished_plan(self) -> Plan:
        """The plan of the document as it is now, made here if it is still on its way.

        Raises:
            ValueError: nothing is open.
        """
        if self.document is None:
            raise ValueError("nothing is open")
        if self._planner.busy or self.plan is None:
            return drawn_plan(self.document)
        return self.plan

    def not_engraved(self, reason: str) -> None:
        """The staff of a screen cannot be drawn."""
        what = say("the staff cannot be drawn: {reason}", reason=reason)
        self.failed.emit(
            PlectrumError(what, remedy=tr("The plan itself is complete. F5 tries once more"))
        )

    def _fail(self, error: Exception) -> None:
        self.busy_changed.emit("")
        self.failed.emit(error)

    @property
    def planning(self) -> bool:
        detailing = self._detail_soon.isActive() or self._detailer.busy
        return self._planner.busy or self.edits.busy or detailing

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
        """Plan a quick part by itself as each of these changes of its pins would have it, before
        one is asked for.

        Args:
            asks: tells the changes, the likeliest first, once nothing has been asked for a moment.
        """

        def ahead() -> Iterator[Document]:
            now = self.document
            if now is None or not self._is_quick or is_one_of_several(now):
                return
            for changes in asks():
                yield now.with_choices(now.choices.repinned(changes))
                if self._took_s[-1] > FORESEEN_S:
                    return

        self.foresight.look(ahead())

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

    # trying, mending

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
        self.try_choices(self.document.choices.with_pin(head.id, pin), text)

    def try_choices(self, choices: Choices, text: str) -> None:
        """Plan with other choices and show the result without taking it."""
        if self.document is None or self.plan is None:
            return
        self.foresight.stop()
        before, current = self.document.choices, self.plan
        document = self.document.with_choices(choices)

        def work() -> object:
            from plectrum.core.advice.comparison import changed_bars

            plan = drawn_plan(document)
            return Trial(text, before, choices, plan, changed_bars(current, plan))

        self._trier.run(work, self._take_trial, self._fail)

    def _take_trial(self, trial: Any) -> None:
        self.trial = trial
        self.tried.emit()
        if self._keep_next:
            self._keep_next = False
            self.keep_trial()

    def keep_trial(self) -> bool:
        """Take what is being tried; False if nothing is."""
        if self.trial is None:
            return False
        trial = self.trial
        self.edit(lambda now: rebased(now, trial.before, trial.choices), trial.text)
        return True

    def keep_trial_when_ready(self) -> None:
        """Take what is being tried as soon as it is planned."""
        self._keep_next = self._trier.busy
        if not self._keep_next:
            self.keep_trial()

    def drop_trial(self) -> bool:
        """Go back to the plan as it was; False if nothing was being tried."""
        self._trier.cancel()
        self._keep_next = False
        if self.trial is None:
            return False
        self.trial = None
        self.tried.emit()
        return True

    def mend(self, warning: PlanWarning) -> None:
        """Find the change that makes a warning go away, and take it."""
        plan = self.plan
        if plan is None:
            return

        def take(found: Any) -> None:
            remedy, left = found
            if remedy is None:
                self.said.emit(say("No single change mends this. {left}.", left=left))
            elif plan is self.plan:
                self.edit(lambda now: rebased(now, plan.choices, remedy.choices), remedy.text)

        def find() -> object:
            from plectrum.core.advice.remedies import find_remedy, with_remedy

            return find_remedy(plan, warning), with_remedy(plan, warning).remedy

        self._mender.run(find, take, self._fail)

    @property
    def mending(self) -> bool:
        return self._mender.busy

    @property
    def shown_plan(self) -> Plan | None:
        """The plan on screen: the one being tried, else the plan."""
        return self.trial.plan if self.trial is not None else self.plan
