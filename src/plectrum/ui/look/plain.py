"""Text is text: what a title, a name, a note or a path says is shown as it stands.

The toolkit takes anything that looks like markup for markup, also in tool tips and message boxes,
and would load what it names; and an ampersand in a menu becomes a key. Whatever can show words
that come from a file goes through here.
"""

from __future__ import annotations

import contextlib
from html import escape

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel, QMessageBox, QProgressDialog, QWidget

from plectrum.core.plain_text import plain
from plectrum.core.wording import tr


def tip(text: str) -> str:
    """A tool tip that shows the text as it stands."""
    shown = plain(text)
    return f"<qt>{escape(shown, quote=False)}</qt>" if "<" in shown or "&" in shown else shown


def key_free(text: str) -> str:
    """A text for menus and buttons whose ampersands make no keys."""
    return plain(text).replace("&", "&&")


def make_plain(widget: QWidget) -> None:
    """Every label in a widget of the toolkit's own shows plain text."""
    for inner in widget.findChildren(QLabel):
        inner.setTextFormat(Qt.TextFormat.PlainText)


def message_box(
    parent: QWidget | None,
    text: str,
    more: str = "",
    *,
    title: str = tr("Plectrum"),
    icon: QMessageBox.Icon = QMessageBox.Icon.NoIcon,
) -> QMessageBox:
    """A message box of plain text."""
    box = QMessageBox(parent)
    box.setIcon(icon)
    box.setWindowTitle(title)
    box.setTextFormat(Qt.TextFormat.PlainText)
    box.setText(plain(text))
    if more:
        box.setInformativeText(plain(more))
    make_plain(box)
    return box


def succeed(old: QWidget | None) -> None:
    """Another dialog takes the place of this one, which is not needed any more."""
    if old is None:
        return
    with contextlib.suppress(RuntimeError):  # the toolkit has taken it away already
        old.close()
        old.deleteLater()


def ask(
    parent: QWidget | None,
    question: str,
    buttons: QMessageBox.StandardButton,
    default: QMessageBox.StandardButton,
    more: str = "",
) -> QMessageBox.StandardButton:
    """Ask, and wait for the answer."""
    box = message_box(parent, question, more, icon=QMessageBox.Icon.Question)
    box.setStandardButtons(buttons)
    box.setDefaultButton(default)
    answer = QMessageBox.StandardButton(box.exec())
    box.deleteLater()
    return answer


def progress_dialog(parent: QWidget, text: str, most: int) -> QProgressDialog:
    """A progress dialog with a button to cancel."""
    dialog = QProgressDialog(plain(text), tr("Cancel"), 0, most, parent)
    dialog.setWindowModality(Qt.WindowModality.WindowModal)
    make_plain(dialog)
    return dialog
