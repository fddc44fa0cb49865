"""The plan file keeps everything, writes whole or not at all, and knows its version."""

from __future__ import annotations

import io
import json
import os
import zipfile
from dataclasses import replace
from importlib import resources
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from jsonschema import Draft202012Validator
from scripts.schemas import SCHEMAS, schema

from plectrum.core.atomic import write_atomically
from plectrum.core.document.choices import Join, Pin
from plectrum.core.errors import PlanFileError, PlectrumError, ScoreError
from plectrum.core.files.kinds import MIMETYPE, is_plan_file
from plectrum.core.files.opening import open_document
from plectrum.core.files.planfile import document_bytes, document_from_bytes, save_document
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.player.player import stage
from plectrum.core.player.school import DirectionSchool, School
from plectrum.core.practice.exercises.model import exercise_bytes, shipped
from plectrum.core.practice.exercises.routine import routine_bytes, shipped_routines
from plectrum.core.score.model import Direction
from tests.core.planning.strategies import players, schools
from tests.tunes import tune_document

MUSIC = "A4( B4) C5 D5|E5*2 r D5|"

pins = st.builds(
    Pin,
    st.sampled_from([None, *Direction]),
    st.sampled_from([None, Join.TURN, Join.HOOK, Join.RETAKE, Join.SLUR]),
    st.none() | st.integers(0, 48),
    st.none() | st.integers(1, 48),
)


def rewritten(data: bytes, change) -> bytes:
    """A plan file with its plan.json changed by a function."""
    source = zipfile.ZipFile(io.BytesIO(data))
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as target:
        for info in source.infolist():
            content = source.read(info)
            if info.filename == "plan.json":
                plan = json.loads(content)
                change(plan)
                content = json.dumps(plan).encode()
            target.writestr(info, content)
    return buffer.getvalue()


@settings(max_examples=25, deadline=None)
@given(
    st.dictionaries(st.integers(0, 5), pins, max_size=4),
    players(),
    schools(),
    st.none() | st.floats(20, 300),
)
def test_what_is_saved_comes_back(pinned, player, school, bpm):
    document = tune_document(MUSIC)
    choices = replace(
        document.choices,
        player=stage(player),
        school=School(DirectionSchool(school)),
        tempo_bpm=bpm,
    )
    for index, pin in pinned.items():
        choices = choices.with_pin(document.part.notes[index].id, pin)
    document = document.with_choices(choices)
    again = document_from_bytes(document_bytes(document), "x.plectrum")
    assert again.choices == document.choices
    assert again.score.xml == document.score.xml
    assert plan_of(again).steps == plan_of(document).steps


def test_mimetype_comes_first_and_uncompressed():
    data = document_bytes(tune_document(MUSIC))
    first = zipfile.ZipFile(io.BytesIO(data)).infolist()[0]
    assert (first.filename, first.compress_type) == ("mimetype", zipfile.ZIP_STORED)
    assert MIMETYPE.encode() in data[:80]
    assert is_plan_file(data)


def test_the_same_document_gives_the_same_bytes():
    assert document_bytes(tune_document(MUSIC)) == document_bytes(tune_document(MUSIC))


def test_unknown_keys_of_a_newer_minor_version_are_kept():
    def add(plan):
        plan["version"] = "1.7"
        plan["weather"] = {"wind": 4}
        plan["bow"]["rosin"] = "dark"

    newer = rewritten(document_bytes(tune_document(MUSIC)), add)
    saved = document_bytes(document_from_bytes(newer, "x"))
    plan = json.loads(zipfile.ZipFile(io.BytesIO(saved)).read("plan.json"))
    assert plan["weather"] == {"wind": 4}
    assert plan["bow"]["rosin"] == "dark"


def test_a_newer_major_version_is_refused():
    newer = rewritten(document_bytes(tune_document(MUSIC)), lambda plan: plan.update(version="2.0"))
    with pytest.raises(PlanFileError, match="newer version"):
        document_from_bytes(newer, "x.plectrum")


@pytest.mark.parametrize(
    ("change", "said"),
    [
        (lambda p: p.pop("part"), "part"),
        (lambda p: p.update(instrument="kazoo"), "instrument"),
        (lambda p: p.update(tempo_bpm=-3), "tempo_bpm"),
        (lambda p: p.update(part="P9"), "no part"),
        (lambda p: p["player"].update(usable_from=0.99), "usable"),
        (lambda p: p["pins"].update(n1={"start_cell": 99}), "start_cell"),
    ],
)
def test_a_faulty_plan_names_its_fault(change, said):
    data = rewritten(document_bytes(tune_document(MUSIC)), change)
    with pytest.raises((PlanFileError, ScoreError), match=said):
        document_from_bytes(data, "x.plectrum")


def test_a_torn_plan_file_is_a_clear_line():
    data = document_bytes(tune_document(MUSIC))
    with pytest.raises(PlectrumError, match="damaged"):
        open_document(data[: len(data) // 2], "torn.plectrum")


@pytest.mark.parametrize("name", SCHEMAS)
def test_the_shipped_schemas_are_the_models(name):
    """Written by `python -m scripts.schemas`."""
    shipped = json.loads(resources.files("plectrum.core").joinpath(name).read_text("utf-8"))
    assert shipped == schema(name)
    Draft202012Validator.check_schema(shipped)


def test_a_plan_file_and_shipped_rows_fit_their_schemas():
    plan, of_exercise, of_routine = map(schema, SCHEMAS)
    kept = zipfile.ZipFile(io.BytesIO(document_bytes(tune_document(MUSIC)))).read("plan.json")
    Draft202012Validator(plan).validate(json.loads(kept))
    for exercise in shipped().values():
        Draft202012Validator(of_exercise).validate(json.loads(exercise_bytes(exercise)))
    for routine in shipped_routines().values():
        Draft202012Validator(of_routine).validate(json.loads(routine_bytes(routine)))


def test_a_failed_write_leaves_the_old_file(tmp_path: Path, monkeypatch):
    """The write fails at the last moment: the old plan is whole, no scrap lies beside it."""
    target = tmp_path / "tune.plectrum"
    save_document(tune_document(MUSIC), target)
    before = target.read_bytes()

    def fail(*_args):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "replace", fail)
    with pytest.raises(PlectrumError, match="no space left"):
        save_document(tune_document("A4*4|"), target)
    assert target.read_bytes() == before
    assert [p.name for p in tmp_path.iterdir()] == ["tune.plectrum"]


def test_a_folder_that_is_not_there_is_a_clear_line(tmp_path: Path):
    with pytest.raises(PlectrumError, match="cannot be written"):
        write_atomically(tmp_path / "no" / "x.csv", b"")


def test_permissions_of_the_old_file_are_kept(tmp_path: Path):
    target = tmp_path / "x.csv"
    target.write_bytes(b"old")
    target.chmod(0o640)
    write_atomically(target, b"new")
    assert target.stat().st_mode & 0o777 == 0o640
