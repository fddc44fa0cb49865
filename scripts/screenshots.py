"""Takes the pictures in docs/screenshots from the demo data, in a window of 1280 × 800."""

from __future__ import annotations

import sys
import tempfile
import time
from collections.abc import Callable
from dataclasses import replace
from datetime import date
from pathlib import Path

from PySide6.QtCore import QSettings

from plectrum.core.log.demo import open_demo
from plectrum.core.player.player import stage
from plectrum.core.practice.easier import Easier
from plectrum.core.tracking.simulated import Clumsiness
from plectrum.demo import demo_log, demo_paths
from plectrum.ui.desk.settings import Settings
from plectrum.ui.practice.screen import EXERCISES, WEEK
from plectrum.ui.shell.app import make_application
from plectrum.ui.shell.main_window import MainWindow

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"


class Camera:
    """One window, driven and photographed."""

    rest_s = 2.4  # until nothing flashes any more

    def __init__(self, scale: float = 1.0) -> None:
        self.app = make_application()
        folder = Path(tempfile.mkdtemp())
        settings = Settings(QSettings(str(folder / "s.ini"), QSettings.Format.IniFormat))
        settings.scale = scale
        log, _ = open_demo(folder, demo_log(), date.today())
        log.close()
        self.window = MainWindow(settings, folder, folder / "players")
        self.window.resize(1280, 800)
        self.window.show()

    def until(self, done: Callable[[], bool], limit_s: float = 20.0) -> None:
        begun = time.monotonic()
        while not done():
            if time.monotonic() - begun > limit_s:
                raise TimeoutError("the window did not get there")
            self.app.processEvents()
            time.sleep(0.01)

    def wait(self, seconds: float) -> None:
        end = time.monotonic() + seconds
        self.until(lambda: time.monotonic() > end)

    def open(self, path: Path, screen: str = "bowing") -> None:
        session = self.window.session
        self.window.settings.screen = screen
        session.undo_stack.setClean()
        old = session.document
        self.window.open_path(path)
        self.until(lambda: session.document is not old)
        self.settle(self.rest_s)

    def settle(self, seconds: float | None = None) -> None:
        """Until everything is planned, and drawn for so long."""
        self.until(lambda: not self.window.session.planning)
        self.wait(self.rest_s if seconds is None else seconds)

    def take(self, name: str) -> None:
        self.wait(0.2)
        self.window.grab().save(str(FOLDER / f"{name}.png"))


def main() -> int:
    FOLDER.mkdir(parents=True, exist_ok=True)
    camera = Camera()
    take_exercises(camera)  # first: nothing is open yet
    take_bowing(camera)
    take_comparing(camera)
    take_together(camera)
    take_other_screens(camera)
    take_practice(camera)
    take_log(camera)
    take_show(camera)
    camera.window.session.undo_stack.setClean()
    camera.window.close()
    return 0


def take_bowing(camera: Camera) -> None:
    window = camera.window
    screen = window.screen_of("bowing")
    ferry, water = demo_paths()[:2]
    camera.open(ferry)
    screen.select(5)
    camera.take("bowing")
    screen.panel.verticalScrollBar().setValue(10_000)
    screen.panel.faults.symptom.setCurrentIndex(1)
    camera.wait(0.3)
    screen.panel.verticalScrollBar().setValue(10_000)
    camera.take("bowing-sound")
    screen.panel.verticalScrollBar().setValue(0)
    for action in window.menus.strip_actions.values():
        action.setChecked(True)
    camera.take("bowing-strips")
    for action in window.menus.strip_actions.values():
        action.setChecked(False)
    window.menus.dark_action.setChecked(True)
    camera.open(water)
    screen.select(18)
    camera.settle()
    camera.take("bowing-dark")
    window.menus.dark_action.setChecked(False)


def take_comparing(camera: Camera) -> None:
    """One tune with two plans."""
    screen = camera.window.screen_of("bowing")
    bar = screen.compare_bar
    camera.open(demo_paths()[0])
    screen.start_comparing()
    bar.kind.setCurrentIndex(bar.kind.findData("direction"))
    bar.kind.activated.emit(bar.kind.currentIndex())
    camera.settle()
    for _ in range(2):
        bar.step(1)
    camera.take("comparing")
    screen.stop_comparing()


