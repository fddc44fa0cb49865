"""What figures are worth: the log odds of a join, by a logistic regression on figures alone."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import minimize
from scipy.sparse import csr_matrix
from scipy.special import expit

Floats = NDArray[np.float64]


def fit_figures(
    figures: Sequence[Sequence[str]], joined: Sequence[bool], pull: float
) -> dict[str, float]:
    """The worth of every figure that makes the printed joins likeliest, pulled towards 0.

    Args:
        figures: of each possible join, its keys.
        joined: whether it is printed.
        pull: per squared worth.
    """
    keys = sorted({key for of_join in figures for key in of_join})
    column = {key: k for k, key in enumerate(keys)}
    at = [column[key] for of_join in figures for key in of_join]
    rows = np.repeat(np.arange(len(figures)), [len(f) for f in figures])
    table = csr_matrix((np.ones(len(at)), (rows, at)), shape=(len(figures), len(keys)))
    truth = np.asarray(joined, dtype=np.float64)

    def loss(worth: Floats) -> tuple[float, Floats]:
        score = table @ worth[:-1] + worth[-1]
        value = np.logaddexp(0, score).sum() - truth @ score + pull * (worth[:-1] @ worth[:-1])
        left = expit(score) - truth
        return float(value), np.append(table.T @ left + 2 * pull * worth[:-1], left.sum())

    found = minimize(
        loss, np.zeros(len(keys) + 1), jac=True, method="L-BFGS-B", options={"maxiter": 300}
    )
    return dict(zip(keys, found.x[:-1].tolist(), strict=True))
