"""The ladder: the steps in which a section is learnt, made from its plan, in the trade's order.

Which steps there are follows from the plan: stops only where there are slurs, growing bows only
where it grows louder. Repetitions are common practice (three to five clean ones); minutes are
what they take at the step's tempo, with as long again for thinking, and the criteria are our
own words.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from plectrum.core.advice.passages import passages_of
from plectrum.core.advice.reasons import bars_words
from plectrum.core.document.choices import Join
from plectrum.core.document.document import Document
from plectrum.core.document.sections import Section, notes_in_bars, notes_name
from plectrum.core.planning.fingering.search import crossings_n
from plectrum.core.planning.parallels import notes_like
from plectrum.core.planning.plan import Plan
from plectrum.core.playing.performance import Kind
from plectrum.core.playing.practice_tempo import PracticeTempo, Verdict, at_tempo
from plectrum.core.practice.growing_study import hairpins_in
from plectrum.core.practice.passage import Study
from plectrum.core.practice.rhythm_study import pitches_of, rhythm_bar, rhythm_word
from plectrum.core.practice.said import level_words, levels_of
from plectrum.core.practice.second_part import second_part_id
from plectrum.core.practice.studies import make_study
from plectrum.core.practice.study_kinds import AS_PLANNED, SHOWN_AS, TITLES, StudyKind
from plectrum.core.score.metre import beat_unit
from plectrum.core.score.model import Note
from plectrum.core.wording import NOTE_VALUE, say, several, tr

REPEATS_N = 4
SLOW = 0.6  # of the tempo: both hands for the first time (own default)
SLOWEST_AS_PLANNED = 0.85  # a plan that bears no slower tempo than this is practised anew
TEMPO_STEPS = (0.7, 0.8, 0.9, 1.0)
AROUND_BARS_N = 2  # so many bars before and after the section, to run into it and out of it
THINKING = 2.0  # times as long as it plays: looking, and starting anew
MOST_MINUTES = 6
SHOWN_LEVELS_N = 16
SHOWN_WORDS_N = 8


@dataclass(frozen=True, slots=True)
class LadderStep:
    """One step of a section's ladder.

    Attributes:
        key: tells it from all others of the piece.
        first_note, last_note: what is played, by index; ratio: of the plan's tempo; bpm: that.
        what: what to do; good: how to know it is good; note: what changes in the plan;
            tempo: with its note value.
        kind, shown_as: what the study is, and how the Show screen plays it.
    """

    key: str
    title: str
    kind: StudyKind
    first_note: int
    last_note: int
    ratio: float
    bpm: float
    repetitions: int
    minutes: int
    what: str
    good: str
    note: str = ""
    tempo: str = ""

    @property
    def shown_as(self) -> Kind:
        return SHOWN_AS.get(self.kind, Kind.WRITTEN)


@dataclass(frozen=True, slots=True)
class SectionLadder:
    """A section with its steps; one that is learnt with another has none, and says so."""

    section: Section
    bars: str
    steps: tuple[LadderStep, ...]
    learnt_with: str = ""


def ladders_of(document: Document, plan: Plan) -> tuple[SectionLadder, ...]:
    """The ladders of all sections, in the order of the piece."""
    tempos = Tempos(plan)
    first_of: dict[str, Section] = {}
    found = []
    for section in document.form:
        twin = first_of.get(section.name) if not section.name.endswith("′") else None
        first_of.setdefault(section.name, section)
        if twin is not None:
            said = say("the same as {bars}: learn once, play twice", bars=twin.bars)
            found.append(SectionLadder(section, section.bars, (), said))
            continue
        steps = ladder(document, plan, section, tempos)
        found.append(SectionLadder(section, section.bars, steps))
    return tuple(found)


def ladder(
    document: Document, plan: Plan, section: Section, tempos: Tempos | None = None
) -> tuple[LadderStep, ...]:
    """The steps of one section or figure.

    Args:
        tempos: the plan at its practice tempos, if they are at hand.
    """
    return tuple(_Ladder(document, section, tempos or Tempos(plan)).steps())


def step_study(document: Document, plan: Plan, step: LadderStep) -> Study:
    """The music of a step.

    Raises:
        ScoreError: it cannot be written down.
    """
    return make_study(document, plan, step.kind, step.first_note, step.last_note, step.ratio)


class Tempos:
    """A plan at its practice tempos, each made once."""

    def __init__(self, plan: Plan) -> None:
        self.plan = plan
        self._made: dict[float, PracticeTempo] = {}

    def at(self, ratio: float) -> PracticeTempo:
        if ratio not in self._made:
            self._made[ratio] = at_tempo(self.plan, ratio)
        return self._made[ratio]


class _Ladder:
    """Makes the steps of one section."""

    def __init__(self, document: Document, section: Section, tempos: Tempos) -> None:
        self.document, self.section = document, section
        self.tempos, self.plan = tempos, tempos.plan
        plan = self.plan
        self.first, self.last = section.first_note, section.last_note
        self.notes = plan.part.notes[self.first : self.last + 1]
        self.planned = [p for n in self.notes if (p := plan.notes[n.index]) is not None]
        self.fingered = [plan.fingered[n.index] for n in self.notes]
        self.slow = self._slow()

    @property
    def _plain(self) -> bool:
        """Whether every note has a stroke of its own."""
        return all(p.join in (Join.TURN, Join.START) for p in self.planned)

    def _slow(self) -> float:
        """How slowly the bow alone is practised: as planned, if that can be slow at all."""
        window, bpm = self.plan.tempo_window, self.plan.part.tempo.bpm
        floor = window[0] / bpm if window is not None else SLOW
        return math.ceil(floor * 100) / 100 if SLOW < floor <= SLOWEST_AS_PLANNED else SLOW

    def steps(self) -> Iterable[LadderStep]:
        words = list(dict.fromkeys(rhythm_word(n) for n in self.notes if not n.grace))
        if len(words) > 1:
            said = ", ".join(rhythm_word(n) for n in self.notes[:SHOWN_WORDS_N] if not n.grace)
            more = " …" if len(self.notes) > SHOWN_WORDS_N else ""
            yield self._step(
                StudyKind.SAY_RHYTHM, say("Say the rhythm in words: "
                                          "{said}{more}.", said=said, more=more),
                tr("every word is as long as its note"),
            )  # fmt: skip
        yield self._step(
            StudyKind.SAY, tr("Say the bows aloud and clap the rhythm."),
            tr("three times running without a wrong word"),
        )  # fmt: skip
        yield self._step(
            StudyKind.PLUCK, tr("Left hand alone: pluck the notes in time."),
            tr("every note rings, no finger is late"), ratio=SLOW,
        )  # fmt: skip
        if self.planned:
            yield from self._bow_alone()
        yield from self._both_hands()

    def _bow_alone(self) -> Iterable[LadderStep]:
        if crossings_n(self.fingered):
            yield self._step(
                StudyKind.CROSSINGS, self._levels(), tr("no string sounds"), ratio=self.slow
            )
        yield self._step(
            StudyKind.OPEN, tr("Bow alone, as planned, on the open strings the notes lie on."),
            tr("no neighbour string is touched, every bow ends where it should"), ratio=self.slow,
        )  # fmt: skip
        yield self._step(
            StudyKind.TWO, tr("Two strokes for every note, on open strings."),
            tr("the crossings come between the strokes, not in them"), ratio=self.slow,
        )  # fmt: skip
        if not self._plain:
            yield self._step(
                StudyKind.ONE, tr("One stroke for every note, on open "
                                  "strings: no slurs, no hooks."),
                tr("even and straight"), ratio=self.slow,
            )  # fmt: skip
        if any(p.join is Join.SLUR for p in self.planned):
            yield self._step(
                StudyKind.STOPS, tr("Every slur with stops: the bow waits on "
                                    "the string between its "
                "notes, then goes on the same way."), tr("the stops are silent"), ratio=self.slow,
            )  # fmt: skip
        yield from self._growing()
        yield self._step(
            StudyKind.DIVISION, tr("Bow alone: each bow from mark to mark as "
                                   "written under the notes."),
            tr("the bow is at its mark at the end of every bow"), ratio=self.slow,
        )  # fmt: skip

    def _levels(self) -> str:
        levels = levels_of(self.plan, self.notes[0].index, self.notes[-1].index)
        words = level_words(levels[:SHOWN_LEVELS_N], self.plan.instrument.string_names)
        more = " …" if len(levels) > SHOWN_LEVELS_N else ""
        return say("The bow stands still, the arm rolls: {words}{more}.", words=words, more=more)

    def _growing(self) -> Iterable[LadderStep]:
        for k, group in enumerate(hairpins_in(self.plan, self.first, self.last)):
            yield from self._hairpin(group, f"-{k + 1}" if k else "", even=k == 0)

    def _hairpin(self, group: Sequence[Note], number: str, *, even: bool) -> Iterable[LadderStep]:
        """One crescendo or diminuendo; before the first, its bows all alike."""
        louder = group[-1].level_db > group[0].level_db
        notes = group[0].index, group[-1].index
        where = say(" (bar {bar})", bar=group[0].bar) if number else ""
        if even:
            bows = (
                several("{n} up-bow", "{n} up-bows", len(group))
                if louder
                else several("{n} down-bow", "{n} down-bows", len(group))
            )
            yield self._step(
                StudyKind.EVEN, say("{bows}, the same way, with stops: all alike, so "
                                    "that growing begins from even ones.", bows=bows),
                tr("each takes as much bow as the others"),
                ratio=self.slow, notes=notes,
            )  # fmt: skip
        how = (
            tr(
                "a tiny bit of bow on the first note, more and more up to the last, "
                "arriving at the frog"
            )
            if louder
            else tr("much bow on the first note, less and less to the last")
        )
        for kind, manner in (
            (StudyKind.GROWING, tr("with separate bows the same way")),
            (StudyKind.GROWING_SLUR, tr("in one bow")),
        ):
            yield self._step(
                kind, say("Crescendo {manner}: {how}.", manner=manner, how=how)
                if louder else say("Diminuendo {manner}: {how}.", manner=manner, how=how),
                tr("everyone in the room hears it "
                   "grow") if louder else tr("it fades without a break"),
                ratio=self.slow, notes=notes, key=f"{kind}{number}",
                title=f"{TITLES[kind]}{where}",
            )  # fmt: skip

    def _both_hands(self) -> Iterable[LadderStep]:
        if self.planned:
            yield from self._strokes_on_notes()
        good = tr("clean, with the planned bows, in time")
        yield self._step(
            StudyKind.HANDS, tr("Both hands together, slowly."), good, ratio=SLOW,
            title=tr("both hands slowly"),
        )  # fmt: skip
        for ratio in TEMPO_STEPS:
            yield self._step(
                StudyKind.HANDS, tr("Both hands."), good, ratio=ratio,
                title=say("tempo {tempo}", tempo=self._tempo(ratio)),
                key=f"tempo-{ratio * 100:.0f}",
            )  # fmt: skip
        yield from self._transfer()
        around = self._around()
        if around != (self.first, self.last):
            yield self._step(
                StudyKind.HANDS,
                tr("Run into the figure and out of it, at tempo.") if self.section.figure
                else tr("Run into the section and out of it, at tempo."),
                tr("no gap where it begins and "
                   "ends"), title=tr("in the whole piece"), key="in-the-piece",
                notes=around, repetitions=3,
            )  # fmt: skip
        if second_part_id(self.document) is not None:
            yield self._step(
                StudyKind.SECOND, tr("With the second part: someone plays it, or sings it."),
                tr("both end together"), repetitions=3,
            )  # fmt: skip

    def _strokes_on_notes(self) -> Iterable[LadderStep]:
        """The strokes again with the left hand, fingers kept down, and the bow's rhythm."""
        yield self._step(
            StudyKind.TWO_NOTES, tr("Two strokes for every note, on the real "
                                    "notes; fingers stay down "
            "as long as they can."), tr("the fingers are there before the bow"), ratio=self.slow,
        )  # fmt: skip
        if not self._plain:
            yield self._step(
                StudyKind.ONE_NOTES, tr("One stroke for every note, on the real notes."),
                tr("even and straight"), ratio=self.slow,
            )  # fmt: skip
        pattern = rhythm_bar(self.plan, self.first, self.last)
        if pattern and len(pitches_of(self.plan, self.first, self.last)) > 1:
            said = ", ".join(rhythm_word(n) for n in pattern)
            yield self._step(
                StudyKind.RHYTHM, say("The bows of bar {bar} on each "
                                      "note in turn: {said}.", bar=pattern[0].bar, said=said),
                tr("the bow does the same on every note"), ratio=self.slow,
            )  # fmt: skip

    def _transfer(self) -> Iterable[LadderStep]:
        """The same figure on other strings, where the piece has it."""
        place = self._parallel()
        if place is not None:
            where = notes_name(self.plan.part, *place)
            yield self._step(
                StudyKind.HANDS, say("The same bows and fingers on "
                                     "other strings: {where}.", where=where),
                tr("it feels the same, one string further"), title=tr("the parallel place"),
                key="parallel", notes=place,
            )  # fmt: skip

    def _parallel(self) -> tuple[int, int] | None:
        """The first place with the same rhythm and fingers on other strings."""
        if self.section.figure:
            found = notes_like(self.plan, list(range(self.first, self.last + 1)))
            strings = self._strings(self.first, self.last)
            others = (p for p in found if self._strings(p[0], p[-1]) != strings)
            place = next(others, None)
            return None if place is None else (place[0], place[-1])
        bars = {n.bar_index for n in self.notes}
        for passage in passages_of(self.plan):
            here = {passage.like_first, passage.like_last} <= bars
            if passage.strings_up and here and passage.first_bar not in bars:
                return notes_in_bars(self.plan.part, passage.first_bar, passage.last_bar)
        return None

    def _strings(self, first: int, last: int) -> list[tuple[int, ...]]:
        return [self.plan.fingered[k].strings for k in range(first, last + 1)]

    def _around(self) -> tuple[int, int]:
        """The notes from some bars before to some bars after."""
        low = self.notes[0].bar_index - AROUND_BARS_N
        high = self.notes[-1].bar_index + AROUND_BARS_N
        inside = notes_in_bars(self.plan.part, low, high)
        return inside or (self.first, self.last)

    def _tempo(self, ratio: float) -> str:
        """A tempo with its note value, in words that every typeface has: "quarter = 60"."""
        unit = tr(beat_unit(self.plan.part.tempo.beat_q), NOTE_VALUE).replace("-", " ")
        return f"{unit} = {self._bpm(ratio):.0f}"

    def _bpm(self, ratio: float) -> float:
        return round(self.plan.part.tempo.bpm * ratio)

    def _step(
        self,
        kind: StudyKind,
        what: str,
        good: str,
        *,
        ratio: float = 1.0,
        title: str = "",
        key: str = "",
        notes: tuple[int, int] | None = None,
        repetitions: int = REPEATS_N,
    ) -> LadderStep:
        first, last = notes or (self.first, self.last)
        played = self.plan.part.notes
        seconds = (played[last].end_s - played[first].onset_s) / ratio
        minutes = max(1, min(MOST_MINUTES, math.ceil(seconds * repetitions * THINKING / 60)))
        return LadderStep(
            f"{self.section.key}.{key or kind}",
            title or TITLES[kind],
            kind,
            first,
            last,
            ratio,
            self._bpm(ratio),
            repetitions,
            minutes,
            what,
            good,
            self._changes(kind, ratio),
            self._tempo(ratio),
        )

    def _changes(self, kind: StudyKind, ratio: float) -> str:
        """What the plan says of this tempo, where the bow is drawn as planned."""
        if kind not in AS_PLANNED:
            return ""
        practised = self.tempos.at(ratio)
        numbers = {note.bar for note in self.notes}
        bars = tuple(bar for bar in practised.bars if bar in numbers)
        if practised.verdict is Verdict.SAME or not bars:
            return ""
        window = self.plan.tempo_window
        if practised.verdict is Verdict.ADAPTED and window is not None:
            edge = (
                say("below {low:.0f}", low=window[0])
                if ratio < 1
                else say("above {high:.0f}", high=window[1])
            )
            return say(
                "{edge} this bowing does not last: planned anew, other bow in {bars}",
                edge=edge,
                bars=bars_words(bars),
            )
        return practised.text
