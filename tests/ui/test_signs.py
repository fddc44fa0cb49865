"""The row of players' signs: what the plan binds is drawn, and no sign covers another."""

from __future__ import annotations

from dataclasses import replace
from itertools import combinations, pairwise

import pytest

from plectrum.core.document.choices import Join, Pin
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.planning.plan import Plan
from plectrum.ui.drawing.sign_row import Sign, SignRow, bounds_over
from plectrum.ui.drawing.timeline import SystemTimeline
from plectrum.ui.engraving.system import System
from tests.tunes import tune_document, tune_plan

DOTTED = "D4*3/2 E4*1/2 F#4 A4|B4*3/2 A4*1/2 F#4 r|D4*3/2 E4*1/2 F#4 A4|B4*3/2 A4*1/2 F#4*2"
SCALE = "D4*1/2 E4*1/2 F#4*1/2 G4*1/2 A4 A4|G4*1/2 F#4*1/2 E4*1/2 D4*1/2 D4*2"


def _signs(plan: Plan, gap: float) -> list[Sign]:
    """Of a made-up line with a note every so many pixels."""
    notes = {n.id: (40 + gap * k, 30.0, 9.0, 8.0) for k, n in enumerate(plan.part.notes)}
    width = 60 + gap * len(notes)
    share = width / len(plan.part.bars)
    bars = {b.index: (share * b.index, share * (b.index + 1)) for b in plan.part.bars}
    system = System(0, b"", width, 80.0, notes, bars, (20.0, 60.0))
    row = SignRow(plan, SystemTimeline(system, plan.part), pins_shown=True)
    return list(row.signs())


@pytest.mark.parametrize("gap", [16.0, 24.0, 40.0])
@pytest.mark.parametrize(("dotted", "kind"), [("hook", "hook"), ("lift", "lift")])
def test_no_sign_covers_another(gap, dotted, kind):
    document = tune_document(DOTTED, answers={"dotted": dotted, "slurs": "song"}, bpm=72)
    pins = {n.id: Pin(finger=None, lane=3) for n in document.part.notes}
    signs = _signs(plan_of(document.with_choices(document.choices.with_pins(pins))), gap)
    assert {kind, "bow", "pin"} <= {s.kind for s in signs}
    for a, b in combinations(signs, 2):
        if a.bound is None or b.bound is None:  # arcs may meet where one ends and another begins
            assert not a.rect.intersects(b.rect), (a, b)


def test_a_hook_binds_its_pair_and_has_no_second_arc():
    plan = tune_plan(DOTTED, answers={"dotted": "hook"}, bpm=72)
    bounds = list(bounds_over(plan, 0, len(plan.notes) - 1))
    hooked = [p.note.index for p in plan.notes if p is not None and p.join is Join.HOOK]
    assert [n for b in bounds for n in range(b.first + 1, b.last + 1)] == hooked
    assert len(bounds) > 2


def test_slurs_of_the_plan_are_drawn_until_the_page_has_them():
    document = tune_document(SCALE, answers={"slurs": "song"})
    many = replace(document.choices, slur_amount=100)
    document = document.with_choices(many)
    plan = plan_of(document)
    slurred = [p.note.index for p in plan.notes if p is not None and p.join is Join.SLUR]
    bounds = list(bounds_over(plan, 0, len(plan.notes) - 1))
    assert slurred
    assert [n for b in bounds for n in range(b.first + 1, b.last + 1)] == slurred
    assert not any(b.kept for b in bounds)
    pins = {plan.part.notes[n].id: Pin(join=Join.SLUR) for n in slurred}
    kept = plan_of(document.with_choices(document.choices.with_pins(pins)))
    assert all(b.kept for b in bounds_over(kept, 0, len(plan.notes) - 1))
    printed = tune_plan("D4*1/2( E4*1/2 F#4*1/2) G4*1/2 A4 A4")
    assert not list(bounds_over(printed, 0, len(printed.notes) - 1))


def test_what_is_bound_is_whole_also_from_its_middle():
    plan = tune_plan("A4*3/4d B4*1/4d A4d B4u A4u|A4*3/4d B4*1/4d A4*3", bpm=120)
    whole = list(bounds_over(plan, 0, len(plan.notes) - 1))
    assert any(b.last - b.first > 1 for b in whole)
    for bound in whole:
        for note in range(bound.first, bound.last + 1):
            assert bound in set(bounds_over(plan, note, note))


def test_grace_notes_lie_between_the_note_before_and_their_own():
    """In the order of time: nothing lies over anything else."""
    plan = tune_plan("A4*2 G4^ A4^ B4*2|C#5^ D5*4")
    notes = {n.id: (40 + 20.0 * k, 30.0, 9.0, 8.0) for k, n in enumerate(plan.part.notes)}
    bars = {0: (0.0, 120.0), 1: (120.0, 240.0)}
    system = System(0, b"", 240.0, 80.0, notes, bars, (20.0, 60.0))
    segments = SystemTimeline(system, plan.part).segments
    assert [s.note for s in segments] == [n.index for n in plan.part.notes]
    for a, b in pairwise(segments):
        assert a.left < a.right <= b.left + 1e-9


def seen_whole(view) -> bool:
    """Whether two paths stand under each line, and a line is seen as a whole."""
    tallest = max(item.height for item in view.items_by_system)
    return view.is_laid_out and tallest > 300 and tallest * view.factor <= view.viewport().height()


def test_music_grows_with_a_large_window(qtbot, violin):
    """Three to five bars a line at 1920 × 1080, not more than at 1280 × 800."""
    view = violin.screen_of("bowing").view

    def bars_n(width: int, height: int) -> list[int]:
        violin.resize(width, height)
        qtbot.wait(400)
        qtbot.waitUntil(lambda: view.is_laid_out, timeout=20_000)
        return [len(item.system.bars) for item in view.items_by_system]

    small = bars_n(1280, 800)
    assert view.factor == pytest.approx(1.0)
    large = bars_n(1920, 1080)
    assert view.factor > 1.5
    assert 3 <= max(large) <= 5 <= max(small)
    screen = violin.screen_of("bowing")
    screen.start_comparing()
    bar = screen.compare_bar
    bar.kind.setCurrentIndex(bar.kind.findText("What turns the bow"))
    bar.kind.activated.emit(bar.kind.currentIndex())
    qtbot.waitUntil(lambda: seen_whole(view), timeout=20_000)
    screen.stop_comparing()
    again = bars_n(1280, 800)
    assert view.factor == pytest.approx(1.0)
    assert again == small
