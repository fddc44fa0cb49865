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
TUNE = next(p for p in demo_paths() if p.stem == "lantern_ferry")


def test_the_example_of_the_documentation_runs(tmp_path, monkeypatch, capsys):
    shutil.copy(TUNE, tmp_path)
    (tmp_path / "book.abc").write_text(BOOK)
    monkeypatch.chdir(tmp_path)
    blocks = re.findall(r"```python\n(.*?)```", GUIDE.read_text(), re.DOTALL)
    assert len(blocks) == 4
    names: dict[str, object] = {"Path": Path}
    for block in blocks:
        exec(compile(block, str(GUIDE), "exec"), names)
    said = capsys.readouterr().out
    assert "Net Mender steady (" in said
    assert "direction has no answer 'sideways'. Choose of usual, downbeat, flow" in said
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
    ],
)
def test_what_cannot_be_done_says_so(wrong):
    with pytest.raises(plectrum.PlectrumError):
        wrong(plectrum.read(TUNE))


def test_what_is_offered_is_told():
    for name in dir(plectrum):
        assert name == "__version__" or getattr(plectrum, name).__doc__, name
    with pytest.raises(AttributeError, match="no attribute 'strum'"):
        plectrum.strum  # noqa: B018
