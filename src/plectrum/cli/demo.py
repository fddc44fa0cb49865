"""`plectrum demo`: the window with the demo's pieces, players and log."""

from __future__ import annotations

from argparse import ArgumentParser, Namespace

from plectrum.demo import demo_paths
from plectrum.ui.shell.app import run as open_window


def add_options(parser: ArgumentParser) -> None:
    """There are none."""


def run(_arguments: Namespace) -> int:
    return open_window(demo_paths()[:1], demo=True)
