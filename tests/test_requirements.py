"""What is installed is pinned with hashes, and its licences are said."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

ROOT = Path(__file__).parent.parent
NOTICES = (ROOT / "NOTICES.md").read_text("utf-8")
PINNED = re.compile(r"^([\w.-]+)==(\S+?)(?: \\)?$", re.MULTILINE)


def pinned(name: str) -> dict[str, str]:
    text = (ROOT / "requirements" / name).read_text("utf-8")
    return {n.lower().replace("_", "-"): version for n, version in PINNED.findall(text)}


@pytest.mark.parametrize("name", ["runtime", "dev", "build"])
def test_every_package_is_pinned_with_hashes(name):
    locked = pinned(f"{name}.txt")
    assert pinned(f"{name}.in").items() <= locked.items()
    text = (ROOT / "requirements" / f"{name}.txt").read_text("utf-8")
    entries = re.split(r"\n(?=[a-z])", text)[1:]
    assert len(entries) == len(locked)
    assert all("--hash=sha256:" in entry for entry in entries)
    if name == "dev":  # what is tested is what is used
        assert pinned("runtime.txt").items() <= locked.items()


def test_the_notices_name_every_package_and_every_file_that_is_shipped():
    said = set(re.findall(r"[\w-]+", NOTICES.lower()))
    assert set(pinned("runtime.txt")) <= said
    shown = [
        path for pattern in re.findall(r"`(src/[^`]+)`", NOTICES) for path in ROOT.glob(pattern)
    ]
    assert all(list(ROOT.glob(pattern)) for pattern in re.findall(r"`(src/[^`]+)`", NOTICES))
    shipped = {*ROOT.glob("src/**/*.ttf"), *ROOT.glob("src/**/*.flac")}
    assert shipped <= set(shown)
