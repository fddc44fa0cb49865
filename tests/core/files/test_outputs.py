"""What was read is never written over, and nothing is replaced without being told to."""

from __future__ import annotations

import os
import subprocess
from pathlib import Path

import pytest

from plectrum.core.atomic import write_atomically
from plectrum.core.document.choices import Pin
from plectrum.core.errors import ChoiceError
from plectrum.core.files.opening import open_document_path
from plectrum.core.files.planfile import save_document
from plectrum.core.outputs import Outputs, held, is_one_of, note_all_read
from plectrum.core.score.model import Direction
from plectrum.demo import demo_paths
from tests import command
from tests.tunes import tune_xml

TUNE = tune_xml("D4 E4 F4 G4|A4 B4 C5 D5|")
ABC = b"X:1\nT:Fog Bell\nM:4/4\nL:1/4\nK:D\nDEFG|ABcd|\n"

# Every command that writes, with a name for what it writes and words that make it another.
WRITERS = {
    "plan": (("plan", "0.musicxml", "-o", "out.txt"), ("--player", "starter")),
    "plan of many": (("plan", "0.musicxml", "1.musicxml", "-o", "folder"), ("--player", "starter")),
    "study": (("study", "0.musicxml", "--bars", "1-2", "--kind", "open-strings", "-o", "out.xml"),
              ("--percent", "50")),
    "sound": (("sound", "0.musicxml", "-o", "out.mid"), ("--percent", "50")),
    "handout": (("handout", "0.musicxml", "-o", "out.pdf"), ("--large",)),
    "parts": (("parts", "0.musicxml", "-o", "folder"), ("--large",)),
    "exercise": (("exercise", "longest-bow", "-o", "out.json"), ("--times", "5")),
    "routine": (("routine", "warm-up", "-o", "out.ics"), ("--start", "2027-01-11")),
}  # fmt: skip


@pytest.fixture(autouse=True)
def tunes(tmp_path, monkeypatch) -> Path:
    for number in range(2):
        (tmp_path / f"{number}.musicxml").write_bytes(TUNE)
    (tmp_path / "tune.musicxml").write_bytes(demo_paths()[0].read_bytes())
    monkeypatch.chdir(tmp_path)
    return tmp_path


def plectrum(*words: str) -> subprocess.CompletedProcess[bytes]:
    """A command; pages are made in a process of their own, as the toolkit wants one for itself."""
    pages = words[0] in ("handout", "parts")
    return (command.from_outside if pages else command.plectrum)(*words)


def refusal(*words: str) -> str:
    """The one line in which a command says why it cannot be done."""
    ran = plectrum(*words)
    said = ran.stderr.decode()
    assert (ran.returncode, said.count("\n")) == (2, 1)
    return said


def contents(folder: Path) -> dict[str, bytes]:
    return {str(p): p.read_bytes() for p in sorted(folder.rglob("*")) if p.is_file()}


@pytest.mark.parametrize("name", WRITERS)
def test_nothing_is_replaced_unless_that_is_said(tunes, name):
    words, otherwise = WRITERS[name]
    assert plectrum(*words).returncode == 0
    before = contents(tunes)
    refused = plectrum(*words, *otherwise)
    assert refused.returncode in (1, 2)
    assert b"already" in refused.stderr
    assert contents(tunes) == before
    assert plectrum(*words, *otherwise, "--force").returncode == 0
    assert contents(tunes) != before


@pytest.mark.parametrize("force", [(), ("--force",)])
@pytest.mark.parametrize(
    "name", ["tune.musicxml", "link.musicxml", "hard.musicxml", "./tune.musicxml"]
)
def test_what_was_read_is_never_written_over(tunes, name, force):
    os.symlink("tune.musicxml", "link.musicxml")
    os.link("tune.musicxml", "hard.musicxml")
    before = contents(tunes)
    said = refusal("plan", "tune.musicxml", "--format", "musicxml", "-o", name, *force)
    assert "never written over" in said
    assert contents(tunes) == before


