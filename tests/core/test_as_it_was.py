"""What is read, said, practised and summed up of known pieces stays as it is, to the last word.

The digests in `as_it_was.json` guard the sentences and numbers that no single promise is worth a
test of its own for. Where something is meant to change, read what changed, then write them anew:
`python -m tests.core.test_as_it_was`.
"""

from __future__ import annotations

import hashlib
import json
import tempfile
from collections.abc import Callable, Mapping
from dataclasses import fields, is_dataclass, replace
from datetime import date
from fractions import Fraction
from functools import cache
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from plectrum.core.advice.comparison import changed_bars, compare
from plectrum.core.advice.overview import overview_of
from plectrum.core.advice.reasons import alternative_words, reasons_for
from plectrum.core.advice.sound_faults import Symptom, find_faults
from plectrum.core.advice.warnings import warnings_of
from plectrum.core.advice.words import note_sentence
from plectrum.core.document.choices import Join, Pin
from plectrum.core.document.document import Document
from plectrum.core.document.homework import Outcome, Result
from plectrum.core.files.exports import plan_as_text
from plectrum.core.files.opening import open_document_path
from plectrum.core.instrument.specification import instrument_names
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.planning.fingering.grips import grips_for
from plectrum.core.planning.plan import Plan
from plectrum.core.planning.strokes.amounts import amounts_of, school_range
from plectrum.core.player.player import STAGES, stage
from plectrum.core.player.school import QUESTIONS
from plectrum.core.practice.exercises.drills import Setting
from plectrum.core.practice.exercises.model import Changes, shipped
from plectrum.core.practice.exercises.steps import drill_of
from plectrum.core.practice.handout import HandoutOptions, Words, handout_of
from plectrum.core.practice.practice_day import stages_of
from plectrum.core.practice.programme import class_programme, programme_of
from plectrum.core.practice.week import week_of
from plectrum.core.score.instruments import guess_instrument, named_instrument
from plectrum.core.score.model import Direction
from plectrum.demo import demo_log, demo_paths
from tests.tunes import tune_document

KEPT = Path(__file__).with_name("as_it_was.json")
DEMO = tuple(path.stem for path in demo_paths())
TODAY = date(2026, 11, 25)
# Tunes that ask for too much in every way, so that everything there is to say is said.
HARD = {
    "slow": ("A4*4( B4*4|C#5*4 D5*4)|E5*8", "8/4", 40.0),
    "fast": ("A4*1/4 E5*1/4 G3*1/4 E5*1/4 A4*1/4( B4*1/4 C#5*1/4 D5*1/4) E5*2", "4/4", 208.0),
    "skips": ("G3( E5) G3( E5)|D4+B4 A4+F#5 G3+E4 D5+A5|A4> B4> A4. B4.", "4/4", 90.0),
    "levels": ("[pp] A4 B4 [<] C#5 D5|E5 F#5 [x]|[ff] G3*2 [>] A3 B3 [x]|[p] A4*4", "4/4", 66.0),
    "pairs": ("A4*3/2 B4*1/2 A4*3/4 B4*1/4 A4|r A4*1/2 r*1/2 B4*2|A4*2! B4*2", "4/4", 84.0),
    "high": ("A5 B5 D6 E6|C4 B3 A3 G3|Bb4 F5 C5 G5|G#4 D#5 A#4 F5", "4/4", 72.0),
    "waltz": ("A4^ B4*1/2( C#5*1/2 D5) E5|E5*3|r A4u B4d|D4( E4 F#4)", "3/4", 120.0),
    "jig": ("D5*1/2 E5*1/2 F#5*1/2 A5*1/2 F#5*1/2 D5*1/2|B4*3/2 A4*3/2", "6/8", 100.0),
}


def plain(value: Any) -> Any:
    """Anything as something that always prints in the same way; numbers to nine digits."""
    if isinstance(value, str):
        return str(value)
    if value is None or isinstance(value, bool | int | Fraction | date):
        return str(value)
    if isinstance(value, float | np.floating):
        return f"{value:.9g}"
    if isinstance(value, np.ndarray):
        return plain(value.tolist())
    if is_dataclass(value) and not isinstance(value, type):
        shown = [f.name for f in fields(value) if f.repr]
        return type(value).__name__, [plain(getattr(value, name)) for name in shown]
    if isinstance(value, Mapping):
        return sorted((plain(k), plain(v)) for k, v in value.items())
    if isinstance(value, set | frozenset):
        return sorted(plain(v) for v in value)
    if isinstance(value, list | tuple):
        return [plain(v) for v in value]
    return type(value).__name__


