"""Repeats played out: by hand for small forms, and against music21's expansion on thirty pieces.

Pieces come from music21's own corpus as it is installed; none is part of this project.
"""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path

import pytest

from plectrum.core.score.model import COMMON_TIME, Bar, Sign
from plectrum.core.score.playing_order import MOST_PLAYED, playing_order, signs_in
from plectrum.core.score.reading.opening import open_path, open_score
from plectrum.core.score.scorefile import read_part
from tests.tunes import tune_xml

music21 = pytest.importorskip("music21")
from music21 import converter, corpus, repeat  # noqa: E402

CHORALES = (
    "424", "115.6", "373", "379", "57.8", "321", "330", "360", "262", "384", "39.7", "397",
    "414", "67.7", "359", "164.6", "96.6", "64.8",
)  # fmt: skip
TUNES = (
    "ArbanaReel", "BeesWingsHornpipe", "BirminghamHornpipe", "CaptainKelleysReel",
    "ClearTheTrackHornpipe", "CorporalCaseysFancyReel", "DeerFootHornpipe", "FireHimOutReel",
    "JudyMcFaddensJig", "LadiesPandelettsReel", "RovingBachelorReel", "TwoPennyPostmansJig",
)  # fmt: skip

FORWARD = '<barline location="left"><repeat direction="forward"/></barline>'
BACK = '<barline location="right"><repeat direction="backward"/></barline>'


def ending(number: str, *, back: bool) -> tuple[str, str]:
    sign = '<repeat direction="backward"/>' if back else ""
    return (
        f'<barline location="left"><ending number="{number}" type="start"/></barline>',
        f'<barline location="right"><ending number="{number}" type="stop"/>{sign}</barline>',
    )


def words(text: str, sound: str) -> str:
    return (
        f"<direction><direction-type><words>{text}</words></direction-type>"
        f'<sound {sound}="yes"/></direction>'
    )


def form_xml(bars: list[tuple[str, str]], music: list[str] | None = None) -> bytes:
    """A piece of whole notes, or of other bars; each with what stands before and after it."""
    xml = tune_xml("|".join(music or ["A4*4"] * len(bars))).decode()
    for k, (before, after) in enumerate(bars, start=1):
        head, rest = xml.split(f'<measure number="{k}">')
        body, tail = rest.split("</measure>", 1)
        cut = body.index("<note")
        body = f"{body[:cut]}{before}{body[cut:]}{after}"
        xml = f'{head}<measure number="{k}">{body}</measure>{tail}'
    return xml.encode()


PLAIN = ("", "")
FIRST, SECOND = ending("1", back=True), ending("2", back=False)
FORMS = {
    "repeat": ([PLAIN, ("", BACK), PLAIN], [0, 1, 0, 1, 2]),
    "two repeats": (
        [PLAIN, ("", BACK), (FORWARD, ""), ("", BACK)], [0, 1, 0, 1, 2, 3, 2, 3]
    ),
    "endings": ([(FORWARD, ""), PLAIN, FIRST, SECOND, PLAIN], [0, 1, 2, 0, 1, 3, 4]),
    "three times": (
        [(FORWARD, ""), ending("1, 2", back=True), ending("3", back=False)], [0, 1, 0, 1, 0, 2]
    ),
    "da capo": ([PLAIN, PLAIN, ("", words("D.C.", "dacapo"))], [0, 1, 2, 0, 1, 2]),
    "da capo al fine": (
        [PLAIN, ("", words("Fine", "fine")), PLAIN, ("", words("D.C. al Fine", "dacapo"))],
        [0, 1, 2, 3, 0, 1],
    ),
    "dal segno al coda": (
        [PLAIN, (words("Segno", "segno"), ""), ("", words("To Coda", "tocoda")), PLAIN,
         ("", words("D.S. al Coda", "dalsegno")), (words("Coda", "coda"), "")],
        [0, 1, 2, 3, 4, 1, 2, 5],
    ),
}  # fmt: skip


def _order(bars) -> list[int]:
    return [k for run in playing_order(bars) for k in range(run.first, run.last + 1)]


@pytest.mark.parametrize("name", FORMS)
def test_forms_are_played_as_players_do(name):
    """Standard notation; a jump back takes no repeats and, of endings, the last."""
    bars, wanted = FORMS[name]
    score = open_score(form_xml(bars), "form.musicxml")
    assert _order(read_part(score, "P1").bars) == wanted


def test_no_repeat_and_only_the_last_ending_after_a_jump():
    bars = [(FORWARD, ""), FIRST, SECOND, ("", words("D.C.", "dacapo"))]
    score = open_score(form_xml(bars), "form.musicxml")
    assert _order(read_part(score, "P1").bars) == [0, 1, 0, 2, 3, 0, 2, 3]


def test_runs_say_which_time_it_is():
    bars, _ = FORMS["endings"]
    runs = playing_order(read_part(open_score(form_xml(bars), "form.musicxml"), "P1").bars)
    assert [(r.first, r.last, r.time) for r in runs] == [(0, 2, 1), (0, 1, 2), (3, 4, 1)]


def test_an_ending_covers_every_bar_under_its_bracket():
    start, stop = ending("1", back=True)
    bars = [(FORWARD, ""), (start, ""), ("", stop), SECOND]
    part = read_part(open_score(form_xml(bars), "form.musicxml"), "P1")
    assert [b.endings for b in part.bars] == [(), (1,), (1,), (2,)]
    assert _order(part.bars) == [0, 1, 2, 0, 3]


def test_words_are_understood_as_they_are_written():
    assert signs_in("D.C. al Fine") == {Sign.CAPO}
    assert signs_in("dal segno") == {Sign.DAL_SEGNO}
    assert signs_in("Fine") == {Sign.FINE}
    assert signs_in("in a fine tone") == frozenset()
    assert signs_in("dolce") == frozenset()


def test_what_would_not_end_is_played_as_written():
    bars = [
        Bar(k, k + 1, Fraction(4 * k), Fraction(4), COMMON_TIME, repeat_start=True, repeat_end=9)
        for k in range(MOST_PLAYED // 9 + 1)
    ]
    assert _order(bars) == list(range(len(bars)))
    assert len(_order(bars[:10])) == 90


def _pieces() -> list[Path]:
    paths = {p.name: p for p in corpus.getCorePaths()}
    return [paths[f"bwv{n}.mxl"] for n in CHORALES] + [paths[f"{n}.abc"] for n in TUNES]


@pytest.mark.parametrize("path", _pieces(), ids=lambda p: p.stem)
def test_the_order_is_that_of_another_reader(path):
    score = open_path(path)
    part = read_part(score, score.parts[0].id, "violin", empty=True)
    theirs = converter.parse(str(path)).parts[0]
    for k, measure in enumerate(theirs.getElementsByClass("Measure")):
        measure.editorial.place = k
    played = repeat.Expander(theirs).process().getElementsByClass("Measure")
    order = _order(part.bars)
    assert order == [m.editorial.place for m in played]
    assert len(order) > len(part.bars)
