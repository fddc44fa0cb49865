"""What stands on a handout: a page that a child can follow, and a copy with numbers for teachers.

Here is what is said; the interface draws it.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date, timedelta
from enum import StrEnum
from itertools import pairwise

from plectrum.core.advice.care import CARE_CAUTION, CAUTION, DEFER
from plectrum.core.advice.overview import TrickyBar, tricky_bars
from plectrum.core.advice.plan_warning import PlanWarning
from plectrum.core.advice.reasons import across_words, bars_words
from plectrum.core.advice.rests import rest_short
from plectrum.core.advice.warnings import warnings_of
from plectrum.core.advice.words import counts_words
from plectrum.core.document.document import Document
from plectrum.core.document.places import command_of, words_of
from plectrum.core.planning.plan import Plan
from plectrum.core.player.player import STAGE, STAGES
from plectrum.core.practice.programme import Programme, programme_of
from plectrum.core.practice.said import said_bar
from plectrum.core.practice.week import Day
from plectrum.core.wording import in_words, say, sentence_like, tr

SEVEN_DAYS = timedelta(days=7)  # from the first day of practice: a lesson is on any weekday
REPEAT = tr("do not forget the repeat")
WATCH_N = 5  # so many lines in the box of what to watch


class Picture(StrEnum):
    """How the bow is drawn under the staff."""

    BOWS = "small bows"
    PATH = "the bow path"
    BOTH = "both"
    NONE = "none"


class Words(StrEnum):
    """Under which bars the bows stand in words."""

    TRICKY = "under tricky bars"
    ALL = "under every bar"
    NONE = "none"


class Paper(StrEnum):
    """Paper sizes."""

    A4 = "A4"
    LETTER = "Letter"

    @property
    def size_mm(self) -> tuple[float, float]:
        """Width and height (A4: ISO 216; Letter: ANSI/ASME Y14.1)."""
        return (210.0, 297.0) if self is Paper.A4 else (215.9, 279.4)


@dataclass(frozen=True, slots=True)
class HandoutOptions:
    """What is on the page and how.

    Attributes:
        teacher: the copy with numbers.
        made_for: whom it is for; empty for the player's own name, if there is one.
        made_by: the teacher or school; empty for none.
    """

    paper: Paper = Paper.A4
    large: bool = False
    picture: Picture = Picture.BOWS
    words: Words = Words.TRICKY
    watch: bool = True
    steps: bool = True
    teacher: bool = False
    made_for: str = ""
    made_by: str = ""


@dataclass(frozen=True)
class Handout:
    """The words of one player's handout, and the plan that is drawn on it.

    Attributes:
        sections: index of the note that each begins with to its letter.
        said: bar index to its bows in words.
        watch: lines of the box. days: the practice days of the seven that begin with the first.
        reference: lines with numbers for the teacher.
    """

    title: str
    made_for: str
    made_by: str
    about: str
    letter: str
    plan: Plan
    sections: Mapping[int, str] = field(default_factory=dict)
    said: Mapping[int, str] = field(default_factory=dict)
    watch: tuple[str, ...] = ()
    days: tuple[Day, ...] = ()
    cautions: tuple[str, ...] = ()
    reference: tuple[str, ...] = ()


def handout_of(
    document: Document,
    plan: Plan,
    options: HandoutOptions,
    today: date,
    programme: Programme | None = None,
) -> Handout:
    """The handout of a plan.

    Args:
        programme: of this plan, if it is at hand.
    """
    tricky = tricky_bars(plan)
    days: tuple[Day, ...] = ()
    if options.steps:
        planned = (programme or programme_of(document, plan, today)).days
        days = tuple(d for d in planned if d.on < planned[0].on + SEVEN_DAYS)
    return Handout(
        document.title,
        options.made_for or _own_name(plan),
        options.made_by,
        _about(plan),
        document.homework.letter,
        plan,
        {s.first_note: s.name for s in document.form if not s.figure} if options.steps else {},
        _said(plan, tricky, options.words),
        _watch(plan, tricky) if options.watch else (),
        days,
        (CAUTION, CARE_CAUTION, DEFER),
        _reference(plan) if options.teacher else (),
    )


def _own_name(plan: Plan) -> str:
    """The player's name; empty where the player is only a stage."""
    player = plan.choices.player
    return "" if player.title.lower() in STAGES else player.title


def _about(plan: Plan) -> str:
    name = in_words(plan.instrument.title)
    stage = plan.choices.player.title.lower()
    if stage not in STAGES:
        return name
    return say("{name}, for a {stage} player", name=name, stage=tr(stage, STAGE))


def _said(plan: Plan, tricky: tuple[TrickyBar, ...], words: Words) -> dict[int, str]:
    """Bars in words; a bar that is split over two measures counts by its number. A finger that
    lies across two strings, a rest and a repeat are said in any bar."""
    if words is Words.NONE:
        return {}
    wanted = {t.bar for t in tricky}
    rests = _rests_said(plan)
    bars = {n.bar_index for n in plan.part.notes} | set(rests)
    said = {}
    for k in sorted(bars):
        bows = words is Words.ALL or plan.part.bars[k].number in wanted
        parts = [
            *([bow] if bows and (bow := said_bar(plan, k)) else []),
            *dict.fromkeys(rests.get(k, ())),
            *_places_said(plan, k),
            *_fingers_said(plan, k),
        ]
        if parts:
            said[k] = " · ".join(parts)
    return said


