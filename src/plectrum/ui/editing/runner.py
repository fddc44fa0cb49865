"""Work off the interface thread, of which only the newest request counts."""

from __future__ import annotations

import contextlib
from collections.abc import Callable
from functools import cache
from typing import Any

from PySide6.QtCore import QObject, QThreadPool, Signal


class _Signals(QObject):
    done = Signal(int, object)
    failed = Signal(int, object)


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
        number, signals, newest = self._number, self._signals, self._newest

        # A function, no QRunnable: one of Python's that is done before `start` comes back is
        # never let go of, with all that its work holds.
        def job() -> None:
            if not newest(number):
                return
            signal: Any = signals.done
            try:
                result: object = work()
            except Exception as error:  # handed to the interface thread, which shows it
                signal, result = signals.failed, error
            with contextlib.suppress(RuntimeError):  # the window was closed meanwhile
                signal.emit(number, result)

        self._pool.start(job)

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
