"""Between the open document and the log: whose it is, and what practice leaves in it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import date
from functools import cached_property
from pathlib import Path
from statistics import median
from tempfile import TemporaryDirectory
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QTimer, Signal

from plectrum.core.errors import PlectrumError
from plectrum.core.log.check import looks_sound
from plectrum.core.log.records import (
    BowOwned,
    FaultSeen,
    Lesson,
    Measure,
    Measured,
    Piece,
    PlanGiven,
    Practised,
    Record,
    StepDone,
    Student,
)
from plectrum.core.plain_text import shown_name
from plectrum.core.player.player import STAGES
from plectrum.core.wording import say, sentence_like, tr
from plectrum.ui.desk.bench import Bench
from plectrum.ui.editing.session import Session

if TYPE_CHECKING:
    from plectrum.core.log.store import LogStore


class LogLink(QObject):
    """Writes what happens on other screens into the log of the student it belongs to.

    Signals:
        changed: something is in the log that was not. failed: it could not be written.
        set_aside: the file could not be used and has another name now; what is to be said.
    """

    changed = Signal()
    failed = Signal(object)
    set_aside = Signal(str)

    def __init__(
        self, path: Path, session: Session, bench: Bench, parent: QObject | None = None
    ) -> None:
        super().__init__(parent)
        self._path = path
        self._session, self._bench = session, bench

    @cached_property
    def store(self) -> LogStore:
        """The log, opened when it is first needed. One that cannot be used is set aside and a new
        one begun; where there can be none, the window works without and says so."""
        from plectrum.core.log.log_file import UnusableLogError, set_aside
        from plectrum.core.log.store import LogStore

        try:
            try:
                return LogStore(self._path)
            except UnusableLogError as unusable:
                aside = set_aside(self._path)
                made = LogStore(self._path)
                told = say(
                    "{what}. It was set aside as {aside} in the same folder, unchanged, "
                    "and a new log is begun.",
                    what=sentence_like(unusable.what),
                    aside=shown_name(aside),
                )
                QTimer.singleShot(0, self, lambda: self.set_aside.emit(told))
                return made
        except PlectrumError as error:
            trouble = PlectrumError(
                say("{error}. Until then nothing is kept in the log", error=error)
            )
            QTimer.singleShot(0, self, lambda: self.failed.emit(trouble))
            self._no_log = TemporaryDirectory(prefix="plectrum-")
            return LogStore(Path(self._no_log.name) / "log.sqlite")

    def check(self) -> None:
        """Say at once if the log cannot be used, without opening it when it can."""
        if not looks_sound(self._path):
            _ = self.store

    def close(self) -> None:
        """Close the log if it was opened."""
        if "store" in self.__dict__:
            self.store.close()

    def put(self, *records: Record) -> bool:
        """Write records; what goes wrong is shown."""
        try:
            self.store.put(*records)
        except PlectrumError as error:
            self.failed.emit(error)
            return False
        self.changed.emit()
        return True

    def student_here(self) -> Student | None:
        """The student whose name the player has who practises."""
        choices = self._bench.choices
        name, instrument = choices.player.title, choices.instrument
        if name.lower() in STAGES:
            return None
        try:
            found = self.store.all(Student, name=name)
        except PlectrumError as error:
            self.failed.emit(error)
            return None
        own = [s for s in found if s.instrument == instrument] or found
        return own[0] if own else None

    def piece_here(self) -> Piece | None:
        """The open piece as the log knows it, or as it will."""
        document = self._session.document
        if document is None:
            return None
        instrument = document.choices.instrument
        try:
            known = self.store.all(Piece, title=document.title, instrument=instrument)
        except PlectrumError as error:
            self.failed.emit(error)
            return None
        if known:
            return known[0]
        part = document.part.at_tempo(document.choices.tempo_bpm)
        return Piece(document.title, instrument, part.tempo.bpm, part.bars_n)

    def step_marked(self, key: str, title: str, mark: str, bpm: float | None, section: str) -> None:
        """A step of the open piece, or an exercise, was marked."""
        student, piece = self.student_here(), self.piece_here()
        if student is None:
            return
        of_piece = piece.id if piece is not None else None
        done = StepDone(student.id, date.today(), key, title, mark, of_piece, bpm, section)
        self.put(*([piece] if piece is not None else []), done)

    def checked(self, title: str, checks: Mapping[str, bool]) -> None:
        """What was looked at one by one in an exercise: how much of a hundred was right, and
        what was not yet."""
        if not any(checks.values()):
            return
        missing = [name for name, right in checks.items() if not right]
        note = say("not yet: {list}", list=", ".join(missing)) if missing else tr("all right")
        self.tried(title, list(checks.values()), note=note)

    def tried(self, title: str, tries: Sequence[bool], *, note: str = "") -> None:
        """Counted tries of an exercise: how many of a hundred were hit."""
        student = self.student_here()
        if student is None or not tries:
            return
        percent = 100.0 * sum(tries) / len(tries)
        values = tuple(100.0 * hit for hit in tries)
        self.put(Measured(student.id, date.today(), Measure.TRIES, round(percent, 1), values,
                          section=title[:80], note=note))  # fmt: skip

    def counted(self, measure: str, hits: int) -> None:
        """So many right of as many as the measure has."""
        student = self.student_here()
        if student is not None:
            self.put(Measured(student.id, date.today(), Measure(measure), float(hits), (hits,)))

    def long_bows(self, title: str, seconds: Sequence[float], string: int, direction: str) -> None:
        """Longest bows measured inside an exercise."""
        student = self.student_here()
        if student is None or not seconds:
            return
        tries = tuple(round(s, 3) for s in seconds)
        self.put(Measured(student.id, date.today(), Measure.LONGEST_BOW, median(tries), tries,
                          string, direction, section=title[:80]))  # fmt: skip

    def practice_days(self, today: date) -> dict[str, int]:
        """For each exercise in the log of whoever practises which day of practice today is."""
        from plectrum.core.practice.exercises.growth import practice_days
        from plectrum.core.practice.week import DRILL_PREFIX

        student = self.student_here()
        if student is None:
            return {}
        done: dict[str, list[tuple[date, bool]]] = {}
        for step in self.store.all(StepDone, student_id=student.id):
            if step.key.startswith(DRILL_PREFIX):
                name = step.key.removeprefix(DRILL_PREFIX)
                done.setdefault(name, []).append((step.on, step.mark == "good"))
        kinds: tuple[type[Practised] | type[Lesson], ...] = (Practised, Lesson)
        pain = [
            row.on for kind in kinds
            for row in self.store.all(kind, student_id=student.id) if row.pain
        ]  # fmt: skip
        if student.pain_since is not None:
            pain.append(student.pain_since)
        return practice_days(done, today, pain)

    def bars_marked(self, faults: Sequence[tuple[str, int, float]]) -> None:
        """A followed bow was marked: what was seen, in which bar, and where on the bow."""
        student, piece = self.student_here(), self.piece_here()
        if student is None or piece is None or not faults:
            return
        today = date.today()
        seen = [
            FaultSeen(student.id, today, kind, piece.id, bar, round(place, 3))
            for kind, bar, place in faults
        ]
        self.put(piece, *seen)

    def practised(self, minutes: int, *, pain: bool = False) -> None:
        """A session by the clock is over."""
        student = self.student_here()
        if student is None or (minutes < 1 and not pain):
            return
        records: list[Record] = [Practised(student.id, date.today(), max(1, minutes), pain)]
        if pain:
            records.append(replace(student, pain_since=student.pain_since or date.today()))
        self.put(*records)

    def give_plan(self, student: Student) -> bool:
        """The open plan is given to a student, and the bow it is for is theirs."""
        from plectrum.core.files.planfile import document_bytes

        document, piece = self._session.document, self.piece_here()
        if document is None or piece is None:
            return False
        records: list[Record] = [
            piece, PlanGiven(student.id, piece.id, date.today(), document_bytes(document)),
        ]  # fmt: skip
        hair_mm = document.choices.bow.hair_mm
        if not self.store.all(BowOwned, student_id=student.id, hair_mm=hair_mm):
            records.append(BowOwned(student.id, say("{name}'s bow", name=student.name), hair_mm))
        return self.put(*records)
