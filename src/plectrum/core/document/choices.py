"""What the teacher has decided: pins, slurs, player, school and tempo, as one immutable value."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from enum import StrEnum
from typing import Any

from plectrum.core.document.places import words_of
from plectrum.core.instrument.bow import Bow
from plectrum.core.instrument.specification import Instrument, instrument
from plectrum.core.player.own_bowing import OwnBowing
from plectrum.core.player.player import Player, stage
from plectrum.core.player.school import School
from plectrum.core.score.model import Direction


class Join(StrEnum):
    """How a note follows the one before it."""

    START = "start"
    TURN = "turn"
    SLUR = "slur"
    HOOK = "hook"
    RETAKE = "retake"


@dataclass(frozen=True, slots=True)
class Pin:
    """What is fixed at one note; None leaves a thing to the planner.

    `start_cell` and `length_cells` count forty-eighths of the hair; `string` counts from the
    lowest, 0, and `finger` from the open string, 0; `lane` is 1 at the bridge to 5. `place` and
    `amount` are words of `document.places`, kept as what they mean.
    """

    direction: Direction | None = None
    join: Join | None = None
    start_cell: int | None = None
    length_cells: int | None = None
    string: int | None = None
    finger: int | None = None
    lane: int | None = None
    place: str | None = None
    amount: str | None = None

    @property
    def is_empty(self) -> bool:
        return self == NO_PIN

    @property
    def says_where(self) -> bool:
        """Whether it says where on the bow a stroke lies, or how much of it that takes."""
        cells = self.start_cell is not None or self.length_cells is not None
        return cells or self.place is not None or self.amount is not None

    @property
    def of_strokes(self) -> tuple[object, ...]:
        """What it says of the stroke; strings and fingers, and the lane, are no part of it."""
        return (
            self.direction, self.join, self.start_cell, self.length_cells, self.place, self.amount
        )  # fmt: skip

    def words(self) -> tuple[str, ...]:
        """What is pinned, one word each."""
        said = []
        if self.direction is not None:
            said.append(str(self.direction))
        if self.join is not None:
            said.append(str(self.join))
        if self.start_cell is not None:
            said.append("start")
        if self.length_cells is not None:
            said.append("length")
        if self.string is not None:
            said.append("string")
        if self.finger is not None:
            said.append("finger")
        if self.lane is not None:
            said.append(f"lane {self.lane}")
        return (*said, *self.where_words)

    @property
    def where_words(self) -> tuple[str, ...]:
        """The words said of where on the bow and how much of it."""
        return tuple(map(words_of, self.said_where))

    @property
    def said_where(self) -> tuple[str, ...]:
        """The same as it is kept."""
        return tuple(word for word in (self.place, self.amount) if word is not None)


NO_PIN = Pin()
SLUR_AMOUNT_USUAL, SLUR_AMOUNT_MOST = 50, 100
SLOWEST_BPM, FASTEST_BPM = 10.0, 480.0  # that can be asked for, own default


@dataclass(frozen=True, slots=True)
class Choices:
    """All that a plan depends on besides the score. `pins` goes by note id; `slur_amount` is 0 for
    few slurs to 100 for many, where the school proposes them; `bowing` is the teacher's own, None
    for what is learnt from print; `kept` is a plan of an earlier planner that stays as it was."""

    instrument: str
    bow: Bow
    player: Player = field(default_factory=lambda: stage("growing"))
    school: School = field(default_factory=School)
    tempo_bpm: float | None = None
    pins: Mapping[str, Pin] = field(default_factory=dict)
    slur_amount: int = SLUR_AMOUNT_USUAL
    bowing: OwnBowing | None = None
    kept: Kept | None = None

    @property
    def settings(self) -> Choices:
        """The same without what is said of single notes."""
        return replace(self, pins={}, kept=None)

    @property
    def own(self) -> Instrument:
        """The instrument, in the size of the bow."""
        return instrument(self.instrument, self.bow.size)

    @classmethod
    def default(cls, name: str) -> Choices:
        return cls(name, Bow.full_size(name))

    def with_school(self, question: str, answer: StrEnum) -> Choices:
        """The same choices with one of the school's questions answered otherwise."""
        changes: dict[str, Any] = {question: answer}
        return replace(self, school=replace(self.school, **changes))

    def with_pin(self, note_id: str, pin: Pin) -> Choices:
        """The same choices with one note pinned, or let go if the pin is empty."""
        return self.with_pins({note_id: pin})

    def with_pins(self, wanted: Mapping[str, Pin]) -> Choices:
        """The same choices with several notes pinned or let go."""
        pins = {**self.pins, **wanted}
        return replace(self, pins={k: v for k, v in pins.items() if not v.is_empty})

    def repinned(self, changes: Mapping[str, Callable[[Pin], Pin]]) -> Choices:
        """The same choices with what is pinned at some notes changed."""
        pins = self.pins
        return self.with_pins({k: change(pins.get(k, NO_PIN)) for k, change in changes.items()})


@dataclass(frozen=True, slots=True)
class Kept:
    """The bows of a plan as it was kept (see `planning.kept_plan`).

    Attributes:
        planner: which planner decided them.
        bows: what they do, as pins by note id.
        pins: what the teacher had pinned then.
        settings: the choices of each part it was planned for, pins apart.
    """

    planner: int
    bows: Mapping[str, Pin]
    pins: Mapping[str, Pin]
    settings: tuple[Choices, ...]

    def is_for(self, choices: Choices) -> bool:
        """Whether it was planned under these choices, pins apart."""
        return choices.settings in self.settings
