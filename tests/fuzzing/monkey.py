"""A random hand on the real window: `make monkey`, or `python -m tests.fuzzing.monkey`.

Keys, clicks, menus, edits, undo and redo, saving and opening, on every screen. Every hundred
actions the plan must be that of the document made anew; every five hundred, undoing all must give
the document that was opened; the memory must level off.
"""

from __future__ import annotations

import argparse
import gc
import os
import random
import sys
import time
from dataclasses import fields
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QPoint, QSettings, Qt, QTimer
from PySide6.QtTest import QTest
from PySide6.QtWidgets import (
    QApplication,
    QComboBox,
    QDialog,
    QFileDialog,
    QInputDialog,
    QMenu,
    QMessageBox,
    QWidget,
)

from plectrum.core.document.document import Document
from plectrum.core.files.marking import Marking
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.planning.plan import Plan
from plectrum.demo import demo_paths
from plectrum.ui.desk.settings import Settings
from plectrum.ui.editing import planner
from plectrum.ui.editing.interpreter import give_back
from plectrum.ui.editing.runner import finish_work
from plectrum.ui.handout.handing_out import HandingOut
from plectrum.ui.playback.speaker import Speaker
from plectrum.ui.shell.app import make_application
from plectrum.ui.shell.main_window import MainWindow
from plectrum.ui.shell.screens import SCREENS

KEYS = "abcdefg123468.r#-nts'^_<>{}dutHrsx[]-=12345gapl lycmnvtf+sgauh"
MOVES = (
    Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Home, Qt.Key.Key_End, Qt.Key.Key_Up,
    Qt.Key.Key_Down, Qt.Key.Key_Backspace, Qt.Key.Key_Delete, Qt.Key.Key_Escape,
    Qt.Key.Key_Return, Qt.Key.Key_Space, Qt.Key.Key_Tab,
)  # fmt: skip
MODIFIERS = (
    Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.NoModifier,
    Qt.KeyboardModifier.ShiftModifier, Qt.KeyboardModifier.ControlModifier,
)  # fmt: skip
NOT_CHOSEN = ("Quit", "Full screen", "Stage alone", "Print", "PDF", "WAV", "for good")
LOOK_EVERY, UNDO_EVERY = 100, 500
LONGEST_S = 60.0


