"""Work done aside is let go of once it is done, however quick it was."""

from __future__ import annotations

import gc
import weakref

import pytest
from PySide6.QtCore import QThreadPool

from plectrum.ui.editing.runner import Runner, computing


class Held:
    """Something that work holds on to."""


@pytest.mark.parametrize("pool", [computing, QThreadPool.globalInstance])
def test_what_work_held_is_let_go_of(qtbot, qapp, pool):
    runner = Runner(None, pool())
    held, done = [], []
    for _ in range(60):
        thing = Held()
        held.append(weakref.ref(thing))
        runner.run(lambda thing=thing: repr(thing), done.append, done.append)
        del thing
        qtbot.waitUntil(lambda: not runner.busy)
    pool().waitForDone()
    gc.collect()
    assert sum(ref() is not None for ref in held) <= 1
    assert len(done) == 60
