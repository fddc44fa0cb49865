"""Measuring: a stop-watch by one key, values, a followed bow; and the limits they propose."""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date
from statistics import median
from typing import TYPE_CHECKING

from PySide6.QtCore import QRect, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QHideEvent, QShowEvent
from PySide6.QtWidgets import (
    QComboBox,
    QDoubleSpinBox,
    QHBoxLayout,
    QListView,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from plectrum.core.advice.care import CAUTION
from plectrum.core.errors import PlectrumError
from plectrum.core.instrument.bow import Bow
from plectrum.core.instrument.specification import instrument, string_words
from plectrum.core.log.limits import Proposal
from plectrum.core.log.measuring import StopWatch, check_value
from plectrum.core.log.records import BOUNDS, UNITS, Measure, Measured, Student
from plectrum.core.score.model import Direction
from plectrum.core.wording import in_figures, in_words, say, sentence_like, tr
from plectrum.ui.log.pacing_bow import PacingBow
from plectrum.ui.look import theme
from plectrum.ui.look.flow_layout import FlowLayout
from plectrum.ui.look.labels import label, scrolling, set_side_width

if TYPE_CHECKING:
    from plectrum.core.log.plans import OutOfDate

TIMED = (Measure.LONGEST_BOW, Measure.LEVEL_CHANGE)
EVENTS = (Measure.ROSIN, Measure.REHAIR)
WITH_STRING = (Measure.LONGEST_BOW, Measure.FASTEST_BOW, Measure.STROKES)
OFFERED = tuple(m for m in Measure if m is not Measure.TRIES)  # tries are counted while doing
TICK_MS = 50
WHOLE = tr("whole piece")


@dataclass(frozen=True, slots=True)
class Aim:
    """How long a bow is to last, on which part of which bow."""

    seconds: float
    bow: Bow
    part: tuple[float, float]


def _clock_words(seconds: float) -> str:
    return say("{seconds:.1f} s", seconds=seconds)


class MeasurePage(QWidget):
    """Signals: measured with records; follow_wanted: a bow to be read; take_wanted with the
    proposals that are ticked; failed with an error."""

    measured = Signal(object)
    follow_wanted = Signal()
    take_wanted = Signal(object)
    failed = Signal(object)

    def __init__(
        self,
        clock: Callable[[], float] = time.monotonic,
        today: Callable[[], date] = date.today,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self._clock, self._today = clock, today
        self.student: Student | None = None
        self.watch = StopWatch()
        self.proposals: tuple[Proposal, ...] = ()
        self.measure, self.string, self.direction = QComboBox(), QComboBox(), QComboBox()
        for measure in OFFERED:
            self.measure.addItem(sentence_like(in_words(measure)))
        for direction in Direction:
            self.direction.addItem(in_words(direction), str(direction))
        self.section = QComboBox()
        self.section.setEditable(True)
        self.section.addItems([WHOLE, *"ABCDEFGH"])
        self.section.setAccessibleName(tr("Section"))
        self.section.setToolTip(tr("Section of the open piece"))
        for combo, name in (
            (self.measure, tr("What is measured")),
            (self.string, tr("String")),
            (self.direction, tr("Way")),
        ):
            combo.setAccessibleName(name)
        self.count = label("clock", _clock_words(0.0))
        self.press = QPushButton(tr("Start"))
        self.press.setObjectName("primary")
        self.press.setToolTip(tr("Start or stop a try  (Space)"))
        self.value = QDoubleSpinBox()
        self.value.setAccessibleName(tr("Value"))
        self.add = QPushButton(tr("&Add the value"))
        self.drop = QPushButton(tr("&Take the last back"))
        self.keep = QPushButton(tr("&Keep these tries"))
        self.follow = QPushButton(tr("Read a followed &bow …"))
        self.tries = label("sentence", wrap=True)
        self.pacing = PacingBow()
        self._aim: Callable[[int, str], Aim] | None = None
        self.caution = label("muted", CAUTION, wrap=True)
        self.list = QListWidget()
        self.list.setObjectName("boxed")
        self.list.setWordWrap(True)
        self.list.setResizeMode(QListView.ResizeMode.Adjust)
        self.list.setTextElideMode(Qt.TextElideMode.ElideNone)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setAccessibleName(tr("Limits proposed, with what they rest on"))
        self.take = QPushButton(tr("Take the ticked &limits"))
        self.flagged = label("why", wrap=True)
        self._timer = QTimer(self, interval=TICK_MS)
        self._timer.timeout.connect(self._show_time)
        self._lay_out()
        self._connect()
        self._chosen()

    @property
    def focus_target(self) -> QWidget:
        """What answers the keys of the page. No proxy: the Tab key would pass by what is before."""
        return self.press

    def _lay_out(self) -> None:
        inner = QWidget()
        left = QVBoxLayout(inner)
        left.setContentsMargins(24, 16, 24, 12)
        left.setSpacing(8)
        head = QWidget()
        flow = FlowLayout(head, gap=8)
        flow.setContentsMargins(0, 0, 0, 0)
        for combo in (self.measure, self.string, self.direction, self.section):
            flow.addWidget(combo)
        buttons = QWidget()
        row = FlowLayout(buttons, gap=8)
        row.setContentsMargins(0, 0, 0, 0)
        for control in (self.press, self.value, self.add, self.drop, self.keep, self.follow):
            row.addWidget(control)
        for widget in (head, self.count, buttons, self.tries):
            left.addWidget(widget)
        left.addWidget(self.pacing, 1)
        left.addStretch(0)
        left.addWidget(self.caution)
        side = QWidget()
        side.setObjectName("panel")
        right = QVBoxLayout(side)
        right.setContentsMargins(16, 12, 16, 12)
        right.addWidget(label("section", tr("LIMITS PROPOSED")))
        right.addWidget(self.list, 1)
        right.addWidget(self.take)
        right.addWidget(label("section", tr("PLANS MADE FOR OTHER LIMITS")))
        right.addWidget(self.flagged)
        right.addStretch(1)
        self._side = scrolling(side)
        whole = QHBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        whole.addWidget(scrolling(inner, "plain", tr("The measure")), 1)
        whole.addWidget(self._side)
        self.fit()

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.fit()  # only now the words have their sizes

    def fit(self) -> None:
        """As wide as the interface scale wants it."""
        set_side_width(self._side, theme.px(400))
        self.list.setMinimumHeight(theme.px(150))

    def _connect(self) -> None:
        self.measure.currentIndexChanged.connect(lambda _: self._chosen())
        for combo in (self.string, self.direction):
            combo.currentIndexChanged.connect(lambda _: self._restart())
        self.press.clicked.connect(self.toggle)
        self.add.clicked.connect(self._add)
        self.drop.clicked.connect(self._drop)
        self.keep.clicked.connect(self._keep)
        self.follow.clicked.connect(self.follow_wanted)
        self.take.clicked.connect(lambda: self.take_wanted.emit(self.ticked()))

    # what is measured

    @property
    def chosen(self) -> Measure:
        return OFFERED[self.measure.currentIndex()]

    def show_student(self, student: Student, aim: Callable[[int, str], Aim] | None = None) -> None:
        """Measure a student; tries of another are dropped.

        Args:
            aim: what a longest bow is to be, by string and way.
        """
        self._aim = aim
        if self.student is not None and self.student.id == student.id:
            self.student = student
            self._show()
            return
        self.student = student
        self.string.clear()
        names = instrument(student.instrument).string_names
        self.string.addItems([string_words(name) for name in names])
        self.string.setCurrentIndex(2)
        self._restart()

    def _chosen(self) -> None:
        measure = self.chosen
        timed, event = measure in TIMED, measure in EVENTS
        low, high = BOUNDS[measure]
        self.value.setRange(low, high)
        self.value.setDecimals(0 if measure in (Measure.PLACEMENTS, Measure.LEVEL_CALLS) else 1)
        self.value.setSuffix(f" {in_words(UNITS[measure])}" if UNITS[measure] else "")
        for widget in (self.count, self.press):
            widget.setVisible(timed)
        self.value.setVisible(not timed and not event)
        self.add.setVisible(not timed)
        self.add.setText(tr("&Done today") if event else tr("&Add the value"))
        for combo in (self.string, self.direction):
            combo.setVisible(measure in WITH_STRING)
        self.follow.setVisible(measure in WITH_STRING)
        self.section.setVisible(measure is Measure.TEMPO)
        self._restart()

    def _restart(self) -> None:
        self.watch = StopWatch()
        self._timer.stop()
        self._show()

    # tries

    def toggle(self) -> None:
        """Start a try, or stop and keep it."""
        if self.student is None:
            return
        self.watch.press(self._clock())
        if self.watch.running:
            self._timer.start()
        else:
            self._timer.stop()
        self._show()

    def _add(self) -> None:
        if self.student is None:
            return
        measure = self.chosen
        value = 1.0 if measure in EVENTS else self.value.value()
        self.watch.tries.append(value)
        self._show()
        if measure in EVENTS:
            self._keep()

    def _drop(self) -> None:
        self.watch.drop()
        self._timer.stop()
        self._show()

    def _keep(self) -> None:
        """Write the tries as one measurement."""
        tries, measure, student = tuple(self.watch.tries), self.chosen, self.student
        if student is None or not tries or self.watch.running:
            return
        try:
            for value in tries:
                check_value(measure, value)
        except PlectrumError as error:
            self.failed.emit(error)
            return
        with_string = measure in WITH_STRING
        record = Measured(
            student.id, self._today(), measure, median(tries),
            tuple(round(t, 3) for t in tries),
            self.string.currentIndex() if with_string else None,
            self.direction.currentData() if with_string else None,
            section=self._section() if measure is Measure.TEMPO else "",
        )  # fmt: skip
        self._restart()
        self.measured.emit([record])

    def _section(self) -> str:
        """The section named; empty for the whole piece."""
        text = self.section.currentText().strip()[:80]
        return "" if text == WHOLE else text

    # showing

    def _show_time(self) -> None:
        since = self.watch.since_s
        passed_s = self._clock() - since if since is not None else 0.0
        self.count.setText(_clock_words(passed_s))
        self.pacing.show_try(passed_s if self.watch.running else None, self.watch.tries)

    def _show_aim(self) -> None:
        """The pacing bow of the string and way that are chosen."""
        paced = self.chosen is Measure.LONGEST_BOW and self._aim is not None
        self.pacing.setVisible(paced)
        if paced and self._aim is not None and self.string.currentIndex() >= 0:
            way = self.direction.currentData()
            aim = self._aim(self.string.currentIndex(), way)
            self.pacing.set_aim(
                aim.seconds, aim.bow, aim.part, self.string.currentIndex(), Direction(way)
            )

    def _show(self) -> None:
        watch, unit = self.watch, in_words(UNITS[self.chosen])
        self._show_aim()
        self.pacing.show_try(None, watch.tries)
        self.press.setText(tr("Stop") if watch.running else tr("Start"))
        if watch.running:
            self._show_time()
        elif watch.tries:
            self.count.setText(_clock_words(watch.tries[-1]))
        else:
            self.count.setText(_clock_words(0.0))
        for button in (self.drop, self.keep):
            button.setEnabled(bool(watch.tries) or (button is self.drop and watch.running))
        if not watch.tries:
            self.tries.setText(tr("No try yet."))
            return
        said = ", ".join(in_figures(t, ".3g") for t in watch.tries)
        self.tries.setText(
            say(
                "Tries: {said} {unit}.  Median {median:.3g}, best {best:.3g}.",
                said=said,
                unit=unit,
                median=watch.median,
                best=watch.best,
            )
        )

    def show_proposals(
        self, proposals: Sequence[Proposal], flagged: Sequence[OutOfDate], named: bool
    ) -> None:
        """Show the limits that measurements propose, ticked.

        Args:
            named: whether there is a player of that name whose limits they would be.
        """
        self.proposals = tuple(proposals)
        self.list.clear()
        for p in proposals:
            item = QListWidgetItem(f"{p.text}\n{p.evidence}")
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            item.setCheckState(Qt.CheckState.Checked)
            item.setSizeHint(QSize(0, self._height_of(item.text())))
            self.list.addItem(item)
        if not proposals:
            item = QListWidgetItem(
                tr(
                    "Nothing speaks for other limits. Three tries in the "
                    "last three weeks are needed."
                )
                if named
                else tr(
                    "There is no player of this name yet: keep one on the Player screen (Ctrl+2)."
                )
            )
            item.setFlags(Qt.ItemFlag.ItemIsEnabled)
            self.list.addItem(item)
        self.take.setEnabled(bool(proposals) and named)
        self.flagged.setText("\n".join(f"⚑ {f.text}" for f in flagged) or tr("none"))

    def _height_of(self, text: str) -> int:
        """Of a line of the list, broken where the list ends; the tick stands before it."""
        room = QRect(0, 0, self._side.width() - theme.px(100), 10_000)
        wrapped = Qt.TextFlag.TextWordWrap
        return self.list.fontMetrics().boundingRect(room, wrapped, text).height() + theme.px(10)

    def ticked(self) -> tuple[Proposal, ...]:
        """The proposals that are to be taken."""
        return tuple(
            p
            for k, p in enumerate(self.proposals)
            if self.list.item(k).checkState() is Qt.CheckState.Checked
        )

    def hideEvent(self, event: QHideEvent) -> None:
        super().hideEvent(event)
        if self.watch.running:
            self.watch.drop()
            self._timer.stop()
            self._show()