class Monkey:
    """Acts on one window."""

    def __init__(self, window: MainWindow, folder: Path, luck: random.Random) -> None:
        self.window, self.folder, self.luck = window, folder, luck
        self.troubles: list[str] = []
        self._rescue = QTimer(interval=200)  # menus and dialogs that wait are left
        self._rescue.timeout.connect(self._leave_dialogs)
        self._rescue.start()

    def act(self) -> None:
        """One thing a teacher, or a child at the keyboard, may do."""
        self._leave_dialogs()
        ways = (
            (0.10, self._screen), (0.30, self._key), (0.22, self._letters), (0.12, self._click),
            (0.12, self._menu), (0.08, self._undo), (0.06, self._combo), (0.08, self._take),
        )  # fmt: skip
        self.luck.choices([w for _, w in ways], [share for share, _ in ways])[0]()
        QApplication.processEvents()

    def _target(self) -> QWidget:
        return QApplication.focusWidget() or self.window

    def _screen(self) -> None:
        self.window.show_screen(self.luck.choice(SCREENS).key)

    def _key(self) -> None:
        QTest.keyClick(self._target(), self.luck.choice(MOVES), self.luck.choice(MODIFIERS))

    def _letters(self) -> None:
        QTest.keyClicks(self._target(), self.luck.choice(KEYS) * self.luck.choice((1, 1, 3)))

    def _click(self) -> None:
        widgets = [w for w in self.window.findChildren(QWidget) if w.isVisible() and w.isEnabled()]
        widget = self.luck.choice(widgets)
        at = QPoint(self.luck.randrange(max(1, widget.width())),
                    self.luck.randrange(max(1, widget.height())))  # fmt: skip
        button = self.luck.choice((Qt.MouseButton.LeftButton,) * 4 + (Qt.MouseButton.RightButton,))
        QTest.mouseClick(widget, button, Qt.KeyboardModifier.NoModifier, at)

    def _menu(self) -> None:
        actions = [
            a
            for menu in self.window.menuBar().findChildren(QMenu)
            for a in menu.actions()
            if a.isEnabled() and a.menu() is None and not a.isSeparator()
            and not any(word in a.text().replace("&", "") for word in NOT_CHOSEN)
        ]  # fmt: skip
        self.luck.choice(actions).trigger()

    def _take(self) -> None:
        """What is shown is copied, exported, heard or printed, whatever is still on its way."""
        bowing, show = (self.window.screen_of(key) for key in ("bowing", "show"))
        exporter, handout = self.window.exporter, self.window.screen_of("handout")
        if self.window.session.document is None:
            return
        ways = (
            bowing.copy, exporter.csv, handout.handing_out.save_svg, handout.handing_out.save_pdf,  # type: ignore[attr-defined]
            handout.handing_out.print_out,  # type: ignore[attr-defined]
            lambda: exporter._export_marked(Marking()),
            lambda: exporter.midi(show.performance_now()),  # type: ignore[attr-defined]
            lambda: bowing.start_comparing() or bowing.stop_comparing(),  # type: ignore[attr-defined]
        )  # fmt: skip
        self.luck.choice(ways)()

    def _undo(self) -> None:
        stack = self.window.session.undo_stack
        self.luck.choice((stack.undo, stack.undo, stack.redo))()

    def _combo(self) -> None:
        combos = [c for c in self.window.findChildren(QComboBox) if c.isVisible() and c.count()]
        if combos:
            combo = self.luck.choice(combos)
            combo.setCurrentIndex(self.luck.randrange(combo.count()))
            combo.activated.emit(combo.currentIndex())

    def _leave_dialogs(self) -> None:
        popup = QApplication.activePopupWidget()
        if popup is not None:
            popup.close()
        for widget in QApplication.topLevelWidgets():
            if isinstance(widget, QDialog) and widget.isVisible():
                widget.reject()

    # what must hold

    def settle(self) -> None:
        until = time.monotonic() + LONGEST_S
        while self.window.session.planning or self.window.screen_of("piece").typing.busy:  # type: ignore[attr-defined]
            QTest.qWait(10)
            if time.monotonic() > until:
                self.troubles.append("still planning after a minute")
                return

    def look(self) -> None:
        """The plan that is shown is the one the document has."""
        self.settle()
        session = self.window.session
        if session.document is None or session.plan is None:
            return
        anew = plan_of(session.document)
        if [p and (p.direction, p.start, p.end) for p in anew.notes] != [
            p and (p.direction, p.start, p.end) for p in session.plan.notes
        ]:
            self.troubles.append("the plan shown is not that of the document")

    def undo_all(self, opened: list[Any]) -> None:
        """Undoing everything gives what was opened, if that is still what is open."""
        self.settle()
        stack = self.window.session.undo_stack
        while stack.canUndo():
            stack.undo()
        self.settle()
        first, now = opened[-1], self.window.session.document  # another may have come meanwhile
        if now != first:
            other = [
                f.name for f in fields(first) if getattr(first, f.name) != getattr(now, f.name)
            ]
            self.troubles.append(f"undoing all does not give what was opened: {other}")


def memory_mb() -> int:
    return int(Path("/proc/self/statm").read_text().split()[1]) * os.sysconf("SC_PAGESIZE") // 2**20


