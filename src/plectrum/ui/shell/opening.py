"""Everything that opens a tune: a file, a copy after a crash, MIDI, pasted text, an empty sheet."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QApplication, QFileDialog, QMessageBox, QWidget

from plectrum.core.errors import PlectrumError, ScoreError
from plectrum.core.plain_text import shown_name, shown_path
from plectrum.core.wording import say, tr
from plectrum.ui.desk.desk import Desk
from plectrum.ui.editing.runner import Runner
from plectrum.ui.look.plain import ask, succeed
from plectrum.ui.shell.recovery import Recovered, SafetyNet, find_recovered

if TYPE_CHECKING:
    from plectrum.core.document.document import Document
    from plectrum.core.player.player import Player
    from plectrum.core.score.reading.abc_book import SeveralTunesError
    from plectrum.core.score.reading.midi import Song
    from plectrum.core.score.scorefile import ScoreFile
    from plectrum.ui.shell.shelf import ShelfDialog

OPEN_FILTER = tr(
    "Scores and plans (*.musicxml *.xml *.mxl *.abc *.mid *.midi *.plectrum);;"
    "Plectrum plans (*.plectrum);;All files (*)"
)


class Opening(QObject):
    """Opens tunes into the session.

    Attributes:
        path: the file that is open; None where it is on no disk.
    """

    def __init__(
        self,
        desk: Desk,
        safety_net: SafetyNet,
        may_leave: Callable[[], bool],
        parent: QWidget,
    ) -> None:
        """Make it.

        Args:
            may_leave: asks about what is unsaved; False keeps what is open.
        """
        super().__init__(parent)
        self._window = parent
        self._desk = desk
        self._session = desk.session
        self._safety_net = safety_net
        self._may_leave = may_leave
        self._midi_reader = Runner(self)
        self._wanted: Path | None = None  # the file being opened
        self._recovering: Recovered | None = None
        self.shelf: ShelfDialog | None = None
        self.path: Path | None = None

    def ask_open(self, instrument: str | None = None) -> None:
        """Ask for a file and open it."""
        name, _ = QFileDialog.getOpenFileName(
            self._window, tr("Open a tune"), self._desk.settings.tunes_folder, OPEN_FILTER
        )
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
        self._recovering = None

        def chosen(tune: str) -> None:
            self._wanted = path
            self._session.open_path(path, instrument=instrument, tune=tune)

        self._session.open_path(path, instrument=instrument, otherwise=self._ask_which(chosen))

    def ask_shelf(self) -> None:
        """Ask for a folder, and show its tunes."""
        name = QFileDialog.getExistingDirectory(
            self._window, tr("A folder of tunes"), self._desk.settings.tunes_folder
        )
        if name:
            self.show_shelf([Path(name)])

    def show_shelf(self, paths: list[Path]) -> None:
        """The tunes of folders and books, each planned."""
        from plectrum.ui.shell.shelf import ShelfDialog

        self.end()
        document = self._session.document
        player = document.choices.player if document is not None else None
        self.shelf = ShelfDialog(paths, player, self._window)
        self.shelf.wanted.connect(self._open_from_shelf)
        self.shelf.open()

    def end(self) -> None:
        """What is still working for a shelf stops."""
        if self.shelf is not None:
            self.shelf.reject()
            succeed(self.shelf)
            self.shelf = None

    def _open_from_shelf(
        self, path: Path, tune: str | None, instrument: str | None, player: Player
    ) -> None:
        """A tune as it was planned there."""
        if not self._may_leave():
            return
        self._wanted, self._recovering = path, None
        target = path if path.suffix == ".plectrum" else None

        def read() -> Document:
            from plectrum.core.files.opening import open_document_path

            document = open_document_path(path, instrument=instrument, tune=tune)
            return document.with_choices(replace(document.choices, player=player))

        self._session.open_made(read, say("Opening {path} …", path=shown_name(path)), target)

    def _ask_which(self, then: Callable[[str], None]) -> Callable[[Exception], None]:
        """What is done where something is not opened: of a book of tunes it is asked which; all
        else is shown."""

        def fail(error: Exception) -> None:
            from plectrum.core.score.reading.abc_book import SeveralTunesError

            if isinstance(error, SeveralTunesError):
                self._choose_tune(error, then)
            else:
                self._session.failed.emit(error)

        return fail

    def _choose_tune(self, book: SeveralTunesError, then: Callable[[str], None]) -> None:
        from plectrum.ui.shell.opening_dialogs import BookDialog

        succeed(getattr(self, "book_dialog", None))
        self.book_dialog = BookDialog(book.tunes, self._window)
        self.book_dialog.chosen.connect(then)
        self.book_dialog.open()

    def _open_midi(self, path: Path) -> None:
        """MIDI shows first how it would be written."""

        def read() -> Song:
            from plectrum.core.incoming.border import border
            from plectrum.core.incoming.files import read_file
            from plectrum.core.score.reading.midi import read_midi

            with border(shown_name(path), ScoreError):
                return read_midi(read_file(path), shown_name(path))

        self._midi_reader.run(read, self._show_midi, self._session.failed.emit)

    def _show_midi(self, song: Song) -> None:
        from plectrum.ui.shell.opening_dialogs import MidiDialog

        succeed(getattr(self, "midi_dialog", None))
        self.midi_dialog = MidiDialog(song, self._desk.engraver, self._window)
        self.midi_dialog.accepted_score.connect(self._open_score)
        self.midi_dialog.open()

    def _open_score(self, score: ScoreFile) -> None:
        from plectrum.core.document.document import Document

        self._wanted = self._recovering = None
        self._session.open_made(lambda: Document.from_score(score), saved=False)

    def new_tune(self) -> None:
        """An empty tune on the Piece screen, ready to be typed."""
        from plectrum.core.document.document import Document
        from plectrum.core.score.writing.blank import TuneHead, blank_tune

        if not self._may_leave():
            return
        self._wanted = self._recovering = None
        self._desk.settings.screen = "piece"
        head = TuneHead()
        self._session.open_made(lambda: Document.for_typing(blank_tune(head), head.instrument))

    def open_document(self, document: Document) -> None:
        """A tune that was made here, such as an exercise, after asking about unsaved changes."""
        if not self._may_leave():
            return
        self._wanted = self._recovering = None
        self._session.open_made(lambda: document, saved=False)

    def paste_abc(self) -> None:
        """A tune as ABC text, from the clipboard if there is one."""
        from plectrum.ui.shell.opening_dialogs import AbcDialog, looks_like_abc

        pasted = QApplication.clipboard().text()
        succeed(getattr(self, "abc_dialog", None))
        self.abc_dialog = AbcDialog(pasted if looks_like_abc(pasted) else "", self._window)
        self.abc_dialog.wanted.connect(self.open_abc)
        self.abc_dialog.open()

    def open_abc(self, text: str) -> None:
        """Open a tune given as ABC text."""
        from plectrum.core.files.opening import open_document

        if not self._may_leave():
            return
        self._wanted = self._recovering = None
        data = text.encode("utf-8", "replace")

        def read(tune: str | None) -> None:
            self._session.open_made(
                lambda: open_document(data, tr("pasted ABC"), source="abc", tune=tune),
                tr("Reading the ABC text …"),
                saved=False,
                otherwise=self._ask_which(read),
            )

        read(None)

    def opened(self) -> None:
        """Something was opened: what it was becomes the open file."""
        if self._recovering is not None:
            if self._safety_net.write():  # the new copy is there before the old one goes
                self._recovering.forget()
            self._recovering = None
        self.path = self._wanted

    # recovering

    def offer_recovery(self, folder: Path) -> bool:
        """Ask about the newest copy a crash has left; True if it is being opened."""
        left = find_recovered(folder)
        if not left:
            return False
        answer = self.ask_recover(left[0])
        if answer == QMessageBox.StandardButton.Yes:
            self._wanted = left[0].original
            self._recovering = left[0]
            self._session.recover(left[0].copy, left[0].original, self._not_recovered)
            return True
        if answer == QMessageBox.StandardButton.No:
            left[0].forget()
        return False

    def _not_recovered(self, error: Exception) -> None:
        """The copy cannot be opened: it stays where it is, and that is said."""
        left, self._recovering = self._recovering, None
        if left is not None and isinstance(error, PlectrumError):
            error = PlectrumError(
                say(
                    "the unsaved copy of “{title}” cannot be opened: {what}",
                    title=left.title,
                    what=error.what,
                ),
                where=say("It stays in {path}", path=shown_path(left.copy)),
                remedy=tr("Nothing was deleted; you are asked again at the next start"),
            )
        self._session.failed.emit(error)

    def ask_recover(self, left: Recovered) -> QMessageBox.StandardButton:
        """Ask whether to recover; one place, so that tests can answer."""
        return ask(
            self._window,
            say(
                "“{title}” was not saved when Plectrum stopped last time. Recover it?",
                title=left.title,
            ),
            QMessageBox.StandardButton.Yes | QMessageBox.StandardButton.No,
            QMessageBox.StandardButton.Yes,
        )
