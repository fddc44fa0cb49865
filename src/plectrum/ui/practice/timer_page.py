"""Practising by the clock: one stage after another, with pauses, cautions and a way to stop."""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence

from PySide6.QtCore import QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QHideEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QListWidget, QPushButton, QVBoxLayout, QWidget

from plectrum.core.document.homework import Outcome
from plectrum.core.practice.care import CAUTION, LONG_DAY_MINUTES, PAIN_TEXT
from plectrum.core.practice.practice_day import TimedTask
from plectrum.ui.look import theme
from plectrum.ui.look.flow_layout import FlowLayout
from plectrum.ui.look.labels import label, scrolling
from plectrum.ui.look.outcomes import OUTCOME_SIGNS

TICK_MS = 100
NOTHING = "Nothing is planned for today. Choose a day on the Week page, or a drill."
LONG = "This is a long day. Better in several short sessions with pauses between."
DONE = "Done for today. Loosen the bow, wipe the strings, put everything away."
HOW = "Time is over. How did it go?"


class _Bar(QWidget):
    """How much of the stage has passed."""

    def __init__(self) -> None:
        super().__init__()
        self.share = 0.0
        self.setFixedHeight(theme.px(10))

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        whole = QRectF(self.rect())
        painter.fillRect(whole, theme.colours().panel)
        whole.setWidth(whole.width() * self.share)
        painter.fillRect(whole, theme.colours().accent)


