"""Find a small tune for every rule that has none written beside it, and write them down.

Tries the shortest of many made-up tunes first: the first whose plan changes when the rule is taken
out is its example. To be run again where rules or learnt numbers have changed: `--anew` for all,
some minutes, or with the names of rules for those.
"""

from __future__ import annotations

import json
import random
import sys
from collections.abc import Iterator
from dataclasses import fields
from pathlib import Path

from tests.core.planning.rule_examples import forget_everything, seen, taken_out

from plectrum.core.planning.rules import TABLE, Example, Rule
from plectrum.core.planning.rules.example import FOUND

FILE = Path(__file__).parent.parent / "src/plectrum/core/planning/rules/examples.json"
SEED, TUNES_N, SLUR_TUNES_N = 11, 1500, 500
SEES = {
    "planning.contact.frames": "touch",
    "planning.contact.touch_costs": "touch",
    "planning.contact.contact": "touch",
    "planning.strokes.planned": "touch",
    "planning.strokes.slurs": "slurs",
    "planning.strokes.slur_features": "slurs",
    "advice.out_of_reach": "warned",
    "advice.sound_faults": "causes",
}
BARS = {
    "4/4": (
        "A4 B4 C#5 D5", "A4*2 B4*2", "A4*4", "A4*3 B4", "A4*3/2 B4*1/2 A4*2", "r A4 B4 A4",
        "A4*1/2 B4*1/2 A4 B4*2", "A4( B4) C#5 D5", "A4 B4( A4) B4", "A4*5/2 B4*1/2 A4",
        "D4*1/2 A4*1/2 D4*1/2 A4*1/2 D4*1/2 A4*1/2 E5*1/2 A4*1/2", "A4*1/2 r*1/2 B4 A4. B4.",
        "A4*3/4 B4*1/4 A4*3/4 B4*1/4 A4*2", "A4*3/4( B4*1/4) A4*3/4 B4*1/4 A4*2",
        "A4*1/2( B4*1/2 A4*1/2) B4*1/2 A4 B4", "A4*2( B4*3/4) A4*1/4 B4", "A4*3 r",
        "A4*7/4 B4*1/4 A4 B4", "A4*1/4 B4*1/4 A4*1/2 B4 A4*2", "A4> B4 A4> B4", "G3 E5 G3 E5",
        "A4*3/4 r*1/4 B4*1/4 A4*3/4 B4*2", "A4 r B4 r", "A4+E5+C6 B4 A4 B4",
        "B4 A4+E5+C6 r A4+E5+C6", "A4*4( B4*4 A4*4 B4*4)", "A4*1/4> B4*15/4",
        "A4*2 [<] B4*2 [x]", "[p] A4*2 [f] B4*2", "[p] [<] A4*4 [x]", "[f] [>] A4( B4) A4*2 [x]",
        "A4*1/4> B4*1/4 A4*1/4> B4*1/4 A4*3", "A4*3/2 r*1/4 B4*1/4 A4 B4",
    ),
    "3/4": ("A4 B4 A4", "A4*2 B4", "A4*3", "A4( B4) A4", "r A4 B4", "A4*3/2 B4*1/2 A4"),
    "6/8": (
        "A4*1/2 B4*1/2 A4*1/2 B4*1/2 A4*1/2 B4*1/2", "A4 B4*1/2 A4 B4*1/2", "A4*3/2 B4*3/2",
        "A4*1/2( B4*1/2) A4*1/2 B4*3/2", "A4*3/4 B4*1/4 A4*1/2 B4*3/2",
        "r*1/2 A4*1/2 B4*1/2 A4*3/2",
        "A4*1/4 B4*1/4 A4 B4*1/2 A4*1/4 B4*3/4",
    ),
}  # fmt: skip
KINDS = (
    "", "", "", "", "repeat", "pinned", "together", "marcato", "sforzando", "pickup"
)  # fmt: skip
LOUDNESS = ("", "", "", "[p] ", "[ff] ", "[p] [<] ", "[f] [>] ", "[pp] ")


def candidates(see: str) -> list[Example]:
    """Made-up tunes, shortest first."""
    chance = random.Random(SEED)
    found = []
    for _ in range(TUNES_N):
        metre = chance.choice(("4/4", "4/4", "4/4", "3/4", "6/8"))
        bars = [chance.choice(BARS[metre]) for _ in range(chance.randint(1, 4))]
        kind = chance.choice(KINDS)
        if kind == "pickup":
            bars.insert(0, chance.choice(("A4", "A4*1/2( B4*1/2)", "A4*1/2 B4*1/2", "A4( B4)")))
        if chance.random() < 0.4:
            bars = [bars[0]] * len(bars)
        music = chance.choice(LOUDNESS) + "|".join(bars)
        if chance.random() < 0.2 and "u" not in music:
            music = music.replace("A4 ", "A4u ", 1)
        school = {}
        if chance.random() < 0.4:
            school = chance.choice(
                ({"dotted": "hook"}, {"dotted": "separate"}, {"dotted": "lift"},
                 {"direction": "flow"}, {"direction": "travel"}, {"direction": "downbeat"},
                 {"amount": "values"})
            )  # fmt: skip
        found.append(
            Example(
                music, see, metre,
                bpm=chance.choice((40.0, 50.0, 66.0, 80.0, 104.0, 132.0, 240.0)),
                player=chance.choice(("steady", "growing", "starter")),
                instrument=chance.choice(("violin", "violin", "cello", "bass")),
                school=school,
                kind=kind,
            )
        )  # fmt: skip
    return sorted(found, key=lambda e: (len(e.music), len(e.school), len(e.kind)))


