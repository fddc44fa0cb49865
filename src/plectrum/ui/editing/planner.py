"""The plan of every state of the open document: at once where it is known or quickly made, else in
a thread, where only the newest request counts."""

from __future__ import annotations

import time
from collections import deque
from collections.abc import Callable, Iterable
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QObject, Signal

from plectrum.core.errors import PlectrumError
from plectrum.ui.editing.foresight import Foresight
from plectrum.ui.editing.kept_plans import KeptPlans, is_one_of_several
from plectrum.ui.editing.runner import Runner

if TYPE_CHECKING:
    from plectrum.core.document.document import Document
    from plectrum.core.planning.ensemble.ensemble import Ensemble
    from plectrum.core.planning.plan import Plan

AT_ONCE_S = 0.08  # a plan that takes no longer is made in the interface thread
FORESEEN_S = 0.05  # nor is one foreseen that takes longer: it would be felt


def drawn_plan(document: Document) -> Plan:
    """A plan with all that is drawn of it, made where this is called."""
    from plectrum.core.planning.ensemble.documents import plan_of

    plan = plan_of(document)
    _ = plan.contact
    return plan


class Planner(QObject):
    """Plans documents.

    Signals:
        planned: the plan that was asked for last. failed: its error.
    """

    planned = Signal(object)
    failed = Signal(object)

    def __init__(self, busy: Callable[[], bool], parent: QObject | None = None) -> None:
        """Begin with nothing known.

        Args:
            busy: tells whether something is being done that goes before what is foreseen.
        """
        super().__init__(parent)
        self.ensemble: Ensemble | None = None  # the parts last planned as one
        self.kept = KeptPlans()
        self.foresight = Foresight(self._drawn_and_timed, self.kept, busy, self)
        self._runner = Runner(self)
        self._took_s: deque[float] = deque(maxlen=2)  # the last plannings of what is open
        self._answer_s = 0.0  # the last answer of one part to the others

    @property
    def busy(self) -> bool:
        return self._runner.busy

    def stop(self) -> None:
        """What was asked for is not needed any more."""
        self._runner.cancel()
        self.foresight.stop()

    def first(self, document: Document) -> Plan:
        """The plan of a document that is being opened; also in another thread."""
        self._took_s.clear()
        return self.make(document)

    def begin_with(self, document: Document, plan: Plan) -> None:
        """Another document is open, with this plan."""
        self.stop()
        self.kept.forget()  # those of what was open before
        self.kept.keep(document, plan)

    def ask(self, document: Document, before: Document | None = None) -> None:
        """Ask for the plan of a document.

        Args:
            before: the state it was made from.
        """
        self.stop()
        known = self.kept.find(document)
        if known is not None:
            self.kept.keep(document, known)
            self.planned.emit(known)
        elif before is not None and self._is_quick_after(before, document):
            self._plan_at_once(document)
        else:
            self._answer_at_once(before, document)
            self._runner.run(lambda: self.make(document), self.planned.emit, self.failed.emit)

    def foresee(self, documents: Callable[[Document], Iterable[Document]], now: Document) -> None:
        """Plan what may be asked for after the present document, if that is quickly done.

        Args:
            documents: makes them, the likeliest first, once nothing has been asked for a moment.
        """
        self.foresight.look(self._quick_ones(documents, now))

    def _quick_ones(
        self, documents: Callable[[Document], Iterable[Document]], now: Document
    ) -> Iterable[Document]:
        if not self._is_quick or is_one_of_several(now):
            return
        for document in documents(now):
            yield document
            if self._took_s[-1] > FORESEEN_S:
                return

    def make(self, document: Document) -> Plan:
        """The plan of a document, kept, and beside it the parts it is planned with; also in another
        thread."""
        plan = self._drawn_and_timed(document)
        if is_one_of_several(document):
            from plectrum.core.planning.ensemble.documents import ensemble_of

            self.ensemble = ensemble_of(document)  # kept since it was planned
        self.kept.keep(document, plan)
        return plan

    def _drawn_and_timed(self, document: Document) -> Plan:
        begun = time.thread_time()  # a thread's own: beside the window all takes longer
        plan = drawn_plan(document)
        self._took_s.append(time.thread_time() - begun)
        return plan

    @property
    def _is_quick(self) -> bool:
        """Whether a plan is known to be made sooner than a thread is asked to."""
        return min(self._took_s, default=1.0) < AT_ONCE_S

    def _is_quick_after(self, before: Document, document: Document) -> bool:
        """Whether what was planned last tells how long this one takes."""
        same = before.part is document.part
        same &= is_one_of_several(before) == is_one_of_several(document)
        return same and self._is_quick

    def _plan_at_once(self, document: Document) -> None:
        """A short piece is planned sooner than a thread is asked to."""
        try:
            plan: Any = self.make(document)
        except PlectrumError as error:
            self.failed.emit(error)
            return
        self.planned.emit(plan)

    def _answer_at_once(self, before: Document | None, document: Document) -> None:
        """Where all parts are planned as one, which takes a while, this one is shown at once as it
        goes with the others as they are."""
        ensemble = self.ensemble
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
        self.planned.emit(plan)
