"""Learning from printed marks: the likelihood by hand, its slope, the bounds of the trade."""

from __future__ import annotations

from itertools import product

import numpy as np
import pytest

from plectrum.core.planning.learning.bowings import BOUNDS, chain_of, learn
from plectrum.core.planning.learning.chain import Chain, Chains
from plectrum.core.planning.rules import LEARNT, LEARNT_FIGURES
from plectrum.core.score.model import Direction
from tests.tunes import tune_document


def random_chain(rng: np.random.Generator, bows: int) -> Chain:
    down, same, up = (rng.normal(size=(bows, 5)) for _ in range(3))
    return Chain(down, same, up, rng.integers(-1, 2, bows))


def loss_of_everything(chain: Chain, worth: np.ndarray) -> float:
    """Minus the log of the chance of the marks, by adding up every way through."""
    free = held = 0.0
    for ways in product((0, 1), repeat=len(chain.marks)):
        score = 0.0
        for i, way in enumerate(ways):
            score += float(chain.down[i] @ worth) * (1 if way == 0 else -1)
            if i and way == ways[i - 1]:
                score -= float(chain.same[i] @ worth)
                score -= float(chain.same_up[i] @ worth) if way else 0.0
        free += np.exp(score)
        if all(m in (-1, w) for m, w in zip(chain.marks, ways, strict=True)):
            held += np.exp(score)
    return float(np.log(free) - np.log(held))


@pytest.mark.parametrize("seed", range(5))
def test_the_loss_is_that_of_all_ways_added_up(seed):
    rng = np.random.default_rng(seed)
    chains = [random_chain(rng, n) for n in (1, 4, 6)]
    worth = rng.normal(size=5)
    loss, slope = Chains(chains).loss(worth)
    assert loss == pytest.approx(sum(loss_of_everything(c, worth) for c in chains))
    for k in range(5):
        step = np.zeros(5)
        step[k] = 1e-6
        measured = (
            Chains(chains).loss(worth + step)[0] - Chains(chains).loss(worth - step)[0]
        ) / 2e-6
        assert slope[k] == pytest.approx(measured, abs=1e-4)


def test_marks_are_learnt_within_the_bounds_of_the_trade():
    """Forty bars that begin up, marked so, pull the first beat no farther than its bound."""
    document = tune_document("|".join(["A4u B4 A4 B4"] * 20))
    marks = {n.id: n.mark for n in document.part.notes if n.mark is not None}
    bare = tune_document("|".join(["A4 B4 A4 B4"] * 20))
    assert set(marks.values()) == {Direction.UP}
    learnt = learn([chain_of(bare.part, bare.choices, marks)] * 2)
    assert learnt["down_on_bar"] == pytest.approx(BOUNDS["down_on_bar"][0])


def test_a_habit_is_learnt():
    """A teacher who always hooks a quarter to the half before it: hooks onto beats get cheaper."""
    music = "|".join(["A4*2 B4 A4"] * 12)
    document = tune_document(music)
    ways = (Direction.DOWN, Direction.DOWN, Direction.UP)
    marks = {n.id: ways[k % 3] for k, n in enumerate(document.part.notes)}
    learnt = learn([chain_of(document.part, document.choices, marks)], start=LEARNT)
    assert learnt["hook"] + learnt["hook_on_mid"] < LEARNT["hook"] + LEARNT["hook_on_mid"] - 0.2


def test_the_shipped_table_says_what_it_was_learnt_from():
    assert LEARNT_FIGURES["marks_n"] > 1000
    assert LEARNT_FIGURES["slurred_joins_n"] > 1000