SLUR_BARS = {
    "4/4": (
        "A4*1/2 B4*1/2 C#5*1/2 D5*1/2 E5*1/2 D5*1/2 C#5*1/2 B4*1/2", "A4 B4 C#5*1/2 B4*1/2 A4",
        "A4*1/2 B4*1/2 r*1/2 C#5*1/2 A4*1/2 G3*1/2 B4", "A4*3/2 B4*1/2 A4*3/2 B4*1/2",
        "A4*5/2 B4*1/2 C#5*1/2 D5*1/2", "G3*3/2 A4*1/4 E5*1/4 B4*1/2 C#5*1/2 D5",
    ),
    "2/4": (
        "A4*1/4 B4*1/4 C#5*1/4 D5*1/4 E5*1/2 A4*1/2", "A4*1/2 B4*1/2 C#5*1/2 A4*1/2", "A4 B4",
        "A4*3/4 B4*1/4 A4*3/4 B4*1/4", "G4*1/4 B4*1/4 D5*1/4 B4*1/4 A4", "A4*1/4 A4*1/4 B4*1/2 D5",
        "A4*1/4 E5*1/4 G3*1/2 A4",
        "A4*1/3 B4*1/3 C#5*1/3 D5", "A4*1/2 E5*1/4 C#5*1/4 A4*1/4 G3*1/4 B4*1/2", "A4*2",
        "A4*1/4 B4*1/2 C#5*1/4 D5*1/2 E5*1/2", "A4*1/4 B4*3/4 C#5*1/4 D5*3/4", "A4^ B4 A4",
        "A4*1/8 B4*1/8 C#5*1/8 D5*1/8 E5*1/2 A4", "[p] A4*1/2 B4*1/2 [f] C#5*1/2 D5*1/2",
    ),
    "6/8": (
        "A4*1/2 B4*1/2 C#5*1/2 D5*1/2 C#5*1/2 B4*1/2", "A4 B4*1/2 C#5 D5*1/2", "A4*3/2 B4*3/2",
        "A4*1/4 B4*1/4 C#5*1/2 D5*1/2 E5*3/2", "A4*3/4 B4*1/4 A4*1/2 B4*1/2 A4",
        "A4*1/2 B4 A4 B4*1/2",
        "A4*1/4 B4*1/4 C#5*1/4 D5*1/4 E5*1/4 D5*1/4 C#5*3/2",
    ),
}  # fmt: skip


def slurring() -> list[Example]:
    """Tunes whose slurs are for the plan to find, or to help with."""
    chance = random.Random(SEED)
    found = []
    for _ in range(SLUR_TUNES_N):
        metre = chance.choice(("2/4", "4/4", "4/4", "6/8"))
        bars = [chance.choice(SLUR_BARS[metre]) for _ in range(chance.randint(1, 3))]
        music = "|".join(bars)
        slurs = chance.choice(("song", "song", "song", "help"))
        if slurs == "help":
            music = music.replace("*1/2 ", "*1/2( ", 1).replace("*1/2 ", "*1/2) ", 1)
        found.append(
            Example(
                music, "slurs", metre, bpm=chance.choice((50.0, 80.0, 120.0)),
                player=chance.choice(("steady", "growing")), school={"slurs": slurs},
                kind=chance.choice(("", "", "many slurs", "pickup" if metre == "2/4" else "")),
            )
        )  # fmt: skip
    return sorted(found, key=lambda e: len(e.music))


def waiting(anew: bool, names: list[str]) -> Iterator[Rule]:
    """The rules without an example, and some; or all whose example was found, where they are found
    anew."""
    for rule in TABLE.values():
        if not rule.example.music or rule.name in names or (anew and rule.name in FOUND):
            yield rule


def main() -> None:
    anew = "--anew" in sys.argv
    found = {} if anew else dict(FOUND)
    pools: dict[str, list[tuple[Example, object]]] = {}
    for rule in waiting(anew, sys.argv[1:]):
        see = SEES.get(rule.place, "bows")
        if see not in pools:
            made = slurring() if see == "slurs" else candidates(see)
            pools[see] = [(e, seen(e)) for e in made]
            forget_everything()
        with taken_out(rule):
            match = next((e for e, before in pools[see] if seen(e) != before), None)
        if match is None:
            print(f"no tune for {rule.name}")
        else:
            found[rule.name] = match
    FILE.write_text(_text(found), "utf-8")


def _text(found: dict[str, Example]) -> str:
    """One a line, without what is usual."""
    usual = Example()
    rows = []
    for name, example in found.items():
        given = ((f.name, getattr(example, f.name)) for f in fields(example))
        row = {key: value for key, value in given if value != getattr(usual, key)}
        rows.append(f" {json.dumps(name)}: {json.dumps(row, ensure_ascii=False)}")
    return "{\n" + ",\n".join(rows) + "\n}\n"


if __name__ == "__main__":
    main()
