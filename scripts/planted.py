"""Each invariant of the planner against a fault that it must notice.

Plants one fault at a time in the running program and runs the property test that should see it;
prints which do not. `python -m scripts.planted`; about two minutes.
"""

from __future__ import annotations

import random
import sys
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import replace
from types import SimpleNamespace
from typing import Any

import numpy as np
from tests.core import test_places
from tests.core.planning import (
    test_contact,
    test_ensemble,
    test_feedback,
    test_invariants,
    test_one_answer,
    test_program,
    test_settling,
    test_together_documents,
    test_tremolo,
    test_upside_down,
    test_worked_cases,
)
from tests.core.planning.rule_examples import forget_everything
from tests.core.score import test_forms

from plectrum.core.advice import bow_warnings, note_warnings, sound_faults, upside_down
from plectrum.core.document.choices import Pin
from plectrum.core.planning import plan, rules, tempo_window
from plectrum.core.planning.ensemble import coupling, rounds
from plectrum.core.planning.plan import Plan
from plectrum.core.planning.strokes import (
    costs,
    planned,
    solving,
    stroke_tables,
    terms,
    units,
)
from plectrum.core.planning.strokes.amounts import Amounts
from plectrum.core.planning.strokes.costs import CostTables
from plectrum.core.planning.strokes.dynamic_program import Solution
from plectrum.core.planning.strokes.planned import PlannedNote
from plectrum.core.planning.strokes.problem import HOOK

Change = tuple[object, str, Any]


def number(name: str, value: object) -> Change:
    return rules, name, value


def backwards(*args: Any, **kwargs: Any) -> tuple[PlannedNote | None, ...]:
    found = planned.planned_notes(*args, **kwargs)
    return tuple(n if n is None else replace(n, start=n.end, end=n.start) for n in found)


def apart(*args: Any) -> list[tuple[float, float]]:
    return [(a, b - 0.01 * (k == 0)) for k, (a, b) in enumerate(_SHARE(*args))]


_SHARE = planned.share_unit
_TERMS = CostTables.terms_of
_LENGTHS = Amounts._lengths


def without_joins(self: CostTables, *args: Any) -> dict[str, int]:
    return {name: cost for name, cost in _TERMS(self, *args).items() if name != "join"}


_ASKED = coupling.Coupling.asked


def one_sided(self: coupling.Coupling, part: int, bowed: Any) -> Any:
    return _ASKED(self, part, [b if q > part else None for q, b in enumerate(bowed)])


def by_quarters(self: Amounts, notes: Any, *args: Any) -> Any:
    return _LENGTHS(self, notes, *args) * np.array([float(n.duration_q) for n in notes])


def hookless(solution: Solution) -> Any:
    p = solution.problem
    join = p.join.copy()
    join[..., HOOK] = rules.IMPOSSIBLE
    return _SOLVED.func(Solution(replace(p, join=join)))


_SOLVED = Solution.__dict__["_solved"]
_ALTERNATIVES = Plan.alternatives
_EVENNESS = stroke_tables.evenness_tables


def dearer(self: Plan, unit: int) -> Any:
    found = _ALTERNATIVES(self, unit)
    return tuple(replace(a, extra_cost=a.extra_cost + 1e-3) for a in found)


def as_written(_played: Any, first: Any, last: Any) -> Any:
    return np.arange(-1, len(first) - 1), np.append(-1, last)[: len(last)]


def shaky() -> Any:
    table = _EVENNESS()
    return table + np.random.default_rng(random.getrandbits(32)).integers(0, 10**6, table.shape)


