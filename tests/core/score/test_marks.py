"""Bow marks are added in place; nothing else of the user's file changes."""

from __future__ import annotations

import re

import pytest
from hypothesis import given, settings
from lxml import etree

from plectrum.core.document.choices import Join, Pin
from plectrum.core.document.document import Document
from plectrum.core.files.exports import plan_as_musicxml
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.score.bow_signs import Bowing, write_bowing
from plectrum.core.score.model import Direction
from plectrum.core.score.reading.opening import open_score
from plectrum.core.score.scorefile import read_part
from plectrum.demo import demo_paths
from tests.core.planning.strategies import tunes
from tests.tunes import tune_document, tune_score, tune_xml

ODD = """<?xml version='1.0' encoding='UTF-8' standalone='no'?>
<!DOCTYPE score-partwise PUBLIC "-//Recordare//DTD MusicXML 3.1 Partwise//EN" "partwise.dtd">
<!-- kept: a comment -->
<score-partwise version="3.1">
\t<part-list><score-part id="P1"><part-name>Violin</part-name></score-part></part-list>
\t<part id="P1">
\t\t<measure number="1">
\t\t\t<attributes><divisions>1</divisions></attributes>
\t\t\t<?program kept?>
\t\t\t<note default-x="12.5">
\t\t\t\t<pitch><step>A</step><octave>4</octave></pitch>
\t\t\t\t<duration>2</duration>
\t\t\t\t<lyric><text>caf\u00e9 &amp; co</text></lyric>
\t\t\t</note>
\t\t\t<note>
\t\t\t\t<pitch><step>B</step><octave>4</octave></pitch>
\t\t\t\t<duration>2</duration>
\t\t\t\t<notations>
\t\t\t\t\t<technical>
\t\t\t\t\t\t<fingering>1</fingering>
\t\t\t\t\t</technical>
\t\t\t\t</notations>
\t\t\t</note>
\t\t</measure>
\t</part>
</score-partwise>
"""
MARKS = {Direction.DOWN: "down-bow", Direction.UP: "up-bow"}


def without_marks(xml: bytes) -> bytes:
    """Canonical XML with bow marks, and what they alone filled, taken out."""
    root = etree.fromstring(xml)
    for tag in ("technical", "notations"):
        for mark in [m for name in MARKS.values() for m in root.iter(name)]:
            mark.getparent().remove(mark)
        for element in list(root.iter(tag)):
            if len(element) == 0:
                element.getparent().remove(element)
    for element in root.iter():
        element.tail = (element.tail or "").strip()
        element.text = (element.text or "").strip()
    return etree.tostring(root, method="c14n")


def test_the_rest_of_an_odd_file_is_kept_to_the_letter():
    """Declaration, doctype, comments, tabs, quotes and lyrics stay; only lines are added."""
    score = open_score(ODD.encode(), "odd.xml")
    marked = write_bowing(score, {"P1": Bowing({"n1": Direction.DOWN, "n2": Direction.UP})})
    lines = marked.decode().splitlines()
    added = [line for line in lines if line not in ODD.splitlines()]
    kept = [line for line in lines if line in ODD.splitlines()]
    assert {a.strip() for a in added} <= {
        "<down-bow/>", "<up-bow/>", "<notations>", "</notations>", "<technical>", "</technical>",
    }  # fmt: skip
    assert [line for line in ODD.splitlines() if line in kept] == ODD.splitlines()
    assert lines[:4] == ODD.splitlines()[:4]


def test_indentation_goes_on():
    score = open_score(ODD.encode(), "odd.xml")
    text = write_bowing(score, {"P1": Bowing({"n2": Direction.UP})}).decode()
    assert re.search(r"\n\t{6}<fingering>1</fingering>\n\t{6}<up-bow/>\n\t{5}</technical>", text)


@pytest.mark.parametrize("path", demo_paths(), ids=lambda p: p.stem)
def test_an_exported_demo_differs_only_by_its_marks(path):
    document = Document.from_score(open_score(path.read_bytes(), path.name))
    marked = plan_as_musicxml(document, plan_of(document))
    assert without_marks(marked) == without_marks(document.score.xml)
    assert marked.count(b"-bow/>") == len(plan_of(document).units)


