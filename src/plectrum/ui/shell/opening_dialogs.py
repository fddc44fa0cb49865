"""The dialogs that make a tune: pasted ABC, a tune of a book, MIDI put on a grid with a preview."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from PySide6.QtCore import QSize, Qt, QTimer, Signal
from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QFormLayout,
    QLabel,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPlainTextEdit,
    QVBoxLayout,
    QWidget,
)

from plectrum.core.errors import PlectrumError
from plectrum.core.instrument.specification import instrument_names
from plectrum.core.score.reading.abc_book import BookTune
from plectrum.core.score.reading.midi import (
    FINEST,
    Grid,
    Quantised,
    Song,
    likely_grid,
    likely_track,
    quantise,
)
from plectrum.core.score.scorefile import ScoreFile
from plectrum.core.wording import in_words, say, tr
from plectrum.ui.drawing.staff_view import StaffView
from plectrum.ui.editing.runner import Runner
from plectrum.ui.engraving.client import EngravingClient
from plectrum.ui.look.labels import label
from plectrum.ui.look.room import open_within

_EXAMPLE = tr("X:1\nT:Three Gulls\nM:3/4\nL:1/4\nQ:1/4=96\nK:D\nA | d2 c | B2 A | F G A | D3 |")


class AbcDialog(QDialog):
    """A tune as ABC text, typed or pasted."""

    wanted = Signal(str)

    def __init__(self, pasted: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Paste ABC"))
        self.text = QPlainTextEdit(pasted)
        self.text.setPlaceholderText(_EXAMPLE)
        self.text.setTabChangesFocus(True)
        self.text.setAccessibleName(tr("The tune as ABC text"))
        buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Open | QDialogButtonBox.StandardButton.Cancel
        )
        buttons.accepted.connect(self._accept)
        buttons.rejected.connect(self.reject)
        column = QVBoxLayout(self)
        column.addWidget(
            label("muted", tr("Paste or type a tune in ABC. u and v before a note bow it."))
        )
        column.addWidget(self.text)
        column.addWidget(buttons)
        open_within(self, QSize(560, 420))

    def _accept(self) -> None:
        if self.text.toPlainText().strip():
            self.accept()
            self.wanted.emit(self.text.toPlainText())


class BookDialog(QDialog):
    """Which tune of a book: found by letters of its title, chosen by Enter."""

    chosen = Signal(str)

    def __init__(self, tunes: Sequence[BookTune], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Choose a tune"))
        self._tunes = tunes
        self.words = QLineEdit()
        self.words.setPlaceholderText(tr("Letters of the title"))
        self.words.setAccessibleName(tr("Letters of the title"))
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Tunes of the book"))
        buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Open | QDialogButtonBox.StandardButton.Cancel
        )
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        column = QVBoxLayout(self)
        column.addWidget(
            label("muted", say("This file holds {count} tunes. Which one?", count=len(tunes)))
        )
        column.addWidget(self.words)
        column.addWidget(self.list, 1)
        column.addWidget(buttons)
        self.words.textChanged.connect(self._find)
        self.list.itemActivated.connect(lambda _: self.accept())
        self._find("")
        open_within(self, QSize(460, 480))

    def _find(self, words: str) -> None:
        self.list.clear()
        for place, tune in enumerate(self._tunes, start=1):
            if words.casefold() in tune.words.casefold():
                item = QListWidgetItem(tune.words)
                item.setData(Qt.ItemDataRole.UserRole, place)
                self.list.addItem(item)
        self.list.setCurrentRow(0)

    def accept(self) -> None:
        item = self.list.currentItem()
        if item is None:
            return
        super().accept()
        self.chosen.emit(f"#{item.data(Qt.ItemDataRole.UserRole)}")


def looks_like_abc(text: str) -> bool:
    """Whether a clipboard text has the head lines of an ABC tune."""
    lines = text.strip().splitlines()
    return any(line.startswith("K:") for line in lines) and len(text) < 100_000


class MidiDialog(QDialog):
    """How a MIDI file is written down: track, finest note value, triplets; with the result."""

    accepted_score = Signal(object)

    def __init__(
        self, song: Song, engraver: EngravingClient, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Write a MIDI file down"))
        self.song = song
        self.result_score: ScoreFile | None = None
        self._runner = Runner(self)
        self.channel = engraver.channel("preview")
        self.view = StaffView()
        self.said = label("muted", wrap=True)
        self.track = QComboBox()
        for k, track in enumerate(self.song.tracks, start=1):
            self.track.addItem(
                say(
                    "{number}. {name}, {notes} notes",
                    number=k,
                    name=track.name or tr("unnamed"),
                    notes=len(track.notes),
                )
            )
        self.track.setCurrentIndex(likely_track(self.song))
        self.finest = QComboBox()
        for finest in FINEST:
            self.finest.addItem(finest, finest)
        grid = likely_grid(self.song)
        self.finest.setCurrentIndex(self.finest.findData(grid.finest))
        self.triplets = QCheckBox(tr("look for &triplets"))
        self.triplets.setChecked(grid.triplets)
        self.instrument = QComboBox()
        self.instrument.addItem(tr("as the file says"), None)
        for name in instrument_names():
            self.instrument.addItem(in_words(name), name)
        self._lay_out()
        self._connect()
        QTimer.singleShot(0, self._make)

    def _lay_out(self) -> None:
        form = QFormLayout()
        for text, field in (
            (tr("T&rack"), self.track),
            (tr("&Shortest note"), self.finest),
            (tr("&Instrument"), self.instrument),
        ):
            name = QLabel(text)
            name.setBuddy(field)
            field.setAccessibleName(text.replace("&", ""))
            form.addRow(name, field)
        form.addRow("", self.triplets)
        self.buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Open | QDialogButtonBox.StandardButton.Cancel
        )
        column = QVBoxLayout(self)
        words = tr(
            "MIDI holds no note values. This is how it would be written; correct it afterwards."
        )
        column.addWidget(label("muted", words, wrap=True))
        column.addLayout(form)
        column.addWidget(self.view, 1)
        column.addWidget(self.said)
        column.addWidget(self.buttons)
        open_within(self, QSize(820, 600))

    def _connect(self) -> None:
        for combo in (self.track, self.finest, self.instrument):
            combo.currentIndexChanged.connect(lambda _: self._make())
        self.triplets.toggled.connect(lambda _: self._make())
        self.buttons.accepted.connect(self._accept)
        self.buttons.rejected.connect(self.reject)
        self.channel.laid_out.connect(self.view.expect)
        self.channel.system_ready.connect(self.view.add_system)
        self.view.layout_wanted.connect(self._engrave)

    def _make(self) -> None:
        grid = Grid(str(self.finest.currentData()), self.triplets.isChecked())
        track, name = self.track.currentIndex(), self.instrument.currentData()
        self._runner.run(lambda: quantise(self.song, track, grid, name), self._show, self._not_made)

    def _show(self, done: Any) -> None:
        quantised: Quantised = done
        self.result_score = quantised.score
        self.said.setText(f"{quantised.words[0].upper()}{quantised.words[1:]}.")
        self.buttons.button(QDialogButtonBox.StandardButton.Open).setEnabled(True)
        self._engrave()

    def _not_made(self, error: Exception) -> None:
        self.result_score = None
        text = f"{error.what}. {error.remedy}" if isinstance(error, PlectrumError) else str(error)
        self.said.setText(text)
        self.buttons.button(QDialogButtonBox.StandardButton.Open).setEnabled(False)

    def _engrave(self) -> None:
        score = self.result_score
        if score is None:
            return
        part = score.parts[0]
        self.view.engrave(self.channel, score, (part.id,), part.instrument or "violin")

    def _accept(self) -> None:
        if self.result_score is not None:
            self.accept()
            self.accepted_score.emit(self.result_score)
