"""Choosing whose bow is followed, and saying what was seen of it."""

from __future__ import annotations

from collections import Counter
from pathlib import Path

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QComboBox, QFileDialog, QWidget

from plectrum.core.errors import PlectrumError
from plectrum.core.tracking.feedback import BarScore
from plectrum.core.tracking.simulated import Clumsiness
from plectrum.core.wording import in_words, say, tr
from plectrum.ui.playback.transport import Transport
from plectrum.ui.show.controls import FOLLOW_FILE, FOLLOW_NOBODY
from plectrum.ui.show.follower import Follower


class FollowChoice(QObject):
    """What the control *Follow* stands for.

    Signals:
        shown: whether a bow is followed now. message: for the status line. failed: with an error.
        seen: when the music is over, every fault, its bar's number, its place on the bow.
    """

    shown = Signal(bool)
    message = Signal(str)
    failed = Signal(object)
    seen = Signal(object)

    def __init__(self, transport: Transport, chooser: QComboBox, parent: QWidget) -> None:
        super().__init__(parent)
        self._transport = transport
        self._chooser = chooser
        self._window = parent
        self.follower = Follower(transport, self)
        self.follower.scored.connect(self._tell_score)
        self.follower.failed.connect(self._fail)
        transport.ended.connect(self._ended)

    def choose(self, index: int) -> None:
        """As chosen in the control."""
        if index == FOLLOW_NOBODY:
            self.nobody()
        elif index == FOLLOW_FILE:
            name, _ = QFileDialog.getOpenFileName(
                self._window, tr("The bow's device, pipe or file")
            )
            self.file(Path(name)) if name else self.nobody()
        else:
            self.simulated(list(Clumsiness)[index - 1])

    def next(self) -> None:
        """Nobody, then each simulated bow in turn."""
        self.choose((self._chooser.currentIndex() + 1) % FOLLOW_FILE)

    def nobody(self) -> None:
        self.follower.stop()
        self._chooser.setCurrentIndex(FOLLOW_NOBODY)
        self.shown.emit(False)

    def simulated(self, clumsiness: Clumsiness) -> None:
        """The stand-in for a tracked bow."""
        self._chooser.setCurrentIndex(list(Clumsiness).index(clumsiness) + 1)
        self.shown.emit(True)
        self.follower.follow_simulated(clumsiness)

    def file(self, path: Path) -> None:
        """A device, a pipe or a file."""
        try:
            self.follower.follow_file(path)
        except PlectrumError as error:
            self._fail(error)
            return
        self._chooser.setCurrentIndex(FOLLOW_FILE)
        self.shown.emit(True)

    def _fail(self, error: object) -> None:
        self.nobody()
        self.failed.emit(error)

    def _ended(self) -> None:
        """Score the last bar, and say how the whole went."""
        self.follower.finish()
        scores = self.follower.scores
        performance = self._transport.performance
        if scores and performance is not None:
            bars = performance.plan.part.bars
            self.seen.emit(
                [(f, bars[m.bar_index].number, m.place) for m in scores for f in m.faults]
            )
        if scores:
            mean = sum(m.score for m in scores) / len(scores)
            faults = Counter(fault for m in scores for fault in m.faults).most_common(1)
            worst = (
                say("most often {fault}", fault=in_words(faults[0][0]))
                if faults
                else tr("well done")
            )
            self.message.emit(say("All in all {mean:.0f} of 100: {worst}.", mean=mean, worst=worst))

    def _tell_score(self, scored: BarScore) -> None:
        performance = self._transport.performance
        if performance is None:
            return
        bar = performance.plan.part.bars[scored.bar_index].number
        where = say("Bar {bar}", bar=bar)
        seen = ", ".join(map(in_words, scored.faults[:2])) or tr("well done")
        self.message.emit(
            say("{where}: {score} of 100: {seen}.", where=where, score=scored.score, seen=seen)
        )
