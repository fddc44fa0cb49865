"""Ladders in the trade's order, programmes for one and for a class, handouts, calendars."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, date, datetime, time, timedelta

import icalendar
import pytest

from plectrum.core.advice.care import CARE_CAUTION, CAUTION
from plectrum.core.advice.overview import tricky_bars
from plectrum.core.advice.warnings import warnings_of
from plectrum.core.document.homework import Homework, Outcome, Result
from plectrum.core.document.section_edits import figure_of
from plectrum.core.files.ics import programme_as_ics
from plectrum.core.files.opening import open_document_path
from plectrum.core.files.planfile import document_bytes, document_from_bytes
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.player.player import stage
from plectrum.core.practice.handout import (
    REPEAT,
    HandoutOptions,
    Paper,
    Words,
    handout_of,
)
from plectrum.core.practice.ladder import ladder, ladders_of, step_study
from plectrum.core.practice.programme import _joined, class_programme, drills_of, programme_of
from plectrum.core.practice.said import level_words, levels_of, said_bar, short_place
from plectrum.core.practice.study_kinds import StudyKind
from plectrum.core.practice.week import TaskKind
from plectrum.core.wording.dates import weekday_and_day
from plectrum.demo import demo_paths
from tests.tunes import tune_document, tune_plan

TODAY = date(2026, 11, 30)
FULL = "[p] A4( B4) [<] E5 E5|[x][f] A4*3/2( D4*1/2) E4 D4|A4 A4 B4 B4|A4*4|"


def _kinds(music: str, player: str = "growing") -> list[StudyKind]:
    document = tune_document(music, player=player)
    plan = plan_of(document)
    section = document.form[0]
    return [s.kind for s in ladder(document, plan, section)]


def test_the_ladder_has_the_order_of_the_trade():
    """Say, pluck, silent crossings, bow alone, then both hands and the tempo (practice)."""
    kinds = _kinds(FULL)
    assert list(dict.fromkeys(kinds)) == [
        StudyKind.SAY_RHYTHM, StudyKind.SAY, StudyKind.PLUCK, StudyKind.CROSSINGS,
        StudyKind.OPEN, StudyKind.TWO, StudyKind.ONE, StudyKind.STOPS, StudyKind.EVEN,
        StudyKind.GROWING, StudyKind.GROWING_SLUR, StudyKind.DIVISION, StudyKind.TWO_NOTES,
        StudyKind.ONE_NOTES, StudyKind.RHYTHM, StudyKind.HANDS,
    ]  # fmt: skip


def test_a_plain_section_has_no_steps_for_what_is_not_in_it():
    kinds = _kinds("A4 A4 B4 B4|A4*4|")
    for absent in (StudyKind.CROSSINGS, StudyKind.STOPS, StudyKind.GROWING, StudyKind.ONE):
        assert absent not in kinds


def test_every_hairpin_has_its_steps_and_even_bows_come_before_growing_ones():
    music = "[p] A4 [<] A4 B4 C#5|[x][f] D5*4|[f] E5 [>] E5 D5 C#5|[x][p] B4*4|"
    document = tune_document(music)
    steps = ladder(document, plan_of(document), document.form[0])
    keys = [s.key.split(".")[1] for s in steps]
    wanted = ["even", "growing", "growing-slurred", "growing-2", "growing-slurred-2"]
    assert [k for k in keys if k in wanted] == wanted
    second = next(s for s in steps if s.key.endswith("growing-2"))
    assert second.what.startswith("Diminuendo")
    assert "bar 3" in second.title


def test_the_bow_rhythm_comes_on_each_note_of_the_passage():
    document = tune_document("A4*3/2( B4*1/2) C#5*2|D5 D5 E5*2|")
    plan = plan_of(document)
    step = next(s for s in ladder(document, plan, document.form[0]) if s.kind is StudyKind.RHYTHM)
    study = step_study(document, plan, step)
    part = study.document.part
    assert [len({n.pitches for n in part.notes if n.bar_index == b.index}) for b in part.bars] == [
        1
    ] * 5
    assert "long, quick, long" in step.what
    made = plan_of(study.document)
    ways = [[made.notes[n.index].direction for n in part.notes if n.bar_index == b.index]
            for b in part.bars]  # fmt: skip
    assert all(w == ways[0] for w in ways)


def test_a_figure_goes_over_to_the_other_strings_it_comes_on():
    document = tune_document("A4 B4 C#5 D5|E5 E5 E5*2|D4 E4 F#4 G4|A4*4|")
    document = document.with_sections(figure_of, 0, 3)
    plan = plan_of(document)
    figure = next(row for row in ladders_of(document, plan) if row.section.figure)
    step = next(s for s in figure.steps if s.key.endswith(".parallel"))
    assert "bar 3" in step.what
    pitches = [n.pitches[0].name for n in step_study(document, plan, step).document.part.notes]
    assert pitches == ["D4", "E4", "F#4", "G4"]


def test_tempo_steps_name_their_note_value():
    document = tune_document(FULL)
    steps = ladder(document, plan_of(document), document.form[0])
    assert "tempo quarter = 80" in [s.title for s in steps]


def test_every_step_of_the_demo_pieces_can_be_written_and_says_all_it_must():
    for path in demo_paths():
        document = open_document_path(path)
        plan = plan_of(document)
        keys = set()
        for section in ladders_of(document, plan):
            for step in section.steps:
                assert step.key not in keys
                keys.add(step.key)
                assert step.what.endswith(".")
                assert step.good
                assert 3 <= step.repetitions <= 5
                assert 1 <= step.minutes <= 6
                assert step_study(document, plan, step).document.part.notes


def test_tempo_steps_end_at_the_tempo_and_say_where_the_plan_changes():
    document = tune_document("A4*4( |B4*4)|A4*4( |B4*4)|", bpm=150)
    plan = plan_of(document)
    steps = ladder(document, plan, document.form[0])
    tempos = [s.bpm for s in steps if s.key.startswith("1.tempo-")]
    assert tempos == sorted(tempos)
    assert tempos[-1] == 150
    floor = plan.tempo_window[0]
    for step in steps:
        if step.kind is StudyKind.HANDS:
            assert (step.note == "") == (plan.part.tempo.bpm * step.ratio >= floor)


def test_a_section_that_comes_again_is_learnt_once():
    music = "A4 B4 C#5 D5|" * 3 + "E5*4|"
    document = tune_document(music + music)
    first, second = ladders_of(document, plan_of(document))
    assert first.steps
    assert second.steps == ()
    assert second.learnt_with == "the same as bars 1–4: learn once, play twice"


def test_the_second_part_is_a_step_where_there_is_one():
    duet = next(p for p in demo_paths() if p.stem == "two_lights")
    document = open_document_path(duet)
    plan = plan_of(document)
    steps = ladders_of(document, plan)[0].steps
    study = step_study(document, plan, steps[-1])
    assert steps[-1].kind is StudyKind.SECOND
    assert [p.instrument for p in study.document.score.parts] == ["violin", "viola"]


def test_a_programme_serves_every_task_and_marks_bring_them_back():
    document = tune_document(FULL)
    plan = plan_of(document)
    programme = programme_of(document, plan, TODAY)
    served = {e.task.key for d in programme.days for e in d.entries}
    assert served == {t.key for t in programme.tasks}
    home = document.homework.marked("1.say", Result(Outcome.AGAIN, TODAY))
    again = programme_of(document.with_homework(home), plan, TODAY)
    assert again.days[0].entries[1].task.key == "1.say"
    assert programme.drill_of("drill.placements").minutes >= 1
    assert programme.drill_of("1.say") is None


def test_a_class_programme_is_for_all_and_says_who_differs():
    able = tune_document(FULL, player="steady")
    plan = plan_of(able)
    beginner = able.with_choices(replace(able.choices, player=stage("starter")))
    programme = class_programme(
        [("Wren", able, plan), ("Tarn", beginner, plan_of(beginner))], TODAY
    )
    assert programme.players == ("Wren", "Tarn")
    alone = [programme_of(d, plan_of(d), TODAY) for d in (able, beginner)]
    for single in alone:
        for key, step in single.steps.items():
            assert programme.steps[key].minutes >= step.minutes
        for drill in single.drills:
            assert programme.drill_of(drill.key).drill.seconds >= drill.drill.seconds
    keys = list(programme.steps)
    for single in alone:
        own = [k for k in keys if k in single.steps]
        assert own == list(single.steps)
    notes = " ".join(s.note for s in programme.steps.values())
    assert "Wren" in notes or "Tarn" in notes
    with pytest.raises(ValueError, match="at least one"):
        class_programme([], TODAY)


@pytest.mark.parametrize("before_n", range(4))
def test_a_step_only_one_needs_comes_after_what_comes_before_it(before_n):
    """Wherever it stands in his own ladder, at the same place in that for all."""
    document = tune_document(FULL)
    whole = programme_of(document, plan_of(document), TODAY).ladders[0]
    missing = whole.steps[before_n]
    others = tuple(s for s in (*whole.steps, whole.steps[-1]) if s is not missing)
    more = replace(whole.steps[-1], key="more")  # so that the other ladder is the longer one
    longer = replace(whole, steps=(*others[:-1], more, replace(more, key="still more")))
    joined = _joined([("Wren", longer), ("Tarn", whole)])
    keys = [s.key for s in joined.steps]
    assert keys == [s.key for s in whole.steps] + ["more", "still more"]


@pytest.mark.parametrize("at", [None, time(16, 30)])
def test_the_calendar_read_again_holds_every_day(at):
    document = tune_document(FULL)
    programme = programme_of(document, plan_of(document), TODAY)
    data = programme_as_ics(programme, "Tune, a; b", at, datetime(2026, 11, 30, tzinfo=UTC))
    assert data == programme_as_ics(programme, "Tune, a; b", at, datetime(2026, 11, 30, tzinfo=UTC))
    events = icalendar.Calendar.from_ical(data).walk("VEVENT")
    assert len({str(e["uid"]) for e in events}) == len(events) == len(programme.days)
    for event, day in zip(events, programme.days, strict=True):
        start = event.decoded("dtstart")
        assert (start if at is None else start.date()) == day.on
        if at is not None:
            length = event.decoded("dtend") - start
            assert length.total_seconds() == 60 * day.minutes
        text = str(event["description"])
        assert CAUTION in text
        for entry in day.entries:
            assert f"{entry.title}, {entry.minutes} min" in text
        assert str(event["summary"]) == f"Practice: Tune, a; b, {day.minutes} min"


def test_homework_is_kept_in_the_plan_file():
    home = Homework(
        "Well done.", TODAY, 20, frozenset({1, 3}), frozenset({date(2026, 12, 24)}),
        {"arcs": {"slower": 3.0}}, {"1.say": Result(Outcome.GOOD, TODAY)},
    )  # fmt: skip
    document = tune_document(FULL).with_homework(home)
    assert document_from_bytes(document_bytes(document), "x.plectrum").homework == home


def test_bars_are_said_in_words():
    plan = tune_plan("A4*3/2d B4*1/2d C#5u D5d|A4( B4 C#5) D5|A4! A4 r r|")
    assert said_bar(plan, 0) == "down · stop · down · up · down"
    assert "for 3" in said_bar(plan, 1)
    assert said_bar(plan, 2).startswith("pluck")
    assert levels_of(plan, 0, 3) == (5,)
    assert level_words((5, 6, 7), plan.instrument.string_names) == "A · A and E together · E"
    bow = plan.choices.bow
    assert [short_place(at, bow) for at in (0.02, 0.27, 0.5, 0.72, 0.97)] == [
        "frog", "¼", "middle", "¾", "tip",
    ]  # fmt: skip


def test_a_handout_says_what_is_asked_for_and_always_the_cautions():
    document = open_document_path(demo_paths()[0])
    plan = plan_of(document)
    numbers = {t.bar for t in tricky_bars(plan)}
    full = handout_of(document, plan, HandoutOptions(teacher=True, made_for="Wren"), TODAY)
    assert full.made_for == "Wren"
    for k, said in full.said.items():
        calm = said.startswith("rest: ") or said == REPEAT
        assert calm or plan.part.bars[k].number in numbers
    assert REPEAT in full.said[8]
    assert full.watch
    assert full.reference
    assert sum(d.minutes for d in full.days) > 0
    assert {d.on.isocalendar().week for d in full.days} == {TODAY.isocalendar().week}
    bare = handout_of(
        document,
        plan,
        HandoutOptions(words=Words.NONE, watch=False, steps=False),
        TODAY,
    )
    assert (bare.said, bare.watch, bare.days, bare.reference) == ({}, (), (), ())
    assert CAUTION in bare.cautions
    assert CARE_CAUTION in bare.cautions
    assert bare.made_for == ""
    every = handout_of(document, plan, HandoutOptions(words=Words.ALL, steps=False), TODAY)
    assert set(every.said) == {n.bar_index for n in plan.part.notes}


def test_a_handout_after_a_lesson_late_in_the_week_has_seven_days_too():
    document = open_document_path(demo_paths()[0])
    thursday = TODAY + timedelta(days=3)
    days = handout_of(document, plan_of(document), HandoutOptions(), thursday).days
    assert [weekday_and_day(d.on).split()[0] for d in days] == [
        "Thursday", "Friday", "Monday", "Tuesday", "Wednesday",
    ]  # fmt: skip


def test_paper_and_days():
    assert Paper.A4.size_mm == (210.0, 297.0)  # ISO 216 (published standard)
    assert Paper.LETTER.size_mm == (215.9, 279.4)  # 8.5 by 11 inches
    assert weekday_and_day(TODAY) == "Monday 30"
    assert {k.value for k in TaskKind} == {"step", "drill", "review"}


def test_what_is_the_teachers_own_trouble_is_on_no_page():
    """A pin, a place or a mark that cannot be kept stands in the teacher's list alone."""
    document = tune_document("A4*1/4 B4*1/4 A4*1/4 B4*1/4 A4*1/4 B4*1/4 A4*1/4 B4*1/4 A4*2|A4*4|")
    document = document.placed("1.1", "tip").pinned("1.1", "down").pinned("1.1.25", "retake")
    plan = plan_of(document)
    assert "pin_not_kept" in {w.code for w in warnings_of(plan)}
    page = handout_of(document, plan, HandoutOptions(), TODAY)
    said = " ".join([*page.watch, *page.said.values()])
    assert "cannot be" not in said
    assert "pin" not in said


def test_drills_of_older_plans_are_the_exercises_of_today():
    """Their names, and what was set in them, are kept as they are called now."""
    document = tune_document("A4 B4 C5 D5|")
    old = replace(
        document.homework,
        drills={
            "hooked-bows": {"figure": 1.0, "times": 3.0},
            "straight-bow": {"play": 3, "check": 5},
        },
    )
    again = document_from_bytes(document_bytes(document.with_homework(old)), "old.plectrum")
    assert set(again.homework.drills) == {"hooked", "straight-bow"}
    made = {d.name: d.made.exercise for d in drills_of(again.homework, again.choices)}
    assert made["hooked"].times == 3
    assert [s.beats for s in made["straight-bow"].strokes] == [3, 5, 3, 5]
