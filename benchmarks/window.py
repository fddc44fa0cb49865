"""The window: a key press until the new plan is painted, typing, opening, scrolling, blocking."""

from __future__ import annotations

import gc
import random
import statistics
import tempfile
import time
from collections.abc import Callable, Sequence
from functools import partial
from itertools import cycle
from pathlib import Path

from PySide6.QtCore import QEvent, QEventLoop, QObject, QSettings, Qt, QTimer
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication
from tests.ui.watchdog import Watchdog

from benchmarks.pieces import part_of_bars
from plectrum.ui.desk.settings import Settings
from plectrum.ui.drawing.score_view import ScoreView
from plectrum.ui.shell.app import make_application
from plectrum.ui.shell.main_window import MainWindow

PLACES = (9, 13, 17, 22, 26, 30, 35)  # notes over the page; so many that each gets every other key


class _Paints(QObject):
    """Counts the paint events of a view that has something to paint."""

    def __init__(self, view: ScoreView) -> None:
        super().__init__()
        self.count = 0
        self._view = view
        view.viewport().installEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        self.count += event.type() == QEvent.Type.Paint and bool(self._view.items_by_system)
        return False


def wait(app: QApplication, done: Callable[[], bool], limit_s: float = 30.0) -> None:
    """Let the event loop run, asleep between events, until something is so."""
    loop, begun = QEventLoop(), time.perf_counter()
    timer = QTimer(interval=1)
    timer.timeout.connect(lambda: loop.quit() if done() else None)
    timer.start()
    while not done():
        QTimer.singleShot(int(limit_s * 1000), loop.quit)
        loop.exec()
        if time.perf_counter() - begun > limit_s:
            raise TimeoutError("the window did not answer")


def settle(app: QApplication, window: MainWindow, quiet_s: float = 0.4) -> None:
    """Until nothing is planned, engraved or painted ahead any more."""
    view = window.screen_of("bowing").view
    wait(app, lambda: not window.session.planning and view.is_laid_out)
    end = time.perf_counter() + quiet_s
    wait(app, lambda: time.perf_counter() > end)


def run() -> None:
    app = make_application()
    folder = Path(tempfile.mkdtemp())
    settings = Settings(QSettings(str(folder / "s.ini"), QSettings.Format.IniFormat))
    window = MainWindow(settings, folder, folder / "players")
    window.resize(1280, 800)
    window.show()
    for bars_n in (64, 300):
        path = folder / f"{bars_n}.musicxml"
        path.write_bytes(part_of_bars(bars_n))
        _open(app, window, path, bars_n)
        _press(app, window, bars_n)
        _work(app, window, bars_n)
    _scroll(app, window)
    _type(app, window)
    window.session.undo_stack.setClean()
    window.close()


def _open(app: QApplication, window: MainWindow, path: Path, bars_n: int) -> None:
    view, session = window.screen_of("bowing").view, window.session
    window.settings.screen = "bowing"
    paints = _Paints(view)
    times, dog = [], Watchdog()
    for _ in range(4):
        session.undo_stack.setClean()
        view.clear()
        app.processEvents()
        seen = paints.count
        dog.start()
        begun = time.perf_counter()
        window.open_path(path)
        wait(app, lambda seen=seen: paints.count > seen)  # type: ignore[misc]
        times.append(time.perf_counter() - begun)
        settle(app, window)
        dog.stop()
    print(
        f"open {bars_n} bars to the first painted system: {statistics.median(times[1:]) * 1e3:.0f}"
        f" ms warm; interface thread away at most {dog.worst_ms:.0f} ms"
    )


def _press(app: QApplication, window: MainWindow, bars_n: int) -> None:
    """A stroke this way and that: foreseen, as after a moment's thought; planned as if it never had
    been; other keys so, each for its place alone; then taken back and done again."""
    screen, session = window.screen_of("bowing"), window.session
    paints, goal, places = _Paints(screen.view), _goal_ms(bars_n), cycle(PLACES)
    screen.select(PLACES[0])
    settle(app, window)
    gc.collect()
    dog = Watchdog().start()

    def painted_s(act: Callable[[], object], ready: Callable[[], bool] = lambda: True) -> float:
        screen.select(next(places))
        settle(app, window, 0.1)  # as apart as a teacher presses; the panel has followed by then
        wait(app, ready)
        old, seen = session.plan, paints.count
        begun = time.perf_counter()
        act()
        while session.plan is old or paints.count == seen:
            app.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)
        return time.perf_counter() - begun

    def press_foreseen(key: Qt.Key) -> float:
        foresight = session.planner.foresight
        return painted_s(
            partial(QTest.keyClick, screen.view, key), ready=lambda: not foresight.looking
        )

    def afresh_s(act: Callable[[], object]) -> float:
        def act_afresh() -> None:
            session.planner.kept.forget()
            act()

        return painted_s(act_afresh)

    keys = [Qt.Key.Key_U if k % 2 else Qt.Key.Key_D for k in range(34)]
    foreseen = [press_foreseen(key) for key in keys][4:]  # the first fill what is kept
    _say_times(f"press D or U until painted, foreseen, {bars_n} bars", foreseen, goal)
    foresee, session.foresee = session.foresee, lambda asks: None  # type: ignore[method-assign]
    pressed = [afresh_s(partial(QTest.keyClick, screen.view, key)) for key in keys][4:]
    _say_times(f"press D or U until painted, not foreseen, {bars_n} bars", pressed, goal)
    here = screen.commands
    here.everywhere = False
    for what, act in {
        "D or U": lambda k: QTest.keyClick(screen.view, keys[k]),
        "a lane": lambda k: here.lane(2 + k % 3),
        "more or less bow": lambda k: here.nudge(length=(-1) ** k),
        "a pin": lambda k: here.toggle_pin(),
    }.items():
        alone = [afresh_s(partial(act, k)) for k in range(14)][4:]
        _say_times(f"{what} for this place alone, not foreseen, {bars_n} bars", alone, goal)
    here.everywhere = True
    session.foresee = foresee  # type: ignore[method-assign]
    undo = session.undo_stack
    back = [painted_s(undo.redo if k % 2 else undo.undo) for k in range(12)][2:]
    _say_times(f"back and there again until painted, {bars_n} bars", back, goal)
    settle(app, window)
    dog.stop()
    print(f"interface thread away at most {dog.worst_ms:.0f} ms (goal 100)")


