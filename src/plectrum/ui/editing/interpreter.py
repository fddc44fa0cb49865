"""How the interpreter shares its time between the window and the threads that plan.

Three habits of it would be felt. A thread that computes gives way only every few milliseconds, and
every call into the toolkit has to wait for that. Unreachable objects are destroyed in whatever
thread happens to allocate, which must never happen to a widget. And the system's allocator keeps
what the planner's large tables took: it is asked to give that back.
"""

from __future__ import annotations

import ctypes
import gc
import sys

from PySide6.QtCore import QObject, QTimer

SWITCH_S = 0.0002  # how long a computing thread may keep the window waiting
LOOK_MS = 1000
YOUNG_N = 5_000  # objects made since the last look before the young ones are looked through
FULL_EVERY = 300  # looks before all objects are looked through
GIVE_BACK_EVERY = 30  # looks before free memory is given back to the system
ARENAS_N = 2  # heaps of the allocator; one a thread would each keep its own free memory
_M_ARENA_MAX = -8  # of the C library (malloc.h)


_held: set[int] = set()


def hold_collection(owner: QObject, hold: bool) -> None:
    """No looking through objects while something moves on the screen: it would be seen."""
    if hold:
        _held.add(id(owner))
    else:
        _held.discard(id(owner))


def something_moves() -> bool:
    """Whether what takes a while would be seen on the screen."""
    return bool(_held)


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
        if something_moves():
            return
        self._looks += 1
        if self._looks % GIVE_BACK_EVERY == 0:
            give_back()
        if self._looks % FULL_EVERY == 0:
            gc.collect()
        elif gc.get_count()[0] > YOUNG_N:
            gc.collect(1)


def _allocator() -> ctypes.CDLL | None:
    """The C library, where it has what is asked of it here."""
    library = ctypes.CDLL(None)
    return library if hasattr(library, "malloc_trim") else None


def give_back() -> None:
    """Give free memory back to the system: some milliseconds."""
    library = _allocator()
    if library is not None:
        library.malloc_trim(0)


def settle_interpreter(owner: QObject) -> None:
    """Put both habits right for an application; called once."""
    sys.setswitchinterval(SWITCH_S)
    library = _allocator()
    if library is not None:
        library.mallopt(_M_ARENA_MAX, ARENAS_N)
    if owner.findChild(GarbageCollector) is None:
        GarbageCollector(owner)
