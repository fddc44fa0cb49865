"""What a command says is in the catalogue: run in the made-up language whose letters have accents,
nothing but names, codes and values to type stays as it was."""

from __future__ import annotations

import os
import re
import subprocess
import sys

import pytest

from plectrum.demo import demo_paths

TUNE = next(str(p) for p in demo_paths() if p.stem == "lantern_ferry")
PLAIN_WORD = re.compile(r"[A-Za-zÀ-ÿ]{3,}")
NAMES = {
    "plectrum",
    "Lantern",
    "Ferry",
    "Violin",
    "musicxml",
    "bars",
    "kind",
    "FOLDER",
    "FILE",
    "OUT",
}
FILES = re.compile(r"\S*(/|_)\S*")


def said_by(*args: str) -> str:
    environment = {**os.environ, "PLECTRUM_LANGUAGE": "pseudo", "PLECTRUM_WORDS": ""}
    done = subprocess.run(
        [sys.executable, "-m", "plectrum", *args],
        capture_output=True, text=True, env=environment, timeout=60,
    )  # fmt: skip
    return done.stdout + done.stderr


@pytest.mark.parametrize(
    "args",
    [
        ("plan", TUNE, "--format", "text"),
        ("plan", "gone.musicxml"),
        ("plan", TUNE, TUNE, "-o", "{folder}"),
        ("plan", TUNE, "--part", "Oboe"),
        ("routine", "warm-up"),
        ("study", TUNE),
        ("bowing", TUNE),
        ("parts", TUNE),
    ],
    ids=lambda args: " ".join(a for a in args if "/" not in a),
)
def test_a_command_says_nothing_that_is_not_in_the_catalogue(args, tmp_path):
    said = said_by(*(a.format(folder=tmp_path) for a in args))
    assert re.search("[äöüéîñ]", said)
    words = PLAIN_WORD.findall(FILES.sub(" ", said))
    plain = {w for w in words if w.isascii() and re.search("[aeiounAEIOUN]", w)}
    assert plain <= NAMES | set(PLAIN_WORD.findall(" ".join(args)))
