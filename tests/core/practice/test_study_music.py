"""Studies of a passage: valid music, the source's rhythm and bowing, on the strings planned."""

from __future__ import annotations

from fractions import Fraction
from itertools import pairwise

import music21
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from plectrum.core.document.choices import Join
from plectrum.core.document.sections import notes_in_bars
from plectrum.core.errors import ScoreError
from plectrum.core.files.opening import open_document_path
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.practice.studies import make_study
from plectrum.core.practice.study_kinds import StudyKind
from plectrum.core.score.model import Direction
from plectrum.core.score.reading.opening import open_score
from plectrum.demo import demo_paths
from tests.core.planning.strategies import players, tunes
from tests.tunes import tune_document

EXAMPLES = settings(max_examples=25, deadline=None)
BOWED = [StudyKind.OPEN, StudyKind.DIVISION, StudyKind.HANDS]
SOMETIMES = [StudyKind.STOPS, StudyKind.EVEN, StudyKind.GROWING, StudyKind.GROWING_SLUR,
             StudyKind.RHYTHM, StudyKind.SECOND]  # fmt: skip
SAME_RHYTHM = [k for k in StudyKind
               if k not in (*SOMETIMES, StudyKind.TWO, StudyKind.TWO_NOTES)]  # fmt: skip
ON_OPEN = [StudyKind.CROSSINGS, StudyKind.OPEN, StudyKind.TWO, StudyKind.ONE, StudyKind.DIVISION]
SLURS = "[p] A4( B4) C#5 D5|E5( D5 C#5) B4|A4 A4 r E5|A4*4|"


def _study(music: str, kind: StudyKind, player: str = "growing"):
    document = tune_document(music, player=player)
    plan = plan_of(document)
    return plan, make_study(document, plan, kind, 0, len(plan.part.notes) - 1)


@EXAMPLES
@given(tunes(), players(), st.sampled_from(SAME_RHYTHM))
def test_the_rhythm_is_the_sources_and_every_bar_is_full(music, player, kind):
    plan, study = _study(music, kind, player)
    part, source = study.document.part, plan.part
    first_q = source.notes[0].onset_q
    assert [(n.id, n.onset_q, n.duration_q) for n in part.notes] == [
        (n.id, n.onset_q - first_q, n.duration_q) for n in source.notes
    ]
    bars = source.bars[source.notes[0].bar_index : source.notes[-1].bar_index + 1]
    assert [b.duration_q + b.pad_q for b in part.bars] == [b.duration_q + b.pad_q for b in bars]


@EXAMPLES
@given(tunes(), players(), st.sampled_from(BOWED))
def test_the_bowing_is_the_sources(music, player, kind):
    """Every bow goes the same way, joined in the same way, over the same hair."""
    plan, study = _study(music, kind, player)
    made = plan_of(study.document)
    heads = {u.first for u in plan.units}
    for a, b in zip(plan.notes, made.notes, strict=True):
        assert a is not None
        assert b is not None
        assert (a.direction, a.join) == (b.direction, b.join)
        if a.note.index in heads:
            assert a.start == b.start
    for a, b in zip(plan.strokes, made.strokes, strict=True):
        assert (a.start, a.end) == (b.start, b.end)


@EXAMPLES
@given(tunes(marks=False), st.sampled_from(ON_OPEN))
def test_open_strings_are_those_planned(music, kind):
    """Every note is the open string its source is fingered on (tunings: published standard)."""
    plan, study = _study(music, kind)
    strings = {n.id: f.strings for n, f in zip(plan.part.notes, plan.fingered, strict=True)}
    for note in study.document.part.notes:
        string = strings[note.id.removesuffix("-second")][0]
        assert [p.midi for p in note.pitches] == [plan.instrument.open_midis[string]]


@EXAMPLES
@given(tunes(marks=False))
def test_two_strokes_halve_every_note(music):
    plan, study = _study(music, StudyKind.TWO)
    halves = study.document.part.notes
    assert len(halves) == 2 * len(plan.part.notes)
    for k, note in enumerate(plan.part.notes):
        assert halves[2 * k].onset_q == note.onset_q
        assert halves[2 * k + 1].end_q == note.end_q
        assert halves[2 * k].duration_q == halves[2 * k + 1].duration_q
    made = [p for p in plan_of(study.document).notes if p is not None]
    assert not any(p.join is Join.SLUR for p in made)
    assert not any(p.join is Join.HOOK and p.note.gap_before_s == 0 for p in made)


def test_stops_take_the_place_of_slurs_the_same_way_on():
    plan, study = _study(SLURS, StudyKind.STOPS)
    made = plan_of(study.document)
    for before, after in zip(plan.notes, made.notes, strict=True):
        assert before.direction is after.direction
        assert after.join is (Join.HOOK if before.join is Join.SLUR else before.join)
    assert not any(n.slurred for n in study.document.part.notes)


