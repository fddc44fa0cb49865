"""A dozen ordinary figures for each principle of the planner, on all four instruments, through the
command line.

What every teacher would expect of them is common practice. Prints how many hold and each that does
not. Run it by itself: `python -m benchmarks.principles`.
"""

from __future__ import annotations

import json
import tempfile
from collections.abc import Callable, Iterator
from itertools import groupby, pairwise
from pathlib import Path
from typing import Any

from tests.tunes import tune_xml

from plectrum.cli.main import _run

# X and Y lie on neighbouring strings of each instrument, Z on a third.
PITCHES = {
    "violin": {"X": "B4", "Y": "E4", "Z": "F#5"},
    "viola": {"X": "E4", "Y": "A3", "Z": "B4"},
    "cello": {"X": "E3", "Y": "A2", "Z": "B3"},
    "bass": {"X": "E3", "Y": "B2", "Z": "A3"},
}
REPEAT = b'<barline location="right"><repeat direction="backward"/></barline>'
Plan = dict[str, Any]
Options = dict[str, Any]


def plan_by_command(music: str, instrument: str, options: Options) -> Plan:
    """What `plectrum plan` writes of a tune."""
    for letter, pitch in PITCHES[instrument].items():
        music = music.replace(letter, pitch)
    words = [w for name in ("player", "dotted", "direction", "slurs") if name in options
             for w in (f"--{name}", options[name])]  # fmt: skip
    with tempfile.TemporaryDirectory() as name:
        tune, out = Path(name) / "tune.musicxml", Path(name) / "plan.json"
        xml = tune_xml(music, options.get("metre", "4/4"), bpm=options.get("bpm", 80),
                       pickup=options.get("pickup", False))  # fmt: skip
        if options.get("repeat"):
            bars = xml.split(b"</measure>")
            bars[options["repeat"] - 1] += REPEAT
            xml = b"</measure>".join(bars)
        tune.write_bytes(xml)
        _run(["plan", str(tune), "--instrument", instrument, *words, "--format", "json",
              "-o", str(out)])  # fmt: skip
        return json.loads(out.read_bytes())


def bars_of(plan: Plan) -> list[str]:
    """Each bar's bows: D and U, small where hooked, slurred notes left out."""
    found = []
    for _, notes in groupby(plan["notes"], key=lambda n: n["bar"]):
        ways = ""
        for n in notes:
            if n["join"] != "slur":
                way = n["direction"][0].upper()
                ways += way.lower() if n["join"] == "hook" else way
        found.append(ways)
    return found


def codes(plan: Plan) -> set[str]:
    return {w["code"] for w in plan["warnings"]}


def within_limits(plan: Plan) -> bool:
    return not codes(plan) & {"too_slow", "too_fast", "slur_too_long", "runs_out"}


def nothing_to_say(plan: Plan) -> bool:
    return not plan["warnings"]


def long_notes_turn(plan: Plan) -> bool:
    """No hook between two notes of a second or more without a rest."""
    return not any(
        b["join"] == "hook" and min(a["duration_s"], b["duration_s"]) > 1.0
        and b["gap_before_s"] < 0.05
        for a, b in pairwise(plan["notes"])
    )  # fmt: skip


def first_beats_down(plan: Plan) -> bool:
    return all(n["direction"] == "down" for n in plan["notes"] if n["beat"] == 1 and n["bar"])


def even(plan: Plan) -> bool:
    """Neighbouring strokes are at most about three times as quick as each other, equal ones 1.6."""
    strokes = []
    for _, found in groupby(plan["notes"], key=lambda n: n["stroke"]):
        notes = list(found)
        seconds = sum(n["duration_s"] for n in notes)
        speed = sum(n["length_mm"] for n in notes) / seconds
        strokes.append((seconds, speed, notes[0]["gap_before_s"] > 0.05))
    for (was_s, was, _), (now_s, now, rests) in pairwise(strokes):
        most = 1.6 if abs(was_s - now_s) < 0.01 else 3.3
        if not rests and max(was, now) / min(was, now) > most:
            return False
    return True


