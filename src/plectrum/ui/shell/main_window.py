"""The main window: the screens of the registry, one at a time, and what stands around them."""

from __future__ import annotations

import os
from collections.abc import Sequence
from functools import partial
from importlib import import_module
from pathlib import Path
from urllib.parse import unquote_to_bytes

from platformdirs import user_data_path
from PySide6.QtCore import QSize, Qt, QThreadPool, QTimer, QUrl
from PySide6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent
from PySide6.QtWidgets import (
    QApplication,
    QHBoxLayout,
    QMainWindow,
    QMessageBox,
    QVBoxLayout,
    QWidget,
)

from plectrum.core.errors import PlectrumError
from plectrum.core.trouble_log import note_trouble
from plectrum.core.wording import say, tr
from plectrum.demo import demo_paths
from plectrum.running import TOKEN, Handed
from plectrum.ui.desk.desk import Desk
from plectrum.ui.desk.guest import ExerciseGuest, Guest
from plectrum.ui.desk.screen import Screen
from plectrum.ui.desk.settings import Settings
from plectrum.ui.desk.sheets import Sheets
from plectrum.ui.editing.runner import Runner
from plectrum.ui.look import theme
from plectrum.ui.look.plain import succeed
from plectrum.ui.look.room import Yielding, within
from plectrum.ui.look.stack import Stack
from plectrum.ui.shell.exporting import Exporter
from plectrum.ui.shell.header import Header
from plectrum.ui.shell.menus import Menus
from plectrum.ui.shell.my_bowing import MyBowing
from plectrum.ui.shell.notices import Notices
from plectrum.ui.shell.opening import Opening
from plectrum.ui.shell.rail import Rail
from plectrum.ui.shell.recovery import SafetyNet, recovery_folder
from plectrum.ui.shell.resuming import place_now, resume
from plectrum.ui.shell.saving import Saving
from plectrum.ui.shell.screens import SCREENS
from plectrum.ui.shell.telling import StatusLine, error_box
from plectrum.ui.shell.trouble import Unforeseen
from plectrum.ui.shell.variants import Variants
from plectrum.ui.shell.welcome import Welcome

NO_TUNE = tr("Open or type a tune first.")
AHEAD_MS = 2500  # by then the first piece is there
LOADED_AHEAD = (
    "plectrum.core.planning.plan",
    "plectrum.core.advice.overview",
    "plectrum.core.files.planfile",
    "plectrum.core.practice.programme",
    "plectrum.core.log.store",
    "plectrum.core.sound.render",
)


def local_path(url: QUrl) -> Path:
    """The path of a file's address with the bytes the system has for it."""
    encoded = bytes(url.toEncoded(QUrl.ComponentFormattingOption.FullyEncoded).data())
    return Path(os.fsdecode(unquote_to_bytes(encoded.removeprefix(b"file://"))))


