"""Saving the plan, asking before it is left, and noticing when others change its file."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import (
    QHBoxLayout,
    QMessageBox,
    QPushButton,
    QWidget,
)

from plectrum.core.errors import PlectrumError
from plectrum.core.plain_text import shown_name
from plectrum.core.wording import say, tr
from plectrum.ui.desk.desk import Desk
from plectrum.ui.look.labels import label
from plectrum.ui.look.plain import ask
from plectrum.ui.look.where_to import where_to
from plectrum.ui.shell.file_watch import FileWatch

MOST_STEM_BYTES = 120


def file_stem(title: str) -> str:
    """A title as the name of a file, without its ending."""
    safe = "".join("-" if c in "/\\:" or not c.isprintable() else c for c in title)
    cut = safe.strip(" .").encode("utf-8", "replace")[:MOST_STEM_BYTES]
    return cut.decode("utf-8", "ignore").strip() or "plan"


class ChangedBanner(QWidget):
    """Says that the open file was changed by another program, and offers what to do."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 6, 12, 0)
        self.text = label("banner", wrap=True)
        self.take = QPushButton(tr("Load it anew"))
        self.leave = QPushButton(tr("Keep mine"))
        row.addWidget(self.text, 1)
        row.addWidget(self.take)
        row.addWidget(self.leave)
        self.leave.clicked.connect(self.hide)
        self.hide()

    def tell(self, path: Path) -> None:
        """A file has changed on disk."""
        self.text.setText(
            say(
                "{path} was changed by another program. Load it anew, or keep "
                "working with what is open here?",
                path=shown_name(path),
            )
        )
        self.show()


class Saving(QObject):
    """Writes the open plan.

    Signals:
        saved_as: a path the plan has now.
    """

    saved_as = Signal(object)

    def __init__(self, desk: Desk, parent: QWidget) -> None:
        super().__init__(parent)
        self._window = parent
        self._session = desk.session
        self._say = desk.message.emit
        self.banner = ChangedBanner()
        self.file_watch = FileWatch(self)
        self.file_watch.changed.connect(self.banner.tell)
        self.banner.leave.clicked.connect(self.file_watch.accept)

    def watch(self, path: Path | None) -> None:
        """This is the file that is open now."""
        self.banner.hide()
        self.file_watch.watch(path)

    def save(self) -> bool:
        """Save the plan file; True if it was written."""
        path = self._session.path
        if path is None:
            return self.save_as()
        if self.file_watch.differs(path) and not self.ask_over(
            path, tr("was changed by another program since it was opened here. Write over it?")
        ):
            return False
        return self._save_to(path, tr("Saved"))

    def save_as(self) -> bool:
        """Ask where to, and save; True if it was written."""
        if self._session.document is None:
            return False
        suggested = f"{file_stem(self._session.document.title)}.plectrum"
        kinds = tr("Plectrum plans (*.plectrum)")
        path = where_to(self._window, tr("Save the plan"), suggested, kinds)
        if path is None:
            return False
        return self._save_to(path, say("Saved as {path}", path=shown_name(path)))

    def ask_over(self, path: Path, why: str) -> bool:
        """Whether to write over a file; one place, so that tests can answer."""
        buttons = QMessageBox.StandardButton.Save | QMessageBox.StandardButton.Cancel
        more = tr("What is there now stays beside it, its name ending in ~.")
        answer = ask(
            self._window,
            f"{shown_name(path)} {why}",
            buttons,
            QMessageBox.StandardButton.Cancel,
            more,
        )
        return answer == QMessageBox.StandardButton.Save

    def _save_to(self, path: Path, said: str) -> bool:
        try:
            self._session.save(path)
        except PlectrumError as error:
            self._session.failed.emit(error)
            return False
        self._say(said)
        self.watch(path)
        self.saved_as.emit(path)
        return True

    def may_leave(self) -> bool:
        """Whether what is open may be left: saved, or thrown away by choice."""
        self._session.settle()
        if not self._session.unsaved:
            return True
        answer = self.ask_unsaved()
        if answer == QMessageBox.StandardButton.Save:
            return self.save()
        return answer == QMessageBox.StandardButton.Discard

    def ask_unsaved(self) -> QMessageBox.StandardButton:
        """Ask what to do with unsaved changes; one place, so that tests can answer."""
        return ask(
            self._window,
            tr("Save the changes to this plan?"),
            QMessageBox.StandardButton.Save
            | QMessageBox.StandardButton.Discard
            | QMessageBox.StandardButton.Cancel,
            QMessageBox.StandardButton.Save,
        )
