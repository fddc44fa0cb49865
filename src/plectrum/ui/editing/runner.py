"""Work off the interface thread, of which only the newest request counts."""

from __future__ import annotations

import contextlib
from collections.abc import Callable
from functools import cache
from typing import Any

from PySide6.QtCore import QObject, QRunnable, QThreadPool, Signal


class _Signals(QObject):
    done = Signal(int, object)
    failed = Signal(int, object)


class _Job(QRunnable):
    """Runs one function off the interface thread."""

    def __init__(
        self,
        number: int,
        work: Callable[[], object],
        signals: _Signals,
        wanted: Callable[[int], bool],
    ) -> None:
        super().__init__()
        self._number = number
        self._wanted = wanted
        self._work = work
        self._signals = signals

    def run(self) -> None:
        if not self._wanted(self._number):
            return
        signal: Any = self._signals.done
        try:
            result: object = self._work()
        except Exception as error:  # handed to the interface thread, which shows it
            signal, result = self._signals.failed, error
        with contextlib.suppress(RuntimeError):  # the window was closed meanwhile
            signal.emit(self._number, result)


@cache
def computing() -> QThreadPool:
    """The one thread that computes: two would only take the interpreter from each other, and
    from the window."""
    pool = QThreadPool()
    pool.setMaxThreadCount(1)
    return pool


def finish_work(limit_ms: int = 5000) -> None:
    """Nothing is computed any more when this is done: what waits is dropped, what runs ends."""
    for pool in (computing(), QThreadPool.globalInstance()):
        pool.clear()
        pool.waitForDone(limit_ms)


class Runner(QObject):
    """Runs work in a thread and hands back only the result of the newest request."""

    def __init__(self, parent: QObject | None = None, pool: QThreadPool | None = None) -> None:
        """Make a runner.

        Args:
            pool: where the work is done, for work that waits rather than computes.
        """
        super().__init__(parent)
        self._pool = pool or computing()
        self._number = 0
        self._then: Callable[[Any], None] | None = None
        self._otherwise: Callable[[Exception], None] | None = None
        self._signals = _Signals()
        self._signals.done.connect(self._done)
        self._signals.failed.connect(self._failed)

    @property
    def busy(self) -> bool:
        return self._then is not None

    def run(
        self,
        work: Callable[[], object],
        then: Callable[[Any], None],
        otherwise: Callable[[Exception], None],
    ) -> None:
        """Start work; `then` gets its result, `otherwise` its error."""
        self._number += 1
        self._then, self._otherwise = then, otherwise
        self._pool.start(_Job(self._number, work, self._signals, self._newest))

    def _newest(self, number: int) -> bool:
        """Whether a request has not been overtaken by another before it was begun."""
        return number == self._number

    def cancel(self) -> None:
        """Forget the running request; its result is dropped."""
        self._number += 1
        self._then = self._otherwise = None

    def _done(self, number: int, result: object) -> None:
        if number == self._number and self._then is not None:
            then, self._then, self._otherwise = self._then, None, None
            then(result)

    def _failed(self, number: int, error: Exception) -> None:
        if number == self._number and self._otherwise is not None:
            otherwise, self._then, self._otherwise = self._otherwise, None, None
            otherwise(error)
