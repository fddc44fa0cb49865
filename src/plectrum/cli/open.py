"""`plectrum [FILE]`: the window; files go to the one that is open, if there is one."""

from __future__ import annotations

import sys
from argparse import ArgumentParser, Namespace
from collections.abc import Sequence
from pathlib import Path

from plectrum.core.wording import tr
from plectrum.running import hand_over


def add_options(parser: ArgumentParser) -> None:
    parser.add_argument("files", nargs="*", type=Path, metavar="FILE",
                        help=tr("a score or plan file; of several or "
                                "a folder the shelf"))  # fmt: skip
    parser.add_argument("--new-window", action="store_true",
                        help=tr("a window of its own, beside the one that is open"))  # fmt: skip


def run(arguments: Namespace) -> int:
    return open_files(arguments.files, new_window=arguments.new_window)


def open_files(paths: Sequence[Path], *, new_window: bool = False) -> int:
    """Open files in the window that is there, or in a new one."""
    if not new_window and hand_over(paths):
        return 0
    from plectrum.ui.shell.app import run as open_window  # the toolkit is loaded only now

    return open_window(paths)


def main() -> None:
    """`plectrum-window`: as a desktop starts it."""
    sys.exit(open_files([Path(name) for name in sys.argv[1:]]))
