"""How Plectrum starts itself once more: one way, in which nothing that lies about is a module.

Python looks for modules, also for those of its own library, first in the current folder, and that
is where somebody's tunes are.
"""

from __future__ import annotations

import os
import sys
from multiprocessing import forkserver, get_context
from multiprocessing.context import BaseContext

_SAFE = "PYTHONSAFEPATH"
ISOLATED = "-I"  # neither the current folder, nor the user's, nor PYTHON… in the environment


def own_command(module: str, *words: str) -> tuple[str, list[str]]:
    """The program and the words that run a module of ours in a process of its own."""
    return sys.executable, [ISOLATED, "-m", module, *words]


def own_pool() -> BaseContext:
    """In what a pool of processes is to be made. The one that forks them begins as this did; where
    that was not isolated, it is told to leave the current folder alone."""
    before = os.environ.get(_SAFE)
    os.environ[_SAFE] = "1"
    try:
        forkserver.ensure_running()
    finally:
        if before is None:
            del os.environ[_SAFE]
    return get_context("forkserver")
