"""Preferences: the user's own words, the look, the voice, and what is opened at the start."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QComboBox, QDialog, QFormLayout, QLabel, QSlider, QVBoxLayout, QWidget

from plectrum.core.wording import tr
from plectrum.core.wording.own_words import QUESTIONS, OwnWords
from plectrum.ui.desk.settings import Settings
from plectrum.ui.look import theme
from plectrum.ui.look.buttons import answer_buttons, check_box
from plectrum.ui.look.labels import label

_ASKED = {
    "frog": tr("Where the hand is"),
    "tip": tr("The other end"),
    "notes": tr("Names of notes"),
}


class Preferences(QDialog):
    """Shows what is kept, and keeps what is chosen.

    Signals:
        look_changed: theme or scale are other ones now.
    """

    look_changed = Signal()

    def __init__(self, settings: Settings, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Preferences"))
        self._settings = settings
        self.words: dict[str, QComboBox] = {}
        self._words_before = OwnWords.from_text(settings.words)
        for question, answers in QUESTIONS.items():
            combo = QComboBox()
            for answer in answers:
                combo.addItem(answer, answer)
            chosen = dict(self._words_before.answers).get(question, answers[0])
            combo.setCurrentIndex(answers.index(chosen))
            self.words[question] = combo
        self.theme, self.scale = QComboBox(), QComboBox()
        for dark, name in ((False, tr("light")), (True, tr("dark"))):
            self.theme.addItem(name, dark)
        self.theme.setCurrentIndex(int(settings.dark))
        for scale in theme.SCALES:
            self.scale.addItem(f"{scale:.0%}", scale)
        nearest = min(theme.SCALES, key=lambda s: abs(s - settings.scale))
        self.scale.setCurrentIndex(theme.SCALES.index(nearest))
        self.volume = QSlider(Qt.Orientation.Horizontal)
        self.volume.setRange(5, 100)
        self.volume.setValue(settings.voice[0])
        self.reopens = check_box(tr("&Open the tune that was open last"), "", on=settings.reopens)
        self.said = label("muted", wrap=True)
        self._lay_out()
        for combo in self.words.values():
            combo.currentIndexChanged.connect(self._say)

    def _lay_out(self) -> None:
        column = QVBoxLayout(self)
        groups: tuple[tuple[str, list[tuple[str, QWidget]]], ...] = (
            (tr("WORDS"), [(_ASKED[q], combo) for q, combo in self.words.items()]),
            (tr("LOOK"), [(tr("&Theme"), self.theme), (tr("&Size of the interface"), self.scale)]),
            (tr("VOICE"), [(tr("&How loud"), self.volume)]),
        )
        for title, rows in groups:
            column.addWidget(label("section", title))
            form = QFormLayout()
            for text, field in rows:
                name = QLabel(text)
                name.setBuddy(field)
                name.setMinimumWidth(theme.px(150))
                field.setAccessibleName(text.replace("&", ""))
                form.addRow(name, field)
            column.addLayout(form)
        column.insertWidget(2, self.said)
        column.addWidget(label("section", tr("START")))
        column.addWidget(self.reopens)
        column.addSpacing(8)
        column.addWidget(answer_buttons(self, tr("Keep")))
        self.resize(theme.px(420), self.sizeHint().height())

    @property
    def own_words(self) -> OwnWords:
        """The words that are chosen."""
        chosen = ",".join(f"{q}={combo.currentData()}" for q, combo in self.words.items())
        return OwnWords.from_text(chosen)

    def _say(self) -> None:
        other = self.own_words != self._words_before
        self.said.setText(tr("Other words are used from the next start.") if other else "")

    def accept(self) -> None:
        settings = self._settings
        settings.words = self.own_words.as_text()
        settings.reopens = self.reopens.isChecked()
        settings.keep_volume(self.volume.value())
        look = self.theme.currentData(), self.scale.currentData()
        changed = look != (settings.dark, settings.scale)
        settings.dark, settings.scale = look
        super().accept()
        if changed:
            self.look_changed.emit()
