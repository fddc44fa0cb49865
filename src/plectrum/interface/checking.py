"""What scripts hand in is checked at the door: its kind, and the bounds of the command line."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from functools import wraps
from inspect import signature
from typing import Annotated, ParamSpec, TypeVar

from pydantic import ConfigDict, Field, InstanceOf, ValidationError, validate_call

from plectrum.core.document.choices import FASTEST_BPM, SLOWEST_BPM
from plectrum.core.document.document import Document
from plectrum.core.document.homework import LEAST_MINUTES, MOST_MINUTES
from plectrum.core.errors import ChoiceError
from plectrum.core.plain_text import one_line
from plectrum.core.player.player import Player
from plectrum.core.playing.practice_tempo import FASTEST_RATIO, SLOWEST_RATIO
from plectrum.core.practice.exercises.patterns import MOST_BOW_NOTES, MOST_OCTAVES
from plectrum.core.wording import say

MOST_DAYS, MOST_TIMES = 400, 40
SLOWEST_EXERCISE_BPM, FASTEST_EXERCISE_BPM = 20, 240

Tune = InstanceOf[Document]
Who = str | InstanceOf[Player] | None  # a name, a player's JSON file, or a player
Day = Annotated[int, Field(ge=1, le=MOST_DAYS)]
Times = Annotated[int, Field(ge=1, le=MOST_TIMES)]
Minutes = Annotated[int, Field(ge=LEAST_MINUTES, le=MOST_MINUTES)]
Octaves = Annotated[int, Field(ge=1, le=MOST_OCTAVES)]
BowNotes = Annotated[int, Field(ge=1, le=MOST_BOW_NOTES)]
ExerciseBpm = Annotated[float, Field(ge=SLOWEST_EXERCISE_BPM, le=FASTEST_EXERCISE_BPM)]
TempoBpm = Annotated[float, Field(ge=SLOWEST_BPM, le=FASTEST_BPM)]  # nan is within no bounds
Percent = Annotated[float, Field(ge=100 * SLOWEST_RATIO, le=100 * FASTEST_RATIO)]

P = ParamSpec("P")
R = TypeVar("R")


def checked(function: Callable[P, R]) -> Callable[P, R]:
    """A function whose arguments are of the kinds and within the bounds that it tells; else it
    raises `PlectrumError`."""
    called = validate_call(config=ConfigDict(arbitrary_types_allowed=True))(function)
    names = list(signature(function).parameters)

    @wraps(function)
    def call(*args: P.args, **named: P.kwargs) -> R:
        with refusing(function.__name__, names):
            return called(*args, **named)

    return call


@contextmanager
def refusing(name: str, arguments: Sequence[str] = ()) -> Iterator[None]:
    """What is not of the kind or within the bounds that are asked for is refused.

    Args:
        name: of the function. arguments: their names, in order.

    Raises:
        PlectrumError: something is not.
    """
    try:
        yield
    except ValidationError as error:
        fault = error.errors()[0]
        first, *_ = fault["loc"] or ("",)
        where = arguments[first] if isinstance(first, int) else first
        raise ChoiceError(
            f"{name}, {one_line(str(where), 40)}: {one_line(fault['msg'], 200)}",
            remedy=say("help({name}) tells what it takes", name=f"plectrum.{name}"),
        ) from error
