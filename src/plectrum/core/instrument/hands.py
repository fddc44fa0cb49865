"""How the left hand lies on the strings: fingers, positions, and what teachers call them.

The patterns of the first position are common practice.
"""

from __future__ import annotations

from dataclasses import dataclass, field


@dataclass(frozen=True, slots=True)
class Reach:
    """One finger: semitones above the first finger's usual place, and whether it is stretched."""

    finger: int
    above: int
    stretched: bool = False


@dataclass(frozen=True)
class Hand:
    """The fingers of an instrument.

    Attributes:
        fingers: where each finger can lie; the usual place of a finger comes first.
        positions: semitones from the open string to the first finger's usual place.
        always: positions that every player has.
        weak_fourth: whether the fourth finger is avoided.
        words: (finger, semitones above the open string) to what a teacher says, in first position.
    """

    fingers: tuple[Reach, ...]
    positions: dict[int, int]
    always: frozenset[int] = frozenset()
    weak_fourth: bool = False
    words: dict[tuple[int, int], str] = field(default_factory=dict)


VIOLIN_HAND = Hand(
    fingers=(
        Reach(1, -1, True),
        Reach(1, 0),
        Reach(2, 1),
        Reach(2, 2),
        Reach(3, 3),
        Reach(3, 4, True),
        Reach(4, 4, True),
        Reach(4, 5),
        Reach(4, 6, True),
    ),
    positions={1: 2, 2: 4, 3: 5, 4: 7, 5: 9},
    weak_fourth=True,
    words={
        (1, 1): "low 1",
        (1, 2): "1",
        (2, 3): "low 2",
        (2, 4): "high 2",
        (3, 5): "3",
        (3, 6): "high 3",
        (4, 6): "low 4",
        (4, 7): "4",
        (4, 8): "high 4",
    },
)
CELLO_HAND = Hand(
    fingers=(
        Reach(1, -1, True),
        Reach(1, 0),
        Reach(2, 1),
        Reach(3, 2),
        Reach(4, 3),
        Reach(2, 2, True),
        Reach(3, 3, True),
        Reach(4, 4, True),
    ),
    positions={1: 2, 2: 4, 3: 5, 4: 7},
)
# The positions of bass methods, quoted from memory: half, first, second, third, fourth.
BASS_HAND = Hand(
    fingers=(Reach(1, 0), Reach(2, 1), Reach(4, 2)),
    positions={0: 1, 1: 2, 2: 3, 3: 5, 4: 7},
    always=frozenset({0}),
)
