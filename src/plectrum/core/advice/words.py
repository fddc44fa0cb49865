"""Places, lengths and actions in the words a teacher says."""

from __future__ import annotations

from collections.abc import Mapping

from plectrum.core.document.choices import Join
from plectrum.core.instrument.bow import Bow, TapeMark
from plectrum.core.planning.strokes.planned import PlannedNote
from plectrum.core.score.model import Direction
from plectrum.core.score.timeline import nearest_dynamic
from plectrum.core.wording import say, sentence_like, several, tr

FINGERS = (
    tr("open", "string"),
    tr("first finger"),
    tr("second finger"),
    tr("third finger"),
    tr("fourth finger"),
)
NEAR = 0.035  # own default: this close to a mark counts as at the mark
BY = 0.10  # and this close as just above or below it

_LENGTHS = (
    (0.06, tr("a tiny bit of bow")),
    (0.16, tr("a little bow")),
    (0.29, tr("a quarter of the bow")),
    (0.42, tr("a third of the bow")),
    (0.58, tr("half a bow")),
    (0.70, tr("two thirds of the bow")),
    (0.85, tr("three quarters of the bow")),
    (2.00, tr("the whole bow")),
)


FROG: tuple[float, TapeMark | None] = (0.0, None)
TIP: tuple[float, TapeMark | None] = (1.0, None)


def place_words(at: float, bow: Bow) -> str:
    """A place on the bow by its nearest mark: "the middle", "just above the quarter mark"."""
    return _place(at, bow)[0]


def at_place_words(at: float, bow: Bow) -> str:
    """Where something is on the bow: "at the middle", "just above the quarter mark"."""
    words, is_mark = _place(at, bow)
    ends = {tr("the frog"): tr("at the frog"), tr("the tip"): tr("at the tip")}
    return ends.get(words) or (say("at {place}", place=words) if is_mark else words)


def _place(at: float, bow: Bow) -> tuple[str, bool]:
    """The words, and whether they name a mark and no more."""
    places = [FROG, *((m.at, m) for m in bow.marks), TIP]
    place = min(places, key=lambda p: abs(p[0] - at))
    distance = at - place[0]
    if abs(distance) <= NEAR:
        return _named(place), True
    if abs(distance) <= BY:
        if place[0] in (0.0, 1.0):
            return tr("near the frog") if place[0] == 0.0 else tr("near the tip"), False
        name = _named(place)
        above = distance > 0
        beside = (
            say("just above {name}", name=name) if above else say("just below {name}", name=name)
        )
        return beside, False
    lower = max((p for p in places if p[0] < at), key=lambda p: p[0])
    upper = min((p for p in places if p[0] > at), key=lambda p: p[0])
    return say("between {lower} and {upper}", lower=_named(lower), upper=_named(upper)), False


def _named(place: tuple[float, TapeMark | None]) -> str:
    at, mark = place
    if mark is not None:
        return say("the {name}", name=mark.called)
    return tr("the frog") if at == FROG[0] else tr("the tip")


def length_words(length: float) -> str:
    """A length of bow as a part of the whole: "half a bow"."""
    return next(words for limit, words in _LENGTHS if length <= limit)


_DYNAMICS = {
    "pp": "pianissimo", "p": "piano", "mp": "mezzo piano", "mf": "mezzo forte", "f": "forte",
    "ff": "fortissimo",
}  # fmt: skip


def dynamic_words(level_db: float) -> str:
    """The dynamic that lies nearest to a level."""
    return _DYNAMICS[nearest_dynamic(level_db)]


def way_words(direction: Direction) -> str:
    return tr("down-bow") if direction is Direction.DOWN else tr("up-bow")


def join_words(join: Join, direction: Direction) -> str:
    """How a note follows the one before, as an instruction."""
    return {
        Join.START: say("begin {way}", way=direction),
        Join.TURN: tr("turn the bow"),
        Join.SLUR: tr("same bow, no stop"),
        Join.HOOK: tr("hook: stop, same way again"),
        Join.RETAKE: tr("lift, carry the bow, set it down"),
    }[join]


def counts_words(summary: Mapping[str, int]) -> str:
    """What a plan's bows do, counted."""
    counted = (
        several("{n} turn", "{n} turns", summary["turns"]),
        several("{n} hook", "{n} hooks", summary["hooks"]),
        several("{n} lift", "{n} lifts", summary["retakes"]),
        several("{n} string crossing", "{n} string crossings", summary["crossings"]),
    )
    return ", ".join(counted)


def seconds_words(seconds: float) -> str:
    return (
        tr("under a tenth of a second")
        if seconds < 0.1
        else say("{seconds:.1f} s", seconds=seconds)
    )


def note_sentence(planned: PlannedNote, bow: Bow) -> str:
    """One sentence for a note: way, from, to, how much, how long."""
    lead = {
        Join.SLUR: tr("Same bow"),
        Join.HOOK: say("Stop, then {way} again", way=way_words(planned.direction)),
        Join.RETAKE: say("Lift, then {way}", way=way_words(planned.direction)),
    }.get(planned.join, sentence_like(way_words(planned.direction)))
    start, end = place_words(planned.start, bow), place_words(planned.end, bow)
    length = length_words(abs(planned.end - planned.start))
    where = (
        say("staying {start}", start=start)
        if start == end
        else say("from {start} to {end}", start=start, end=end)
    )
    return say(
        "{lead} {where}: {length} in {seconds}.",
        lead=lead,
        where=where,
        length=length,
        seconds=seconds_words(planned.note.duration_s),
    )
