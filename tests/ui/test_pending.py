"""While a plan is on its way the document is newer than what is shown: what needs both gets them as
one value. A longer hand does the same in `tests/fuzzing/monkey.py --pending`."""

from __future__ import annotations

import random

import pytest
from PySide6.QtWidgets import QFileDialog

from plectrum.core.document.choices import Pin
from plectrum.core.files.marking import Marking
from plectrum.ui.editing import planner


@pytest.fixture
def late(violin, monkeypatch, tmp_path):
    """A window whose plans are all made aside; files go where nothing is yet."""
    monkeypatch.setattr(planner, "AT_ONCE_S", 0.0)
    names = iter(range(10_000))
    monkeypatch.setattr(
        QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(tmp_path / f"{next(names)}"), "")
    )
    return violin


def belongs(session) -> bool:
    document, plan = session.both
    return [n.id for n in plan.part.notes] == [n.id for n in document.part.notes]


@pytest.mark.parametrize("seed", range(2))
def test_edits_and_everything_asked_for_at_once(qtbot, late, tmp_path, seed):
    luck, session = random.Random(seed), late.session
    bowing, show = late.screen_of("bowing"), late.screen_of("show")
    handout = late.screen_of("handout").handing_out

    def fewer_notes() -> None:
        ids = [note.id for note in session.document.part.notes][luck.randrange(1, 30) :]
        session.edit_score(lambda editor: editor.delete(ids), "fewer notes")

    edits = (
        fewer_notes,
        session.undo_stack.undo,
        lambda: session.pin(session.plan.part.notes[0].id, Pin(lane=luck.randrange(1, 6)), "lane"),
    )
    asks = (
        bowing.copy, late.exporter.csv, handout.save_svg,
        lambda: late.exporter._export_marked(Marking()),
        lambda: late.exporter.midi(show.performance_now()),
        lambda: (bowing.start_comparing(), bowing.stop_comparing()),
    )  # fmt: skip
    for _ in range(60):
        luck.choice(edits)()
        luck.choice(asks)()
        assert belongs(session)
        if luck.random() < 0.3:
            qtbot.wait(luck.choice((0, 20)))
    qtbot.waitUntil(lambda: not session.planning, timeout=30_000)
    assert session.both[0] is session.document
    assert late.error_box is None, late.error_box.text()


def test_an_export_is_of_what_was_asked_for_last(qtbot, late, tmp_path):
    """Not of what is still shown."""
    session = late.session
    note = session.plan.part.notes[3]
    session.pin(note.id, Pin(direction=session.plan.notes[3].direction.other), "the other way")
    assert session.both[0] is not session.document
    finished = session.finished()
    assert finished.document is session.document
    assert finished.plan.choices == session.document.choices
