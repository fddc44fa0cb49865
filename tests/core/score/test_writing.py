"""Typing and editing: whatever is done, bars stay full, ids stay unique, and undoing is exact."""

from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from lxml import etree

from plectrum.core.document.document import Document
from plectrum.core.errors import ScoreError
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.score.model import Metre, Pitch
from plectrum.core.score.reading.opening import open_score
from plectrum.core.score.scorefile import ScoreFile, parse_record, read_part
from plectrum.core.score.writing.blank import TuneHead, blank_tune
from plectrum.core.score.writing.compose import Sound, compose
from plectrum.core.score.writing.editor import Editor
from plectrum.core.score.writing.fitting import fit_interval
from plectrum.core.score.writing.pitches import by_interval, likely_fifths, spell_in_key, spelled
from plectrum.core.score.writing.values import Value, single_value, values_of
from tests.tunes import tune_score, tune_xml

VALUES = st.builds(
    Value,
    st.sampled_from([Fraction(4), Fraction(2), Fraction(1), Fraction(1, 2), Fraction(1, 4)]),
    st.sampled_from([0, 0, 0, 1]),
)
PITCHES = st.builds(
    Pitch, st.sampled_from("CDEFGAB"), st.sampled_from([-1, 0, 0, 0, 1]), st.integers(3, 6)
)
METRES = st.sampled_from(
    [Metre((4,), 4), Metre((3,), 4), Metre((2,), 4), Metre((6,), 8), Metre((3, 2), 8)]
)


def typed(head: TuneHead, notes: list[tuple[Value, Pitch | None]]) -> ScoreFile:
    """A tune typed note after note, as keys do it."""
    score, last = blank_tune(head), None
    for value, pitch in notes:
        editor = Editor(score, "P1")
        last = editor.insert(last, value, pitch)
        score = editor.result()
    return score


def full_bars(score: ScoreFile) -> bool:
    """Every bar but a pickup and the last one's missing beats holds what its metre says."""
    part = read_part(score, "P1", "violin", empty=True)
    first, last = part.bars[0], part.bars[-1]
    pickup_q = first.duration_q if first.number == 0 else Fraction(0)
    for bar in part.bars[1:] if pickup_q else part.bars:
        short_last = bar is last and bar.duration_q + pickup_q == bar.metre.length_q
        if bar.duration_q != bar.metre.length_q and not short_last:
            return False
    return True


def melody(score: ScoreFile) -> list[tuple[Fraction, int]]:
    part = read_part(score, "P1", "violin", empty=True)
    return [(n.duration_q, n.pitches[0].midi) for n in part.notes]


@settings(max_examples=40, deadline=None)
@given(METRES, st.lists(st.tuples(VALUES, PITCHES), min_size=1, max_size=14))
def test_what_is_typed_is_what_is_read(metre, notes):
    """Lengths and pitches come back as typed, in full bars, whatever crosses the barlines."""
    score = typed(TuneHead(metre=metre), notes)
    assert full_bars(score)
    wanted = [(v.length_q, p.midi) for v, p in notes]
    assert melody(score) == wanted


@settings(max_examples=30, deadline=None)
@given(
    st.lists(st.tuples(VALUES, st.one_of(st.none(), PITCHES)), min_size=3, max_size=10),
    st.data(),
)
def test_any_edits_keep_full_bars_and_unique_ids(notes, data):
    score = typed(TuneHead(pickup_q=data.draw(st.sampled_from([0, 1])) * Fraction(1)), notes)
    for _ in range(data.draw(st.integers(1, 6))):
        editor = Editor(score, "P1")
        written = editor.written()
        one = data.draw(st.sampled_from(written))
        edit = data.draw(
            st.sampled_from(["delete", "dot", "base", "rest", "move", "insert", "triplet", "metre"])
        )
        try:
            if edit == "delete":
                editor.delete([one.id])
            elif edit == "dot":
                editor.dot([one.id])
            elif edit == "base":
                editor.set_base([one.id], data.draw(VALUES).base_q)
            elif edit == "rest":
                editor.to_rest([one.id])
            elif edit == "move":
                editor.move([one.id], steps=data.draw(st.integers(-3, 3)))
            elif edit == "insert":
                editor.insert(one.id, data.draw(VALUES), data.draw(PITCHES))
            elif edit == "triplet":
                editor.triplet([one.id])
            else:
                editor.set_metre(data.draw(METRES))
        except ScoreError as error:
            assert "no note value fits" in error.what  # noqa: PT017 - the only refusal there is
            continue
        score = editor.result()
        assert full_bars(score)
        root = parse_record(score.xml, "x").getroot()
        ids = [n.get("id") for n in root.iter("note")]
        assert len(ids) == len(set(ids))


