"""Makes src/plectrum/demo/log.json: six weeks of three invented players, the same every time."""

from __future__ import annotations

import json
import random
import sys
import tempfile
from dataclasses import replace
from datetime import date, timedelta
from pathlib import Path

from plectrum.core.files.opening import open_document_path
from plectrum.core.files.planfile import document_bytes
from plectrum.core.log.exchange import log_as_json
from plectrum.core.log.records import (
    CHECKS,
    BowOwned,
    FaultSeen,
    Lesson,
    Measure,
    Measured,
    Piece,
    PlanGiven,
    Practised,
    Record,
    StepDone,
    Student,
)
from plectrum.core.log.store import LogStore
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.player.player import stage
from plectrum.core.practice.ladder import ladders_of
from plectrum.demo import demo_paths

TARGET = Path(__file__).parents[1] / "src" / "plectrum" / "demo" / "log.json"
LAST = date(2026, 11, 22)  # a Sunday; the demo moves the days so that they end yesterday
WEEKS = 6
# Name, stage, instrument, piece, minutes a day, days a week, longest bow at first, growth a week.
PEOPLE = (
    ("Wren", "starter", "violin", 0, 10, 4, 3.6, 0.35),
    ("Tarn", "growing", "cello", 1, 15, 5, 5.2, 0.25),
    ("Maris", "steady", "violin", 0, 25, 6, 10.5, 0.5),
)
FAULTS = ("ran out of bow", "creeps to the tip", "late crossing", "choked", "whistled")


def main() -> int:
    rng = random.Random(11)
    records: list[Record] = []
    pieces: dict[int, Piece] = {}
    for number, row in enumerate(PEOPLE):
        records += _person(rng, number, row, pieces)
    with tempfile.TemporaryDirectory() as folder:
        store = LogStore(Path(folder) / "log.sqlite")
        store.put_all([*pieces.values(), *records])
        data = json.loads(log_as_json(store))
        store.close()
    TARGET.write_text(json.dumps(data, ensure_ascii=False) + "\n", "utf-8")
    print(f"{len(records)} records, {TARGET.stat().st_size / 1e3:.0f} kB")
    return 0


def _person(rng, number, row, pieces):  # type: ignore[no-untyped-def]
    name, kind, instrument, piece_k, minutes, days, longest_s, growth_s = row
    ids = iter(f"demo{number}{k:05d}" for k in range(100_000))
    student = Student(name, instrument, id=next(ids))
    document = open_document_path(demo_paths()[piece_k])
    player = replace(stage(kind), name=name, title=name)
    document = document.with_choices(replace(document.choices, player=player))
    plan = plan_of(document)
    bpm, bars_n = plan.part.tempo.bpm, plan.part.bars_n
    own = Piece(document.title, instrument, bpm, bars_n, f"demopiece{piece_k}")
    piece = pieces.setdefault(piece_k, own)
    hair_mm = document.choices.bow.hair_mm
    out: list[Record] = [student, BowOwned(student.id, f"{name}'s bow", hair_mm, id=next(ids))]
    start = LAST - timedelta(days=7 * WEEKS - 1)
    out.append(PlanGiven(student.id, piece.id, start, document_bytes(document), id=next(ids)))
    steps = [s for ladder in ladders_of(document, plan) for s in ladder.steps]
    at = 0
    for week in range(WEEKS):
        monday = start + timedelta(days=7 * week)
        for day in sorted(rng.sample(range(1, 7), days - (rng.random() < 0.35))):
            on = monday + timedelta(days=day)
            out.append(Practised(student.id, on, max(5, round(rng.gauss(minutes, minutes / 6))),
                                 id=next(ids)))  # fmt: skip
            for _ in range(rng.choice([1, 2, 2, 3])):
                step = steps[at % len(steps)]
                mark = "good" if rng.random() < 0.78 else "again"
                at += mark == "good"
                bpm = step.bpm if step.key.split(".")[1].startswith("tempo") else None
                section = step.key.split(".")[0]
                letter = "ABCDEFGH"[int(section) - 1]
                out.append(StepDone(student.id, on, step.key, f"{letter}: {step.title}", mark,
                                    piece.id, bpm, letter, next(ids)))  # fmt: skip
        out += _lesson(rng, student, piece, monday, week, longest_s, growth_s, ids)
    return out


def _lesson(rng, student, piece, on, week, longest_s, growth_s, ids):  # type: ignore[no-untyped-def]
    out: list[Record] = []
    for string in range(4):
        for direction, share in (("down", 1.0), ("up", 0.84)):
            middle = (longest_s + growth_s * week) * share * (1 - 0.04 * (3 - string))
            tries = tuple(round(max(0.6, rng.gauss(middle, middle * 0.07)), 1) for _ in range(3))
            value = sorted(tries)[1]
            out.append(Measured(student.id, on, Measure.LONGEST_BOW, value, tries, string,
                                direction, id=next(ids)))  # fmt: skip
    hits = min(10, 4 + week + rng.choice([-1, 0, 1]))
    right = min(20, 10 + 2 * week + rng.choice([-1, 0, 1, 2]))
    out += [
        Measured(student.id, on, Measure.PLACEMENTS, float(hits), (float(hits),), id=next(ids)),
        Measured(student.id, on, Measure.LEVEL_CALLS, float(right), (float(right),), id=next(ids)),
    ]
    if week in (0, 4):
        out.append(Measured(student.id, on, Measure.ROSIN, 1.0, id=next(ids)))
    if week == 0:
        out.append(Measured(student.id, on, Measure.HAIR_TURNS, 4.0, (4.0,), id=next(ids)))
    for _ in range(rng.choice([4, 5, 6, 8])):
        kind = rng.choices(FAULTS, (4, 3, 3, 2, 1))[0]
        middle = {"ran out of bow": 0.85, "creeps to the tip": 0.8, "choked": 0.15}.get(kind, 0.5)
        place = min(0.99, max(0.01, rng.gauss(middle, 0.12)))
        bar = rng.choices([3, 9, 10, 11, 14], (2, 4, 4, 2, 1))[0]
        out.append(FaultSeen(student.id, on, kind, piece.id, bar, round(place, 3), next(ids)))
    checks = {name: rng.random() < 0.4 + 0.09 * week for name in CHECKS}
    notes = ("Straight bow is getting better.", "Sang the rhythm first, then it went.",
             "The hooks were too short.", "Loose shoulders today.", "Very even bows.",
             "Ready for the second section.")  # fmt: skip
    nexts = ("Stop-bows with the metronome.", "Open strings, then both hands.",
             "Longest bows every day.", "Say the bows aloud.", "Section B at tempo.",
             "Play it for someone.")  # fmt: skip
    out.append(Lesson(student.id, on, notes[week], nexts[week], checks, id=next(ids)))
    return out


if __name__ == "__main__":
    sys.exit(main())
