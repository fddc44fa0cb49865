"""Plans given for other limits: only what would change is flagged."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

from plectrum.core.files.planfile import document_bytes
from plectrum.core.log.plans import out_of_date
from plectrum.core.log.records import PlanGiven
from tests.tunes import tune_document

MUSIC = "A4 B4 C5 D5|E5*3/2 D5*1/2 C5*2|A4*4"


def _given(day: int = 3) -> tuple[PlanGiven, object]:
    document = tune_document(MUSIC)
    plan = PlanGiven("s1", "p1", date(2027, 1, day), document_bytes(document))
    return plan, document.choices.player


def test_limits_that_change_nothing_flag_nothing():
    given, player = _given()
    assert out_of_date([given], player) == ()
    assert out_of_date([given], replace(player, lift_s=player.lift_s + 0.001)) == ()


def test_a_shorter_bow_is_flagged_in_words_of_what_changes():
    given, player = _given()
    changed = out_of_date(
        [_given(1)[0], given], replace(player, usable_to=player.usable_from + 0.3)
    )
    assert len(changed) == 1
    assert changed[0].given is given
    assert changed[0].text.startswith("tune, given on 3 January: ")
    assert "other bow in" in changed[0].text or "to look at instead of" in changed[0].text
    for empty in ("the same bows", "0 → 0"):
        assert empty not in changed[0].text


def test_a_plan_that_cannot_be_read_is_left_out():
    given, player = _given()
    torn = replace(given, document=b"torn")
    assert out_of_date([torn], replace(player, usable_to=player.usable_from + 0.3)) == ()