def test_lengthening_a_note_moves_what_follows_and_back():
    score = typed(TuneHead(), [(Value(Fraction(1)), Pitch(s, 0, 4)) for s in "CDEFGAB"])
    editor = Editor(score, "P1")
    second = editor.written()[1].id
    editor.set_base([second], Fraction(2))
    longer = editor.result()
    assert [d for d, _ in melody(longer)] == [1, 2, 1, 1, 1, 1, 1]
    editor = Editor(longer, "P1")
    editor.set_base([second], Fraction(1))
    assert melody(editor.result()) == melody(score)


def test_accidentals_follow_key_bar_and_tie():
    """In D major a C natural shows its sign once a bar; a tied note over the barline none."""
    notes = [(Value(Fraction(2)), Pitch("C", 0, 5))] * 2 + [
        (Value(Fraction(4)), Pitch("F", 1, 4)),
        (Value(Fraction(2)), Pitch("G", 1, 4)),
        (Value(Fraction(4)), Pitch("A", 1, 4)),
    ]
    root = parse_record(typed(TuneHead(fifths=2), notes).xml, "x").getroot()
    shown = [(n.findtext("pitch/step"), n.findtext("accidental")) for n in root.iter("note")]
    assert [s for s in shown if s[0]] == [
        ("C", "natural"), ("C", None), ("F", None), ("G", "sharp"), ("A", "sharp"), ("A", None),
    ]  # fmt: skip


def test_beams_join_the_eighths_of_a_beat():
    eighth, quarter = Value(Fraction(1, 2)), Value(Fraction(1))
    notes = [(v, Pitch("A", 0, 4)) for v in (eighth, eighth, quarter, eighth, eighth, quarter)]
    root = parse_record(typed(TuneHead(), notes).xml, "x").getroot()
    assert [n.findtext("beam") for n in root.iter("note")] == [
        "begin", "end", None, "begin", "end", None,
    ]  # fmt: skip


def test_a_triplet_is_three_in_the_time_of_two():
    third = Value(Fraction(1, 2), 0, (3, 2))
    score = typed(TuneHead(), [(third, Pitch(s, 0, 4)) for s in "CDE"])
    assert [d for d, _ in melody(score)] == [Fraction(1, 3)] * 3
    root = parse_record(score.xml, "x").getroot()
    assert [t.get("type") for t in root.iter("tuplet")] == ["start", "stop"]


def test_signs_come_and_go():
    score = tune_score("A4 B4 C5 D5|E5 D5 C5 B4|")
    plain = melody(score)
    editor = Editor(score, "P1")
    ids = [w.id for w in editor.written()]
    editor.toggle_slur(ids[0], ids[2])
    editor.set_dynamic(ids[4], "f")
    editor.set_hairpin(ids[1], ids[3], "crescendo")
    editor.toggle_articulation(ids[4:6], "staccato")
    editor.toggle_repeat(ids[4], end=True)
    marked = editor.result()
    part = read_part(marked, "P1")
    assert [n.slurred for n in part.notes[:4]] == [False, True, True, False]
    assert part.notes[4].dynamic == "f"
    assert part.notes[1].in_hairpin
    assert part.notes[1].level_db < part.notes[3].level_db
    assert part.notes[4].articulations == part.notes[5].articulations != frozenset()
    assert part.bars[1].repeat_end == 2
    editor = Editor(marked, "P1")
    editor.toggle_slur(ids[0], ids[2])
    editor.set_dynamic(ids[4], None)
    editor.set_hairpin(ids[0], ids[3], None)
    editor.toggle_articulation(ids[4:6], "staccato")
    editor.toggle_repeat(ids[4], end=True)
    back = read_part(editor.result(), "P1")
    assert melody(editor.result()) == plain
    assert not any(n.slurred or n.articulations or n.in_hairpin for n in back.notes)
    assert {n.dynamic for n in back.notes} == {"mf"}
    assert not back.bars[1].repeat_end