def test_exporting_twice_changes_nothing_more():
    document = tune_document("A4 B4( C5) D5|E5*3/2 D5*1/2 C5*2|")
    once = plan_as_musicxml(document, plan_of(document))
    again = Document.from_score(open_score(once, "again.xml"))
    assert plan_as_musicxml(again, plan_of(again)) == once


@settings(max_examples=30, deadline=None)
@given(tunes())
def test_a_reread_export_has_the_same_notes_and_the_plans_bows(music):
    document = tune_document(music)
    plan = plan_of(document)
    part = read_part(open_score(plan_as_musicxml(document, plan), "x"), "P1")
    for old, new, planned in zip(plan.part.notes, part.notes, plan.notes, strict=True):
        assert (old.onset_q, old.duration_q, old.pitches) == (
            new.onset_q, new.duration_q, new.pitches,
        )  # fmt: skip
        assert old.slurred == new.slurred
        if planned.join is not Join.SLUR and new.mark is not None:
            assert new.mark is planned.direction


def test_a_changed_mark_takes_the_place_of_the_old_one():
    score = tune_score("A4u B4d C5 D5|")
    marked = write_bowing(score, {"P1": Bowing({"n1": Direction.DOWN, "n2": None})})
    notes = read_part(open_score(marked, "x"), "P1").notes
    assert [n.mark for n in notes] == [Direction.DOWN, None, None, None]
    assert marked.count(b"<technical>") == 1


@pytest.mark.parametrize(
    ("music", "note", "join", "slurred"),
    [
        ("A4( B4 C5 D5)|", 2, Join.TURN, [False, True, False, True]),
        ("A4( B4 C5 D5)|", 1, Join.TURN, [False, False, True, True]),
        ("A4( B4 C5 D5)|", 3, Join.HOOK, [False, True, True, False]),
        ("A4 B4 C5 D5|", 2, Join.SLUR, [False, False, True, False]),
        ("A4( B4) C5( D5)|", 2, Join.SLUR, [False, True, True, True]),
    ],
)
def test_split_and_joined_slurs_are_written(music, note, join, slurred):
    document = tune_document(music)
    note_id = document.part.notes[note].id
    document = document.with_choices(document.choices.with_pin(note_id, Pin(join=join)))
    marked = plan_as_musicxml(document, plan_of(document))
    notes = read_part(open_score(marked, "x"), "P1").notes
    assert [n.slurred for n in notes] == slurred


def test_marks_in_utf16_come_back_in_utf16():
    text = tune_xml("A4 B4 C5 D5|").decode().replace("UTF-8", "UTF-16")
    score = open_score(text.encode("utf-16"), "x")
    marked = write_bowing(score, {"P1": Bowing({"n1": Direction.UP})})
    assert read_part(open_score(marked, "y"), "P1").notes[0].mark is Direction.UP


AROUND = (
    ("<!-- <score-partwise> was here -->", ""),
    ("", "<!-- made by hand --><?printer on?>"),
    ("<!-- one --><!-- <score-partwise> -->", "<!-- </score-partwise> later -->\n<!-- end -->\n"),
    ("<?xml-stylesheet href='<score-partwise>'?>\n", "\n<!-- <a/> -->"),
)


@pytest.mark.parametrize(("before", "after"), AROUND)
@pytest.mark.parametrize("encoding", ["UTF-8", "ISO-8859-1", "UTF-16"])
def test_everything_around_the_root_is_kept(before, after, encoding):
    """A comment may hold the root's own name; comments after the root stay too."""
    plain = tune_xml("A4 B4 C#5 D5|E5*4").decode()
    declared, root = plain.split("?>", 1)
    declared = declared.replace("UTF-8", encoding)
    whole = f"{declared}?>\n{before}{root}{after}".encode(encoding)
    document = Document.from_score(open_score(whole, "around.musicxml"))
    marked = plan_as_musicxml(document, plan_of(document)).decode(encoding)
    assert marked.count("-bow/>") == len(plan_of(document).units)
    if encoding == "UTF-16":  # written anew, with the same around it
        for part in (before.strip(), *after.split("\n")):
            assert part.replace("'", '"') in marked.replace("'", '"')
        return
    assert marked.startswith(f"{declared}?>\n{before}<score-partwise")
    assert marked.endswith(f"</score-partwise>{after}")
    again = Document.from_score(open_score(marked.encode(encoding), "again.musicxml"))
    assert [n.mark for n in again.part.notes] == [p.direction for p in plan_of(document).notes]
