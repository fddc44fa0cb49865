"""Every entry for foreign bytes, each with sound examples to start from."""

from __future__ import annotations

import io
import json
import os
import random
import select
import signal
import sys
import time
import zipfile
from collections.abc import Callable, Iterator
from contextlib import contextmanager, redirect_stderr
from dataclasses import dataclass, replace
from datetime import date
from functools import cache
from pathlib import Path
from subprocess import CompletedProcess, TimeoutExpired
from tempfile import TemporaryDirectory

from plectrum.core.document.choices import Choices
from plectrum.core.document.document import Document
from plectrum.core.document.homework import Homework, Outcome, Result
from plectrum.core.errors import ScoreError
from plectrum.core.files.exports import plan_as_json
from plectrum.core.files.opening import open_document
from plectrum.core.files.planfile import document_bytes
from plectrum.core.files.practicefile import PracticeAlone, practice_bytes, practice_from_bytes
from plectrum.core.instrument.bow import Bow
from plectrum.core.log.exchange import (
    log_as_csv_zip,
    log_as_json,
    measured_from_csv,
    records_from_csv_zip,
    records_from_json,
)
from plectrum.core.log.records import (
    Lesson,
    Measured,
    Piece,
    PlanGiven,
    Practised,
    StepDone,
    Student,
)
from plectrum.core.log.store import LogStore
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.player.own_bowing import OwnBowing
from plectrum.core.player.player import stage
from plectrum.core.player.player_file import player_from_json
from plectrum.core.player.records import (
    NamedPlayer,
    bowing_as_json,
    bowing_from_json,
    named_as_json,
    named_from_file,
)
from plectrum.core.practice.exercises.catalogue import made_of
from plectrum.core.practice.exercises.model import (
    exercise_bytes,
    exercise_from_bytes,
    shipped,
)
from plectrum.core.practice.exercises.play import ExercisePlay
from plectrum.core.practice.exercises.routine import (
    planned_items,
    routine_bytes,
    routine_from_bytes,
    shipped_routines,
)
from plectrum.core.practice.programme import exercise_programme, programme_of
from plectrum.core.score.reading import abc, abc_child
from plectrum.core.score.reading.opening import open_score
from plectrum.core.tracking.sensor import SensorReader
from tests.tunes import tune_xml

PLANNED = 0.1  # of the documents that open, this share is planned too
DAY = date(2026, 11, 2)


@dataclass(frozen=True)
class Target:
    """An entry: how its bytes are made, and what takes them."""

    name: str
    kind: str
    take: Callable[[bytes, random.Random], object]
    examples: Callable[[], list[bytes]]


def _open(data: bytes, luck: random.Random) -> object:
    document = open_document(data, "foreign")
    if luck.random() < PLANNED and len(document.part.notes) < 300:
        plan = plan_of(document)
        plan_as_json(document, plan)
        programme_of(document, plan, DAY)
    return document


def _exercise(data: bytes, _luck: random.Random) -> object:
    play = ExercisePlay(made_of(exercise_from_bytes(data, "foreign"), Choices.default("violin")))
    return play.at(play.length_s / 2), play.cues, play.cards


def _practice(data: bytes, _luck: random.Random) -> object:
    kept = practice_from_bytes(data, "foreign")
    return exercise_programme(kept.homework, kept.choices, DAY).days


def _practices() -> list[bytes]:
    """Practice without a piece: with drills, and with a routine."""
    usual = PracticeAlone.usual("cello")
    drilled = replace(usual.homework, drills={"arcs": {}, "hooked": {"times": 3, "strings": "G"}})
    routine = replace(usual.homework, routine=routine_bytes(shipped_routines()["holiday"]).decode())
    return [practice_bytes(replace(usual, homework=home)) for home in (drilled, routine)]


def _abc(data: bytes, luck: random.Random) -> object:
    """Converted here, for speed; what takes long is refused by the limit of the child, of which
    `test_a_converter_that_hangs_is_stopped` tells."""
    try:
        with _converted_here():
            return open_document(data, "foreign", source="abc")
    except TooLongError as error:
        raise ScoreError("not converted within its time") from error


class TooLongError(BaseException):
    """Nothing came back in time; no reader takes it for an error of its own."""


@contextmanager
def _converted_here() -> Iterator[None]:
    """The child that converts ABC is a fork instead of a program that starts: sooner, and with the
    same end for a tune on which the converter hangs."""
    kept = abc.subprocess
    names = {"run": staticmethod(_converted_in_a_fork), "TimeoutExpired": kept.TimeoutExpired}
    abc.subprocess = type("Here", (), names)
    try:
        yield
    finally:
        abc.subprocess = kept


def _converted_in_a_fork(
    _command: object, input: bytes, timeout: float, **_options: object
) -> object:
    reading, writing = os.pipe()
    child = os.fork()
    if child == 0:
        try:
            signal.alarm(0)
            sys.argv = sys.argv[:1]  # the converter reads it
            with os.fdopen(writing, "wb") as answer, redirect_stderr(io.StringIO()):
                answer.write(abc_child.convert(input))
        finally:
            os._exit(0)
    os.close(writing)
    ends = time.monotonic() + timeout
    pieces = []
    with os.fdopen(reading, "rb", buffering=0) as answer:
        while (left := ends - time.monotonic()) > 0 and select.select([answer], [], [], left)[0]:
            piece = answer.read(1 << 16)
            if not piece:
                break
            pieces.append(piece)
        else:
            os.kill(child, signal.SIGKILL)
            os.waitpid(child, 0)
            raise TimeoutExpired("abc", timeout)
    os.waitpid(child, 0)
    return CompletedProcess((), 0, b"".join(pieces), b"no tune found")


