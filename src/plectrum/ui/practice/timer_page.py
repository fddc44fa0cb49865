"""Practising by the clock: one stage after another, with pauses, cautions and a way to stop."""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence

from PySide6.QtCore import QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QHideEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import (
    QCheckBox,
    QHBoxLayout,
    QListWidget,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from plectrum.core.advice.care import BEFORE, CAUTION, LONG_DAY_MINUTES, PAIN_TEXT
from plectrum.core.document.homework import Outcome
from plectrum.core.practice.exercises.play import ExercisePlay
from plectrum.core.practice.exercises.tries import Tries, measures_bows
from plectrum.core.practice.practice_day import TimedTask
from plectrum.core.wording import say, sentence_like, tr
from plectrum.ui.look import theme
from plectrum.ui.look.flow_layout import FlowLayout
from plectrum.ui.look.labels import label, scrolling
from plectrum.ui.look.outcomes import OUTCOME_SIGNS
from plectrum.ui.look.strip import Strip
from plectrum.ui.moving.heard_row import HeardRow
from plectrum.ui.moving.moving_bow import MovingBow
from plectrum.ui.playback.speaker import Speaker
from plectrum.ui.practice.making import MovingTune

TICK_MS = 100
NOTHING = tr(
    "Nothing is planned for today. Choose a day on the Week page, an exercise or a routine."
)
LONG = tr("This is a long day. Better in several short sessions with pauses between.")
DONE = tr("Done for today. Loosen the bow, wipe the strings, put everything away.")
HOW = tr("Time is over. How did it go?")


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
        stage_begun: another stage is shown, which wants its moving bow. tried: the stage, and what
            was counted and measured in it. message: for the status line.
    """

    marked_as = Signal(str, object)
    finished = Signal(int)
    hurt = Signal(int)
    stage_begun = Signal(object)
    tried = Signal(object, object)
    message = Signal(str)

    def __init__(
        self,
        speaker: Speaker,
        clock: Callable[[], float] = time.monotonic,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self._clock = clock
        self.stages: tuple[TimedTask, ...] = ()
        self.at = 0
        self.tries = Tries()
        self._shown: TimedTask | None = None
        self.moving = MovingBow(speaker)
        self.moving.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Ignored)
        self.heard = HeardRow(voice=True)
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
        self.list.setAccessibleName(tr("Stages of today"))
        self.list.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.list.setWordWrap(True)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.counted = label("why", wrap=True)
        self.checklist = QWidget()
        self._checks = FlowLayout(self.checklist, gap=12)
        self._checks.setContentsMargins(0, 0, 0, 0)
        self.caution = label("muted", CAUTION, wrap=True)
        self.long = label("problem", LONG, wrap=True)
        self.play = QPushButton(tr("Start"))
        self.play.setObjectName("primary")
        self.play.setToolTip(tr("Start or hold the clock  (Space)"))
        self.good_button = QPushButton(tr("&Went well"))
        self.again_button = QPushButton(tr("&Again"))
        self.skip = QPushButton(tr("&Next"))
        self.pain = QPushButton(tr("It h&urts"))
        self.hit, self.missed = QPushButton(tr("Hit")), QPushButton(tr("Missed"))
        self.hit.setToolTip(tr("This try was right  (1)"))
        self.missed.setToolTip(tr("This try was not  (0)"))
        self.bow_end = QPushButton(tr("Bow ended"))
        self.bow_end.setToolTip(tr("The bow does not sound clean any more: how long it was  (B)"))
        self.take_back = QPushButton(tr("Take back"))
        self.take_back.setToolTip(tr("The last try is as if it had not been  (Backspace)"))
        self._timer = QTimer(self, interval=TICK_MS)
        self._timer.timeout.connect(self._tick)
        self._lay_out()
        self._connect()
        self._show()

    @property
    def focus_target(self) -> QWidget:
        """What answers the keys of the page. No proxy: the Tab key would pass by what is before."""
        return self.play

    def _lay_out(self) -> None:
        head = QWidget()
        top = QVBoxLayout(head)
        top.setContentsMargins(20, 0, 16, 6)
        top.setSpacing(4)
        row = QHBoxLayout()
        row.addWidget(self.title, 1)
        row.addWidget(self.count)
        top.addWidget(self.long)
        top.addLayout(row)
        top.addWidget(self.bar)
        self.long.hide()
        texts = QWidget()
        said = QVBoxLayout(texts)
        said.setContentsMargins(20, 6, 16, 6)
        said.setSpacing(4)
        for widget in (self.call, self.checklist, self.counted, self.what, self.good):
            said.addWidget(widget)
        said.addStretch(1)
        self._texts = scrolling(texts, "plain", tr("What to do"))
        left = QVBoxLayout()
        left.setContentsMargins(0, 0, 0, 0)
        left.setSpacing(0)
        left.addWidget(head)
        left.addWidget(self.moving, 1)
        left.addWidget(self._texts)
        left.addWidget(self._controls())
        whole = QHBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        whole.addLayout(left, 1)
        whole.addWidget(self.list)
        self.fit()

    def _controls(self) -> QWidget:
        """What is always in reach, under all that may scroll."""
        strip = Strip()
        for row in (
            (self.play, self.good_button, self.again_button, self.skip, self.pain),
            (self.hit, self.missed, self.bow_end, self.take_back, self.heard),
        ):
            flow = FlowLayout(gap=8)
            for button in row:
                flow.addWidget(button)
            strip.column.addLayout(flow)
        strip.column.addWidget(self.caution)
        return strip

    def fit(self) -> None:
        """As wide as the interface scale wants it."""
        self.list.setFixedWidth(theme.px(220))
        self.moving.setMinimumHeight(theme.px(190))
        self._texts.setFixedHeight(theme.px(136))

    def _connect(self) -> None:
        self.play.clicked.connect(self.toggle)
        self.good_button.clicked.connect(lambda: self.mark(Outcome.GOOD))
        self.again_button.clicked.connect(lambda: self.mark(Outcome.AGAIN))
        self.skip.clicked.connect(self.next)
        self.pain.clicked.connect(self.stop_for_pain)
        self.hit.clicked.connect(lambda: self.count_try(hit=True))
        self.missed.clicked.connect(lambda: self.count_try(hit=False))
        self.bow_end.clicked.connect(self.end_bow)
        self.take_back.clicked.connect(self.take_try_back)
        self.heard.changed.connect(self.moving.transport.set_heard)
        self.moving.transport.set_heard(self.heard.heard)
        self.moving.message.connect(self.message)
        self.moving.moved.connect(self._moved)

    def set_voice(self, volume: int) -> None:
        """The voice so loud, as it was set last."""
        self.heard.set_voice(volume, on=True)
        self.moving.transport.set_heard(self.heard.heard)

    # running

    def load(self, stages: Sequence[TimedTask]) -> None:
        """Have other stages ready, from the first."""
        self.stages = tuple(stages)
        self.at, self.marks = 0, {}
        self.tries, self._shown = Tries(), None
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
            self.moving.transport.play()
        self._show()

    def _hold(self) -> None:
        self._passed_s = self.passed_s
        self._since_s = None
        self._timer.stop()
        self.moving.transport.pause()

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
        self._tell_tries()
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
        self._tell_tries()
        self.stages = self.stages[: self.at]
        self._show()
        self.call.setText(PAIN_TEXT)
        self.hurt.emit(self.minutes)

    # counting

    def count_try(self, *, hit: bool) -> None:
        """One try was right, or was not."""
        if self.stage is not None and not self.stage.is_pause:
            self.tries.count(hit=hit)
            self.counted.setText(self.tries.words)

    def end_bow(self) -> None:
        """The bow that sounds has ended: how long it was."""
        play = self.moving.play
        if play is not None and self.tries.bow_ended(play, self.moving.transport.now_s()):
            self.counted.setText(self.tries.words)

    def take_try_back(self) -> None:
        """The last try is as if it had not been."""
        self.tries.take_back()
        self.counted.setText(self.tries.words)

    def _tell_tries(self) -> None:
        stage = self.stage
        if stage is not None and not self.tries.none:
            self.tried.emit(stage, self.tries)
        self.tries = Tries()

    # what moves

    def show_moving(self, stage: TimedTask, moving: ExercisePlay | MovingTune) -> None:
        """What a stage moves is ready; another stage may be shown by now."""
        if stage is not self.stage:
            return
        if isinstance(moving, ExercisePlay):
            self.moving.set_exercise(moving)
        else:
            self.moving.set_tune(moving.performance, moving.others)
        if self.running:
            self.moving.transport.play()
        self._show()

    def _begin_stage(self) -> None:
        """Another stage: what moves in it is asked for."""
        self._shown = self.stage
        self.moving.clear()
        self.counted.setText("")
        self._show_checks()
        if self._shown is not None and not self._shown.is_pause:
            self.stage_begun.emit(self._shown)

    def _show_checks(self) -> None:
        """What is looked at one by one in the exercise of this stage."""
        while (item := self._checks.takeAt(0)) is not None:
            if (box := item.widget()) is not None:
                box.deleteLater()
        made = self._shown.made if self._shown is not None else None
        exercise = made.exercise if made is not None else None
        for name in exercise.checks if exercise is not None else ():
            box = QCheckBox(name)
            box.toggled.connect(lambda on, name=name: self.tries.checks.update({name: on}))
            self.tries.checks[name] = False
            self._checks.addWidget(box)
        self.checklist.setVisible(self._checks.count() > 0)

    def _moved(self, _at_s: float) -> None:
        if self.stage is not None and self.moving.play is not None:
            self.call.setText(self._call(self.stage, self.stage.seconds - self.passed_s))

    def hideEvent(self, event: QHideEvent) -> None:
        super().hideEvent(event)
        self._hold()
        self._show()

    # showing

    def _show(self) -> None:
        stage = self.stage
        if stage is not self._shown:
            self._begin_stage()
        self.moving.setVisible(not self.moving.empty)
        play = self.moving.play
        self.bow_end.setVisible(play is not None and measures_bows(play))
        for button in (self.hit, self.missed, self.take_back):
            button.setVisible(stage is not None and not stage.is_pause)
        self._show_list()
        self.list.setVisible(len(self.stages) > 1)
        for button in (self.play, self.good_button, self.again_button, self.skip, self.pain):
            button.setEnabled(stage is not None)
        self.play.setText(tr("Hold") if self.running else tr("Start"))
        if stage is None:
            self.title.setText(DONE if self.stages else NOTHING)
            for text in (self.count, self.call, self.what, self.good):
                text.setText("")
            self.bar.share = 1.0 if self.stages else 0.0
            self.bar.update()
            return
        self.title.setText(sentence_like(stage.title))
        left_s = max(0.0, stage.seconds - self.passed_s)
        whole = round(left_s)
        self.count.setText(f"{whole // 60}:{whole % 60:02d}")
        self.bar.share = min(1.0, self.passed_s / stage.seconds)
        self.bar.update()
        begun = self.running or self._passed_s > 0 or self.at > 0
        self.call.setText(self._call(stage, left_s) if begun else BEFORE)
        self.call.setVisible(bool(self.call.text()))
        self.what.setText(stage.what)
        self.good.setText(say("Good when: {good}.", good=stage.good))
        self.caution.setText(stage.caution)
        for button in (self.good_button, self.again_button):
            button.setVisible(not stage.is_pause)

    def _call(self, stage: TimedTask, left_s: float) -> str:
        """The step of an exercise that is due and which time it is, or what to do now."""
        if left_s <= 0:
            return HOW
        moment, play = self.moving.moment, self.moving.play
        if moment is None or play is None:
            return ""
        text = moment.step.text if not moment.hidden else tr("listen: where does it go?")
        at_s = self.moving.transport.now_s()
        rest_s = play.seconds_of(max(0, moment.index)) * (1 - moment.share)
        words = f"{text[0].upper()}{text[1:]}" if text else ""
        again = play.round_at(at_s)
        return f"{words}  ·  {rest_s:.0f} s" + (
            say("  ·  time {again}", again=again) if again > 1 else ""
        )

    def _show_list(self) -> None:
        lines = []
        for k, stage in enumerate(self.stages):
            lead = OUTCOME_SIGNS[self.marks[k]] if k in self.marks else "  "
            lead = "▸" if k == self.at else lead
            lines.append(
                say(
                    "{lead}  {title}, {minutes} min",
                    lead=lead,
                    title=stage.title,
                    minutes=max(1, round(stage.seconds / 60)),
                )
            )
        if lines != [self.list.item(k).text() for k in range(self.list.count())]:
            self.list.clear()
            self.list.addItems(lines)
