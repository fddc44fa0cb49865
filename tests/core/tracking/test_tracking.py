"""A followed bow: its lines, the stand-in, and the marks of each bar."""

from __future__ import annotations

import math
from collections import Counter
from functools import cache

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from plectrum.core.files.opening import open_document_path
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.playing.motion import Motion
from plectrum.core.playing.performance import Performance, Rehearsal
from plectrum.core.tracking.feedback import BarScore, score_bars
from plectrum.core.tracking.sensor import (
    BowSample,
    SensorError,
    SensorReader,
    head_lines,
    sample_line,
)
from plectrum.core.tracking.simulated import RATE_HZ, Clumsiness, SimulatedBow
from plectrum.demo import demo_paths
from tests.tunes import tune_plan

EXPECTED = {
    Clumsiness.FAST_START: "too fast at the start of the bow",
    Clumsiness.CREEPING: "creeping to the tip",
    Clumsiness.DRIFTING: "drifting to the fingerboard",
    Clumsiness.LATE: "late at the string crossing",
}


@cache
def performance_of(index: int) -> Performance:
    return Performance(plan_of(open_document_path(demo_paths()[index])))


@cache
def careful_marks(index: int) -> tuple[BarScore, ...]:
    """The marks of a careful bow."""
    performance = performance_of(index)
    careful = SimulatedBow(performance, Clumsiness.CAREFUL)
    return score_bars(Motion(performance), careful.samples(0, performance.length_s))


# lines


def some_samples() -> st.SearchStrategy[BowSample]:
    number = st.floats(-999, 999) | st.just(math.nan)
    return st.builds(BowSample, st.floats(0, 9999), st.floats(0, 1), number, number, number, number)


@settings(max_examples=60, deadline=None)
@given(st.lists(some_samples(), max_size=20), st.lists(st.integers(1, 60), min_size=1))
def test_lines_read_back_as_they_were_said_in_pieces_of_any_size(samples, sizes):
    text = head_lines() + "".join(map(sample_line, samples))
    reader, read, k = SensorReader(), [], 0
    while text:
        piece, text = text[: sizes[k % len(sizes)]], text[sizes[k % len(sizes)] :]
        read += reader.feed(piece)
        k += 1
    assert reader.bad_n == 0
    assert len(read) == len(samples)
    for a, b in zip(samples, read, strict=True):
        assert b.at_s == pytest.approx(a.at_s, abs=6e-4)
        assert b.position == pytest.approx(a.position, abs=6e-5)
        assert b.speed_mm_s == pytest.approx(a.speed_mm_s, abs=0.06, nan_ok=True)
        assert b.lane == pytest.approx(a.lane, abs=6e-4, nan_ok=True)


def test_what_a_device_may_leave_out_add_or_spoil():
    reader = SensorReader()
    assert reader.feed("plectrum-bow 1 my own bow\r\n# remark\n\n") == []
    (short,) = reader.feed("1.5 0.25\n")
    assert (short.at_s, short.position) == (1.5, 0.25)
    assert math.isnan(short.lane)
    (more,) = reader.feed("1.6 0.3 100 - 3 5 battery=80\n")
    assert more.level == 5
    assert math.isnan(more.angle_deg)
    assert reader.feed("1.7 nonsense\n1.8\nnan 0.5\n- 0.5\n") == []
    assert reader.bad_n == 4
    (outside,) = reader.feed("2.0 1.7\n")
    assert outside.position == 1.0


@pytest.mark.parametrize("text", ["hello\n", "plectrum-bow 2\n", "x" * 5000, "<xml>\n"])
def test_what_is_no_bow_is_refused_in_one_clear_line(text):
    with pytest.raises(SensorError) as caught:
        SensorReader().feed(text)
    assert "bow" in str(caught.value)
    assert len(str(caught.value)) < 200


def test_a_line_without_end_is_dropped():
    reader = SensorReader()
    reader.feed(head_lines())
    assert reader.feed("1" * 1000) == []
    assert reader.bad_n == 1
    assert len(reader.feed("\n1 0.5\n")) == 1


# the stand-in and its marks


@pytest.mark.parametrize("index", [0, 2])
@pytest.mark.parametrize("clumsiness", list(EXPECTED))
def test_each_clumsiness_is_seen_for_what_it_is(index, clumsiness):
    """Named more often than any other fault, and marked lower than a careful bow."""
    performance = performance_of(index)
    motion = Motion(performance)
    bow = SimulatedBow(performance, clumsiness)
    reader = SensorReader()
    lines = map(sample_line, bow.samples(0, performance.length_s))
    marks = score_bars(motion, reader.feed(head_lines() + "".join(lines)))
    named = Counter(fault for mark in marks for fault in mark.faults)
    assert named.most_common(1)[0][0] == EXPECTED[clumsiness]
    assert {m.bar_index for m in marks} == {n.bar_index for n in performance.plan.part.notes}
    best = careful_marks(index)
    assert not any(m.faults for m in best)
    assert min(m.score for m in best) >= 95
    assert sum(m.score for m in marks) < sum(m.score for m in best)


def test_a_bow_that_does_all_the_other_way_round_gets_little():
    performance = Performance(tune_plan("D4 E4 F#4 G4|A4 G4 F#4 E4|D4*4", bpm=60))
    motion = Motion(performance)
    samples = []
    for k in range(int(performance.length_s * RATE_HZ)):
        state = motion.at(k / RATE_HZ)
        samples.append(
            BowSample(k / RATE_HZ, 1 - state.position, -state.speed_mm_s, 0, 5.0, 8 - state.level)
        )
    marks = score_bars(motion, samples)
    assert all("the other way round" in m.faults for m in marks)
    assert max(m.score for m in marks) < 60


def test_only_a_position_is_enough():
    """A device that knows nothing else is marked by place alone."""
    performance = performance_of(0)
    motion = Motion(performance)
    samples = [
        BowSample(t / 50, motion.at(t / 50).position) for t in range(int(performance.length_s * 50))
    ]
    assert {m.score for m in score_bars(motion, samples)} == {100}


def test_the_same_seed_trembles_in_the_same_way_and_loops_go_on():
    performance = Performance(tune_plan("D4 E4 F#4 G4"), Rehearsal(loop=True))
    a, b, c = (SimulatedBow(performance, Clumsiness.ALL, seed) for seed in (1, 1, 2))
    times = [0.1 * k for k in range(200)]
    assert [a.at(t) for t in times] == [b.at(t) for t in times]
    assert [a.at(t) for t in times] != [c.at(t) for t in times]
    assert all(0 <= a.at(t).position <= 1 for t in times)
    assert len(list(a.samples(1.0, 2.0))) == RATE_HZ
