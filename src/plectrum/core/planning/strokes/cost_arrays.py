"""What the inner loops are given: the costs of a problem as arrays (see `problem`)."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from plectrum.core.planning.rules import IMPOSSIBLE

Ints = NDArray[np.int64]


class Costs(NamedTuple):
    """The arrays of a `Problem`, in the order in which the inner loops take them; the first five
    are those of its `StrokeCosts`."""

    by_length: Ints
    by_place: Ints
    ends: Ints
    extra: Ints
    extra_of: Ints
    speed_of: Ints
    kind: Ints
    direction: Ints
    join: Ints
    reach: Ints
    travel: Ints
    before: Ints
    even: Ints
    evenness: Ints

    @property
    def units_n(self) -> int:
        """How many units there are."""
        return len(self.kind)

    @property
    def places_n(self) -> int:
        """How many places there are on the bow."""
        return int(self.ends.shape[0])

    def lifts(self, i: int) -> Ints:
        """Cost of the lift alone before unit i by (from, to), barred beyond the reach."""
        far = np.abs(np.arange(self.places_n)[:, None] - np.arange(self.places_n))
        return np.where(far > self.reach[i], IMPOSSIBLE, self.travel[far])