def test_ties_join_and_refuse():
    editor = Editor(tune_score("A4 A4 B4 A4|"), "P1")
    ids = [w.id for w in editor.written()]
    assert editor.toggle_tie(ids[0])
    assert melody(editor.result())[0] == (2, 69)
    with pytest.raises(ScoreError, match="nothing to tie"):
        editor.toggle_tie(ids[1])
    assert not editor.toggle_tie(ids[0])
    assert len(melody(editor.result())) == 4


def test_edits_in_place_leave_lyrics_and_other_parts():
    """Changing a pitch in a score of two parts changes nothing else of the file."""
    xml = (
        tune_xml("A4 B4 C5 D5|")
        .replace(b"<duration>", b"<!-- kept --><duration>", 1)
        .replace(b"</note>", b"<lyric><text>la</text></lyric></note>", 1)
    )
    second = tune_xml("D3*4|", name="Cello", clef="F4").decode()
    part = second.split("<part id=")[1].split("</score")[0].replace('"P1"', '"P2"')
    text = xml.decode().replace("</score-partwise>", f"<part id={part}</score-partwise>")
    text = text.replace(
        "</part-list>", '<score-part id="P2"><part-name>Cello</part-name></score-part></part-list>'
    )
    score = open_score(text.encode(), "duo.musicxml")
    editor = Editor(score, "P1")
    first = editor.written()[0].id
    editor.set_pitch(first, Pitch("E", 0, 5))
    edited = editor.result()
    assert b"<text>la</text>" in edited.xml
    assert read_part(edited, "P2").notes == read_part(score, "P2").notes
    with pytest.raises(ScoreError, match="other parts"):
        Editor(score, "P1").delete([first])
    alone = Editor(score, "P1")
    alone.keep_only_this_part()
    alone.delete([first])
    assert len(alone.result().parts) == 1


def test_two_voices_refuse_to_flow():
    xml = tune_xml("A4 B4 C5 D5|").replace(
        b"</measure>", b"<backup><duration>4</duration></backup></measure>"
    )
    with pytest.raises(ScoreError, match="more than one voice"):
        Editor(open_score(xml, "x"), "P1").dot(["n1"])


def test_pins_of_deleted_notes_go_and_the_rest_stay():
    document = Document.from_score(tune_score("A4 B4 C5 D5|"))
    ids = [n.id for n in document.part.notes]
    editor = Editor(document.score, "P1")
    document = document.with_score(editor.result()).pinned("1.2", "up").pinned("1.3", "down")
    editor = Editor(document.score, "P1")
    editor.delete([ids[1]])
    left = document.with_score(editor.result())
    assert set(left.choices.pins) == {ids[2]}
    assert plan_of(left).notes[1].direction == "down"


@given(st.integers(40, 90), st.integers(-6, 6))
def test_spelling_in_a_key_keeps_the_sound(midi, fifths):
    assert spell_in_key(midi, fifths).midi == midi
    assert spelled(midi).midi == midi


@given(PITCHES, st.integers(-6, 6), st.integers(-2, 2))
def test_an_interval_moves_the_sound_by_its_semitones(pitch, fifths, octaves):
    semitones = 7 * fifths % 12 + 12 * octaves
    assert by_interval(pitch, fifths, semitones).midi == pitch.midi + semitones


