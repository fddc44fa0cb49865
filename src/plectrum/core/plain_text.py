"""Text from outside: no characters that steer a screen or cannot be written down again."""

from __future__ import annotations

import os
import re
from pathlib import Path

# Control characters but tab and new line, signs that turn the direction of text, and halves of
# characters that stand alone.
_STEERING = re.compile("[\x00-\x08\x0b-\x1f\x7f-\x9f\u2028\u2029\u202a-\u202e\u2066-\u2069]")
_HALVES = re.compile("[\ud800-\udfff]")
_SPACES = re.compile(r"\s+")
_MOST_SHOWN = 200
_NOT_IN_NAMES = '/\\:*?"<>|'
MOST_NAME = 80  # letters of a title in the name of a file


def plain(text: str) -> str:
    """The text without steering characters; halves of characters become the replacement sign."""
    if text.isascii() and text.isprintable():
        return text
    return _HALVES.sub("\N{REPLACEMENT CHARACTER}", _STEERING.sub("", text))


def one_line(text: str, most: int = _MOST_SHOWN) -> str:
    """Plain text on one line, cut off where it is too long to be shown."""
    shown = _SPACES.sub(" ", plain(text)).strip()
    return shown if len(shown) <= most else f"{shown[: most - 1]}…"


def shown_name(path: Path | str) -> str:
    """A file's name as it can be shown, whatever bytes the system has for it."""
    return shown_path(Path(path).name)


def shown_path(path: Path | str) -> str:
    """A path as it can be shown."""
    return one_line(os.fsencode(path).decode("utf-8", "replace"))


def file_name(text: str, otherwise: str) -> str:
    """A title as a part of a file's name, on any system; `otherwise` where nothing is left."""
    kept = "".join(c for c in text if c not in _NOT_IN_NAMES and c.isprintable()).strip(" .")
    return kept[:MOST_NAME].strip(" .") or otherwise
