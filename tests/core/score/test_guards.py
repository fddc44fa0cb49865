"""Files are hostile until proved otherwise: one clear line each, and nothing is run or fetched."""

from __future__ import annotations

import io
import zipfile

import pytest

from plectrum.core.errors import ScoreError
from plectrum.core.score import guards
from plectrum.core.score.reading.opening import open_score
from plectrum.core.score.scorefile import read_part
from tests.tunes import tune_xml

GOOD = tune_xml("A4 B4 C5 D5|")


def named(members: dict[str, bytes]) -> bytes:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in members.items():
            archive.writestr(name, data)
    return buffer.getvalue()


def with_doctype(doctype: str) -> bytes:
    return GOOD.replace(b"<score-partwise", doctype.encode() + b"<score-partwise", 1)


BOMB = "<!DOCTYPE score-partwise [<!ENTITY a 'aaaaaaaaaa'>" + "".join(
    f"<!ENTITY {chr(98 + k)} '{f'&{chr(97 + k)};' * 10}'>" for k in range(9)
)

MALFORMED = {
    "empty": (b"", "empty"),
    "blank": (b"  \n\n", "empty"),
    "truncated": (GOOD[: len(GOOD) * 2 // 3], "breaks off"),
    "wrong type": (b"\x89PNG\r\n\x1a\n....", "not a score"),
    "text": (b"Dear colleague, here is the tune", "not a score"),
    "midi": (b"MThd\x00\x00\x00\x06", "MIDI"),
    "html": (b"<html><body>no</body></html>", "not a MusicXML"),
    "external entity": (
        with_doctype('<!DOCTYPE score-partwise [<!ENTITY x SYSTEM "file:///etc/hostname">]>'),
        "entities",
    ),
    "entity bomb": (with_doctype(BOMB + "]>"), "entities"),
    "parameter entity": (
        with_doctype('<!DOCTYPE score-partwise [<!ENTITY % x SYSTEM "http://localhost/x">]>'),
        "entities",
    ),
    "zero divisions": (GOOD.replace(b"<divisions>24<", b"<divisions>0<"), "divisions"),
    "half divisions": (GOOD.replace(b"<divisions>24<", b"<divisions>2.5<"), "whole number"),
    "zero duration": (GOOD.replace(b"<duration>24<", b"<duration>0<", 1), "not above zero"),
    "negative duration": (GOOD.replace(b"<duration>24<", b"<duration>-24<", 1), "not above zero"),
    "no duration": (GOOD.replace(b"<duration>24</duration>", b"", 1), "no time at all"),
    "endless note": (GOOD.replace(b"<duration>24<", b"<duration>99999999<", 1), "longer than"),
    "huge metre": (GOOD.replace(b"<beats>4<", b"<beats>1000<"), "time signature"),
    "zero beat-type": (GOOD.replace(b"<beat-type>4<", b"<beat-type>0<"), "time signature"),
    "no beat-type": (GOOD.replace(b"<beat-type>4</beat-type>", b""), "time signature"),
    "pitch without step": (GOOD.replace(b"<step>A</step>", b""), "pitch"),
    "no parts": (b"<score-partwise><part-list/></score-partwise>", "no part"),
    "no measures": (b'<score-partwise><part id="P1"/></score-partwise>', "no part"),
    "zip of nothing": (named({"readme.txt": b"hello"}), "holds no score"),
    "zip path trick": (named({"../../evil.xml": GOOD}), "leaves the archive"),
    "zip absolute path": (named({"/etc/evil.xml": GOOD}), "leaves the archive"),
    "damaged zip": (named({"a.xml": GOOD})[:-30], "damaged"),
    "zip bomb": (named({"a.xml": b" " * 40_000_000}), "unpacks to more"),
    "zip in zip": (named({"a.xml": named({"b.xml": GOOD})}), "holds no score"),
}


@pytest.mark.parametrize("name", MALFORMED)
def test_malformed_files_get_one_clear_line(name):
    data, said = MALFORMED[name]
    with pytest.raises(ScoreError, match=said) as caught:
        open_score(data, "tune.xml")
    line = str(caught.value)
    assert "tune.xml" in line
    assert "\n" not in line


def test_a_member_that_lies_about_its_size_is_cut_off(monkeypatch):
    monkeypatch.setattr(guards, "MAX_UNZIPPED_BYTES", 1000)
    archive = zipfile.ZipFile(io.BytesIO(named({"a.xml": b"x" * 2000})))
    with pytest.raises(ScoreError, match="unpacks to more"):
        guards.read_member(archive, "a.xml", "lying.mxl")


def test_a_file_over_the_limit_is_refused(monkeypatch):
    monkeypatch.setattr(guards, "MAX_FILE_BYTES", 100)
    with pytest.raises(ScoreError, match="too large"):
        open_score(GOOD, "big.xml")


def test_the_container_names_the_score():
    """A first member with the right ending is not taken if the container says otherwise."""
    container = (
        b'<container><rootfiles><rootfile full-path="real.musicxml"/></rootfiles></container>'
    )
    data = named({"decoy.xml": b"<x/>", "META-INF/container.xml": container, "real.musicxml": GOOD})
    assert open_score(data, "tune.mxl").parts[0].notes_n == 4


def test_a_plain_doctype_and_a_byte_order_mark_are_fine():
    doctype = (
        '<!DOCTYPE score-partwise PUBLIC "-//Recordare//DTD MusicXML 4.0 Partwise//EN" "x.dtd">'
    )
    assert open_score(b"\xef\xbb\xbf" + with_doctype(doctype), "x").parts[0].notes_n == 4


def test_utf16_is_read():
    text = GOOD.decode().replace("UTF-8", "UTF-16")
    assert open_score(text.encode("utf-16"), "x").parts[0].notes_n == 4


def test_a_part_without_notes_is_named():
    score = open_score(tune_xml("r*4|"), "rests.xml")
    with pytest.raises(ScoreError, match="no notes to bow"):
        read_part(score, "P1")
    with pytest.raises(ScoreError, match="no notes to bow"):
        score.part_named(None)


def test_a_score_without_strings_lists_its_parts():
    score = open_score(tune_xml("A4*4|", name="Flute"), "flute.xml")
    with pytest.raises(ScoreError, match="violin, viola, cello or bass") as caught:
        score.part_named(None)
    assert "Flute" in str(caught.value)