def all_bars_alike(plan: Plan) -> bool:
    """One pattern in all bars, or one and its reverse in turn."""
    ways = [bar.upper() for bar in bars_of(plan)]
    other = ways[0].translate(str.maketrans("DU", "UD"))
    alternating = [ways[0], other] * len(ways)
    return len(set(ways)) == 1 or ways == alternating[: len(ways)]


def alternates(plan: Plan) -> bool:
    ways = [n["direction"] for n in plan["notes"] if n["join"] != "slur"]
    return all(a != b for a, b in pairwise(ways))


def every_bar(wanted: str) -> Callable[[Plan], bool]:
    return lambda plan: all(ways == wanted for ways in bars_of(plan))


def one_lane(plan: Plan) -> bool:
    return len({n["contact_lane"] for n in plan["notes"]}) == 1


def lane_follows_level(plan: Plan) -> bool:
    """Louder is not farther from the bridge than softer, and equal levels share a lane."""
    lanes: dict[float, set[int]] = {}
    for n in plan["notes"]:
        lanes.setdefault(n["level_db"], set()).add(n["contact_lane"])
    means = [sum(lanes[level]) / len(lanes[level]) for level in sorted(lanes)]
    return all(len(found) == 1 for found in lanes.values()) and means == sorted(means)[::-1]


def pairs_join(wanted: str) -> Callable[[Plan], bool]:
    """The short note of every dotted pair is joined so."""

    def holds(plan: Plan) -> bool:
        pairs = [(a, b) for a, b in pairwise(plan["notes"]) if b["gap_before_s"] < 0.05]
        shorts = [b for a, b in pairs if a["duration_s"] > 1.9 * b["duration_s"]]
        return bool(shorts) and all(n["join"] == wanted for n in shorts)

    return holds


