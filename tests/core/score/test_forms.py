"""Forms made at random, as MusicXML and as ABC: their bars are played in the order that players are
taught (standard notation; written down here as each is made, not read from any sign), which is
music21's where it can expand them; and the bow goes on in that order.
"""

from __future__ import annotations

import random
from dataclasses import dataclass, field
from fractions import Fraction
from itertools import pairwise

import pytest

from plectrum.core.document.choices import Join
from plectrum.core.document.document import Document
from plectrum.core.planning.plan import make_plan
from plectrum.core.playing.performance import Performance, Rehearsal
from plectrum.core.score.playing_order import playing_order
from plectrum.core.score.reading.abc_child import convert
from plectrum.core.score.reading.opening import open_score
from plectrum.core.score.scorefile import read_part
from tests.core.score.test_playing_order import FORWARD, ending, form_xml, words

music21 = pytest.importorskip("music21")
from music21 import converter, repeat  # noqa: E402

FORMS_N = 240
ENDINGS = (
    {"1": [1], "2": [2]}, {"1, 2": [1, 2], "3": [3]}, {"1-3": [1, 2, 3], "4": [4]},
    {"1": [1], "2": [2], "3": [3]}, {"1, 3": [1, 3], "2, 4": [2, 4]}, {"1": [1]},
)  # fmt: skip
RHYTHMS = ("1 1 1 1", "2 1 1", "3/2 1/2 2", "1 1/2 1/2 2", "2 2", "3 1", "4")


@dataclass
class Form:
    """Bars with what stands around each in MusicXML and ABC, and the order they are played in;
    `last` are those that are played after a jump back to the start."""

    xml: list[tuple[str, str]] = field(default_factory=list)
    abc: list[tuple[str, str]] = field(default_factory=list)
    order: list[int] = field(default_factory=list)
    last: list[int] = field(default_factory=list)
    rhythms: list[str] = field(default_factory=list)
    kinds: list[str] = field(default_factory=list)

    def add(
        self, bars_n: int, xml: tuple[str, str] = ("", ""), abc: tuple[str, str] = ("", "|")
    ) -> list[int]:
        """Some bars, with what stands before the first and after the last of them."""
        first = len(self.xml)
        for k in range(bars_n):
            begins, ends = k == 0, k == bars_n - 1
            self.xml.append((xml[0] if begins else "", xml[1] if ends else ""))
            self.abc.append((abc[0] if begins else "", abc[1] if ends else "|"))
        return list(range(first, first + bars_n))

    def play(self, bars: list[int], times: int = 1) -> None:
        self.order += bars * times
        self.last += bars

    def as_xml(self) -> bytes:
        music = (
            " ".join(f"{'AB'[k % 2]}4*{q}" for k, q in enumerate(r.split())) for r in self.rhythms
        )
        return form_xml(self.xml, list(music))

    def as_abc(self) -> bytes:
        bars = (
            f"{left} {' '.join(f'A{Fraction(q)}' for q in rhythm.split())} {right}"
            for (left, right), rhythm in zip(self.abc, self.rhythms, strict=True)
        )
        return f"X:1\nT:x\nM:4/4\nL:1/4\nK:D\n{' '.join(bars)}\n".encode()


def made(seed: int) -> Form:
    rng = random.Random(seed)
    form = Form()
    for _ in range(rng.randint(1, 3)):
        rng.choice([_plain, _repeated, _with_endings, _with_endings])(form, rng)
    jump = rng.choice([_nothing, _da_capo, _al_fine, _al_coda, _two_codas])
    jump(form, rng)
    form.kinds.append(jump.__name__)
    form.rhythms = [rng.choice(RHYTHMS) for _ in form.xml]
    return form


def _nothing(form: Form, rng: random.Random) -> None:
    pass


def _plain(form: Form, rng: random.Random) -> None:
    form.play(form.add(rng.randint(1, 3)))


def _repeated(form: Form, rng: random.Random) -> None:
    times = rng.choice([2, 2, 3, 4])
    said = "" if times == 2 else f' times="{times}"'
    back = f'<barline location="right"><repeat direction="backward"{said}/></barline>'
    colons = ":" * (times - 1)
    form.play(form.add(rng.randint(1, 3), (FORWARD, back), (f"|{colons}", f"{colons}|")), times)


def _with_endings(form: Form, rng: random.Random) -> None:
    common = form.add(rng.randint(1, 3), (FORWARD, ""), ("|:", "|"))
    of_time: dict[int, list[int]] = {}
    numbers = rng.choice(ENDINGS)
    form.kinds.append("|".join(numbers))
    times_n = max(2, *(t for times in numbers.values() for t in times))
    for number, times in numbers.items():
        back = min(times) < times_n
        abc = f"[{number.replace(' ', '')}", ":|" if back else "||"
        own = form.add(rng.randint(1, 2), ending(number, back=back), abc)
        of_time |= dict.fromkeys(times, own)
    for time in range(1, times_n + 1):
        form.order += [*common, *of_time.get(time, [])]
    form.last += [*common, *of_time.get(times_n, [])]


def _da_capo(form: Form, rng: random.Random) -> None:
    form.play(form.add(1, ("", words("D.C.", "dacapo")), ("", "!D.C.! |]")))
    form.order += form.last


