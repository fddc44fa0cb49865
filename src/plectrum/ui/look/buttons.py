"""Small controls that leave the keys to what is beside them."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QCheckBox, QDialog, QDialogButtonBox, QPushButton

from plectrum.ui.look import plain


def push_button(text: str, tip: str) -> QPushButton:
    """A button that says more where the pointer rests."""
    button = QPushButton(text)
    button.setToolTip(plain.tip(tip))
    return button


def small_button(text: str, tip: str) -> QPushButton:
    """A small button that is reached by Tab alone."""
    button = push_button(text, tip)
    button.setObjectName("small")
    button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
    return button


def check_box(text: str, tip: str, *, on: bool = False) -> QCheckBox:
    """A check box that is reached by Tab alone."""
    box = QCheckBox(text)
    box.setToolTip(plain.tip(tip))
    box.setChecked(on)
    box.setFocusPolicy(Qt.FocusPolicy.TabFocus)
    return box


def answer_buttons(dialog: QDialog, yes: str) -> QDialogButtonBox:
    """The buttons that answer a dialog: what it does, and Cancel."""
    kinds = QDialogButtonBox.StandardButton
    buttons = QDialogButtonBox(kinds.Ok | kinds.Cancel)
    buttons.button(kinds.Ok).setText(yes)
    buttons.accepted.connect(dialog.accept)
    buttons.rejected.connect(dialog.reject)
    return buttons
