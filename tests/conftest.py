"""What tests of several rooms share."""

from __future__ import annotations

import os

os.environ |= {"PLECTRUM_LANGUAGE": "en", "PLECTRUM_WORDS": ""}  # whatever the user speaks

import subprocess

import pytest

from plectrum.core.score.reading import abc, abc_child


@pytest.fixture
def abc_here(monkeypatch):
    """ABC is converted in this process: many tunes are read sooner than as many processes start.
    That a child converts them, and its limits, is tested in `test_abc.py`."""

    def run(_command, input, **_options):
        return subprocess.CompletedProcess((), 0, abc_child.convert(input), b"")

    monkeypatch.setattr(abc.subprocess, "run", run)
