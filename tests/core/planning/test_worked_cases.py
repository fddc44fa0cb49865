"""The worked cases every string teacher would check first. Player "growing", quarter = 80.

Facts of the trade are common practice; they have no published source.
"""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise

import pytest

from plectrum.core.advice.remedies import find_remedy
from plectrum.core.advice.warnings import warnings_of
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.planning.plan import make_plan
from plectrum.core.score.model import Articulation
from tests.tunes import tune_document, tune_plan, ways


def first_directions(plan) -> set[str]:
    """Direction of the first bowed note of every bar but the pickup."""
    firsts = {}
    for planned in plan.notes:
        if planned is not None and planned.note.bar > 0:
            firsts.setdefault(planned.note.bar, planned.direction)
    return {str(d) for d in firsts.values()}


def test_quarters_alternate():
    assert ways(tune_plan("A4 B4 A4 B4|" * 4)) == "|".join(["D U D U"] * 4)


def test_quarter_pickup_is_up_and_every_bar_starts_down():
    plan = tune_plan("A4|" + "A4 B4 A4 B4|" * 4, pickup=True)
    assert ways(plan).startswith("U|D U D U|")
    assert first_directions(plan) == {"down"}


def test_two_eighths_of_pickup_are_down_up():
    plan = tune_plan("A4*1/2 B4*1/2|" + "A4 B4|" * 4, "2/4", pickup=True)
    assert ways(plan).startswith("D U|D U|")


def test_compound_time_eighths_start_every_bar_down():
    plan = tune_plan("A4*1/2 B4*1/2 C5*1/2 B4*1/2 A4*1/2 G4*1/2|" * 4, "6/8")
    assert ways(plan) == "|".join(["D U D U D U"] * 4)


def test_half_and_quarter_do_not_creep():
    plan = tune_plan("A4*2 B4|" * 16, "3/4")
    assert ways(plan) == "|".join(["D U"] * 16)
    halves, quarters = plan.strokes[0::2], plan.strokes[1::2]
    for half, quarter in zip(halves, quarters, strict=True):
        assert quarter.length_mm > half.length_mm / 2
    assert abs(halves[-1].start - halves[1].start) < 0.1  # after 14 bars still at home


def test_every_bar_starts_down_in_the_school_that_asks_for_it():
    """Hooks of one kind, on the last notes of the bar; as it comes by default."""
    music = "A4*3/2 B4*1/2 C5*2|" * 8
    assert ways(tune_plan(music)) == "|".join(["D U D", "U D U"] * 4)
    plan = tune_plan(music, school="downbeat")
    assert ways(plan) == "|".join(["D U u"] * 8)
    assert first_directions(plan) == {"down"}


def test_rest_at_the_end_of_the_bar_leaves_room():
    plan = tune_plan("A4 B4 r|" * 8, "3/4", bpm=60)
    assert first_directions(plan) == {"down"}


def test_three_slurred_and_one_single_returns_faster():
    plan = tune_plan(("A4*1/2( B4*1/2 C5*1/2) B4*1/2 " * 2 + "|") * 4)
    assert ways(plan).startswith("D U D U|D U D U")
    slurs = [s for s in plan.strokes if s.kind == "slur"]
    singles = [s for s in plan.strokes if s.kind != "slur"]
    assert all(s.direction == "down" for s in slurs)
    assert min(s.speed_mm_s for s in singles) > max(s.speed_mm_s for s in slurs)


CRESCENDO = "[p] [<] A4u B4u A4u B4u [x]|[f] A4*2d r*2|"


def test_crescendo_of_ups_grows_to_half_a_bow_at_the_frog():
    plan = tune_plan(CRESCENDO)
    ups = plan.notes[:4]
    lengths = [abs(p.end - p.start) for p in ups]
    assert all(p.direction == "up" for p in ups)
    assert lengths == sorted(lengths)
    assert len(set(lengths)) == 4
    assert 0.38 <= lengths[-1] <= 0.6  # near half a bow
    assert lengths[0] <= 0.15  # a tiny bit
    assert ups[-1].end <= 0.1  # near the frog
    assert plan.notes[4].direction == "down"
    assert plan.notes[4].start == pytest.approx(ups[-1].end)


def test_the_same_crescendo_slurred_keeps_its_shares():
    separate = tune_plan(CRESCENDO).notes[:4]
    plan = tune_plan("[p] [<] A4u( B4 A4 B4) [x]|[f] A4*2d r*2|")
    slurred = plan.notes[:4]
    assert len({plan.stroke_of(p) for p in slurred}) == 1

    def shares(notes):
        lengths = [abs(p.end - p.start) for p in notes]
        return [length / sum(lengths) for length in lengths]

    for one, other in zip(shares(separate), shares(slurred), strict=True):
        assert one == pytest.approx(other, abs=0.12)


