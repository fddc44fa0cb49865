"""Reading against music21, planning and its growth."""

from __future__ import annotations

import gc
import time
from collections.abc import Callable, Iterator

from benchmarks.pieces import part_of_bars, part_of_eighths, part_of_notes
from plectrum.core.planning.document import Document
from plectrum.core.score.scorefile import open_score, read_part


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
    """A whole plan of 200 to 10,000 notes; growth is time a note against the smallest."""
    first = 0.0
    for notes_n in (200, 1000, 10_000):
        document = Document.from_score(open_score(part_of_notes(notes_n), "x"))
        count = len(document.part.notes)
        ms = best_ms(document.plan, 3)
        each = ms / count
        first = first or each
        print(f"planning {count} notes: {ms:.0f} ms, growth a note {each / first:.2f}")


def run() -> None:
    reading()
    planning()
