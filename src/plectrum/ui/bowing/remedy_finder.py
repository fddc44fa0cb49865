"""Tries the remedies of what is listed, one after the other, while nothing else is done, and takes
one that is asked for."""

from __future__ import annotations

from functools import partial
from typing import Any

from PySide6.QtCore import QObject, QTimer, Signal

from plectrum.core.advice.plan_warning import PlanWarning
from plectrum.core.advice.remedies import find_remedy, with_remedy
from plectrum.core.document.rebase import rebased
from plectrum.core.planning.plan import Plan
from plectrum.core.wording import say
from plectrum.ui.editing.runner import Runner
from plectrum.ui.editing.session import Session

IDLE_MS = 1500  # own default: who still presses keys is not kept waiting
FOUND_N = 8  # a longer list is seldom read to its end


class RemedyFinder(QObject):
    """Signals: found with a place in the list and the warning with its tried remedy."""

    found = Signal(int, object)

    def __init__(self, session: Session, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._runner, self._mender = Runner(self), Runner(self)
        session.opened.connect(self._mender.cancel)
        self._plan: Plan | None = None
        self._left: list[tuple[int, PlanWarning]] = []
        self._soon = QTimer(self, singleShot=True, interval=IDLE_MS)
        self._soon.timeout.connect(self._next)

    @property
    def busy(self) -> bool:
        return bool(self._left) or self._runner.busy

    def look(self, plan: Plan, warnings: tuple[PlanWarning, ...]) -> None:
        """Begin with the warnings of a plan, in their order; what was asked before is dropped."""
        if plan is self._plan:
            return
        self.stop()
        self._plan, self._left = plan, list(enumerate(warnings))[:FOUND_N]
        self._soon.start()

    def stop(self) -> None:
        self._soon.stop()
        self._runner.cancel()
        self._plan, self._left = None, []

    def _next(self) -> None:
        if not self._left or self._plan is None:
            return
        index, warning = self._left.pop(0)
        self._runner.run(
            partial(with_remedy, self._plan, warning),
            partial(self._take, index),
            self._session.fail,
        )

    def _take(self, index: int, warning: Any) -> None:
        self.found.emit(index, warning)
        self._next()

    @property
    def mending(self) -> bool:
        return self._mender.busy

    def mend(self, warning: PlanWarning) -> None:
        """Find the change that makes a warning go away, and take it."""
        plan = self._session.plan
        if plan is None:
            return

        def take(found: Any) -> None:
            remedy, left = found
            if remedy is None:
                said = say("No single change mends this. {left}.", left=left)
                self._session.said.emit(said)
            elif plan is self._session.plan:
                self._session.edit(
                    lambda now: rebased(now, plan.choices, remedy.choices), remedy.text
                )

        def find() -> object:
            return find_remedy(plan, warning), with_remedy(plan, warning).remedy

        self._mender.run(find, take, self._session.fail)
