"""A part with printed slurs as ways of cutting its notes into bows, to learn from."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from plectrum.core.document.choices import Choices
from plectrum.core.planning.fingering.search import fingering_of
from plectrum.core.planning.learning.groups import Cuts
from plectrum.core.planning.strokes.slur_features import FOLLOWS, slur_columns
from plectrum.core.planning.strokes.slurs import LONGEST_N, group_rows, possible_groups
from plectrum.core.score.model import Part


def without_slurs(part: Part) -> Part:
    """The same part as if no slur were printed."""
    return replace(part, notes=tuple(n._replace(slurred=False) for n in part.notes))


def cuts_of(part: Part, choices: Choices, names: Sequence[str]) -> Cuts:
    """The printed slurs of a part and every group its notes could be cut into, by features."""
    bare = without_slurs(part)
    notes = [n for n in part.notes if not n.pizzicato]
    columns = slur_columns(bare, notes, fingering_of(bare, choices))
    first, units = possible_groups(columns.joinable, LONGEST_N)
    joined = np.array([n.slurred for n in notes], dtype=bool) & columns.joinable
    follows = np.zeros((2, 2, len(names)))
    for (was, now), name in zip(((1, 1), (0, 1), (1, 0)), FOLLOWS, strict=True):
        if name in names:
            follows[was, now, names.index(name)] = 1.0
    rows = group_rows(columns, first, first + units - 1, names)
    return Cuts(len(notes), first, units, rows, follows, joined)
