"""What is to be looked at, a line a kind."""

from __future__ import annotations

from plectrum.core.advice.things import things_of
from plectrum.core.advice.warnings import warnings_of
from plectrum.core.document.document import Document
from plectrum.core.files.exports import plan_as_text
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.score.reading.opening import open_path
from tests.core.score.test_second_readers import quartet
from tests.tunes import tune_document, tune_plan


def test_one_warning_keeps_its_words():
    plan = tune_plan("A4 B4 C5 D5|A4*4( B4*4 C5*4 D5*4)|", bpm=42)
    (thing,) = things_of(warnings_of(plan))
    assert "longer than this player's slowest bow" in thing.text
    assert thing.warnings == warnings_of(plan)


def test_warnings_of_a_kind_are_one_line_with_its_places():
    document = tune_document("A4*8( B4*8)|" * 3 + "A4 B4 C5 D5|", "16/4", bpm=60)
    plan = plan_of(document)
    found = [w for w in warnings_of(plan) if w.code == "slur_too_long"]
    assert len(found) == 3
    thing = next(t for t in things_of(warnings_of(plan)) if t.code == "slur_too_long")
    assert thing.text == "3 slurs are longer than this player's slowest bow: bars 1–3"
    assert thing.warnings == tuple(found)
    said = [line for line in plan_as_text(document, plan).splitlines() if line.startswith("!")]
    assert sum("slowest bow" in line for line in said) == 1


def test_nothing_is_lost_and_the_gravest_comes_first():
    plan = tune_plan("G2 A4*1/4 B4*1/4 A4*1/2 C7 D5|[ff] A4*4( |B4*4)|", player="starter", bpm=60)
    things = things_of(warnings_of(plan))
    told = [w for t in things for w in t.warnings]
    assert sorted(told, key=str) == sorted(warnings_of(plan), key=str)
    ranks = [["problem", "caution", "note"].index(t.severity) for t in things]
    assert ranks == sorted(ranks)


def test_a_real_part_is_a_dozen_lines_at_most():
    """A part of a quartet for a growing player; before, every note was a line of its own."""
    score = open_path(quartet("haydn/opus1no1/movement4"))
    for part in score.parts:
        plan = plan_of(Document.from_score(score, part.id))
        assert len(things_of(warnings_of(plan))) <= 12


def test_a_remedy_never_asks_for_a_lane_that_is_not_learnt():
    plan = tune_plan("[ff] A4*1/4 B4*1/4 A4*1/4 B4*1/4 A4*2|A4*4", player="starter")
    assert plan.player.lanes == (3,)
    for warning in warnings_of(plan):
        assert "lane" not in warning.remedy.replace("lane 3", "")