def _sensor(data: bytes, _luck: random.Random) -> object:
    return SensorReader().feed(data.decode("utf-8", "replace"))


def _named(data: bytes, _luck: random.Random) -> object:
    with TemporaryDirectory() as folder:
        path = Path(folder) / "player.json"
        path.write_bytes(data)
        return named_from_file(path)


@cache
def _tunes() -> list[bytes]:
    return [
        tune_xml("A4*1/2( B4*1/2) C5 D5|A4*3/2. B4*1/2. r C5|D4 E4> F4!d G4u|A4*4"),
        tune_xml("r*2 A4 B4|C5*2 D5*2~|D5*4", "4/4"),
        tune_xml("G4 A4*1/2 B4 C5*1/2|D5*3", "6/8"),
    ]


@cache
def _compressed() -> list[bytes]:
    found = []
    for xml in _tunes():
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w") as archive:
            archive.writestr(
                "META-INF/container.xml",
                '<container><rootfiles><rootfile full-path="s.xml"/></rootfiles></container>',
            )
            archive.writestr("s.xml", xml)
        found.append(out.getvalue())
    return found


@cache
def _plans() -> list[bytes]:
    homework = Homework(
        "Listen to the end of each bow.", DAY, holidays=frozenset({DAY}),
        results={"a": Result(Outcome.GOOD, DAY)},
    )  # fmt: skip
    documents = [Document.from_score(open_score(xml, "tune")) for xml in _tunes()]
    documents = [replace(d.all_seated(), homework=homework, together=True) for d in documents]
    return [document_bytes(d) for d in documents]


@cache
def _midi() -> list[bytes]:
    import mido

    file = mido.MidiFile(ticks_per_beat=480)
    track = mido.MidiTrack()
    file.tracks.append(track)
    track.append(mido.MetaMessage("set_tempo", tempo=500_000))
    track.append(mido.MetaMessage("time_signature", numerator=3, denominator=4))
    track.append(mido.MetaMessage("track_name", name="Violin"))
    for pitch in (67, 69, 71, 72):
        track.append(mido.Message("note_on", note=pitch, velocity=64, time=0))
        track.append(mido.Message("note_off", note=pitch, velocity=0, time=480))
    out = io.BytesIO()
    file.save(file=out)
    return [out.getvalue()]


@cache
def _log() -> tuple[bytes, bytes]:
    """A small log as JSON and as tables."""
    with TemporaryDirectory() as folder:
        store = LogStore(Path(folder) / "log.sqlite")
        who, piece = Student("Wren", "violin", id="s1"), Piece("Tune", "violin", 90.0, id="p1")
        store.put(
            who, piece, Practised("s1", DAY, 20), Lesson("s1", DAY, checks={"hold": True}),
            Measured("s1", DAY, "longest bow", 12.5, (12.0, 13.0), 2, "down"),
            StepDone("s1", DAY, "k", "Whole bows", "good", "p1", 60.0),
            PlanGiven("s1", "p1", DAY, b"PK"),
        )  # fmt: skip
        done = log_as_json(store), log_as_csv_zip(store)
        store.close()
        return done


STUDENTS = {"Wren": Student("Wren", "violin", id="s1")}
ABC = b"X:1\nT:Harbour\nM:4/4\nL:1/8\nQ:1/4=90\nK:D\n|:DEFG A2 vB2|uc4 (d2e2):|\n"
CSV = b"student,on,measure,value,string,direction\nWren,2026-11-02,longest bow,12.5,2,down\n"
LINES = b"plectrum-bow 1\n# a remark\n0.1 0.5 -180 1.5 3 5\n0.2 0.6 - - - -\n"

TARGETS = (
    Target("musicxml", "xml", _open, _tunes),
    Target("mxl", "zip", _open, _compressed),
    Target("plan", "zip", _open, _plans),
    Target("midi", "midi", _open, _midi),
    Target("abc", "abc", _abc, lambda: [ABC]),
    Target(
        "player", "json", lambda d, _: player_from_json(d, "foreign"),
        lambda: [json.dumps(stage("growing").as_dict()).encode()],
    ),
    Target(
        "named player", "json", _named,
        lambda: [named_as_json(NamedPlayer(stage("steady"), Bow.full_size("cello"))).encode()],
    ),
    Target(
        "bowing", "json", lambda d, _: bowing_from_json(d, "foreign"),
        lambda: [bowing_as_json(OwnBowing((("hook", 2.0),), 3, 40)).encode()],
    ),
    Target("log", "json", lambda d, _: records_from_json(d, "foreign"), lambda: [_log()[0]]),
    Target(
        "log tables", "zip", lambda d, _: records_from_csv_zip(d, "foreign"), lambda: [_log()[1]]
    ),
    Target(
        "measurements", "csv", lambda d, _: measured_from_csv(d, "foreign", STUDENTS),
        lambda: [CSV],
    ),
    Target(
        "exercise", "json", _exercise,
        lambda: [exercise_bytes(row) for row in list(shipped().values())[::5]],
    ),
    Target(
        "routine", "json",
        lambda d, _: planned_items(routine_from_bytes(d, "foreign"), Choices.default("violin")),
        lambda: [routine_bytes(row) for row in shipped_routines().values()],
    ),
    Target("practice", "json", _practice, _practices),
    Target("sensor", "lines", _sensor, lambda: [LINES]),
)  # fmt: skip
