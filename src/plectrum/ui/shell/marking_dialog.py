"""What of the plan goes into the exported score: the teacher's pencil, and more by wish."""

from __future__ import annotations

from PySide6.QtCore import QSize, Signal
from PySide6.QtWidgets import QComboBox, QDialog, QFormLayout, QLabel, QVBoxLayout, QWidget

from plectrum.core.files.marking import Division, Marking, Under
from plectrum.core.wording import tr
from plectrum.ui.look import theme
from plectrum.ui.look.buttons import answer_buttons, check_box
from plectrum.ui.look.labels import label
from plectrum.ui.look.room import within

DIVISIONS = {
    Division.OFF: tr("not written"),
    Division.FRACTIONS: tr("fractions of the bow: ¼–¾"),
    Division.REGIONS: tr("regions where they change: upper half"),
    Division.MARKS: tr("the player's marks: frog–middle"),
}
_UNDER = {Under.LYRICS: tr("a line of lyrics"), Under.WORDS: tr("words below the staff")}


class MarkingDialog(QDialog):
    """Asks once, with what was chosen last.

    Signals:
        wanted: the marking to export with.
    """

    wanted = Signal(object)

    def __init__(self, last: Marking, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Export marked MusicXML"))
        self.division, self.under = QComboBox(), QComboBox()
        for division, words in DIVISIONS.items():
            self.division.addItem(words, division)
        for under, words in _UNDER.items():
            self.under.addItem(words, under)
        self.joins = check_box(tr("&Hooks as dots under a slur, lifts as breath marks"), "")
        self.fingerings = check_box(tr("&Fingerings of the plan, where none are written"), "")
        self.strings = check_box(tr("&Strings of the plan, where none are written"), "")
        self._show(last)
        self._lay_out()
        self.division.currentIndexChanged.connect(self._follow)
        self._follow()

    def _show(self, last: Marking) -> None:
        self.division.setCurrentIndex(list(DIVISIONS).index(last.division))
        self.under.setCurrentIndex(list(_UNDER).index(last.under))
        self.joins.setChecked(last.joins)
        self.fingerings.setChecked(last.fingerings)
        self.strings.setChecked(last.strings)

    def _lay_out(self) -> None:
        column = QVBoxLayout(self)
        words = tr(
            "Bow marks go into your own score, and slurs where the plan changes them; nothing else "
            "of it changes. More, if you wish:"
        )
        column.addWidget(label("muted", words, wrap=True))
        form = QFormLayout()
        for text, field in ((tr("&Bow division"), self.division), (tr("&Written as"), self.under)):
            name = QLabel(text)
            name.setBuddy(field)
            field.setAccessibleName(text.replace("&", ""))
            form.addRow(name, field)
        column.addLayout(form)
        for box in (self.joins, self.fingerings, self.strings):
            column.addWidget(box)
        column.addSpacing(8)
        column.addWidget(answer_buttons(self, tr("Export …")))
        within(self, QSize(theme.px(480), self.sizeHint().height()))

    def _follow(self) -> None:
        self.under.setEnabled(self.division.currentData() != Division.OFF)

    @property
    def marking(self) -> Marking:
        """What is chosen."""
        return Marking(
            Division(self.division.currentData()),
            Under(self.under.currentData()),
            joins=self.joins.isChecked(),
            fingerings=self.fingerings.isChecked(),
            strings=self.strings.isChecked(),
        )

    def accept(self) -> None:
        super().accept()
        self.wanted.emit(self.marking)