def test_of_many_no_tune_is_written_over_by_another(tunes):
    """Of a tune in two formats the one would be written over the other, which is read too."""
    (tunes / "tune.abc").write_bytes(ABC)
    before = contents(tunes)
    done = plectrum("plan", ".", "--format", "musicxml", "-o", ".", "--jobs", "2", "--force")
    assert done.returncode == 1
    assert {name: data for name, data in contents(tunes).items() if name in before} == before


def test_the_same_once_more_replaces_nothing():
    """What a call wrote before it may write again, as it is the same word for word."""
    words = WRITERS["plan of many"][0]
    assert [plectrum(*words).returncode for _ in range(2)] == [0, 0]


def test_a_plan_that_is_replaced_stays_beside(tunes):
    """With its pins; the plan itself is an input of its own parts."""
    assert plectrum("parts", "0.musicxml", "-o", "set").returncode == 0
    plan = next(tunes.glob("set/*.plectrum"))
    pinned = open_document_path(plan)
    choices = pinned.choices.with_pin(pinned.part.notes[0].id, Pin(direction=Direction.UP))
    save_document(pinned.with_choices(choices), plan)
    assert "never written over" in refusal("parts", str(plan), "-o", "set", "--force")
    assert open_document_path(plan).choices.pins
    assert plectrum("parts", "0.musicxml", "-o", "set", "--force").returncode == 0
    assert open_document_path(plan.with_name(plan.name + "~")).choices.pins


def test_pages_of_one_replace_no_other_file(tunes):
    (tunes / "page-2.svg").write_bytes(b"mine")
    assert "page-2.svg" in refusal("handout", "tune.musicxml", "-o", "page.svg")
    assert not (tunes / "page.svg").exists()


@pytest.mark.parametrize(
    "words",
    [
        ("plan", "0.musicxml", "-o", ""),
        ("plan", "0.musicxml", "-o", "out.musicxml"),
        ("plan", "0.musicxml", "--format", "csv", "-o", "out.json"),
        ("sound", "0.musicxml", "-o", "out.musicxml"),
        ("sound", "0.musicxml", "-o", "out.mp3"),
        ("handout", "0.musicxml", "-o", "out.txt"),
        ("parts", "0.musicxml", "-o", ""),
        ("study", "0.musicxml", "--bars", "1-2", "--kind", "open-strings", "-o", "out.wav"),
        ("plan", "0.musicxml", "-o", "n" * 300),
        ("plan", "0.musicxml", "1.musicxml", "-o", "n" * 300),
        ("plan", "n" * 300),
    ],
)
def test_a_name_that_cannot_be_is_refused(tunes, words):
    before = contents(tunes)
    assert "unexpected" not in refusal(*words)
    assert contents(tunes) == before


def test_the_rule_is_held_only_inside(tunes):
    read = tunes / "0.musicxml"
    with Outputs(replace=True).hold():
        note_all_read([read])
        with pytest.raises(ChoiceError):
            write_atomically(read, b"other")
    write_atomically(read, b"other")
    assert is_one_of(tunes / "." / "0.musicxml", [read])
    assert not is_one_of(tunes / "missing", [tunes / "missing"])


def test_a_window_is_under_no_rule(monkeypatch):
    """It saves over the plan that it has read, whichever way it was started."""
    seen = []
    monkeypatch.setattr("plectrum.cli.open.open_files", lambda *_, **__: seen.append(held()) or 0)
    command.plectrum("tune.musicxml")
    command.plectrum("open", "tune.musicxml")
    assert seen == [None, None]


def test_the_same_word_for_word_is_not_written_at_all(tunes):
    read = tunes / "0.musicxml"
    before = read.stat()
    with Outputs(replace=True).hold():
        note_all_read([read])
        write_atomically(read, read.read_bytes())
    assert read.stat().st_ino == before.st_ino
