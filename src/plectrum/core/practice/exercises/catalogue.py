"""Every exercise by its name: rows of the model and patterns of notes, each as a tune like any
other where it is done on a string."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from fractions import Fraction

from plectrum.core.document.choices import Choices
from plectrum.core.document.document import Document
from plectrum.core.errors import ChoiceError
from plectrum.core.plain_text import one_line
from plectrum.core.playing.performance import Kind
from plectrum.core.practice.exercises.drill_music import drill_document, has_music
from plectrum.core.practice.exercises.drills import Drill, Setting
from plectrum.core.practice.exercises.model import Changes, Exercise, shipped
from plectrum.core.practice.exercises.patterns import (
    PATTERNS,
    Asked,
    echo_spans,
    pattern_document,
)
from plectrum.core.practice.exercises.steps import drill_of
from plectrum.core.wording import say, tr


@dataclass(frozen=True, slots=True)
class Listed:
    """A line of the list of exercises."""

    name: str
    title: str
    purpose: str


@dataclass(frozen=True)
class Made:
    """An exercise for one player.

    Attributes:
        what: what is done. good: how to know that it is good.
        choices: of the player. document: as a tune; None where nothing is done on a string.
        drill: its steps. exercise: the row it is made of; both None for a pattern of notes.
        kind: how it is played: silently where nothing sounds.
        echoes: from where to where, in quarters, the student answers what was called.
    """

    title: str
    what: str
    good: str
    choices: Choices = field(repr=False)
    document: Document | None
    drill: Drill | None = None
    exercise: Exercise | None = None
    kind: Kind = Kind.WRITTEN
    echoes: tuple[tuple[Fraction, Fraction], ...] = ()

    def __repr__(self) -> str:
        return f"<Made {self.title!r}: {self.choices.instrument}, {self.seconds:.0f} s>"

    @property
    def lines(self) -> list[str]:
        """What to do, how often, how it grows, and when it is good, for a page."""
        drill = self.drill
        lines = [self.what]
        if drill is not None:
            lines.append(say("How often: {how_many}.", how_many=drill.how_many))
        if drill is not None and drill.grows:
            lines.append(
                say("It grows: now {today}; {grows}.", today=drill.today, grows=drill.grows)
            )
        if self.exercise is not None and self.exercise.checks:
            lines.append(say("Look at: {list}.", list=", ".join(self.exercise.checks)))
        return [*lines, say("Good when: {good}.", good=self.good)]

    @property
    def today(self) -> str:
        """What to do today, for the screen."""
        if self.drill is None or not self.drill.today:
            return self.what
        return say("{what} Today: {today}.", what=self.what, today=self.drill.today)

    @property
    def seconds(self) -> float:
        """How long it takes."""
        if self.drill is not None:
            return self.drill.seconds
        notes = self.document.part.notes if self.document is not None else ()
        return notes[-1].end_s if notes else 0.0


def listed() -> Iterator[Listed]:
    """All exercises, those of the model first."""
    for row in shipped().values():
        yield Listed(row.key, row.title, row.purpose)
    for name, pattern in PATTERNS.items():
        yield Listed(name, pattern.title, pattern.purpose)


def exercise_named(
    name: str, choices: Choices, changes: Changes, asked: Asked, day: int = 1
) -> Made:
    """An exercise by its name.

    Args:
        changes: what is asked otherwise of a row. asked: what a pattern is to be.
        day: of practice, for what grows.

    Raises:
        ChoiceError: no such exercise, or it cannot be as asked.
    """
    rows = shipped()
    if name in rows:
        return made_of(rows[name], choices, changes, day)
    if changes != Changes() and name in PATTERNS:
        raise ChoiceError(
            say("{name} has no strings, part, counts or times to choose", name=name),
            remedy=tr("Leave these options out"),
        )
    if name in PATTERNS:
        document = pattern_document(name, choices, asked)
        pattern = PATTERNS[name]
        echoes = echo_spans(document) if name == "echo" else ()
        return Made(document.title, pattern.what, pattern.good, choices, document, echoes=echoes)
    names = ", ".join(row.name for row in listed())
    raise ChoiceError(
        say("there is no exercise {name!r}", name=one_line(name, 40)),
        remedy=say("There are {names}", names=names),
    )


def made_of(
    exercise: Exercise, choices: Choices, changes: Changes | None = None, day: int = 1
) -> Made:
    """A row, or a teacher's own exercise, for a player on a practice day.

    Raises:
        ChoiceError: it cannot be as asked, or not on this instrument.
    """
    wanted = (changes or Changes()).made_in(exercise).on_day(day)
    drill = drill_of(wanted, Setting.of(choices), day)
    document = drill_document(drill, choices) if has_music(drill) else None
    if document is not None:
        letter = say("{what}\nGood when: {good}.", what=drill.what, good=drill.good)
        document = document.with_homework(replace(document.homework, letter=letter))
    sounds = any(step.direction is not None for step in drill.steps)
    kind = Kind.WRITTEN if sounds else Kind.SILENT
    return Made(drill.name, drill.what, drill.good, choices, document, drill, wanted, kind)
