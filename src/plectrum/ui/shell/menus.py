"""The menus of the main window: every command with its words and its key."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Qt
from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import QMenu, QWidget

from plectrum.core.document.choices import Join
from plectrum.core.document.homework import Mark
from plectrum.core.instrument.specification import instrument_names
from plectrum.core.score.model import Direction
from plectrum.demo import demo_paths
from plectrum.ui.drawing.strips import STRIPS
from plectrum.ui.shell.school_menu import SchoolMenu

if TYPE_CHECKING:
    from plectrum.ui.shell.main_window import MainWindow

Action = tuple[str, str, Callable[[], object]]


class Menus(QObject):
    """Builds the menu bar once; the commands themselves belong to the window and its screen."""

    def __init__(self, window: MainWindow) -> None:
        super().__init__(window)
        self._window = window
        self.strip_actions: dict[str, QAction] = {}
        self._build()

    def _build(self) -> None:
        window = self._window
        self._build_file_menu()
        edit = window.menuBar().addMenu("&Edit")
        undo = window.session.undo_stack.createUndoAction(window, "&Undo")
        undo.setShortcut(QKeySequence("Ctrl+Z"))
        redo = window.session.undo_stack.createRedoAction(window, "&Redo")
        redo.setShortcut(QKeySequence("Ctrl+Shift+Z"))
        edit.addActions([undo, redo])
        edit.addSeparator()
        edit.addAction("Keep only this &part", window.screen_piece.keep_only_this_part)
        self._build_note_menu()
        self._build_plan_menu()
        self.school_menu = SchoolMenu(window.session, window)
        window.menuBar().addMenu(self.school_menu)
        self._build_show_menu()
        self._build_practice_menu()
        self._build_log_menu()
        self._build_view_menu()
        self._menu(
            "&Help",
            [
                ("&Find a command", "Ctrl+K", window.open_palette),
                ("&Keys on one sheet", "F1", window.show_keys),
            ],
        )

    def _build_file_menu(self) -> None:
        window = self._window
        handout, hand_out = window.screen_handout, window.hand_out
        files = self._menu(
            "&File",
            [
                ("&Type a new tune", "Ctrl+N", window.new_tune),
                ("&Open …", "Ctrl+O", window.ask_open),
                ("Paste A&BC …", "Ctrl+Shift+V", window.paste_abc),
                ("&Save", "Ctrl+S", window.save),
                ("Save &as …", "Ctrl+Shift+S", window.save_as),
                ("", "", print),
                ("Export marked &MusicXML …", "Ctrl+E", window.exporter.musicxml),
                ("Export &notes table (CSV) …", "", window.exporter.csv),
                ("Export soun&d (WAV) …", "", window.export_sound),
                ("", "", print),
                ("Save han&dout (PDF) …", "Ctrl+Shift+E", lambda: hand_out(handout.save_pdf)),
                ("Save handout (SV&G) …", "", lambda: hand_out(handout.save_svg)),
                ("&Print handout …", "Ctrl+P", lambda: hand_out(handout.print_out)),
                ("", "", print),
                ("&Quit", "Ctrl+Q", window.close),
            ],
        )
        self._recent_menu = QMenu("Open &recent", window)
        self._recent_menu.aboutToShow.connect(self._fill_recent)
        demos = QMenu("&Demo pieces", window)
        for path in demo_paths():
            demos.addAction(path.stem.replace("_", " ").title(), partial(window.open_path, path))
        after_open = files.actions()[2]
        for menu in (self._open_for_menu(), demos, self._recent_menu):
            files.insertMenu(after_open, menu)

    def _build_note_menu(self) -> None:
        """What can be done to the selected notes; the keys work where the screen has focus."""
        screen = self._window.screen_bowing
        commands = screen.commands
        rows: list[Action] = [
            ("&Down-bow", "D", lambda: commands.direction(Direction.DOWN)),
            ("&Up-bow", "U", lambda: commands.direction(Direction.UP)),
            ("&Turn the bow", "T", lambda: commands.join(Join.TURN)),
            ("&Hook: stop, same way", "H", lambda: commands.join(Join.HOOK)),
            ("&Retake: lift and set down", "R", lambda: commands.join(Join.RETAKE)),
            ("&Slur to the note before, or as selected", "S",
             lambda: commands.join(Join.SLUR)),
            ("Split the slur here", "X", commands.split),
            ("", "", print),
            ("Start nearer the frog", "[", lambda: commands.nudge(start=-2)),
            ("Start nearer the tip", "]", lambda: commands.nudge(start=2)),
            ("Less bow", "-", lambda: commands.nudge(length=-2)),
            ("More bow", "=", lambda: commands.nudge(length=2)),
            ("", "", print),
        ]  # fmt: skip
        rows += [
            (f"Lane {k}{' (bridge)' * (k == 1)}{' (fingerboard)' * (k == 5)}", str(k),
             partial(commands.lane, k))
            for k in range(1, 6)
        ]  # fmt: skip
        rows += [
            ("Other strin&g or finger", "G", commands.next_grip),
            ("", "", print),
            ("Try the next &alternative", "A", screen.try_next),
            ("&Pin as it is, or let go", "P", commands.toggle_pin),
            ("&Let go of all pins", "Ctrl+Shift+P", self._window.session.let_go_all),
            ("", "", print),
            ("Loop the selected notes", "L", screen.loop),
        ]
        menu = self._menu(
            "&Note", rows, context=Qt.ShortcutContext.WidgetWithChildrenShortcut, owner=screen
        )
        # Space presses a button where one has the focus, and plays where the score has it.
        play = menu.addAction("Play from here", screen.play)
        play.setShortcut(QKeySequence("Space"))
        play.setShortcutContext(Qt.ShortcutContext.WidgetShortcut)
        screen.view.addAction(play)

    def _build_plan_menu(self) -> None:
        """The plan as a whole: compared with others, kept as variants."""
        window = self._window
        bar = window.screen_bowing.compare_bar
        plan = self._menu(
            "&Plan",
            [
                ("&Compare with another …", "Ctrl+D", self._compare),
                ("&Next difference", "F8", lambda: bar.step(1)),
                ("Difference &before", "Shift+F8", lambda: bar.step(-1)),
                ("", "", print),
                ("&Keep as a variant …", "Ctrl+Shift+K", window.variants.ask),
            ],
        )
        self._variants = QMenu("Go on with &variant", window)
        self._forget = QMenu("&Forget variant", window)
        for menu, run in (
            (self._variants, window.variants.take),
            (self._forget, window.variants.forget),
        ):
            menu.aboutToShow.connect(partial(self._fill_variants, menu, run))
            plan.addMenu(menu)

    def _build_show_menu(self) -> None:
        """The moving bow; the keys work where the screen has focus."""
        screen = self._window.screen_show
        controls = screen.controls
        menu = self._menu(
            "Sho&w",
            [
                ("Faster", "+", lambda: controls.tempo.setValue(controls.tempo.value() + 5)),
                ("Slower", "-", lambda: controls.tempo.setValue(controls.tempo.value() - 5)),
                ("Loop", "L", controls.loop.toggle),
                ("Your turn: a pause to answer", "Y", controls.answer.toggle),
                ("Count-in", "C", controls.count_in.toggle),
                ("Metronome", "M", controls.click.toggle),
                ("Sound", "N", controls.tone.toggle),
                ("", "", print),
                ("&Try it: one open string", "T", screen.open_try_it),
                ("Follow a simulated bow", "F", screen.following.next),
                ("Mirrored, or as the teacher sees it", "V", screen.turn_round),
            ],
            context=Qt.ShortcutContext.WidgetWithChildrenShortcut,
            owner=screen,
        )
        play = menu.addAction("Play, or stop", screen.play)
        play.setShortcut(QKeySequence("Space"))
        play.setShortcutContext(Qt.ShortcutContext.WidgetShortcut)
        screen.stage.addAction(play)
        full = menu.addAction("Full screen", self._window.toggle_full_screen)
        full.setShortcut(QKeySequence("F11"))
        self._window.addAction(full)

    def _build_practice_menu(self) -> None:
        """Steps, drills and the week; the keys work where the screen has focus."""
        screen = self._window.screen_practice
        self._menu(
            "P&ractice",
            [
                ("&Show it", "S", screen.show_it),
                ("Went &well", "G", lambda: screen.mark_chosen(Mark.GOOD)),
                ("&Again", "A", lambda: screen.mark_chosen(Mark.AGAIN)),
                ("Not &done yet", "U", lambda: screen.mark_chosen(None)),
                ("E&xport the study …", "X", screen.export),
                ("", "", print),
                ("Save the &calendar …", "", screen.save_calendar),
                ("&Practise today", "", screen.practise_today),
            ],
            context=Qt.ShortcutContext.WidgetWithChildrenShortcut,
            owner=screen,
        )

    def _build_log_menu(self) -> None:
        """Students, copies of the log, and what goes in and out of it."""
        log = self._window.screen_log
        self._menu(
            "&Log",
            [
                ("&New student …", "", log.ask_new),
                ("&Give the open plan", "", log.give_plan),
                ("&Undo in the log", "Ctrl+Alt+Z", log.undo),
                ("&Redo in the log", "Ctrl+Alt+Shift+Z", log.redo),
                ("", "", print),
                ("&Back the log up …", "", log.backup),
                ("Re&store a backup …", "", log.restore),
                ("&Export as JSON …", "", log.export_json),
                ("Export as &CSV …", "", log.export_csv),
                ("&Import …", "", log.import_file),
                ("", "", print),
                ("&Delete the student shown for good …", "", log.forget_student),
            ],
        )

    def _compare(self) -> None:
        self._window.show_screen(2)
        self._window.screen_bowing.start_comparing()

    def _fill_variants(self, menu: QMenu, run: Callable[[str], object]) -> None:
        menu.clear()
        for name in self._window.variants.names():
            menu.addAction(name, partial(run, name))
        if menu.isEmpty():
            menu.addAction("None is kept yet").setEnabled(False)

    def _build_view_menu(self) -> None:
        window = self._window
        view = self._menu(
            "&View",
            [
                ("&Piece", "Ctrl+1", lambda: window.show_screen(0)),
                ("P&layer", "Ctrl+2", lambda: window.show_screen(1)),
                ("&Bowing", "Ctrl+3", lambda: window.show_screen(2)),
                ("S&how", "Ctrl+4", lambda: window.show_screen(3)),
                ("Han&dout", "Ctrl+5", lambda: window.show_screen(4)),
                ("P&ractice", "Ctrl+6", lambda: window.show_screen(5)),
                ("Lo&g", "Ctrl+7", lambda: window.show_screen(6)),
                ("", "", print),
                ("Zoom &in", "Ctrl++", lambda: window.zoom(1)),
                ("Zoom &out", "Ctrl+-", lambda: window.zoom(-1)),
                ("&Normal zoom", "Ctrl+0", lambda: window.zoom(0)),
                ("", "", print),
                ("Larger interface", "Ctrl+Alt++", lambda: window.scale_step(1)),
                ("Smaller interface", "Ctrl+Alt+-", lambda: window.scale_step(-1)),
                ("Interface at 100 %", "Ctrl+Alt+0", lambda: window.scale_step(0)),
            ],
        )
        dark = view.addAction("Dar&k theme")
        dark.setCheckable(True)
        dark.setShortcut(QKeySequence("Ctrl+Alt+D"))
        dark.setChecked(window.settings.dark)
        dark.toggled.connect(window.set_dark)
        self.dark_action = dark
        self._build_strip_actions(view)

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
        for name in instrument_names():
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
