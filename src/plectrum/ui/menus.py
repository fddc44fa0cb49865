"""The menus of the main window: every command with its words and its key."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Qt
from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import QMenu, QWidget

from plectrum.core.planning.choices import Join
from plectrum.core.score.instruments import INSTRUMENTS
from plectrum.core.score.model import Direction
from plectrum.demo import demo_paths
from plectrum.ui.bowing.strips import STRIPS
from plectrum.ui.school_menu import SchoolMenu

if TYPE_CHECKING:
    from plectrum.ui.main_window import MainWindow

Action = tuple[str, str, Callable[[], object]]


class Menus(QObject):
    """Builds the menu bar once; the commands themselves belong to the window and its screen."""

    def __init__(self, window: MainWindow) -> None:
        super().__init__(window)
        self._window = window
        self.strip_actions: dict[str, QAction] = {}
        self._build()

    def _build(self) -> None:
        screen = self._window.screen_bowing
        files = self._menu(
            "&File",
            [
                ("&Open …", "Ctrl+O", self._window.ask_open),
                ("&Save", "Ctrl+S", self._window.save),
                ("Save &as …", "Ctrl+Shift+S", self._window.save_as),
                ("", "", print),
                ("Export marked &MusicXML …", "Ctrl+E", self._window.export_musicxml),
                ("Export &notes table (CSV) …", "", self._window.export_csv),
                ("", "", print),
                ("&Quit", "Ctrl+Q", self._window.close),
            ],
        )
        self._recent_menu = QMenu("Open &recent", self._window)
        self._recent_menu.aboutToShow.connect(self._fill_recent)
        demos = QMenu("&Demo pieces", self._window)
        for path in demo_paths():
            demos.addAction(
                path.stem.replace("_", " ").title(), partial(self._window.open_path, path)
            )
        second = files.actions()[1]
        files.insertMenu(second, self._recent_menu)
        files.insertMenu(second, demos)
        files.insertMenu(second, self._open_for_menu())
        edit = self._window.menuBar().addMenu("&Edit")
        undo = self._window.session.undo_stack.createUndoAction(self._window, "&Undo")
        undo.setShortcut(QKeySequence("Ctrl+Z"))
        redo = self._window.session.undo_stack.createRedoAction(self._window, "&Redo")
        redo.setShortcut(QKeySequence("Ctrl+Shift+Z"))
        edit.addActions([undo, redo])
        self._build_note_menu()
        self.school_menu = SchoolMenu(self._window.session, self._window)
        self._window.menuBar().addMenu(self.school_menu)
        view = self._menu(
            "&View",
            [
                ("Zoom &in", "Ctrl++", lambda: screen.view.zoom_step(1)),
                ("Zoom &out", "Ctrl+-", lambda: screen.view.zoom_step(-1)),
                ("&Normal size", "Ctrl+0", lambda: screen.view.set_zoom(1.0)),
            ],
        )
        self._build_strip_actions(view)
        self._menu("&Help", [("&Keys on one sheet", "F1", self._window.show_keys)])

    def _build_note_menu(self) -> None:
        """What can be done to the selected note; the keys work wherever the screen has focus."""
        screen = self._window.screen_bowing
        self._menu(
            "&Note",
            [
                ("&Down-bow", "D", lambda: screen.pin_direction(Direction.DOWN)),
                ("&Up-bow", "U", lambda: screen.pin_direction(Direction.UP)),
                ("&Turn the bow", "T", lambda: screen.pin_join(Join.TURN)),
                ("&Hook: stop, same way", "H", lambda: screen.pin_join(Join.HOOK)),
                ("&Retake: lift and set down", "R", lambda: screen.pin_join(Join.RETAKE)),
                ("&Slur to the note before", "S", lambda: screen.pin_join(Join.SLUR)),
                ("Split the slur here", "X", screen.split),
                ("", "", print),
                ("Start nearer the frog", "[", lambda: screen.nudge(start=-2)),
                ("Start nearer the tip", "]", lambda: screen.nudge(start=2)),
                ("Less bow", "-", lambda: screen.nudge(length=-2)),
                ("More bow", "=", lambda: screen.nudge(length=2)),
                ("", "", print),
                ("Try the next &alternative", "A", screen.try_next),
                ("&Pin as it is, or let go", "P", screen.toggle_pin),
                ("&Let go of all pins", "Ctrl+Shift+P", self._window.session.let_go_all),
            ],
            context=Qt.ShortcutContext.WidgetWithChildrenShortcut,
            owner=screen,
        )

    def _build_strip_actions(self, menu: QMenu) -> None:
        """One switch for every strip, remembered between runs."""
        menu.addSeparator()
        for number, strip in enumerate(STRIPS, start=1):
            action = menu.addAction(strip.title)
            action.setCheckable(True)
            action.setShortcut(QKeySequence(f"Alt+{number}"))
            action.setChecked(strip.key in self._window.settings.strips)
            action.toggled.connect(self._strips_chosen)
            self.strip_actions[strip.key] = action
        self._strips_chosen()

    def _strips_chosen(self, _checked: bool = False) -> None:
        chosen = [s for s in STRIPS if self.strip_actions[s.key].isChecked()]
        self._window.settings.strips = [s.key for s in chosen]
        self._window.screen_bowing.view.set_strips(chosen)

    def _open_for_menu(self) -> QMenu:
        """Open a score whose part does not say its instrument, or for another one."""
        menu = QMenu("Open &for", self._window)
        for name in INSTRUMENTS:
            menu.addAction(f"{name.capitalize()} …", partial(self._window.ask_open, name))
        return menu

    def _fill_recent(self) -> None:
        self._recent_menu.clear()
        for path in self._window.settings.recent:
            self._recent_menu.addAction(path.name, partial(self._window.open_path, path))
        if self._recent_menu.isEmpty():
            self._recent_menu.addAction("Nothing yet").setEnabled(False)

    def _menu(
        self,
        title: str,
        rows: list[Action],
        *,
        context: Qt.ShortcutContext = Qt.ShortcutContext.WindowShortcut,
        owner: QWidget | None = None,
    ) -> QMenu:
        menu = self._window.menuBar().addMenu(title)
        for text, keys, slot in rows:
            if not text:
                menu.addSeparator()
                continue
            action = QAction(text, self._window)
            if keys:
                action.setShortcut(QKeySequence(keys))
            action.setShortcutContext(context)
            action.triggered.connect(lambda _=False, s=slot: s())
            menu.addAction(action)
            if owner is not None:
                owner.addAction(action)
        return menu
