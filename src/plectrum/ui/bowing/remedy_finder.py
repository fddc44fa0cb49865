"""Tries the remedies of what is listed, one after the other, while nothing else is done."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from PySide6.QtCore import QObject, QTimer, Signal

from plectrum.core.advice.plan_warning import PlanWarning
from plectrum.core.advice.remedies import with_remedy
from plectrum.core.planning.plan import Plan
from plectrum.ui.editing.runner import Runner

IDLE_MS = 1500  # own default: who still presses keys is not kept waiting
FOUND_N = 8  # a longer list is seldom read to its end


class RemedyFinder(QObject):
    """Signals: found with a place in the list and the warning with its tried remedy."""

    found = Signal(int, object)

    def __init__(self, failed: Callable[[Exception], None], parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._failed = failed
        self._runner = Runner(self)
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
            partial(with_remedy, self._plan, warning), partial(self._take, index), self._failed
        )

    def _take(self, index: int, warning: Any) -> None:
        self.found.emit(index, warning)
        self._next()