def test_two_short_and_a_long_are_fast_fast_slow():
    plan = tune_plan("A4*1/2 B4*1/2 C5*2|" * 4, "3/4")
    for bar in range(4):
        first, second, long = plan.notes[3 * bar : 3 * bar + 3]
        assert min(first.speed_mm_s, second.speed_mm_s) > long.speed_mm_s


@pytest.mark.parametrize("school", ["usual", "downbeat", "flow", "travel"])
def test_marks_of_the_score_are_kept(school):
    plan = tune_plan("A4u B4 A4d B4d|A4 B4u A4 B4|", school=school)
    for planned in plan.notes:
        if planned.note.mark is not None:
            assert planned.direction is planned.note.mark


def test_flow_hooks_less_than_downbeat():
    music = "A4*3/2 B4*1/2 C5*2|" * 4
    downbeat, flow = tune_plan(music, school="downbeat"), tune_plan(music, school="flow")
    assert flow.summary["hooks"] < downbeat.summary["hooks"]


def test_slower_bow_on_the_lower_instruments():
    """Common practice: the bass bow is slowest of all."""
    speeds = []
    for name, clef, note in (
        ("Violin", "G2", "A4"), ("Viola", "C3", "D4"), ("Cello", "F4", "D3"), ("Bass", "F4", "D3"),
    ):  # fmt: skip
        plan = tune_plan(f"{note} {note} {note} {note}|" * 2, name=name, clef=clef)
        speeds.append(plan.notes[0].speed_mm_s)
    assert speeds == sorted(speeds, reverse=True)
    assert speeds[0] > speeds[3]


def test_a_rest_lets_the_bow_be_lifted_when_the_mark_asks_for_it():
    plan = tune_plan("A4*3d r|A4*3d r|", bpm=60)
    assert plan.notes[1].direction == "down"
    assert plan.notes[1].join in ("retake", "hook")


NOTE_OF = {"violin": "A4", "viola": "D4", "cello": "D3", "bass": "A2"}
# What any teacher would write (common practice), for the growing player at a quarter = 80, mf:
# bars, how they are set, ways (small letters are hooks).
ORDINARY = (
    ("X X X X|X X X X|X*2 X*2", {}, "D U D U|D U D U|D U"),
    ("X|X X X X|X X X X|X*2 X", {"pickup": True}, "U|D U D U|D U D U|D U"),
    ("X*1/2 X*1/2|X X|X X|X X*1/2", {"metre": "2/4", "pickup": True}, "D U|D U|D U|D U"),
    ("X*1/2 X*1/2 X*1/2 X*1/2 X*1/2 X*1/2|X*3/2 X*3/2", {"metre": "6/8"}, "D U D U D U|D U"),
    ("X*2 X|X*2 X|X*2 X|X*2 X", {"metre": "3/4"}, "D U|D U|D U|D U"),
    ("X*4|X*4|X*4|X*4", {"bpm": 60}, "D|U|D|U"),
    ("X*3|X*3|X*3|X*3", {"metre": "3/4", "bpm": 60}, "D|U|D|U"),
    ("X*3/2 X*1/2 X*2|X*3/2 X*1/2 X*2", {}, "D U D|U D U"),
    ("X( X)|X X|X( X)|X X", {"metre": "2/4"}, "D|U D|U|D U"),
    ("X( X) X X|X( X) X X", {}, "D U u|D U u"),
    ("X*1/2 X*1/2 X*2|X*1/2 X*1/2 X*2", {"metre": "3/4"}, "D U D|U D U"),
    ("X r X r|X r X r", {"bpm": 60}, None),
)


@pytest.mark.parametrize("instrument", NOTE_OF)
@pytest.mark.parametrize(("music", "options", "expected"), ORDINARY)
def test_ordinary_figures_on_every_instrument_with_and_without_a_repeat(
    instrument, music, options, expected
):
    music = music.replace("X", NOTE_OF[instrument])
    document = tune_document(music, instrument=instrument, **options)
    bars = document.part.bars
    plan = plan_of(document)
    # At the end; and with a section after it, where nothing was wrong that its seam could mend.
    for last in {len(bars) - 1, len(bars) // 2 if first_directions(plan) == {"down"} else -1} - {
        -1
    }:
        ends = [replace(b, repeat_end=2 if b.index == last else 0) for b in bars]
        repeated = replace(document.part, bars=tuple(ends))
        assert make_plan(repeated, document.choices).steps == plan.steps
    assert not warnings_of(plan)
    if expected is not None:
        assert ways(plan) == expected
    else:  # after a rest the bow goes on as the beat likes
        assert {p.direction for p in plan.notes if p.note.metric_weight == 1.0} == {"down"}


