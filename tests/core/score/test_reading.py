"""MusicXML into notes: what is written is what is read."""

from __future__ import annotations

import math
import re
from fractions import Fraction

import pytest

from plectrum.core.errors import ScoreError
from plectrum.core.score.metre import metric_weight
from plectrum.core.score.model import Articulation, Direction, Metre
from plectrum.core.score.reading.opening import open_score
from plectrum.core.score.scorefile import read_part
from tests.tunes import tune_score, tune_xml


def notes_of(music, metre="4/4", instrument=None, **options):
    return read_part(tune_score(music, metre, **options), "P1", instrument).notes


def test_onsets_and_durations_follow_the_cursor():
    notes = notes_of("A4 B4*1/2 C5*3/2 r|D5*4|", bpm=60)
    assert [n.onset_q for n in notes] == [0, 1, Fraction(3, 2), 4]
    assert [n.duration_s for n in notes] == pytest.approx([1, 0.5, 1.5, 4])
    assert [n.gap_before_s for n in notes] == pytest.approx([0, 0, 0, 1])


def test_divisions_may_be_written_as_a_decimal():
    """MusicXML 4.0, positive-divisions is a decimal (published standard, from memory)."""
    xml = tune_xml("A4 B4*1/2 C5*1/2 D5*2")
    decimal = re.sub(rb"<divisions>(\d+)<", rb"<divisions>\1.0<", xml)
    read, same = (read_part(open_score(data, "a.musicxml"), "P1") for data in (decimal, xml))
    assert read.notes == same.notes


def test_ties_merge_over_the_barline_and_keep_all_ids():
    notes = notes_of("A4*4~|A4*2 B4*2|")
    assert [n.duration_q for n in notes] == [6, 2]
    assert len(notes[0].ids) == 2


def test_a_chord_is_one_event():
    (double, _) = notes_of("D4+A4*2 E4*2|")
    assert [p.name for p in double.pitches] == ["D4", "A4"]


def test_a_chord_tied_only_in_part_stays_two_notes_in_one_bow():
    xml = tune_xml("D4+A4*2~ D4+B4*2|")
    notes = read_part(open_score(xml, "x"), "P1").notes
    assert len(notes) == 2
    assert notes[1].slurred


def test_grace_notes_take_their_time_from_the_main_note():
    grace, main, _ = notes_of("B4^ A4*2 C5*2|", bpm=60)
    assert grace.grace
    assert grace.onset_s == 0
    assert main.onset_s == pytest.approx(grace.duration_s)
    assert main.end_s == pytest.approx(2)
    assert main.slurred


def test_pickup_bar_is_0_and_its_beats_count_from_the_end():
    notes = notes_of("A4|B4 C5 D5 E5|", pickup=True)
    assert (notes[0].bar, notes[0].beat) == (0, 4)
    assert (notes[1].bar, notes[1].beat) == (1, 1)


def test_a_bar_split_by_a_repeat_goes_on_counting():
    xml = tune_xml("A4*4|A4*3|B4|C5*4|").replace(
        b'<measure number="3">', b'<measure number="X1" implicit="yes">'
    )
    notes = read_part(open_score(xml, "x"), "P1").notes
    assert [(n.bar, n.beat) for n in notes] == [(1, 1), (2, 1), (2, 4), (4, 1)]


@pytest.mark.parametrize(
    ("sign", "articulation"),
    [(".", Articulation.STACCATO), (">", Articulation.ACCENT)],
)
def test_articulations(sign, articulation):
    assert articulation in notes_of(f"A4*4{sign}|")[0].articulations


def test_bow_marks_and_slurs():
    notes = notes_of("A4u B4( C5 D5)|E5d F5 G5 A5|")
    assert [n.mark for n in notes[:2]] == [Direction.UP, None]
    assert [n.slurred for n in notes] == [False, False, True, True, False, False, False, False]


def test_an_unended_slur_is_left_out_and_said():
    part = read_part(tune_score("A4( B4 C5 D5|"), "P1")
    assert not any(n.slurred for n in part.notes)
    assert [x.words for x in part.left_out] == ["slurs without an end (bar 1)"]


def test_a_slur_that_starts_where_another_stops():
    notes = notes_of("A4( B4() C5) D5|")
    assert [n.slurred for n in notes] == [False, True, True, False]


def test_pizzicato_by_words_until_arco():
    notes = notes_of("{pizz.} A4 B4 {arco} C5 D5|")
    assert [n.pizzicato for n in notes] == [True, True, False, False]


