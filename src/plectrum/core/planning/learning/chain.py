"""How likely printed marks are under given costs, and the costs that make them likeliest.

A tune's bows are a chain: each goes down or up, at a cost, and goes the same way as the one before
at a cost. A chain's chance falls with its cost as exp(−cost). Marks stand at some bows only; all
ways through a chain that keep its marks count together, so the likelihood is exact. Many chains
are gone through at once, each a row, short ones filled up.

Reference: the forward and backward sums of a linear-chain conditional random field (J. Lafferty,
A. McCallum, F. Pereira, "Conditional random fields", ICML 2001), quoted from memory.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import minimize

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
_BARRED = 1e9


@dataclass(frozen=True)
class Chain:
    """One tune's bows.

    Attributes:
        down: features that make a bow go down, shape (N, F); what they are worth is won by a
            down-bow and lost by an up-bow.
        same: features of going on the same way as the bow before, shape (N, F).
        same_up: those of going on upwards, shape (N, F).
        marks: 0 down, 1 up, −1 unmarked, shape (N,).
    """

    down: Floats
    same: Floats
    same_up: Floats
    marks: Ints


class Chains:
    """Many chains, to be gone through at once."""

    def __init__(self, chains: Sequence[Chain]) -> None:
        self.chains = chains
        self._lengths = np.array([len(c.marks) for c in chains])
        self._down = np.concatenate([c.down for c in chains])
        self._same = np.concatenate([c.same for c in chains])
        self._same_up = np.concatenate([c.same_up for c in chains])
        self._place = np.concatenate(
            [np.arange(n) + k * self._lengths.max() for k, n in enumerate(self._lengths)]
        )
        self._marks = self._padded(np.concatenate([c.marks for c in chains]).astype(float), -1)

    def _padded(self, flat: Floats, filler: float) -> Floats:
        shape = len(self._lengths), int(self._lengths.max())
        out = np.full(shape, filler).ravel()
        out[self._place] = flat
        return out.reshape(shape)

    def loss(self, weights: Floats) -> tuple[float, Floats]:
        """Minus the log likelihood of the marks, and its gradient."""
        down = self._padded(self._down @ weights, 0.0)
        same = self._padded(self._same @ weights, 0.0)
        same_up = self._padded(self._same_up @ weights, 0.0)
        own = np.stack([down, -down], axis=2)
        on = np.stack([same, same + same_up], axis=2)
        free, free_down, free_on = _sums(own, on, self._lengths)
        kept = own - _BARRED * ((self._marks >= 0)[:, :, None]
                                & (self._marks[:, :, None] != np.arange(2)))  # fmt: skip
        held, held_down, held_on = _sums(kept, on, self._lengths)
        by_down = (free_down - held_down).ravel()[self._place]
        by_on = (free_on - held_on).reshape(-1, 2)[self._place]
        gradient = by_down @ self._down - by_on.sum(axis=1) @ self._same
        gradient -= by_on[:, 1] @ self._same_up
        return float((free - held).sum()), gradient


def _sums(own: Floats, on: Floats, lengths: Ints) -> tuple[Floats, Floats, Floats]:
    """Log of the sum over all ways; the mean of (down − up) and of going on, at each bow."""
    n = own.shape[1]
    forward, backward = np.zeros_like(own), np.zeros_like(own)
    forward[:, 0] = own[:, 0]
    for i in range(1, n):
        came = forward[:, i - 1]
        forward[:, i] = np.logaddexp(came[:, ::-1], came - on[:, i]) + own[:, i]
    inside = np.arange(n)[None, :] + 1 < lengths[:, None]
    for i in range(n - 2, -1, -1):
        went = backward[:, i + 1] + own[:, i + 1]
        sums = np.logaddexp(went[:, ::-1], went - on[:, i + 1])
        backward[:, i] = np.where(inside[:, i, None], sums, 0.0)
    rows = np.arange(len(lengths))
    whole = np.logaddexp.reduce(forward[rows, lengths - 1], axis=1)
    belongs = np.arange(n)[None, :] < lengths[:, None]
    ways = np.exp(forward + backward - whole[:, None, None]) * belongs[:, :, None]
    going = np.zeros_like(on)
    steps = forward[:, :-1] - on[:, 1:] + own[:, 1:] + backward[:, 1:] - whole[:, None, None]
    going[:, 1:] = np.exp(np.where(belongs[:, 1:, None], steps, -np.inf))
    return whole, ways[:, :, 0] - ways[:, :, 1], going


def fit(
    chains: Sequence[Chain],
    names: Sequence[str],
    start: Mapping[str, float],
    pull: float,
    bounds: Mapping[str, tuple[float | None, float | None]],
) -> dict[str, float]:
    """The worth of every feature that makes the marks likeliest, near where it starts from.

    Args:
        start: what is believed beforehand; 0 where nothing is.
        pull: how strongly, per squared difference.
        bounds: least and greatest worth that the trade allows.
    """
    many = Chains(chains)
    prior = np.array([start.get(n, 0.0) for n in names])

    def loss(weights: Floats) -> tuple[float, Floats]:
        value, gradient = many.loss(weights)
        away = weights - prior
        return value + pull * float(away @ away), gradient + 2 * pull * away

    found = minimize(
        loss,
        prior,
        jac=True,
        method="L-BFGS-B",
        bounds=[bounds.get(n, (None, None)) for n in names],
        options={"maxiter": 300},
    )
    return dict(zip(names, found.x.tolist(), strict=True))