@pytest.mark.parametrize("instrument", NOTE_OF)
def test_two_bows_that_want_more_than_there_is_are_not_hooked(instrument):
    """Where both fit, a hook mends three bows in a bar (common practice)."""
    music = "|".join(["X X X*2"] * 4).replace("X", NOTE_OF[instrument])
    slow, quick = (
        tune_plan(music, bpm=bpm, instrument=instrument, school="downbeat") for bpm in (26, 90)
    )
    assert slow.summary["hooks"] < quick.summary["hooks"]
    assert ways(quick) == "D U u|D U u|D U u|D U u"


def test_four_growing_ups_end_near_the_frog():
    """Marked up, p to f, then down: each longer than the one before (common practice)."""
    music = "r*3 A4|[p] [<] B4u C5u D5u E5u [x]|[f] F5*4d"
    plan = tune_plan(music, player="steady")
    ups = [p for p in plan.notes if p.note.bar == 2]
    lengths = [p.length_mm for p in ups]
    assert lengths == sorted(lengths)
    assert len(set(lengths)) == 4
    assert ups[-1].end < 0.1
    assert 0.3 < ups[-1].length_mm / plan.choices.bow.hair_mm < 0.6


QUICK = "|".join(["X*1/4 Y*1/4 X*1/4 Y*1/4 " * 4] * 2)


@pytest.mark.parametrize(
    ("player", "instrument", "bpm", "said"),
    [
        ("starter", "violin", 74, False),
        ("starter", "violin", 80, True),
        ("growing", "violin", 118, False),
        ("growing", "violin", 126, True),
        ("steady", "violin", 176, False),
        ("steady", "violin", 190, True),
        ("starter", "cello", 62, False),
        ("starter", "cello", 68, True),
        ("growing", "viola", 112, False),
        ("growing", "viola", 118, True),
        ("growing", "bass", 82, False),
        ("growing", "bass", 90, True),
    ],
)
def test_the_bow_has_a_speed_of_speech(player, instrument, bpm, said):
    """Five, eight and twelve strokes a second on the violin, fewer on lower instruments (own
    defaults, common practice): in the tempo window, and said with a remedy that was tried."""
    high = {"violin": "B4", "viola": "E4", "cello": "E3", "bass": "B2"}[instrument]
    music = QUICK.replace("X", NOTE_OF[instrument]).replace("Y", high)
    plan = tune_plan(music, bpm=bpm, player=player, instrument=instrument)
    found = [w for w in warnings_of(plan) if w.code == "too_quick"]
    assert len(found) == said
    assert (plan.tempo_window[1] < bpm) == said
    if said:
        remedy = find_remedy(plan, found[0])
        assert "slower" in remedy.text
        assert remedy.plan.tempo_window[1] >= remedy.choices.tempo_bpm


def test_slurs_and_rests_give_time_to_speak():
    slurred = "A4*1/4( B4*1/4) A4*1/4( B4*1/4) " * 2
    rested = "A4*1/4 B4*1/4 r*1/2 " * 4
    for music in (slurred, rested):
        plan = tune_plan(f"{music}|{music}", bpm=110, player="starter")
        assert "too_quick" not in {w.code for w in warnings_of(plan)}


