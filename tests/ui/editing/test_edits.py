"""No edit is lost: whatever is asked for while others are made, in the order it was asked."""

from __future__ import annotations

import time
from dataclasses import replace
from functools import partial

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from plectrum.core.document.choices import Pin
from plectrum.core.document.rebase import rebased
from plectrum.core.errors import ChoiceError
from plectrum.core.files.planfile import document_bytes
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.player.player import STAGES, stage
from plectrum.core.player.school import AmountSchool, DirectionSchool, DottedSchool
from plectrum.core.score.model import Direction
from plectrum.ui.editing.session import Session
from tests.tunes import tune_document
from tests.ui.conftest import wait_planned

TUNE = "A4 B4*1/2 C#5*1/2 D5*2|E5 D5 C#5 B4|A4*4"


def opened_session() -> Session:
    session = Session()
    document = tune_document(TUNE)
    session.show_document(document, plan_of(document), None)
    return session


def pin_direction(session: Session, note: int, way: Direction) -> None:
    ids = session.document.part.notes
    session.repin({ids[note % len(ids)].id: partial(replace, direction=way)}, "way")


def pin_place(session: Session, note: int, cell: int) -> None:
    ids = session.document.part.notes
    session.repin({ids[note % len(ids)].id: partial(replace, start_cell=cell)}, "place")


def let_go(session: Session) -> None:
    session.let_go_all()


def choose_player(session: Session, name: str) -> None:
    session.edit(lambda c: replace(c, player=stage(name)), "player")


def choose_school(session: Session, question: str, answer: object) -> None:
    session.edit(lambda c: c.with_school(question, answer), "school")


def type_dynamic(session: Session, note: int, name: str, slow_s: float) -> None:
    """A slow edit of the written notes."""
    ids = [n.id for n in session.document.part.notes]

    def work(editor: object) -> None:
        time.sleep(slow_s)
        editor.set_dynamic(ids[note % len(ids)], name)

    session.edit_score(work, "dynamic")


def write_letter(session: Session, text: str) -> None:
    session.change(lambda d: d.with_homework(replace(d.homework, letter=text)), "letter")


def keep_variant(session: Session, name: str) -> None:
    session.change(lambda d: d.with_variant(name, d.choices), "variant")


def fail(session: Session) -> None:
    """An edit that is refused takes nothing with it."""

    def refuse(document: object) -> object:
        raise ChoiceError("no")

    session.change(refuse, "refused")


SCHOOLS = [
    *(("direction", a) for a in DirectionSchool),
    *(("amount", a) for a in AmountSchool),
    *(("dotted", a) for a in DottedSchool),
]
NOTES = st.integers(0, 8)
ACTIONS = st.one_of(
    st.builds(
        lambda n, w: partial(pin_direction, note=n, way=w), NOTES, st.sampled_from(Direction)
    ),
    st.builds(lambda n, c: partial(pin_place, note=n, cell=c), NOTES, st.integers(4, 40)),
    st.just(let_go),
    st.builds(lambda s: partial(choose_player, name=s), st.sampled_from(STAGES)),
    st.builds(
        lambda s: partial(choose_school, question=s[0], answer=s[1]), st.sampled_from(SCHOOLS)
    ),
    st.builds(
        lambda n, d, s: partial(type_dynamic, note=n, name=d, slow_s=s),
        NOTES,
        st.sampled_from(["p", "f", "mf"]),
        st.sampled_from([0.0, 0.01]),
    ),
    st.builds(
        lambda t: partial(write_letter, text=t), st.sampled_from(["", "slowly", "well done"])
    ),
    st.builds(lambda t: partial(keep_variant, name=t), st.sampled_from(["one", "two"])),
    st.just(fail),
)