SLOW = [("X*4|Y*4|X*4|Y*4", {"bpm": b}) for b in (40, 50, 60, 72)]
SLOW += [("X*3|Y*3|X*3|X*3", {"bpm": b, "metre": "3/4"}) for b in (40, 52, 66, 80)]
SLOW += [("X*2|Y*2|X*2|X*2", {"bpm": b, "metre": "2/4"}) for b in (32, 40, 54, 60)]
MIXED: list[tuple[str, Options]] = [
    ("X*4|X*1/2 Y*1/2 X*1/2 Y*1/2 X*2|X*4|Y*4", {"bpm": 60}),
    ("X*4|X Y X Y|X*4|Y Y X X", {"bpm": 54}),
    ("X*3 Y|X*3 Y|X*2 Y*2|X*4", {"bpm": 66}),
    ("X*1/4 Y*1/4 X*1/4 Y*1/4 X*3|X*1/4 Y*1/4 X*1/4 Y*1/4 X*3", {"bpm": 80}),
    ("X Y X*2|X Y X*2|X*4", {"bpm": 72}),
    ("X*2 Y*1/2 X*1/2 Y*1/2 X*1/2|X*2 Y*2", {"bpm": 66}),
    ("X*2( Y*2)|X*4|X*2( Y*2)|X*4", {"bpm": 80}),
    ("X*1/2 X*1/2 X*1/2 X*1/2 X*1/2 X*1/2 X*1/2 X*1/2|X*4", {"bpm": 120}),
    ("X*3/2 Y*1/2 X*2|Y*4|X*3/2 Y*1/2 X*2|Y*4", {"bpm": 72}),
    ("X*2 Y|X*3|Y*2 X|Y*3", {"metre": "3/4", "bpm": 60}),
    ("X*3/2 Y*3/2|X*3|Y*3/2 X*3/2|X*3", {"metre": "6/8", "bpm": 60}),
    ("X*4~|X*2 Y*2|X*4|Y*4", {"bpm": 72}),
]
RUNNING: list[tuple[str, Options]] = [
    ("X Y X Y|X X Y Y|X Y X Y|X X Y Y", {}),
    ("X*1/2 Y*1/2 X*1/2 Y*1/2|X*1/2 X*1/2 Y*1/2 X*1/2|X Y", {"metre": "2/4"}),
    ("X*1/2 X*1/2 X*1/2 Y*1/2 Y*1/2 Y*1/2|X*3/2 Y*3/2", {"metre": "6/8"}),
    ("X Y|X Y|X X|Y X", {"metre": "2/4", "bpm": 100}),
    ("X Y X Y|X*2 Y*2|X X Y Y|X*2 Y*2", {}),
    ("X*1/4 Y*1/4 X*1/4 Y*1/4 X*1/2 Y*1/2|X Y", {"metre": "2/4"}),
    ("X|X Y X Y|X Y X Y|X*2 X", {"pickup": True}),
    ("X*1/2 Y*1/2|X Y|X Y|X X*1/2", {"metre": "2/4", "pickup": True}),
    ("X( Y) X( Y)|X( X) Y( Y)|X*2 Y*2", {}),
    ("X*2 Y|X*2 Y|X*2 Y|X*2 Y", {"metre": "3/4"}),
    ("X*1/2 Y*1/2 X*1/2 Y*1/2 X*1/2 Y*1/2 X*1/2 Y*1/2|X Y X Y", {"bpm": 112}),
    ("X*2 Y*2|X*2 Y*2|X Y X Y|X*2 Y*2", {"bpm": 92}),
]
RETURNS: list[tuple[str, Options]] = (
    [("X*2 Y|X*2 Y|X*2 Y|X*2 X", {"metre": "3/4", "bpm": b}) for b in (60, 80, 100)]
    + [("X( Y X) Y|X( Y X) Y|X( X X) Y", {"bpm": b}) for b in (80, 100, 120)]
    + [
        ("X*1/2( Y*1/2 X*1/2) Y*1/2 X*1/2( Y*1/2 X*1/2) Y*1/2|X*2 Y*2", {"bpm": b})
        for b in (60, 80, 96)
    ]
    + [("X Y*1/2 X Y*1/2|X Y*1/2 X Y*1/2", {"metre": "6/8", "bpm": b}) for b in (50, 66, 80)]
)
BALANCED: list[tuple[str, Options]] = (
    [("X( X) X X|X( X) X X", {"bpm": b}) for b in (66, 80, 96, 112)]
    + [("X( Y) X Y|X( Y) Y X|X( X) Y Y", {"bpm": b}) for b in (66, 80, 96, 112)]
    + [
        ("X*1/2( X*1/2) X*1/2 X*1/2|X*1/2( Y*1/2) X*1/2 Y*1/2", {"metre": "2/4", "bpm": b})
        for b in (50, 60, 66, 72)
    ]
)
STRINGS: list[tuple[str, Options]] = [
    ("X X X|Y Y Y|X X X|Y Y Y", {"metre": "3/4"}),
    ("X X X|X Y X|Y Y X|Z Z Z", {"metre": "3/4"}),
    ("X Y X|Y X Y|Z X Y|X X X", {"metre": "3/4", "bpm": 100}),
    ("X X Y Y|Y Y X X|Z Z X X|Y X Y X", {}),
    ("X*3/2 X*1/2 X*2|Y*3/2 Y*1/2 Y*2|Z*3/2 Z*1/2 Z*2", {}),
    ("X*2 X|Y*2 Y|Z*2 X|Y*2 X", {"metre": "3/4"}),
    ("X*1/2 Y*1/2 X*2|Y*1/2 X*1/2 Z*2|X*1/2 X*1/2 X*2", {"metre": "3/4", "bpm": 72}),
    ("X( Y) X Y|Y( Y) X X|Z( Z) Z Z", {}),
    ("X*1/2 X*1/2 X*1/2 Y*1/2 Y*1/2 Y*1/2|Z*1/2 X*1/2 Z*1/2 X*1/2 Y*1/2 X*1/2", {"metre": "6/8"}),
    ("X Y*1/2 X Y*1/2|Y X*1/2 Z X*1/2|Z Z*1/2 Z Z*1/2", {"metre": "6/8"}),
    ("X( X X) Y|Y( Y Y) X|Z( Z Z) Z", {}),
    ("X*2 Y*2|Y*2 X*2|Z*2 X*2|X*2 X*2", {"bpm": 66}),
]
WHOLE_BARS = SLOW
LEVELS = [("[p] X Y X Y|X*2 Y*2|[f] X Y X Y|X*2 Y*2", {"bpm": b}) for b in (60, 72, 84, 96)]
LEVELS += [
    ("[mf] X Y|X Y|[p] X Y|X Y|[f] X X|Y Y", {"metre": "2/4", "bpm": b}) for b in (60, 76, 92, 108)
]
LEVELS += [("[f] X Y X|X*3|[p] X Y X|X*3", {"metre": "3/4", "bpm": b}) for b in (60, 76, 92, 108)]
DOTTED = [
    ("X*3/4 Y*1/4 X*3/4 Y*1/4|X*3/4 X*1/4 Y*3/4 X*1/4|X*3/4 Y*1/4 Y*3/4 X*1/4", "2/4"),
    ("X*3/2 Y*1/2 X*3/2 Y*1/2|X*3/2 X*1/2 Y*3/2 X*1/2", "4/4"),
    ("X*3/4 Y*1/4 X*3/4 Y*1/4 X*3/4 Y*1/4|X*3/4 Y*1/4 X*3/4 X*1/4 Y*3/4 X*1/4", "3/4"),
]
MARCH = [(music, {"metre": metre, "bpm": b}) for music, metre in DOTTED for b in (80, 92, 100, 112)]