# Plain music as teachers agree on it (common practice, no source): bars, how they are set, ways.
PAIR = "r*1/2 X*1/2 X*1/2 "
PLAIN = (
    ("X X*1/2 X*1/2|X X*1/2 X*1/2|X X*1/2 X*1/2|X*2", {"metre": "2/4"}, "DUD|UDU|DUD|U"),
    ("X X X*2|X*2 r*2|X X X*2|X*2 r*2", {"bpm": 66}, "DUD|U|DUD|U"),
    ("X X X r|X X X r|X*4", {"bpm": 66}, "DUD|DUD|D"),
    ("X*3 r|X*3 r|X*4", {"bpm": 60}, "D|D|D"),
    ("X r X r|X r X r|X*4", {}, "DU|DU|D"),
    ("X*2 r X|X*2 r X|X*4", {"bpm": 60}, "DU|DU|D"),
    ("X X X|X*2 X|X X X|X*3", {"metre": "3/4"}, "DUD|UD|UDU|D"),
    ("X*3/4 X*1/4 X*3/4 X*1/4|X X|X*3/4 X*1/4 X*3/4 X*1/4|X*2", {"metre": "2/4"}, "DUDU|DU|DUDU|D"),
    ("C X X X|X X X X|C*4", {}, "DUDU|DUDU|D"),
    ("C r C r|C r C r|C*4", {"bpm": 60}, "DD|DD|D"),
    (PAIR * 2 + "|" + PAIR * 2, {"metre": "6/8"}, "DUDU|DUDU"),
    ("r X X|r X X|X*3", {"metre": "3/4", "bpm": 100}, "DU|DU|D"),
    (" ".join(["X*1/4"] * 8) + " X*2|X*2 X*2|X*4", {}, "DUDUDUDUD|UD|U"),
    ("X X*1/4 X*1/4 X*1/4 X*1/4 X X|X*2 X*2|X*4", {"bpm": 60}, "DUDUDUD|UD|U"),
    ("C C X*2|X*2 C*2|C*4", {}, "DUD|UD|D"),
    ("{al tallone} X X X X|{alla punta} X X X X|X*4", {}, "DUDU|DUDU|D"),
    ("{an der Spitze} X*2 X*2|{am Frosch} X*2 X*2|X*4", {}, "DU|DU|D"),
    ("|".join(["r*1/2 X*1/2 " * 4] * 2 + ["r*1/2 X*1/2 r X*2"]), {}, "UDUD|UDUD|UD"),
    ("X r X r|X r X r|X*4", {"bpm": 120}, "DU|DU|D"),
    ("X*2 r|X*2 r|X*2 r|X*3", {"metre": "3/4", "bpm": 84}, "D|D|D|D"),
    ("X*3 r|X*3 r|X*3 r|X*4", {"bpm": 130}, "D|U|D|U"),
    ("|".join(["r X X X"] * 6 + ["X*4"]), {"bpm": 108}, "|".join(["UDU"] * 6 + ["D"])),
    ("X*4|X*4|X*4|X*3 X|X r*3|r*3 X|X*4", {"bpm": 120}, "D|U|D|UD|U|U|D"),
    (
        f"X r*2|{2 * f'{PAIR}r*3/2|{PAIR}r*3/2|{PAIR}{PAIR}|'}X*3/2 X*3/2|X*3",
        {"metre": "6/8", "bpm": 126}, "D|DU|DU|DUDU|DU|DU|DUDU|DU|D",
    ),
)  # fmt: skip
CHORD_OF = {"violin": "D4+A4+F5", "viola": "G3+D4+B4", "cello": "G2+D3+B3"}


@pytest.mark.parametrize("instrument", CHORD_OF)
@pytest.mark.parametrize(("music", "options", "expected"), PLAIN)
def test_plain_music_is_bowed_plainly(instrument, music, options, expected):
    music = music.replace("X", NOTE_OF[instrument]).replace("C", CHORD_OF[instrument])
    plan = tune_plan(music, instrument=instrument, **options)
    bars: dict[int, str] = {}
    for unit in plan.units:
        head = plan.head_of(unit.index)
        way = "D" if plan.notes[unit.first].direction == "down" else "U"
        bars[head.bar_index] = bars.get(head.bar_index, "") + way
    assert "|".join(bars.values()) == expected


FOUR = "A4*1/4 A4*1/4 A4*1/4 A4*1/4 "
RUNS = (
    FOUR + "A4 A4 A4|A4*1/2 A4*1/2 A4 A4*2|A4 A4 " + 2 * FOUR + "|A4*4",
    "A4 A4 " + 2 * FOUR + "|" + FOUR + "A4 A4 A4|" + 4 * "A4*1/2 A4*1/2 " + "|A4*4",
)


@pytest.mark.parametrize("music", RUNS)
def test_no_run_is_stopped_for_a_beat(music):
    """Nobody stops among equal sixteenths: common practice, no source."""
    notes = tune_plan(music, bpm=70).notes
    inside = [b for a, b in pairwise(notes) if a.note.duration_q == b.note.duration_q == 1 / 4]
    assert {note.join for note in inside} == {"turn"}


def test_what_follows_a_fermata_begins_anew():
    held = "A4 B4 C5 D5|E5*4|A4 B4 C5 D5|E5*4"
    document = tune_document(held)
    notes = [
        n._replace(articulations=frozenset({Articulation.FERMATA})) if n.duration_q == 4 else n
        for n in document.part.notes
    ]
    plan = plan_of(replace(document, part=replace(document.part, notes=tuple(notes))))
    assert plan.notes[5].direction == "down"
    assert plan.notes[5].join == "retake"