def _rests_said(plan: Plan) -> dict[int, list[str]]:
    """By the index of the bar it begins in, what the bow does in each rest; and in a bar that
    ends with a repeat, that there is one."""
    found: dict[int, list[str]] = {}
    for before, note in pairwise(plan.part.notes):
        words = rest_short(plan, note.index)
        bar = plan.part.bars[before.bar_index]
        within = before.end_q < bar.onset_q + bar.duration_q
        if words:
            found.setdefault(bar.index if within else bar.index + 1, []).append(words)
    for bar in plan.part.bars:
        if bar.repeat_end:
            found.setdefault(bar.index, []).append(REPEAT)
    return found


def _places_said(plan: Plan, bar_index: int) -> list[str]:
    """What the teacher said of where and how much in a bar, each once."""
    pins, notes = plan.choices.pins, plan.part.notes
    here = (pins[n.id] for n in notes if n.bar_index == bar_index and n.id in pins)
    said = [word for pin in here for word in pin.said_where]
    return [words_of(w) for w in dict.fromkeys(map(command_of, said))]


def _fingers_said(plan: Plan, bar_index: int) -> list[str]:
    """Which fingers lie across two strings in a bar, each once."""
    notes = (n.index for n in plan.part.notes if n.bar_index == bar_index)
    return list(dict.fromkeys(words for i in notes if (words := across_words(plan, i))))


# What helps with each difficulty, in words for a child; common practice without a source.
_HELP = {
    tr("hook: stop, same way again"): tr("stop the bow and wait, then the same way again"),
    tr("lift and set down"): tr("lift early, breathe, set the bow down without a sound"),
    tr("string crossings"): tr("roll the arm to the next string before its note"),
    tr("string crossing in a slur"): tr("the arm rolls while the bow goes on"),
    tr("a string is skipped"): tr("a big roll of the arm over the string between"),
    tr("quick notes"): tr("little bow, soft hand, stay in one place"),
    tr("fourth finger"): tr("hold the fourth finger ready over its string"),
    tr("stretched finger"): tr("stretch from a soft hand, not from the thumb"),
    tr("two strings at once"): tr("the bow lies on both strings, the same weight on each"),
}


# What a student can do something about; the rest is for the teacher's own list.
_FOR_STUDENTS = frozenset(
    {"slur_too_long", "too_slow", "too_fast", "runs_out", "slur_skips_string"}
)


def _watch(plan: Plan, tricky: tuple[TrickyBar, ...]) -> tuple[str, ...]:
    """The tricky bars with what helps, then what the plan warns of elsewhere."""
    bars_of: dict[str, list[int]] = {}
    for bar in tricky:
        reasons = [r for r in bar.reasons if not r.endswith("cannot be kept")]
        helps = [_HELP[reason] for reason in reasons if reason in _HELP]
        if helps or reasons:
            bars_of.setdefault((helps or reasons)[0], []).append(bar.bar)
    lines = [
        f"{words[0].upper()}{words[1:]}: {said}."
        for said, bars in bars_of.items()
        for words in (bars_words(tuple(sorted(bars))),)
    ]
    told = {t.bar for t in tricky}
    for warning in warnings_of(plan):
        if warning.code not in _FOR_STUDENTS or warning.bar is None:
            continue
        if warning.bar not in told:
            lines.append(
                say(
                    "Bar {bar}: {warning}.",
                    bar=warning.bar,
                    warning=_after_place(plan, warning),
                )
            )
            told.add(warning.bar)
    if not lines:
        lines.append(tr("Let the bow run straight, halfway between bridge and fingerboard."))
    return tuple(lines[:WATCH_N])


def _after_place(plan: Plan, warning: PlanWarning) -> str:
    """A warning without the place it begins with, as the bar has been named."""
    if warning.note is None:
        return warning.text
    place = sentence_like(plan.part.notes[warning.note].place)
    return warning.text.removeprefix(f"{place}: ")


def _reference(plan: Plan) -> tuple[str, ...]:
    player, bow = plan.player, plan.choices.bow
    window = plan.tempo_window
    tempo = (
        say("{low:.0f} to {high:.0f}", low=window[0], high=window[1])
        if window is not None
        else tr("at no tempo as a whole")
    )
    s = plan.summary
    marks = ", ".join(
        say("{name} {at:.1f} cm", name=m.called, at=m.at * bow.hair_mm / 10) for m in bow.marks
    )
    return (
        say(
            "Hair {hair_mm:.0f} mm; from the frog: {marks}.",
            hair_mm=bow.hair_mm,
            marks=marks or tr("no tape marks"),
        ),
        (
            say(
                "Usable bow {usable_from:.1f} to {usable_to:.1f} cm; speed {slowest_mm_s:.1f} to "
                "{fastest_mm_s:.0f} cm/s, comfortable {comfortable_mm_s:.0f}.",
                usable_from=player.usable_from * bow.hair_mm / 10,
                usable_to=player.usable_to * bow.hair_mm / 10,
                slowest_mm_s=player.slowest_mm_s / 10,
                fastest_mm_s=player.fastest_mm_s / 10,
                comfortable_mm_s=player.comfortable_mm_s / 10,
            )
        ),
        say(
            "Plays at tempo {bpm:.0f}; the window is {tempo}.", bpm=plan.part.tempo.bpm, tempo=tempo
        ),
        counts_words(s) + ".",
    )