def digest(value: Any) -> str:
    return hashlib.blake2b(repr(plain(value)).encode(), digest_size=9).hexdigest()


@cache
def pieces() -> dict[str, Document]:
    """The demo and the hard tunes, for every stage."""
    found = {path.stem: open_document_path(path) for path in demo_paths()}
    for name, (music, metre, bpm) in HARD.items():
        found[name] = tune_document(music, metre, bpm=bpm)
    found["cello"] = tune_document("C3 G3 D4 A4|F#3 C#4 Bb3 E4", name="Cello", clef="F4")
    found["bass"] = tune_document("E2 A2 D3 G3|F#2 B2 C3 F3", name="Bass", clef="F4")
    return {
        f"{name}, {who}": document.with_choices(replace(document.choices, player=stage(who)))
        for name, document in found.items()
        for who in STAGES
    }


@cache
def planned(name: str) -> Plan:
    return plan_of(pieces()[name])


def read(name: str) -> Any:
    """Everything of the part that is read, and what strings, amounts and places come of it."""
    document, plan = pieces()[name], planned(name)
    amounts = amounts_of(plan.part, plan.choices)
    rows: list[Any] = [
        document.title,
        document.part.bars,
        document.part.left_out,
    ]
    rows += [tuple(n) for n in document.part.notes]
    rows += (amounts.length * amounts.string_gain((2,))).tolist()
    rows += [grips_for(plan.choices.instrument, tuple(p.midi for p in n.pitches), (1, 2, 3))
             for n in document.part.notes]  # fmt: skip
    for question, _, answers in QUESTIONS:
        for answer in answers:
            choices = plan.choices.with_school(question, answer)
            changed = plan_of(document.with_choices(choices))
            rows += [school_range(choices), [(u.ideal_length, u.ideal_place, u.free_s,
                                              u.short_after_long, u.crossings, u.moving_s)
                                             for u in changed.units],
                     changed.fingered]  # fmt: skip
    return rows


def said(name: str) -> Any:
    """Every sentence about a plan."""
    document, plan = pieces()[name], planned(name)
    rows: list[Any] = [warnings_of(plan), overview_of(plan), plan_as_text(document, plan)]
    for note in plan.part.notes:
        rows.append(reasons_for(plan, note.index))
        shown = plan.notes[note.index]
        if shown is not None:
            rows.append(note_sentence(shown, plan.choices.bow))
            rows += [find_faults(plan, note.index, s) for s in Symptom if note.index % 3 == 0]
    for unit in range(len(plan.units)):
        for a in plan.alternatives_at_once(unit):
            change = plan.change_by(unit, a.direction, a.join) if a.possible else None
            rows.append((a, alternative_words(a, change), alternative_words(a, None)))
    return rows


def said_of_pins(name: str) -> Any:
    """What is said where pins cannot all be kept, and of two plans side by side."""
    document, plan = pieces()[name], planned(name)
    rows: list[Any] = []
    for k, note in enumerate(plan.part.notes[:8]):
        pin = (Pin(direction=Direction.UP), Pin(join=Join.RETAKE), Pin(start_cell=2),
               Pin(length_cells=40), Pin(string=0), Pin(finger=4), Pin(lane=1),
               Pin(join=Join.HOOK, direction=Direction.DOWN))[k]  # fmt: skip
        other = plan_of(document.with_choices(document.choices.with_pin(note.id, pin)))
        seen = compare(plan, other)
        rows += [warnings_of(other), reasons_for(other, note.index), seen.words,
                 seen.differences, changed_bars(plan, other), pin.words()]  # fmt: skip
    return rows


