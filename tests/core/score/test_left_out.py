"""What a reader leaves out is counted and said once; what it reads of tempo is what it means."""

from __future__ import annotations

import json
from fractions import Fraction

import pytest

from plectrum.core.advice.warnings import warnings_of
from plectrum.core.document.document import Document
from plectrum.core.files.exports import plan_as_json
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.score.raw import RawDirection
from plectrum.core.score.reading.opening import open_score
from plectrum.core.score.scorefile import read_part
from plectrum.core.score.timeline import build_tempo
from tests.tunes import tune_score, tune_xml

END = b"</note></measure></part>"
NOTE = b"<note><pitch><step>A</step><octave>4</octave></pitch>"


def opened(change) -> Document:
    xml = change(tune_xml("A4 B4 C5 D5|E5 D5 C5 B4|A4*4"))
    return Document.from_score(open_score(xml, "tune.musicxml"))


def inside_first_note(inner: str):
    return lambda xml: xml.replace(b"<voice>1</voice>", b"<voice>1</voice>" + inner.encode(), 1)


@pytest.mark.parametrize(
    ("inner", "what"),
    [
        ("<notations><ornaments><trill-mark/></ornaments></notations>", "trills"),
        ("<notations><arpeggiate/></notations>", "broken chords"),
        ("<notations><technical><harmonic/></technical></notations>", "natural harmonics"),
        ("<notations><technical><brass-bend/></technical></notations>", "brass-bend"),
        ("<notations><slide type='start'/></notations>", "slides"),
    ],
)
def test_a_sign_that_is_not_read_is_counted_with_its_bar(inner, what):
    (line,) = opened(inside_first_note(inner)).part.left_out
    assert line.what.startswith(what)
    assert (line.how_many, line.where) == (1, "1")


@pytest.mark.parametrize(
    ("change", "what", "kept"),
    [
        (lambda xml: xml.replace(NOTE, b"<note><cue/>" + NOTE[6:], 1), "cue notes", 8),
        (
            lambda xml: xml.replace(NOTE, b'<note print-object="no">' + NOTE[6:], 1),
            "hidden notes",
            8,
        ),
        (
            lambda xml: xml.replace(b"<step>A</step>", b"<step>A</step><alter>0.5</alter>", 1),
            "microtones",
            9,
        ),
        (
            lambda xml: xml.replace(
                b"</measure></part>",
                NOTE[:6] + b"<grace/>" + NOTE[6:] + END,
            ),
            "grace notes",
            9,
        ),
    ],
)
def test_notes_that_are_left_out_are_counted_and_the_others_stay(change, what, kept):
    part = opened(change).part
    assert [line.what.startswith(what) for line in part.left_out] == [True]
    assert len(part.notes) == kept


def test_it_is_said_once_and_stands_in_the_json():
    trill = "<notations><ornaments><trill-mark/></ornaments></notations>"
    document = opened(
        lambda xml: xml.replace(b"<voice>1</voice>", b"<voice>1</voice>" + trill.encode())
    )
    plan = plan_of(document)
    (said,) = [w.text for w in warnings_of(plan) if w.code == "reading"]
    assert "9 × trills" in said
    (row,) = json.loads(plan_as_json(document, plan))["left_out"]
    assert (row["how_many"], row["where"]) == (9, "1")


def test_plain_music_leaves_nothing_out():
    assert opened(lambda xml: xml).part.left_out == ()


def words(text: str) -> RawDirection:
    return RawDirection(0, "words", text)


def mark(bpm: float) -> RawDirection:
    return RawDirection(0, "tempo", "metronome", bpm, Fraction(1))


@pytest.mark.parametrize(
    ("said", "bpm"),
    [
        ("a tempo", 60),  # the one before the ritardando, not the first of the piece
        ("Tempo I", 100),
        ("Allegro", 126),
        ("Lebhaft", 132),
        ("più mosso", 69),
        ("meno mosso", 60 / 1.15),
        ("gently rocking", 76),
        ("rocking gently", None),
    ],
)
def test_later_words_of_tempo(said, bpm):
    """Quarter notes a minute of words are common practice; ratios are own defaults."""
    rows = [(0.0, mark(100)), (8.0, mark(60)), (12.0, words("rit.")), (16.0, words(said))]
    last = build_tempo(rows, 32.0).segments[-1]
    assert last.start_bpm == pytest.approx(60 if bpm is None else bpm)
    assert (last.onset_q == 16.0) == (bpm is not None)


@pytest.mark.parametrize(
    ("units", "ratio"),
    [
        ("<beat-unit>quarter</beat-unit><beat-unit>half</beat-unit>", 2.0),
        (
            "<beat-unit>quarter</beat-unit><beat-unit>quarter</beat-unit><beat-unit-dot/>",
            1.5,
        ),
        (
            "<beat-unit>quarter</beat-unit><beat-unit-dot/><beat-unit>quarter</beat-unit>",
            2 / 3,
        ),
        (
            "<beat-unit>half</beat-unit><beat-unit-dot/><beat-unit-dot/><beat-unit>half</beat-unit>",
            4 / 7,
        ),
    ],
)
def test_metric_modulation_keeps_the_pulse(units, ratio):
    """What lasted the one value lasts the other from here on (standard notation)."""
    sign = f"<direction><direction-type><metronome>{units}</metronome></direction-type></direction>"
    xml = tune_xml("A4 B4 C5 D5|E5 D5 C5 B4", bpm=60).replace(
        b'<measure number="2">', b'<measure number="2">' + sign.encode()
    )
    part = read_part(open_score(xml, "x.musicxml"), "P1")
    assert part.tempo.segments[-1].start_bpm == pytest.approx(60 * ratio)


def test_a_fermata_takes_half_of_its_note_more_and_all_parts_wait():
    plain = read_part(tune_score("A4 B4 C5*2|D5*4", bpm=60), "P1")
    xml = tune_xml("A4 B4 C5*2|D5*4", bpm=60)
    k = xml.index(b"<step>C</step>")
    held = xml[:k] + xml[k:].replace(
        b"<voice>1</voice>", b"<voice>1</voice><notations><fermata/></notations>", 1
    )
    part = read_part(open_score(held, "x.musicxml"), "P1")
    assert part.notes[2].duration_s == pytest.approx(1.5 * plain.notes[2].duration_s)
    assert part.notes[3].onset_s == pytest.approx(plain.notes[3].onset_s + 1.0)
    assert part.tempo.bpm == plain.tempo.bpm
