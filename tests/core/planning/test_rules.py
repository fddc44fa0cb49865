"""The rule table: every rule named and placed, and taking one out changes its example."""

from __future__ import annotations

import re
from importlib import import_module, util
from pathlib import Path

import numpy as np
import pytest

from plectrum.core.planning import rules
from plectrum.core.planning.fingering.search import fingering_of
from plectrum.core.planning.rules import LEARNT, SLUR_WORTH, TABLE, Rule
from plectrum.core.planning.rules.learnt import SLUR_WHY
from plectrum.core.planning.strokes.context import (
    Bows,
    columns_of,
    direction_features,
    hook_features,
    up_features,
)
from plectrum.core.planning.strokes.slur_columns import slur_columns
from plectrum.core.planning.strokes.slur_features import (
    FOLLOWS,
    group_features,
    join_features,
)
from tests.core.planning.rule_examples import forget_everything, seen, taken_out
from tests.tunes import tune_document


@pytest.fixture(autouse=True)
def fresh():
    forget_everything()
    yield
    forget_everything()


@pytest.mark.parametrize("rule", TABLE.values(), ids=TABLE.keys())
def test_taking_a_rule_out_changes_its_example(rule: Rule):
    before = seen(rule.example)
    with taken_out(rule):
        assert seen(rule.example) != before


@pytest.mark.parametrize("rule", TABLE.values(), ids=TABLE.keys())
def test_every_row_says_what_it_is(rule: Rule):
    """Unit, place, words; the module named there uses the number by its name."""
    assert rule.unit
    assert rule.why
    assert rule.term == "" or rule.term in rules.TERMS
    if rule.name in LEARNT or rule.name in SLUR_WORTH:
        return  # used by name: see the tests of the features
    source = Path(util.find_spec(f"plectrum.core.{rule.place}").origin).read_text("utf-8")
    group = re.match(r"(amount|bite)_of_", rule.name)
    name = group[0].strip("_").upper() if group else rule.name.upper()
    users = source
    if rule.name in ("reach_db", "too_loud_db"):
        users = Path(import_module("plectrum.core.advice.out_of_reach").__file__).read_text("utf-8")
    assert re.search(rf"\b(w|rules)\.{name}\b", users), f"{rule.place} does not use {name}"


def test_every_feature_is_a_learnt_row_and_every_learnt_row_a_feature():
    part = tune_document("A4*3/2 B4*1/2 A4( B4)|A4*4").part
    columns = columns_of(part)
    bows = Bows(np.array([0, 1, 2, 4]), np.array([0, 1, 3, 4]))
    before = Bows(np.array([0, 0, 1, 2]), np.array([0, 0, 1, 3]))
    pair = np.array([False, True, False, False])
    found = {
        **direction_features(columns, bows, np.array([1, 2, 4, -1]), 0.3),
        **hook_features(columns, before, bows, pair, 0.3),
        **up_features(columns, before, bows, 0.3),
    }
    assert set(found) == set(LEARNT)


def test_every_slur_feature_has_words_and_every_row_is_a_feature():
    document = tune_document("A4*1/2( B4*1/2) C5 D5|A4 B4 C5 D5")
    fingered = fingering_of(document.part, document.choices)
    columns = slur_columns(document.part, document.part.notes, fingered)
    groups = group_features(columns, np.array([0]), np.array([1]))
    assert {*join_features(columns), *groups, *FOLLOWS} == set(SLUR_WHY)
    assert set(SLUR_WORTH) <= set(SLUR_WHY)


def test_every_term_of_a_cost_has_a_rule_and_words():
    assert {rule.term for rule in TABLE.values() if rule.term} | {"tape"} == set(rules.TERMS)
    assert all(rules.TERM_WORDS.values())


def test_no_number_of_the_planner_stands_elsewhere():
    """Modules of the planner hold no capital-letter numbers of their own but shapes and codes."""
    allowed = re.compile(
        r"^(LANES_N|PLANNER|CHORD_N|SPOKEN|FIRST_POSITION|NEARLY_Q|MIDDLE_LANE|KEPT_MOST|KEPT_FEW|ROUNDS_N|TURNS_N|SLOWEST_RATIO|PRECISION|POSITIONS_N|LONGEST_N|IN_BOW|MOST_ROUNDS|MOST_TRIED|MOST_LEADERS|MOST_REGIONS_N|MOST_TOGETHER_N|INSIDE_CELLS|FAR|REGIONS_N|QUARTERS|WEIGHTS|WEIGHT_STEP|THIRDS|SHAPES|INTERVALS|DOTS|"
        r"TURN|DOWN|PULL)\b"
    )
    folder = Path(rules.__file__).parents[1]
    for path in folder.rglob("*.py"):
        if path.parent.name == "rules":
            continue
        for line in path.read_text("utf-8").splitlines():
            match = re.match(r"^([A-Z][A-Z_]+)(, [A-Z_]+)* = \(?-?[\d.]", line)
            assert match is None or allowed.match(line), f"{path.name}: {line}"
