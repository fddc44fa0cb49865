"""Scores of several parts planned as one, of music21's corpus: what matches, what it costs, how
long it takes. Read from the installed corpus; nothing of it is kept."""

from __future__ import annotations

import time
from collections import Counter
from collections.abc import Sequence
from dataclasses import replace
from statistics import median

from music21 import corpus

from plectrum.core.document.document import Document
from plectrum.core.planning.ensemble.differing import Difference
from plectrum.core.planning.ensemble.documents import Seated, seated_parts
from plectrum.core.planning.ensemble.ensemble import Ensemble, plan_together
from plectrum.core.score.reading.opening import open_score

WORKS = (
    # duets and trios; chorale parts stand for what they are read as
    "schumann_clara/opus17/movement3", "bach/bwv1.6", "bach/bwv10.7", "bach/bwv126.6",
    "corelli/opus3no1/1grave", "bach/bwv31.9", "bach/bwv185.6", "bach/bwv136.6",
    # quartets
    "mozart/k155/movement1", "mozart/k155/movement2", "mozart/k155/movement3",
    "mozart/k156/movement1", "mozart/k156/movement2", "mozart/k156/movement3",
    "mozart/k156/movement4", "mozart/k458/movement2", "mozart/k458/movement3",
    "haydn/opus1no1/movement1", "haydn/opus1no1/movement2", "haydn/opus1no1/movement4",
    "haydn/opus1no1/movement5", "haydn/opus74no1/movement2", "haydn/opus74no1/movement3",
    "beethoven/opus18no1/movement3", "beethoven/opus59no2/movement3",
    "beethoven/opus59no3/movement3",
    # quintets
    "bach/bwv97.9", "bach/bwv70.11", "monteverdi/madrigal.5.2", "monteverdi/madrigal.5.6",
)  # fmt: skip
GROWING = "haydn/opus74no1/movement2"
RUNS_N = 3


def seated(name: str) -> Seated:
    """The string parts of a work, each for its player."""
    known = corpus.getWork(name, fileExtensions=(".mxl", ".xml"))
    path = str(known[0] if isinstance(known, list) else known)
    with open(path, "rb") as file:
        document = Document.from_score(open_score(file.read(), path))
    return seated_parts(document)


def planned(parts: Seated, only_n: int | None = None) -> tuple[Ensemble, float]:
    """The parts planned as one, afresh, and the median of the milliseconds it takes."""
    took = []
    for run in range(RUNS_N):
        rows = [  # at a tempo that was never asked for: nothing is kept from the run before
            (part, replace(choices, tempo_bpm=part.tempo.bpm + 0.01 * (run + 1)))
            for part, choices in zip(parts.parts, parts.choices, strict=True)
        ]
        begun = time.perf_counter()
        ensemble = plan_together(rows[:only_n])
        took.append(1000 * (time.perf_counter() - begun))
    return ensemble, median(took)


def kinds(differences: Sequence[Difference]) -> str:
    """How many of each kind: ways, joins, regions."""
    found = Counter(d.what for d in differences)
    return f"{found['way']:3d} {found['join']:3d} {found['region']:3d}"


def works() -> None:
    print("parts bars notes | matched | ways joins regions apart: each alone | as one | "
          "cost as one, in turn, bound | ms")  # fmt: skip
    sums: Counter[str] = Counter()
    for name in WORKS:
        parts = seated(name)
        ensemble, ms = planned(parts)
        notes_n = sum(len(part.notes) for part in parts.parts)
        print(
            f"{len(parts.parts)} {len(parts.parts[0].bars):4d} {notes_n:5d} | "
            f"{len(ensemble.matched):5d} | {kinds(ensemble.before)} | "
            f"{kinds(ensemble.differences)} | {ensemble.cost:9.1f} {ensemble.in_turn:9.1f} "
            f"{ensemble.bound:9.1f} | {ms:6.0f}  {name}"
        )
        sums["works"] += 1
        sums["matched"] += len(ensemble.matched)
        sums["before"] += sum(d.what == "way" for d in ensemble.before)
        sums["after"] += sum(d.what == "way" for d in ensemble.differences)
        sums["better"] += ensemble.cost < ensemble.in_turn - 1e-6
        sums["worse"] += ensemble.cost > ensemble.in_turn + 1e-6
    print(
        f"{sums['works']} works: {sums['matched']} places match; {sums['before']} go different "
        f"ways each alone, {sums['after']} as one; cheaper than in turn {sums['better']}, as cheap "
        f"{sums['works'] - sums['better'] - sums['worse']}, dearer {sums['worse']}"
    )


def growth() -> None:
    parts = seated(GROWING)
    times = [planned(parts, n)[1] for n in range(1, len(parts.parts) + 1)]
    steps = ", ".join(f"{n} parts {ms:.0f}" for n, ms in enumerate(times, start=1))
    print(f"growth by parts, {GROWING}, ms: {steps}")


if __name__ == "__main__":
    works()
    growth()
