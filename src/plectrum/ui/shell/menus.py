"""The menu bar: the window's own commands, and those of every screen in the registry."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Qt
from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import QMenu, QMenuBar

from plectrum.core.instrument.specification import instrument_names
from plectrum.core.plain_text import shown_name, shown_path
from plectrum.core.wording import in_words, say, sentence_like, tr
from plectrum.demo import demo_paths
from plectrum.ui.desk.screen import Command, Reach, Screen
from plectrum.ui.drawing.strips import STRIPS
from plectrum.ui.look.plain import key_free
from plectrum.ui.shell.school_menu import SchoolMenu
from plectrum.ui.shell.screens import SCREENS, ScreenKind

if TYPE_CHECKING:
    from plectrum.ui.shell.commands import WindowCommands

Row = tuple[str, str, Callable[[], object]]
LINE: Row = ("", "", print)
CONTEXTS = {
    Reach.WINDOW: Qt.ShortcutContext.WindowShortcut,
    Reach.SCREEN: Qt.ShortcutContext.WidgetWithChildrenShortcut,
    Reach.MUSIC: Qt.ShortcutContext.WidgetShortcut,
}


class Menus(QObject):
    """Builds the menu bar once; the commands belong to the window and its screens."""

    def __init__(self, bar: QMenuBar, commands: WindowCommands, parent: QObject) -> None:
        super().__init__(parent)
        self._bar = bar
        self._window = commands
        self._by_title: dict[str, QMenu] = {}
        self._of_screen: dict[str, list[tuple[Command, QAction]]] = {}
        self.always: list[QAction] = []
        self.strip_actions: dict[str, QAction] = {}
        self._build()

    def _build(self) -> None:
        window = self._window
        self._build_file_menu()
        edit = self._menu(tr("&Edit"))
        stack = window.session.undo_stack
        for action, keys in (
            (stack.createUndoAction(self, tr("&Undo")), "Ctrl+Z"),
            (stack.createRedoAction(self, tr("&Redo")), "Ctrl+Shift+Z"),
        ):
            action.setShortcut(QKeySequence(keys))
            edit.addAction(action)
        for kind in SCREENS:
            self._build_screen_menus(kind)
            if "&Plan" in self._by_title and not hasattr(self, "school_menu"):
                self._build_variants(self._menu(tr("&Plan")))
                self.school_menu = SchoolMenu(window.session, window.my_bowing, self._bar)
                self._bar.addMenu(self.school_menu)
        self._add(tr("&Edit"), [LINE, (tr("&Preferences …"), "Ctrl+,", window.show_preferences)])
        self._build_view_menu()
        self._add(
            tr("&Help"),
            [
                (tr("&Find a command"), "Ctrl+K", window.open_palette),
                (tr("&Keys on one sheet"), "F1", window.show_keys),
                (tr("&Report a problem"), "", window.report_problem),
            ],
        )
        self._add(tr("&File"), [LINE, (tr("&Quit"), "Ctrl+Q", window.close)])

    # of the screens

    def _build_screen_menus(self, kind: ScreenKind) -> None:
        for spec in kind.menus:
            menu = self._menu(spec.title)
            for command in spec.commands:
                if command is None:
                    menu.addSeparator()
                    continue
                action = self._action(command.text, command.keys, CONTEXTS[command.reach])
                action.triggered.connect(partial(self._run, kind.key, command))
                self._under(menu, command.under).addAction(action)
                self._of_screen.setdefault(kind.key, []).append((command, action))
                if command.always:
                    self.always.append(action)

    def _under(self, menu: QMenu, title: str) -> QMenu:
        """A submenu by its title, made when it is first named; the menu itself without one."""
        if not title:
            return menu
        place = menu.title() + title
        if place not in self._by_title:
            self._by_title[place] = menu.addMenu(title)
        return self._by_title[place]

    def _run(self, key: str, command: Command, _checked: bool = False) -> None:
        if command.shows and not self._window.show_screen(key):
            return
        command.do(self._window.screen_of(key))

    def attach(self, key: str, screen: Screen) -> None:
        """A screen is built: keys that work in it alone do so from now on."""
        for command, action in self._of_screen.get(key, ()):
            if command.reach is Reach.SCREEN:
                screen.addAction(action)
            elif command.reach is Reach.MUSIC:
                screen.focus_target.addAction(action)

    # of the window

    def _build_file_menu(self) -> None:
        window = self._window
        files = self._add(
            tr("&File"),
            [
                (tr("&Type a new tune"), "Ctrl+N", window.opening.new_tune),
                (tr("&Open …"), "Ctrl+O", window.opening.ask_open),
                (tr("Shel&f of a folder …"), "Ctrl+Shift+O", window.opening.ask_shelf),
                (tr("E&xercises"), "Ctrl+Shift+N", window.choose_exercise),
                (tr("Ro&utines"), "Ctrl+Shift+R", window.choose_routine),
                (tr("Paste A&BC …"), "Ctrl+Shift+V", window.opening.paste_abc),
                (tr("&Save"), "Ctrl+S", window.saving.save),
                (tr("Save &as …"), "Ctrl+Shift+S", window.saving.save_as),
                LINE,
                (tr("Export marked &MusicXML …"), "Ctrl+E", lambda: window.exporter.musicxml()),
                (tr("Export &notes table (CSV) …"), "", lambda: window.exporter.csv()),
                (tr("Export soun&d (WAV) …"), "", window.export_sound),
                (tr("Export MIDI of the t&iming …"), "", window.export_midi),
            ],
        )
        self._recent_menu = QMenu(tr("Open &recent"), self._bar)
        self._recent_menu.aboutToShow.connect(self._fill_recent)
        demos = QMenu(tr("&Demo pieces"), self._bar)
        for path in demo_paths():
            title = path.stem.replace("_", " ").title()
            demos.addAction(title, partial(window.opening.open_path, path))
        after_open = files.actions()[2]
        for menu in (self._open_for_menu(), demos, self._recent_menu):
            files.insertMenu(after_open, menu)

    def _build_variants(self, plan: QMenu) -> None:
        """Named variants of the plan."""
        variants = self._window.variants
        self._add(tr("&Plan"), [LINE, (tr("&Keep as a variant …"), "Ctrl+Shift+K", variants.ask)])
        for title, run in (
            (tr("Go on with &variant"), variants.take),
            (tr("&Forget variant"), variants.forget),
        ):
            menu = QMenu(title, self._bar)
            menu.aboutToShow.connect(partial(self._fill_variants, menu, run))
            plan.addMenu(menu)

    def _fill_variants(self, menu: QMenu, run: Callable[[str], object]) -> None:
        menu.clear()
        for name in self._window.variants.names():
            menu.addAction(key_free(name), partial(run, name))
        if menu.isEmpty():
            menu.addAction(tr("None is kept yet")).setEnabled(False)

    def _build_view_menu(self) -> None:
        window = self._window
        show = [
            (
                kind.menu_title,
                say("Ctrl+{number}", number=number),
                partial(window.show_screen, kind.key),
            )
            for number, kind in enumerate(SCREENS, start=1)
        ]
        view = self._add(
            tr("&View"),
            [
                *show,
                LINE,
                (tr("Zoom &in"), "Ctrl++", lambda: window.zoom(1)),
                (tr("Zoom &out"), "Ctrl+-", lambda: window.zoom(-1)),
                (tr("&Normal zoom"), "Ctrl+0", lambda: window.zoom(0)),
                (tr("Draw the &music again"), "F5", window.draw_again),
                LINE,
                (tr("Larger interface"), "Ctrl+Alt++", lambda: window.scale_step(1)),
                (tr("Smaller interface"), "Ctrl+Alt+-", lambda: window.scale_step(-1)),
                (tr("Interface at 100 %"), "Ctrl+Alt+0", lambda: window.scale_step(0)),
            ],
        )
        self.dark_action = view.addAction(tr("Dar&k theme"))
        self.dark_action.setCheckable(True)
        self.dark_action.setShortcut(QKeySequence("Ctrl+Alt+D"))
        self.dark_action.setChecked(window.settings.dark)
        self.dark_action.toggled.connect(window.set_dark)
        view.addSeparator()
        for number, strip in enumerate(STRIPS, start=1):
            action = view.addAction(strip.title)
            action.setCheckable(True)
            action.setShortcut(QKeySequence(say("Alt+{number}", number=number)))
            action.setChecked(strip.key in window.settings.strips)
            action.toggled.connect(self._strips_chosen)
            self.strip_actions[strip.key] = action

    def _strips_chosen(self, _checked: bool = False) -> None:
        chosen = [s.key for s in STRIPS if self.strip_actions[s.key].isChecked()]
        self._window.choose_strips(chosen)

    def _open_for_menu(self) -> QMenu:
        """Open a score whose part does not say its instrument, or for another one."""
        menu = QMenu(tr("Open &for"), self._bar)
        for name in instrument_names():
            menu.addAction(
                f"{sentence_like(in_words(name))} …", partial(self._window.opening.ask_open, name)
            )
        return menu

    def _fill_recent(self) -> None:
        self._recent_menu.clear()
        recent = self._window.settings.recent
        names = [shown_name(path) for path in recent]
        for path, shown in zip(recent, names, strict=True):
            same = names.count(shown) > 1
            name = key_free(f"{shown}  ({shown_path(path.parent)})" if same else shown)
            self._recent_menu.addAction(name, partial(self._window.opening.open_path, path))
        if self._recent_menu.isEmpty():
            self._recent_menu.addAction(tr("Nothing yet")).setEnabled(False)

    # building blocks

    def _menu(self, title: str) -> QMenu:
        """The menu of a title, made when it is first named."""
        if title not in self._by_title:
            self._by_title[title] = self._bar.addMenu(title)
        return self._by_title[title]

    def _add(self, title: str, rows: Sequence[Row]) -> QMenu:
        menu = self._menu(title)
        for text, keys, slot in rows:
            if not text:
                menu.addSeparator()
                continue
            action = self._action(text, keys, Qt.ShortcutContext.WindowShortcut)
            action.triggered.connect(lambda _=False, s=slot: s())
            menu.addAction(action)
        return menu

    def _action(self, text: str, keys: str, context: Qt.ShortcutContext) -> QAction:
        action = QAction(text, self)
        if keys:
            action.setShortcut(QKeySequence(keys))
        action.setShortcutContext(context)
        return action
