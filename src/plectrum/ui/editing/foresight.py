"""What the next key may ask of a part by itself, planned while nothing is asked: then it is shown
at once.

A plan at a time is made in the interface thread, between events, and after it what it would change
is painted: another thread that computes would make a press that comes just then wait for it at
every call into the toolkit.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QTimer, Signal

from plectrum.ui.editing.interpreter import something_moves
from plectrum.ui.editing.kept_plans import KeptPlans

if TYPE_CHECKING:
    from plectrum.core.document.document import Document
    from plectrum.core.planning.plan import Plan

STILL_MS = 50  # so long nothing is asked before anything is foreseen; a held arrow is quicker


class Foresight(QObject):
    """Plans documents that may be asked for, one after another, until something is.

    Signals:
        foreseen: a plan that may be asked for next, also one that was known.
    """

    foreseen = Signal(object)

    def __init__(
        self,
        plan: Callable[[Document], Plan],
        kept: KeptPlans,
        busy: Callable[[], bool],
        parent: QObject | None = None,
    ) -> None:
        """Make a foresight.

        Args:
            kept: where the plans go, and what need not be planned again.
            busy: tells whether something else is being planned, which goes first.
        """
        super().__init__(parent)
        self._plan, self._kept, self._busy = plan, kept, busy
        self._waiting: Iterator[Document] = iter(())
        self._told: Plan | None = None
        self._soon = QTimer(self, singleShot=True)
        self._soon.timeout.connect(self._next)

    @property
    def looking(self) -> bool:
        """Whether there may be more to plan."""
        return self._soon.isActive()

    def look(self, ahead: Iterable[Document]) -> None:
        """Plan these once nothing has been asked for a moment, the likeliest first."""
        self._waiting, self._told = iter(ahead), None
        self._soon.start(STILL_MS)

    def stop(self) -> None:
        """Something is asked: what was foreseen so far stays, the rest is dropped."""
        self._soon.stop()
        self._waiting, self._told = iter(()), None

    def _next(self) -> None:
        """Tell what was planned last, or plan the next."""
        if self._busy() or something_moves():
            self._soon.start(STILL_MS)
            return
        told, self._told = self._told, None
        try:
            if told is not None:
                self.foreseen.emit(told)
            else:
                self._told = self._known(next(self._waiting))
        except StopIteration:
            return
        except Exception:  # what fails says so when it is asked for
            pass
        self._soon.start(0)

    def _known(self, document: Document) -> Plan:
        plan = self._kept.find(document)
        if plan is None:
            plan = self._plan(document)
        self._kept.foresee(document, plan)
        return plan