class TimerPage(QWidget):
    """Runs stages. The clock can be given, so that tests need not wait.

    Signals:
        marked_as: the key of a stage's task and how it went. finished: all stages are over, with
            the minutes played. hurt: something hurts, with the minutes played until then.
    """

    marked_as = Signal(str, object)
    finished = Signal(int)
    hurt = Signal(int)

    def __init__(
        self, clock: Callable[[], float] = time.monotonic, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self._clock = clock
        self.stages: tuple[TimedTask, ...] = ()
        self.at = 0
        self.marks: dict[int, Outcome] = {}
        self._passed_s = 0.0
        self._played_s = 0.0
        self._since_s: float | None = None
        self.title = label("big", wrap=True)
        self.count = label("clock")
        self.bar = _Bar()
        self.call = label("notetitle", wrap=True)
        self.what = label("sentence", wrap=True)
        self.good = label("why", wrap=True)
        self.list = QListWidget()
        self.list.setAccessibleName("Stages of today")
        self.list.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.caution = label("muted", CAUTION, wrap=True)
        self.long = label("problem", LONG, wrap=True)
        self.play = QPushButton("Start")
        self.play.setObjectName("primary")
        self.setFocusProxy(self.play)
        self.play.setToolTip("Start or hold the clock  (Space)")
        self.good_button = QPushButton("&Went well")
        self.again_button = QPushButton("&Again")
        self.skip = QPushButton("&Next")
        self.pain = QPushButton("It h&urts")
        self._timer = QTimer(self, interval=TICK_MS)
        self._timer.timeout.connect(self._tick)
        self._lay_out()
        self._connect()
        self._show()

    def _lay_out(self) -> None:
        inner = QWidget()
        column = QVBoxLayout(inner)
        column.setContentsMargins(32, 20, 32, 12)
        column.setSpacing(8)
        for widget in (
            self.long,
            self.title,
            self.count,
            self.bar,
            self.call,
            self.what,
            self.good,
        ):
            column.addWidget(widget)
        self.long.hide()
        buttons = QWidget()
        row = FlowLayout(buttons, gap=8)
        row.setContentsMargins(0, 6, 0, 6)
        for button in (self.play, self.good_button, self.again_button, self.skip, self.pain):
            row.addWidget(button)
        column.addWidget(buttons)
        column.addWidget(self.list, 1)
        column.addWidget(self.caution)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addWidget(scrolling(inner, "plain"))

    def _connect(self) -> None:
        self.play.clicked.connect(self.toggle)
        self.good_button.clicked.connect(lambda: self.mark(Outcome.GOOD))
        self.again_button.clicked.connect(lambda: self.mark(Outcome.AGAIN))
        self.skip.clicked.connect(self.next)
        self.pain.clicked.connect(self.stop_for_pain)

    # running

    def load(self, stages: Sequence[TimedTask]) -> None:
        """Have other stages ready, from the first."""
        self.stages = tuple(stages)
        self.at, self.marks = 0, {}
        self._hold()
        self._passed_s = self._played_s = 0.0
        minutes = sum(s.seconds for s in self.stages if not s.is_pause) / 60
        self.long.setVisible(minutes > LONG_DAY_MINUTES)
        self._show()

    @property
    def stage(self) -> TimedTask | None:
        return self.stages[self.at] if self.at < len(self.stages) else None

    @property
    def running(self) -> bool:
        return self._since_s is not None

    @property
    def passed_s(self) -> float:
        """How much of the stage has passed."""
        since = self._clock() - self._since_s if self._since_s is not None else 0.0
        return self._passed_s + since

    def toggle(self) -> None:
        """Start or hold the clock."""
        if self.stage is None:
            return
        if self.running:
            self._hold()
        else:
            self._since_s = self._clock()
            self._timer.start()
        self._show()

    def _hold(self) -> None:
        self._passed_s = self.passed_s
        self._since_s = None
        self._timer.stop()

    def _tick(self) -> None:
        stage = self.stage
        if stage is not None and self.passed_s >= stage.seconds:
            self._hold()
            self._passed_s = stage.seconds
            if stage.is_pause:
                self.next()
                return
        self._show()

    def next(self) -> None:
        """To the next stage, whose clock waits to be started."""
        if self.stage is None:
            return
        self._hold()
        self._count_stage()
        self.at += 1
        self._show()
        if self.stage is None:
            self.finished.emit(self.minutes)

    def _count_stage(self) -> None:
        stage = self.stage
        if stage is not None and not stage.is_pause:
            self._played_s += min(self._passed_s, stage.seconds)
        self._passed_s = 0.0

    @property
    def minutes(self) -> int:
        """Whole minutes played so far."""
        return round(self._played_s / 60)

    def mark(self, mark: Outcome) -> None:
        """How the stage went, and on to the next."""
        stage = self.stage
        if stage is None:
            return
        if stage.key:
            self.marks[self.at] = mark
            self.marked_as.emit(stage.key, mark)
        self.next()

    def stop_for_pain(self) -> None:
        """Something hurts: practice ends here."""
        self._hold()
        self._count_stage()
        self.stages = self.stages[: self.at]
        self._show()
        self.call.setText(PAIN_TEXT)
        self.hurt.emit(self.minutes)

    def hideEvent(self, event: QHideEvent) -> None:
        super().hideEvent(event)
        self._hold()
        self._show()

    # showing

    def _show(self) -> None:
        stage = self.stage
        self._show_list()
        for button in (self.play, self.good_button, self.again_button, self.skip, self.pain):
            button.setEnabled(stage is not None)
        self.play.setText("Hold" if self.running else "Start")
        if stage is None:
            self.title.setText(DONE if self.stages else NOTHING)
            for text in (self.count, self.call, self.what, self.good):
                text.setText("")
            self.bar.share = 1.0 if self.stages else 0.0
            self.bar.update()
            return
        self.title.setText(stage.title[0].upper() + stage.title[1:])
        left_s = max(0.0, stage.seconds - self.passed_s)
        whole = round(left_s)
        self.count.setText(f"{whole // 60}:{whole % 60:02d}")
        self.bar.share = min(1.0, self.passed_s / stage.seconds)
        self.bar.update()
        self.call.setText(self._call(stage, left_s))
        self.what.setText(stage.what)
        self.good.setText(f"Good when: {stage.good}.")
        self.caution.setText(stage.caution)
        for button in (self.good_button, self.again_button):
            button.setVisible(not stage.is_pause)

    def _call(self, stage: TimedTask, left_s: float) -> str:
        """The step of a drill that is due, or what to do now."""
        if left_s <= 0:
            return HOW
        called = stage.step_at(self.passed_s)
        if called is None:
            return ""
        step, rest_s = called
        return f"{step.text[0].upper()}{step.text[1:]}  ·  {rest_s:.0f} s"

    def _show_list(self) -> None:
        lines = []
        for k, stage in enumerate(self.stages):
            lead = OUTCOME_SIGNS[self.marks[k]] if k in self.marks else "  "
            lead = "▸" if k == self.at else lead
            lines.append(f"{lead}  {stage.title}, {max(1, round(stage.seconds / 60))} min")
        if lines != [self.list.item(k).text() for k in range(self.list.count())]:
            self.list.clear()
            self.list.addItems(lines)
