"""A part with printed slurs as ways of cutting its notes into bows, to learn from."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from plectrum.core.document.choices import Choices
from plectrum.core.planning.fingering.search import fingering_of
from plectrum.core.planning.learning.groups import Cuts
from plectrum.core.planning.strokes.slur_columns import SlurColumns, slur_columns
from plectrum.core.planning.strokes.slur_features import FOLLOWS
from plectrum.core.planning.strokes.slurs import LONGEST_N, group_rows, possible_groups
from plectrum.core.score.model import Part


def without_slurs(part: Part) -> Part:
    """The same part as if no slur were printed."""
    return replace(part, notes=tuple(n._replace(slurred=False) for n in part.notes))


@dataclass(frozen=True)
class PrintedSlurs:
    """A part as if no slur were printed, and which notes are printed under one."""

    columns: SlurColumns
    joined: NDArray[np.bool_]


def printed_slurs(part: Part, choices: Choices) -> PrintedSlurs:
    """The bowed notes of a part, their printed slurs apart."""
    bare = without_slurs(part)
    notes = [n for n in part.notes if not n.pizzicato]
    columns = slur_columns(bare, notes, fingering_of(bare, choices))
    joined = np.array([n.slurred for n in notes], dtype=bool)
    return PrintedSlurs(columns, joined & columns.joinable)


def cuts_of(
    printed: PrintedSlurs, names: Sequence[str], figures: Mapping[str, float] | None = None
) -> Cuts:
    """The printed slurs and every group the notes could be cut into, by features."""
    columns = printed.columns
    first, units = possible_groups(columns.joinable, LONGEST_N)
    follows = np.zeros((2, 2, len(names)))
    for (was, now), name in zip(((1, 1), (0, 1), (1, 0)), FOLLOWS, strict=True):
        if name in names:
            follows[was, now, names.index(name)] = 1.0
    rows = group_rows(columns, first, first + units - 1, names, figures)
    return Cuts(len(columns.pitch), first, units, rows, follows, printed.joined)
