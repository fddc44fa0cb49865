"""Made-up parts of any length for the benchmarks."""

from __future__ import annotations

import random

from tests.tunes import tune_xml

_BARS = (
    "D4 E4 F#4 G4", "A4*3/2 B4*1/2 A4*2", "G4*1/2( F#4*1/2) E4*1/2 D4*1/2 E4*2",
    "[p] D4*1/2( E4*1/2 F#4*1/2 G4*1/2) A4 r", "[f] B4 A4 [<] G4 F#4 [x]", "E4*2 r A4",
    "D5*1/2 C#5*1/2 B4*1/2 A4*1/2 G4*1/2( F#4*1/2 E4*1/2 D4*1/2)", "[mf] D4*4",
)  # fmt: skip


def part_of_bars(bars_n: int, seed: int = 7) -> bytes:
    """A violin part of so many bars of common time, mixed rhythms, slurs and dynamics."""
    rng = random.Random(seed)
    return tune_xml("|".join(rng.choice(_BARS) for _ in range(bars_n)), bpm=84)


def part_of_eighths(bars_n: int) -> bytes:
    """Eight eighths a bar with slurs and bow marks: dense, as studies are."""
    bar = " ".join(
        f"{p}*1/2{s}"
        for p, s in zip(("D4", "E4", "F#4", "G4") * 2, ("d(", ")", "u", "") * 2, strict=True)
    )
    return tune_xml("|".join([bar] * bars_n), bpm=84)


def part_of_notes(notes_n: int) -> bytes:
    """At least so many notes."""
    return part_of_bars(notes_n // 4 + 1)
