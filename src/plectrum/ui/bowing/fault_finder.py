"""From what is heard to what to change: the sound-fault finder of the side panel."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QComboBox, QPushButton, QVBoxLayout, QWidget

from plectrum.core.advice.sound_faults import Cause, Symptom, find_faults
from plectrum.core.planning.plan import Plan
from plectrum.core.wording import in_words, tr
from plectrum.ui.look.labels import label

SHOWN_N = 3


class FaultFinder(QWidget):
    """Asks what is heard on the selected note and lists the likely causes with their remedies.

    `applied` hands on a cause whose remedy is a lane or a length of bow.
    """

    applied = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._plan: Plan | None = None
        self._note = 0
        self.causes: tuple[Cause, ...] = ()
        self.buttons: list[QPushButton] = []
        self.symptom = QComboBox()
        self.symptom.setAccessibleName(tr("What do you hear?"))
        self.symptom.addItem(tr("choose …"), None)
        for symptom in Symptom:
            self.symptom.addItem(in_words(symptom), symptom)
        self.symptom.currentIndexChanged.connect(lambda _: self._show())
        self._layout = QVBoxLayout(self)
        self._layout.setContentsMargins(0, 0, 0, 0)
        self._layout.setSpacing(4)
        self._layout.addWidget(self.symptom)
        self._answers = QVBoxLayout()
        self._answers.setSpacing(4)
        self._layout.addLayout(self._answers)

    def show_note(self, plan: Plan, index: int) -> None:
        """Ask about another note; the symptom stays."""
        self._plan, self._note = plan, index
        self.setEnabled(plan.notes[index] is not None)
        self._show()

    def _show(self) -> None:
        while (item := self._answers.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        self.buttons = []
        symptom = self.symptom.currentData()
        if self._plan is None or symptom is None:
            self.causes = ()
            return
        self.causes = find_faults(self._plan, self._note, Symptom(symptom))[:SHOWN_N]
        for number, cause in enumerate(self.causes, start=1):
            words = f"{number}. {cause.text[0].upper()}{cause.text[1:]}."
            self._answers.addWidget(label("muted", words, wrap=True))
            if (cause.lane, cause.speed_mm_s, cause.place) != (None, None, None):
                button = QPushButton(cause.remedy)
                button.setObjectName("small")
                button.setToolTip(tr("Take this into the plan"))
                button.clicked.connect(lambda _=False, c=cause: self.applied.emit(c))
                self._answers.addWidget(button)
                self.buttons.append(button)
            else:
                self._answers.addWidget(label("why", f"{cause.remedy}.", wrap=True))
