"""The moving bow: paint times, a minute at sixty frames a second, sound against real time."""

from __future__ import annotations

import statistics
import tempfile
import time
from pathlib import Path

from PySide6.QtCore import QEvent, QObject, QSettings
from PySide6.QtWidgets import QApplication, QWidget
from tests.ui.watchdog import Watchdog

from benchmarks.window import wait
from plectrum.core.files.opening import open_document_path
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.playing.motion import Motion
from plectrum.core.playing.performance import Performance, Rehearsal
from plectrum.core.sound.render import RATE_HZ, Renderer, render
from plectrum.core.sound.wav import wav_bytes
from plectrum.core.tracking.simulated import Clumsiness
from plectrum.demo import demo_paths
from plectrum.ui.desk.settings import Settings
from plectrum.ui.shell.app import make_application
from plectrum.ui.shell.main_window import MainWindow
from plectrum.ui.show.screen import ShowScreen

SIZES = ((1280, 800), (1920, 1080))
GOAL_MS = 8.0
MINUTE_S = 60.0
FRAMES_N = 1200


def run() -> None:
    _sound()
    app = make_application()
    folder = Path(tempfile.mkdtemp())
    settings = Settings(QSettings(str(folder / "s.ini"), QSettings.Format.IniFormat))
    settings.screen = "show"
    window = MainWindow(settings, folder, folder / "players")
    window.show()
    window.open_path(demo_paths()[0])
    show = window.screen_of("show")
    wait(app, lambda: show.transport.performance is not None and show.line.is_laid_out)
    for size in SIZES:
        for alone in (False, True):
            _paint(app, window, size, alone)
    _minute(app, window)
    window.close()


def _sound() -> None:
    """Bytes of a WAV file, once the inner loops are compiled."""
    for path in demo_paths():
        plan = plan_of(open_document_path(path))
        performance = Performance(plan)
        render(performance)
        times = []
        for _ in range(3):
            begun = time.perf_counter()
            data = wav_bytes(Renderer(performance).blocks())
            times.append(time.perf_counter() - begun)
        seconds = (len(data) - 44) / 2 / RATE_HZ
        print(
            f"WAV of {path.stem}: {seconds:.0f} s of sound in {min(times):.2f} s, "
            f"{seconds / min(times):.0f} times faster than real time (goal 20)"
        )
    motion = Motion(Performance(plan, Rehearsal(loop=True)))
    begun = time.perf_counter()
    for k in range(20_000):
        motion.at(k * 0.037)
    print(f"where the bow is: {(time.perf_counter() - begun) / 20_000 * 1e6:.0f} µs a question")


def _settle(app: QApplication, show: ShowScreen, seconds: float = 0.5) -> None:
    wait(app, lambda: show.line.is_laid_out and not show.preparing)
    end = time.perf_counter() + seconds
    wait(app, lambda: time.perf_counter() > end)


def _paint(app: QApplication, window: MainWindow, size: tuple[int, int], alone: bool) -> None:
    """The frames of twenty seconds: asking where the bow is, stage and score line painted."""
    show = window.screen_of("show")
    parts = (window.menuBar(), window.rail, window.statusBar())
    for part in parts:
        part.setVisible(not alone)
    show.set_alone(alone)
    window.resize(*size)
    _settle(app, show)
    frames, own = [], []
    for k in range(FRAMES_N):
        begun, worked = time.perf_counter(), time.thread_time()
        show.transport.go_to(k / 60)
        app.processEvents()
        frames.append(time.perf_counter() - begun)
        own.append(time.thread_time() - worked)
    frames.sort()
    own.sort()
    what = "stage alone" if alone else "whole window"
    print(
        f"paint {size[0]} × {size[1]}, {what}: median {statistics.median(frames) * 1e3:.1f} ms, "
        f"99 in 100 under {frames[int(0.99 * len(frames))] * 1e3:.1f} ms, worst "
        f"{frames[-1] * 1e3:.1f} ms; its own work {statistics.median(own) * 1e3:.1f}, "
        f"{own[int(0.99 * len(own))] * 1e3:.1f}, {own[-1] * 1e3:.1f} ms (goal {GOAL_MS:.0f})"
    )


class _Frames(QObject):
    """Counts paint events of a widget, and the longest gap between two."""

    def __init__(self, widget: QWidget) -> None:
        super().__init__()
        self.times: list[float] = []
        widget.installEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.Paint:
            self.times.append(time.perf_counter())
        return False


def _minute(app: QApplication, window: MainWindow) -> None:
    """Play a loop for a minute, with the simulated bow followed."""
    show = window.screen_of("show")
    for part in (window.menuBar(), window.rail, window.statusBar()):
        part.setVisible(True)
    show.set_alone(False)
    window.resize(*SIZES[0])
    for followed in (False, True):
        if followed:
            show.following.simulated(Clumsiness.ALL)
        show.controls.loop.setChecked(True)
        _settle(app, show)
        frames, dog = _Frames(show.stage), Watchdog()
        show.play()
        dog.start()
        started_s = show.transport.now_s()
        begun, cpu = time.perf_counter(), time.process_time()
        wait(app, lambda begun=begun: time.perf_counter() - begun > MINUTE_S, 90.0)  # type: ignore[misc]
        passed, worked = time.perf_counter() - begun, time.process_time() - cpu
        dog.stop()
        state = show.transport.now_s() - started_s
        show.play()
        show.stage.removeEventFilter(frames)
        gaps = sorted(b - a for a, b in zip(frames.times, frames.times[1:], strict=False))
        late = sum(1 for gap in gaps if gap > 2 / 60)
        print(
            f"a minute of playing{', bow followed' if followed else ''}: "
            f"{len(frames.times) / passed:.1f} frames a second (goal 60), gaps over 33 ms {late}, "
            f"longest {gaps[-1] * 1e3:.0f} ms, {worked / passed:.0%} of one processor, "
            f"interface thread away at most {dog.worst_ms:.0f} ms, "
            f"off by {abs(state - passed) * 1e3:.1f} ms"
        )
