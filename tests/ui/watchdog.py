"""Measures how long the interface thread is away from its event loop."""

from __future__ import annotations

import time

from PySide6.QtCore import QObject, QTimer

TICK_MS = 5


class Watchdog(QObject):
    """Ticks in the interface thread; the longest pause between two ticks is what it was blocked.

    `worst_cpu_ms` counts only this thread's own work, so that a busy machine does not matter;
    `worst_ms` is by the clock.
    """

    def __init__(self) -> None:
        super().__init__()
        self.worst_ms = 0.0
        self.worst_cpu_ms = 0.0
        self._wall = self._cpu = 0.0
        self._timer = QTimer(self, interval=TICK_MS)
        self._timer.timeout.connect(self._tick)

    def start(self) -> Watchdog:
        self.worst_ms = self.worst_cpu_ms = 0.0
        self._wall, self._cpu = time.perf_counter(), time.thread_time()
        self._timer.start()
        return self

    def stop(self) -> None:
        self._tick()
        self._timer.stop()

    def _tick(self) -> None:
        wall, cpu = time.perf_counter(), time.thread_time()
        self.worst_ms = max(self.worst_ms, (wall - self._wall) * 1e3 - TICK_MS)
        self.worst_cpu_ms = max(self.worst_cpu_ms, (cpu - self._cpu) * 1e3)
        self._wall, self._cpu = wall, cpu


REFERENCE_S = 0.030  # what `slowness` takes on the two-core machine the limit was set on


def slowness() -> float:
    """How much slower than the reference this machine is just now, never below 1: machines
    that are shared slow down by a factor of two and more for minutes."""
    times = []
    for _ in range(3):
        begun = time.perf_counter()
        total = 0
        for k in range(300_000):
            total += k & 7
        times.append(time.perf_counter() - begun)
    return max(1.0, min(times) / REFERENCE_S)
