"""Preferences: language and own words, the look, the music, the voice, folders, the start."""

from __future__ import annotations

import os
from dataclasses import replace

from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtWidgets import (
    QComboBox,
    QDialog,
    QFileDialog,
    QFormLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QSlider,
    QVBoxLayout,
    QWidget,
)

from plectrum.core.files.marking import Marking
from plectrum.core.wording import in_figures, tr
from plectrum.core.wording.language import LANGUAGES, chosen
from plectrum.core.wording.own_words import QUESTIONS, OwnWords
from plectrum.ui.desk.settings import Settings
from plectrum.ui.look import theme
from plectrum.ui.look.buttons import answer_buttons, check_box, small_button
from plectrum.ui.look.labels import label
from plectrum.ui.look.room import within
from plectrum.ui.shell.marking_dialog import DIVISIONS

_ASKED = {
    "frog": tr("Where the hand is"),
    "tip": tr("The other end"),
    "ways": tr("The two ways"),
    "notes": tr("Names of notes"),
    "marks": tr("Tape marks"),
}
ANSWERS = {
    "down": tr("down and up"),
    "pull": tr("pull and push"),
    "name": tr("by their names"),
    "colour": tr("by their colours"),
}
OF_ENGLISH = ("frog", "tip", "ways", "notes")  # where other languages have one word
ZOOMS = (0.6, 0.8, 1.0, 1.2, 1.4, 1.6, 1.8, 2.0)


class _Folder(QWidget):
    """A folder that is always proposed, or the one of the last time."""

    def __init__(self, path: str) -> None:
        super().__init__()
        self.line = QLineEdit(path)
        self.line.setPlaceholderText(tr("where the last one was"))
        self.setFocusProxy(self.line)
        choose = small_button("…", tr("Choose a folder"))
        choose.clicked.connect(self._ask)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.line, 1)
        row.addWidget(choose)

    @property
    def path(self) -> str:
        """As it is to be kept: what is no folder is left out."""
        text = self.line.text().strip()
        return text if text and os.path.isdir(text) else ""

    def _ask(self) -> None:
        name = QFileDialog.getExistingDirectory(self, tr("Choose a folder"), self.line.text())
        if name:
            self.line.setText(name)


