"""Starts the application."""

from __future__ import annotations

import os
import signal
import sys
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from datetime import date
from pathlib import Path
from socket import socketpair

from platformdirs import user_data_path
from PySide6.QtCore import QLibraryInfo, QLocale, QSocketNotifier, QTranslator
from PySide6.QtWidgets import QApplication

from plectrum import __version__
from plectrum.core.atomic import sweep
from plectrum.core.errors import PlectrumError
from plectrum.core.wording import tr
from plectrum.core.wording.language import LANGUAGES, chosen, hold
from plectrum.running import Listener
from plectrum.ui.editing.interpreter import settle_interpreter
from plectrum.ui.editing.runner import finish_work
from plectrum.ui.look import theme
from plectrum.ui.look.focus_ring import FocusRing
from plectrum.ui.look.speaking import name_questions
from plectrum.ui.shell.main_window import MainWindow
from plectrum.ui.shell.trouble import catch_unforeseen

ring: list[FocusRing] = []  # one for all windows
ENDINGS = (signal.SIGINT, signal.SIGTERM, signal.SIGHUP)


def make_application() -> QApplication:
    """The one application object, themed; the existing one if there is one."""
    existing = QApplication.instance()
    app = existing if isinstance(existing, QApplication) else QApplication(sys.argv[:1])
    app.setApplicationName("Plectrum")
    app.setApplicationVersion(__version__)
    app.setDesktopFileName("plectrum")
    _speak_the_language(app)
    theme.start(app)
    settle_interpreter(app)
    if existing is None:
        name_questions()
    if not ring:
        ring.append(FocusRing(app))
    return app


def _speak_the_language(app: QApplication) -> None:
    """The toolkit's own buttons, dates and numbers in the language of the texts."""
    key = chosen().key
    QLocale.setDefault(QLocale(key) if key in LANGUAGES else QLocale.c())
    translator = QTranslator(app)
    folder = QLibraryInfo.path(QLibraryInfo.LibraryPath.TranslationsPath)
    if translator.load(f"qtbase_{key}", folder):
        app.installTranslator(translator)


def _demo_window() -> MainWindow:
    """A window on the demo's players and log, which are kept apart from the user's own."""
    from plectrum.core.log.demo import demo_folder, open_demo
    from plectrum.demo import demo_log

    folder = demo_folder(user_data_path("plectrum"))
    try:
        store, _ = open_demo(folder, demo_log(), date.today())
        store.close()
    except PlectrumError as error:
        print(f"plectrum: {error}", file=sys.stderr)
    return MainWindow(players=folder / "players", log=folder / "log.sqlite")


def run(paths: Sequence[Path], *, demo: bool = False) -> int:
    """Open the window, with the files if any are given, and stay until it closes.

    Args:
        demo: with the demo's own players and log.
    """
    if not any(os.environ.get(name) for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")):
        print(
            tr(
                "plectrum: there is no display to open a window on. "
                "Use a desktop session, or `plectrum plan FILE` without a window"
            ),
            file=sys.stderr,
        )
        return 2
    hold()
    app = make_application()
    window = _demo_window() if demo else MainWindow()
    catch_unforeseen(window.show_error)
    for folder in {path.parent for path in window.settings.recent}:
        sweep(folder)
    window.show()
    if not window.offer_recovery():
        last = window.settings.left_open
        if not paths and last is not None and window.settings.reopens and not demo:
            window.resume(last)
        else:
            window.open_paths(paths)
    with told_to_end(window), listening(None if demo else window):
        ended = app.exec()
    finish_work()
    return ended


@contextmanager
def listening(window: MainWindow | None) -> Iterator[None]:
    """Files of other starts come to this window; not to a second one, and not to the demo's."""
    listener = Listener.begin() if window is not None else None
    if window is None or listener is None:
        yield
        return
    notifier = QSocketNotifier(listener.fileno(), QSocketNotifier.Type.Read)

    def take() -> None:
        handed = listener.take()
        if handed is not None:
            window.come_forward(handed)

    notifier.activated.connect(take)
    try:
        yield
    finally:
        notifier.setEnabled(False)
        listener.end()


@contextmanager
def told_to_end(window: MainWindow) -> Iterator[None]:
    """A break from the terminal, or the end of the desktop's session, keeps what is unsaved and
    closes the window; it is not asked about, for nobody may be there to answer."""
    ours, theirs = socketpair()
    for end in (ours, theirs):
        end.setblocking(False)
    before = {number: signal.signal(number, lambda *_: None) for number in ENDINGS}
    wakened = signal.set_wakeup_fd(theirs.fileno())  # else Python would hear of it when it is asked
    notifier = QSocketNotifier(ours.fileno(), QSocketNotifier.Type.Read)
    notifier.activated.connect(window.end_at_once)
    try:
        yield
    finally:
        notifier.setEnabled(False)
        signal.set_wakeup_fd(wakened)
        for number, handler in before.items():
            signal.signal(number, handler)
        ours.close()
        theirs.close()