def test_transposing_there_and_back_changes_nothing():
    score = typed(TuneHead(fifths=2), [(Value(Fraction(1)), Pitch(s, 0, 4)) for s in "DEGA"])
    editor = Editor(score, "P1")
    editor.transpose(-1, -7)
    down = editor.result()
    assert [m for _, m in melody(down)] == [m - 7 for _, m in melody(score)]
    assert Editor(down, "P1").fifths() == 1
    editor = Editor(down, "P1")
    editor.transpose(1, 7)
    assert melody(editor.result()) == melody(score)


@given(st.integers(1, 64))
def test_note_values_add_up(sixteenths):
    length_q = Fraction(sixteenths, 4)
    assert sum(v.length_q for v in values_of(length_q)) == length_q
    single = single_value(length_q)
    assert single is None or single.length_q == length_q


def test_the_key_is_found_from_the_notes():
    scale_of_d = [62, 64, 66, 67, 69, 71, 73]
    assert likely_fifths(scale_of_d) == 2
    assert likely_fifths([60, 62, 64, 65, 67, 69, 70]) == -1


def test_composed_sounds_are_read_back():
    sounds = [Sound(Fraction(3, 2), (Pitch("D", 0, 4),)), Sound(Fraction(1, 2), ())]
    score = compose(TuneHead(title="Quay"), [*sounds, Sound(Fraction(2), (Pitch("A", 0, 4),))])
    assert score.title == "Quay"
    assert melody(score) == [(Fraction(3, 2), 62), (Fraction(2), 69)]


def test_metre_pickup_and_key_of_the_whole():
    score = typed(TuneHead(), [(Value(Fraction(1)), Pitch("F", 0, 4))] * 6)
    editor = Editor(score, "P1")
    editor.set_metre(Metre((3,), 4))
    editor.set_pickup(Fraction(1))
    editor.set_key(1)
    editor.set_tempo(96)
    part = read_part(editor.result(), "P1", "violin")
    assert [n.bar for n in part.notes] == [0, 1, 1, 1, 2, 2]
    assert {n.pitches[0].name for n in part.notes} == {"F#4"}
    assert part.tempo.bpm == 96
    with pytest.raises(ScoreError, match="shorter than a bar"):
        editor.set_pickup(Fraction(3))


def test_an_emptied_tune_is_still_a_tune():
    score = typed(TuneHead(), [(Value(Fraction(1)), Pitch("A", 0, 4))])
    editor = Editor(score, "P1")
    editor.delete([w.id for w in editor.written()])
    document = Document.for_typing(editor.result(), "violin")
    plan = plan_of(document)
    assert plan.notes == ()
    assert plan.tempo_window is None
    assert etree.fromstring(editor.result().xml).find("part/measure/note/rest") is not None


@pytest.mark.parametrize(
    ("source", "target", "semitones"),
    [("violin", "viola", -7), ("violin", "cello", -19), ("cello", "violin", 19)],
)
def test_a_tune_moves_by_the_distance_of_the_strings(source, target, semitones):
    """Standard tunings: string for string and finger for finger between instruments in fifths."""
    open_d = {"violin": 62, "viola": 55, "cello": 43}[source]
    found = fit_interval([open_d + k for k in (0, 2, 4, 5, 7)], 2, source, target)
    assert found.semitones == semitones
    assert (7 * found.fifths - semitones) % 12 == 0


@given(st.lists(st.integers(55, 76), min_size=1, max_size=8), st.integers(-3, 3))
def test_a_violin_tune_fits_the_bass_if_any_interval_does(midis, fifths):
    """All notes lie within the first position of the bass, 28 to 47, if their span is no wider."""
    found = fit_interval(midis, fifths, "violin", "bass")
    moved = [m + found.semitones for m in midis]
    outside = [m for m in moved if not 28 <= m <= 47]
    assert not outside or max(midis) - min(midis) > 19
    assert (7 * found.fifths - found.semitones) % 12 == 0
