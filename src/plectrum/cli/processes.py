"""Many tunes in several processes at once."""

from __future__ import annotations

import os
import signal
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from multiprocessing import parent_process
from multiprocessing.connection import wait
from threading import Thread
from typing import TypeVar

from plectrum.core.errors import PlectrumError
from plectrum.core.outputs import Outputs, begin, held
from plectrum.core.own_process import own_pool
from plectrum.core.wording import tr

Task = TypeVar("Task")
Done = TypeVar("Done")


def in_processes(work: Callable[[Task], Done], tasks: Sequence[Task], jobs: int) -> Iterator[Done]:
    """What comes of every task, in their order.

    Args:
        work: picklable.

    Raises:
        PlectrumError: a process that worked was ended from outside.
    """
    pool = ProcessPoolExecutor(
        jobs,
        mp_context=own_pool(),
        initializer=_begin,
        initargs=(held(),),
    )
    with pool:
        try:
            yield from pool.map(work, tasks)
        except BrokenProcessPool as error:
            raise PlectrumError(
                tr("a process that was working has ended; perhaps there was not enough memory"),
                remedy=tr("Try again with --jobs 1; what is written stays"),
            ) from error
        finally:
            pool.shutdown(wait=False, cancel_futures=True)


def _begin(rule: Outputs | None) -> None:
    """A process of the pool: its caller's rule for outputs holds, a break is for the caller, and
    without it there is nothing to do."""
    begin(rule)
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    caller = parent_process()
    if caller is not None:
        Thread(target=lambda: (wait([caller.sentinel]), os._exit(1)), daemon=True).start()
