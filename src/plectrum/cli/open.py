"""`plectrum [FILE]`: the window."""

from __future__ import annotations

from argparse import ArgumentParser, Namespace
from pathlib import Path

from plectrum.core.wording import tr
from plectrum.ui.shell.app import run as open_window


def add_options(parser: ArgumentParser) -> None:
    parser.add_argument("files", nargs="*", type=Path, metavar="FILE",
                        help=tr("a score or plan file; of several or "
                                "a folder the shelf"))  # fmt: skip


def run(arguments: Namespace) -> int:
    return open_window(arguments.files)