def _al_fine(form: Form, rng: random.Random) -> None:
    form.play(form.add(1, ("", words("Fine", "fine")), ("", "!fine! |")))
    form.order += form.add(2, ("", words("D.C. al Fine", "dacapo")), ("", "!D.C.alfine! |]"))
    form.order += form.last


def _al_coda(form: Form, rng: random.Random) -> None:
    again = form.add(
        2, (words("Segno", "segno"), words("To Coda", "tocoda")), ("!segno!", "!dacoda! |")
    )
    rest = form.add(1, ("", words("D.S. al Coda", "dalsegno")), ("", "!D.S.alcoda! |"))
    coda = form.add(2, (words("Coda", "coda"), ""), ("!coda!", "|]"))
    form.order += [*again, *rest, *again, *coda]


def _two_codas(form: Form, rng: random.Random) -> None:
    out = ("", words("To Coda", "tocoda")), ("", "!dacoda! |")
    back = ("", words("D.S.", "dalsegno")), ("", "!D.S.! |")
    one = form.add(1, (words("Segno", "segno"), out[0][1]), ("!segno!", out[1][1]))
    two = form.add(1, *out)
    rest = form.add(1, *back)
    first = form.add(1, (words("Coda", "coda"), back[0][1]), ("!coda!", back[1][1]))
    second = form.add(2, (words("Coda", "coda"), ""), ("!coda!", "|]"))
    form.order += [*one, *two, *rest, *one, *first, *one, *two, *second]


def _order(bars) -> list[int]:
    return [k for run in playing_order(bars) for k in range(run.first, run.last + 1)]


@pytest.mark.parametrize("first", range(0, FORMS_N, 40))
def test_forms_are_played_as_they_were_made(first):
    compared_n = 0
    for seed in range(first, first + 40):
        form = made(seed)
        xml = form.as_xml()
        assert _order(read_part(open_score(xml, "x.musicxml"), "P1").bars) == form.order, seed
        abc = convert(form.as_abc())
        assert _order(read_part(open_score(abc, "x.musicxml"), "P1").bars) == form.order, seed
        if _music21_can(form):
            assert _expanded(xml) == form.order, seed
            compared_n += 1
    assert compared_n >= 8


def _music21_can(form: Form) -> bool:
    """It expands no ending that comes back after another, none that stands alone, not the second of
    two codas, and after a jump back plays all endings one after another."""
    endings = {kind for kind in form.kinds if kind[0].isdigit()}
    jump = form.kinds[-1]
    if jump == "_two_codas" or not endings.isdisjoint({"1", "1, 3|2, 4"}):
        return False
    return form.order != sorted(form.order) and (not endings or jump == "_nothing")


def _expanded(xml: bytes) -> list[int]:
    part = converter.parse(xml.decode(), format="musicxml").parts[0]
    for k, measure in enumerate(part.getElementsByClass("Measure")):
        measure.editorial.place = k
    played = repeat.Expander(part).process()
    return [m.editorial.place for m in played.getElementsByClass("Measure")]


@pytest.mark.parametrize("first", range(0, FORMS_N, 40))
def test_the_bow_goes_on_in_the_order_of_playing(first):
    """Wherever a note first follows another, the bow is there: it is lifted only where a rest gives
    the time, or a section begins that is gone back to (these have rests of no time at all)."""
    jumps_n = 0
    for seed in range(first, first + 40):
        document = Document.from_score(open_score(made(seed).as_xml(), "x.musicxml"))
        plan = make_plan(document.part, document.choices)
        assert plan.total_cost == pytest.approx(sum(plan.terms.values()), abs=1e-6)
        for before, note in zip(*_neighbours(plan), strict=True):
            came = plan.notes[before]
            goes = plan.notes[note]
            assert goes.join is not Join.RETAKE
            assert goes.start == pytest.approx(came.end)
            jumps_n += before != note - 1
    assert jumps_n > 20


def test_a_stretch_of_the_page_lifts_between_endings():
    """Played as it stands, the second ending comes after the first: the bow is carried there."""
    form = Form()
    form.play(form.add(2, (FORWARD, "")))
    form.add(1, ending("1", back=True))
    form.add(1, ending("2", back=False))
    form.rhythms = ["1 1 1 1", "1 1 1 1", "1 1 1 1", "4"]
    document = Document.from_score(open_score(form.as_xml(), "x.musicxml"))
    plan = make_plan(document.part, document.choices)
    last, second = plan.notes[11], plan.notes[12]
    assert plan.note_before(12) == 7
    assert second.start == pytest.approx(plan.notes[7].end)
    page = Performance(plan, Rehearsal(from_q=Fraction(0))).notes
    joins = {n.note.index: n.join for n in page}
    moved = abs(last.end - second.start) > 0.02 or last.direction is second.direction
    assert (joins[12] is not second.join) == moved
    out = {n.turn: n for n in Performance(plan).notes if n.note.index == 12}
    assert [n.join for n in out.values()] == [second.join]


def _neighbours(plan) -> tuple[list[int], list[int]]:
    """Notes that first sound right after another, with that one, as they are played."""
    played = [n.note.index for n in Performance(plan).notes]
    seen: dict[int, int] = {}
    for before, note in pairwise(played):
        seen.setdefault(note, before)
    pairs = [(b, n) for n, b in seen.items() if b < n]
    return [b for b, _ in pairs], [n for _, n in pairs]
