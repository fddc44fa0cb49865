"""The other parts of a score under the one that is played: in time, softer, by themselves."""

from __future__ import annotations

import time
from dataclasses import replace

import numpy as np
import pytest

from plectrum.core.document.document import Document
from plectrum.core.files.opening import open_document_path
from plectrum.core.planning.ensemble.documents import plan_of, plans_beside
from plectrum.core.playing.performance import Performance, Rehearsal
from plectrum.core.sound.gestures import gestures_of
from plectrum.core.sound.render import RATE_HZ, Renderer
from plectrum.core.sound.together import Beside, Together, beside
from plectrum.demo import demo_paths


@pytest.fixture(scope="module")
def duet() -> Document:
    """The demo's duet, first part."""
    found = [open_document_path(path) for path in demo_paths()]
    return next(d for d in found if len(d.string_parts) > 1)


@pytest.fixture(scope="module")
def second(duet):
    (plan,) = plans_beside(duet)
    return plan


@pytest.mark.parametrize("ratio", [1.0, 0.7])
@pytest.mark.parametrize("bars", [(0, 99), (2, 3)])
def test_every_note_of_the_other_part_lies_in_the_time_of_the_first(duet, second, ratio, bars):
    """Both parts' onsets, in quarters, at the same seconds; also from the middle of the music."""
    plan = plan_of(duet)
    starts = [b.onset_q for b in plan.part.bars] + [plan.part.bars[-1].onset_q + 99]
    from_q, until_q = starts[bars[0]], starts[min(bars[1] + 1, len(starts) - 1)]
    asked = Rehearsal(from_q if bars[0] else None, until_q if bars[0] else None, ratio,
                      repeats=False)  # fmt: skip
    mine = Performance(plan, asked)
    under = beside(mine, [second])
    (other,), (start_s,) = under.performances, under.starts_s
    mine_at = {p.note.onset_q: p.onset_s for p in mine.notes}
    checked = 0
    for played in other.notes:
        if played.note.onset_q in mine_at:
            assert start_s + played.onset_s == pytest.approx(mine_at[played.note.onset_q], abs=1e-6)
            checked += 1
    assert checked > 3


def test_the_sound_is_both_and_the_others_alone_begin_on_their_beat(duet, second):
    mine = Performance(plan_of(duet), Rehearsal(count_in=True, repeats=False))
    under = beside(mine, [second])
    n = 9 * RATE_HZ
    own = Renderer(mine, click=False).block(n)
    both = Together(mine, under, click=False).block(n)
    alone = Together(mine, replace(under, alone=True), click=False).block(n)
    silent = Together(mine, replace(under, volume=0.0), click=False).block(n)
    assert np.allclose(silent, own, atol=1e-6)
    assert np.abs(both).max() < 1.0
    under_it = both - own
    assert 0.02 < np.sqrt(np.mean(under_it**2)) < np.sqrt(np.mean(own**2))
    first_s = under.starts_s[0] + min(
        g.start_s for row in gestures_of(under.performances[0]) for g in row
    )
    onset = int(np.argmax(np.abs(alone) > 0.02 * np.abs(alone).max())) / RATE_HZ
    assert onset == pytest.approx(first_s, abs=0.02)


def test_a_loop_begins_anew_for_both_and_it_may_begin_anywhere(duet, second):
    mine = Performance(plan_of(duet), Rehearsal(loop=True, repeats=False))
    under = beside(mine, [second])
    span_s = mine.length_s - mine.music_s
    late = Together(mine, under, click=False, at_s=mine.length_s - 1.0)
    sound = late.block(3 * RATE_HZ)
    assert np.isfinite(sound).all()
    first = Together(mine, under, click=False, at_s=mine.music_s).block(RATE_HZ)
    again = sound[RATE_HZ : 2 * RATE_HZ]
    a, b = (np.abs(np.fft.rfft(x[4000:])) for x in (first, again))
    assert np.dot(a, b) / np.linalg.norm(a) / np.linalg.norm(b) > 0.9
    assert span_s > 2


def test_in_the_students_pauses_nothing_else_sounds(duet, second):
    mine = Performance(plan_of(duet), Rehearsal(answer=True))
    assert beside(mine, [second]) == Beside((), ())


def test_four_parts_are_rendered_much_faster_than_they_sound(duet, second):
    """The goal of ten times is for `benchmarks`, on a quiet machine; here only that it keeps up."""
    mine = Performance(plan_of(duet), Rehearsal(repeats=False))
    under = beside(mine, [second, second, second])
    begun = time.process_time()
    Together(mine, under).block(4 * RATE_HZ)
    assert time.process_time() - begun < 4.0
