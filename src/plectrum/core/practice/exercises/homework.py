"""Exercises that are set for practice with a plan, as the plan keeps them.

A shipped one is kept by its name with what is changed in it; a teacher's own is kept whole, so
that it goes wherever the plan goes.
"""

from __future__ import annotations

from collections.abc import Mapping

from plectrum.core.practice.exercises.model import (
    Changes,
    Exercise,
    exercise_bytes,
    exercise_from_bytes,
    shipped,
)

WHOLE = "exercise"  # under this name a teacher's own is kept, as its file


def exercise_set(name: str, values: Mapping[str, float | str]) -> Exercise | None:
    """The exercise that a plan has under a name; None where it is not known here.

    Raises:
        PlectrumError: what is kept is no exercise, or cannot be changed so.
    """
    own = values.get(WHOLE)
    if isinstance(own, str):
        row: Exercise | None = exercise_from_bytes(own.encode(), name)
    else:
        row = shipped().get(name)
    return None if row is None else Changes.of_values(values).made_in(row)


def own_values(exercise: Exercise) -> dict[str, float | str]:
    """What a plan keeps of a teacher's own exercise."""
    return {WHOLE: exercise_bytes(exercise).decode()}
