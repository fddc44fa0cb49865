"""What else stands on a page: tremolo, held notes, double graces, harmonics, simile (standard
notation; what players make of it is common practice with no source)."""

from __future__ import annotations

from fractions import Fraction

import pytest

from plectrum.core.document.document import Document
from plectrum.core.planning.plan import make_plan
from plectrum.core.score.reading.opening import open_score
from plectrum.core.score.scorefile import read_part
from tests.tunes import tune_document

BACK = "<backup><duration>16</duration></backup>"


def head(pitch: str, quarters: int, voice: int = 1, more: str = "", signs: str = "") -> str:
    """One note; `signs` stand before its pitch."""
    length = "" if "grace" in signs else f"<duration>{4 * quarters}</duration>"
    return (
        f"<note>{signs}<pitch><step>{pitch[0]}</step><octave>{pitch[1]}</octave></pitch>{length}"
        f"<voice>{voice}</voice>{more}</note>"
    )


def read(*bars: str):
    measures = "".join(
        f'<measure number="{k}"><attributes><divisions>4</divisions></attributes>{bar}</measure>'
        for k, bar in enumerate(bars, start=1)
    )
    xml = (
        '<score-partwise version="4.0"><part-list><score-part id="P1"><part-name>Violin'
        f'</part-name></score-part></part-list><part id="P1">{measures}</part></score-partwise>'
    )
    return read_part(open_score(xml.encode(), "x.musicxml"), "P1", "violin")


def names(part) -> list[list[str]]:
    return [[p.name for p in n.pitches] for n in part.notes]


def test_a_note_held_under_a_melody_keeps_its_length_in_one_bow():
    melody = "".join(head(p, 1) for p in ("A4", "B4", "C5", "D5"))
    part = read(melody + BACK + head("D4", 4, 2), head("D5", 4, 2) + BACK + melody)
    below = [["D4", "A4"], ["D4", "B4"], ["D4", "C5"], ["D4", "D5"]]
    assert names(part) == [*below, ["A4", "D5"], ["B4", "D5"], ["C5", "D5"], ["D5"]]
    assert [n.slurred for n in part.notes] == [False, True, True, True] * 2
    assert not part.left_out


def test_the_melody_leads_and_not_what_sounds_longest():
    """A rest in the melody, longer notes below it, and a single high note that is none."""
    rest = "<note><rest/><duration>4</duration><voice>1</voice></note>"
    melody = rest + head("E5", 1) + head("F5", 1) + head("G5", 1)
    below = head("B3", 1, 2) + head("C4", 2, 2) + head("A3", 1, 2)
    part = read(melody + BACK + below, melody + BACK + head("B6", 4, 3))
    tops = [own[-1] for own in names(part)]
    assert tops[:4] == ["B3", "E5", "F5", "G5"]
    assert {"E5", "F5", "G5"} <= {p for own in names(part)[4:] for p in own}


def test_double_graces_stay_one():
    part = read(
        head("D4", 0, signs="<grace/>") + head("B4", 0, signs="<grace/><chord/>") + head("A4", 4)
    )
    assert names(part) == [["D4", "B4"], ["A4"]]
    assert part.notes[0].grace


@pytest.mark.parametrize(("kind", "wanted"), [("artificial", ["A4"]), ("natural", ["A4", "D5"])])
def test_a_touched_string_is_no_second_note(kind, wanted):
    def harmonic(what: str) -> str:
        inner = f"<harmonic><{kind}/><{what}/></harmonic>"
        return f"<notations><technical>{inner}</technical></notations>"

    touched = head("D5", 4, more=harmonic("touching-pitch"), signs="<chord/>")
    part = read(head("A4", 4, more=harmonic("base-pitch")) + touched)
    assert names(part) == [wanted]
    assert bool(part.left_out) == (kind == "natural")


def test_simile_goes_on_until_other_signs():
    figure, bare = "A4*1/2( B4*1/2) C5. D5u E5", "A4*1/2 B4*1/2 C5 D5 E5"
    other = "A4. B4 C5 D5"
    notes = tune_document(f"{figure}|{{sim.}} {bare}|A4*4|{bare}|{other}|{bare}").part.notes
    signs = [(n.slurred, bool(n.articulations), n.mark) for n in notes]
    assert signs[5:10] == signs[:5] == signs[11:16]
    assert signs[20:] == [(False, False, None)] * 5
    plain = tune_document(f"{figure}|{bare}").part.notes
    assert not any(n.slurred or n.articulations for n in plain[5:])


@pytest.mark.parametrize(
    ("token", "stroke_q"), [("A4*2=", "1/2"), ("A4==", "1/4"), ("A4*4===", "1/8"), ("A4", None)]
)
def test_a_beam_of_a_tremolo_halves_its_strokes(token, stroke_q):
    note = tune_document(f"{token} r").part.notes[0]
    assert note.stroke_q == (None if stroke_q is None else Fraction(stroke_q))


@pytest.mark.parametrize(
    ("kind", "text", "wanted"),
    [("single", "1", "1/4"), ("unmeasured", "", "0"), ("single", "99", "0"), ("start", "x", "0")],
)
def test_tremolos_of_an_eighth_and_without_measure(kind, text, wanted):
    ornament = f'<ornaments><tremolo type="{kind}">{text}</tremolo></ornaments>'
    part = read(head("A4", 4, more=f"<type>eighth</type><notations>{ornament}</notations>"))
    assert part.notes[0].stroke_q == Fraction(wanted)
    assert not part.left_out
    document = Document.from_score(
        open_score(
            b'<score-partwise><part-list><score-part id="P1"><part-name>Violin</part-name>'
            b'</score-part></part-list><part id="P1"><measure number="1"><attributes><divisions>4'
            b"</divisions></attributes>" + head("A4", 4).encode() + b"</measure></part>"
            b"</score-partwise>", "x.musicxml",
        )
    )  # fmt: skip
    assert make_plan(document.part, document.choices).notes[0].strokes_n == 1
