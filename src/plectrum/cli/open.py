"""`plectrum [FILE]`: the window."""

from __future__ import annotations

from argparse import ArgumentParser, Namespace
from pathlib import Path

from plectrum.ui.shell.app import run as open_window


def add_options(parser: ArgumentParser) -> None:
    parser.add_argument("file", nargs="?", type=Path, metavar="FILE", help="a score or plan file")


def run(arguments: Namespace) -> int:
    return open_window([arguments.file] if arguments.file else [])