# Levels: 4 dB a step with mf = 0 is our own default.
def test_dynamics_are_steps():
    notes = notes_of("[p] A4 B4 [f] C5 D5|")
    assert [n.level_db for n in notes] == [-8, -8, 4, 4]
    assert [n.dynamic for n in notes] == ["p", "p", "f", "f"]


def test_a_hairpin_leads_in_a_straight_line_to_the_next_dynamic():
    notes = notes_of("[p] [<] A4 B4 C5 D5 [x]|[f] E5*4|")
    assert [n.level_db for n in notes[:4]] == pytest.approx([-6.5, -3.5, -0.5, 2.5])
    assert notes[4].level_db == 4


def test_a_hairpin_without_a_goal_changes_one_step():
    notes = notes_of("[mf] [>] A4 B4 C5 D5 [x]|E5*4|")
    assert notes[4].level_db == pytest.approx(-4)


def test_sforzato_is_a_sign_of_its_own_and_fp_goes_on_softly():
    notes = notes_of("[sfz] A4*2 B4*2|[fp] C5*2 D5*2|")
    assert Articulation.SFORZANDO in notes[0].articulations
    assert notes[0].level_db == notes[1].level_db == 0
    assert Articulation.SFORZANDO in notes[2].articulations
    assert notes[3].level_db == -8


def test_tempo_word_without_a_number():
    """Common practice: Andante is about 80."""
    part = read_part(tune_score("{Andante} A4*4|", bpm=None), "P1")
    assert part.tempo.bpm == 80


def test_ritardando_slows_in_a_straight_line():
    """Checked against the integral of 60 / tempo, worked out by hand."""
    part = read_part(tune_score("A4*4|{rit.} B4*4|", bpm=60), "P1")
    first, second = part.notes
    assert first.duration_s == pytest.approx(4)
    expected = 4 * math.log(1 / 0.7) / 0.3  # tempo falls from 60 to 42 over four quarters
    assert second.duration_s == pytest.approx(expected)


def test_a_tempo_ends_a_ritardando():
    part = read_part(tune_score("{rit.} A4*4|{a tempo} B4*4|", bpm=60), "P1")
    assert part.notes[1].duration_s == pytest.approx(4)


def test_a_metronome_beat_of_a_dotted_quarter():
    xml = tune_xml("A4*3/2 B4*3/2|", "6/8", bpm=60).replace(
        b"<beat-unit>quarter</beat-unit>", b"<beat-unit>quarter</beat-unit><beat-unit-dot/>"
    )
    part = read_part(open_score(xml, "x"), "P1")
    assert part.tempo.beat_q == Fraction(3, 2)
    assert part.notes[0].duration_s == pytest.approx(1)


@pytest.mark.parametrize(
    ("name", "clef", "note", "instrument"),
    [
        ("Violin I", "G2", "A4", "violin"),
        ("Violine 2", "G2", "A4", "violin"),
        ("Bratsche", "C3", "D4", "viola"),
        ("Violoncello", "F4", "D3", "cello"),
        ("Kontrabass", "F4", "D3", "bass"),
        ("", "G2", "A4", "violin"),
        ("", "C3", "D4", "viola"),
        ("Melody", "F4", "D3", "cello"),
        ("Melody", "F4", "C2", "cello"),
        ("Melody", "F4", "E1", "bass"),
    ],
)
def test_instrument_is_guessed_from_name_clef_and_range(name, clef, note, instrument):
    part = read_part(tune_score(f"{note}*4|", name=name, clef=clef), "P1")
    assert part.instrument == instrument


@pytest.mark.parametrize("name", ["Flute", "Piano", "Soprano Saxophone", "Bass Guitar"])
def test_other_instruments_are_not_guessed(name):
    with pytest.raises(ScoreError, match="does not look like"):
        read_part(tune_score("A4*4|", name=name), "P1")


def test_below_the_lowest_string_is_no_violin():
    with pytest.raises(ScoreError, match="does not look like"):
        read_part(tune_score("A2*4|", name=""), "P1")


def test_bass_sounds_an_octave_below_what_is_written():
    """Standard: the double bass is written an octave higher than it sounds."""
    note = notes_of("E3*4|", name="Double Bass", clef="F4")[0]
    assert note.pitches[0].name == "E3"
    assert note.pitches[0].midi == 40  # E2, as sounding


