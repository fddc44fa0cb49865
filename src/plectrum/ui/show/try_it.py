"""Try it: one open string, and speed, weight and contact point by hand.

The teacher's demonstration of why it choked: the tone, the string and the wedge answer together.
"""

from __future__ import annotations

import math
import random
import time
from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QHideEvent, QPainter, QPainterPath, QPaintEvent, QPen
from PySide6.QtWidgets import (
    QButtonGroup,
    QGridLayout,
    QHBoxLayout,
    QPushButton,
    QSlider,
    QVBoxLayout,
    QWidget,
)

from plectrum.core.instrument.bow import Bow
from plectrum.core.instrument.specification import Instrument
from plectrum.core.planning.contact.limits import LANES_N, MIDDLE_LANE
from plectrum.core.playing.motion import BowState
from plectrum.core.sound.live import Answer, Hand, LiveTone, answer, limits_n
from plectrum.core.wording import say, tr
from plectrum.ui.look import theme
from plectrum.ui.look.labels import label
from plectrum.ui.moving.drawn_bow import DrawnBow
from plectrum.ui.moving.road import RoadGeometry, paint_ground, paint_lane
from plectrum.ui.playback.speaker import Speaker
from plectrum.ui.show.wedge import Wedge

FRAME_MS = 16
STEPS = 1000
SPEEDS_M_S = (0.03, 1.0)
WEIGHTS = (0.01, 1.6)  # of the heaviest at 0.3 m/s in the middle lane
LANES = (0.6, 5.4)
TURNS_AT = (0.06, 0.94)
SLIDERS = {"Speed": tr("Speed"), "Weight": tr("Weight"), "Contact": tr("Contact")}
AHEAD_S = 0.06  # a hand wants to hear at once
RIGHT, TOO_MUCH, TOO_LITTLE = 0.5, 1.15, -0.25  # between the limits, for the three examples

WORDS = {
    Answer.SINGS: tr("It sings."),
    Answer.CHOKES: tr("It chokes: too heavy for this speed here."),
    Answer.WHISTLES: tr("It whistles: too light for this speed here."),
    Answer.SILENT: tr("The bow stands still."),
}
REMEDIES = {
    Answer.SINGS: tr("Faster is louder, and so is nearer the bridge."),
    Answer.CHOKES: tr("Lighter, or faster, or nearer the bridge. And loosen the hand."),
    Answer.WHISTLES: tr("Heavier, or slower, or farther from the bridge."),
    Answer.SILENT: "",
}


def _between(ends: tuple[float, float], value: int) -> float:
    """A slider's value on a scale of logarithms."""
    low, high = ends
    return float(low * (high / low) ** (value / STEPS))


def _back(ends: tuple[float, float], value: float) -> int:
    low, high = ends
    return round(STEPS * math.log(max(value, low) / low) / math.log(high / low))