def practised(name: str) -> Any:
    """Ladder, week, today and page of a piece."""
    document, plan = pieces()[name], planned(name)
    programme = programme_of(document, plan, TODAY)
    keys = [task.key for task in programme.tasks]
    home = document.homework
    for k, key in enumerate(keys[: len(keys) // 2]):
        home = home.marked(key, Result(Outcome.AGAIN if k % 3 else Outcome.GOOD, TODAY))
    marked = programme_of(document.with_homework(home), plan, TODAY)
    rows: list[Any] = []
    for made in (programme, marked):
        rows += [made.ladders, made.tasks, made.days]
        rows += [stages_of(day, made) for day in made.days[:3]]
    rows.append(handout_of(document, plan, HandoutOptions(words=Words.ALL, teacher=True), TODAY))
    return rows


def drilled(name: str) -> Any:
    """Every exercise as it is, on a later day and changed, for an instrument and a player."""
    instrument, who = name.split(", ")
    document = tune_document("D3 D3 D3 D3", instrument=instrument)
    setting = Setting.of(replace(document.choices, player=stage(who)))
    rows: list[Any] = []
    for row in shipped().values():
        rows.append(drill_of(row, setting))
        rows.append(drill_of(row.on_day(3), setting, 3))
        rows.append(drill_of(Changes(play_beats=3, look_beats=2, times=2).made_in(row), setting))
    return rows


def logged(_name: str) -> Any:
    """The demo's log, summed up."""
    from plectrum.core.log.demo import open_demo
    from plectrum.core.log.lesson import lesson_sheet
    from plectrum.core.log.limits import proposals
    from plectrum.core.log.records import Measured, Student
    from plectrum.core.log.summaries import (
        class_overview,
        fault_places,
        longest_bows,
        minutes_by_week,
        tempos_reached,
    )

    with tempfile.TemporaryDirectory() as folder:
        store, shelf = open_demo(Path(folder), demo_log(), TODAY)
        rows: list[Any] = [
            [(r.student.name, plain(r)[1][1:]) for r in class_overview(store, TODAY)]
        ]
        players = {p.name: p for p in shelf.all()[0]}
        for student in store.all(Student):
            named = players.get(student.name)
            measured = store.all(Measured, student_id=student.id)
            found = proposals(measured, named.player, named.bow, TODAY) if named else ()
            sheet = lesson_sheet(store, student, TODAY, found)
            rows += [student.name, found, minutes_by_week(store, student),
                     longest_bows(store, student, ("G", "D", "A", "E")),
                     [plain(t)[1] for t in tempos_reached(store, student)],
                     fault_places(store, student), plain(sheet)[1][1:]]  # fmt: skip
        store.close()
    return rows


def guessed(_name: str) -> Any:
    """What part names, clefs and ranges are taken for."""
    names = ("Violin I", "Vla.", "Violoncello", "Kontrabass", "Double Bass", "Flute", "Fiddle",
             "Viola da gamba", "Bass Guitar", "", "Voice", "Bratsche 2", "Cb.", "Vc.")  # fmt: skip
    rows: list[Any] = [(n, named_instrument(n)) for n in names]
    for clef in ("G2", "C3", "F4", "C4", "", "F3"):
        for lowest in (28, 36, 48, 55, 60):
            for program in (0, 41, 42, 43, 44, 74):
                for octaves in (0, -1):
                    rows.append(guess_instrument(
                        [""], clef=clef, clef_octaves=octaves, percussion=False,
                        midi_program=program, lowest_midi=lowest,
                    ))  # fmt: skip
    return rows


def together(_name: str) -> Any:
    """A class of three on the same piece."""
    stem = demo_paths()[0].stem
    members = [(who, pieces()[f"{stem}, {who}"], planned(f"{stem}, {who}")) for who in STAGES]
    rows: list[Any] = []
    for order in (members, members[::-1], members[1:]):
        made = class_programme(order, TODAY)
        rows += [made.ladders, made.tasks, made.days, made.players, week_of(made.days, TODAY)]
    return rows


CASES: dict[str, tuple[Callable[[str], Any], list[str]]] = {
    "read": (read, [f"{n}, growing" for n in (*HARD, "cello", "bass", *DEMO)]),
    "said": (said, [f"{n}, {w}" for n in (*HARD, "cello", "bass") for w in STAGES]
             + [f"{n}, growing" for n in DEMO]),
    "pins": (said_of_pins, [f"{n}, {w}" for n in HARD for w in ("starter", "steady")]),
    "practised": (practised, [f"{n}, {w}" for n in DEMO for w in STAGES]),
    "drilled": (drilled, [f"{n}, {w}" for n in instrument_names() for w in STAGES]),
    "logged": (logged, ["demo"]),
    "guessed": (guessed, ["parts"]),
    "together": (together, ["class"]),
}  # fmt: skip


@pytest.mark.parametrize("kind", CASES)
def test_everything_said_is_as_it_was(kind: str):
    """Every sentence and number, for players of every stage."""
    kept = json.loads(KEPT.read_text("utf-8"))
    make, names = CASES[kind]
    for name in names:
        assert digest(make(name)) == kept[f"{kind}: {name}"], name


if __name__ == "__main__":
    found = {f"{k}: {n}": digest(make(n)) for k, (make, names) in CASES.items() for n in names}
    KEPT.write_text(json.dumps(found, indent=1, sort_keys=True) + "\n", "utf-8")
