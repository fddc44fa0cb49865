"""Every text of the window is in the catalogue and has its room: a walk through all screens and
dialogs in a made-up language whose texts are longer, and in German at one and a half times the
size."""

from __future__ import annotations

import json
import os
import re
import subprocess
import sys
from pathlib import Path

import pytest

# What is no text of the program: titles and names of the demo, the report's paths, the toolkit's
# own words, keys, and the words of the recordings that a teacher types as they are.
NAMES = {
    "Harbour", "Watch", "Lantern", "Ferry", "Slow", "Water", "Two", "Lights", "Low", "tide", "Ebb",
    "Maris", "Tarn", "Wren", "Violin", "Viola", "musicxml", "Ctrl", "Alt", "Shift", "Backspace",
    "Space", "Cancel", "Close", "Open", "Yes", "Discard", "Save",
}  # fmt: skip
# Italian, and names of files.
KEPT = re.compile(r"fortissimo|forte|/\S+|\w+\.musicxml")
TYPED = {"frog", "tip", "each", "listen", "tune"}
WORD = re.compile(r"[A-Za-zàéîöûñÀÉÎÖÛÑ]{2,}")
PLAIN = re.compile("[aeiounAEIOUN]")  # has an accent in the made-up language


def begun(target: Path, language: str, scale: float) -> subprocess.Popen[bytes]:
    environment = {**os.environ, "PLECTRUM_LANGUAGE": language, "PLECTRUM_WORDS": ""}
    return subprocess.Popen(
        [sys.executable, "-m", "tests.ui.walk", str(target), "--scale", str(scale)],
        env=environment, stderr=subprocess.DEVNULL, cwd=Path(__file__).parents[2],
    )  # fmt: skip


@pytest.fixture(scope="module")
def walks(tmp_path_factory):
    """What is read and what is cut off in each language. Both walk at the same time, as much of it
    is waiting."""
    folder = tmp_path_factory.mktemp("walk")
    processes = {
        language: begun(folder / f"{language}.json", language, scale)
        for language, scale in (("pseudo", 1.0), ("de", 1.5))
    }
    try:
        assert [process.wait(timeout=150) for process in processes.values()] == [0, 0]
    finally:
        for process in processes.values():
            process.kill()
            process.wait()
    return {name: json.loads((folder / f"{name}.json").read_text("utf-8")) for name in processes}


@pytest.fixture
def pseudo(walks):
    return walks["pseudo"]


def untranslated(text: str) -> list[str]:
    """Words of a shown text that did not go through the catalogue."""
    text = KEPT.sub(" ", re.sub(r"<[^>]*>|&\w+;|&", "", text))
    words = WORD.findall(text)
    return [w for w in words if PLAIN.search(w) and w not in NAMES and w not in TYPED]


def test_every_text_is_in_the_catalogue(pseudo):
    assert untranslated("Bow") == ["Bow"]
    assert untranslated("⟦Böw fröm Lantern Ferry~~⟧") == []
    wrong = {
        (where, text)
        for where, texts in pseudo["read"].items()
        if where != "preferences"  # where the words to choose from stand as they are
        for text in texts
        if untranslated(text)
    }
    assert not wrong
    assert sum(len(texts) for texts in pseudo["read"].values()) > 5000


def test_no_longer_text_is_cut_off(pseudo):
    assert {where: texts for where, texts in pseudo["cut"].items() if texts} == {}


def test_nothing_takes_the_focus_without_a_name(pseudo):
    assert {where: found for where, found in pseudo["unnamed"].items() if found} == {}


def test_in_german_nothing_is_cut_off_at_one_and_a_half_times_the_size(walks):
    found = walks["de"]
    assert {where: texts for where, texts in found["cut"].items() if texts} == {}
    assert "Die Stunde be&halten" in found["read"]["log 0"]