def without_questions(folder: Path, luck: random.Random) -> None:
    """Nothing waits for an answer; files are saved under a few names and opened again."""

    def saved(*_a: object, **_k: object) -> tuple[str, str]:
        return luck.choice(("", str(folder / f"{luck.randrange(3)}.plectrum"))), ""

    def opened(*_a: object, **_k: object) -> tuple[str, str]:
        return luck.choice(("", *(str(p) for p in folder.glob("*.plectrum")))), ""

    QFileDialog.getSaveFileName = saved  # type: ignore[method-assign, assignment]
    QFileDialog.getOpenFileName = opened  # type: ignore[method-assign, assignment]
    QFileDialog.getOpenFileNames = lambda *_a, **_k: ([], "")  # type: ignore[method-assign, assignment]
    QFileDialog.getExistingDirectory = lambda *_a, **_k: ""  # type: ignore[method-assign, assignment]
    QInputDialog.getText = lambda *_a, **_k: (luck.choice(("", "Some name")), luck.random() < 0.5)  # type: ignore[method-assign, assignment]
    QInputDialog.getItem = lambda *_a, **_k: ("violin", luck.random() < 0.5)  # type: ignore[method-assign, assignment]
    HandingOut.ask_how_to_print = lambda _self, printer: bool(  # type: ignore[method-assign]
        printer.setOutputFileName(str(folder / "printed.pdf")) or True
    )
    QMessageBox.exec = lambda *_a: QMessageBox.StandardButton.No  # type: ignore[method-assign, assignment]
    Speaker.open_sink = lambda speaker: setattr(speaker, "why", "no sound here")  # type: ignore[method-assign, assignment]


def plan_late(luck: random.Random) -> None:
    """No plan is made at once, and each is a while on its way."""
    made = planner.drawn_plan

    def late(document: Document) -> Plan:
        time.sleep(luck.choice((0.0, 0.05, 0.3)))
        return made(document)

    planner.AT_ONCE_S, planner.drawn_plan = 0.0, late


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--actions", type=int, default=2000)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--pending", action="store_true", help="plans are long on their way")
    options = parser.parse_args()
    luck = random.Random(options.seed)
    if options.pending:
        plan_late(luck)
    errors: list[BaseException] = []
    with TemporaryDirectory() as name:
        folder = Path(name)
        os.environ["XDG_STATE_HOME"] = name
        make_application()
        without_questions(folder, luck)
        store = QSettings(str(folder / "s.ini"), QSettings.Format.IniFormat)
        window = MainWindow(Settings(store), folder / "recovery", folder / "players")
        window.saving.ask_unsaved = lambda: QMessageBox.StandardButton.Discard  # type: ignore[method-assign]
        window.saving.ask_over = lambda *_: luck.random() < 0.5  # type: ignore[method-assign]
        sys.excepthook = lambda _kind, error, trace: errors.append(error.with_traceback(trace))
        window.resize(1280, 800)
        window.show()
        monkey, memory = Monkey(window, folder, luck), []
        window.session.opened.connect(lambda: opened.append(window.session.document))
        opened: list[Any] = []
        for done in range(options.actions):
            if done % UNDO_EVERY == 0:
                if opened:
                    monkey.undo_all(opened)
                window.open_path(demo_paths()[luck.randrange(4)])
                QTest.qWait(1500)
                gc.collect()  # as the program does every few minutes, and more often:
                give_back()
                memory.append(memory_mb())
                print(f"{done} actions, {memory[-1]} MB, {len(errors)} errors, "
                      f"{len(monkey.troubles)} troubles", flush=True)  # fmt: skip
            try:
                monkey.act()
            except Exception as error:  # what a menu would have caught
                errors.append(error)
            if done % LOOK_EVERY == LOOK_EVERY - 1:
                monkey.look()
        monkey.settle()
        window.close()
        finish_work()
        QApplication.clipboard().clear()  # without a display it lives on after the interpreter
    for error in errors:
        sys.__excepthook__(type(error), error, error.__traceback__)
    print(f"{options.actions} actions, {len(errors)} errors, troubles: {monkey.troubles}")
    print(f"memory in MB: {memory}")
    return 1 if errors or monkey.troubles else 0


if __name__ == "__main__":
    sys.exit(main())
