"""Where something is written, asked in a dialog: nothing is replaced unasked, and what is open is
never written over."""

from __future__ import annotations

import os
import re
from collections.abc import Iterable, Sequence
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QMessageBox, QWidget

from plectrum.core.outputs import is_one_of
from plectrum.core.plain_text import shown_name
from plectrum.core.wording import say, several, tr
from plectrum.ui.look.plain import ask, message_box


def where_to(
    parent: QWidget | None, title: str, suggested: str, kinds: str, read: Iterable[Path] = ()
) -> Path | None:
    """The file to be written; None where the teacher thinks better of it.

    Args:
        kinds: as the dialog wants them, "Sound (*.wav);;MIDI (*.mid)"; the name gets an ending of
            the kind that is chosen, if it has none of any.
        read: what is open.
    """
    name, kind = QFileDialog.getSaveFileName(parent, title, suggested, kinds)
    if not name:
        return None
    path = Path(name)
    if path.suffix.lower() not in _endings(kinds):
        path = path.with_name(path.name + _endings(kind or kinds)[0])  # the dialog asked of NAME
        if not may_replace(parent, [path]):
            return None
    return path if is_free(parent, [path], read) else None


def _endings(kinds: str) -> list[str]:
    return re.findall(r"\*(\.\w+)", kinds)


def is_free(parent: QWidget | None, paths: Sequence[Path], read: Iterable[Path]) -> bool:
    """Whether no file is one that is open; if one is, it is said."""
    taken = next((path for path in paths if is_one_of(path, read)), None)
    if taken is None:
        return True
    box = message_box(
        parent,
        say("{name} is open here; it is not written over.", name=shown_name(taken)),
        tr("Choose another name or folder."),
        icon=QMessageBox.Icon.Warning,
    )
    box.exec()
    box.deleteLater()
    return False


def may_replace(parent: QWidget | None, paths: Sequence[Path]) -> bool:
    """Whether files may be replaced that are there already; asked if there are any."""
    there = [path for path in paths if os.path.exists(path)]
    if not there:
        return True
    yes = QMessageBox.StandardButton.Yes
    question = several(
        "{name} is there already. Replace it?",
        "{n} files are there already, {name} among them. Replace them?",
        len(there),
        name=shown_name(there[0]),
    )
    no = QMessageBox.StandardButton.Cancel
    return ask(parent, question, yes | no, no) == yes
