"""Prints the table of docs/exercises.md: every exercise for a beginner, with what it computes."""

from __future__ import annotations

import sys

from plectrum.core.document.choices import Choices
from plectrum.core.practice.exercises.catalogue import Made, exercise_named, listed
from plectrum.core.practice.exercises.model import Changes
from plectrum.core.practice.exercises.patterns import Asked
from plectrum.core.score.model import Direction

HEAD = (
    "| name | purpose | how often | lasts | bows | silent | levels | from the player | grows "
    "| good when |\n" + "|---|" + "---|" * 9
)
ENTERS = {
    "counts": "brisk bow speed",
    "slowest bow": "slowest clean bow",
    "carry": "lift and carrying speed",
    "roll": "quickest level change",
}


def row(name: str, purpose: str, made: Made) -> str:
    """One line: how often and how long, how many bows, what is silent, what of the player enters,
    how it grows, and when it is good."""
    bows = silent = levels = 0
    often = enters = grows = ""
    if made.drill is not None and made.exercise is not None:
        ways = [step.direction for step in made.drill.steps]
        bows = sum(way in (Direction.DOWN, Direction.UP) for way in ways)
        silent = len(ways) - bows
        levels = len({step.level for step in made.drill.steps if step.level is not None})
        often, grows = made.drill.how_many, made.drill.grows
        enters = ENTERS[made.exercise.pace]
        if made.exercise.pace == "counts":
            enters = "comfortable speed" if made.exercise.ease == "comfortable" else enters
            enters = enters if bows else ""
    elif made.document is not None:
        bows = sum(not note.slurred for note in made.document.part.notes)
        enters = "positions, fingers"
    cells = (often, f"{made.seconds:.0f} s", bows, silent, levels, enters, grows, made.good)
    return f"| `{name}` | {purpose} | {' | '.join(str(cell or '–') for cell in cells)} |"


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