@settings(max_examples=25, deadline=None, suppress_health_check=list(HealthCheck))
@given(actions=st.lists(ACTIONS, min_size=2, max_size=12))
def test_edits_without_waiting_are_those_one_after_another(themed, actions):
    """Random edits, slow and quick ones mixed, give the same document either way."""
    at_once, one_by_one = opened_session(), opened_session()
    for action in actions:
        action(at_once)
        action(one_by_one)
        one_by_one.settle()
    at_once.settle()
    assert not at_once.edits.busy
    assert document_bytes(at_once.document) == document_bytes(one_by_one.document)
    assert at_once.undo_stack.count() == one_by_one.undo_stack.count()


def test_a_pin_set_while_a_sign_is_written_is_kept(themed):
    session = opened_session()
    note = session.document.part.notes[2]
    type_dynamic(session, 0, "f", 0.05)
    session.pin(note.id, Pin(direction=Direction.UP), "up")
    type_dynamic(session, 3, "p", 0.0)
    session.settle()
    assert session.document.choices.pins[note.id].direction is Direction.UP
    assert [n.dynamic for n in session.document.part.notes][:4] == ["f", "f", "f", "p"]


def test_an_edit_being_made_is_made_anew_after_an_undo(themed):
    """What is undone meanwhile stays undone."""
    session = opened_session()
    note = session.document.part.notes[1]
    session.pin(note.id, Pin(lane=2), "lane 2")
    type_dynamic(session, 0, "f", 0.05)
    session.undo_stack.undo()
    session.settle()
    assert session.document.choices.pins == {}
    assert session.document.part.notes[0].dynamic == "f"


def test_saving_waits_for_what_was_asked(themed, tmp_path):
    from plectrum.core.files.opening import open_document_path

    session = opened_session()
    type_dynamic(session, 0, "f", 0.05)
    session.save(tmp_path / "kept.plectrum")
    again = open_document_path(tmp_path / "kept.plectrum")
    assert again.part.notes[0].dynamic == "f"
    assert not session.unsaved


PINS = st.dictionaries(
    st.sampled_from("abc"),
    st.builds(Pin, lane=st.none() | st.integers(1, 5), finger=st.none() | st.integers(0, 4)),
)


@given(now=PINS, before=PINS, after=PINS)
def test_a_change_is_carried_over_to_what_is_there_now(now, before, after):
    """Nothing moves what was not touched, and what was touched is as it was made."""
    made = rebased(now, before, after)
    assert rebased(before, before, after) == after
    assert rebased(now, before, before) == now
    for key in "abc":
        if before.get(key) == after.get(key):
            assert made.get(key) == now.get(key)
        elif key not in after:
            assert key not in made
        elif key not in before or key not in now:
            assert made[key] == after[key]
        else:
            for name in ("lane", "finger"):
                old, new = getattr(before[key], name), getattr(after[key], name)
                expected = getattr(now[key], name) if old == new else new
                assert getattr(made[key], name) == expected


def test_fields_that_differ_in_kind_are_taken_whole():
    choices = tune_document(TUNE).choices
    other = replace(choices, tempo_bpm=72.0)
    assert rebased(replace(choices, player=stage("steady")), choices, other) == replace(
        other, player=stage("steady")
    )


def test_to_go_back_and_there_again_needs_no_planning(qtbot, violin, monkeypatch):
    """What the last few plans were made from is so again: they are taken as they are; what was not
    there before is planned."""
    session = violin.session
    first = session.plan
    note, other = (first.notes[k] for k in (4, 9))
    session.pin(note.note.id, Pin(direction=note.direction.other), "other way")
    wait_planned(qtbot, violin)
    second = session.plan
    assert second.notes != first.notes
    planned = []
    monkeypatch.setattr(session.planner, "make", planned.append)
    session.undo_stack.undo()
    assert session.plan is first
    session.undo_stack.redo()
    assert session.plan is second
    assert not planned
    monkeypatch.undo()
    session.pin(other.note.id, Pin(direction=other.direction.other), "other way")
    wait_planned(qtbot, violin)
    assert session.plan not in (first, second)
    assert session.plan.choices == session.document.choices
