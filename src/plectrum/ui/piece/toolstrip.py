"""The strip over the staff: what keys type, as buttons with their keys."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QToolButton, QWidget

from plectrum.core.score.writing.editor import DYNAMICS
from plectrum.core.wording import NOTE_VALUE, say, tr
from plectrum.ui.look.flow_layout import FlowLayout
from plectrum.ui.piece.typing import LENGTH_KEYS, Typing

_LENGTHS = (
    ("1", tr("whole", NOTE_VALUE), tr("Whole note")),
    ("2", tr("half", NOTE_VALUE), tr("Half note")),
    ("4", tr("quarter", NOTE_VALUE), tr("Quarter note")),
    ("8", tr("eighth", NOTE_VALUE), tr("Eighth note")),
    ("6", tr("16th", NOTE_VALUE), tr("Sixteenth note")),
)
_SIGNS = (
    (".", tr("dot"), tr("Dot: half as long again")),
    ("3", tr("triplet"), tr("Triplet: three in the time of two")),
    ("r", tr("rest"), tr("Rest of the chosen length")),
    ("t", tr("tie"), tr("Tie to the next note of the same pitch")),
    ("s", tr("slur"), tr("Slur the selected notes, or to the note before")),
    ("#", "♯", tr("Sharp: up a semitone")),
    ("-", "♭", tr("Flat: down a semitone")),
    ("n", "♮", tr("Natural")),
    ("'", tr("staccato"), tr("Staccato")),
    ("^", tr("accent"), tr("Accent")),
    ("_", tr("tenuto"), tr("Tenuto")),
    ("<", tr("cresc."), tr("Crescendo under the selected notes")),
    (">", tr("dim."), tr("Diminuendo under the selected notes")),
    ("{", "‖:", tr("Repeat from the bar of this note")),
    ("}", ":‖", tr("Repeat to the end of the bar of this note")),
)


class Toolstrip(QWidget):
    """Buttons that press the keys; shows the length that comes next."""

    pressed = Signal(str)
    dynamic_wanted = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("toolstrip")
        row = FlowLayout(self)
        row.setContentsMargins(12, 6, 12, 6)
        self.lengths: dict[str, QToolButton] = {}
        for key, text, words in _LENGTHS:
            button = self._button(text, key, words)
            button.setCheckable(True)
            self.lengths[key] = button
            row.addWidget(button)
        self.signs: dict[str, QToolButton] = {}
        for key, text, words in _SIGNS:
            self.signs[key] = self._button(text, key, words)
            row.addWidget(self.signs[key])
            if key in ("3", "s", "n", "_", ">"):
                self.signs["3"].setCheckable(True)
        name = QLabel(tr("Loudness"))
        name.setObjectName("muted")
        self.dynamic = QComboBox()
        self.dynamic.setAccessibleName(tr("Dynamic at this note"))
        self.dynamic.setToolTip(tr("Dynamic at this note  (Alt+Up, Alt+Down)"))
        self.dynamic.addItem("–", None)
        for dynamic in DYNAMICS:
            self.dynamic.addItem(dynamic, dynamic)
        self.dynamic.activated.connect(
            lambda _: self.dynamic_wanted.emit(self.dynamic.currentData())
        )
        name.setBuddy(self.dynamic)
        both = QWidget()
        beside = QHBoxLayout(both)
        beside.setContentsMargins(6, 0, 0, 0)
        beside.addWidget(name)
        beside.addWidget(self.dynamic)
        row.addWidget(both)

    def _button(self, text: str, key: str, words: str) -> QToolButton:
        button = QToolButton()
        button.setObjectName("tool")
        button.setText(text)
        button.setToolTip(f"{words}  ({key})")
        button.setAccessibleName(say("{words}, key {key}", words=words, key=key))
        button.clicked.connect(lambda _=False, k=key: self.pressed.emit(k))
        return button

    def show_typing(self, typing: Typing) -> None:
        """The length to come, and the dynamic at the note aimed at."""
        aimed = typing.aimed
        value = typing.value
        if typing.selected and aimed[0].value is not None:
            value = aimed[0].value
        for key, button in self.lengths.items():
            button.setChecked(LENGTH_KEYS[key] == value.base_q)
        self.signs["3"].setChecked(value.tuplet is not None)
        dynamic = aimed[0].dynamic if aimed else ""
        self.dynamic.setCurrentIndex(max(0, self.dynamic.findText(dynamic)) if dynamic else 0)
