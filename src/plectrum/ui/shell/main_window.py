"""The main window: the screens, opening and saving, what is asked and told."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from platformdirs import user_data_path
from PySide6.QtCore import QTimer
from PySide6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent
from PySide6.QtWidgets import (
    QApplication,
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QMainWindow,
    QMessageBox,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from plectrum.core.advice.warnings import warnings_of
from plectrum.core.document.document import Document
from plectrum.core.errors import PlectrumError
from plectrum.core.files.exports import BEAT_UNITS
from plectrum.core.files.planfile import open_document
from plectrum.core.log.store import LogStore
from plectrum.core.planning.plan import Plan
from plectrum.core.player.records import NamedPlayer, PlayerShelf
from plectrum.core.score.reading.midi import Song, read_midi
from plectrum.core.score.scorefile import ScoreFile, read_file
from plectrum.core.score.writing.blank import Head, blank_tune
from plectrum.demo import demo_paths
from plectrum.ui.bowing.screen import BowingScreen
from plectrum.ui.editing.runner import Runner
from plectrum.ui.editing.session import Session
from plectrum.ui.engraving.client import EngravingClient
from plectrum.ui.engraving.systems_view import SystemsView
from plectrum.ui.handout.screen import HandoutScreen
from plectrum.ui.log.link import LogLink
from plectrum.ui.log.screen import LogScreen
from plectrum.ui.look import theme
from plectrum.ui.look.labels import label
from plectrum.ui.look.stack import Stack
from plectrum.ui.piece.screen import PieceScreen
from plectrum.ui.playback.speaker import Speaker
from plectrum.ui.player.screen import PlayerScreen
from plectrum.ui.practice.screen import PracticeScreen
from plectrum.ui.shell.exporting import Exporter
from plectrum.ui.shell.file_watch import FileWatch
from plectrum.ui.shell.header import BEAT_SIGNS, Header
from plectrum.ui.shell.key_sheet import KeySheet
from plectrum.ui.shell.menus import Menus
from plectrum.ui.shell.opening_dialogs import AbcDialog, MidiDialog, looks_like_abc
from plectrum.ui.shell.palette import Palette, commands_of
from plectrum.ui.shell.rail import Rail
from plectrum.ui.shell.recovery import Recovered, SafetyNet, find_recovered, recovery_folder
from plectrum.ui.shell.settings import Settings
from plectrum.ui.shell.variants import Variants
from plectrum.ui.shell.welcome import Welcome
from plectrum.ui.show.screen import Guest, ShowScreen

OPEN_FILTER = (
    "Scores and plans (*.musicxml *.xml *.mxl *.abc *.mid *.midi *.plectrum);;"
    "Plectrum plans (*.plectrum);;All files (*)"
)
SCREENS = (
    ("piece", "Piece"),
    ("player", "Player"),
    ("bowing", "Bowing"),
    ("show", "Show"),
    ("handout", "Handout"),
    ("practice", "Practice"),
    ("log", "Log"),
)
PIECE, PLAYER, BOWING, SHOW, HANDOUT, PRACTICE, LOG = range(7)


Screen = (
    PieceScreen
    | PlayerScreen
    | BowingScreen
    | ShowScreen
    | HandoutScreen
    | PracticeScreen
    | LogScreen
)


def plays_words(plan: Plan) -> str:
    """The answer to "does it play?": the tempo window in the beats of the tempo mark."""
    window = plan.tempo_window
    if not plan.units:
        return "nothing to play yet"
    if window is None:
        return "plays at no tempo as a whole"
    sign = BEAT_SIGNS[BEAT_UNITS.get(plan.part.tempo.beat_q, "quarter")]
    return f"plays from {sign} = {window[0]:.0f} to {window[1]:.0f}"


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
        self.session = Session(self)
        self.recovery = recovery or recovery_folder()
        self.safety_net = SafetyNet(self.session, self.recovery, self)
        self.file_watch = FileWatch(self)
        players = players or user_data_path("plectrum") / "players"
        self.shelf = PlayerShelf(players)
        self.log_store = self._open_log(log or players.parent / "log.sqlite")
        self.log_link = LogLink(self.log_store, self.session, self)
        self.engraver = EngravingClient(self)
        self.header = Header()
        self.screen_piece = PieceScreen(self.session, self.engraver)
        self.screen_player = PlayerScreen(self.session, self.shelf)
        self.speaker = Speaker(self)
        self.screen_bowing = BowingScreen(
            self.session, self.engraver, self.screen_player.named_players, self.speaker
        )
        self.screen_show = ShowScreen(self.session, self.engraver, self.speaker)
        named = self.named_players
        self.screen_handout = HandoutScreen(self.session, self.engraver, named)
        self.screen_handout.panel.show_options(self.settings.handout)
        self.screen_practice = PracticeScreen(self.session, self.engraver, named)
        self.screen_log = LogScreen(self.log_link, self.shelf)
        self.welcome = Welcome()
        self.rail = Rail(SCREENS)
        self._lay_out()
        self._build_status()
        self.variants = Variants(self.session, self, self._say)
        self.exporter = Exporter(self.session, self, self._say)
        self.menus = Menus(self)
        self._connect()
        self.welcome.show_recent(self.settings.recent)
        for view in (self.screen_bowing.view, self.screen_piece.view):
            view.zoom = self.settings.zoom
        self._show_named_players()
        self.setAcceptDrops(True)
        if self.settings.geometry is None or not self.restoreGeometry(self.settings.geometry):
            self.resize(1280, 800)
        self.refresh_look()
        self._retitle()

    # building

    def _lay_out(self) -> None:
        self.banner = QWidget()
        row = QHBoxLayout(self.banner)
        row.setContentsMargins(12, 6, 12, 0)
        self.banner_text = label("banner", wrap=True)
        self.banner_take = QPushButton("Load it anew")
        self.banner_leave = QPushButton("Keep mine")
        row.addWidget(self.banner_text, 1)
        row.addWidget(self.banner_take)
        row.addWidget(self.banner_leave)
        self.banner.hide()
        self.stack = Stack()
        for screen in (*self._screens(), self.welcome):
            self.stack.addWidget(screen)
        self.stack.setCurrentWidget(self.welcome)
        self.welcome.open_button.setFocus()
        column = QVBoxLayout()
        column.setSpacing(0)
        for widget in (self.header, self.banner):
            column.addWidget(widget)
        column.addWidget(self.stack, 1)
        whole = QWidget()
        layout = QHBoxLayout(whole)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(self.rail)
        layout.addLayout(column, 1)
        self.setCentralWidget(whole)
        self.rail.hide()
        self.header.hide()

    def _screens(self) -> tuple[Screen, ...]:
        """In the order of the rail."""
        return (
            self.screen_piece,
            self.screen_player,
            self.screen_bowing,
            self.screen_show,
            self.screen_handout,
            self.screen_practice,
            self.screen_log,
        )

    def _build_status(self) -> None:
        self._opening: Path | None = None  # the file that is open
        self._wanted: Path | None = None  # the file being opened
        self._midi_reader = Runner(self)
        self._closed = False
        self._recovering: Recovered | None = None
        self.error_box: QMessageBox | None = None
        self.plays = QLabel()
        self.plays.setAccessibleName("Does it play?")
        self._cancel = QPushButton("Cancel")
        self._cancel.setObjectName("small")
        self._cancel.clicked.connect(self.session.cancel_opening)
        self._cancel.hide()
        self.statusBar().addPermanentWidget(self._cancel)
        self.statusBar().addPermanentWidget(self.plays)

    def _connect(self) -> None:
        session = self.session
        session.opened.connect(self._opened)
        session.planned.connect(self._planned)
        session.detailed.connect(self._show_plays)
        session.tried.connect(self._show_plays)
        session.failed.connect(self.show_error)
        session.said.connect(self._say)
        session.busy_changed.connect(self._busy)
        session.saved_changed.connect(self._saved_changed)
        session.undo_stack.indexChanged.connect(self._retitle)
        self.header.choices_wanted.connect(session.edit)
        self.header.part_wanted.connect(session.choose_part)
        for screen in self._screens():
            screen.message.connect(self._say)
        self.screen_handout.options_changed.connect(
            lambda options: setattr(self.settings, "handout", options)
        )
        self.screen_practice.show_wanted.connect(self.show_guest)
        self._connect_log()
        for channel in ("piece", "bowing", "show", "handout"):
            self.engraver.channel(channel).failed.connect(self._not_engraved)
        for view in (self.screen_piece.view, self.screen_bowing.view):
            view.zoom_changed.connect(lambda zoom: setattr(self.settings, "zoom", zoom))
        self.screen_player.shelf_changed.connect(self._show_named_players)
        self.rail.chosen.connect(self.show_screen)
        self.screen_show.full_screen_wanted.connect(self.toggle_full_screen)
        self.file_watch.changed.connect(self._changed_on_disk)
        self.banner_take.clicked.connect(self.load_anew)
        self.banner_leave.clicked.connect(self.banner.hide)
        self.welcome.open_wanted.connect(lambda: self.ask_open())
        self.welcome.type_wanted.connect(self.new_tune)
        self.welcome.paste_wanted.connect(self.paste_abc)
        self.welcome.path_wanted.connect(lambda path: self.open_path(path))

    def _open_log(self, path: Path) -> LogStore:
        """The log; where it cannot be opened the window works without it, and says so."""
        try:
            return LogStore(path)
        except PlectrumError as error:
            text = f"{error}. Until then nothing is kept in the log"
            QTimer.singleShot(0, self, lambda: self.show_error(PlectrumError(text)))
            self._no_log = TemporaryDirectory(prefix="plectrum-")
            return LogStore(Path(self._no_log.name) / "log.sqlite")

    def _connect_log(self) -> None:
        log, practice = self.screen_log, self.screen_practice
        for failed in (log.failed, self.log_link.failed):
            failed.connect(self.show_error)
        log.limits_taken.connect(self._take_limits)
        log.handout_wanted.connect(self._hand_out_after_lesson)
        practice.step_marked.connect(self.log_link.step_marked)
        practice.practised.connect(
            lambda minutes, pain: self.log_link.practised(minutes, pain=pain)
        )
        practice.shown.connect(self._show_pain)
        log.changed.connect(self._show_pain)
        self.screen_show.following.seen.connect(self.log_link.bars_marked)

    def _hand_out_after_lesson(self) -> None:
        """The page of the student of the lesson; never another's that happens to be open."""
        student, here = self.screen_log.student, self.log_link.student_here()
        if student is None or here is None or here.id != student.id:
            name = student.name if student is not None else "the student"
            self._say(f"Open a tune and choose {name} as its player first.")
            return
        self.hand_out(self.screen_handout.print_out)

    def _show_pain(self) -> None:
        """Where something hurts there is no ladder."""
        student = self.log_link.student_here()
        self.screen_practice.set_pain(student.pain_since if student is not None else None)

    def _take_limits(self, named: NamedPlayer) -> None:
        """A player has new limits: plans of that player follow."""
        self.screen_player.shelf_changed.emit()
        document = self.session.document
        if document is not None and document.choices.player.title == named.name:
            self.session.edit(lambda c: replace(c, player=named.player), "limits from the log")

    # screens and look

    def show_screen(self, index: int) -> None:
        """Show a screen, if there is a tune to show on it; the log needs none."""
        if self.session.document is None and index != LOG:
            self._say("Open or type a tune first.")
            return
        before = self.stack.currentIndex()
        there = self.session.document is not None
        self.rail.show()
        self.header.setVisible(there and index != SHOW)  # for the student there is the stage
        self.stack.setCurrentIndex(index)
        if index == SHOW and before == BOWING:
            self.screen_show.show_selection(*self.screen_bowing.selection())
        self.rail.show_chosen(index)
        self.settings.screen = index
        (
            self.screen_piece.view,
            self.screen_player.bow,
            self.screen_bowing.view,
            self.screen_show.stage,
            self.screen_handout.preview,
            self.screen_practice.tabs.currentWidget(),
            self.screen_log.tabs.currentWidget(),
        )[index].setFocus()

    def named_players(self) -> list[NamedPlayer]:
        """All players kept under a name."""
        return self.shelf.all()[0]

    def show_guest(self, guest: Guest) -> None:
        """A study or drill on the Show screen."""
        self.screen_show.show_guest(guest)
        self.show_screen(SHOW)

    def hand_out(self, how: Callable[[], None]) -> None:
        """Show the handout, and save or print it as soon as it is there."""
        if self.session.document is None:
            self._say("Open or type a tune first.")
            return
        self.show_screen(HANDOUT)
        how()

    def toggle_full_screen(self) -> None:
        """The stage alone on the whole screen, or back."""
        if self.session.document is None:
            self._say("Open or type a tune first.")
            return
        full = not self.isFullScreen()
        if full:
            self.show_screen(SHOW)
        for part in (self.menuBar(), self.rail, self.statusBar()):
            part.setVisible(not full)
        self.screen_show.set_alone(full)
        if full:
            self.showFullScreen()
        else:
            self.showNormal()

    def zoom(self, steps: int) -> None:
        """Zoom the screen's music, 0 for normal size."""
        views: dict[int, SystemsView[Any]] = {
            PIECE: self.screen_piece.view,
            SHOW: self.screen_show.line,
        }
        if self.stack.currentIndex() == HANDOUT:
            self.screen_handout.preview.zoom_step(steps)
            return
        view = views.get(self.stack.currentIndex(), self.screen_bowing.view)
        if steps:
            view.zoom_step(steps)
        else:
            view.set_zoom(1.0)

    def set_dark(self, dark: bool) -> None:
        self.settings.dark = dark
        self.refresh_look()

    def scale_step(self, steps: int) -> None:
        """The interface one step larger or smaller, 0 for normal size."""
        sizes = theme.SCALES
        nearest = min(range(len(sizes)), key=lambda k: abs(sizes[k] - self.settings.scale))
        self.settings.scale = sizes[min(len(sizes) - 1, max(0, nearest + steps))] if steps else 1.0
        self.refresh_look()
        self._say(f"Interface at {self.settings.scale:.0%}.")

    def refresh_look(self) -> None:
        """Put the chosen theme and scale in force."""
        app = QApplication.instance()
        if isinstance(app, QApplication):
            theme.apply(app, dark=self.settings.dark, scale=self.settings.scale)
        self.rail.fit()
        self.screen_bowing.panel.fit()
        self.screen_piece.fit()
        self.screen_player.fit()
        for view in (self.screen_bowing.view, self.screen_piece.view):
            view.repaint_all()
        self.screen_show.refresh_look()
        self.screen_handout.fit()
        self.screen_practice.refresh_look()
        self.screen_log.fit()
        if self.session.plan is not None:
            self.screen_bowing.refresh()

    def open_palette(self) -> None:
        """Every command by a few letters of its name."""
        self.palette_dialog = Palette(commands_of(self.menuBar()), self._go_to_bar, self)
        self.palette_dialog.open()

    def _go_to_bar(self, number: int) -> None:
        self.show_screen(BOWING)
        self.screen_bowing.go_to_bar(number)

    def _show_named_players(self) -> None:
        self.header.set_named_players(self.screen_player.named_players())
        document, plan = self.session.document, self.session.plan
        if document is not None and plan is not None:
            self.header.show_document(document, plan)

    # opening

    def ask_open(self, instrument: str | None = None) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Open a tune", "", OPEN_FILTER)
        if name:
            self.open_path(Path(name), instrument)

    def open_path(self, path: Path, instrument: str | None = None) -> None:
        """Open a file, after asking about unsaved changes.

        Args:
            instrument: whose bow it is for, where the score does not say.
        """
        if not self._may_leave():
            return
        if path.suffix.lower() in (".mid", ".midi"):
            self._open_midi(path)
            return
        self._wanted = path
        self.session.open_path(path, instrument=instrument)

    def _open_midi(self, path: Path) -> None:
        """MIDI shows first how it would be written."""
        self._midi_reader.run(
            lambda: read_midi(read_file(path), path.name), self._show_midi, self.show_error
        )

    def _show_midi(self, song: Song) -> None:
        self.midi_dialog = MidiDialog(song, self.engraver, self)
        self.midi_dialog.accepted_score.connect(self._open_score)
        self.midi_dialog.open()

    def _open_score(self, score: ScoreFile) -> None:
        self._wanted = None
        self.session.open_made(lambda: Document.from_score(score), saved=False)

    def new_tune(self) -> None:
        """An empty tune on the Piece screen, ready to be typed."""
        if not self._may_leave():
            return
        self._wanted = None
        self.settings.screen = PIECE
        head = Head()
        self.session.open_made(lambda: Document.for_typing(blank_tune(head), head.instrument))

    def paste_abc(self) -> None:
        """A tune as ABC text, from the clipboard if there is one."""
        pasted = QApplication.clipboard().text()
        self.abc_dialog = AbcDialog(pasted if looks_like_abc(pasted) else "", self)
        self.abc_dialog.wanted.connect(self.open_abc)
        self.abc_dialog.open()

    def open_abc(self, text: str) -> None:
        """Open a tune given as ABC text."""
        if not self._may_leave():
            return
        self._wanted = None
        self.session.open_made(
            lambda: open_document(text.encode(), "pasted ABC", source="abc"),
            "Reading the ABC text …",
            saved=False,
        )

    def _opened(self) -> None:
        if self._recovering is not None:
            self.safety_net.write()  # the new copy is there before the old one goes
            self._recovering.forget()
            self._recovering = None
        self._opening = self._wanted
        self.banner.hide()
        self.rail.show()
        self.show_screen(self.settings.screen)
        if self._opening is not None and self._opening not in demo_paths():
            self.settings.add_recent(self._opening)
        self.file_watch.watch(self._opening)
        self._retitle()

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if any(url.isLocalFile() for url in event.mimeData().urls()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        paths = [Path(u.toLocalFile()) for u in event.mimeData().urls() if u.isLocalFile()]
        if paths:
            event.acceptProposedAction()
            self.open_path(paths[0])

    # a file changed by others

    def _changed_on_disk(self, path: Path) -> None:
        self.banner_text.setText(
            f"{path.name} was changed by another program. "
            "Load it anew, or keep working with what is open here?"
        )
        self.banner.show()

    def load_anew(self) -> None:
        """Open the file as it is on disk now, after asking about unsaved changes."""
        self.banner.hide()
        if self._opening is not None:
            self.open_path(self._opening)

    # saving

    def save(self) -> bool:
        """Save the plan file; True if it was written."""
        if self.session.path is None:
            return self.save_as()
        return self._save_to(self.session.path, "Saved")

    def _save_to(self, path: Path, said: str) -> bool:
        done = self._guard(partial(self.session.save, path), said)
        if done:
            self._opening = path
            self.file_watch.watch(path)
            self.banner.hide()
        return done

    def save_as(self) -> bool:
        if self.session.document is None:
            return False
        suggested = f"{self.session.document.title}.plectrum"
        name, _ = QFileDialog.getSaveFileName(
            self, "Save the plan", suggested, "Plectrum plans (*.plectrum)"
        )
        if not name:
            return False
        path = Path(name)
        if path.suffix != ".plectrum":
            path = path.with_name(path.name + ".plectrum")
        done = self._save_to(path, f"Saved as {path.name}")
        if done:
            self.settings.add_recent(path)
            self._retitle()
        return done

    def export_sound(self) -> None:
        """What the Show screen is set to play, once through, as a WAV file."""
        show = self.screen_show
        heard = show.transport
        self.exporter.wav(show.performance_now(), tone=heard.tone, click=heard.click)

    def _guard(self, work: Callable[[], object], said: str) -> bool:
        try:
            work()
        except PlectrumError as error:
            self.show_error(error)
            return False
        self._say(said)
        return True

    # telling

    def show_error(self, error: Exception) -> None:
        """One clear message; what was open stays."""
        box = QMessageBox(QMessageBox.Icon.Warning, "Plectrum", "", parent=self)
        if isinstance(error, PlectrumError):
            box.setText(f"{error.what[0].upper()}{error.what[1:]}.")
            box.setInformativeText(
                "\n".join(f"{part}." for part in (error.where, error.remedy) if part)
            )
        else:
            box.setText("Something went wrong inside Plectrum; your piece is still open.")
            box.setInformativeText(f"{type(error).__name__}: {error}")
        self.error_box = box
        box.open()

    def _not_engraved(self, reason: str) -> None:
        self.show_error(
            PlectrumError(
                f"the staff cannot be drawn: {reason}", remedy="The plan itself is complete"
            )
        )

    def _say(self, text: str) -> None:
        self.statusBar().showMessage(text, 6000)

    def show_keys(self) -> None:
        """Every key on one sheet."""
        self.key_sheet = KeySheet(self.menuBar(), self)
        self.key_sheet.open()

    def _busy(self, text: str) -> None:
        self._cancel.setVisible(bool(text))
        if text:
            self.statusBar().showMessage(text)
        else:
            self.statusBar().clearMessage()

    def _planned(self, _changed: tuple[int, ...]) -> None:
        document, plan = self.session.document, self.session.plan
        if document is not None and plan is not None:
            self.header.show_document(document, plan)
            self._retitle()

    def _show_plays(self) -> None:
        plan = self.session.shown_plan
        if plan is None:
            return
        count = len(warnings_of(plan))
        things = f"{count} thing{'s' * (count > 1)} to look at" if count else "nothing to look at"
        self.plays.setText(f"{plays_words(plan)} · {things}")
        s = plan.summary
        self.plays.setToolTip(
            f"{s['hooks']} hooks, {s['retakes']} lifts, {s['crossings']} string crossings"
        )

    def _saved_changed(self) -> None:
        self._retitle()

    def _retitle(self, _index: int = 0) -> None:
        document = self.session.document
        if document is None:
            self.setWindowTitle("Plectrum")
            return
        self.setWindowTitle(f"{document.title}[*] – {document.choices.player.title} – Plectrum")
        self.setWindowModified(self.session.unsaved)

    # recovering

    def offer_recovery(self) -> bool:
        """Ask about the newest copy a crash has left; True if it is being opened."""
        left = find_recovered(self.recovery)
        if not left:
            return False
        answer = self.ask_recover(left[0])
        if answer == QMessageBox.StandardButton.Yes:
            copy, original = left[0].copy, left[0].original
            self._wanted = original
            self._recovering = left[0]
            self.session.recover(copy, original)
            return True
        if answer == QMessageBox.StandardButton.No:
            left[0].forget()
        return False

    def ask_recover(self, left: Recovered) -> QMessageBox.StandardButton:
        """Ask whether to recover; one place, so that tests can answer."""
        return QMessageBox.question(
            self,
            "Plectrum",
            f"“{left.title}” was not saved when Plectrum stopped last time. Recover it?",
            QMessageBox.StandardButton.Yes | QMessageBox.StandardButton.No,
            QMessageBox.StandardButton.Yes,
        )

    # leaving

    def ask_unsaved(self) -> QMessageBox.StandardButton:
        """Ask what to do with unsaved changes; one place, so that tests can answer."""
        return QMessageBox.question(
            self,
            "Plectrum",
            "Save the changes to this plan?",
            QMessageBox.StandardButton.Save
            | QMessageBox.StandardButton.Discard
            | QMessageBox.StandardButton.Cancel,
            QMessageBox.StandardButton.Save,
        )

    def _may_leave(self) -> bool:
        if not self.session.unsaved:
            return True
        answer = self.ask_unsaved()
        if answer == QMessageBox.StandardButton.Save:
            return self.save()
        return answer == QMessageBox.StandardButton.Discard

    def closeEvent(self, event: QCloseEvent) -> None:
        if not self._may_leave():
            event.ignore()
            return
        if self._closed:
            event.accept()
            return
        self._closed = True
        self.screen_bowing.playhead.stop()
        self.screen_show.end()
        self.safety_net.end()
        self.settings.geometry = self.saveGeometry()
        self.engraver.close()
        self.log_store.close()
        event.accept()
