"""`import plectrum` for those who script: the documented example runs, and no Qt comes."""

from __future__ import annotations

import json
import re
import shutil
import subprocess
import sys
from pathlib import Path

import mido
import pytest

import plectrum
from plectrum.core.files.opening import open_document_path
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.demo import demo_paths
from tests.command import plectrum as command
from tests.core.score.test_abc import BOOK

GUIDE = Path(__file__).parents[1] / "docs" / "python.md"
QT_SAYS = "This plugin does not support propagateSizeHints()\n"
TUNE = next(p for p in demo_paths() if p.stem == "lantern_ferry")


@pytest.mark.parametrize("block", re.findall(r"```python\n(.*?)```", GUIDE.read_text(), re.DOTALL))
def test_every_example_of_the_documentation_runs_as_printed(tmp_path, block):
    """In a process of its own: pages begin the toolkit, which other tests do not want."""
    for name in ("lantern_ferry", "two_lights"):
        shutil.copy(TUNE.with_stem(name), tmp_path)
    (tmp_path / "book.abc").write_text(BOOK)
    done = subprocess.run(
        [sys.executable, "-c", block], capture_output=True, text=True, cwd=tmp_path, check=False
    )
    assert (done.returncode, done.stderr.replace(QT_SAYS, "")) == (0, "")
    written = set(re.findall(r'"([^"]*\.(?:pdf|wav|ics|json|plectrum|musicxml))"', block))
    assert all((tmp_path / name).stat().st_size > 200 for name in written)
    if "except" in block:
        assert "direction has no answer 'sideways'. Choose of usual, downbeat" in done.stdout
    if "Division" in block:
        assert b'name="bow"' in (tmp_path / "bowed.musicxml").read_bytes()


def test_no_qt_is_imported():
    code = (
        "import sys, plectrum; d = plectrum.read(sys.argv[1]); plectrum.export(d, 'midi'); "
        "print([m for m in sys.modules if 'PySide6' in m or 'shiboken' in m])"
    )
    done = subprocess.run(
        [sys.executable, "-c", code, str(TUNE)], capture_output=True, text=True, check=True
    )
    assert done.stdout.strip() == "[]"


def test_it_does_what_the_command_line_does():
    tune = plectrum.choose(
        plectrum.read(TUNE), player="starter", size="3/4", tempo_bpm=70, slurs="song"
    )
    tune = plectrum.place(plectrum.pin(tune, "2.1", "up"), "3", "tip")
    words = ["plan", str(TUNE), "--player", "starter", "--size", "3/4", "--tempo", "70",
             "--slurs", "song", "--pin", "2.1=up", "--place", "3=tip"]  # fmt: skip
    for form in ("text", "json", "csv", "musicxml"):
        assert plectrum.export(tune, form) == command(*words, "--format", form).stdout
    plain = json.loads(json.dumps(plectrum.as_dict(tune)))
    assert plain == json.loads(plectrum.export(tune, "json"))


def test_nothing_is_changed_and_parts_are_found(tmp_path):
    duet = next(p for p in demo_paths() if p.stem == "two_lights")
    both = plectrum.read(duet.read_bytes())
    second = plectrum.part(both, "2")
    assert plectrum.plan(both).part.id != plectrum.plan(second).part.id
    alone = plectrum.choose(second, together=False)
    assert (both.together, alone.together) == (True, False)
    assert plan_of(both).summary == plan_of(open_document_path(duet)).summary


def test_midi_has_the_notes_of_the_plan(tmp_path):
    tune = plectrum.read(TUNE)
    (tmp_path / "x.mid").write_bytes(plectrum.export(tune, "midi"))
    notes = [m for m in mido.MidiFile(tmp_path / "x.mid") if m.type == "note_on" and m.velocity]
    assert len(notes) >= len(tune.part.notes)


@pytest.mark.parametrize(
    "wrong",
    [
        lambda d: plectrum.choose(d, size="9/8"),
        lambda d: plectrum.choose(d, player="nobody"),
        lambda d: plectrum.choose(d, tempo_bpm=-5),
        lambda d: plectrum.choose(d, tempo_bpm=float("nan")),
        lambda d: plectrum.choose(d, tempo_bpm="fast"),
        lambda d: plectrum.choose(d, weather="fair"),
        lambda d: plectrum.export(d, "papyrus"),
        lambda d: plectrum.part(d, "kazoo"),
        lambda d: plectrum.pin(d, "999.1", "up"),
        lambda _: plectrum.read("not there.musicxml"),
        lambda d: plectrum.handout(d, "page.musicxml"),
        lambda d: plectrum.handout(d, "page.pdf", larje=True),
        lambda d: plectrum.sound(d, "tune.wav", percent=float("nan")),
        lambda d: plectrum.sound(d, "tune.wav", parts="none"),
        lambda _: plectrum.exercise("longest-bow", instrument="kazoo"),
        lambda _: plectrum.exercise("scale", octave=2),
        lambda _: plectrum.write_exercise(plectrum.exercise("scale"), "scale.json"),
        lambda _: plectrum.routine("lullaby"),
        lambda _: plectrum.routine("warm-up", day=-3),
        lambda _: plectrum.exercise("longest-bow", day="x"),
        lambda _: plectrum.exercise("scale", bpm=float("nan")),
        lambda _: plectrum.exercise("scale", octaves="two"),
        lambda d: plectrum.handout(d, "page.pdf", minutes_a_day=-1),
        lambda d: plectrum.handout(d, "page.pdf", start="soon"),
        lambda d: plectrum.handout(d, "page.pdf", paper="A0"),
        lambda _: plectrum.handout([], "page.pdf"),
        lambda d: plectrum.pin(d, 3.1, "up"),
        lambda d: plectrum.choose(d, bowing="mine"),
        lambda d: plectrum.learn_bowing([d]),
    ],
)
def test_what_cannot_be_done_says_so(wrong, tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    with pytest.raises(plectrum.PlectrumError):
        wrong(plectrum.read(TUNE))
    assert not list(tmp_path.iterdir())


def test_things_say_what_they_are():
    tune = plectrum.read(TUNE)
    plan = plectrum.plan(tune)
    assert repr(tune) == "<Document 'Lantern Ferry': Violin, 16 bars, Growing>"
    assert repr(plan).startswith("<Plan of Violin: 64 notes, ")
    assert repr(plan.notes[0]).startswith("<pickup, beat 4: start, up, ")
    assert repr(plectrum.exercise("longest-bow")) == "<Made 'Longest bow': violin, 68 s>"
    assert repr(plectrum.routine("warm-up")).startswith("<PlannedRoutine 'Warm-up': Straight bow")


def test_what_is_offered_is_told():
    for name in dir(plectrum):
        assert name == "__version__" or getattr(plectrum, name).__doc__, name
    with pytest.raises(AttributeError, match="no attribute 'strum'"):
        plectrum.strum  # noqa: B018
