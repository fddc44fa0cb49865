"""Plays the music on the Bowing screen, with a mark that goes through the score."""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from plectrum.core.planning.plan import Plan
from plectrum.ui.desk.desk import Desk

if TYPE_CHECKING:
    from plectrum.ui.playback.transport import Transport


class Playhead(QObject):
    """Runs from a note to the end, or round a run of notes, at the plan's tempo."""

    moved = Signal(object)
    note_reached = Signal(int)
    silent = Signal(str)

    def __init__(self, desk: Desk, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._desk = desk
        self._last_note = -1
        self._shown = False

    @cached_property
    def transport(self) -> Transport:
        """Made when something is first played."""
        from plectrum.ui.playback.playing import Heard
        from plectrum.ui.playback.transport import Transport

        transport = Transport(self._desk.speaker, self)
        transport.set_heard(Heard(click=False))
        transport.moved.connect(self._moved)
        transport.ended.connect(self.stop)
        transport.silent.connect(self.silent)
        return transport

    @property
    def running(self) -> bool:
        return "transport" in self.__dict__ and self.transport.playing

    def start(self, plan: Plan, first: int, last: int | None = None) -> None:
        """Play from a note; with a last note go round between the two."""
        from plectrum.core.playing.performance import Performance, Rehearsal

        notes = plan.part.notes
        if not notes:
            return
        until_q = None
        if last is not None and last + 1 < len(notes):
            until_q = notes[last + 1].onset_q
        rehearsal = Rehearsal(
            from_q=notes[first].onset_q, until_q=until_q, count_in=False, loop=last is not None
        )
        self._last_note = -1
        self._shown = True
        self.transport.set_performance(Performance(plan, rehearsal))
        self.transport.play()

    def stop(self) -> None:
        if "transport" in self.__dict__:
            self.transport.pause()
        if self._shown:
            self._shown = False
            self.moved.emit(None)

    def _moved(self, _at_s: float) -> None:
        state = self.transport.state()
        if not self.running or state is None:
            return
        if state.note is not None and state.note != self._last_note:
            self._last_note = state.note
            self.note_reached.emit(state.note)
        self.moved.emit(state.at_q)
