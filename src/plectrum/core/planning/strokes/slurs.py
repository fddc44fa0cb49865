"""Which notes could share a bow, and what each way of slurring costs.

Three ways: as written; *help*, where a slur is added or dropped only if it saves a hook or a strong
beat the wrong way; *song*, smooth slurring, more or less of it. The likelihood of a slur is learnt
from printed ones (see `planning.learning`).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from plectrum.core.document.choices import SLUR_AMOUNT_USUAL, Choices, Join
from plectrum.core.planning import rules
from plectrum.core.planning.fingering.grips import Fingered
from plectrum.core.planning.rules import SLUR_WORTH
from plectrum.core.planning.strokes.slur_columns import SlurColumns, slur_columns
from plectrum.core.planning.strokes.slur_features import (
    FOLLOWS,
    Features,
    group_features,
    join_features,
)
from plectrum.core.player.player import Player
from plectrum.core.player.school import SlurSchool
from plectrum.core.score.model import Note, Part

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]
LONGEST_N = 8  # notes in a slur that is proposed


def possible_groups(joinable: Bools, longest_n: int) -> tuple[Ints, Ints]:
    """First note and length of every group of two notes or more that may share a bow."""
    found = []
    for first in range(len(joinable)):
        for units in range(2, min(longest_n, len(joinable) - first) + 1):
            if not joinable[first + units - 1]:
                break
            found.append((first, units))
    table = np.array(found, dtype=np.int64).reshape(-1, 2)
    return table[:, 0], table[:, 1]


def group_rows(
    columns: SlurColumns,
    first: Ints,
    last: Ints,
    names: Sequence[str],
    figures: Mapping[str, float] | None = None,
) -> Floats:
    """Some features of groups, those of their joins added up; shape (G, F)."""
    column = {name: k for k, name in enumerate(names)}
    rows = np.zeros((len(first), len(names)))
    for name, here in group_features(columns, first, last).items():
        if name in column:
            rows[:, column[name]] = here
    for name, here in join_features(columns, figures).items():
        if name in column:
            sums = np.concatenate([[0], np.cumsum(here)])
            rows[:, column[name]] = sums[last + 1] - sums[first + 1]
    return rows


@dataclass(frozen=True)
class SlurCosts:
    """What slurs cost, in the planner's unit before rounding.

    Attributes:
        first, units: of every group of two notes or more that is possible.
        group: cost of each.
        follows: shape (N, 2, 2), at each note, by whether the bow before and this one are groups.
    """

    first: Ints
    units: Ints
    group: Floats
    follows: Floats


def slur_costs(
    part: Part,
    notes: Sequence[Note],
    choices: Choices,
    fingered: Sequence[Fingered],
    player: Player,
) -> SlurCosts:
    """What each way of slurring some notes costs under the school's way of slurring."""
    columns = slur_columns(part, notes, fingered)
    printed = np.array([n.slurred for n in notes], dtype=bool)
    if len(printed):
        printed[0] = False
    joinable = columns.joinable
    if choices.school.slurs is SlurSchool.HELP:  # a stop between notes is the hooks' business
        joinable = joinable & ~(columns.stopped | np.roll(columns.stopped, 1))
    joinable = _pinned(joinable | printed, notes, choices) & ~columns.forked
    first, units = possible_groups(joinable, min(LONGEST_N, player.slur_notes_n))
    follows = np.zeros((len(notes), 2, 2))
    follows += (rules.SLUR_DROPPED * printed)[:, None, None]
    if choices.school.slurs is SlurSchool.HELP:
        group = _helping(columns, printed, first, units)
    else:
        worth = np.array(list(SLUR_WORTH.values()))
        steps = choices.slur_amount - SLUR_AMOUNT_USUAL
        more = rules.SLUR_USUAL + rules.SLUR_AMOUNT * steps
        score = group_rows(columns, first, first + units - 1, list(SLUR_WORTH)) @ worth + more * (
            units - 1
        )
        group = -rules.SLUR_SHARE * score
        for (was, now), name in zip(((1, 1), (0, 1), (1, 0)), FOLLOWS, strict=True):
            follows[:, was, now] -= rules.SLUR_SHARE * SLUR_WORTH.get(name, 0.0)
    if len(follows):
        follows[0] = 0.0
    return SlurCosts(first, units, group, follows)


def _pinned(joinable: Bools, notes: Sequence[Note], choices: Choices) -> Bools:
    """Notes the teacher has slurred may share a bow, and those he has parted may not."""
    found = joinable.copy()
    for k, note in enumerate(notes):
        pin = choices.pins.get(note.id)
        if pin is not None and pin.join is not None:
            found[k] = k > 0 and pin.join is Join.SLUR
    return found


def _helping(columns: SlurColumns, printed: Bools, first: Ints, units: Ints) -> Floats:
    """Every join that is not printed costs, less where a slur is likely."""
    likely = _score(join_features(columns))
    each = rules.SLUR_ADDED - rules.SLUR_LIKELY * np.clip(likely, -3.0, 1.0)
    sums = np.concatenate([[0.0], np.cumsum(np.where(printed, 0.0, each))])
    added: Floats = sums[first + units] - sums[first + 1]
    return added


def _score(features: Features) -> Floats:
    total = np.zeros(len(next(iter(features.values()))))
    for name, here in features.items():
        total += SLUR_WORTH.get(name, 0.0) * here
    return total
