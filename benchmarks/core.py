"""Reading against music21, planning and its growth."""

from __future__ import annotations

import gc
import itertools
import time
import tracemalloc
from collections.abc import Callable, Iterator
from dataclasses import replace

import numpy as np
from scipy.sparse import csr_array
from scipy.sparse.csgraph import shortest_path

from benchmarks.pieces import part_of_bars, part_of_eighths, part_of_notes
from plectrum.core.advice.warnings import warnings_of
from plectrum.core.document.document import Document
from plectrum.core.files.exports import plan_as_json
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.planning.plan import Plan
from plectrum.core.planning.rules import IMPOSSIBLE
from plectrum.core.planning.strokes.dynamic_program import Solution
from plectrum.core.planning.strokes.problem import HOOK, POSITIONS_N, TURN, Problem
from plectrum.core.score.reading.opening import open_score
from plectrum.core.score.scorefile import read_part


def best_ms(work: Callable[[], object], times: int = 5) -> float:
    """The best of several runs, in milliseconds."""
    best = float("inf")
    for _ in range(times):
        begun = time.perf_counter()
        work()
        best = min(best, time.perf_counter() - begun)
    return best * 1000


def reading() -> None:
    """Bytes to notes, as a ratio to music21's parse of the same bytes; nothing is cached."""
    from music21 import converter

    gc.freeze()  # music21's own heap must not slow the collector down while we are timed
    for name, make in (("melody", part_of_bars), ("study in eighths", part_of_eighths)):
        for bars_n in (100, 300):
            xml = make(bars_n)
            spaces = iter(range(1, 1000))

            def ours(data: bytes = xml, spaces: Iterator[int] = spaces) -> object:
                return read_part(open_score(data + b" " * next(spaces), "x"), "P1")

            def theirs(data: bytes = xml) -> object:
                return converter.parseData(data.decode(), format="musicxml")

            a, b = best_ms(ours, 7), best_ms(theirs, 3)
            print(
                f"reading a {name}, {bars_n} bars: {a:.0f} ms, music21 {b:.0f} ms, "
                f"{b / a:.1f} times faster"
            )


def planning() -> None:
    """A whole plan (strings, strokes, contact, warnings, tempo window) of 200 to 10,000 notes."""
    from music21 import converter

    first = 0.0
    for notes_n in (200, 1000, 10_000):
        xml = part_of_notes(notes_n)
        document = Document.from_score(open_score(xml, "x"))
        count = len(document.part.notes)

        tempos = itertools.count(1)

        def afresh(document: Document = document, tempos: Iterator[int] = tempos) -> Plan:
            """At a tempo that was never asked for, so that nothing is kept from a plan before."""
            tempo_bpm = 84 + 0.01 * next(tempos)
            return plan_of(document.with_choices(replace(document.choices, tempo_bpm=tempo_bpm)))

        def whole(afresh: Callable[[], Plan] = afresh) -> object:
            plan = afresh()
            return plan.contact, warnings_of(plan), plan.tempo_window

        strokes_ms = best_ms(afresh, 3)
        ms = best_ms(whole, 3)
        first = first or ms / count
        line = f"planning {count} notes: strokes {strokes_ms:.0f} ms, everything {ms:.0f} ms, "
        line += f"growth a note {ms / count / first:.2f}, peak {peak_mb(whole):.0f} MB"
        if notes_n <= 1000:
            reading_ms = best_ms(lambda x=xml: converter.parseData(x.decode()), 2)  # type: ignore[misc]
            line += f", {ms / reading_ms:.2f} of music21's reading"
        print(line)


def exporting() -> None:
    """The plan as JSON, whose time should grow with the notes."""
    first = 0.0
    for notes_n in (1000, 3000, 10_000):
        document = Document.from_score(open_score(part_of_notes(notes_n), "x"))
        plan = plan_of(document)
        count = len(plan.notes)
        ms = best_ms(lambda d=document, p=plan: plan_as_json(d, p), 3)  # type: ignore[misc]
        first = first or ms / count
        print(
            f"JSON of {count} notes: {ms:.0f} ms, growth a note {ms / count / first:.2f} (goal 1)"
        )


def peak_mb(work: Callable[[], object]) -> float:
    """The most memory Python held during one run, above what it held before."""
    tracemalloc.start()
    work()
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    return peak / 1e6


def explicit_graph(problem: Problem) -> csr_array:
    """The planner's problem as a layered graph, each bow a unit: before a stroke, after it, and
    after its change of speed; nodes in a layer are (speed class, direction, cell)."""
    k, speeds = POSITIONS_N, problem.evenness.shape[1]
    layer, n, shift = 2 * k * speeds, problem.units_n, 10_000_000
    node = np.arange(layer).reshape(speeds, 2, k)
    rows, cols = [np.zeros(layer, int)], [1 + np.arange(layer)]
    weights = [np.full(layer, shift)]

    def add(a: np.ndarray, b: np.ndarray, costs: np.ndarray) -> None:
        a, b, costs = np.broadcast_arrays(a, b, costs)
        rows.append(a.ravel()), cols.append(b.ravel()), weights.append(costs.ravel() + shift)

    table = problem.strokes.table
    d, length, low = np.nonzero(table[0] < IMPOSSIBLE)
    start, end = np.where(d == 0, low, low + length), np.where(d == 0, low + length, low)
    for i in range(n):
        before = 1 + 3 * i * layer
        after, changed, following = (before + m * layer for m in (1, 2, 3))
        kind = problem.kind[i, 0]
        speed = problem.speed_of[kind, length]
        own = table[kind, d, length, low] + problem.direction[i, 0, d]
        add(before + node[speed, d, start], after + node[speed, d, end], own)
        if i + 1 == n:
            add(after + np.arange(layer), np.array(1 + 3 * n * layer), np.array(0))
            continue
        even = problem.evenness[problem.even[i + 1]]
        add(after + node[:, None], changed + node[None], even[:, :, None, None])
        for way in (0, 1):
            for came in (0, 1):
                join = problem.join[i + 1, 0, 0, way, HOOK if way == came else TURN]
                add(changed + node[:, came], following + node[:, way], join)
    size = 2 + 3 * n * layer
    data = np.concatenate(weights).astype(float), (np.concatenate(rows), np.concatenate(cols))
    return csr_array(data, shape=(size, size))


def against_scipy() -> None:
    """The dynamic program against SciPy's shortest path on the same graph (lifts left out)."""
    document = Document.from_score(open_score(part_of_notes(1000), "x"))
    problem = plan_of(document).tables.problem
    problem = replace(problem, reach=np.full_like(problem.reach, -1))
    graph = explicit_graph(problem)
    ours = best_ms(lambda: Solution(problem).steps, 3)
    found: list[float] = []
    theirs = best_ms(lambda: found.append(shortest_path(graph, indices=0)[-1]), 1)
    shifts = 3 * problem.units_n  # one an edge of the way, the changes of speed among them
    assert round(found[0]) - 10_000_000 * shifts == Solution(problem).total
    print(
        f"strokes of {len(document.part.notes)} notes: {ours:.0f} ms, SciPy's shortest path on "
        f"{graph.shape[0]} nodes and {graph.nnz} edges {theirs:.0f} ms, {theirs / ours:.0f} times"
    )


def run() -> None:
    reading()
    planning()
    exporting()
    against_scipy()
