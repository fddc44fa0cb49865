"""Ten real parts, to be read bar by bar: what a teacher would change is for eyes, not for numbers.

Drawn by a rule: of the quartets in music21's corpus those whose folder and file name have the
smallest CRC-32, ten that can be read; of each the part whose number is its own place in that row
from 0, counted round the parts. Twenty bars of each, for a player: `python -m benchmarks.real_parts
starter`. What was found is in decision 0056.

A bow is D or U and its note's value; ^ stops and goes the same way, r lifts, _ is slurred, z rests.
"""

from __future__ import annotations

import sys
import zlib
from collections.abc import Iterator
from dataclasses import replace
from fractions import Fraction

from plectrum.core.document.choices import Join
from plectrum.core.errors import PlectrumError
from plectrum.core.files.opening import open_document
from plectrum.core.planning.ensemble.documents import seated_parts
from plectrum.core.planning.plan import Plan, make_plan
from plectrum.core.player.player import stage
from plectrum.core.score.model import Direction

PARTS_N, BARS_N = 10, 20
COMPOSERS = ("haydn", "mozart", "beethoven")
_VALUES = {"4": "w", "3": "h.", "2": "h", "3/2": "q.", "1": "q", "3/4": "e.", "1/2": "e",
           "3/8": "s.", "1/4": "s", "1/8": "t", "1/3": "e3", "2/3": "q3", "1/6": "s3"}  # fmt: skip
_JOINS = {Join.HOOK: "^", Join.RETAKE: "r"}


def real_parts(player: str) -> Iterator[tuple[str, Plan]]:
    """The ten parts with their names, planned each by itself."""
    from music21 import corpus

    paths = [p for p in corpus.getCorePaths() if p.suffix in (".mxl", ".xml", ".musicxml")]
    quartets = [p for p in paths if any(f"/{name}/" in p.as_posix() for name in COMPOSERS)]
    number = 0
    for path in sorted(quartets, key=lambda p: zlib.crc32((p.parent.name + p.name).encode())):
        try:
            seated = seated_parts(open_document(path.read_bytes(), path.name))
        except PlectrumError:
            continue
        if not seated.parts:
            continue
        k = number % len(seated.parts)
        choices = replace(seated.choices[k], player=stage(player))
        name = f"{path.parent.name} {path.stem}, {seated.parts[k].name}"
        yield name, make_plan(seated.parts[k], choices)
        number += 1
        if number == PARTS_N:
            return


def bows_of(plan: Plan, bars_n: int) -> str:
    """The first bars of a plan in one line."""
    words, bar, ended_q = [], -1, Fraction(0)
    for note, planned in zip(plan.part.notes, plan.notes, strict=True):
        if note.bar_index >= bars_n:
            break
        if note.bar_index != bar:
            bar = note.bar_index
            words.append(f"|{note.bar}:")
        if note.onset_q > ended_q:
            words.append(f"z{_value(note.onset_q - ended_q)}")
        ended_q = note.onset_q + note.duration_q
        sign = "plucked "
        if planned is not None:
            way = "D" if planned.direction is Direction.DOWN else "U"
            sign = "_" if planned.join is Join.SLUR else _JOINS.get(planned.join, "") + way
        words.append(sign + ("g" if note.grace else _value(note.duration_q)))
    return " ".join(words)


def _value(quarters: Fraction) -> str:
    return _VALUES.get(str(quarters), str(quarters))


if __name__ == "__main__":
    for name, plan in real_parts(sys.argv[1] if len(sys.argv) > 1 else "growing"):
        print(f"{name}, {plan.part.tempo.bpm:.0f}\n{bows_of(plan, BARS_N)}\n")