def _goal_ms(bars_n: int) -> int:
    """A frame; two where the piece is long."""
    return 16 if bars_n == 64 else 33


def _work(app: QApplication, window: MainWindow, bars_n: int) -> None:
    """As a quick teacher works: some notes on, and a correction there; a key every 150 ms."""
    screen, session = window.screen_of("bowing"), window.session
    paints, rng = _Paints(screen.view), random.Random(3)
    goal = _goal_ms(bars_n)
    times: dict[str, list[float]] = {"D or U": [], "S or H": []}

    def press(key: Qt.Key) -> float | None:
        """Until painted; None where it changes nothing."""
        before, old, seen = session.document, session.plan, paints.count
        begun = time.perf_counter()
        QTest.keyClick(screen.view, key)
        while session.document is not before and (session.plan is old or paints.count == seen):
            app.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)
        took_s = time.perf_counter() - begun
        _pause(app, 0.15)
        return took_s if session.document is not before else None

    for k in range(60):
        for _ in range(rng.randint(1, 3)):
            QTest.keyClick(screen.view, Qt.Key.Key_Right)
            _pause(app, 0.15)
        kind = rng.choice(["D or U", "D or U", "S or H"])
        took_s = press(Qt.Key[f"Key_{rng.choice(kind.split(' or '))}"])
        if took_s is not None and k > 4:  # the first fill what is kept
            times[kind].append(took_s)
        if k % 10 == 9:
            session.let_go_all()
            settle(app, window)
    for kind, seconds in times.items():
        _say_times(f"at work, {kind} until painted, {bars_n} bars", seconds, goal)


def _pause(app: QApplication, seconds: float) -> None:
    until = time.perf_counter() + seconds
    wait(app, lambda: time.perf_counter() > until)


def _say_times(what: str, seconds: Sequence[float], goal_ms: int) -> None:
    times = [s * 1e3 for s in sorted(seconds)]
    print(
        f"{what}: median {statistics.median(times):.0f} ms, nine in ten under "
        f"{times[int(0.9 * len(times))]:.0f} ms, worst {times[-1]:.0f} ms (goal {goal_ms})"
    )


def _scroll(app: QApplication, window: MainWindow) -> None:
    """Scroll 300 bars from top to bottom by the wheel's step, painting every frame."""
    view = window.screen_of("bowing").view
    settle(app, window)
    bar = view.verticalScrollBar()
    bar.setValue(0)
    settle(app, window)
    frames = []
    while bar.value() < bar.maximum():
        begun = time.perf_counter()
        bar.setValue(bar.value() + 60)
        view.viewport().repaint()
        frames.append(time.perf_counter() - begun)
        until = begun + 1 / 60
        while time.perf_counter() < until:
            app.processEvents()
    worst, slow = max(frames) * 1e3, sum(1 for f in frames if f > 0.033)
    print(
        f"scroll 300 bars: {len(frames)} frames, median {statistics.median(frames) * 1e3:.1f} ms, "
        f"worst {worst:.0f} ms, {slow} over 33 ms (goal none)"
    )


def _type(app: QApplication, window: MainWindow) -> None:
    """A key on the Piece screen until the new note is on the staff."""
    session = window.session
    session.undo_stack.setClean()
    old = session.document
    window.opening.new_tune()
    wait(app, lambda: session.document is not old)
    window.show_screen("piece")
    view, typing = window.screen_of("piece").view, window.screen_of("piece").typing
    wait(app, lambda: view.is_laid_out)
    times, dog = [], Watchdog().start()
    for key in "dega" * 12:
        before = typing.caret
        begun = time.perf_counter()
        QTest.keyClicks(view, key)
        wait(app, lambda before=before: typing.caret != before)  # type: ignore[misc]
        note = typing.caret
        wait(
            app,
            lambda note=note: any(note in i.system.notes for i in view.items_by_system),  # type: ignore[misc]
        )
        times.append(time.perf_counter() - begun)
    dog.stop()
    print(
        f"type a letter until its note is on the staff: median "
        f"{statistics.median(times) * 1e3:.0f} ms, worst {max(times) * 1e3:.0f} ms; "
        f"interface thread away at most {dog.worst_ms:.0f} ms"
    )
