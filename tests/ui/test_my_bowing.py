"""My bowing in the School menu: learnt from kept plans, used, explained and forgotten."""

from __future__ import annotations

import pytest
from PySide6.QtWidgets import QFileDialog

from plectrum.core.document.choices import Pin
from plectrum.core.files.planfile import save_document
from plectrum.core.planning.rules import LEARNT_FIGURES
from plectrum.core.score.model import Direction
from tests.tunes import tune_document, tune_xml
from tests.ui.conftest import wait_planned

JIG = "A4 B4*1/2 C#5 D5*1/2|E5 D5*1/2 C#5 B4*1/2|A4 B4*1/2 A4 B4*1/2|A4*3/2 D5*3/2"


@pytest.fixture
def jig(qtbot, opened, tmp_path):
    path = tmp_path / "new.musicxml"
    path.write_bytes(tune_xml(JIG, "6/8"))
    return opened(path)


def learn(qtbot, window, tmp_path, monkeypatch, answer=True):
    document = tune_document(JIG, "6/8")
    pins = {n.id: Pin(Direction.UP) for n in document.part.notes if n.beat == 4}
    kept = tmp_path / "kept.plectrum"
    save_document(document.with_choices(document.choices.with_pins(pins)), kept)
    asked = []
    monkeypatch.setattr(QFileDialog, "getOpenFileNames", lambda *_a, **_k: ([str(kept)], ""))
    mine = window.my_bowing
    monkeypatch.setattr(mine, "ask", lambda q, words: asked.append((q, words)) or answer)
    mine.ask_learn()
    qtbot.waitUntil(lambda: bool(asked) and not mine.learning, timeout=30_000)
    wait_planned(qtbot, window)
    return asked


def test_it_is_learnt_used_taken_off_and_forgotten(qtbot, jig, tmp_path, monkeypatch):
    menu, session = jig.menus.school_menu, jig.session
    menu._show_mine()
    assert not menu.use_mine.isEnabled()
    before = session.plan.steps
    ((question, words),) = learn(qtbot, jig, tmp_path, monkeypatch)
    assert question == "Keep this as my bowing?"
    assert "the middle of a compound bar: up" in words
    assert "In this piece it changes" in words
    menu._show_mine()
    assert menu.use_mine.isChecked()
    assert session.plan.steps != before
    menu.use_mine.trigger()
    wait_planned(qtbot, jig)
    assert session.plan.steps == before
    menu.use_mine.trigger()
    wait_planned(qtbot, jig)
    told = []
    monkeypatch.setattr(jig.my_bowing, "tell", lambda title, words: told.append(words))
    menu.explain_mine.trigger()
    qtbot.waitUntil(lambda: bool(told), timeout=30_000)
    assert "Learnt from 4 pinned bows in 1 plan" in told[0]
    menu.forget_mine.trigger()
    wait_planned(qtbot, jig)
    assert session.plan.steps == before
    menu._show_mine()
    assert not menu.use_mine.isEnabled()
    session.undo_stack.undo()
    wait_planned(qtbot, jig)
    assert session.document.choices.bowing is not None


def test_what_is_not_wanted_is_not_kept(qtbot, jig, tmp_path, monkeypatch):
    learn(qtbot, jig, tmp_path, monkeypatch, answer=False)
    assert not jig.my_bowing.is_there
    assert jig.session.document.choices.bowing is None


def test_what_print_has_taught_is_said_with_its_figures(jig, monkeypatch):
    told = []
    monkeypatch.setattr(jig.my_bowing, "tell", lambda title, words: told.append(words))
    jig.my_bowing.explain_print()
    assert f"{LEARNT_FIGURES['marks_n']:,} printed signs" in told[0]
