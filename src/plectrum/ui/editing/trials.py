"""A choice being tried: its plan is shown, and nothing is taken until it is kept."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QObject, Signal

from plectrum.core.document.choices import Choices
from plectrum.ui.editing.planner import drawn_plan
from plectrum.ui.editing.runner import Runner

if TYPE_CHECKING:
    from plectrum.core.document.document import Document
    from plectrum.core.planning.plan import Plan


@dataclass(frozen=True, slots=True)
class Trial:
    """A plan being tried before it is taken: the choices behind it and what it would change."""

    text: str
    before: Choices
    choices: Choices
    plan: Plan
    bars: tuple[int, ...]


class Trials(QObject):
    """Signals: changed, when something is tried or nothing any more; failed with an error."""

    changed = Signal()
    failed = Signal(object)

    def __init__(self, take: Callable[[Trial], None], parent: QObject | None = None) -> None:
        """Begin with nothing tried.

        Args:
            take: makes what was tried the plan.
        """
        super().__init__(parent)
        self.trial: Trial | None = None
        self._take_it = take
        self._runner = Runner(self)
        self._keep_next = False

    def begin(self, now: Document, plan: Plan, choices: Choices, text: str) -> None:
        """Plan a document with other choices and show the result without taking it."""
        document = now.with_choices(choices)

        def work() -> object:
            from plectrum.core.advice.comparison import changed_bars

            tried = drawn_plan(document)
            return Trial(text, now.choices, choices, tried, changed_bars(plan, tried))

        self._runner.run(work, self._planned, self.failed.emit)

    def _planned(self, trial: Any) -> None:
        self.trial = trial
        self.changed.emit()
        if self._keep_next:
            self._keep_next = False
            self.keep()

    def keep(self) -> bool:
        """Take what is being tried; False if nothing is."""
        if self.trial is None:
            return False
        self._take_it(self.trial)
        return True

    def keep_when_ready(self) -> None:
        """Take what is being tried as soon as it is planned."""
        self._keep_next = self._runner.busy
        if not self._keep_next:
            self.keep()

    def drop(self) -> bool:
        """Go back to the plan as it was; False if nothing was being tried."""
        self._runner.cancel()
        self._keep_next = False
        if self.trial is None:
            return False
        self.trial = None
        self.changed.emit()
        return True
