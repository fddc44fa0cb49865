"""Prints the table of docs/exercises.md: every exercise for a beginner, with what it computes."""

from __future__ import annotations

import sys

from plectrum.core.document.choices import Choices
from plectrum.core.practice.exercises.catalogue import Made, exercise_named, listed
from plectrum.core.practice.exercises.model import Changes
from plectrum.core.practice.exercises.patterns import Asked
from plectrum.core.score.model import Direction

HEAD = "| name | purpose | lasts | bows | silent | strings | good when |\n" + "|---|" + "---|" * 6


def row(name: str, purpose: str, made: Made) -> str:
    """One line: how long, how many bows, what is silent, and when it is good."""
    bows = silent = strings = 0
    if made.drill is not None:
        ways = [step.direction for step in made.drill.steps]
        bows = sum(way in (Direction.DOWN, Direction.UP) for way in ways)
        silent = len(ways) - bows
        strings = len({step.level for step in made.drill.steps if step.level is not None})
    elif made.document is not None:
        bows = sum(not note.slurred for note in made.document.part.notes)
    cells = (f"{made.seconds:.0f} s", bows or "–", silent or "–", strings or "–")
    return f"| `{name}` | {purpose} | {' | '.join(map(str, cells))} | {made.good} |"


def table() -> str:
    """The lines of all exercises, on the instrument a plan begins with."""
    choices = Choices.default("violin")
    rows = (
        row(one.name, one.purpose, exercise_named(one.name, choices, Changes(), Asked()))
        for one in listed()
    )
    return "\n".join((HEAD, *rows))


if __name__ == "__main__":
    sys.stdout.write(table() + "\n")