# Fault, what is planted, the test that must see it.
FAULTS: list[tuple[str, list[Change], Callable[..., object], tuple[object, ...]]] = [
    ("the whole bow for everybody", [(costs, "usable_cells", lambda _c: (0, rules.CELLS_N))],
     test_invariants.test_the_bow_moves_the_right_way_and_stays_in_its_part, ()),
    ("down shrinks", [(solving, "planned_notes", backwards)],
     test_invariants.test_the_bow_moves_the_right_way_and_stays_in_its_part, ()),
    ("notes of a slur do not meet", [(planned, "share_unit", apart)],
     test_invariants.test_strokes_meet_and_lengths_sum, ()),
    ("a term is not printed", [(CostTables, "terms_of", without_joins)],
     test_invariants.test_the_total_is_the_sum_of_its_printed_terms, ()),
    ("hooks are forgotten when solving", [(Solution, "_solved", property(hookless))],
     test_program.test_a_real_tune_equals_trying_everything, ()),
    ("chance", [(costs, "evenness_tables", shaky)],
     test_invariants.test_same_input_same_output, ()),
    ("marks do not hold, silently",
     [number("MARK", 0.0), (bow_warnings, "_kept", lambda *_a: iter(()))],
     test_invariants.test_score_marks_are_kept_or_the_plan_says_why_not, ()),
    ("pins do not hold, silently",
     [number("PIN", 0.0), (bow_warnings, "_kept", lambda *_a: iter(()))],
     test_invariants.test_every_pin_is_honoured_or_refused_with_a_reason, ()),
    ("alternatives cost a little too much", [(Plan, "alternatives", dearer)],
     test_invariants.test_extra_costs_are_what_it_costs_to_take_them, ()),
    ("prices with what is held", [(Plan, "_free_tables", property(lambda p: p.tables))],
     test_invariants.test_extra_costs_are_what_it_costs_to_take_them, ()),
    ("nothing changes with an alternative", [(plan, "changed_by", lambda *_a: {})],
     test_invariants.test_what_an_alternative_would_change_is_what_it_changes, ()),
    ("strokes follow what is written before them", [(units, "before_each", as_written)],
     test_forms.test_the_bow_goes_on_in_the_order_of_playing, (0,)),
    ("an even tremolo counts as one stroke",
     [(units.BaseUnits, "after_even", property(lambda u: u.came < -1))],
     test_tremolo.test_what_follows_goes_on_from_the_last_stroke, ("A4*2= B4*2|A4*4", "DDU")),
    ("a tremolo that nobody counts is too quick",
     [(tempo_window, "tremolo_of", lambda n: (round(40 * n.duration_s), True))],
     test_tremolo.test_counted_strokes_are_strokes_and_others_are_exempt, ()),
    ("long rests begin nothing anew", [number("RESET_S", 1e9)],
     test_worked_cases.test_plain_music_is_bowed_plainly, ("violin", *test_worked_cases.PLAIN[2])),
    ("lanes that nobody has", [(sound_faults, "next_lane", lambda *_a, **_k: 9)],
     test_one_answer.test_no_remedy_asks_for_what_is_not_there, ()),
    ("what comes as it comes is called upside down",
     [(upside_down, "_with_hooks", lambda p: SimpleNamespace(units=[], steps=[], part=p.part))],
     test_upside_down.test_who_has_hooks_is_told_nothing_and_nor_is_what_comes_as_it_comes, ()),
    ("limits cost nothing",
     [number("LIMIT", 0.0), number("TOO_FAST", 0.0), number("TOO_SLOW", 0.0)],
     test_invariants.test_no_limit_is_broken_where_a_plan_without_wishes_breaks_none, ()),
    ("ways are not held on other strings",
     [number("SAME", dict.fromkeys(rules.SAME, 0.0)), number("STRING_EXPONENT", 3.0)],
     test_invariants.test_the_same_rhythm_on_other_strings_has_the_same_ways, ()),
    ("quarters decide how much bow", [(Amounts, "_lengths", by_quarters)],
     test_invariants.test_other_note_values_of_the_same_length_plan_the_same, ()),
    ("unevenness is wished for", [number("EVEN", -6.0)],
     test_invariants.test_running_notes_of_one_length_get_one_length_of_bow, ("violin",)),
    ("a repeat asks for the same way again", [number("SEAM_HOOK", -6.0)],
     test_worked_cases.test_ordinary_figures_on_every_instrument_with_and_without_a_repeat,
     ("violin", *test_worked_cases.ORDINARY[1])),
    ("long bows are hooked", [number("CROWDED_HOOK", 0.0)],
     test_worked_cases.test_two_bows_that_want_more_than_there_is_are_not_hooked, ("cello",)),
    ("plans share strokes that are pinned otherwise",
     [(Pin, "of_strokes", property(lambda p: (p.direction, p.join)))],
     test_feedback.test_a_lane_leaves_the_strokes_and_every_other_word_makes_them_anew, ()),
    ("the contact point moves freely",
     [number("AT_TURN", (0.1, 1.0)), number("AT_HOOK", (0.1, 1.0)), number("LANE_SNAP", 0.0)],
     test_settling.test_a_plan_without_changes_of_level_keeps_its_lane, ()),
    ("no walls", [number("WALL", 0.0), number("OFF_NEUTRAL", 0.0), number("OFF_WISHED", 5.0),
                  number("LEVEL_PER_NEPER_DB", 3.0)],
     test_settling.test_every_end_of_every_note_lies_inside_the_limits, ()),
    ("remedies beyond the hair",
     [(note_warnings, "_reach_remedy", lambda _p, r: f"Use {r.length_mm / 10:.0f} cm in one bow")],
     test_contact.test_no_warning_asks_for_bow_that_is_not_there, ()),
    ("others may ask for what a player cannot", [number("GUARD", 0.0)],
     test_ensemble.test_no_part_hooks_unlearnt_to_come_right_again, ()),
    ("going apart costs nothing", [number("TOGETHER", 0.0)],
     test_ensemble.test_three_parts_outvote_one_and_the_one_follows, ()),
    ("a pin pushes the others away", [number("TOGETHER_HELD", -1.0)],
     test_together_documents.test_what_is_pinned_in_one_part_moves_those_that_match, ()),
    ("regions are left alone", [number("TOGETHER_PLACE", 0.0)],
     test_ensemble.test_bows_that_match_lie_in_the_same_region, ()),
    ("nothing is imitated", [number("IMITATED", 0.0)],
     test_ensemble.test_in_a_round_the_second_voice_bows_as_the_first,
     (test_ensemble.ROUND[0], 1)),
    ("figures between rests go as they like",
     [(terms, "figures_again", lambda _c, first, _last: np.zeros(len(first), dtype=bool))],
     test_worked_cases.test_plain_music_is_bowed_plainly, ("cello", *test_worked_cases.PLAIN[10])),
    ("notes off the beat hang on the one before",
     [(terms, "figures_again", lambda _c, first, _last: np.zeros(len(first), dtype=bool))],
     test_worked_cases.test_plain_music_is_bowed_plainly, ("violin", *test_worked_cases.PLAIN[17])),
    ("the lane goes with every high note", [number("HIGH_STAY_N", 1)],
     test_contact.test_where_high_and_low_notes_alternate_the_lane_stays, ()),
    ("bars begin as they like together", [number("BEGUN", 0.0)],
     test_ensemble.test_bows_that_begin_a_bar_together_go_one_way_whatever_their_length, ()),
    ("odd figures between rests go as they like", [number("ODD_HOOK", 9.0)],
     test_worked_cases.test_plain_music_is_bowed_plainly, ("violin", *test_worked_cases.PLAIN[21])),
    ("figures after long rests go as they like", [number("AGAIN_ANEW", 0.0)],
     test_worked_cases.test_plain_music_is_bowed_plainly, ("violin", *test_worked_cases.PLAIN[23])),
    ("the beginning gives way to the end",
     [number("LEARNT", dict(rules.LEARNT) | {"down_start": 1.3})],
     test_worked_cases.test_plain_music_is_bowed_plainly, ("violin", *test_worked_cases.PLAIN[22])),
    ("bars of one bow go the same way without a way back", [number("FAR_HOOK", -9.0)],
     test_worked_cases.test_plain_music_is_bowed_plainly, ("violin", *test_worked_cases.PLAIN[20])),
    ("a run is stopped for a beat", [number("RUNNING_HOOK", -9.0)],
     test_worked_cases.test_no_run_is_stopped_for_a_beat, (test_worked_cases.RUNS[0],)),
    ("the last chord as it comes", [number("FINAL_CHORD", 0.0)],
     test_worked_cases.test_plain_music_is_bowed_plainly, ("violin", *test_worked_cases.PLAIN[14])),
    ("words over the staff are pins", [number("WRITTEN_PLACE", rules.PIN)],
     test_worked_cases.test_plain_music_is_bowed_plainly, ("violin", *test_worked_cases.PLAIN[15])),
    ("what is said of one note is the bow's", [(planned, "_shares_said", lambda *_: {})],
     test_places.test_an_amount_said_of_one_note_of_a_slur_is_that_notes, ()),
    ("one sweep and no more", [(rounds, "MOST_ROUNDS", 0), (rounds, "MOST_TRIED", 0)],
     test_ensemble.test_small_scores_come_to_the_least_of_all_bowings,
     (test_ensemble.SMALL[1], ("growing", "growing"))),
    ("pairs count in one direction only", [(coupling.Coupling, "asked", one_sided)],
     test_ensemble.test_small_scores_come_to_the_least_of_all_bowings,
     (test_ensemble.SMALL[1], ("growing", "growing"))),
]  # fmt: skip


@contextmanager
def planted(changes: list[Change]) -> Iterator[None]:
    before = [(owner, name, owner.__dict__[name]) for owner, name, _ in changes]
    for owner, name, value in changes:
        setattr(owner, name, value)
    forget_everything()
    try:
        yield
    finally:
        for owner, name, value in before:
            setattr(owner, name, value)
        forget_everything()


def main() -> int:
    seen_n = 0
    for fault, changes, test, args in FAULTS:
        forget_everything()
        test(*args)
        with planted(changes):
            try:
                test(*args)
            except Exception:  # whatever the test ends with, it has noticed
                seen_n += 1
            else:
                print(f"not noticed: {fault}, by {test.__name__}")
    print(f"{seen_n} of {len(FAULTS)} faults noticed")
    return 0 if seen_n == len(FAULTS) else 1


if __name__ == "__main__":
    sys.exit(main())
