"""What is to be heard: the strings, the metronome, and the voice with its own volume."""

from __future__ import annotations

from PySide6.QtCore import QSignalBlocker, Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QSlider, QWidget

from plectrum.core.wording import tr
from plectrum.ui.look import theme
from plectrum.ui.look.buttons import check_box
from plectrum.ui.playback.playing import Heard

FULL = 100


class HeardRow(QWidget):
    """Signals: changed with what is to be heard."""

    changed = Signal(object)

    def __init__(self, *, voice: bool = False, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.click = check_box(tr("Metronome"), tr("A click on every beat  (M)"), on=True)
        self.tone = check_box(tr("Sound"), tr("The tone of the strings  (N)"), on=True)
        self.voice = check_box(
            tr("Voice"), tr("Counts, strings and lifts are said aloud  (O)"), on=voice
        )
        self.volume = QSlider(Qt.Orientation.Horizontal)
        self.volume.setRange(5, FULL)
        self.volume.setValue(FULL)
        self.volume.setFixedWidth(theme.px(70))
        self.volume.setAccessibleName(tr("How loud the voice is"))
        self.volume.setToolTip(tr("How loud the voice is"))
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        for widget in (self.click, self.tone, self.voice, self.volume):
            row.addWidget(widget)
        self.volume.setVisible(voice)
        for box in (self.click, self.tone, self.voice):
            box.toggled.connect(self._tell)
        self.volume.valueChanged.connect(self._tell)

    @property
    def heard(self) -> Heard:
        voice = self.volume.value() / FULL if self.voice.isChecked() else 0.0
        return Heard(self.tone.isChecked(), self.click.isChecked(), voice)

    def set_voice(self, volume: int, *, on: bool) -> None:
        """Show how the voice was set before, without a signal."""
        with QSignalBlocker(self):
            self.volume.setValue(volume)
            self.voice.setChecked(on)
        self.volume.setVisible(on)

    def _tell(self) -> None:
        self.volume.setVisible(self.voice.isChecked())
        self.changed.emit(self.heard)
