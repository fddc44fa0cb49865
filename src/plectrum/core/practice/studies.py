"""A passage written out for one step of its practice: on open strings, plucked, with stops …

A study is a score like any other: it is engraved, planned, shown and handed on in the same way.
The rhythm of the passage is kept (two strokes a note halve it), the strings are those planned,
and where it is bowed, the bowing of the plan is pinned in it.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import lru_cache
from itertools import pairwise

from plectrum.core.document.choices import Choices, Join, Pin
from plectrum.core.document.document import Document
from plectrum.core.document.sections import notes_name
from plectrum.core.errors import ScoreError
from plectrum.core.planning.fingering.grips import Fingered
from plectrum.core.planning.plan import Plan
from plectrum.core.planning.strokes.planned import PlannedNote
from plectrum.core.playing.performance import Kind
from plectrum.core.playing.practice_tempo import at_tempo
from plectrum.core.practice.rhythm_study import pitches_of, rhythm_bar, rhythm_word
from plectrum.core.practice.said import said_notes, short_place
from plectrum.core.practice.strokes_per_note import SECOND, STOPPING, study_plan
from plectrum.core.practice.study_kinds import (
    AS_PLANNED,
    BOWED,
    ON_OPEN,
    SAME_WAY,
    SHOWN_AS,
    SPOKEN,
    STROKES,
    TITLES,
    StudyKind,
)
from plectrum.core.score.instruments import open_pitch
from plectrum.core.score.model import Articulation, Direction, Note, Part, Pitch
from plectrum.core.score.scorefile import ScoreFile, parse_record, read_part
from plectrum.core.score.writing.line import fifths_in
from plectrum.core.score.writing.sheet import SheetBar, SheetNote, SheetPart, write_sheet
from plectrum.core.wording import tr

SAID_DYNAMICS = frozenset({"pp", "p", "mp", "mf", "f", "ff", "ppp", "fff"})
GROWING_NOTES_N = 6  # at most so many notes of a crescendo are taken (own default)


@dataclass(frozen=True)
class Study:
    """One study. `document` holds its score and the pins that keep its bowing."""

    kind: StudyKind
    document: Document

    @property
    def shown_as(self) -> Kind:
        return SHOWN_AS.get(self.kind, Kind.WRITTEN)


def make_study(
    document: Document,
    plan: Plan,
    kind: StudyKind,
    first_note: int,
    last_note: int,
    ratio: float = 1.0,
) -> Study:
    """Write a study of a run of notes.

    Args:
        plan: of the document.
        first_note, last_note: by index.
        ratio: of the plan's tempo; a plan that cannot be drawn so slowly is planned anew.

    Raises:
        ScoreError: the passage has no notes, or nothing for such a study.
    """
    practised = at_tempo(plan, ratio)
    base = practised.plan
    if kind in STROKES:
        base = study_plan(base, STROKES[kind])
    ids = plan.part.notes[first_note].id, plan.part.notes[last_note].id
    source = _Source(document, base, kind, _run(base, *ids), practised.ratio)
    if kind in SAME_WAY:
        return _growing(source)
    if kind is StudyKind.RHYTHM:
        return _on_each_pitch(source)
    if kind is StudyKind.STOPS and not any(_goes_on(p) for p in source.planned):
        raise ScoreError(
            tr("there is no slur in these bars to play with stops"), remedy=tr("Choose others")
        )
    notes = [source.write(note) for note in source.notes]
    if kind is StudyKind.PLUCK:
        notes[0] = replace(notes[0], words="pizz.")
    parts = [source.part(notes)]
    if kind is StudyKind.SECOND:
        parts.append(_second_part(source))
    return source.study(parts, source.pins())


def _run(plan: Plan, first_id: str, last_id: str) -> Sequence[Note]:
    """The notes from one to another, with the second half of the last where they are two."""
    places = {note.id: note.index for note in plan.part.notes}
    last = places.get(f"{last_id}{SECOND}", places[last_id])
    return plan.part.notes[places[first_id] : last + 1]


def _goes_on(planned: PlannedNote | None) -> bool:
    return planned is not None and planned.join is Join.SLUR


class _Source:
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


# growing bows


def hairpins_in(plan: Plan, first: int, last: int) -> list[list[Note]]:
    """The notes of every crescendo in a run of notes, then of every diminuendo; of a long one
    those that lead to its end."""
    groups: dict[int, list[Note]] = {}
    for note in plan.part.notes[first : last + 1]:
        if note.in_hairpin and not note.grace:
            groups.setdefault(note.in_hairpin, []).append(note)
    found = [g for g in groups.values() if len(g) > 1 and g[0].level_db != g[-1].level_db]
    found.sort(key=lambda g: (g[0].level_db > g[-1].level_db, g[0].index))
    longest_s = (
        (plan.player.usable_to - plan.player.usable_from)
        * plan.choices.bow.hair_mm
        / plan.player.slowest_mm_s
    )
    taken_of = []
    for notes in found:
        group = notes[-GROWING_NOTES_N:]
        while len(group) > 2 and group[-1].end_s - group[0].onset_s > longest_s:
            group = group[1:]
        taken_of.append(group)
    return taken_of


def _growing(source: _Source) -> Study:
    """Louder and louder towards the frog, on one open string a note; or softer, the other way; or
    the same bows all alike."""
    found = hairpins_in(source.plan, source.notes[0].index, source.notes[-1].index)
    if not found:
        raise ScoreError(
            tr("these bars have no crescendo or diminuendo"), remedy=tr("Choose others")
        )
    group = found[0]
    louder = group[-1].level_db > group[0].level_db
    way = Direction.UP if louder else Direction.DOWN
    after = source.plan.part.notes[group[-1].index + 1 : group[-1].index + 2]
    taken = [*group, *after]
    source = _Source(source.document, source.plan, source.kind, taken, source.ratio)
    slurred, even = source.kind is StudyKind.GROWING_SLUR, source.kind is StudyKind.EVEN
    soft, loud = _ends(group, after, louder)
    wedges = {0: "crescendo" if louder else "diminuendo", len(group): "stop"}
    notes, pins = [], {}
    for k, note in enumerate(taken):
        last_of, target = k == len(group) - 1, k == len(group)
        mark = None if slurred and 0 < k < len(group) else way.other if target else way
        fingered = source.plan.fingered[note.index]
        notes.append(
            SheetNote(
                note.id,
                note.onset_q - source.from_q,
                note.duration_q,
                source.open_pitches(fingered, note),
                mark=mark,
                slur_starts=slurred and k == 0,
                slur_stops=slurred and last_of,
                dynamic="" if even else soft if k == 0 else loud if target else "",
                wedge="" if even else wedges.get(k, ""),
            )
        )
        pin = Pin(string=fingered.strings[0], finger=0) if fingered.strings else Pin()
        if mark is not None:
            join = None if k == 0 else Join.TURN if target else Join.HOOK
            pin = replace(pin, direction=mark, join=join)
        pins[note.id] = pin
    return source.study([source.part(notes)], pins)


def _ends(group: Sequence[Note], after: Sequence[Note], louder: bool) -> tuple[str, str]:
    """The dynamics at both ends of a hairpin: those of the page, or two steps apart."""
    order = ["ppp", "pp", "p", "mp", "mf", "f", "ff", "fff"]
    start = group[0].dynamic if group[0].dynamic in order else "p" if louder else "f"
    written = after[0].dynamic if after else ""
    if written in order and (order.index(written) > order.index(start)) == louder:
        return start, written
    place = order.index(start) + (2 if louder else -2)
    return start, order[min(len(order) - 1, max(0, place))]


# one rhythm on several pitches


def _on_each_pitch(source: _Source) -> Study:
    """The bows of one bar, each time on another pitch of the passage."""
    plan, first, last = source.plan, source.notes[0].index, source.notes[-1].index
    pattern, pitches = rhythm_bar(plan, first, last), pitches_of(plan, first, last)
    if not pattern or not pitches:
        raise ScoreError(tr("these bars have no bow rhythm to learn"), remedy=tr("Choose others"))
    bar = plan.part.bars[pattern[0].bar_index]
    notes, pins = [], {}
    for k, target in enumerate(pitches):
        main = plan.fingered[target.index].grip.main  # type: ignore[union-attr]
        for note in pattern:
            planned = plan.notes[note.index]
            written = source.write(note)
            made_id = f"{k}-{written.id}"
            notes.append(
                replace(
                    written, id=made_id, pitches=target.pitches,
                    onset_q=note.onset_q - bar.onset_q + k * bar.duration_q,
                    mark=planned.direction if planned and note is pattern[0] else None,
                    finger=str(main.finger), lyric="",
                )
            )  # fmt: skip
            pin = Pin(string=main.string, finger=main.finger)
            if planned is not None:
                inside = note is not pattern[0] and planned.join is not Join.SLUR
                join = planned.join if inside else None
                pin = replace(pin, direction=planned.direction, join=join)
            pins[made_id] = pin
    keys = keys_by_bar(source.document.score, source.document.part_id)
    bars = tuple(
        SheetBar(k + 1, bar.metre, bar.duration_q, keys[bar.index]) for k in range(len(pitches))
    )
    part = SheetPart(plan.part.name, source.instrument, bars, tuple(notes))
    return source.study([part], pins)


# another part


def second_part_id(document: Document) -> str | None:
    """Another part for a string instrument that sounds with the one that is open."""
    others = [p for p in document.score.parts if p.id != document.part_id and p.notes_n]
    return next((p.id for p in others if p.instrument is not None), None)


def _second_part(source: _Source) -> SheetPart:
    part_id = second_part_id(source.document)
    if part_id is None:
        raise ScoreError(tr("there is no second part for a string instrument in this score"))
    part = read_part(source.document.score, part_id)
    keys = keys_by_bar(source.document.score, part_id)
    last = min(source.last_bar, len(part.bars) - 1)
    notes = [
        n for n in part.notes if n.onset_q >= source.from_q and n.bar_index <= last and not n.grace
    ]
    ends = {a.index for a, b in pairwise(notes) if a.slurred and not b.slurred}
    starts = {a.index for a, b in pairwise(notes) if b.slurred and not a.slurred}
    if notes and notes[-1].slurred and len(notes) > 1:
        ends.add(notes[-1].index)
    if notes and notes[0].slurred:
        starts -= {notes[0].index}
        ends -= {notes[0].index}
    return SheetPart(
        part.name,
        part.instrument or "violin",
        sheet_bars(part, keys, source.from_q, last),
        tuple(
            SheetNote(
                f"second-{n.id}",
                n.onset_q - source.from_q,
                n.duration_q,
                n.pitches,
                mark=n.mark,
                slur_starts=n.index in starts,
                slur_stops=n.index in ends,
                articulations=n.articulations,
                dynamic=n.dynamic if n.dynamic in SAID_DYNAMICS else "",
            )
            for n in notes
        ),
    )
