"""Title, instrument, key, metre, tempo and pickup of the tune, as fields that edit it."""

from __future__ import annotations

from fractions import Fraction

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QComboBox, QDoubleSpinBox, QFormLayout, QLabel, QLineEdit, QWidget

from plectrum.core.instrument.specification import instrument_names
from plectrum.core.planning.plan import Plan
from plectrum.core.score.keys import key_words, signs_words
from plectrum.core.score.model import Metre
from plectrum.core.wording import in_words, sentence_like, several, tr
from plectrum.ui.look.plain import tip

METRES = (
    Metre((2,), 4), Metre((3,), 4), Metre((4,), 4), Metre((2,), 2), Metre((3,), 8),
    Metre((6,), 8), Metre((9,), 8), Metre((12,), 8), Metre((5,), 4),
)  # fmt: skip


class HeadForm(QWidget):
    """Fields of the whole tune; emits what is to be changed, holds nothing."""

    title_wanted = Signal(str)
    instrument_wanted = Signal(str)
    key_wanted = Signal(int)
    metre_wanted = Signal(object)
    tempo_wanted = Signal(float)
    pickup_wanted = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.title = QLineEdit()
        self.instrument = QComboBox()
        for name in instrument_names():
            self.instrument.addItem(sentence_like(in_words(name)), name)
        self.instrument.setToolTip(tr("Moves the tune to where the instrument can play it"))
        self.key = QComboBox()
        for fifths in range(-5, 6):
            self.key.addItem(key_words(fifths), fifths)
            words = tip(signs_words(fifths))
            self.key.setItemData(self.key.count() - 1, words, Qt.ItemDataRole.ToolTipRole)
        self.key.setSizeAdjustPolicy(
            QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon
        )
        self.key.setMinimumContentsLength(12)
        self.metre = QComboBox()
        for metre in METRES:
            self.metre.addItem(str(metre), metre)
        self.tempo = QDoubleSpinBox()
        self.tempo.setRange(20, 300)
        self.tempo.setDecimals(0)
        self.tempo.setKeyboardTracking(False)
        self.pickup = QComboBox()
        self._lay_out()
        self._connect()

    def _lay_out(self) -> None:
        form = QFormLayout(self)
        form.setContentsMargins(0, 0, 0, 0)
        form.setSpacing(4)
        form.setFieldGrowthPolicy(QFormLayout.FieldGrowthPolicy.AllNonFixedFieldsGrow)
        for text, field in (
            (tr("T&itle"), self.title),
            (tr("I&nstrument"), self.instrument),
            (tr("&Key"), self.key),
            (tr("&Metre"), self.metre),
            (tr("Te&mpo written"), self.tempo),
            (tr("Picku&p"), self.pickup),
        ):
            name = QLabel(text)
            name.setObjectName("muted")
            name.setBuddy(field)
            field.setAccessibleName(text.replace("&", ""))
            form.addRow(name, field)

    def _connect(self) -> None:
        self.title.editingFinished.connect(lambda: self.title_wanted.emit(self.title.text()))
        self.instrument.activated.connect(
            lambda _: self.instrument_wanted.emit(self.instrument.currentData())
        )
        self.key.activated.connect(lambda _: self.key_wanted.emit(self.key.currentData()))
        self.metre.activated.connect(lambda _: self.metre_wanted.emit(self.metre.currentData()))
        self.tempo.valueChanged.connect(self.tempo_wanted)
        self.pickup.activated.connect(lambda _: self.pickup_wanted.emit(self.pickup.currentData()))

    def show_tune(self, title: str, plan: Plan, fifths: int, written_bpm: float) -> None:
        """Set every field without emitting anything."""
        self.title.setText(title)
        self.instrument.setCurrentIndex(self.instrument.findData(plan.choices.instrument))
        self.key.setCurrentIndex(self.key.findData(fifths))
        first = plan.part.bars[0]
        metre = first.metre
        k = next((k for k, m in enumerate(METRES) if m == metre), -1)
        if k < 0:
            self.metre.addItem(str(metre), metre)
            k = self.metre.count() - 1
        self.metre.setCurrentIndex(k)
        self.tempo.blockSignals(True)
        self.tempo.setValue(written_bpm)
        self.tempo.blockSignals(False)
        self.pickup.clear()
        pickup_q = first.duration_q if first.number == 0 else Fraction(0)
        unit_q = metre.unit_q
        self.pickup.addItem(tr("none"), Fraction(0))
        steps = [unit_q / 2] if metre.beat_type <= 4 else []
        steps += [unit_q * k for k in range(1, metre.beats)]
        for length_q in sorted({*steps, pickup_q} - {Fraction(0)}):
            beats = length_q / unit_q
            words = (
                tr("half a beat")
                if beats == Fraction(1, 2)
                else several("{n:g} beat", "{n:g} beats", float(beats))
            )
            self.pickup.addItem(words, length_q)
        at = next((k for k in range(self.pickup.count()) if self.pickup.itemData(k) == pickup_q), 0)
        self.pickup.setCurrentIndex(at)
