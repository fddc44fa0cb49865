"""`plectrum handout` from the outside, without a display."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

import pypdf
import pytest

from plectrum.demo import demo_paths
from tests.command import refusal
from tests.tunes import tune_xml


def handout(*args: str, data: bytes | None = None) -> subprocess.CompletedProcess[bytes]:
    """Run the command as on a machine without a display."""
    hidden = {"DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM"}
    environment = {k: v for k, v in os.environ.items() if k not in hidden}
    return subprocess.run(
        [sys.executable, "-m", "plectrum", "handout", *args],
        input=data, capture_output=True, timeout=120, env=environment,
    )  # fmt: skip


def words_of(path: Path) -> str:
    return " ".join(" ".join(p.extract_text().split()) for p in pypdf.PdfReader(str(path)).pages)


def test_a_handout_for_two_players_with_everything_asked_for(tmp_path):
    target = tmp_path / "out.pdf"
    ran = handout(
        str(demo_paths()[0]), "-o", str(target), "--player", "starter", "--player", "steady",
        "--paper", "Letter", "--large", "--picture", "both", "--words", "all", "--teacher",
        "--for", "Wren", "--by", "Harbour music school", "--minutes", "20",
        "--start", "2027-01-11",
    )  # fmt: skip
    assert (ran.returncode, ran.stdout, ran.stderr) == (0, b"", b"")
    said = words_of(target)
    for words in ("For Wren", "Harbour music school", "starter player", "steady player",
                  "Monday 11", "For the teacher", "Stop at pain"):  # fmt: skip
        assert words in said
    width = float(pypdf.PdfReader(str(target)).pages[0].mediabox.width)
    assert width == pytest.approx(8.5 * 72, abs=1)


def test_a_handout_from_a_pipe_without_the_week(tmp_path):
    target = tmp_path / "out.pdf"
    data = tune_xml("A4 B4 C#5 D5|A4*4|")
    ran = handout("-", "--from", "musicxml", "-o", str(target), "--no-steps", "--no-watch",
                  "--picture", "none", data=data)  # fmt: skip
    assert ran.returncode == 0
    said = words_of(target)
    assert "This week" not in said
    assert "Watch" not in said
    assert "Stop at pain" in said


def test_svg_by_the_name_of_the_file(tmp_path):
    target = tmp_path / "out.svg"
    assert handout(str(demo_paths()[1]), "-o", str(target)).returncode == 0
    assert target.read_text("utf-8").count("<svg") >= 1


@pytest.mark.parametrize(
    ("options", "words"),
    [
        (("--picture", "crayon"), "invalid choice: 'crayon' (choose from "),
        (("--start", "Monday"), "'Monday' is not a day. Write it as 2027-01-11"),
        (("--player", "nobody"), "nobody"),
    ],
)
def test_options_that_cannot_be_are_one_clear_line(tmp_path, options, words):
    target = tmp_path / "out.pdf"
    assert words in refusal("handout", str(demo_paths()[0]), "-o", str(target), *options)
    assert not target.exists()


def test_a_place_that_cannot_be_written_to_is_one_clear_line():
    ran = handout(str(demo_paths()[0]), "-o", "/proc/nowhere/out.pdf")
    assert ran.returncode == 2
    assert "/proc/nowhere" in ran.stderr.decode()
    assert ran.stderr.count(b"\n") == 1
