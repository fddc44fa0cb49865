"""Outside checks: onsets, durations and pitches against music21 and the engraver's timemap.

Pieces come from music21's own corpus as it is installed; none is part of this project.
"""

from __future__ import annotations

import re
from pathlib import Path

import pytest

from plectrum.core.document.document import Document
from plectrum.core.files.exports import plan_as_musicxml
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.score.model import Part
from plectrum.core.score.reading.opening import open_path, open_score
from plectrum.core.score.scorefile import ScoreFile, read_part
from plectrum.demo import demo_paths
from plectrum.ui.engraving.worker import Engraver

music21 = pytest.importorskip("music21")
from music21 import converter, corpus  # noqa: E402

FIDDLE = (
    "7thRegimentReel", "42dHighlandRegimentStrathspey", "AWillieWeHaveMissdYouStrathspey",
)  # fmt: skip
QUARTETS = (
    "haydn/opus1no1/movement4", "haydn/opus1no1/movement2", "mozart/k80/movement3",
    "mozart/k156/movement4", "mozart/k156/movement3", "mozart/k80/movement4",
    "haydn/opus1no1/movement5", "mozart/k155/movement2",
)  # fmt: skip


def corpus_files(part: str, suffixes: tuple[str, ...]) -> list[Path]:
    return sorted(p for p in corpus.getCorePaths() if part in str(p) and p.suffix in suffixes)


def fiddle_tunes() -> list[Path]:
    """Fourteen fiddle tunes, evenly spread over the collection."""
    files = corpus_files("ryansMammoth", (".abc",))
    return files[:: max(1, len(files) // 14)][:14]


def quartet(name: str) -> Path:
    return next(p for p in corpus_files(name.rsplit("/", 1)[0], (".mxl", ".xml")) if name in str(p))


def engraver_onsets(score: ScoreFile, part: Part) -> dict[str, tuple[int, float, float]]:
    """Note id to (bar, quarters inside it, seconds from the start), in written order."""
    engraver = Engraver()
    engraver.load(
        {"token": 1, "xml": score.xml.decode(), "parts": [part.id], "width": 900, "scale": 40}
    )
    onsets = {}
    bar, bar_q = 0, 0.0
    for event in engraver.timemap():
        if "measureOn" in event:
            bar, bar_q = int(event["measureOn"].removeprefix("bar-")), event["qstamp"]
        for note_id in event.get("on", []):
            onsets[note_id] = (bar, event["qstamp"] - bar_q, event["tstamp"] / 1000)
    return onsets


def check_against_engraver(score: ScoreFile, part: Part, *, seconds: bool) -> None:
    """Times inside bars: the engraver sees one part alone, and where that part's bar is not
    full it does not know, as we do from the other parts, how long the bar is."""
    onsets = engraver_onsets(score, part)
    plain = [n for n in part.notes if not n.grace and n.id in onsets]
    assert len(plain) >= 0.9 * len([n for n in part.notes if not n.grace])
    for note in plain:
        if note.index > 0 and part.notes[note.index - 1].grace:
            continue  # the engraver takes a grace note's time elsewhere
        bar, quarters, at_s = onsets[note.id]
        assert note.bar_index == bar
        offset_q = note.onset_q - part.bars[bar].onset_q
        assert float(offset_q) == pytest.approx(quarters, abs=2e-3), note.place
        if seconds:
            assert note.onset_s == pytest.approx(at_s, abs=0.01), note.place


Row = tuple[int, float, float, tuple[int, ...]]


def music21_notes(stream) -> list[Row]:
    """(measure, offset in it, duration, sounding midi) as music21 reads them, ties merged.

    Offsets are taken inside the measure: music21 shortens some measures that hold a
    `<forward>`, and everything after them would be shifted.
    """
    rows: list[Row] = []
    for k, measure in enumerate(stream.getElementsByClass("Measure")):
        for element in measure.notes:
            if element.duration.isGrace:
                continue
            length = float(element.duration.quarterLength)
            if element.tie is not None and element.tie.type in ("stop", "continue") and rows:
                rows[-1] = (*rows[-1][:2], rows[-1][2] + length, rows[-1][3])
                continue
            midis = tuple(sorted({p.midi for p in element.pitches}))
            rows.append((k, float(element.offset), length, midis))
    return rows


def check_against_music21(part: Part, stream) -> None:
    theirs = music21_notes(stream)
    ours = [
        (
            n.bar_index,
            float(n.onset_q - part.bars[n.bar_index].onset_q),
            float(n.duration_q),
            tuple(p.midi - p.transpose_semitones for p in n.pitches),  # music21 keeps written pitch
        )
        for n in part.notes
        if not n.grace
    ]
    assert len(ours) == len(theirs)
    for mine, other in zip(ours, theirs, strict=True):
        assert (mine[0], mine[3]) == (other[0], other[3])
        assert mine[1:3] == pytest.approx(other[1:3], abs=2e-3)


def has_voices(stream) -> bool:
    return any(m.hasVoices() for m in stream.getElementsByClass("Measure"))


def check_plan_and_export(document: Document) -> None:
    """The part plans without error, and its export has the same notes."""
    plan = plan_of(document)
    assert len(plan.notes) == len(document.part.notes)
    again = open_score(plan_as_musicxml(document, plan), "again")
    part = read_part(again, document.part_id, document.choices.instrument)
    assert [(n.onset_q, n.duration_q, n.pitches) for n in part.notes] == [
        (n.onset_q, n.duration_q, n.pitches) for n in document.part.notes
    ]


@pytest.mark.parametrize("path", demo_paths(), ids=lambda p: p.stem)
def test_demo_pieces(path):
    score = open_path(path)
    part = read_part(score, "P1")
    stream = converter.parseData(score.xml.decode(), format="musicxml").parts[0]
    check_against_music21(part, stream)
    check_against_engraver(score, part, seconds="rit." not in score.xml.decode())


@pytest.mark.parametrize("path", fiddle_tunes(), ids=lambda p: p.stem)
def test_fiddle_tunes(abc_here, path):
    """Converted once, read three times."""
    data = path.read_bytes()
    score = open_score(re.sub(rb"(?m)^%.*\n", b"", data), path.name, "abc")
    document = Document.from_score(score, instrument="violin")
    stream = converter.parseData(score.xml.decode(), format="musicxml").parts[0]
    if not has_voices(stream):
        check_against_music21(document.part, stream)
    check_against_engraver(score, document.part, seconds=False)
    check_plan_and_export(document)


@pytest.mark.parametrize("name", QUARTETS)
def test_quartet_parts(name):
    """Every part of a movement."""
    path = quartet(name)
    score = open_path(path)
    streams = converter.parse(path, forceSource=True).parts
    assert [i.instrument for i in score.parts] == ["violin", "violin", "viola", "cello"]
    for info, stream in zip(score.parts, streams, strict=True):
        document = Document.from_score(score, info.id)
        if not has_voices(stream):
            check_against_music21(document.part, stream)
        check_plan_and_export(document)
    check_against_engraver(score, read_part(score, score.parts[0].id), seconds=False)
