"""The rule table: every rule named and placed, and taking one out changes its example."""

from __future__ import annotations

import re
import sys
from dataclasses import replace
from importlib import import_module, util
from pathlib import Path

import numpy as np
import pytest

from plectrum.core.document.choices import Choices, Pin
from plectrum.core.instrument.bow import Bow
from plectrum.core.planning import rules
from plectrum.core.planning.fingering.search import fingering_of
from plectrum.core.planning.rules import LEARNT, TABLE, Example, Rule
from plectrum.core.planning.strokes.amounts import moving_share
from plectrum.core.planning.strokes.context import (
    Bows,
    columns_of,
    direction_features,
    hook_features,
    up_features,
)
from plectrum.core.planning.strokes.units import build_units
from plectrum.core.player.player import stage
from plectrum.core.player.school import QUESTIONS, School
from plectrum.core.score.model import Articulation, Part
from tests.tunes import tune_document

WITH_EXAMPLE = [rule for rule in TABLE.values() if rule.example is not None]
# Built anew on what was learnt from print; their examples come then.
WAITING = (
    "planning.strokes.costs", "planning.strokes.stroke_tables", "planning.strokes.preferences",
    "planning.strokes.context", "planning.contact", "advice.sound_faults",
)  # fmt: skip


def forget_everything() -> None:
    """Empty what planning keeps between plans."""
    for name, module in list(sys.modules.items()):
        if name.startswith("plectrum.core.planning"):
            for value in vars(module).values():
                if hasattr(value, "cache_clear"):
                    value.cache_clear()


@pytest.fixture(autouse=True)
def fresh():
    forget_everything()
    yield
    forget_everything()


def part_and_choices(example: Example) -> tuple[Part, Choices]:
    """The tune of an example and what is set for it."""
    document = tune_document(
        example.music, example.metre, bpm=example.bpm, instrument=example.instrument
    )
    notes = list(document.part.notes)
    if example.kind == "breath":
        notes = [n._replace(phrase_end=True) for n in notes]
    elif example.kind:
        kind = frozenset({Articulation(example.kind)})
        notes = [n._replace(articulations=n.articulations | kind) for n in notes]
    if example.written_finger:
        notes[0] = notes[0]._replace(fingerings=(example.written_finger,))
    answers = {str(a): a for _, _, found in QUESTIONS for a in found}
    school = replace(School(), **{q: answers[a] for q, a in example.school.items()})
    player = stage(example.player)
    player = replace(player, positions=example.positions or (1,))
    pins = {}
    if example.pin_string is not None:
        pins[notes[0].id] = Pin(string=example.pin_string)
    bow = Bow.full_size(example.instrument)
    choices = Choices(example.instrument, bow, player, school, None, pins)
    return replace(document.part, notes=tuple(notes)), choices


def seen(example: Example) -> list[object]:
    """What of the plan an example is about."""
    part, choices = part_and_choices(example)
    fingered = fingering_of(part, choices)
    units = build_units(part, choices, fingered)
    return {
        "strings": lambda: [f.string_words + f.finger_words for f in fingered],
        "lengths": lambda: [round(u.ideal_length, 6) for u in units],
        "places": lambda: [round(u.ideal_place, 6) for u in units],
        "stops": lambda: [round(moving_share(n, True), 6) for n in part.notes],
        "crossings": lambda: [u.crossings for u in units],
        "lifts": lambda: [round(u.free_s, 6) for u in units],
        "pairs": lambda: [u.short_after_long for u in units],
    }[example.see]()


@pytest.mark.parametrize("rule", WITH_EXAMPLE, ids=[r.name for r in WITH_EXAMPLE])
def test_taking_a_rule_out_changes_its_example(rule: Rule, monkeypatch):
    before = seen(rule.example)
    if rule.name.startswith("amount_of_"):
        kind = Articulation(rule.name.removeprefix("amount_of_"))
        monkeypatch.setitem(rules.AMOUNT_OF, kind, rule.out)
    else:
        monkeypatch.setattr(rules, rule.name.upper(), rule.out)
    forget_everything()
    assert seen(rule.example) != before


@pytest.mark.parametrize("rule", TABLE.values(), ids=TABLE.keys())
def test_every_row_says_what_it_is(rule: Rule):
    """Unit, place, words; the module named there uses the number by its name."""
    assert rule.unit
    assert rule.why
    assert rule.term == "" or rule.term in rules.TERMS
    assert rule.example is not None or rule.place in WAITING
    if rule.name in LEARNT:
        return  # used by name: see the test of the features
    source = Path(util.find_spec(f"plectrum.core.{rule.place}").origin).read_text("utf-8")
    name = "AMOUNT_OF" if rule.name.startswith("amount_of_") else rule.name.upper()
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
        **direction_features(columns, bows, np.array([1, 2, 4, -1])),
        **hook_features(columns, before, bows, pair, pair),
        **up_features(columns, before, bows),
    }
    assert set(found) == set(LEARNT)


def test_every_term_of_a_cost_has_a_rule_and_words():
    assert {rule.term for rule in TABLE.values() if rule.term} | {"tape"} == set(rules.TERMS)
    assert all(rules.TERM_WORDS.values())


def test_no_number_of_the_planner_stands_elsewhere():
    """Modules of the planner hold no capital-letter numbers of their own but shapes and codes."""
    allowed = re.compile(
        r"^(LANES_N|MIDDLE_LANE|KEPT_MOST|ROUNDS_N|TURNS_N|SLOWEST_RATIO|PRECISION|POSITIONS_N|"
        r"TURN|DOWN|PULL)\b"
    )
    folder = Path(rules.__file__).parents[1]
    for path in folder.rglob("*.py"):
        if path.parent.name == "rules":
            continue
        for line in path.read_text("utf-8").splitlines():
            match = re.match(r"^([A-Z][A-Z_]+)(, [A-Z_]+)* = \(?-?[\d.]", line)
            assert match is None or allowed.match(line), f"{path.name}: {line}"