def take_together(camera: Camera) -> None:
    """The duet with an easier part for a starter."""
    camera.open(demo_paths()[2], "together")
    screen, session = camera.window.screen_of("together"), camera.window.session
    seat = session.document.seat_of("P2")
    starter = replace(seat, player=stage("starter"))
    screen.make_easier("P2", starter, Easier.FEWER, True)
    camera.until(lambda: len(screen.view.rows) == 3 and screen.view.is_laid_out)
    screen.select(1, 4)
    camera.wait(1)
    camera.take("ensemble")


def take_other_screens(camera: Camera) -> None:
    window = camera.window
    camera.open(demo_paths()[0], "piece")
    window.screen_of("piece").typing.go_to(window.session.plan.part.notes[33].id)  # type: ignore[union-attr]
    camera.take("piece")
    window.show_screen("player")
    camera.settle()
    header = window.header.player
    header.activated.emit(header.findText("Starter"))
    camera.settle()
    camera.take("player")


def take_practice(camera: Camera) -> None:
    """The handout, a step of a ladder and the week."""
    window = camera.window
    handout, practice = window.screen_of("handout"), window.screen_of("practice")
    camera.open(demo_paths()[0], "handout")
    camera.until(lambda: bool(handout.pages) and not handout.busy and handout.preview.complete)
    camera.take("handout")
    window.show_screen("practice")
    camera.until(lambda: practice.programme is not None and not practice.busy)
    practice.ladder.choose("3.bow-division")
    camera.settle()
    camera.take("practice")
    practice.tabs.setCurrentIndex(WEEK)
    practice.week.turn(1)
    practice.week.table.setFocus()
    camera.settle()
    camera.take("week")


def take_exercises(camera: Camera) -> None:
    """With nothing open: an exercise by the clock, and one on the Show screen."""
    window = camera.window
    window.choose_exercise()
    practice, show = window.screen_of("practice"), window.screen_of("show")
    practice.exercises.list.choose("straight-bow")
    camera.until(lambda: not practice.busy and not practice.exercises.busy)
    practice.do_it()
    camera.until(lambda: practice.timer.moving.play is not None)
    practice.timer.moving.transport.go_to(7.5)
    for hit in (True, True, False):
        practice.timer.count_try(hit=hit)
    camera.take("today")
    practice.tabs.setCurrentIndex(EXERCISES)
    practice.exercises.list.choose("landings")
    camera.until(lambda: not practice.exercises.busy)
    practice.show_it()
    camera.until(lambda: show.exercise.moving.play is not None)
    show.exercise.moving.transport.go_to(6.55)
    camera.take("exercise")


def take_log(camera: Camera) -> None:
    """A lesson and six weeks of longest bows, from the demo's log."""
    window, log = camera.window, camera.window.screen_of("log")
    window.show_screen("log")
    log.who.setCurrentIndex(2)
    log.who.activated.emit(2)
    camera.settle()
    camera.take("log-lesson")
    log.tabs.setCurrentIndex(2)
    camera.settle()
    camera.take("log-pictures")


def take_show(camera: Camera) -> None:
    """The moving bow: in the window, alone, followed; and one open string."""
    window = camera.window
    show = window.screen_of("show")
    camera.open(demo_paths()[0], "show")
    show.transport.go_to(show.transport.performance.notes[30].onset_s + 0.3)  # type: ignore[union-attr]
    camera.take("show")
    show.controls.count_in.setChecked(False)
    show.following.simulated(Clumsiness.ALL)
    camera.settle()
    show.play()
    camera.wait(8.6)
    camera.take("follow")
    show.play()
    show.following.nobody()
    show.open_try_it()
    show.try_it.examples[1].click()
    camera.wait(0.8)
    camera.take("try-it")
    show.close_try_it()
    camera.open(demo_paths()[1], "show")
    for part in (window.menuBar(), window.rail, window.statusBar()):
        part.hide()
    show.set_alone(True)
    show.set_frog_right(False)
    camera.settle()
    show.transport.go_to(show.transport.performance.notes[3].onset_s + 0.4)  # type: ignore[union-attr]
    camera.take("show-full")


if __name__ == "__main__":
    sys.exit(main())