def test_a_growing_bow_grows_separately_and_slurred():
    """Fact 8: more and more of the up-bow, arriving near the frog, then the down-bow (practice)."""
    music = "A4*4|[p] A4 [<] A4 A4 A4|[x][f] A4*4|"
    for kind, join in ((StudyKind.GROWING, Join.HOOK), (StudyKind.GROWING_SLUR, Join.SLUR)):
        _, study = _study(music, kind)
        made = plan_of(study.document)
        group = [p for p in made.notes[:-1] if p is not None]
        assert {p.direction for p in group} == {Direction.UP}
        assert {p.join for p in group[1:]} == {join}
        lengths = [p.length_mm for p in group]
        assert lengths == sorted(lengths)
        assert lengths[-1] > lengths[0]
        last = made.notes[-1]
        assert last.direction is Direction.DOWN
        assert last.start < 0.25


def test_what_there_is_nothing_of_is_refused_in_one_line():
    for kind, words in (
        (StudyKind.STOPS, "no slur"),
        (StudyKind.GROWING, "no crescendo"),
        (StudyKind.SECOND, "no second part"),
    ):
        with pytest.raises(ScoreError, match=words):
            _study("A4 B4 C#5 D5|A4*4|", kind)


def test_say_and_clap_has_the_words_under_the_notes():
    _, study = _study("A4( B4) C#5 D5|", StudyKind.SAY)
    words = study.document.score.xml.decode().split("<text>")[1:]
    assert [w.split("<")[0] for w in words] == ["down", "–", "up", "stop up"]


def test_plucked_takes_no_bow_and_crossings_name_the_level_where_it_changes():
    _, plucked = _study("A4 E5 E5 A4|", StudyKind.PLUCK)
    assert plan_of(plucked.document).notes == (None,) * 4
    _, crossings = _study("A4 E5 E5 A4|", StudyKind.CROSSINGS)
    words = crossings.document.score.xml.decode().split("<text>")[1:]
    assert [w.split("<")[0] for w in words] == ["5", "7", "5"]


def test_a_slow_study_of_a_plan_that_cannot_be_so_slow_is_planned_anew():
    document = tune_document("A4*4(|B4*4)|A4*4(|B4*4)|", bpm=160)
    plan = plan_of(document)
    floor = plan.tempo_window[0] / plan.part.tempo.bpm
    study = make_study(document, plan, StudyKind.HANDS, 0, 3, floor * 0.8)
    assert study.document.part.tempo.bpm == pytest.approx(160 * floor * 0.8, abs=0.5)


@pytest.mark.parametrize("path", demo_paths(), ids=lambda p: p.stem)
def test_studies_of_the_demo_pieces_are_music_for_another_reader(path):
    """music21 finds the same notes at the same times in full bars."""
    document = open_document_path(path)
    plan = plan_of(document)
    always = [k for k in StudyKind if k not in SOMETIMES]
    for kind in always + [k for k in SOMETIMES if _there_is(document, plan, k)]:
        study = make_study(document, plan, kind, *notes_in_bars(plan.part, 4, 8))
        again = open_score(study.document.score.xml, "study.musicxml")
        assert again.title == study.document.title
        other = music21.converter.parseData(again.xml, format="musicxml").parts[0]
        theirs = [n for n in other.flatten().notes if not n.duration.isGrace]
        heads = [n for n in theirs if n.tie is None or n.tie.type == "start"]
        onsets = sorted({Fraction(n.offset).limit_denominator(96) for n in heads})
        assert onsets == [n.onset_q for n in study.document.part.notes if not n.grace]
        measures = other.getElementsByClass("Measure")
        for measure, bar in zip(measures, study.document.part.bars, strict=True):
            assert Fraction(measure.duration.quarterLength) == bar.duration_q


def _there_is(document, plan, kind: StudyKind) -> bool:
    """Whether bars 4 to 8, by index, have what a study needs; told without the studies."""
    notes = [n for n in plan.part.notes if 4 <= n.bar_index <= 8]
    if kind is StudyKind.STOPS:
        return any(plan.notes[n.index].join is Join.SLUR for n in notes)
    if kind is StudyKind.RHYTHM:
        return any(n.duration_q != m.duration_q or plan.notes[m.index].join is not Join.TURN
                   for n, m in pairwise(notes) if n.bar_index == m.bar_index)  # fmt: skip
    if kind is StudyKind.SECOND:
        return sum(p.instrument is not None for p in document.score.parts) > 1
    pairs = [(a, b) for a, b in pairwise(notes) if a.in_hairpin and a.in_hairpin == b.in_hairpin]
    return any(a.level_db != b.level_db for a, b in pairs)
