"""Everything for the players written into a folder, by a process of its own: engraving four parts
takes seconds in which a window would stand still."""

from __future__ import annotations

import tempfile
from pathlib import Path

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QDialog, QFileDialog, QVBoxLayout, QWidget

from plectrum.core.document.document import Document
from plectrum.core.errors import PlectrumError
from plectrum.core.files.planfile import save_document
from plectrum.core.wording import say, several, tr
from plectrum.ui.editing.command_process import CommandProcess
from plectrum.ui.look.buttons import answer_buttons, check_box
from plectrum.ui.look.labels import label
from plectrum.ui.look.plain import progress_dialog


class HandOutDialog(QDialog):
    """How the pages are written; emits whether all go into one file, and large print."""

    wanted = Signal(bool, bool)

    def __init__(self, parts_n: int, *, routine: bool, parent: QWidget | None = None) -> None:
        """Ask.

        Args:
            routine: whether one is set for all.
        """
        super().__init__(parent)
        self.setWindowTitle(tr("Hand out all parts"))
        self.one_file = check_box(tr("All pages in one file, for one printing"), "")
        self.large = check_box(tr("Large print"), "")
        column = QVBoxLayout(self)
        count = several("{n} part", "{n} parts", parts_n)
        column.addWidget(
            label(
                "",
                say(
                    "The pages of {count}, each for who plays it with his tape marks{routine}, the "
                    "score with all bows as MusicXML, and one plan file, written into a folder.",
                    count=count,
                    routine=tr(", the routine that is set") if routine else "",
                ),
                wrap=True,
            )
        )
        column.addWidget(self.one_file)
        column.addWidget(self.large)
        buttons = answer_buttons(self, tr("Choose a folder …"))
        column.addWidget(buttons)

    def accept(self) -> None:
        super().accept()
        self.wanted.emit(self.one_file.isChecked(), self.large.isChecked())


def ask_folder(parent: QWidget) -> Path | None:
    """The folder to write into."""
    name = QFileDialog.getExistingDirectory(parent, tr("Write all parts into"))
    return Path(name) if name else None


class PartsWriter(QObject):
    """Runs `plectrum parts` on a copy of the document.

    Signals:
        done: what was written, in a line.
    """

    done = Signal(str)
    failed = Signal(object)

    def __init__(self, document: Document, parent: QWidget) -> None:
        super().__init__(parent)
        self._document = document
        self._folder = tempfile.TemporaryDirectory(prefix="plectrum-parts-")
        self._lines: list[str] = []
        self._parts_n = len(document.string_parts)
        self.progress = progress_dialog(parent, tr("Writing the pages …"), self._parts_n + 2)
        self.progress.setMinimumDuration(400)
        self.progress.canceled.connect(self.cancel)
        self.command = CommandProcess(self)
        self.command.said.connect(self._said)
        self.command.ended.connect(self._ended)
        self.command.failed.connect(self._did_not_start)

    def start(self, into: Path, *, one_file: bool, large: bool) -> None:
        """Write into a folder; what may be replaced has been asked."""
        plan = Path(self._folder.name) / "parts.plectrum"
        try:
            save_document(self._document, plan)
        except PlectrumError as error:
            self._end()
            self.failed.emit(error)
            return
        words = ["parts", str(plan), "-o", str(into), "--force"]
        words += ["--one-file"] if one_file else []
        words += ["--large"] if large else []
        words += [] if self._document.together else ["--alone"]
        self.command.start(words)

    def cancel(self) -> None:
        """Stop; what is written whole stays."""
        self.command.stop()

    def _said(self, line: str) -> None:
        self._lines.append(line)
        self.progress.setValue(min(len(self._lines), self._parts_n + 1))

    def _did_not_start(self, error: Exception) -> None:
        self._end()
        self.failed.emit(error)

    def _ended(self, code: int | None, wrong: str) -> None:
        self._end()
        if code is None:
            self.done.emit(tr("Stopped; what was written whole stays."))
        elif code:
            self.failed.emit(PlectrumError(wrong or tr("the pages cannot be written")))
        else:
            pages = [line for line in self._lines if ".pdf:" in line]
            self.done.emit(
                say("Written: {count} PDF, the marked score and the plan.", count=len(pages))
            )

    def _end(self) -> None:
        self.progress.canceled.disconnect(self.cancel)
        self.progress.reset()
        self.progress.close()
        self._folder.cleanup()
