"""Many tunes in one call: `plectrum plan FILE … -o FOLDER`, and `plectrum shelf`."""

from __future__ import annotations

import json
import os
import shutil
import subprocess
import sys

import pytest

from plectrum.cli.many import each_of
from plectrum.core.files.opening import open_document_path
from plectrum.core.files.shelf import ShelfTune, glance_at, tunes_on
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.demo import demo_paths
from tests.command import plectrum

BOOK = (
    "M:4/4\nL:1/4\n\nX:3\nT:Fog Bell\nK:Ddor\nABcd|efga|]\n\nwords between\n\n"
    "X:17\nT:Net/Mender?\nK:G\nGABc|d4|]\n\nX:17\nK:C\nCDEF|G4|]\n"
)


@pytest.fixture
def folder(tmp_path):
    """Two scores, a book of three tunes, a damaged file, and what is no score."""
    tunes = tmp_path / "tunes"
    tunes.mkdir()
    for path in demo_paths()[:2]:
        shutil.copy(path, tunes)
    (tunes / "book.abc").write_text(BOOK)
    (tunes / "torn.musicxml").write_bytes(demo_paths()[0].read_bytes()[:900])
    (tunes / "letter.txt").write_text("to the harbour master")
    (tunes / ".hidden.abc").write_text(BOOK)
    return tunes


def test_a_folder_is_planned_into_another(folder, tmp_path):
    out = tmp_path / "plans"
    done = plectrum("plan", str(folder), "-o", str(out), "--format", "json", "--jobs", "1")
    assert done.returncode == 1
    assert sorted(p.name for p in out.iterdir()) == [
        "book 03 Fog Bell.json", "book 17 NetMender.json", "book 17.json",
        *sorted(f"{p.stem}.json" for p in demo_paths()[:2]),
    ]  # fmt: skip
    assert json.loads((out / "book 03 Fog Bell.json").read_text())["piece"]["title"] == "Fog Bell"
    said = done.stdout.decode().splitlines()
    assert said[-1] == "5 tunes planned, 1 failed."
    assert len(said) == 6
    [failure] = done.stderr.decode().splitlines()
    assert failure.startswith("plectrum: torn.musicxml")


def test_what_is_written_is_what_one_call_writes(folder, tmp_path):
    paths = [str(folder / p.name) for p in demo_paths()[:2]]
    out = tmp_path / "plans"
    done = plectrum("plan", *paths, "-o", str(out), "--player", "starter", "--jobs", "2")
    assert (done.returncode, done.stderr) == (0, b"")
    for path in paths:
        alone = plectrum("plan", path, "--player", "starter").stdout
        assert (out / os.path.basename(path)).with_suffix(".txt").read_bytes() == alone


@pytest.mark.parametrize(
    ("wanted", "stems"),
    [
        ("all", ["book 03 Fog Bell", "book 17 NetMender", "book 17"]),
        ("3", ["book 03 Fog Bell"]),
        ("17", ["book 17 NetMender", "book 17"]),
        ("#2", ["book 17 NetMender"]),
        (None, ["book 03 Fog Bell", "book 17 NetMender", "book 17"]),
    ],
)
def test_tunes_of_a_book(folder, wanted, stems):
    assert [t.stem for t in tunes_on([folder / "book.abc"], wanted)] == stems


def test_no_file_is_written_over_by_another(tmp_path):
    """The same name in two folders, the same title and number twice, and a name that looks like
    what the second is called."""
    for name in ("a", "b"):
        (tmp_path / name).mkdir()
        (tmp_path / name / "tune.mxl").touch()
    (tmp_path / "b" / "tune (2).mxl").touch()
    stems = [t.stem for t in tunes_on([tmp_path / "b", tmp_path / "a"])]
    assert len({s.casefold() for s in stems}) == 3


@pytest.mark.parametrize(
    ("args", "said"),
    [
        (("plan", "{folder}"), "-o FOLDER"),
        (("plan", "{folder}/book.abc", "--tune", "all"), "-o FOLDER"),
        (("plan", "{folder}/book.abc", "--tune", "99", "-o", "{out}/"), "no tune 99"),
        (("plan", "{empty}", "-o", "{out}"), "no scores in this folder"),
        (("plan", "{folder}", "-o", "{folder}/letter.txt"), "cannot be made"),
        (("shelf", "{empty}"), "no scores in this folder"),
    ],
)
def test_what_is_missing_is_said_in_one_line(folder, tmp_path, args, said):
    empty = tmp_path / "empty"
    empty.mkdir()
    done = plectrum(*(a.format(folder=folder, out=tmp_path / "out", empty=empty) for a in args))
    assert done.returncode == 2
    [line] = done.stderr.decode().splitlines()
    assert said in line


def test_the_shelf_says_each_tune_in_a_line(folder):
    done = plectrum("shelf", str(folder), "--jobs", "1")
    assert done.returncode == 1
    lines = done.stdout.decode().splitlines()
    assert lines[0].startswith("Fog Bell (book.abc, tune 1): D dorian, 4/4, 2 bars, quarter = ")
    assert sum(line.startswith("! ") for line in lines) == 1
    rows = plectrum("shelf", str(folder), "--format", "json", "--jobs", "1").stdout.splitlines()
    seen = [json.loads(row) for row in rows]
    assert [row["count"] for row in seen] == [6] * 6
    assert seen[1]["place"] == 2
    assert [row["title"] for row in seen[:2]] == ["Fog Bell", "Net/Mender?"]
    assert [bool(row.get("error")) for row in seen] == ["torn" in row["name"] for row in seen]


@pytest.mark.parametrize("path", demo_paths(), ids=lambda p: p.stem)
def test_a_glance_says_what_the_plan_says(path):
    document = open_document_path(path)
    glance, plan = glance_at(document), plan_of(document)
    assert glance.bars_n == plan.part.bars_n
    assert plan.tempo_window is not None
    low, high = plan.tempo_window
    assert glance.window == f"{low:.0f} to {high:.0f}"
    assert glance.grave_n <= len(glance.things)


def test_what_nobody_foresaw_stops_no_other_tune(tmp_path):
    def work(tune: ShelfTune) -> str:
        if tune.stem == "b":
            raise ZeroDivisionError
        return tune.stem

    tunes = [ShelfTune(tmp_path / f"{s}.abc", None, s) for s in "abc"]
    done = list(each_of(tunes, work, 1))
    assert [good for good, _ in done] == [True, False, True]
    assert done[1][1].startswith("b.abc: ")


def test_a_break_ends_all_processes(folder, tmp_path):
    """Nothing is printed but what was done; so many that a busy machine is not done before."""
    for k in range(300):
        shutil.copy(demo_paths()[0], folder / f"copy{k}.musicxml")
    command = [sys.executable, "-m", "plectrum", "plan", str(folder), "-o", str(tmp_path / "out")]
    with subprocess.Popen([*command, "--jobs", "2"], stdout=-1, stderr=-1) as process:
        assert process.stdout is not None
        process.stdout.readline()
        process.send_signal(2)
        _, errors = process.communicate(timeout=30)
    assert process.returncode == 130
    assert b"Traceback" not in errors
