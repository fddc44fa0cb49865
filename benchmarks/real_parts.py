"""Ten real parts, to be read bar by bar: what a teacher would change is for eyes, not for numbers.

Drawn by a rule: of the quartets in music21's corpus those whose folder and file name have the
smallest CRC-32, ten that can be read; of each the part whose number is its own place in that row
from 0, counted round the parts. Twenty bars of each, for a player: `python -m benchmarks.real_parts
starter`. What was found is in decision 0056. The ten after them have their bows written down first,
in real_parts_expected.txt: `python -m benchmarks.real_parts starter expected` prints them and says
which bars go another way.

A bow is D or U and its note's value; ^ stops and goes the same way, r lifts, _ is slurred, z rests.
"""

from __future__ import annotations

import re
import sys
import zlib
from collections import defaultdict
from collections.abc import Iterator
from dataclasses import replace
from fractions import Fraction
from pathlib import Path

from plectrum.core.document.choices import Join
from plectrum.core.errors import PlectrumError
from plectrum.core.files.opening import open_document
from plectrum.core.planning.ensemble.documents import seated_parts
from plectrum.core.planning.plan import Plan, make_plan
from plectrum.core.player.player import stage
from plectrum.core.score.model import Direction

PARTS_N, BARS_N = 10, 20
EXPECTED = Path(__file__).with_name("real_parts_expected.txt")
COMPOSERS = ("haydn", "mozart", "beethoven")
_VALUES = {"4": "w", "3": "h.", "2": "h", "3/2": "q.", "1": "q", "3/4": "e.", "1/2": "e",
           "3/8": "s.", "1/4": "s", "1/8": "t", "1/3": "e3", "2/3": "q3", "1/6": "s3"}  # fmt: skip
_JOINS = {Join.HOOK: "^", Join.RETAKE: "r"}


def real_parts(player: str, first: int = 0) -> Iterator[tuple[str, Plan]]:
    """Ten parts with their names from the `first` of the row, planned each by itself."""
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
        number += 1
        if number > first:
            choices = replace(seated.choices[k], player=stage(player))
            name = f"{path.parent.name} {path.stem}, {seated.parts[k].name}"
            yield name, make_plan(seated.parts[k], choices)
        if number == first + PARTS_N:
            return


def expected_bows(player: str) -> dict[str, dict[str, list[str]]]:
    """Of every part with written bows, the ways one would leave each bar: letters, ~3 as it is."""
    parts: dict[str, dict[str, list[str]]] = {}
    name = ""
    for line in EXPECTED.read_text().splitlines():
        bar = re.fullmatch(r"(starter )?(\d+): (.*)", line)
        if bar and bar[1] in (None, f"{player} "):
            parts[name][bar[2]] = [way.replace(" ", "") for way in bar[3].split("/")]
        elif line and not bar and not line.startswith("#"):
            name = line
            parts[name] = {}
    return parts


def bars_that_differ(plan: Plan, expected: dict[str, list[str]]) -> list[str]:
    """The bars among the first whose bows nobody wrote down, with what was expected."""
    bows: dict[str, str] = defaultdict(str)
    for unit in plan.units:
        note, planned = plan.part.notes[unit.first], plan.notes[unit.first]
        if planned is not None and note.bar_index < BARS_N:
            bows[str(note.bar)] += "D" if planned.direction is Direction.DOWN else "U"
    return [
        f"{bar}: {' or '.join(expected.get(bar, ['nothing']))}, planned {bows[bar] or 'nothing'}"
        for bar in sorted({*bows, *expected}, key=int)
        if not any(re.fullmatch(_pattern(way), bows[bar]) for way in expected.get(bar, []))
    ]


def _pattern(way: str) -> str:
    def there_and_back(match: re.Match[str]) -> str:
        n = int(match[1])
        return f"(?:{('DU' * n)[:n]}|{('UD' * n)[:n]})"

    return re.sub(r"~(\d+)", there_and_back, way)


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


def main(player: str, *, with_expected: bool) -> None:
    """Print ten parts, and beside what was written down first how many bars go another way."""
    bars_n = differ_n = 0
    written = expected_bows(player)
    for name, plan in real_parts(player, PARTS_N if with_expected else 0):
        print(f"{name}, {plan.part.tempo.bpm:.0f}\n{bows_of(plan, BARS_N)}")
        if with_expected:
            differ = bars_that_differ(plan, written[name])
            bars_n, differ_n = bars_n + len(written[name]), differ_n + len(differ)
            print("\n".join(f"  bar {line}" for line in differ))
        print()
    if with_expected:
        print(f"{differ_n} of {bars_n} bars go another way: {100 * differ_n / bars_n:.1f} %")


if __name__ == "__main__":
    main(*(sys.argv[1:2] or ["growing"]), with_expected="expected" in sys.argv[2:])
