"""Work off the interface thread, of which only the newest request counts."""

from __future__ import annotations

import contextlib
from collections.abc import Callable
from functools import cache
from itertools import count
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


@cache
def keeping() -> QThreadPool:
    """The thread that keeps what is unsaved, which waits for nothing else."""
    pool = QThreadPool()
    pool.setMaxThreadCount(1)
    return pool


_Job = tuple[int, _Signals, Callable[[int], bool], Callable[[], object]]
# What a job holds is kept here and let go of in the interface thread: the thread that computes
# must not be the one in which the last hold on a widget, or on a signal's object, ends.
_jobs: dict[int, _Job] = {}
_over: list[int] = []
_keys = count()


def _let_go() -> None:
    """Jobs that are over go with all that they hold; called in the interface thread."""
    while _over:
        _jobs.pop(_over.pop(), None)


def _work_off(key: int) -> None:
    """Do a job, in the thread that computes."""
    _do(*_jobs[key])
    _over.append(key)


def _do(
    number: int, signals: _Signals, newest: Callable[[int], bool], work: Callable[[], object]
) -> None:
    if not newest(number):
        return
    signal: Any = signals.done
    try:
        result: object = work()
    except Exception as error:  # handed to the interface thread, which shows it
        signal, result = signals.failed, error
    with contextlib.suppress(RuntimeError):  # the window was closed meanwhile
        signal.emit(number, result)


def finish_work(limit_ms: int = 5000) -> None:
    """Nothing is computed any more when this is done: what waits is dropped, what runs ends."""
    for pool in (computing(), keeping(), QThreadPool.globalInstance()):
        pool.clear()
        pool.waitForDone(limit_ms)
    _jobs.clear()
    _over.clear()


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
        _let_go()
        key = next(_keys)
        _jobs[key] = self._number, self._signals, self._newest, work
        self._pool.start(lambda: _work_off(key))  # a function: a QRunnable is never let go of

    def _newest(self, number: int) -> bool:
        """Whether a request has not been overtaken by another before it was begun."""
        return number == self._number

    def cancel(self) -> None:
        """Forget the running request; its result is dropped."""
        self._number += 1
        self._then = self._otherwise = None

    def _done(self, number: int, result: object) -> None:
        _let_go()
        if number == self._number and self._then is not None:
            then, self._then, self._otherwise = self._then, None, None
            then(result)

    def _failed(self, number: int, error: Exception) -> None:
        _let_go()
        if number == self._number and self._otherwise is not None:
            otherwise, self._then, self._otherwise = self._otherwise, None, None
            otherwise(error)
