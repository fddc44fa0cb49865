"""How the interpreter shares its time between the window and the threads that plan.

Two habits of it would be felt. A thread that computes gives way only every few milliseconds, and
every call into the toolkit has to wait for that. And unreachable objects are destroyed in whatever
thread happens to allocate, which must never happen to a widget.
"""

from __future__ import annotations

import gc
import sys

from PySide6.QtCore import QObject, QTimer

SWITCH_S = 0.0002  # how long a computing thread may keep the window waiting
LOOK_MS = 1000
YOUNG_N = 5_000  # objects made since the last look before the young ones are looked through
FULL_EVERY = 300  # looks before all objects are looked through


_held: set[int] = set()


def hold_collection(owner: QObject, hold: bool) -> None:
    """No looking through objects while something moves on the screen: it would be seen."""
    if hold:
        _held.add(id(owner))
    else:
        _held.discard(id(owner))


class GarbageCollector(QObject):
    """Looks for unreachable objects in the interface thread only, a little at a time."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        gc.disable()
        gc.freeze()  # what is loaded by now stays and is not looked through again
        self._looks = 0
        self._timer = QTimer(self, interval=LOOK_MS)
        self._timer.timeout.connect(self._look)
        self._timer.start()

    def _look(self) -> None:
        if _held:
            return
        self._looks += 1
        if self._looks % FULL_EVERY == 0:
            gc.collect()
        elif gc.get_count()[0] > YOUNG_N:
            gc.collect(1)


def settle_interpreter(owner: QObject) -> None:
    """Put both habits right for an application; called once."""
    sys.setswitchinterval(SWITCH_S)
    if owner.findChild(GarbageCollector) is None:
        GarbageCollector(owner)
