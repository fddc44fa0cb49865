"""How likely printed slurs are under given worths, and the worths that make them likeliest.

A tune's notes are cut into groups, each a bow; the chance of a way of cutting rises with the sum of
its groups' and joins' worths as exp(sum). The likelihood is exact; many tunes are gone through at
once, each a row.

Reference: S. Sarawagi, W. Cohen, "Semi-Markov conditional random fields for information
extraction", NIPS 2004, quoted from memory.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import minimize

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
_BARRED = -1e9


@dataclass(frozen=True)
class Cuts:
    """One tune's notes and their groups.

    Attributes:
        notes_n: how many notes there are.
        first, units: of each possible group of two notes or more, shape (G,).
        features: of each such group, its joins' included, shape (G, F).
        follows: features of a bow after another, by whether each is a group: (2, 2, F).
        joined: whether each note is printed under a slur with the one before, shape (N,).
    """

    notes_n: int
    first: Ints
    units: Ints
    features: Floats
    follows: Floats
    joined: NDArray[np.bool_]


class ManyCuts:
    """Many tunes, to be gone through at once."""

    def __init__(self, cuts: Sequence[Cuts]) -> None:
        self.cuts = cuts
        self.longest = max(int(c.units.max(initial=1)) for c in cuts)
        self._features = np.concatenate([c.features for c in cuts])
        self._follows = cuts[0].follows
        self._lengths = np.array([c.notes_n for c in cuts])
        shape = len(cuts), int(self._lengths.max()), self.longest
        row = np.concatenate([np.full(len(c.first), k) for k, c in enumerate(cuts)])
        first = np.concatenate([c.first for c in cuts])
        units = np.concatenate([c.units for c in cuts])
        self._at = np.ravel_multi_index((row, first, units - 1), shape)
        self._shape = shape
        self._allowed = np.zeros(shape, dtype=bool)
        self._allowed.ravel()[self._at] = True
        self._allowed[:, :, 0] = np.arange(shape[1])[None, :] < self._lengths[:, None]
        self._printed = self._allowed & self._as_printed()

    def _as_printed(self) -> NDArray[np.bool_]:
        """The groups that are printed bows."""
        found = np.zeros(self._shape, dtype=bool)
        for k, c in enumerate(self.cuts):
            starts = np.flatnonzero(~c.joined)
            units = np.diff(np.append(starts, c.notes_n))
            fits = units <= self.longest
            found[k, starts[fits], units[fits] - 1] = True
        return found

    def loss(self, worth: Floats) -> tuple[float, Floats]:
        """Minus the log likelihood of the printed slurs, and its gradient."""
        scores = np.zeros(self._shape)
        scores.ravel()[self._at] = self._features @ worth
        follows = self._follows @ worth
        free, free_groups, free_follows = self._sums(scores, follows, self._allowed)
        held, held_groups, held_follows = self._sums(scores, follows, self._printed)
        by_group = (free_groups - held_groups).ravel()[self._at]
        gradient = by_group @ self._features
        gradient += np.einsum("ab,abf->f", free_follows - held_follows, self._follows)
        kept = np.isfinite(held) & (held > _BARRED / 2)
        return float((free - held)[kept].sum()), gradient

    def _sums(
        self, scores: Floats, follows: Floats, allowed: NDArray[np.bool_]
    ) -> tuple[Floats, Floats, Floats]:
        """Log of the sum over all ways, the chance of each group, and of what follows what."""
        tunes, n, longest = self._shape
        own = np.where(allowed, scores, _BARRED)
        ahead = np.full((tunes, n + 1, 2), _BARRED)  # up to here, the last bow single or a group
        ahead[:, 0] = 0.0
        for i in range(n):
            for units in range(1, min(longest, n - i) + 1):
                group = int(units > 1)
                came = ahead[:, i] + (follows[:, group] if i else 0.0)
                best = np.logaddexp(came[:, 0], came[:, 1]) if i else came[:, 0]
                here = best + own[:, i, units - 1]
                at = ahead[:, i + units, group]
                ahead[:, i + units, group] = np.logaddexp(at, here)
        rows = np.arange(tunes)
        ends = ahead[rows, self._lengths]
        whole = np.logaddexp(ends[:, 0], ends[:, 1])
        behind = np.full((tunes, n + 1, 2), _BARRED)
        behind[rows, self._lengths] = 0.0
        chances, pairs = np.zeros(self._shape), np.zeros((2, 2))
        for i in range(n - 1, -1, -1):
            for units in range(1, min(longest, n - i) + 1):
                group = int(units > 1)
                onward = own[:, i, units - 1] + behind[:, i + units, group]
                if i == 0:
                    chances[:, 0, units - 1] = np.exp(np.minimum(onward - whole, 0.0))
                    continue
                for was in (0, 1):
                    step = follows[was, group] + onward
                    chance = np.exp(np.minimum(ahead[:, i, was] + step - whole, 0.0))
                    chances[:, i, units - 1] += chance
                    pairs[was, group] += chance.sum()
                    behind[:, i, was] = np.logaddexp(behind[:, i, was], step)
        return whole, chances, pairs


def fit_groups(
    cuts: Sequence[Cuts],
    names: Sequence[str],
    pull: float,
    bounds: Mapping[str, tuple[float, float]] | None = None,
) -> Mapping[str, float]:
    """The worth of every feature that makes the printed slurs likeliest; pulled towards 0, and
    inside the bounds that some have."""
    many = ManyCuts(cuts)

    def loss(worth: Floats) -> tuple[float, Floats]:
        value, gradient = many.loss(worth)
        return value + pull * float(worth @ worth), gradient + 2 * pull * worth

    limits = [(bounds or {}).get(name, (None, None)) for name in names]
    found = minimize(
        loss,
        np.zeros(len(names)),
        jac=True,
        method="L-BFGS-B",
        bounds=limits,
        options={"maxiter": 150},
    )
    return dict(zip(names, found.x.tolist(), strict=True))
