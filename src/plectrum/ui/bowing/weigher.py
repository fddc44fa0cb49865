"""Plans each alternative of the selected note anew, while nothing else is done, where what was
known of it at once may be wrong."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from typing import Any

from PySide6.QtCore import QObject, QTimer, Signal

from plectrum.core.planning.plan import Alternative, Plan, in_order
from plectrum.ui.editing.interpreter import something_moves
from plectrum.ui.editing.runner import Runner
from plectrum.ui.editing.session import Session

IDLE_MS = 1000  # own default: who walks through the notes, or corrects, does not stay on each


class Weigher(QObject):
    """Signals: weighed with a plan, a note and the alternatives of its bow.

    One alternative is planned at a time, and none while something is asked, foreseen or moved: a
    key that is pressed meanwhile waits for one at most.
    """

    weighed = Signal(object, int, object)

    def __init__(self, session: Session, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._runner = Runner(self)
        self._asked: tuple[Plan, int, int] | None = None
        self._waiting: Iterator[Alternative] = iter(())
        self._found: list[Alternative] = []
        self._soon = QTimer(self, singleShot=True)
        self._soon.timeout.connect(self._next)

    @property
    def busy(self) -> bool:
        return self._soon.isActive() or self._runner.busy

    def weigh(self, plan: Plan, note: int) -> None:
        """Begin with a note soon; what was asked before is dropped."""
        self.stop()
        unit = plan.unit_of(note)
        if unit is not None:
            self._asked = plan, note, unit
            self._waiting, self._found = iter(plan.alternatives_at_once(unit)), []
            self._soon.start(IDLE_MS)

    def stop(self) -> None:
        self._soon.stop()
        self._runner.cancel()
        self._asked = None

    def _next(self) -> None:
        """Weigh one more, or tell of all."""
        if self._asked is None:
            return
        planner = self._session.planner
        if self._session.planning or planner.foresight.looking or something_moves():
            self._soon.start(IDLE_MS)
            return
        plan, note, unit = self._asked
        alternative = next(self._waiting, None)
        if alternative is None:
            self.weighed.emit(plan, note, in_order(self._found))
            return
        work = partial(plan.priced_anew, unit, alternative)
        self._runner.run(work, self._take, self._session.fail)

    def _take(self, found: Any) -> None:
        self._found.append(found)
        self._soon.start(0)