class TryRoad(QWidget):
    """The road with a bow going to and fro, and the string moving as it would."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setMinimumHeight(130)
        self.frog_right = True
        self._bow: Bow | None = None
        self._state: BowState | None = None
        self._drawn = DrawnBow()
        self._answer = Answer.SILENT
        self._swing = 0.0
        self._chance = random.Random(3)
        self.setAccessibleName(tr("The bow on the string"))

    def show_bow(self, bow: Bow, state: BowState, answer: Answer, swing: float) -> None:
        """Show a moment; `swing` is how wide the string moves, 1 being much."""
        self._bow, self._state, self._answer, self._swing = bow, state, answer, swing
        self.update()

    @property
    def geometry_now(self) -> RoadGeometry:
        unit = max(0.6, min(self.width() / 900, self.height() / 300))
        return RoadGeometry(QRectF(self.rect()).adjusted(8, 8, -8, -8), unit, self.frog_right)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colours().paper)
        if self._bow is None or self._state is None:
            painter.end()
            return
        road = self.geometry_now
        paint_ground(painter, road)
        paint_lane(painter, road, self._state.lane)
        self._paint_string(painter, road)
        painter.setClipRect(road.rect)
        self._drawn.paint(painter, road, self._bow, self._state, None)
        painter.end()

    def _paint_string(self, painter: QPainter, road: RoadGeometry) -> None:
        """A belly when it sings, a rattle when it chokes, two thin bellies when it whistles."""
        now, unit, x = theme.colours(), road.unit, road.string_x
        top, bottom = road.rect.top(), road.rect.bottom() - 30 * unit
        tall = bottom - top
        wide = 26 * unit * min(1.0, self._swing)
        colour = now.accent if self._answer is Answer.SINGS else now.problem
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if self._answer is Answer.CHOKES:
            for _ in range(3):
                path = QPainterPath(QPointF(x, top))
                for k in range(1, 15):
                    shift = self._chance.uniform(-1, 1) * (6 + wide * 0.6) if k < 14 else 0
                    path.lineTo(QPointF(x + shift, top + tall * k / 14))
                painter.setPen(QPen(colour, 1.6 * unit))
                painter.drawPath(path)
            return
        bellies = 1 if self._answer is Answer.SINGS else 2
        if self._answer is not Answer.SILENT:
            width = wide if bellies == 1 else 0.35 * wide + 3 * unit
            painter.setPen(QPen(colour, 1.8 * unit))
            for side in (-1, 1):
                path = QPainterPath(QPointF(x, top))
                for k in range(1, 41):
                    belly = math.sin(math.pi * bellies * k / 40)
                    path.lineTo(QPointF(x + side * width * belly, top + tall * k / 40))
                painter.drawPath(path)
        painter.setPen(QPen(now.muted, 3 * unit))
        painter.drawLine(QPointF(x, top), QPointF(x, bottom))


class TryIt(QWidget):
    """The page: road, sliders, wedge, words."""

    closed = Signal()
    message = Signal(str)

    def __init__(self, speaker: Speaker, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._speaker = speaker
        self._own: Instrument | None = None
        self._bow: Bow | None = None
        self._tone: LiveTone | None = None
        self._string = 2
        self._position, self._way = 0.3, 1.0
        self._last_s = 0.0
        self.road = TryRoad()
        self.wedge = Wedge()
        self.answer = Answer.SILENT
        self._make()
        self._lay_out()
        self._timer = QTimer(self, interval=FRAME_MS, timerType=Qt.TimerType.PreciseTimer)
        self._timer.timeout.connect(self._tick)

    def _make(self) -> None:
        self.words = label("big", "")
        self.remedy = label("sentence", "", wrap=True)
        self.sliders: dict[str, QSlider] = {}
        self.numbers = {}
        for name, words in SLIDERS.items():
            slider = QSlider(Qt.Orientation.Horizontal)
            slider.setRange(0, STEPS)
            slider.setAccessibleName(words)
            slider.setPageStep(STEPS // 10)
            slider.setSingleStep(STEPS // 50)
            slider.valueChanged.connect(self._changed)
            self.sliders[name] = slider
            self.numbers[name] = label("muted", "")
        self.play = QPushButton(tr("Draw the bow"))
        self.play.setCheckable(True)
        self.play.toggled.connect(self._play)
        self.strings = QButtonGroup(self)
        self.back = QPushButton(tr("Back to the tune"))
        self.back.clicked.connect(self.closed)
        self.examples: list[QPushButton] = []
        for text, share in ((tr("Let it sing"), RIGHT), (tr("Choke it"), TOO_MUCH),
                            (tr("Let it whistle"), TOO_LITTLE)):  # fmt: skip
            button = QPushButton(text)
            button.clicked.connect(self._example_of(share))
            self.examples.append(button)

    def _example_of(self, share: float) -> Callable[[], None]:
        return lambda: self.lean(share)

    def _lay_out(self) -> None:
        grid = QGridLayout()
        grid.setHorizontalSpacing(12)
        grid.setVerticalSpacing(12)
        ends = {
            "Speed": (tr("slow"), tr("fast")),
            "Weight": (tr("light"), tr("heavy")),
            "Contact": (tr("bridge"), tr("fingerboard")),
        }
        for row, (name, slider) in enumerate(self.sliders.items()):
            grid.addWidget(label("key", SLIDERS[name]), row, 0)
            grid.addWidget(label("muted", ends[name][0]), row, 1)
            grid.addWidget(slider, row, 2)
            grid.addWidget(label("muted", ends[name][1]), row, 3)
            self.numbers[name].setMinimumWidth(theme.px(80))
            grid.addWidget(self.numbers[name], row, 4)
        self._string_row = QHBoxLayout()
        self._string_row.addWidget(label("muted", tr("String")))
        buttons = QHBoxLayout()
        buttons.addWidget(self.play)
        for button in self.examples:
            buttons.addWidget(button)
        buttons.addStretch(1)
        left = QVBoxLayout()
        left.addLayout(self._string_row)
        left.addLayout(grid)
        left.addLayout(buttons)
        left.addWidget(self.words)
        left.addWidget(self.remedy)
        left.addStretch(1)
        lower = QHBoxLayout()
        lower.addLayout(left, 3)
        lower.addSpacing(24)
        lower.addWidget(self.wedge, 2)
        head = QHBoxLayout()
        head.addWidget(label("title", tr("Try it: one open string")))
        head.addStretch(1)
        head.addWidget(self.back)
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 10, 16, 12)
        column.addLayout(head)
        column.addWidget(self.road, 3)
        column.addSpacing(8)
        column.addLayout(lower, 4)

    # what is played

    def set_instrument(self, own: Instrument, bow: Bow) -> None:
        """The instrument and bow to try."""
        if own == self._own and bow == self._bow:
            return
        self._own, self._bow = own, bow
        for button in self.strings.buttons():
            self.strings.removeButton(button)
            button.deleteLater()
        while self._string_row.count() > 1:
            self._string_row.takeAt(1)
        for k, name in enumerate(own.string_names):
            button = QPushButton(name)
            button.setCheckable(True)
            button.setAccessibleName(say("{name} string", name=name))
            self.strings.addButton(button, k)
            self._string_row.addWidget(button)
            button.clicked.connect(lambda _=False, number=k: self.set_string(number))
        self._string_row.addStretch(1)
        self.sliders["Speed"].setValue(_back(SPEEDS_M_S, 0.25))
        self.sliders["Contact"].setValue(STEPS // 2)
        self.set_string(2)
        self._weigh(RIGHT)

    def set_string(self, number: int) -> None:
        """Another open string, 0 the lowest."""
        self._string = number
        self.strings.button(number).setChecked(True)
        playing = self.play.isChecked()
        if self._own is not None:
            self._tone = LiveTone(self._own, number)
        self._changed()
        if playing:
            self._play(True)

    @property
    def hand(self) -> Hand:
        """What the sliders say; the speed without its way."""
        return Hand(
            _between(SPEEDS_M_S, self.sliders["Speed"].value()),
            self._most_n() * _between(WEIGHTS, self.sliders["Weight"].value()),
            self._lane_mm(),
        )

    @property
    def _lane(self) -> float:
        low, high = LANES
        return low + (high - low) * self.sliders["Contact"].value() / STEPS

    def _lane_mm(self) -> float:
        way_mm = self._own.bridge_to_fingerboard_mm if self._own is not None else 58.0
        return (self._lane - 0.5) / LANES_N * way_mm

    def _most_n(self) -> float:
        """The heaviest weight at 0.3 m/s in the middle lane: the scale of the weight slider."""
        if self._own is None:
            return 1.0
        middle = (MIDDLE_LANE - 0.5) / LANES_N * self._own.bridge_to_fingerboard_mm
        return limits_n(self._own, self._string, Hand(0.3, 1.0, middle))[1]

    def lean(self, share: float) -> None:
        """Draw the bow with a weight at a share between the limits."""
        self._weigh(share)
        if not self.play.isChecked():
            self.play.setChecked(True)

    def _weigh(self, share: float) -> None:
        if self._own is None:
            return
        low, high = limits_n(self._own, self._string, self.hand)
        weight = low * (high / low) ** share
        self.sliders["Weight"].setValue(_back(WEIGHTS, weight / self._most_n()))

    # playing

    def _play(self, on: bool) -> None:
        self.play.setText(tr("Stop the bow") if on else tr("Draw the bow"))
        if not on or self._tone is None:
            self._timer.stop()
            self._speaker.stop()
            self._changed()
            return
        self._last_s = time.perf_counter()
        self._tell_tone()
        if not self._speaker.play(self._tone, ahead_s=AHEAD_S):
            self.message.emit(self._speaker.why)
        self._timer.start()
        self._changed()

    def _tick(self) -> None:
        now_s = time.perf_counter()
        passed_s, self._last_s = now_s - self._last_s, now_s
        hair_m = self._bow.hair_mm / 1000 if self._bow is not None else 0.65
        self._position += self._way * self.hand.speed_m_s * passed_s / hair_m
        low, high = TURNS_AT
        if not low < self._position < high:
            self._way = 1.0 if self._position <= low else -1.0
            self._position = min(high, max(low, self._position))
            self._tell_tone()
        self._draw()

    def _tell_tone(self) -> None:
        if self._tone is not None:
            hand = self.hand
            self._tone.set(Hand(self._way * hand.speed_m_s, hand.weight_n, hand.contact_mm))

    def _changed(self, _value: int = 0) -> None:
        if self._own is None:
            return
        hand = self.hand
        moving = self.play.isChecked()
        self.answer = answer(self._own, self._string, hand) if moving else Answer.SILENT
        self.words.setText(WORDS[self.answer])
        self.remedy.setText(REMEDIES[self.answer])
        self.numbers["Speed"].setText(say("{speed:.0f} cm/s", speed=hand.speed_m_s * 100))
        self.numbers["Weight"].setText(say("{weight:.2f} N", weight=hand.weight_n))
        self.numbers["Contact"].setText(say("{contact:.0f} mm", contact=hand.contact_mm))
        low, high = limits_n(self._own, self._string, hand)
        speed = hand.speed_m_s
        self.wedge.show_point(
            (low / speed, high / speed),
            (SPEEDS_M_S[1] * 0.8, self._most_n() * WEIGHTS[1]),
            (min(speed, SPEEDS_M_S[1] * 0.8), hand.weight_n),
            answer(self._own, self._string, hand),
        )
        self._tell_tone()
        self._draw()

    def _draw(self) -> None:
        if self._bow is None or self._own is None:
            return
        hand = self.hand
        moving = self.play.isChecked()
        speed = self._way * hand.speed_m_s * 1000 if moving else 0.0
        state = BowState(
            None, 0, False, 0.0, None, self._position, speed, 0.0, 2 * self._string + 1.0,
            self._lane, hand.weight_n, 0.5, 0.0,
        )  # fmt: skip
        beta = hand.contact_mm / self._own.string_length_mm
        self.road.show_bow(self._bow, state, self.answer, hand.speed_m_s / beta / 3.0)

    def end(self) -> None:
        """Stop the bow."""
        self.play.setChecked(False)

    def hideEvent(self, event: QHideEvent) -> None:
        super().hideEvent(event)
        self.end()
