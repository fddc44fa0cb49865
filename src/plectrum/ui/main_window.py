"""The main window: menus, opening and saving, the Bowing screen."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent
from PySide6.QtWidgets import (
    QFileDialog,
    QLabel,
    QMainWindow,
    QMessageBox,
    QPushButton,
    QStackedWidget,
)

from plectrum.core.errors import PlectrumError
from plectrum.core.files.atomic import write_atomically
from plectrum.core.files.exports import plan_as_csv, plan_as_musicxml
from plectrum.core.planning.plan import Plan
from plectrum.demo import demo_paths
from plectrum.ui.bowing.screen import BowingScreen
from plectrum.ui.engraving.client import EngravingClient
from plectrum.ui.key_sheet import KeySheet
from plectrum.ui.menus import Menus
from plectrum.ui.safety_net import Recovered, SafetyNet, find_recovered, recovery_folder
from plectrum.ui.session import Session
from plectrum.ui.settings import Settings
from plectrum.ui.welcome import Welcome

OPEN_FILTER = (
    "Scores and plans (*.musicxml *.xml *.mxl *.abc *.plectrum);;Plectrum plans (*.plectrum);;"
    "All files (*)"
)


def _plays_words(plan: Plan) -> str:
    """The answer to "does it play?": the tempo window in the beats of the tempo mark."""
    window = plan.tempo_window
    if window is None:
        return "plays at no tempo as a whole"
    return f"plays from {window[0]:.0f} to {window[1]:.0f}"


class MainWindow(QMainWindow):
    """One window, one open document."""

    def __init__(self, settings: Settings | None = None, recovery: Path | None = None) -> None:
        """Make the window.

        Args:
            settings: what is remembered; the user's own if None.
            recovery: folder of unsaved copies; the user's own if None.
        """
        super().__init__()
        self.settings = settings or Settings()
        self.session = Session(self)
        self.recovery = recovery or recovery_folder()
        self.safety_net = SafetyNet(self.session, self.recovery, self)
        self.engraver = EngravingClient(self)
        self.screen_bowing = BowingScreen(self.session, self.engraver)
        self.welcome = Welcome()
        self._stack = QStackedWidget()
        self._stack.addWidget(self.welcome)
        self._stack.addWidget(self.screen_bowing)
        self.setCentralWidget(self._stack)
        self.setAcceptDrops(True)
        self._build_status()
        self.menus = Menus(self)
        self._connect()
        self.welcome.show_recent(self.settings.recent)
        self.screen_bowing.view.zoom = self.settings.zoom
        if self.settings.geometry is None or not self.restoreGeometry(self.settings.geometry):
            self.resize(1280, 800)
        self._retitle()

    # building

    def _build_status(self) -> None:
        self._opening: Path | None = None
        self._closed = False
        self._recovering: Recovered | None = None
        self.error_box: QMessageBox | None = None
        self.plays = QLabel()
        self.plays.setAccessibleName("Does it play?")
        self._cancel = QPushButton("Cancel")
        self._cancel.clicked.connect(self.session.cancel_opening)
        self._cancel.hide()
        self.statusBar().addPermanentWidget(self._cancel)
        self.statusBar().addPermanentWidget(self.plays)

    def _connect(self) -> None:
        self.session.opened.connect(self._opened)
        self.session.failed.connect(self.show_error)
        self.session.busy_changed.connect(self._busy)
        self.session.saved_changed.connect(self._retitle)
        self.session.undo_stack.indexChanged.connect(self._retitle)
        self.engraver.failed.connect(self._not_engraved)
        self.screen_bowing.message.connect(self._say)
        self.screen_bowing.warnings_counted.connect(self._count_things)
        self.welcome.open_wanted.connect(lambda: self.ask_open())
        self.welcome.path_wanted.connect(lambda path: self.open_path(path))

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
        if self._may_leave():
            self._opening = path
            self.session.open_path(path, instrument=instrument)

    def _opened(self) -> None:
        if self._recovering is not None:
            self.safety_net.write()  # the new copy is there before the old one goes
            self._recovering.forget()
            self._recovering = None
        self._stack.setCurrentWidget(self.screen_bowing)
        self.screen_bowing.view.setFocus()
        if self._opening is not None and self._opening not in demo_paths():
            self.settings.add_recent(self._opening)
        self._retitle()

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if any(url.isLocalFile() for url in event.mimeData().urls()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        paths = [Path(u.toLocalFile()) for u in event.mimeData().urls() if u.isLocalFile()]
        if paths:
            event.acceptProposedAction()
            self.open_path(paths[0])

    # saving

    def save(self) -> bool:
        """Save the plan file; True if it was written."""
        if self.session.path is None:
            return self.save_as()
        return self._guard(partial(self.session.save, self.session.path), "Saved")

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
        done = self._guard(partial(self.session.save, path), f"Saved as {path.name}")
        if done:
            self._opening = path
            self.settings.add_recent(path)
            self._retitle()
        return done

    def export_musicxml(self) -> None:
        self._export(
            "musicxml",
            "MusicXML (*.musicxml)",
            lambda: plan_as_musicxml(self.session.document, self.session.plan),  # type: ignore[arg-type]
        )

    def export_csv(self) -> None:
        self._export("csv", "Table (*.csv)", lambda: plan_as_csv(self.session.plan).encode())  # type: ignore[arg-type]

    def _export(self, suffix: str, kind: str, make: Callable[[], bytes]) -> None:
        if self.session.document is None or self.session.plan is None:
            self._say("Open a tune first; there is nothing to export.")
            return
        suggested = f"{self.session.document.title} bowed.{suffix}"
        name, _ = QFileDialog.getSaveFileName(self, "Export", suggested, kind)
        if name:
            path = Path(name)
            self._guard(lambda: write_atomically(path, make()), f"Exported {path.name}")

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

    def _count_things(self, count: int) -> None:
        things = (
            "nothing to look at" if not count else f"{count} thing{'s' * (count > 1)} to look at"
        )
        plan = self.session.shown_plan
        if plan is None:
            return
        s = plan.summary
        self.plays.setText(
            f"{_plays_words(plan)} · {s['hooks']} hooks · {s['retakes']} lifts · "
            f"{s['crossings']} string crossings · {things}"
        )

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
            self._opening = left[0].original
            self.session.recover(left[0].copy, left[0].original)
            self._recovering = left[0]
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
        self.safety_net.end()
        self.settings.geometry = self.saveGeometry()
        self.settings.zoom = self.screen_bowing.view.zoom
        self.engraver.close()
        event.accept()
