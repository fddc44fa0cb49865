"""The passage that a study is made of, and the score that is written from it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import lru_cache
from itertools import pairwise

from plectrum.core.document.choices import Choices, Join, Pin
from plectrum.core.document.document import Document
from plectrum.core.document.sections import notes_name
from plectrum.core.planning.fingering.grips import Fingered
from plectrum.core.planning.plan import Plan
from plectrum.core.planning.strokes.planned import PlannedNote
from plectrum.core.playing.performance import Kind
from plectrum.core.practice.rhythm_study import rhythm_word
from plectrum.core.practice.said import said_notes, short_place
from plectrum.core.practice.strokes_per_note import SECOND, STOPPING
from plectrum.core.practice.study_kinds import (
    AS_PLANNED,
    BOWED,
    ON_OPEN,
    SHOWN_AS,
    SPOKEN,
    TITLES,
    StudyKind,
)
from plectrum.core.score.instruments import open_pitch
from plectrum.core.score.model import Articulation, Note, Part, Pitch
from plectrum.core.score.scorefile import ScoreFile, parse_record
from plectrum.core.score.writing.elements import fifths_in
from plectrum.core.score.writing.sheet import SheetBar, SheetNote, SheetPart, write_sheet

SAID_DYNAMICS = frozenset({"pp", "p", "mp", "mf", "f", "ff", "ppp", "fff"})


@dataclass(frozen=True)
class Study:
    """One study. `document` holds its score and the pins that keep its bowing."""

    kind: StudyKind
    document: Document

    @property
    def shown_as(self) -> Kind:
        return SHOWN_AS.get(self.kind, Kind.WRITTEN)


class Passage:
    """The passage that a study is made of."""

    def __init__(
        self,
        document: Document,
        plan: Plan,
        kind: StudyKind,
        notes: Sequence[Note],
        ratio: float,
    ) -> None:
        self.document, self.plan, self.kind, self.ratio = document, plan, kind, ratio
        self.instrument = plan.choices.instrument
        self.notes = list(notes)
        self.first_bar, self.last_bar = notes[0].bar_index, notes[-1].bar_index
        self.planned = [plan.notes[n.index] for n in self.notes]
        self.fingered = [plan.fingered[n.index] for n in self.notes]
        # What comes before the first note in its bar is left out.
        self.from_q = next((n for n in notes if not n.grace), notes[0]).onset_q
        self.said = self._lyrics()
        self.wedges = _wedges(self.notes)

    def _lyrics(self) -> dict[int, str]:
        """Words under the notes, by index."""
        first, last = self.notes[0].index, self.notes[-1].index
        if self.kind is StudyKind.SAY_RHYTHM:
            return {n.index: rhythm_word(n) for n in self.notes if not n.grace}
        if self.kind is StudyKind.SAY:
            return dict(enumerate(said_notes(self.plan, first, last), start=first))
        if self.kind is StudyKind.DIVISION:
            bow = self.plan.choices.bow
            ends = {s.first_note: s for s in self.plan.strokes}
            return {
                k: f"{short_place(s.start, bow)}–{short_place(s.end, bow)}"
                for k, s in ends.items()
                if first <= k <= last
            }
        if self.kind is StudyKind.CROSSINGS:
            levels = [(n.index, f.level) for n, f in zip(self.notes, self.fingered, strict=True)]
            changes = [levels[0], *(b for a, b in pairwise(levels) if a[1] != b[1])]
            return {k: str(level) for k, level in changes if level is not None}
        return {}

    # notes

    def write(self, note: Note) -> SheetNote:
        """One note of the study."""
        planned, fingered = self.plan.notes[note.index], self.plan.fingered[note.index]
        bowed = self.kind in BOWED and planned is not None
        stopped = self.kind is StudyKind.STOPS
        unit = self.plan.units[planned.unit] if planned is not None else None
        slurred = bowed and not stopped and unit is not None
        first, last = self.notes[0].index, self.notes[-1].index
        starts = unit is not None and note.index == max(unit.first, first) < min(unit.last, last)
        ends = unit is not None and note.index == min(unit.last, last) > max(unit.first, first)
        mark = None
        if planned is not None and bowed and (stopped or planned.join is not Join.SLUR):
            mark = planned.direction
        on_open = self.kind in ON_OPEN
        return SheetNote(
            written_id(note),
            note.onset_q - self.from_q,
            note.duration_q,
            self.open_pitches(fingered, note) if on_open else note.pitches,
            mark=mark,
            slur_starts=slurred and starts,
            slur_stops=slurred and ends,
            articulations=self._signs(note),
            finger=str(fingered.grip.main.finger) if fingered.grip and self._fingers else "",
            lyric=self.said.get(note.index, ""),
            dynamic=self._dynamic(note),
            wedge=self.wedges.get(note.index, "") if self.kind in AS_PLANNED else "",
            head="x" if self.kind in SPOKEN or self.kind is StudyKind.CROSSINGS else "",
            grace=note.grace,
        )

    def _signs(self, note: Note) -> frozenset[Articulation]:
        kept = note.articulations - {Articulation.RICOCHET}
        if self.kind in AS_PLANNED:
            return kept
        return kept - STOPPING if self.kind is StudyKind.STOPS else frozenset()

    @property
    def _fingers(self) -> bool:
        """Whether the left hand has anything to do."""
        return not (self.kind in ON_OPEN or self.kind in SPOKEN)

    def _dynamic(self, note: Note) -> str:
        if self.kind not in AS_PLANNED:
            return ""
        return note.dynamic if note.dynamic in SAID_DYNAMICS else ""

    def open_pitches(self, fingered: Fingered, note: Note) -> tuple[Pitch, ...]:
        """The open strings a note lies on; of a note out of reach the nearest."""
        strings = sorted({f.string for f in fingered.grip.fingers[-2:]} if fingered.grip else ())
        if not strings:
            midis = self.plan.instrument.open_midis
            below = [k for k, midi in enumerate(midis) if midi <= note.pitches[0].midi]
            strings = [below[-1] if below else 0]
        return tuple(open_pitch(self.plan.instrument, string) for string in strings)

    # the whole

    def bars(self) -> tuple[SheetBar, ...]:
        keys = keys_by_bar(self.document.score, self.document.part_id)
        return sheet_bars(self.plan.part, keys, self.from_q, self.last_bar)

    def part(self, notes: Sequence[SheetNote]) -> SheetPart:
        return SheetPart(self.plan.part.name, self.instrument, self.bars(), tuple(notes))

    def pins(self) -> dict[str, Pin]:
        """What keeps strings and bowing as planned."""
        pins = {}
        for k, note in enumerate(self.notes):
            planned, fingered = self.planned[k], self.fingered[k]
            pin = self._string_pin(fingered)
            if planned is not None and self.kind in BOWED:
                pin = self._bow_pin(pin, planned, k == 0)
            if not pin.is_empty:
                pins[written_id(note)] = pin
        return pins

    def _string_pin(self, fingered: Fingered) -> Pin:
        if fingered.grip is None:
            return Pin()
        if self.kind in ON_OPEN:
            return Pin(string=fingered.grip.fingers[-2:][0].string, finger=0)
        main = fingered.grip.main
        return Pin(string=main.string, finger=main.finger)

    def _bow_pin(self, pin: Pin, planned: PlannedNote, first: bool) -> Pin:
        if planned.join is Join.SLUR:
            if self.kind is not StudyKind.STOPS:
                return pin
            return replace(pin, direction=planned.direction, join=None if first else Join.HOOK)
        join = planned.join if planned.join in (Join.TURN, Join.HOOK, Join.RETAKE) else None
        unit, step = self.plan.units[planned.unit], self.plan.steps[planned.unit]
        whole = unit.first == planned.note.index
        pin = replace(pin, direction=planned.direction, join=None if first else join)
        if not whole or (self.kind is StudyKind.STOPS and unit.last > unit.first):
            return pin
        if self.notes[-1].index < unit.last:
            return pin
        return replace(pin, start_cell=step.start, length_cells=abs(step.end - step.start))

    def study(self, parts: Sequence[SheetPart], pins: dict[str, Pin]) -> Study:
        """The study made of these parts; the first is planned with these pins."""
        first, last = self.notes[0], self.notes[-1]
        bpm = 60.0 / first.beat_s * self.ratio
        beat_q = self.plan.part.bars[first.bar_index].metre.beat_q
        title = (
            f"{self.document.title}, {notes_name(self.plan.part, first.index, last.index)}:"
            f" {TITLES[self.kind]}"
        )
        score = write_sheet(title, parts, max(10.0, round(bpm)), beat_q)
        made = Document.from_score(score, score.parts[0].id, self.instrument)
        made = replace(made, together=len(parts) > 1)
        return Study(self.kind, made.with_choices(_choices(self.plan.choices, pins)))


def sheet_bars(
    part: Part, keys: Sequence[int], from_q: Fraction, last_bar: int
) -> tuple[SheetBar, ...]:
    """The bars from a time on, the first as a pickup where the time lies within it."""
    found = []
    for bar in part.bars[: last_bar + 1]:
        missing_q = max(Fraction(0), from_q - bar.onset_q)
        if missing_q < bar.duration_q:
            found.append(
                SheetBar(
                    bar.number, bar.metre, bar.duration_q - missing_q, keys[bar.index],
                    bar.pad_q + missing_q,
                )
            )  # fmt: skip
    return tuple(found)


def _wedges(notes: Sequence[Note]) -> dict[int, str]:
    """Where hairpins begin and end, by note index."""
    found = {}
    was = 0
    for note in notes:
        if note.in_hairpin and note.in_hairpin != was:
            inside = [n.level_db for n in notes if n.in_hairpin == note.in_hairpin]
            if inside[0] != inside[-1]:
                found[note.index] = "crescendo" if inside[-1] > inside[0] else "diminuendo"
        elif was and not note.in_hairpin:
            found[note.index] = "stop"
        was = note.in_hairpin
    return found


def _choices(source: Choices, pins: dict[str, Pin]) -> Choices:
    """The source's choices for a study; stops are what some are there to teach."""
    hooks = any(pin.join is Join.HOOK for pin in pins.values())
    player = replace(source.player, can_hook=True) if hooks else source.player
    return replace(source, tempo_bpm=None, player=player, pins=pins)


def written_id(note: Note) -> str:
    """A note's id in the file; the second half of a note gets one that a file may hold."""
    return note.id.replace(SECOND, "-second")


@lru_cache(maxsize=8)
def keys_by_bar(score: ScoreFile, part_id: str) -> tuple[int, ...]:
    """The key signature of every bar of a part, in sharps, or flats below zero."""
    fifths = 0
    keys = []
    for measure in (
        parse_record(score.xml, score.name).getroot().iterfind(f"part[@id='{part_id}']/measure")
    ):
        fifths = fifths_in(measure, fifths)
        keys.append(max(-7, min(7, fifths)))
    return tuple(keys)
