"""Words over the staff that say where on the string and with which part of the bow."""

from __future__ import annotations

import pytest

from plectrum.core.advice.reasons import reasons_for
from plectrum.core.document.choices import Pin
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.score.scorefile import read_part
from tests.tunes import tune_document, tune_plan, tune_score


@pytest.mark.parametrize(
    ("words", "lane", "part"),
    [
        ("sul ponticello", 1, ""),
        ("am Steg", 1, ""),
        ("près du chevalet", 1, ""),
        ("sul tasto", 5, ""),
        ("flautando", 5, ""),
        ("sur la touche", 5, ""),
        ("am Griffbrett", 5, ""),
        ("al tallone", 0, "lower-half"),
        ("au talon", 0, "lower-half"),
        ("am Frosch", 0, "lower-half"),
        ("at the heel", 0, "lower-half"),
        ("punta d'arco", 0, "upper-half"),
        ("à la pointe", 0, "upper-half"),
        ("an der Spitze", 0, "upper-half"),
        ("tutto l'arco", 0, "whole"),
        ("dolce", 0, ""),
    ],
)
def test_words_of_the_page_in_four_languages(words, lane, part):
    """Common knowledge; they hold until another word ends them."""
    read = read_part(tune_score(f"A4 {{{words}}} B4 C5 D5|E5 {{ord.}} D5 C5 B4"), "P1")
    told = [(n.written_lane, n.written_part) for n in read.notes]
    assert told == [(0, "")] + [(lane, part)] * 4 + [(0, "")] * 3


def test_the_bow_lies_where_the_page_says_and_the_panel_says_so():
    plan = tune_plan("A4 B4 {alla punta} C5 D5|E5 D5 C5 B4")
    assert all(min(p.start, p.end) >= 0.5 - 1e-9 for p in plan.notes[2:])
    assert "written" in {r.code for r in reasons_for(plan, 4)}
    assert "pin" not in {r.code for n in range(8) for r in reasons_for(plan, n)}


@pytest.mark.parametrize(("player", "lane"), [("steady", 1), ("growing", 2), ("starter", 3)])
def test_the_lane_is_the_nearest_that_the_player_has(player, lane):
    plan = tune_plan("A4 B4 {sul ponticello} C5*2|D5*4", player=player)
    lanes = plan.contact.lane.tolist()
    assert lanes[2:] == [lane, lane]


def test_what_the_teacher_says_stands_above_the_page():
    document = tune_document("{alla punta} A4 B4 C5 r|E5*2 r*2|D5*4", bpm=60)
    note = document.part.notes[3]
    pinned = document.with_choices(document.choices.with_pin(note.id, Pin(place="lower-half")))
    there = plan_of(pinned).notes[3]
    assert max(there.start, there.end) <= 0.5 + 1e-9
