"""Ten scenes of a lesson, on tunes composed for them: a teacher says a thing by keys, and it is so
on the plan, in the panel, on the path, on the cards and on the page."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import date

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from plectrum.core.document.choices import Join
from plectrum.core.planning.plan import Plan, held_at
from plectrum.core.playing.cards import stroke_cards
from plectrum.core.playing.performance import Performance
from plectrum.core.practice.handout import HandoutOptions, Words, handout_of
from plectrum.core.score.model import Direction
from plectrum.ui.drawing.sign_row import SignRow
from tests.tunes import tune_xml
from tests.ui.conftest import wait_engraved, wait_planned

TODAY = date(2026, 11, 30)
Key = Qt.Key


@dataclass(frozen=True)
class Scene:
    """One thing said.

    Attributes:
        says: runs of notes with the keys pressed there, W's letters after it.
        holds: what is true of the plan. note: which note is looked at.
        panel, card, page: what stands there. path: kinds of signs, or "band".
    """

    music: str
    says: tuple[tuple[int, int, tuple[Key, ...]], ...]
    holds: Callable[[Plan], bool]
    note: int
    panel: str
    path: str
    card: str
    page: str
    metre: str = "4/4"
    school: dict[str, str] = field(default_factory=dict)


def _lengths(plan: Plan, first: int, last: int) -> list[float]:
    return [p.length_mm for p in plan.notes[first : last + 1] if p is not None]


def _within(plan: Plan, first: int, last: int, low: float, high: float) -> bool:
    inside = [p for p in plan.notes[first : last + 1] if p is not None]
    return all(low - 1e-6 <= min(p.start, p.end) and max(p.start, p.end) <= high + 1e-6
               for p in inside)  # fmt: skip


SCENES = {
    "upper half, in the equal bars too": Scene(
        "D4 E4 F#4 G4|A4*4|D4 E4 F#4 G4|A4*4",
        ((0, 3, (Key.Key_W, Key.Key_U)),),
        lambda plan: _within(plan, 0, 3, 0.5, 1.0) and _within(plan, 5, 8, 0.5, 1.0),
        6, "upper half", "band", "upper half", "upper half",
    ),
    "lift to the frog": Scene(
        "A4*2 r A4|A4*2 B4*2|A4*4",
        ((1, 1, (Key.Key_R,)), (1, 1, (Key.Key_W, Key.Key_F))),
        lambda plan: plan.notes[1].join is Join.RETAKE and plan.notes[1].start < 0.05,
        1, "lift, hover", "lift", "lift", "rest: lift",
    ),
    "four that grow": Scene(
        "[p] A4 A4 A4 A4|[f] D5*4|E5*4",
        ((1, 1, (Key.Key_H,)), (2, 2, (Key.Key_H,)), (3, 3, (Key.Key_H,)),
         (0, 3, (Key.Key_W, Key.Key_G))),
        lambda plan: _lengths(plan, 0, 3) == sorted(_lengths(plan, 0, 3)),
        2, "growing, 3 of 4", "hook", "growing", "growing",
    ),
    "growing within a slur": Scene(
        "A4( B4 C#5 D5)|E5*4",
        ((0, 3, (Key.Key_W, Key.Key_G)),),
        lambda plan: _lengths(plan, 0, 3) == sorted(_lengths(plan, 0, 3)),
        0, "growing within the bow", "bow", "growing within the bow", "growing within the bow",
    ),
    "a whole bow": Scene(
        "A4*2 B4*2|C#5*2 D5*2|A4*4",
        ((0, 0, (Key.Key_W, Key.Key_W)),),
        lambda plan: plan.notes[0].length_mm > 0.85 * plan.choices.bow.hair_mm,
        0, "whole bow", "bow", "whole bow", "whole bow",
    ),
    "stay here, small": Scene(
        "A4*2 B4*1/2 A4*1/2 B4*1/2 A4*1/2|D5*4",
        ((1, 4, (Key.Key_W, Key.Key_S)),),
        lambda plan: max(_lengths(plan, 2, 4)) < plan.choices.bow.hair_mm / 8,
        3, "stay here", "bow", "stay here", "stay here",
    ),
    "the same way again": Scene(
        "D4 E4 F#4 G4|A4*4|G4 F#4 E4 D4|D4*4",
        ((2, 2, (Key.Key_H,)),),
        lambda plan: plan.notes[2].direction is plan.notes[1].direction,
        2, "Stop, then", "hook", "stop,", "stop",
    ),
    "slurred as selected": Scene(
        "D4 E4 F#4 G4|A4*4|B4 C#5 D5 E5|A4*4",
        ((0, 3, (Key.Key_S,)),),
        lambda plan: all(p.join is Join.SLUR for p in plan.notes[1:4]),
        1, "Same bow", "slur", "", "for 4",
    ),
    "a down after the rest": Scene(
        "D4 E4 F#4 r|G4 F#4 E4 r|D4*4",
        ((3, 3, (Key.Key_D,)),),
        lambda plan: plan.notes[3].direction is Direction.DOWN,
        3, "In the rest of 1 beat", "bow", "rest: lift", "rest: lift",
    ),
    "at the tip": Scene(
        "A4 B4 C#5 D5|E5*2 D5*2|A4*4",
        ((4, 4, (Key.Key_U,)), (4, 4, (Key.Key_W, Key.Key_T))),
        lambda plan: plan.notes[4].start > 0.9 and plan.notes[4].direction is Direction.UP,
        4, "at the tip", "bow", "at the tip", "at the tip",
    ),
}  # fmt: skip


def _say(qtbot, window, first: int, last: int, keys: tuple[Key, ...]) -> None:
    screen = window.screen_of("bowing")
    screen.select(first)
    screen.select(last, extend=True)
    QTest.keyClick(screen.view, keys[0])
    for key in keys[1:]:
        QTest.keyClick(screen.place_menu, key)
    if keys[1:]:
        qtbot.waitUntil(lambda: screen.view.hasFocus(), timeout=10_000)
    wait_planned(qtbot, window)


@pytest.mark.parametrize("name", SCENES)
def test_what_is_said_is_so_everywhere(qtbot, opened, tmp_path, name):
    scene = SCENES[name]
    path = tmp_path / "scene.musicxml"
    path.write_bytes(tune_xml(scene.music, scene.metre, bpm=72))
    window = opened(path)
    wait_engraved(qtbot, window)
    for first, last, keys in scene.says:
        assert len(keys) <= 2
        _say(qtbot, window, first, last, keys)
    plan, screen = window.session.plan, window.screen_of("bowing")
    assert scene.holds(plan)
    _check_panel(screen, scene)
    _check_path(screen, plan, scene)
    cards = stroke_cards(Performance(plan))
    card = next(c for c, group in zip(cards, _firsts(plan), strict=True) if group >= scene.note
                or c is cards[-1])  # fmt: skip
    if scene.card:
        assert scene.card in f"{card.action} {card.amount} {card.goal} {card.rest}"
    page = handout_of(window.session.document, plan, HandoutOptions(words=Words.ALL), TODAY)
    assert scene.page in " ".join(page.said.values())


def _firsts(plan: Plan) -> list[int]:
    return [p.note.index for p in plan.notes if p is not None and p.join is not Join.SLUR]


def _check_panel(screen, scene: Scene) -> None:
    screen.select(scene.note)
    assert scene.panel in f"{screen.panel.pins.text()} {screen.panel.sentence.text()}"


def _check_path(screen, plan: Plan, scene: Scene) -> None:
    if scene.path == "band":
        held = held_at(plan, scene.note)
        assert held.low is not None
        assert held.high is not None
        return
    item = screen.view.item_of(scene.note)
    row = SignRow(plan, item.timeline, proposals_shown=True)
    kinds = {s.kind for s in row.signs() if s.bound is None and s.note == scene.note}
    bound = {s.kind for s in row.signs()
             if s.bound is not None and s.bound.first <= scene.note <= s.bound.last}  # fmt: skip
    assert scene.path in kinds | bound