class Preferences(QDialog):
    """Shows what is kept, and keeps what is chosen.

    Signals:
        look_changed: theme or scale are other ones now.
        zoom_chosen: the music is to have another size, 1 as it is usual.
    """

    look_changed = Signal()
    zoom_chosen = Signal(float)

    def __init__(self, settings: Settings, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Preferences"))
        self._settings = settings
        self.language = QComboBox()
        self.language.addItem(tr("as the system has it"), "")
        for key, name in LANGUAGES.items():
            self.language.addItem(name, key)
        self.language.setCurrentIndex(max(0, self.language.findData(settings.language)))
        self.words: dict[str, QComboBox] = {}
        self._words_before = OwnWords.from_text(settings.words)
        for question, answers in QUESTIONS.items():
            combo = QComboBox()
            for answer in answers:
                combo.addItem(ANSWERS.get(answer, answer), answer)
            chosen = dict(self._words_before.answers).get(question, answers[0])
            combo.setCurrentIndex(answers.index(chosen))
            self.words[question] = combo
        self.theme, self.scale = QComboBox(), QComboBox()
        for dark, name in ((False, tr("light", "theme")), (True, tr("dark", "theme"))):
            self.theme.addItem(name, dark)
        self.theme.setCurrentIndex(int(settings.dark))
        for scale in theme.SCALES:
            self.scale.addItem(in_figures(scale, ".0%"), scale)
        nearest = min(theme.SCALES, key=lambda s: abs(s - settings.scale))
        self.scale.setCurrentIndex(theme.SCALES.index(nearest))
        self.zoom = QComboBox()
        for zoom in ZOOMS:
            self.zoom.addItem(in_figures(zoom, ".0%"), zoom)
        self.zoom.setCurrentIndex(
            min(range(len(ZOOMS)), key=lambda k: abs(ZOOMS[k] - settings.zoom))
        )
        self._zoom_before = self.zoom.currentIndex()
        self.division = QComboBox()
        for division, words in DIVISIONS.items():
            self.division.addItem(words, division)
        marking = Marking.from_dict(settings.marking)
        self.division.setCurrentIndex(list(DIVISIONS).index(marking.division))
        self.tunes = _Folder(settings.tunes_folder)
        self.written = _Folder(settings.written_folder)
        self.volume = QSlider(Qt.Orientation.Horizontal)
        self.volume.setRange(5, 100)
        self.volume.setValue(settings.voice[0])
        self.reopens = check_box(tr("&Open the tune that was open last"), "", on=settings.reopens)
        self.said = label("muted", wrap=True)
        self.said.hide()
        self._lay_out()
        for combo in (self.language, *self.words.values()):
            combo.currentIndexChanged.connect(self._say)

    def _lay_out(self) -> None:
        column = QVBoxLayout(self)
        english = chosen().key == "en"
        own_words = [
            (_ASKED[q], combo) for q, combo in self.words.items() if english or q not in OF_ENGLISH
        ]
        groups: tuple[tuple[str, list[tuple[str, QWidget]]], ...] = (
            (tr("LANGUAGE AND WORDS"), [
                (tr("&Language"), self.language), *own_words]),
            (tr("LOOK"), [(tr("&Theme"), self.theme), (tr("&Size of the interface"), self.scale)]),
            (tr("NOTATION"), [
                (tr("Size of the &music"), self.zoom),
                (tr("Bow &division in exported scores"), self.division)]),
            (tr("VOICE"), [(tr("&How loud"), self.volume)]),
            (tr("FOLDERS"), [
                (tr("&Tunes and plans"), self.tunes), (tr("&Pages and exports"), self.written)]),
        )  # fmt: skip
        texts = [text for _, rows in groups for text, _ in rows]
        widest = max(self.fontMetrics().horizontalAdvance(text) for text in texts)
        for title, rows in groups:
            column.addWidget(label("section", title))
            form = QFormLayout()
            for text, field in rows:
                name = QLabel(text)
                name.setBuddy(field)
                name.setMinimumWidth(widest)
                for named in (field, field.focusProxy() or field):
                    named.setAccessibleName(text.replace("&", ""))
                form.addRow(name, field)
            column.addLayout(form)
        column.insertWidget(2, self.said)
        column.addWidget(label("section", tr("START")))
        column.addWidget(self.reopens)
        column.addSpacing(8)
        column.addWidget(answer_buttons(self, tr("Keep")))
        within(self, self.sizeHint().expandedTo(QSize(theme.px(460), 0)))

    @property
    def own_words(self) -> OwnWords:
        """The words that are chosen."""
        chosen = ",".join(f"{q}={combo.currentData()}" for q, combo in self.words.items())
        return OwnWords.from_text(chosen)

    def _say(self) -> None:
        other = self.own_words != self._words_before
        other |= self.language.currentData() != self._settings.language
        self.said.setText(tr("Other words are used from the next start.") if other else "")
        self.said.setVisible(other)

    def accept(self) -> None:
        settings = self._settings
        settings.language = self.language.currentData()
        settings.words = self.own_words.as_text()
        settings.tunes_folder, settings.written_folder = self.tunes.path, self.written.path
        marking = Marking.from_dict(settings.marking)
        settings.marking = replace(marking, division=self.division.currentData()).as_dict()
        settings.reopens = self.reopens.isChecked()
        settings.keep_volume(self.volume.value())
        look = self.theme.currentData(), self.scale.currentData()
        if self.zoom.currentIndex() != self._zoom_before:
            settings.zoom = self.zoom.currentData()
            self.zoom_chosen.emit(settings.zoom)
        changed = look != (settings.dark, settings.scale)
        settings.dark, settings.scale = look
        super().accept()
        if changed:
            self.look_changed.emit()
