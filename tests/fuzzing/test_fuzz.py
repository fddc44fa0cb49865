"""A short run of the fuzzer with fixed seeds, and every input that once made trouble."""

from __future__ import annotations

import subprocess
import sys

import pytest

from tests.fuzzing.run import FOUND, made, trouble_with
from tests.fuzzing.targets import TARGETS

SEEDS = range(5000, 5040)
BY_NAME = {target.name.replace(" ", "-"): target for target in TARGETS}


@pytest.mark.parametrize("target", TARGETS, ids=lambda target: target.name)
def test_foreign_bytes_become_a_value_or_one_clear_line(target):
    """No error of ours or of a library's reaches the user as it is, from any entry."""
    for seed in SEEDS:
        assert trouble_with(target, made(target, seed), seed) is None, seed


@pytest.mark.parametrize("path", sorted(FOUND.glob("*-*")), ids=lambda path: path.name)
def test_what_once_made_trouble_makes_none(path):
    """Names of these files are ENTRY-ERROR-SEED."""
    name, _, seed = path.name.rsplit("-", 2)
    assert trouble_with(BY_NAME[name], path.read_bytes(), int(seed)) is None


def test_a_fault_in_an_entry_is_found():
    """The fuzzer itself: an entry that lets one kind of error through is caught by it."""
    faulty = next(t for t in TARGETS if t.name == "player")
    planted = type(faulty)("player", "json", lambda data, _: int(data), faulty.examples)
    assert any(trouble_with(planted, made(planted, seed), seed) for seed in range(20))


def test_kills_tear_nothing_lose_nothing_and_leave_no_litter():
    """Saving, autosaving, logging and exporting, in a process without a window, which can fork."""
    done = subprocess.run(
        [sys.executable, "-m", "tests.fuzzing.kills", "--kills", "20", "--seed", "3"],
        capture_output=True, text=True, timeout=120,
    )  # fmt: skip
    assert done.returncode == 0, done.stdout + done.stderr
