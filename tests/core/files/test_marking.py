"""What of the plan goes into the exported score: valid, and nothing else of the score changes."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace
from itertools import pairwise

import pytest
from lxml import etree

from plectrum.core.document.choices import Join
from plectrum.core.document.document import Document
from plectrum.core.files.exports import plan_as_musicxml
from plectrum.core.files.marking import Division, Marking, Under, fraction_words
from plectrum.core.files.opening import open_document_path
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.score.bow_signs import LYRIC_NAME, WORDS_ID
from plectrum.core.score.reading.opening import open_score
from plectrum.demo import demo_paths
from tests.command import plectrum
from tests.core.score.test_second_readers import corpus_files
from tests.musicxml_schema import faults
from tests.tunes import tune_xml

EVERYTHING = Marking(Division.FRACTIONS, Under.LYRICS, joins=True, fingerings=True, strings=True)
MARKINGS = {
    "pencil": Marking(),
    "lyrics": EVERYTHING,
    "words": replace(EVERYTHING, division=Division.MARKS, under=Under.WORDS),
    "regions": Marking(Division.REGIONS, Under.WORDS),
}
# What may be added to a note, and what may go from it.
ADDED = {"lyric", "syllabic", "text", "notations", "technical", "articulations", "up-bow",
         "down-bow", "fingering", "string", "breath-mark", "staccato", "slur"}  # fmt: skip
TAKEN = {"up-bow", "down-bow", "slur", "notations", "technical"}
COLLECTIONS = ("bach", "haydn", "mozart", "beethoven", "trecento", "leadSheet", "miscFolk")
Row = tuple[str, str, str]


def rows(element: etree._Element) -> Counter[Row]:
    """Every element in it with its attributes and text."""
    return Counter(
        (str(e.tag), str(sorted(e.attrib.items())), (e.text or "").strip())
        for e in element.iter()
        if e is not element
    )


def check_nothing_else(before: bytes, after: bytes) -> None:
    """Only what was asked for has changed."""
    old, new = etree.fromstring(before), etree.fromstring(after)
    for direction in list(new.iter("direction")):
        if any((w.get("id") or "").startswith(WORDS_ID) for w in direction.iter("words")):
            direction.getparent().remove(direction)
    olds, news = list(old.iter()), [e for e in new.iter() if e.tag not in ADDED]
    inside = [e for e in olds if e.tag not in ADDED]
    assert [(e.tag, dict(e.attrib), (e.text or "").strip()) for e in inside] == [
        (e.tag, dict(e.attrib), (e.text or "").strip()) for e in news
    ]
    for a, b in zip(old.iter("note"), new.iter("note"), strict=True):
        assert {tag for tag, _, _ in rows(a) - rows(b)} <= TAKEN
        assert {tag for tag, _, _ in rows(b) - rows(a)} <= ADDED


def check_export(document: Document, marking: Marking) -> bytes:
    """Valid where the score was, the same but for what is asked, and it opens again."""
    plan = plan_of(document)
    done = plan_as_musicxml(document, plan, marking)
    assert set(faults(done)) <= set(faults(document.score.xml))
    check_nothing_else(document.score.xml, done)
    again = Document.from_score(
        open_score(done, "again"), document.part_id, document.choices.instrument
    )
    assert [(n.onset_q, n.duration_q, n.pitches) for n in again.part.notes] == [
        (n.onset_q, n.duration_q, n.pitches) for n in document.part.notes
    ]
    heads = {unit.first for unit in plan.units}
    wanted = {k: p.direction for k, p in enumerate(plan.notes) if p is not None and k in heads}
    assert all(again.part.notes[k].mark is way for k, way in wanted.items())
    return done


@pytest.mark.parametrize("name", MARKINGS)
@pytest.mark.parametrize("path", demo_paths(), ids=lambda p: p.stem)
def test_demo_pieces_stay_valid_and_whole(path, name):
    assert faults(path.read_bytes()) == []
    check_export(open_document_path(path), MARKINGS[name])


def corpus_documents(count: int) -> list[Document]:
    """Works of several hands and kinds, evenly spread, each by its first string part or, if it
    has none, its first part on a violin."""
    files = [p for s in COLLECTIONS
             for p in corpus_files(s, (".mxl", ".xml", ".musicxml"))]  # fmt: skip
    found = []
    for path in files[:: max(1, len(files) // count)]:
        try:
            found.append(open_document_path(path, instrument="violin"))
        except ValueError:
            continue  # not a score for strings at all
    return [d for d in found if d.notes_n < 6000][:count]


@pytest.mark.parametrize("name", ["lyrics", "words"])
def test_works_of_the_corpus_stay_valid_and_whole(name):
    for document in corpus_documents(6):
        check_export(document, MARKINGS[name])


DOTTED = "D4*3/2 E4*1/2 F#4*3/2 G4*1/2 | A4 r A4 A4 | D4*3/2 E4*1/2 F#4*2"


def test_hooks_are_dots_under_a_slur_and_lifts_are_breaths():
    document = Document.from_score(open_score(tune_xml(DOTTED), "dotted"), instrument="violin")
    document = document.pinned("1.2.5", "hook").pinned("2.3", "retake")
    plan = plan_of(document)
    root = etree.fromstring(plan_as_musicxml(document, plan, Marking(joins=True)))
    notes = list(root.iter("note"))
    assert plan.notes[1] is not None
    assert plan.notes[1].join is Join.HOOK
    kinds = [n.find("notations/slur").get("type") for n in notes[:2]]
    assert kinds == ["start", "stop"]
    assert all(n.find("notations/articulations/staccato") is not None for n in notes[:2])
    rest = next(n for n in notes if n.find("rest") is not None)
    assert rest.findtext("notations/articulations/breath-mark") == "comma"
    plain = etree.fromstring(plan_as_musicxml(document, plan))
    assert not list(plain.iter("breath-mark", "staccato", "slur", "lyric"))


def test_a_second_export_replaces_the_first():
    """The words of the plan before go; those of the song stay."""
    document = open_document_path(demo_paths()[0])
    sung = document.score.xml.replace(
        b"</note>", b'<lyric number="1"><text>la</text></lyric></note>', 1
    )
    for under in Under:
        marking = Marking(Division.FRACTIONS, under)
        once = Document.from_score(open_score(sung, "sung"))
        for _ in range(2):
            xml = plan_as_musicxml(once, plan_of(once), marking)
            once = Document.from_score(open_score(xml, "again"))
        root = etree.fromstring(xml)
        own = root.findall(f".//lyric[@name='{LYRIC_NAME}']")
        words = [w for w in root.iter("words") if (w.get("id") or "").startswith(WORDS_ID)]
        assert (len(own), len(words)) in (
            (len(plan_of(once).units), 0),
            (0, len(plan_of(once).units)),
        )
        assert [t.text for t in root.iter("text")].count("la") == 1
        if own and own[0].getparent().find("lyric") is not own[0]:
            assert own[0].get("number") == "2"


def test_fractions_say_where_the_bow_is():
    document = open_document_path(demo_paths()[0])
    plan = plan_of(document)
    marking = Marking(Division.FRACTIONS)
    root = etree.fromstring(plan_as_musicxml(document, plan, marking))
    texts = [t.findtext("text") for t in root.iter("lyric")]
    assert len(texts) == len(plan.units)
    for unit, text in zip(plan.units, texts, strict=True):
        assert text is not None
        planned = plan.notes[unit.first]
        assert planned is not None
        assert text.partition("–")[0] == fraction_words(planned.start)
    values = {"0": 0.0, "1": 1.0, "⅓": 1 / 3, "⅔": 2 / 3} | {
        f: n / 8 for f, n in zip("⅛¼⅜½⅝¾⅞", range(1, 8), strict=True)
    }
    ordered = sorted(values.values())
    widest = max(b - a for a, b in pairwise(ordered)) / 2
    assert all(abs(values[fraction_words(k / 100)] - k / 100) <= widest + 1e-9 for k in range(101))


def test_fingers_stand_at_the_notes_of_a_chord():
    chord = tune_xml("D4+B4*2 A4+E5*2")
    document = Document.from_score(open_score(chord, "chords"), instrument="violin")
    plan = plan_of(document)
    root = etree.fromstring(
        plan_as_musicxml(document, plan, Marking(fingerings=True, strings=True))
    )
    for note, fingered in zip(plan.part.notes, plan.fingered, strict=True):
        members = list(root.iter("note"))[2 * note.index : 2 * note.index + 2]
        members.sort(key=lambda n: int(n.findtext("pitch/octave")) * 7
                     + "CDEFGAB".index(n.findtext("pitch/step")))  # fmt: skip
        said = [n.findtext("notations/technical/fingering") for n in members]
        assert "+".join(said) == fingered.finger_words
        numbers = [n.findtext("notations/technical/string") for n in members]
        assert numbers == [str(4 - s) for s in fingered.strings]


def test_the_command_line_writes_them(tmp_path):
    out = tmp_path / "out.musicxml"
    path = str(demo_paths()[0])
    done = plectrum("plan", path, "--format", "musicxml", "--division", "marks", "--under",
                    "words", "--signs", "joins,strings", "-o", str(out))  # fmt: skip
    assert done.returncode == 0
    document = open_document_path(demo_paths()[0])
    marking = Marking(Division.MARKS, Under.WORDS, joins=True, strings=True)
    assert out.read_bytes() == plan_as_musicxml(document, plan_of(document), marking)
    wrong = plectrum("plan", path, "--signs", "trills")
    assert (wrong.returncode, b"trills" in wrong.stderr) == (2, True)


def test_what_was_remembered_and_does_not_fit_is_as_by_default():
    assert Marking.from_dict(EVERYTHING.as_dict()) == EVERYTHING
    assert Marking.from_dict({"division": 7, "under": [], "joins": "yes"}) == Marking()