class MainWindow(QMainWindow):
    """One window, one open document."""

    def __init__(
        self,
        settings: Settings | None = None,
        recovery: Path | None = None,
        players: Path | None = None,
        log: Path | None = None,
    ) -> None:
        """Make the window.

        Args:
            settings: what is remembered; the user's own if None.
            recovery: folder of unsaved copies; the user's own if None.
            players: folder of named players; the user's own if None.
            log: the log's file; if None beside the folder of players.
        """
        super().__init__()
        self.settings = settings or Settings()
        theme.apply_to_application(dark=self.settings.dark, scale=self.settings.scale)
        players = players or user_data_path("plectrum") / "players"
        self.desk = Desk(self.settings, players, log or players.parent / "log.sqlite", self)
        self.session = self.desk.session
        self.recovery = recovery or recovery_folder()
        self.safety_net = SafetyNet(self.session, self.recovery, self)
        self.saving = Saving(self.desk, self)
        self.opening = Opening(self.desk, self.safety_net, self.saving.may_leave, self)
        self.variants = Variants(self.session, self, self.desk.message.emit)
        self.my_bowing = MyBowing(self.desk, self)
        self.exporter = Exporter(self.desk, self)
        self.error_box: QMessageBox | None = None
        self._unforeseen = Unforeseen()
        self.notices = Notices()
        self._since_kept = Runner(self)
        self._screens: dict[str, Screen] = {}
        self._closed = False
        self._keep_unsaved = False
        self.header = Header()
        self.rail = Rail(SCREENS)
        self.welcome = Welcome()
        self.status = StatusLine(self.statusBar(), self.session)
        self.menus = Menus(self.menuBar(), self, self)
        self.addActions(self.menus.always)
        self._lay_out()
        self._connect()
        self.welcome.show_recent(self.settings.recent)
        self._show_named_players()
        self.setAcceptDrops(True)
        if self.settings.geometry is None or not self.restoreGeometry(self.settings.geometry):
            within(self, QSize(1280, 800))
        self._retitle()
        QTimer.singleShot(0, self, self.desk.log.check)
        self._loader = Runner(self, QThreadPool.globalInstance())
        QTimer.singleShot(AHEAD_MS, self, self._load_ahead)

    def _load_ahead(self) -> None:
        """What other screens compute with is loaded aside, so that their first showing is quick."""

        def load() -> object:
            return [import_module(name) for name in LOADED_AHEAD]

        self._loader.run(load, lambda _: None, lambda _: None)

    def _lay_out(self) -> None:
        self.stack = Stack()
        self.stack.addWidget(self.welcome)
        self.stack.setCurrentWidget(self.welcome)
        self.welcome.open_button.setFocus()
        column = QVBoxLayout()
        column.setSpacing(0)
        for widget in (self.header, self.saving.banner, self.notices):
            column.addWidget(widget)
        column.addWidget(Yielding(self.stack), 1)
        whole = QWidget()
        layout = QHBoxLayout(whole)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(self.rail)
        layout.addLayout(column, 1)
        self.setCentralWidget(whole)
        self.rail.hide()
        self.header.hide()

    def _connect(self) -> None:
        session, desk, opening = self.session, self.desk, self.opening
        session.opened.connect(self._opened)
        session.planned.connect(self._planned)
        session.failed.connect(self.show_error)
        self.safety_net.trouble.connect(partial(self.notices.tell, "autosave"))
        desk.engraver.trouble.connect(partial(self.notices.tell, "engraver"))
        desk.log.set_aside.connect(self._log_set_aside)
        session.saved_changed.connect(self._retitle)
        session.undo_stack.indexChanged.connect(self._retitle)
        desk.message.connect(self.status.say)
        desk.players_changed.connect(self._show_named_players)
        desk.guest_wanted.connect(self._show_guest)
        desk.sheets_wanted.connect(self._show_sheets)
        desk.tune_wanted.connect(opening.open_document)
        desk.sound_wanted.connect(self.exporter.exercises_wav)
        desk.sound_to.connect(self.exporter.write_exercises)
        desk.hand_out_wanted.connect(self._hand_out)
        desk.full_screen_wanted.connect(self.toggle_full_screen)
        self.header.choices_wanted.connect(session.edit)
        self.header.part_wanted.connect(session.choose_part)
        self.rail.chosen.connect(self.show_screen)
        self.saving.saved_as.connect(self._saved_as)
        self.saving.banner.take.clicked.connect(self.load_anew)
        self.welcome.open_wanted.connect(lambda: opening.ask_open())
        self.welcome.type_wanted.connect(opening.new_tune)
        self.welcome.paste_wanted.connect(opening.paste_abc)
        self.welcome.exercise_wanted.connect(self.choose_exercise)
        self.welcome.routine_wanted.connect(self.choose_routine)
        self.welcome.path_wanted.connect(lambda path: opening.open_path(path))

    # the screens

    def screen_of(self, key: str) -> Screen:
        """A screen of the registry, built when it is first asked for."""
        if key not in self._screens:
            kind = next(kind for kind in SCREENS if kind.key == key)
            made = self._screens[key] = kind.build(self.desk)
            self.stack.addWidget(made)
            self.menus.attach(key, made)
            if self.session.document is not None:
                made.catch_up()
        return self._screens[key]

    @property
    def built(self) -> tuple[Screen, ...]:
        """The screens there are so far."""
        return tuple(self._screens.values())

    @property
    def shown(self) -> Screen | None:
        """The screen in sight; None while the window welcomes."""
        widget = self.stack.currentWidget()
        return widget if isinstance(widget, Screen) else None

    def show_screen(self, key: str) -> bool:
        """Show a screen; False where there is no tune to show on it."""
        kind = next((kind for kind in SCREENS if kind.key == key), SCREENS[0])
        there = self.session.document is not None
        if kind.needs_tune and not there:
            self.desk.message.emit(NO_TUNE)
            return False
        before, screen = self.shown, self.screen_of(kind.key)
        self.rail.show()
        self.header.setVisible(there and kind.shows_header)
        self.stack.setCurrentWidget(screen)
        if screen is not before:
            screen.arrive(before)
        self.rail.show_chosen(kind.key)
        self.settings.screen = kind.key
        screen.focus_target.setFocus()
        return True

    def choose_exercise(self) -> None:
        """The exercises, with a tune or without."""
        if self.show_screen("practice"):
            self.screen_of("practice").choose_exercise()  # type: ignore[attr-defined]

    def choose_routine(self, key: str = "") -> None:
        """The routines, with one chosen."""
        if self.show_screen("practice"):
            self.screen_of("practice").choose_routine(key)  # type: ignore[attr-defined]

    def _show_sheets(self, sheets: Sheets) -> None:
        """Pages of exercises on the Handout screen."""
        self.screen_of("handout").show_sheets(sheets)  # type: ignore[attr-defined]
        self.show_screen("handout")

    def _show_guest(self, guest: Guest | ExerciseGuest) -> None:
        """A study or an exercise on the Show screen."""
        self.screen_of("show").show_guest(guest)  # type: ignore[attr-defined]
        self.show_screen("show")

    def _hand_out(self) -> None:
        if self.show_screen("handout"):
            self.screen_of("handout").handing_out.print_out()  # type: ignore[attr-defined]

    def toggle_full_screen(self) -> None:
        """The stage alone on the whole screen, or back."""
        full = not self.isFullScreen()
        if full and not self.show_screen("show"):
            return
        for part in (self.menuBar(), self.rail, self.statusBar()):
            part.setVisible(not full)
        self.screen_of("show").set_alone(full)  # type: ignore[attr-defined]
        if full:
            self.showFullScreen()
        else:
            self.showNormal()

    def export_sound(self) -> None:
        """What the Show screen is set to play, once through, as a WAV file."""
        show = self.screen_of("show")
        prepared = show.prepared_now()  # type: ignore[attr-defined]
        heard = show.transport.heard  # type: ignore[attr-defined]
        if prepared is None:
            self.exporter.wav(None, heard)
        else:
            self.exporter.wav(prepared.performance, heard, prepared.others)

    def export_midi(self) -> None:
        """The same as MIDI."""
        self.exporter.midi(self.screen_of("show").performance_now())  # type: ignore[attr-defined]

    # the look

    def zoom(self, steps: int) -> None:
        """Zoom the screen's music, 0 for normal size."""
        if self.shown is not None:
            self.shown.zoom(steps)

    def choose_strips(self, keys: list[str]) -> None:
        """These strips stand under the bow path."""
        self.settings.strips = keys
        if "bowing" in self._screens:
            self._screens["bowing"].show_strips()  # type: ignore[attr-defined]

    def set_dark(self, dark: bool) -> None:
        self.settings.dark = dark
        self.refresh_look()

    def scale_step(self, steps: int) -> None:
        """The interface one step larger or smaller, 0 for normal size."""
        sizes = theme.SCALES
        nearest = min(range(len(sizes)), key=lambda k: abs(sizes[k] - self.settings.scale))
        self.settings.scale = sizes[min(len(sizes) - 1, max(0, nearest + steps))] if steps else 1.0
        self.refresh_look()
        self.desk.message.emit(say("Interface at {scale:.0%}.", scale=self.settings.scale))

    def refresh_look(self) -> None:
        """Put the chosen theme and scale in force."""
        theme.apply_to_application(dark=self.settings.dark, scale=self.settings.scale)
        self.rail.fit()
        for screen in self.built:
            screen.refresh_look()

    def show_preferences(self) -> None:
        """Words, look, voice and start, in one dialog."""
        from plectrum.ui.shell.preferences import Preferences

        succeed(getattr(self, "preferences", None))
        self.preferences = Preferences(self.settings, self)
        self.preferences.look_changed.connect(self._look_chosen)
        self.preferences.zoom_chosen.connect(self._zoom_chosen)
        self.preferences.open()

    def _zoom_chosen(self, zoom: float) -> None:
        for screen in self.built:
            screen.set_zoom(zoom)

    def _look_chosen(self) -> None:
        self.menus.dark_action.setChecked(self.settings.dark)
        self.refresh_look()

    def open_palette(self) -> None:
        """Every command by a few letters of its name."""
        from plectrum.ui.shell.palette import Palette, commands_of

        succeed(getattr(self, "palette_dialog", None))
        self.palette_dialog = Palette(commands_of(self.menuBar()), self._go_to_bar, self)
        self.palette_dialog.open()

    def _go_to_bar(self, number: int) -> None:
        if self.show_screen("bowing"):
            self.screen_of("bowing").go_to_bar(number)  # type: ignore[attr-defined]

    def show_keys(self) -> None:
        """Every key on one sheet."""
        from plectrum.ui.shell.key_sheet import KeySheet

        succeed(getattr(self, "key_sheet", None))
        self.key_sheet = KeySheet(self.menuBar(), self)
        self.key_sheet.open()

    def _show_named_players(self) -> None:
        self.header.set_named_players([named.player for named in self.desk.named_players()])
        document, plan = self.session.both
        if document is not None and plan is not None:
            self.header.show_document(document, plan)

    # what is open

    def open_path(self, path: Path, instrument: str | None = None) -> None:
        """Open a file, after asking about unsaved changes."""
        self.opening.open_path(path, instrument)

    def open_paths(self, paths: Sequence[Path]) -> None:
        """One file is opened; of several, and of a folder, the shelf is shown."""
        if len(paths) == 1 and not os.path.isdir(paths[0]):
            self.opening.open_path(paths[0])
        elif paths:
            self.opening.show_shelf(list(paths))

    def resume(self, path: Path) -> None:
        """Open a tune where the work on it was left."""
        resume(self, path)

    def come_forward(self, handed: Handed) -> None:
        """Another start has handed its files over: they are opened here, in front."""
        if QApplication.activeModalWidget() is not None:  # a question is answered first
            QTimer.singleShot(300, self, partial(self.come_forward, handed))
            return
        if handed.token:
            os.environ[TOKEN] = handed.token
        self.setWindowState(self.windowState() & ~Qt.WindowState.WindowMinimized)
        self.show()
        self.raise_()
        self.activateWindow()
        self.open_paths(handed.paths)

    def offer_recovery(self) -> bool:
        """Ask about the newest copy a crash has left; True if it is being opened."""
        return self.opening.offer_recovery(self.recovery)

    def load_anew(self) -> None:
        """Open the file as it is on disk now, after asking about unsaved changes."""
        self.saving.banner.hide()
        if self.opening.path is not None:
            self.opening.open_path(self.opening.path)

    def _opened(self) -> None:
        self.opening.opened()
        path = self.opening.path
        self.show_screen(self.settings.screen)
        if path is not None and path not in demo_paths():
            self.settings.add_recent(path)
        self.saving.watch(path)
        self._retitle()
        self._tell_since_kept()

    def _tell_since_kept(self) -> None:
        """Say of a plan of an earlier planner what today's would do otherwise."""
        self.notices.tell("kept", "")
        document, plan = self.session.both
        if document is None or plan is None:
            return
        if document.kept_before:
            self.status.say(
                tr(
                    "The planner has learnt since this plan was kept: some bows may differ. "
                    "Your pins and variants are as they were."
                )
            )
        if document.choices.kept is None:
            return

        def work() -> str:
            from plectrum.core.advice.since_kept import in_one_line, otherwise_today

            return in_one_line(otherwise_today(document, plan))

        self._since_kept.run(work, self._say_since_kept, self.show_error)

    def _say_since_kept(self, words: str) -> None:
        if words:
            said = say("It is as an earlier Plectrum planned it: {words}.", words=words)
            self.notices.tell("kept", said, tr("See what differs"), self._compare_with_today)

    def _compare_with_today(self) -> None:
        self.show_screen("bowing")
        self.screen_of("bowing").compare_with_today()  # type: ignore[attr-defined]

    def _saved_as(self, path: Path) -> None:
        self.opening.path = path
        self.settings.add_recent(path)
        self._retitle()

    def _planned(self, _changed: tuple[int, ...]) -> None:
        document, plan = self.session.both
        if document is not None and plan is not None:
            if document.choices.kept is None:
                self.notices.tell("kept", "")
            self.header.show_document(document, plan)
            self._retitle()

    def _retitle(self, _index: int = 0) -> None:
        document = self.session.document
        if document is None:
            self.setWindowTitle(tr("Plectrum"))
            return
        self.setWindowTitle(
            say(
                "{title}[*] – {player} – Plectrum",
                title=document.title,
                player=document.choices.player.called,
            )
        )
        if self.isWindowModified() != self.session.unsaved:  # else the platform is told again
            self.setWindowModified(self.session.unsaved)

    def show_error(self, error: Exception) -> None:
        """One clear message; what was open stays."""
        if not isinstance(error, PlectrumError):
            note_trouble(error)
            if not self._unforeseen.is_new(error):
                return
            self.safety_net.write()
        box = error_box(error, self)
        old = self.error_box
        if old is not None and old.isVisible() and old.text() == box.text():
            box.deleteLater()
            return  # the same from another screen is not said twice
        if old is not None and not old.isVisible():
            succeed(old)
        self.error_box = box
        box.open()

    def _log_set_aside(self, text: str) -> None:
        """The log could not be used: said until it is put away, with the way out."""
        self.notices.tell("log", text, tr("Restore a backup …"), self._restore_log)

    def _restore_log(self) -> None:
        if self.show_screen("log") and self.screen_of("log").whole.restore():  # type: ignore[attr-defined]
            self.notices.tell("log", "")

    def report_problem(self) -> None:
        """Where the program's log lies, and what to copy from it."""
        from plectrum.ui.shell.trouble import ReportDialog

        succeed(getattr(self, "report_dialog", None))
        self.report_dialog = ReportDialog(self)
        self.report_dialog.open()

    def draw_again(self) -> None:
        """Ask the engraver once more for music that failed, and paint what is shown anew."""
        self.desk.engraver.retry()
        if self.shown is not None:
            self.shown.refresh_look()

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if any(url.isLocalFile() for url in event.mimeData().urls()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        paths = [local_path(u) for u in event.mimeData().urls() if u.isLocalFile()]
        if paths:
            event.acceptProposedAction()
            self.open_paths(paths)

    def end_at_once(self) -> None:
        """Close without a question; what is unsaved is offered at the next start."""
        self.safety_net.write()
        self._keep_unsaved = True
        self.close()
        QApplication.quit()

    def closeEvent(self, event: QCloseEvent) -> None:
        if self._closed:
            event.accept()
            return
        if not self._keep_unsaved and not self.saving.may_leave():
            event.ignore()
            return
        self._closed = True
        for screen in self.built:
            screen.end()
        self.opening.end()
        self.safety_net.end(keep=self._keep_unsaved)
        self.settings.geometry = self.saveGeometry()
        self.settings.left_off = place_now(self)
        self.desk.end()
        event.accept()