def with_school(cases: list[tuple[str, Options]], **school: str) -> list[tuple[str, Options]]:
    return [(music, {**options, **school}) for music, options in cases]


CHECKS: list[tuple[str, list[tuple[str, Options]], Callable[[Plan], bool]]] = [
    ("1 limits before wishes, slow notes", SLOW, within_limits),
    ("1 limits before wishes, mixed", MIXED, within_limits),
    ("2 long notes are not hooked", SLOW, long_notes_turn),
    ("2 nor among others", MIXED, long_notes_turn),
    ("2 running notes begin bars down", RUNNING, first_beats_down),
    ("3 evenness, running", RUNNING, even),
    ("3 evenness, returns", RETURNS, even),
    ("4 a slur is balanced by two ups", BALANCED, every_bar("DUu")),
    ("5 same rhythm, same bows", STRINGS, all_bars_alike),
    ("6 bars of one bow alternate", WHOLE_BARS, alternates),
    ("8 dotted: hook", with_school(MARCH, dotted="hook"), pairs_join("hook")),
    ("8 dotted: separate", with_school(MARCH, dotted="separate"), pairs_join("turn")),
    ("9 one lane at one level", [(f"[f] {m}", o) for m, o in RUNNING], one_lane),
    ("9 the lane follows the level", LEVELS, lane_follows_level),
    ("10 no warning, running", RUNNING, nothing_to_say),
    ("10 no warning, strings", STRINGS, nothing_to_say),
]


def repeats() -> Iterator[tuple[str, bool, str]]:
    for music, options in RUNNING:
        for instrument in PITCHES:
            plain = plan_by_command(music, instrument, options)
            after = 1 + music.count("|") // 2 if len(music) % 2 else 1 + music.count("|")
            again = plan_by_command(music, instrument, {**options, "repeat": after})
            same = [n["direction"] for n in plain["notes"]] == [
                n["direction"] for n in again["notes"]
            ]
            yield f"{instrument}: {music} {options}", same, str(bars_of(again))


def run() -> None:
    for title, cases, holds in CHECKS:
        wrong = []
        for music, options in cases:
            for instrument in PITCHES:
                plan = plan_by_command(music, instrument, options)
                if not holds(plan):
                    wrong.append(f"{instrument}: {music} {options}: {bars_of(plan)} {codes(plan)}")
        tell(title, wrong, len(cases) * len(PITCHES))
    wrong = [f"{case}: {ways}" for case, same, ways in repeats() if not same]
    tell("7 a repeat changes nothing", wrong, len(RUNNING) * len(PITCHES))


def tell(title: str, wrong: list[str], count: int) -> None:
    print(f"{title}: {count - len(wrong)} of {count}")
    for line in wrong:
        print(f"    {line}")


if __name__ == "__main__":
    run()
