"""The command line in this process: sooner than a process for each call."""

from __future__ import annotations

import sys
from typing import NamedTuple

import pytest

from plectrum.cli.main import main


class Said(NamedTuple):
    """How a command ended, and what it said."""

    code: int
    out: str
    err: str


@pytest.fixture
def command(monkeypatch, capsys, tmp_path):
    """Runs a command in a folder of its own."""
    monkeypatch.chdir(tmp_path)

    def run(*words: str) -> Said:
        monkeypatch.setattr(sys, "argv", ["plectrum", *words])
        with pytest.raises(SystemExit) as ended:
            main()
        return Said(int(ended.value.code or 0), *capsys.readouterr())

    return run
