"""Random keys on every screen: whatever is pressed, nothing breaks and everything is undone."""

from __future__ import annotations

import random

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFileDialog

from plectrum.demo import demo_paths
from plectrum.ui.shell.screens import SCREENS

KEYS = "abcdefg123468.r#-nts'^_<>{}"
SHOW_KEYS = " lycmnvtf+-"
PRACTICE_KEYS = "sgauh"
BOWING_KEYS = "dutHrsx[]-=12345gapl"
CONTROL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier
MOVES = (
    Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Home, Qt.Key.Key_End, Qt.Key.Key_Up,
    Qt.Key.Key_Down, Qt.Key.Key_Backspace, Qt.Key.Key_Delete, Qt.Key.Key_Escape,
    Qt.Key.Key_Return, Qt.Key.Key_Space,
)  # fmt: skip


def idle(window) -> bool:
    return not (window.session.planning or window.screen_of("piece").typing.busy)


def step(qtbot, window, rng: random.Random) -> None:
    """One random thing a teacher, or a child at the keyboard, may do."""
    screen = rng.choice([kind.key for kind in SCREENS])
    kind = rng.random()
    target = window.shown.focus_target
    target = target.focusProxy() or target
    if kind < 0.12:
        window.show_screen(screen)
    elif kind < 0.40:
        modifier = rng.choice([Qt.KeyboardModifier.NoModifier, SHIFT, CONTROL])
        qtbot.keyClick(target, rng.choice(MOVES), modifier)
    elif kind < 0.80:
        keys = {"bowing": BOWING_KEYS, "show": SHOW_KEYS, "practice": PRACTICE_KEYS}.get(
            window.settings.screen, KEYS
        )
        qtbot.keyClicks(target, rng.choice(keys))
    elif kind < 0.86:
        stack = window.session.undo_stack
        rng.choice([stack.undo, stack.redo])()
    elif kind < 0.90:
        bar = window.screen_of("bowing").compare_bar
        if not window.screen_of("bowing").comparing:
            window.show_screen("bowing")
            window.screen_of("bowing").start_comparing()
        else:
            bar.kind.setCurrentIndex(rng.randrange(bar.kind.count()))
            bar.kind.activated.emit(bar.kind.currentIndex())
    elif kind < 0.94:
        window.zoom(rng.choice([-1, 0, 1]))
    elif kind < 0.97:
        form = window.screen_of("piece").head
        combo = rng.choice([form.metre, form.pickup, form.key, form.instrument])
        if combo.count():
            combo.setCurrentIndex(rng.randrange(combo.count()))
            combo.activated.emit(combo.currentIndex())
    else:
        header = window.header
        header.tempo.setValue(rng.choice([40, 80, 160]))
        header.player.activated.emit(rng.randrange(3))


@pytest.mark.parametrize("seed", range(3))
def test_random_work_breaks_nothing_and_is_undone(qtbot, opened, tmp_path, monkeypatch, seed):
    """After it all the plan is the document's, every step is undone, and a save reopens alike."""
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: ("", ""))
    rng = random.Random(seed)
    window = opened(demo_paths()[seed % 4])
    for _ in range(70):
        step(qtbot, window, rng)
        if rng.random() < 0.5:
            qtbot.waitUntil(lambda: idle(window), timeout=30_000)
    qtbot.waitUntil(lambda: idle(window), timeout=30_000)
    window.session.trials.drop()
    document, plan = window.session.document, window.session.plan
    assert [n.id for n in plan.part.notes] == [n.id for n in document.part.notes]
    assert plan.choices == document.choices
    told = window.error_box
    assert told is None, f"{told.text()} {told.informativeText()}"
    target = tmp_path / "worked.plectrum"
    window.session.save(target)
    with qtbot.waitSignal(window.session.opened, timeout=30_000):
        window.open_path(target)
    qtbot.waitUntil(lambda: idle(window), timeout=30_000)
    again = window.session.plan
    assert [(p and (p.direction, p.join, p.start, p.end)) for p in again.notes] == [
        (p and (p.direction, p.join, p.start, p.end)) for p in plan.notes
    ]


@pytest.mark.parametrize("seed", range(2))
def test_random_work_is_undone_to_the_first_document(qtbot, opened, seed):
    rng = random.Random(100 + seed)
    window = opened(demo_paths()[seed % 4])
    first = window.session.document
    for _ in range(30):
        step(qtbot, window, rng)
        qtbot.waitUntil(lambda: idle(window), timeout=30_000)
    window.session.trials.drop()
    while window.session.undo_stack.canUndo():
        window.session.undo_stack.undo()
    qtbot.waitUntil(lambda: idle(window), timeout=30_000)
    assert window.session.document is first
    assert not window.session.unsaved
