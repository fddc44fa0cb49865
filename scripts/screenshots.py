"""Takes the pictures in docs/screenshots from the demo data, in a window of 1280 × 800."""

from __future__ import annotations

import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QSettings

from plectrum.demo import demo_paths
from plectrum.ui.app import make_application
from plectrum.ui.main_window import MainWindow
from plectrum.ui.settings import Settings

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"


class Camera:
    """One window, driven and photographed."""

    def __init__(self) -> None:
        self.app = make_application()
        folder = Path(tempfile.mkdtemp())
        store = QSettings(str(folder / "s.ini"), QSettings.Format.IniFormat)
        self.window = MainWindow(Settings(store), folder)
        self.window.resize(1280, 800)
        self.window.show()

    def until(self, done: Callable[[], bool], limit_s: float = 15.0) -> None:
        begun = time.monotonic()
        while not done():
            if time.monotonic() - begun > limit_s:
                raise TimeoutError("the window did not get there")
            self.app.processEvents()
            time.sleep(0.01)

    def wait(self, seconds: float) -> None:
        end = time.monotonic() + seconds
        self.until(lambda: time.monotonic() > end)

    def open(self, path: Path) -> None:
        session, view = self.window.session, self.window.screen_bowing.view
        old = session.document
        self.window.open_path(path)
        self.until(lambda: session.document is not old and session.plan is not None)
        self.wait(0.3)
        last = len(session.plan.notes) - 1 if session.plan is not None else 0
        self.until(lambda: view.item_of(last) is not None)
        self.wait(2.0)  # until nothing flashes any more

    def take(self, name: str) -> None:
        self.wait(0.2)
        self.window.grab().save(str(FOLDER / f"{name}.png"))


def main() -> int:
    FOLDER.mkdir(parents=True, exist_ok=True)
    camera = Camera()
    screen, session = camera.window.screen_bowing, camera.window.session
    camera.open(demo_paths()[0])
    screen.select(5)
    camera.take("bowing")
    screen.panel.buttons[1].click()
    camera.until(lambda: session.trial is not None)
    camera.take("bowing-trying")
    session.drop_trial()
    for action in camera.window.menus.strip_actions.values():
        action.setChecked(True)
    camera.take("bowing-strips")
    for action in camera.window.menus.strip_actions.values():
        action.setChecked(False)
    camera.open(demo_paths()[1])
    screen.select(18)
    camera.take("bowing-cello")
    camera.window.close()
    return 0


if __name__ == "__main__":
    sys.exit(main())
