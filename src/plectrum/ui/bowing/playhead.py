"""A mark that goes through the score in tempo, silently, so that the eye can rehearse."""

from __future__ import annotations

import bisect

from PySide6.QtCore import QElapsedTimer, QObject, Qt, QTimer, Signal

from plectrum.core.planning.plan import Plan

FRAME_MS = 16


class Playhead(QObject):
    """Runs from a note to the end, or round a run of notes, at the plan's tempo."""

    moved = Signal(object)
    note_reached = Signal(int)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._plan: Plan | None = None
        self._from_s = self._until_s = 0.0
        self._loop = False
        self._last_note = -1
        self._clock = QElapsedTimer()
        self._timer = QTimer(self, interval=FRAME_MS, timerType=Qt.TimerType.PreciseTimer)
        self._timer.timeout.connect(self._tick)

    @property
    def running(self) -> bool:
        return self._timer.isActive()

    def start(self, plan: Plan, first: int, last: int | None = None) -> None:
        """Play from a note; with a last note go round between the two."""
        notes = plan.part.notes
        if not notes:
            return
        self._plan = plan
        self._from_s = notes[first].onset_s
        self._until_s = notes[-1 if last is None else last].end_s
        self._loop = last is not None
        self._last_note = -1
        self._clock.start()
        self._timer.start()
        self._tick()

    def stop(self) -> None:
        if self.running:
            self._timer.stop()
            self.moved.emit(None)

    def _tick(self) -> None:
        if self._plan is None:
            return
        at_s = self._from_s + self._clock.elapsed() / 1000
        if at_s >= self._until_s:
            if not self._loop:
                self.stop()
                return
            self._clock.restart()
            at_s = self._from_s
        note, at_q = place_at(self._plan, at_s)
        if note != self._last_note:
            self._last_note = note
            self.note_reached.emit(note)
        self.moved.emit(at_q)


def place_at(plan: Plan, at_s: float) -> tuple[int, float]:
    """The note that sounds, or sounded last, at a time, and the time in quarters."""
    notes = plan.part.notes
    k = max(0, bisect.bisect_right(notes, at_s, key=lambda n: n.onset_s) - 1)
    note = notes[k]
    until = notes[k + 1] if k + 1 < len(notes) else None
    until_s = until.onset_s if until is not None else note.end_s
    until_q = until.onset_q if until is not None else note.end_q
    span_s = max(until_s - note.onset_s, 1e-6)
    share = min(1.0, max(0.0, (at_s - note.onset_s) / span_s))
    return k, float(note.onset_q) + share * float(until_q - note.onset_q)
