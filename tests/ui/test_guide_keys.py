"""Every key in the guide's table of the Bowing screen does what the table says."""

from __future__ import annotations

import re
from collections.abc import Callable

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QInputDialog

from plectrum.core.document.choices import Join
from plectrum.core.planning.fingering.grips import grips_for
from plectrum.ui.shell.main_window import MainWindow
from tests.ui.test_guide import GUIDE

TABLE = GUIDE.split("## Correcting it")[1].split("\n## ")[0]


def keys_of_the_table() -> set[str]:
    """The keys without Ctrl, Alt and F: letters, figures and signs."""
    cells = re.findall(r"^\| ([^|]+) \|", TABLE, re.MULTILINE)
    words = {w.strip("`") for cell in cells for w in re.split(r"[ ,·]+", cell) if w}
    plain = {w for w in words if len(w) == 1 and w not in "…·"}
    return plain | ({"2", "3", "4"} if {"1", "5"} <= plain else set())


def pin(w: MainWindow, note: int | None = None):
    plan = w.session.plan
    at = w.screen_of("bowing").selected if note is None else note
    return w.session.document.choices.pins.get(plan.part.notes[at].id)


def planned(w: MainWindow):
    return w.session.plan.notes[w.screen_of("bowing").selected]


def press(qtbot, w: MainWindow, key: str) -> None:
    qtbot.keyClick(w.screen_of("bowing").view, key if len(key) == 1 else Qt.Key(key))
    qtbot.waitUntil(lambda: not w.session.planning, timeout=30_000)


def unslurred(w: MainWindow) -> int:
    notes = w.session.plan.part.notes
    return next(k for k in range(4, len(notes)) if not notes[k].slurred
                and not notes[k - 1].slurred and notes[k].gap_before_s == 0)  # fmt: skip


def slurred(w: MainWindow) -> int:
    return next(k for k, note in enumerate(w.session.plan.part.notes) if note.slurred)


def with_another_finger(w: MainWindow) -> int:
    plan = w.session.plan
    return next(
        note.index for note in plan.part.notes
        if len(grips_for(plan.choices.instrument, tuple(p.midi for p in note.pitches),
                         plan.player.positions)) > 1
    )  # fmt: skip


Check = Callable[[MainWindow], bool]
# For each key: where it is pressed, and what holds after it.
DOES: dict[str, tuple[Callable[[MainWindow], int], Check]] = {
    "D": (unslurred, lambda w: planned(w).direction == "down"),
    "U": (unslurred, lambda w: planned(w).direction == "up"),
    "T": (unslurred, lambda w: planned(w).join is Join.TURN),
    "H": (unslurred, lambda w: planned(w).join is Join.HOOK),
    "R": (unslurred, lambda w: pin(w).join is Join.RETAKE),
    "S": (unslurred, lambda w: planned(w).join is Join.SLUR),
    "X": (slurred, lambda w: planned(w).join is not Join.SLUR),
    "[": (unslurred, lambda w: pin(w).start_cell is not None),
    "]": (unslurred, lambda w: pin(w).start_cell is not None),
    "-": (unslurred, lambda w: pin(w).length_cells is not None),
    "=": (unslurred, lambda w: pin(w).length_cells is not None),
    **{str(k): (unslurred, lambda w, k=k: pin(w).lane == k) for k in range(1, 6)},
    "G": (with_another_finger, lambda w: pin(w).finger is not None or pin(w).string is not None),
    "A": (unslurred, lambda w: w.session.trial is not None),
    "P": (unslurred, lambda w: not pin(w).is_empty),
    "L": (unslurred, lambda w: w.screen_of("bowing").playhead.running),
}
ELSEWHERE = {"W", "O", "B", "J", "N", "F"}  # below


def test_the_table_and_the_tests_name_the_same_keys():
    assert keys_of_the_table() == set(DOES) | ELSEWHERE


@pytest.mark.parametrize("key", sorted(DOES))
def test_it_does_what_is_said(qtbot, violin, key):
    where, holds = DOES[key]
    screen = violin.screen_of("bowing")
    at = where(violin)
    screen.select(at)
    before = violin.session.plan.notes[at]
    if key == {"down": "D", "up": "U"}[str(before.direction)]:
        press(qtbot, violin, "U" if key == "D" else "D")  # from the other way
    press(qtbot, violin, key)
    qtbot.waitUntil(lambda: bool(holds(violin)), timeout=5_000)
    if key in "[]":
        moved = violin.session.plan.notes[at].start - before.start
        assert (moved < 0) == (key == "[")
    if key in "-=":
        longer = violin.session.plan.notes[at].length_mm - before.length_mm
        assert (longer < 0) == (key == "-")
    if key == "A":
        press(qtbot, violin, "\x1b")
        assert violin.session.trial is None
    if key == "P":
        press(qtbot, violin, "P")
        assert pin(violin, at) is None or pin(violin, at).is_empty
    screen.playhead.stop()


def test_w_opens_the_words_for_places(qtbot, violin):
    screen = violin.screen_of("bowing")
    screen.select(unslurred(violin))
    qtbot.keyClick(screen.view, "W")
    qtbot.waitUntil(lambda: screen.place_menu.isVisible(), timeout=5_000)
    screen.place_menu.close()


def test_o_says_where_corrections_are_meant(qtbot, violin):
    screen = violin.screen_of("bowing")
    screen.select(unslurred(violin))
    said = []
    for _ in range(2):
        press(qtbot, violin, "O")
        said.append(violin.statusBar().currentMessage())
    assert said[0] != said[1]
    assert all(text.startswith("Corrections are meant") for text in said)


def test_sections_begin_are_named_and_joined(qtbot, violin, monkeypatch):
    screen = violin.screen_of("bowing")
    sections = len(violin.session.document.form)
    screen.select(5)
    press(qtbot, violin, "B")
    qtbot.waitUntil(lambda: len(violin.session.document.form) == sections + 1, timeout=5_000)
    monkeypatch.setattr(QInputDialog, "getText", lambda *_a, **_k: ("Gulls", True))
    press(qtbot, violin, "N")
    names = [section.name for section in violin.session.document.form]
    assert "Gulls" in " ".join(names)
    press(qtbot, violin, "J")
    qtbot.waitUntil(lambda: len(violin.session.document.form) == sections, timeout=5_000)
    screen.select(2)
    qtbot.keyClick(screen.view, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    press(qtbot, violin, "F")
    qtbot.waitUntil(lambda: any(s.figure for s in violin.session.document.form), timeout=5_000)
