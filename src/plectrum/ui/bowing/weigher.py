"""Plans each alternative of the selected note anew, while nothing else is done, where what was
known of it at once may be wrong."""

from __future__ import annotations

from functools import partial
from typing import Any

from PySide6.QtCore import QObject, QTimer, Signal

from plectrum.core.planning.plan import Plan
from plectrum.ui.editing.runner import Runner
from plectrum.ui.editing.session import Session

IDLE_MS = 300  # own default: who walks through the notes does not stay on each


class Weigher(QObject):
    """Signals: weighed with a plan, a note and the alternatives of its bow."""

    weighed = Signal(object, int, object)

    def __init__(self, session: Session, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._runner = Runner(self)
        self._asked: tuple[Plan, int] | None = None
        self._soon = QTimer(self, singleShot=True, interval=IDLE_MS)
        self._soon.timeout.connect(self._begin)

    @property
    def busy(self) -> bool:
        return self._soon.isActive() or self._runner.busy

    def weigh(self, plan: Plan, note: int) -> None:
        """Begin with a note soon; what was asked before is dropped."""
        self.stop()
        self._asked = plan, note
        self._soon.start()

    def stop(self) -> None:
        self._soon.stop()
        self._runner.cancel()
        self._asked = None

    def _begin(self) -> None:
        if self._asked is None:
            return
        plan, note = self._asked
        unit = plan.unit_of(note)
        if unit is not None:
            self._runner.run(
                partial(plan.alternatives, unit),
                partial(self._take, plan, note),
                self._session.fail,
            )

    def _take(self, plan: Plan, note: int, found: Any) -> None:
        self.weighed.emit(plan, note, found)
