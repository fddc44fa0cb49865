"""Kills at odd moments while saving, autosaving, logging and exporting; with `--window` of the
window itself.

`python -m tests.fuzzing.kills --kills 600`. After each, what was confirmed must be there, nothing
may be torn, and the next start must leave no litter.
"""

from __future__ import annotations

import argparse
import os
import random
import signal
import sys
import time
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import replace
from datetime import date
from pathlib import Path
from tempfile import TemporaryDirectory

from plectrum.core.atomic import sweep, write_atomically
from plectrum.core.document.document import Document
from plectrum.core.files.exports import plan_as_json
from plectrum.core.files.planfile import document_from_bytes, recovery_bytes, save_document
from plectrum.core.log.records import Practised, Student
from plectrum.core.log.store import LogStore
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.score.reading.opening import open_score
from tests.tunes import tune_xml

Work = Callable[[Path], Iterator[str]]


def _documents() -> Iterator[Document]:
    """The same tune at ever other tempos, so that every state can be told."""
    document = Document.from_score(open_score(tune_xml("A4 B4 C5 D5|" * 60 + "A4*4"), "tune"))
    k = 0
    while True:
        k += 1
        yield document.with_choices(replace(document.choices, tempo_bpm=40.0 + k % 400))


def saving(folder: Path) -> Iterator[str]:
    for document in _documents():
        save_document(document, folder / "plan.plectrum")
        yield str(document.choices.tempo_bpm)


def autosaving(folder: Path) -> Iterator[str]:
    for document in _documents():
        data = recovery_bytes(document, folder / "plan.plectrum")
        write_atomically(folder / "copy.plectrum", data, private=True)
        yield str(document.choices.tempo_bpm)


def logging(folder: Path) -> Iterator[str]:
    store = LogStore(folder / "log.sqlite")
    store.put(Student("Wren", "violin", id="s1"))
    while True:
        record = Practised("s1", date(2026, 11, 2), 5)
        store.put(record)
        yield record.id


def exporting(folder: Path) -> Iterator[str]:
    documents = _documents()
    document = next(documents)
    text = plan_as_json(document, plan_of(document)).encode()
    while True:
        write_atomically(folder / "plan.json", text)
        yield str(len(text))


def _whole_plan(path: Path) -> str:
    return str(document_from_bytes(path.read_bytes(), path.name).choices.tempo_bpm)


def check_saved(folder: Path, confirmed: list[str]) -> None:
    found = _whole_plan(folder / "plan.plectrum")
    assert found == confirmed[-1] or found not in confirmed, "an older state than was confirmed"
    if (folder / "plan.plectrum~").exists():
        _whole_plan(folder / "plan.plectrum~")


def check_copy(folder: Path, confirmed: list[str]) -> None:
    found = _whole_plan(folder / "copy.plectrum")
    assert found == confirmed[-1] or found not in confirmed, "an older state than was confirmed"


def check_log(folder: Path, confirmed: list[str]) -> None:
    store = LogStore(folder / "log.sqlite")
    missing = set(confirmed) - {record.id for record in store.all(Practised)}
    store.close()
    assert not missing, f"{len(missing)} confirmed rows are lost"


def check_export(folder: Path, confirmed: list[str]) -> None:
    assert str(len((folder / "plan.json").read_bytes())) == confirmed[-1], "torn"


WORKS: dict[str, tuple[Work, Callable[[Path, list[str]], None]]] = {
    "saving": (saving, check_saved),
    "autosaving": (autosaving, check_copy),
    "logging": (logging, check_log),
    "exporting": (exporting, check_export),
}
KNOWN = {"plan.plectrum", "plan.plectrum~", "copy.plectrum", "plan.json",
         "log.sqlite", "log.sqlite-wal", "log.sqlite-shm"}  # fmt: skip


def killed_at_work(work: Work, folder: Path, after_s: float) -> list[str]:
    """What a child confirmed before it was killed; the time counts from its first word."""
    reading, writing = os.pipe()
    child = os.fork()
    if child == 0:
        os.close(reading)
        try:
            for word in work(folder):
                os.write(writing, f"{word}\n".encode())
        finally:
            os._exit(1)
    os.close(writing)
    with os.fdopen(reading, "rb") as words:
        first = words.readline()
        time.sleep(after_s)
        os.kill(child, signal.SIGKILL)
        rest = words.read()
    os.waitpid(child, 0)
    return [line.decode() for line in (first + rest).splitlines(keepends=False)]


def run(kills_n: int, seed: int) -> list[str]:
    """What went wrong."""
    luck = random.Random(seed)
    wrong, litter = [], Counter[str]()
    for k in range(kills_n):
        name = list(WORKS)[k % len(WORKS)]
        work, check = WORKS[name]
        with TemporaryDirectory() as made:
            folder = Path(made)
            confirmed = killed_at_work(work, folder, luck.random() * 0.03)
            try:
                check(folder, confirmed)
            except Exception as error:
                wrong.append(f"{name}, kill {k}: {type(error).__name__}: {error}")
            litter[name] += sweep(folder)
            left = {path.name for path in folder.iterdir()} - KNOWN
            if left:
                wrong.append(f"{name}, kill {k}: litter {left}")
    print(f"{kills_n} kills, {len(wrong)} wrong, half files swept: {dict(litter)}")
    return wrong


def run_window(kills_n: int, seed: int) -> list[str]:
    """The same of the window; what went wrong."""
    from tests.fuzzing.window_kills import WORKS

    luck, wrong = random.Random(seed), []
    for k in range(kills_n):
        name = list(WORKS)[k % len(WORKS)]
        work, check, longest_s = WORKS[name]
        with TemporaryDirectory(ignore_cleanup_errors=True) as made:
            folder = Path(made)
            words = killed_at_work(work, folder, luck.random() * longest_s)
            try:
                check(folder, words, time.monotonic())
            except Exception as error:
                wrong.append(f"{name}, kill {k}: {type(error).__name__}: {error}")
        if k % 30 == 29:
            print(f"{k + 1} kills of the window, {len(wrong)} wrong", flush=True)
    return wrong


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--kills", type=int, default=600)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--window", action="store_true")
    options = parser.parse_args()
    wrong = (run_window if options.window else run)(options.kills, options.seed)
    print("\n".join(wrong))
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main())
