"""What the next key may ask is planned while nothing is asked."""

from __future__ import annotations

from functools import partial

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from plectrum.core.document.choices import Pin
from plectrum.core.errors import PlectrumError
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.score.model import Direction
from plectrum.ui.editing import planner
from plectrum.ui.editing.foresight import Foresight
from plectrum.ui.editing.interpreter import hold_collection
from plectrum.ui.editing.kept_plans import KeptPlans
from tests.core.planning.rule_examples import forget_everything
from tests.tunes import score_xml, tune_document
from tests.ui.conftest import wait_planned


def wait_foreseen(qtbot, window) -> None:
    wait_planned(qtbot, window)
    qtbot.wait(30)  # the panel follows the music
    qtbot.waitUntil(lambda: not window.session.planner.foresight.looking)


@pytest.fixture
def pressed(qtbot, violin, monkeypatch):
    """A window in which a key has been pressed, so that a plan is known to be quick, however busy
    the machine is."""
    monkeypatch.setattr(planner, "AT_ONCE_S", 60.0)
    monkeypatch.setattr(planner, "FORESEEN_S", 60.0)
    screen = violin.screen_of("bowing")
    screen.select(9)
    for key in (Qt.Key.Key_U, Qt.Key.Key_D):
        QTest.keyClick(screen.view, key)
        wait_planned(qtbot, violin)
    return violin


@pytest.mark.parametrize("key", [Qt.Key.Key_U, Qt.Key.Key_S, Qt.Key.Key_H, Qt.Key.Key_R])
def test_a_key_takes_the_plan_that_was_foreseen(qtbot, pressed, monkeypatch, key):
    wait_foreseen(qtbot, pressed)
    session = pressed.session
    before = session.plan
    planned = []
    monkeypatch.setattr(session.planner, "make", planned.append)
    QTest.keyClick(pressed.screen_of("bowing").view, key)
    assert session.plan is not before
    assert session.plan.choices == session.document.choices != before.choices
    assert not planned
    forget_everything()
    afresh = plan_of(session.document)
    assert session.plan.notes == afresh.notes
    assert session.plan.total_cost == afresh.total_cost
    session.undo_stack.undo()
    assert session.plan is before


def test_what_is_asked_goes_first(qtbot, pressed, monkeypatch):
    """A key ends what is being foreseen; its own plan is made at once."""
    session = pressed.session
    qtbot.waitUntil(lambda: session.planner.foresight.looking)
    QTest.keyClick(pressed.screen_of("bowing").view, Qt.Key.Key_H)
    assert not session.planner.foresight.looking
    assert session.plan.choices == session.document.choices


def test_parts_planned_as_one_are_not_foreseen(qtbot, opened, tmp_path):
    path = tmp_path / "quartet.musicxml"
    path.write_bytes(score_xml({"Violin": "A4 B4 C#5 D5", "Cello": "D3 E3 F#3 G3"}))
    window = opened(path)
    session = window.session
    wait_planned(qtbot, window)
    assert session.document.together
    session.planner._took_s.append(0.001)
    asked = []
    session.foresee(partial(asked.append, 1))
    qtbot.waitUntil(lambda: not session.planner.foresight.looking)
    assert not asked


def test_commands_tell_what_they_would_ask(qtbot, violin):
    screen = violin.screen_of("bowing")
    screen.select(9)
    document, said = violin.session.document, []
    screen.message.connect(said.append)
    (asked,) = screen.commands.would_ask([lambda c: c.direction(Direction.UP)])
    note = document.part.notes[9].id
    assert asked[note](violin.session.pin_of(note)).direction is Direction.UP
    assert violin.session.document is document
    assert not said
    assert not screen.commands.also
    screen.commands.direction(Direction.UP)
    assert violin.session.document.choices == document.choices.repinned(asked)


def test_it_waits_while_something_is_planned_or_moves_and_passes_over_errors(qtbot):
    documents = [tune_document(bars) for bars in ("A4*4", "B4*4", "D5*4", "E5*4")]
    kept, busy = KeptPlans(), [True]
    errors = {id(documents[0]): PlectrumError("cannot be planned"), id(documents[2]): IndexError()}

    def plan(document):
        if id(document) in errors:
            raise errors[id(document)]
        return plan_of(document)

    foresight = Foresight(plan, kept, lambda: bool(busy))
    foresight.look(documents)
    qtbot.wait(150)
    assert foresight.looking
    assert kept.find(documents[1]) is None
    busy.clear()
    hold_collection(foresight, True)
    qtbot.wait(150)
    assert kept.find(documents[1]) is None
    hold_collection(foresight, False)
    qtbot.waitUntil(lambda: not foresight.looking)
    assert [kept.find(d) is None for d in documents] == [True, False, True, False]


def test_what_was_foreseen_never_takes_the_place_of_what_was_shown():
    kept = KeptPlans()
    shown = tune_document("A4*4")
    plan = plan_of(shown)
    kept.keep(shown, plan)
    others = [tune_document(f"A4*{k} B4*{8 - k}") for k in range(1, 8)]
    for other in others:
        kept.foresee(other, plan_of(other))
    assert kept.find(shown) is plan
    assert kept.find(others[0]) is None  # the oldest of seven
    again = kept.find(others[1])
    kept.foresee(others[1], again)
    kept.foresee(others[0], plan_of(others[0]))
    assert kept.find(others[1]) is again
    assert kept.find(others[2]) is None
    tables = plan.solution.onward
    kept.foresee(shown, plan)
    assert plan.solution.onward is tables  # of what is shown nothing is given back
    assert kept.find(others[-1]) is not None


def test_a_plan_of_the_same_strokes_takes_nothing_from_the_one_that_is_shown():
    kept = KeptPlans()
    before = tune_document("A4 B4 C5 D5")
    note = before.part.notes[1].id
    lanes = [before.with_choices(before.choices.with_pin(note, Pin(lane=k))) for k in (2, 4)]
    shown, ahead = plan_of(lanes[0]), plan_of(lanes[1])
    kept.keep(before, plan_of(before))
    kept.keep(lanes[0], shown)
    tables = shown.solution.onward
    kept.keep(lanes[0], shown)
    kept.foresee(lanes[1], ahead)
    assert shown.solution.onward is tables
