"""What is made easier, and for whom."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Signal
from PySide6.QtWidgets import (
    QButtonGroup,
    QComboBox,
    QDialog,
    QRadioButton,
    QVBoxLayout,
    QWidget,
)

from plectrum.core.document.seats import Seat
from plectrum.core.player.player import STAGES, stage
from plectrum.core.player.records import NamedPlayer
from plectrum.core.practice.easier import Easier
from plectrum.core.wording import say, tr
from plectrum.ui.look import theme
from plectrum.ui.look.buttons import answer_buttons
from plectrum.ui.look.labels import label

SAID = {
    Easier.OPEN: tr("&Open strings: each note becomes the string it lies on"),
    Easier.FEWER: tr("&Fewer notes: one for a slur, one for the quick notes of a beat"),
}


class EasierDialog(QDialog):
    """Emits for whom, what is made easier, and whether everywhere."""

    wanted = Signal(object, object, bool)

    def __init__(
        self, part: str, seat: Seat, named: Sequence[NamedPlayer], parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("An easier part"))
        self.who = QComboBox()
        self.who.setAccessibleName(tr("For whom"))
        for name in STAGES:
            self.who.addItem(stage(name).called, Seat(stage(name), seat.bow))
        for player in named:
            if player.bow.instrument == seat.bow.instrument:
                self.who.addItem(player.name, Seat(player.player, player.bow))
        self.kinds = QButtonGroup(self)
        column = QVBoxLayout(self)
        words = label(
            "",
            say(
                "A proposal for who cannot play {part} yet. Its bows stay as they are; it is a "
                "part of its own under the other, and can be changed, handed out or undone.",
                part=part,
            ),
            wrap=True,
        )
        words.setMinimumWidth(theme.px(420))
        column.addWidget(words)
        who = label("muted", tr("For whom"))
        column.addWidget(who)
        column.addWidget(self.who)
        for k, text in enumerate(SAID.values()):
            button = QRadioButton(text)
            button.setChecked(k == 0)
            self.kinds.addButton(button, k)
            column.addWidget(button)
        self.where = QComboBox()
        self.where.setAccessibleName(tr("Which bars"))
        self.where.addItem(tr("Only the bars that are out of reach"), False)
        self.where.addItem(tr("All bars"), True)
        column.addWidget(self.where)
        buttons = answer_buttons(self, tr("Propose it"))
        column.addWidget(buttons)

    def accept(self) -> None:
        super().accept()
        kind = list(SAID)[self.kinds.checkedId()]
        self.wanted.emit(self.who.currentData(), kind, bool(self.where.currentData()))
