"""A plan played in time: which notes, when, in which turns, with which clicks of a metronome.

A performance is a piece with its repeats, or a run of notes, played once, or over and over; with
pauses in which the student answers; on the strings written, on open strings, on one string,
plucked, or silently. Times are seconds from the first click of the count-in.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace
from enum import StrEnum
from fractions import Fraction
from functools import cached_property

from plectrum.core.document.choices import Join
from plectrum.core.planning.plan import Plan
from plectrum.core.planning.strokes.planned import PlannedNote
from plectrum.core.score.model import Bar, Direction, Note, TempoClock
from plectrum.core.score.playing_order import playing_order
from plectrum.core.wording import say, tr

MOST_STOLEN = 0.6  # of a note, for a lift after it (own default)
NEARLY_THERE = 1e-6  # of the hair: closer needs no lift


class Kind(StrEnum):
    """What is played of the notes, in the order in which a passage is learnt."""

    WRITTEN = "as written"
    OPEN = "open strings"
    ONE = "bow only"
    PLUCKED = "plucked"
    SILENT = "silent crossings"


@dataclass(frozen=True, slots=True)
class Rehearsal:
    """How a plan is to be played.

    Attributes:
        from_q, until_q: where in the music, in quarters; None for its start and end.
        ratio: of the plan's own tempo.
        loop: over and over.
        answer: after each section a pause of the same length for the student.
        sections: where sections begin, in quarters, for the answers; names: of each, as it is
            called.
        repeats: repeats and endings are played out, where the whole piece is played.
        echoes: from where to where, in quarters, the student answers what was called before; the
            notes stand there and do not sound.
    """

    from_q: Fraction | None = None
    until_q: Fraction | None = None
    ratio: float = 1.0
    kind: Kind = Kind.WRITTEN
    count_in: bool = True
    loop: bool = False
    answer: bool = False
    sections: tuple[Fraction, ...] = ()
    names: tuple[str, ...] = ()
    repeats: bool = True
    echoes: tuple[tuple[Fraction, Fraction], ...] = ()

    def is_echo(self, at_q: float | Fraction) -> bool:
        """Whether it is the student who plays at a time of the music, in quarters."""
        return any(from_q <= at_q < until_q for from_q, until_q in self.echoes)

    @property
    def plays_out(self) -> bool:
        """Whether repeats are played; a stretch or an answer is played as it is written."""
        return self.repeats and not self.answer and self.from_q is None and self.until_q is None


@dataclass(frozen=True, slots=True)
class Stretch:
    """Notes played one after another, and the time of the music they fill, in quarters.

    Attributes:
        time: 1 where they come first, 2 the second time and so on.
    """

    notes: tuple[Note, ...]
    from_q: Fraction
    until_q: Fraction
    time: int = 1


@dataclass(frozen=True, slots=True)
class Turn:
    """One time through a section: the teacher's or, `answering`, the student's.

    Attributes:
        from_q, until_q: the music it plays; time: whether the first time, the second and so on.
    """

    first: int
    last: int
    start_s: float
    end_s: float
    answering: bool
    from_q: Fraction
    until_q: Fraction
    time: int


@dataclass(frozen=True, slots=True)
class Beat:
    """One click. `strong` on the first beat of a bar; `count_in` before the music."""

    at_s: float
    strong: bool
    count_in: bool


@dataclass(frozen=True, slots=True)
class PlayedNote:
    """One note at its time. Places are fractions of the hair.

    Attributes:
        planned: what the plan says of it; None for a note without bow.
        strings: string, 0 lowest, and sounding MIDI number of each of its pitches.
        level: of the bow, 1 to 7.
        turn: index of its turn.
        seam: how it follows the note before, where a repeat leads to it from another than the
            one written before it.
    """

    note: Note
    planned: PlannedNote | None
    turn: int
    onset_s: float
    end_s: float
    moving_s: float
    start: float
    end: float
    level: int
    strings: tuple[tuple[int, int], ...]
    seam: Join | None = None

    @property
    def moved_s(self) -> float:
        """When the bow has arrived."""
        return self.onset_s + self.moving_s

    @property
    def direction(self) -> Direction | None:
        return self.planned.direction if self.planned is not None else None

    @property
    def join(self) -> Join | None:
        return self.seam or (self.planned.join if self.planned is not None else None)


class Performance:
    """A plan played as a rehearsal asks. Immutable once made.

    Attributes:
        turns, notes, beats: what happens, each in the order of time.
        music_s: when the first note begins; a loop returns to here.
        length_s: when the last turn ends.

    Raises:
        ValueError: there is no note in the stretch asked for.
    """

    def __init__(self, plan: Plan, rehearsal: Rehearsal | None = None) -> None:
        self.plan = plan
        self.rehearsal = rehearsal or Rehearsal()
        self.player = plan.player
        self._clock = TempoClock(plan.part.tempo)
        self._one = self._most_used_string()
        self._notes = self._notes_asked_for()
        if not self._notes:
            raise ValueError("no notes to play")
        self._lead_beats = self._count_in_beats() if self.rehearsal.count_in else ()
        self.music_s = len(self._lead_beats) * self.beat_s(self._notes[0])
        self.turns: tuple[Turn, ...] = tuple(self._take_turns())
        self.length_s = self.turns[-1].end_s
        self.notes: tuple[PlayedNote, ...] = tuple(self._play_turns())
        self.beats: tuple[Beat, ...] = tuple(self._click())

    # what is asked for

    def _notes_asked_for(self) -> list[Note]:
        r = self.rehearsal
        low = r.from_q if r.from_q is not None else Fraction(0)
        notes = [n for n in self.plan.part.notes if n.onset_q >= low]
        return [n for n in notes if r.until_q is None or n.onset_q < r.until_q]

    def seconds(self, at_q: Fraction) -> float:
        """A time of the music at this rehearsal's tempo, from the start of the piece."""
        return self._clock.seconds(float(at_q)) / self.rehearsal.ratio

    def bar_of(self, note: Note) -> Bar:
        return self.plan.part.bars[note.bar_index]

    def beat_s(self, note: Note) -> float:
        """How long a beat lasts where a note stands."""
        return note.beat_s / self.rehearsal.ratio

    def _count_in_beats(self) -> tuple[bool, ...]:
        """One bar, and the beats that come before the first note in its own bar. A pickup is
        counted into with the rest of its bar alone if that leaves two beats."""
        first = self._notes[0]
        bar = self.bar_of(first)
        beat_q = bar.metre.beat_q
        per_bar = max(1, round(bar.metre.length_q / beat_q))
        before = int((first.onset_q - bar.onset_q + bar.pad_q) // beat_q)
        whole = (True, *(False,) * (per_bar - 1))
        partial = whole[:before]
        return partial if len(partial) >= 2 else whole + partial

    # turns

    def _stretches(self) -> list[Stretch]:
        if self.rehearsal.plays_out:
            return self._played_out()
        groups = self._sections() if self.rehearsal.answer else [self._notes]
        return [Stretch(tuple(g), g[0].onset_q, g[-1].end_q) for g in groups]

    def _played_out(self) -> list[Stretch]:
        """Runs of bars; the first begins with its first note, the last ends with its last."""
        bars, runs = self.plan.part.bars, playing_order(self.plan.part.bars)
        found = []
        from_q = self._notes[0].onset_q if runs[0].first == 0 else None
        for k, run in enumerate(runs):
            notes = tuple(n for n in self._notes if run.first <= n.bar_index <= run.last)
            from_q = bars[run.first].onset_q if from_q is None or k else from_q
            until_q = bars[run.last].onset_q + bars[run.last].duration_q
            if notes:
                found.append(Stretch(notes, from_q, until_q, run.time))
            elif found:  # rests alone: the time before goes on
                found[-1] = replace(found[-1], until_q=found[-1].until_q + until_q - from_q)
        found[-1] = replace(found[-1], until_q=found[-1].notes[-1].end_q)
        return found

    def _sections(self) -> list[list[Note]]:
        cuts = [q for q in self.rehearsal.sections if q > self._notes[0].onset_q]
        groups: list[list[Note]] = [[]]
        for note in self._notes:
            while cuts and note.onset_q >= cuts[0]:
                cuts.pop(0)
                if groups[-1]:
                    groups.append([])
            groups[-1].append(note)
        return groups

    def _take_turns(self) -> Iterator[Turn]:
        at_s = self.music_s
        stretches = self._stretches()
        for k, stretch in enumerate(stretches):
            follower = stretches[(k + 1) % len(stretches)].notes[0]
            first, last = stretch.notes[0], stretch.notes[-1]
            length_s = self.seconds(stretch.until_q) - self.seconds(stretch.from_q)
            waits = self.rehearsal.answer or (self.rehearsal.loop and stretch is stretches[-1])
            answers = (False, True) if self.rehearsal.answer else (False,)
            for answering in answers:
                next_note = first if self.rehearsal.answer and not answering else follower
                whole_s = self._to_whole_beats(length_s, last, next_note) if waits else length_s
                yield Turn(
                    first.index, last.index, at_s, at_s + whole_s, answering,
                    stretch.from_q, stretch.until_q, stretch.time,
                )  # fmt: skip
                at_s += whole_s

    def _to_whole_beats(self, length_s: float, last: Note, follower: Note) -> float:
        """So that the metronome goes on, and the bow has time to get back to where it begins."""
        beat_s = self.beat_s(last)
        beats_n = math.ceil(round(length_s / beat_s, 6))
        while beats_n * beat_s - length_s < self._carry_s(last, follower):
            beats_n += 1
        return beats_n * beat_s

    def _carry_s(self, last: Note, follower: Note) -> float:
        a, b = self._last_bowed(last), self._next_bowed(follower)
        if a is None or b is None or not self.bows or abs(a.end - b.start) < 1e-9:
            return 0.0
        return self.carry_s(a.end, b.start)

    def _last_bowed(self, note: Note) -> PlannedNote | None:
        planned = self.plan.notes[: note.index + 1]
        return next((p for p in reversed(planned) if p is not None), None)

    def _next_bowed(self, note: Note) -> PlannedNote | None:
        return next((p for p in self.plan.notes[note.index :] if p is not None), None)

    def carry_s(self, start: float, end: float) -> float:
        """Time to lift the bow and carry it from one place to another."""
        way_mm = abs(end - start) * self.plan.choices.bow.hair_mm
        return self.player.lift_s + way_mm / self.player.travel_mm_s

    @property
    def bows(self) -> bool:
        """Whether the bow is drawn at all."""
        return self.rehearsal.kind not in (Kind.PLUCKED, Kind.SILENT)

    # notes

    def _most_used_string(self) -> int:
        seconds = [0.0] * 4
        for note, fingered in zip(self.plan.part.notes, self.plan.fingered, strict=True):
            for string in fingered.strings[:1]:
                seconds[string] += note.duration_s
        return seconds.index(max(seconds))

    def _strings_of(self, note: Note) -> tuple[int, tuple[tuple[int, int], ...]]:
        """The bow's level, and the string and pitch of everything that sounds."""
        open_midis = self.plan.instrument.open_midis
        if self.rehearsal.kind is Kind.ONE:
            return 2 * self._one + 1, ((self._one, open_midis[self._one]),)
        fingered = self.plan.fingered[note.index]
        level = fingered.level or self._near_level(note)
        grip = fingered.grip
        if grip is None:  # not playable in the positions allowed: sounded on the nearest string
            string = _nearest_string(note.pitches[0].midi, open_midis)
            return 2 * string + 1, ((string, note.pitches[0].midi),)
        stopped = self.rehearsal.kind is not Kind.OPEN
        return level, tuple(
            (f.string, open_midis[f.string] + (f.semitones if stopped else 0))
            for f in grip.fingers[-2:]
        )

    def _near_level(self, note: Note) -> int:
        before = self.plan.fingered[: note.index]
        return next((f.level for f in reversed(before) if f.level), 3)

    def _play_turns(self) -> Iterator[PlayedNote]:
        played: list[PlayedNote] = []
        for k, turn in enumerate(self.turns):
            notes = self.plan.part.notes[turn.first : turn.last + 1]
            zero_s = turn.start_s - self.seconds(turn.from_q)
            begun = [self._play(note, k, zero_s) for note in notes]
            if k and self.rehearsal.plays_out and played:
                begun[0] = self._after_seam(played[-1], begun[0])
            for at in range(1, len(begun)):  # a stretch is played as it stands on the page
                if self.plan.note_before(notes[at].index) != notes[at - 1].index:
                    begun[at] = self._after_seam(begun[at - 1], begun[at])
            played += begun
        return iter(self._with_time_to_lift(played))

    def _after_seam(self, before: PlayedNote, first: PlayedNote) -> PlayedNote:
        """A note after a repeat or between endings, as it follows the note played before it."""
        if before.planned is None or first.planned is None:
            return first
        join = Join.TURN if before.direction is not first.direction else Join.HOOK
        if abs(before.end - first.start) > NEARLY_THERE:
            join = Join.RETAKE
        elif self.plan.note_before(first.note.index) == before.note.index:
            join = first.planned.join
        return replace(first, seam=join)

    def _play(self, note: Note, turn: int, zero_s: float) -> PlayedNote:
        ratio = self.rehearsal.ratio
        planned = self.plan.notes[note.index] if self.bows else None
        level, strings = self._strings_of(note)
        onset_s = zero_s + note.onset_s / ratio
        end_s = onset_s + note.duration_s / ratio
        moving_s = planned.moving_s / ratio if planned is not None else 0.0
        place = planned.start if planned is not None else 0.0
        end = planned.end if planned is not None else 0.0
        return PlayedNote(note, planned, turn, onset_s, end_s, moving_s, place, end, level, strings)

    def _with_time_to_lift(self, played: list[PlayedNote]) -> list[PlayedNote]:
        """Before a lift for which there is no rest, the note before is played in less time, as
        the plan reckons."""
        for k in range(1, len(played)):
            a, b = played[k - 1], played[k]
            leads_on = a.turn == b.turn or b.seam is not None
            if a.planned is None or b.planned is None or not leads_on or b.join is not Join.RETAKE:
                continue
            missing_s = self.carry_s(a.end, b.start) - (b.onset_s - a.moved_s)
            stolen_s = min(max(0.0, missing_s), MOST_STOLEN * a.moving_s)
            if stolen_s > 0:
                played[k - 1] = replace(a, moving_s=a.moving_s - stolen_s)
        return played

    # clicks

    def _click(self) -> Iterator[Beat]:
        lead_s = self.beat_s(self._notes[0])
        for k, strong in enumerate(self._lead_beats):
            yield Beat(k * lead_s, strong, True)
        for turn in self.turns:
            yield from self._beats_of(turn)

    def _beats_of(self, turn: Turn) -> Iterator[Beat]:
        """The beats of the bars as they fall, then so many as there is room for."""
        part = self.plan.part
        first, last = part.notes[turn.first], part.notes[turn.last]
        zero_s = turn.start_s - self.seconds(turn.from_q)
        at_s = turn.start_s
        for bar in part.bars[first.bar_index : last.bar_index + 1]:
            beat_q = bar.metre.beat_q
            into = Fraction(0) if bar.pad_q == 0 else -bar.pad_q
            while into < bar.duration_q:
                q = bar.onset_q + into
                if into >= 0 and turn.from_q <= q < turn.until_q:
                    at_s = zero_s + self.seconds(q)
                    yield Beat(at_s, into == 0 and bar.pad_q == 0, False)
                into += beat_q
        beat_s = self.beat_s(last)
        at_s += beat_s
        while at_s < turn.end_s - 0.25 * beat_s:
            yield Beat(at_s, False, False)
            at_s += beat_s

    # time

    def fold(self, at_s: float) -> float:
        """The time inside the performance for a time since its start: a loop goes round."""
        if at_s < self.length_s or not self.rehearsal.loop:
            return min(at_s, self.length_s)
        return self.music_s + (at_s - self.music_s) % (self.length_s - self.music_s)

    def time_of(self, at_q: float) -> float:
        """When the first note at or after a time of the music begins; 0 before the first."""
        if at_q <= float(self.notes[0].note.onset_q):
            return 0.0
        found = (p.onset_s for p in self.notes if float(p.note.onset_q) >= at_q - 1e-9)
        return next(found, 0.0)

    @cached_property
    def ends(self) -> bool:
        return not self.rehearsal.loop


def time_words(time: int) -> str:
    """Which time something is played: "2nd time"."""
    spelt = {1: tr("1st time"), 2: tr("2nd time"), 3: tr("3rd time")}
    return spelt.get(time) or say("{time}th time", time=time)


def _nearest_string(midi: int, open_midis: tuple[int, ...]) -> int:
    below = [k for k, open_midi in enumerate(open_midis) if open_midi <= midi]
    return below[-1] if below else 0
