"""A hundred works of the corpus exported with every option: valid, otherwise the same, engraved by
a second engraver where one is installed.

    python -m scripts.exports [--works N] [--into FOLDER]
"""

from __future__ import annotations

import argparse
import shutil
import subprocess
from collections import Counter
from collections.abc import Iterator
from pathlib import Path

from tests.core.files.test_marking import MARKINGS, check_export, corpus_documents

TIME_LIMIT_S = 120


def engraved(score: Path) -> bool | None:
    """Whether LilyPond makes pages of it; None where it is not installed."""
    if shutil.which("musicxml2ly") is None:
        return None
    ly = score.with_suffix(".ly")
    commands = (
        ["musicxml2ly", "--loglevel=ERROR", "-o", str(ly), str(score)],
        ["lilypond", "--loglevel=ERROR", "--png", "-o", str(score.with_suffix("")), str(ly)],
    )
    for command in commands:
        try:
            done = subprocess.run(command, capture_output=True, timeout=TIME_LIMIT_S, check=False)
        except subprocess.TimeoutExpired:
            return False
        if done.returncode:
            return False
    return any(score.parent.glob(f"{score.stem}*.png"))


def results(works_n: int, folder: Path) -> Iterator[str]:
    """What became of each export, a word each."""
    for number, document in enumerate(corpus_documents(works_n)):
        for name, marking in MARKINGS.items():
            try:
                done = check_export(document, marking)
            except AssertionError as error:
                print(f"{document.score.name}, {name}: {str(error)[:200]}")
                yield f"{name}: changed more than was asked"
                continue
            yield f"{name}: valid as it was, and nothing else changed"
            if name != "lyrics":
                continue
            path = folder / f"{number:03d}.musicxml"
            path.write_bytes(done)
            good = engraved(path)
            if good is not None:
                yield "engraved" if good else "not engraved"
            if good is False:
                print(f"{document.score.name}: not engraved ({path})")


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--works", type=int, default=100)
    parser.add_argument("--into", type=Path, default=Path("build/exports"))
    arguments = parser.parse_args()
    arguments.into.mkdir(parents=True, exist_ok=True)
    for result, count in sorted(Counter(results(arguments.works, arguments.into)).items()):
        print(f"{count:4d} {result}")


if __name__ == "__main__":
    main()
