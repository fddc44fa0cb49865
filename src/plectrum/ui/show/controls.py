"""The controls under the stage: playing, tempo, what is played, how it is seen."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import QSignalBlocker, Qt, Signal
from PySide6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QSlider,
    QWidget,
)

from plectrum.core.advice.care import CAUTION
from plectrum.core.playing.performance import Kind
from plectrum.core.playing.practice_tempo import Verdict
from plectrum.core.practice.strokes_per_note import Strokes
from plectrum.core.score.metre import beat_sign
from plectrum.core.sound.together import Parts
from plectrum.core.tracking.simulated import Clumsiness
from plectrum.core.wording import in_figures, in_words, say, sentence_like, tr
from plectrum.ui.look import theme
from plectrum.ui.look.buttons import check_box, small_button
from plectrum.ui.look.flow_layout import FlowLayout
from plectrum.ui.look.labels import label
from plectrum.ui.look.plain import tip
from plectrum.ui.look.strip import Strip
from plectrum.ui.moving.heard_row import HeardRow
from plectrum.ui.show.setup import ONCE, Prepared, ShowSetup, Stretch
from plectrum.ui.show.tempo_scale import TempoScale

FOLLOW_NOBODY = 0
FOLLOW_FILE = len(Clumsiness) + 1


def _together(*widgets: QWidget) -> QWidget:
    """Controls that stay on one line."""
    group = QWidget()
    row = QHBoxLayout(group)
    row.setContentsMargins(0, 0, 0, 0)
    row.setSpacing(8)
    for widget in widgets:
        row.addWidget(widget)
    return group


class Controls(Strip):
    """Two rows of controls; says what is wanted as a whole setup.

    Signals:
        setup_wanted: other music, or played otherwise. heard_changed: what is to be heard.
    """

    setup_wanted = Signal(object)
    heard_changed = Signal(object)
    play_wanted = Signal()
    start_wanted = Signal()
    step_wanted = Signal(int)
    mirror_wanted = Signal(bool)
    full_screen_wanted = Signal()
    try_wanted = Signal()
    follow_wanted = Signal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setup = ShowSetup()
        self._stretches: list[Stretch] = [self.setup.stretch]
        self._make()
        self._lay_out()
        self._connect()

    def _make(self) -> None:
        self.start = small_button(tr("To the start"), tr("Back to the count-in  (Home)"))
        self.back = small_button(tr("‹ Note"), tr("Back to the note before  (Left)"))
        self.play = small_button(tr("Play"), tr("Play or stop  (Space)"))
        self.play.setObjectName("primary")
        self.on = small_button(tr("Note ›"), tr("Play one note  (Right)"))
        self.tempo = TempoScale()
        self.tempo_words = label("key", "100 %")
        self.tempo_words.setMinimumWidth(theme.px(130))
        self.verdict = label("muted", "", wrap=True)
        self.verdict.hide()
        self.stretch = self._combo(tr("What is played of the piece"))
        self.strokes = self._combo(tr("Strokes"))
        for strokes in Strokes:
            self.strokes.addItem(sentence_like(in_words(strokes)), strokes)
        self.kind = self._combo(tr("Strings"))
        for kind in Kind:
            self.kind.addItem(sentence_like(in_words(kind)), kind)
        self.count_in = check_box(tr("Count-in"), tr("A bar is counted first  (C)"), on=True)
        self.heard = HeardRow()
        self.parts = self._combo(tr("Parts that are heard"))
        for parts in Parts:
            self.parts.addItem(sentence_like(in_words(parts)), parts)
        self.parts.setCurrentIndex(list(Parts).index(self.setup.parts))
        self.parts_volume = QSlider(Qt.Orientation.Horizontal)
        self.parts_volume.setRange(5, 100)
        self.parts_volume.setValue(100)
        self.parts_volume.setFixedWidth(theme.px(70))
        self.parts_volume.setAccessibleName(tr("How loud the other parts are"))
        self.parts_volume.setToolTip(tr("How loud the other parts are"))
        self.loop = check_box(tr("Loop"), tr("Over and over  (L)"))
        self.answer = check_box(tr("Your turn"), tr("After each section a pause to play it  (Y)"))
        self.mirror = self._combo(tr("Seen"))
        self.mirror.addItem(tr("As in a mirror"), True)
        self.mirror.addItem(tr("As the teacher sees it"), False)
        self.follow = self._combo(tr("Bow followed"))
        self.follow.addItem(tr("Nobody"))
        for clumsiness in Clumsiness:
            self.follow.addItem(say("Simulated: {clumsiness}", clumsiness=clumsiness))
        self.follow.addItem(tr("A device or file …"))
        self.try_it = small_button(tr("Try it"), tr("Speed, weight and contact by hand  (T)"))
        self.full = small_button(tr("Full screen"), tr("Nothing but the stage  (F11)"))

    def _combo(self, name: str) -> QComboBox:
        combo = QComboBox()
        combo.setAccessibleName(name)
        combo.setToolTip(tip(name))
        combo.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        combo.currentTextChanged.connect(lambda text: combo.setToolTip(tip(text)))
        return combo

    def _lay_out(self) -> None:
        flow = FlowLayout(gap=10)
        self._parts_group = _together(label("muted", tr("Parts")), self.parts, self.parts_volume)
        for group in (
            _together(self.start, self.back, self.play, self.on),
            _together(label("muted", tr("Tempo")), self.tempo, self.tempo_words),
            _together(self.count_in, self.heard),
            _together(self.loop, self.answer),
            _together(self.stretch),
            _together(label("muted", tr("Strokes")), self.strokes),
            _together(label("muted", tr("Strings")), self.kind),
            self._parts_group,
            _together(label("muted", tr("Follow")), self.follow),
            _together(self.mirror),
            _together(self.try_it, self.full),
        ):
            flow.addWidget(group)
        self.column.addLayout(flow)
        self.caution = label("muted", CAUTION, wrap=True)
        for words in (self.verdict, self.caution):
            self.column.addWidget(words)

    def _connect(self) -> None:
        self.start.clicked.connect(self.start_wanted)
        self.back.clicked.connect(lambda: self.step_wanted.emit(-1))
        self.on.clicked.connect(lambda: self.step_wanted.emit(1))
        self.play.clicked.connect(self.play_wanted)
        self.tempo.valueChanged.connect(self._changed)
        for combo in (self.stretch, self.strokes, self.kind, self.parts):
            combo.activated.connect(self._changed)
        self.parts_volume.valueChanged.connect(self._changed)
        for box in (self.count_in, self.loop, self.answer):
            box.toggled.connect(self._changed)
        self.heard.changed.connect(self.heard_changed)
        self.mirror.activated.connect(
            lambda _: self.mirror_wanted.emit(self.mirror.currentIndex() == 0)
        )
        self.follow.activated.connect(self.follow_wanted)
        self.full.clicked.connect(self.full_screen_wanted)
        self.try_it.clicked.connect(self.try_wanted)

    def _changed(self, _value: object = None) -> None:
        strokes = list(Strokes)[self.strokes.currentIndex()]
        kind = list(Kind)[self.kind.currentIndex()]
        stretch = self._stretches[max(0, self.stretch.currentIndex())]
        self.tempo_words.setText(f"{self.tempo.value()} %")
        wanted = ShowSetup(
            strokes, kind, self.tempo.value() / 100, stretch,
            self.count_in.isChecked(), self.loop.isChecked(), self.answer.isChecked(),
            self.setup.echoes, list(Parts)[self.parts.currentIndex()],
            self.parts_volume.value() / 100,
        )  # fmt: skip
        if wanted != self.setup:
            self.setup = wanted
            self.setup_wanted.emit(wanted)

    # told from outside

    def show_setup(self, setup: ShowSetup) -> None:
        """Stand as a setup says; nothing is asked for."""
        self.setup = setup
        widgets: tuple[QWidget, ...] = (
            self.strokes, self.kind, self.tempo, self.count_in, self.loop, self.answer,
        )  # fmt: skip
        blockers = [QSignalBlocker(widget) for widget in widgets]
        self.strokes.setCurrentIndex(list(Strokes).index(setup.strokes))
        self.kind.setCurrentIndex(list(Kind).index(setup.kind))
        self.tempo.setValue(round(setup.ratio * 100))
        self.count_in.setChecked(setup.count_in)
        self.loop.setChecked(setup.loop)
        self.answer.setChecked(setup.answer)
        for blocker in blockers:
            blocker.unblock()

    def show_parts(self, several: bool) -> None:
        """Whether there are other parts to be heard."""
        self._parts_group.setVisible(several)

    def show_stretches(self, found: list[Stretch], chosen: int = 0) -> None:
        """What may be played of the piece; the chosen one is taken."""
        self._stretches = found
        with QSignalBlocker(self.stretch):
            self.stretch.clear()
            self.stretch.addItems([s.name for s in found])
            self.stretch.setCurrentIndex(chosen)
        self.setup = replace(self.setup, stretch=found[chosen])

    def toggle_repeats(self) -> None:
        """The whole piece with its repeats, or without."""
        wanted = ONCE if self.stretch.currentText() != ONCE else self._stretches[0].name
        index = self.stretch.findText(wanted)
        if index >= 0:
            self.stretch.setCurrentIndex(index)
            self._changed()

    def change_tempo(self, percent: int) -> None:
        """Faster or slower by so much of the plan's tempo."""
        self.tempo.setValue(self.tempo.value() + percent)

    def show_prepared(self, prepared: Prepared) -> None:
        """Tell the tempo, and whether the plan stays as it is."""
        tempo = prepared.tempo
        bpm = prepared.base_bpm * prepared.setup.ratio
        sign = beat_sign(tempo.plan.part.tempo.beat_q)
        self.tempo_words.setText(f"{in_figures(prepared.setup.ratio, '.0%')}   {sign} = {bpm:.0f}")
        self.verdict.setText(tempo.text)
        self.verdict.setVisible(bool(tempo.text))
        self.verdict.setToolTip(tip(tempo.text))
        self.verdict.setObjectName("problem" if tempo.verdict is Verdict.BEYOND else "muted")
        self.verdict.style().polish(self.verdict)

    def show_window(self, window: tuple[float, float] | None, base_bpm: float) -> None:
        """The tempo window of the plan at its own tempo."""
        if window is None:
            self.tempo.clear_window()
        else:
            self.tempo.set_window(window[0] / base_bpm, window[1] / base_bpm)

    def show_playing(self, playing: bool) -> None:
        self.play.setText(tr("Stop") if playing else tr("Play"))