def test_metric_weights_fall_from_first_beat_to_between_the_beats():
    common = Metre((4,), 4)
    first, middle, beat, off = (
        metric_weight(common, Fraction(q)) for q in (0, 2, 1, Fraction(1, 2))
    )
    assert 1 == first > middle > beat > off >= -1


@pytest.mark.parametrize(("beats", "beat_type"), [(4, 4), (3, 4), (6, 8), (9, 8), (12, 8), (2, 2)])
def test_metric_weights_rank_as_music21_does(beats, beat_type):
    """Outside check: no moment music21 calls stronger is weaker here (regular metres)."""
    meter = pytest.importorskip("music21.meter")
    signature = meter.TimeSignature(f"{beats}/{beat_type}")
    ours = Metre((beats,), beat_type)
    steps = [Fraction(k, 2) * ours.unit_q for k in range(2 * beats)]
    pairs = [
        (signature.getAccentWeight(float(s), forcePositionMatch=True), metric_weight(ours, s))
        for s in steps
    ]
    for theirs, mine in pairs:
        for theirs2, mine2 in pairs:
            if theirs > theirs2 and not (ours.is_compound and theirs < 0.5):
                assert mine >= mine2


def test_additive_and_irregular_metres_have_groups():
    seven = Metre((7,), 8)
    assert metric_weight(seven, Fraction(1)) > metric_weight(seven, Fraction(1, 2))
    additive = Metre((3, 2), 8)
    assert metric_weight(additive, Fraction(3, 2)) > metric_weight(additive, Fraction(1))


def test_a_second_voice_joins_where_it_starts_together():
    one = (
        "<note><pitch><step>A</step><octave>4</octave></pitch><duration>96</duration>"
        "<voice>1</voice></note>"
    )
    two = one.replace("A<", "D<").replace("<voice>1", "<voice>2")
    xml = tune_xml("A4*4|").decode()
    start = xml.index("<note>")
    xml = (
        xml[:start]
        + one
        + "<backup><duration>96</duration></backup>"
        + two
        + xml[xml.index("</measure>") :]
    )
    part = read_part(open_score(xml.encode(), "x"), "P1")
    assert [p.name for p in part.notes[0].pitches] == ["D4", "A4"]


def test_ids_of_the_file_are_kept_and_doubles_replaced():
    xml = tune_xml("A4 B4 C5 D5|").decode().replace("<note>", '<note id="x">', 2)
    xml = xml.replace('<note id="x"><pitch><step>A', '<note id="good-1"><pitch><step>A')
    ids = [n.id for n in read_part(open_score(xml.encode(), "x"), "P1").notes]
    assert ids[0] == "good-1"
    assert len(set(ids)) == 4


def test_timewise_scores_are_read():
    partwise = tune_xml("A4*4|B4*4|").decode()
    head, _, rest = partwise.partition('<part id="P1">')
    measures = rest.split("</part>")[0].replace("</measure>", "</part></measure>")
    measures = measures.replace('<measure number="1">', '<measure number="1"><part id="P1">')
    measures = measures.replace('<measure number="2">', '<measure number="2"><part id="P1">')
    timewise = head.replace("score-partwise", "score-timewise") + measures + "</score-timewise>"
    part = read_part(open_score(timewise.encode(), "x"), "P1")
    assert [n.pitches[0].name for n in part.notes] == ["A4", "B4"]


def test_a_bass_part_below_its_written_range_is_written_as_it_sounds():
    """Written an octave above the sound (standard), a bass goes down to E2 on the page, or with a
    fifth string or an extension to B1."""
    low = read_part(tune_score("E1*4|", name="Double bass", clef="F4"), "P1")
    assert low.notes[0].pitches[0].midi == 28
    usual = read_part(tune_score("E2*4|", name="Double bass", clef="F4"), "P1")
    assert usual.notes[0].pitches[0].midi == 28
    extended = read_part(tune_score("C2*4|", name="Double bass", clef="F4"), "P1")
    assert extended.notes[0].pitches[0].midi == 24


def test_a_backup_ends_where_the_bar_begins():
    """Real files go back too far; a cursor stands before no bar."""
    data = tune_xml("A4 B4 C5 D5").replace(
        b"</measure>",
        b"<backup><duration>999999</duration></backup><forward><duration>1</duration></forward>"
        b"</measure>",
        1,
    )
    assert b"999999" in data
    read = read_part(open_score(data, "x"), "P1")
    assert [n.pitches[0].name for n in read.notes] == ["A4", "B4", "C5", "D5"]
