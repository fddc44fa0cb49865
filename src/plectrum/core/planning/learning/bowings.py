"""A part and marks of its bows as a chain to learn from, and what is believed beforehand."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from plectrum.core.document.choices import Choices
from plectrum.core.planning.fingering.search import fingering_of
from plectrum.core.planning.learning.chain import Chain, fit
from plectrum.core.planning.rules import LEARNT
from plectrum.core.planning.strokes.context import (
    Bows,
    Features,
    columns_of,
    direction_features,
    hook_features,
    up_features,
)
from plectrum.core.planning.strokes.units import build_units
from plectrum.core.score.model import Direction, Part

# What the trade believes before any page is opened (own defaults, common practice).
BELIEVED = {
    "down_on_bar": 1.0,
    "down_on_mid": 0.3,
    "down_on_beat": -0.05,
    "down_on_off": -0.08,
    "down_on_sub": -0.1,
    "down_start": 0.3,
    "down_chord": 3.0,
    "hook": 1.0,
    "hook_over_rest": -0.7,
    "hook_at_seam": -0.8,
}
# What no page may unteach (common practice): first beats and beginnings go down, pickups up.
BOUNDS: dict[str, tuple[float | None, float | None]] = {
    "down_on_bar": (1.0, None),
    "down_start": (2.0, None),
    "down_pickup": (None, -3.0),
}
PULL = 2.0  # towards what is believed, per squared difference (own default)


def chain_of(part: Part, choices: Choices, marks: Mapping[str, Direction]) -> Chain:
    """The bows of a part as printed, and the directions known of them.

    Args:
        marks: note id to direction.
    """
    units = build_units(part, choices, fingering_of(part, choices))
    base = units.base
    columns = columns_of(part)
    bows = Bows(
        np.array([u.first for u in units], dtype=np.int64),
        np.array([u.last for u in units], dtype=np.int64),
    )
    came = np.maximum(base.before, 0)  # the first is its own
    before = Bows(bows.first[came], np.maximum(base.came, bows.last[:1]))
    pair = np.array([u.short_after_long for u in units], dtype=bool)
    lift_s = choices.player.lift_s
    down = direction_features(columns, bows, np.append(bows.first, -1)[1:], lift_s)
    known = np.full(len(units), -1, dtype=np.int64)
    for u in units:
        found = [marks[n.id] for n in part.notes[u.first : u.last + 1] if n.id in marks]
        if found:
            known[u.index] = 0 if found[0] is Direction.DOWN else 1
    same = _table(hook_features(columns, before, bows, pair, lift_s), len(units))
    same_up = _table(up_features(columns, before, bows, lift_s), len(units))
    same[list(base.forks)] = same_up[list(base.forks)] = 0.0  # what is written before says nothing
    return Chain(_table(down, len(units)), same, same_up, known)


def _table(features: Features, rows_n: int) -> np.ndarray[tuple[int, int], np.dtype[np.float64]]:
    empty = np.zeros(rows_n)
    return np.stack([np.asarray(features.get(n, empty), dtype=float) for n in LEARNT], axis=1)


def learn(
    chains: Sequence[Chain], start: Mapping[str, float] = BELIEVED, pull: float = PULL
) -> dict[str, float]:
    """What every feature is worth, learnt from marked bows within the bounds of the trade."""
    return fit(chains, tuple(LEARNT), start, pull, BOUNDS)
