"""Kills of the real window at odd moments, while it saves, keeps its copy and hands out parts.

Each work is done in a child: it says a word for every state that is confirmed, or for every edit
with its time, where what counts is how old the copy may be.
"""

from __future__ import annotations

import os
import time
from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path

os.environ["QT_QPA_PLATFORM"] = "offscreen"

import pypdf
from PySide6.QtCore import QSettings
from PySide6.QtTest import QTest

from plectrum.core.files.planfile import document_from_bytes
from plectrum.core.score.reading.opening import open_score
from plectrum.demo import demo_paths
from plectrum.ui.desk.settings import Settings
from plectrum.ui.playback.speaker import Speaker
from plectrum.ui.shell.app import make_application
from plectrum.ui.shell.main_window import MainWindow
from plectrum.ui.shell.recovery import DEADLINE_MS
from plectrum.ui.together.hand_out import PartsWriter

EVERY_MS = 40  # an edit; a hand is slower
WRITING_S = 1.0  # a copy that is due is written within it on a busy machine
PARTS = next(path for path in demo_paths() if path.stem == "harbour_watch")


def _window(folder: Path) -> MainWindow:
    Speaker.get_ready = lambda _self: None  # type: ignore[method-assign]
    make_application()
    settings = Settings(QSettings(str(folder / "s.ini"), QSettings.Format.IniFormat))
    window = MainWindow(settings, folder / "recovery", folder / "players")
    window.open_path(PARTS)
    while window.session.document is None:
        QTest.qWait(5)
    return window


def _edits(window: MainWindow) -> Iterator[str]:
    """The piece at ever other tempos, so that every state can be told."""
    k = 0
    while True:
        k += 1
        bpm = 40.0 + k % 400
        window.session.edit(lambda now, bpm=bpm: replace(now, tempo_bpm=bpm), "tempo")
        while window.session.edits.busy:
            QTest.qWait(1)
        yield str(bpm)
        QTest.qWait(EVERY_MS)


def saving(folder: Path) -> Iterator[str]:
    window = _window(folder)
    for bpm in _edits(window):
        window.session.save(folder / "plan.plectrum")
        yield bpm


def keeping(folder: Path) -> Iterator[str]:
    for bpm in _edits(_window(folder)):
        yield f"{bpm} {time.monotonic()}"


def handing_out(folder: Path) -> Iterator[str]:
    window = _window(folder)
    document = window.session.document
    assert document is not None
    while True:
        writer = PartsWriter(document, window)
        writer.start(folder / "out", one_file=False, large=False)
        yield "begun"
        while writer.command.running:
            QTest.qWait(5)


def _bpm(path: Path) -> str:
    return str(document_from_bytes(path.read_bytes(), path.name).choices.tempo_bpm)


def check_saved(folder: Path, confirmed: list[str], _killed_s: float) -> None:
    found = _bpm(folder / "plan.plectrum")
    assert found == confirmed[-1] or found not in confirmed, "an older state than was confirmed"
    kept = folder / "plan.plectrum~"
    assert not kept.exists() or _bpm(kept)


def check_copy(folder: Path, edits: list[str], killed_s: float) -> None:
    """What is in no copy is younger than the deadline."""
    made = dict(reversed(row.split()) for row in edits)  # time: tempo, the last of each tempo wins
    times = {bpm: float(at) for at, bpm in made.items()}
    copies = list((folder / "recovery").glob("*.plectrum"))
    found = max((times[_bpm(copy)] for copy in copies), default=0.0)
    lost = [at for at in times.values() if at > found]
    oldest_s = killed_s - min(lost, default=killed_s)
    assert oldest_s < DEADLINE_MS / 1000 + WRITING_S, f"an edit of {oldest_s:.1f} s ago is lost"


def check_parts(folder: Path, _words: list[str], _killed_s: float) -> None:
    """The command goes on by itself or not; what is there is whole."""
    time.sleep(0.3)
    for path in (folder / "out").glob("*"):
        data = path.read_bytes()
        if path.suffix == ".pdf":
            assert len(pypdf.PdfReader(path).pages) >= 1
        elif path.suffix == ".musicxml":
            open_score(data, path.name)
        elif path.suffix == ".plectrum":
            document_from_bytes(data, path.name)


Check = Callable[[Path, list[str], float], None]
# What is done, how it is looked at, and for how long at most, in seconds, until it is killed.
WORKS: dict[str, tuple[Callable[[Path], Iterator[str]], Check, float]] = {
    "saving": (saving, check_saved, 0.6),
    "keeping the copy": (keeping, check_copy, 9.0),
    "handing out": (handing_out, check_parts, 4.0),
}
