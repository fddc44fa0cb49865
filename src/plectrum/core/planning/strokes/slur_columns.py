"""What slurs are judged by: an array for each thing that is known of every bowed note."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from plectrum.core.planning import rules
from plectrum.core.planning.fingering.grips import Fingered
from plectrum.core.planning.strokes.amounts import ACCENTED, STOPPED
from plectrum.core.planning.strokes.context import Columns, columns_of, forks
from plectrum.core.score.model import Note, Part

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]


class SlurColumns(NamedTuple):
    """What the features need of every bowed note, an array each."""

    columns: Columns
    pitch: Ints
    level: Ints
    level_db: Floats
    seconds: Floats
    quarters: Floats
    joinable: Bools
    forked: Bools
    stopped: Bools


def slur_columns(part: Part, notes: Sequence[Note], fingered: Sequence[Fingered]) -> SlurColumns:
    """The columns of some notes of a part, one row a note; string levels of 0 are unknown."""
    index = np.array([n.index for n in notes], dtype=np.int64)
    whole = columns_of(part)
    forked = forks(whole)[index]
    columns = whole._replace(**{name: getattr(whole, name)[index] for name in whole._fields})
    return SlurColumns(
        columns,
        np.array([n.pitches[0].midi for n in notes], dtype=np.int64),
        np.array([fingered[n.index].level or 0 for n in notes], dtype=np.int64),
        np.array([n.level_db for n in notes]),
        columns.end_s - columns.onset_s,
        columns.end_q - columns.onset_q,
        _joinable(notes) & ~forked,
        forked,
        np.array([bool(n.articulations & STOPPED) for n in notes], dtype=bool),
    )


def _joinable(notes: Sequence[Note]) -> Bools:
    """Whether a note may share a bow with the one before: no rest between, and where the page does
    not slur them, another pitch, no accent on it and no dot, but for the short note of a dotted
    pair."""
    found = np.zeros(len(notes), dtype=bool)
    for k in range(1, len(notes)):
        a, b = notes[k - 1], notes[k]
        follows = b.index == a.index + 1 and b.gap_before_s <= rules.SLUR_GAP_S
        follows &= a.stroke_q is None and b.stroke_q is None
        dotted = a.duration_q >= 2 * b.duration_q and not a.articulations & STOPPED
        signed = b.articulations & ACCENTED or (b.articulations & STOPPED and not dotted)
        repeated = a.pitches[0].midi == b.pitches[0].midi
        free = b.slurred or not (signed or repeated)
        found[k] = follows and free
    return found
