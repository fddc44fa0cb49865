"""The notes and chords that one bow plays, with their ties, slurs and graces sorted out."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field
from fractions import Fraction
from itertools import pairwise

from plectrum.core.score.left_out import LAST_GRACES, VOICES, Ledger
from plectrum.core.score.model import Articulation, Direction, Pitch
from plectrum.core.score.raw import RawMeasure, RawNote, RawPart


@dataclass(slots=True)
class Event:
    """A note or chord while ties, slurs and graces are being sorted out."""

    bar_index: int
    onset_t: int
    duration_t: int
    heads: list[RawNote]
    graces: list[RawNote] = field(default_factory=list)
    slurred: bool = False
    held: list[RawNote] = field(default_factory=list)  # what another voice holds under it
    ends_t: list[int] = field(default_factory=list)  # of heads and held

    @property
    def end_t(self) -> int:
        return self.onset_t + self.duration_t

    def midis(self) -> set[int]:
        return {h.pitch.midi for h in self.heads if h.pitch is not None}


def _line_of(measure: RawMeasure) -> tuple[list[RawNote], int]:
    """The notes one bow plays in a measure, and how many of other voices were left out.

    The melody leads: the highest of the voices that have something to say. Notes of other voices
    join where they start with it or where it rests; what they hold under it goes on sounding.
    """
    sounding = [n for n in measure.notes if n.pitch is not None]
    first_voice = sounding[0].voice if sounding else None
    if all(n.voice == first_voice for n in sounding):
        return sounding, 0
    lead = _melody(sounding)
    kept = [n for n in sounding if n.voice == lead]
    left_out = 0
    for n in sounding:
        if n.voice == lead or (n.grace and n.voice != lead):
            continue
        end_t = n.offset_t + n.duration_t
        same = [m for m in kept if m.offset_t == n.offset_t and not m.grace]
        if same or all(
            m.offset_t >= end_t or m.offset_t + m.duration_t <= n.offset_t for m in kept
        ):
            kept.append(n)
        else:
            left_out += 1
    return kept, left_out


def _melody(sounding: Sequence[RawNote]) -> tuple[int, str]:
    """The highest on the average of the voices that sound half as long as any, with notes half as
    many: a single held note over it is no melody."""
    long_t: Counter[tuple[int, str]] = Counter()
    notes_n: Counter[tuple[int, str]] = Counter()
    height: Counter[tuple[int, str]] = Counter()
    for n in sounding:
        long_t[n.voice] += n.duration_t
        notes_n[n.voice] += 1
        height[n.voice] += n.duration_t * (n.pitch.midi if n.pitch is not None else 0)
    enough_t, enough_n = max(long_t.values()) / 2, max(notes_n.values()) / 2
    able = [v for v in long_t if long_t[v] >= enough_t and notes_n[v] >= enough_n]
    return min(able or list(long_t), key=lambda v: (-height[v] / max(long_t[v], 1), v))


def gather(part: RawPart, onsets_t: Sequence[int], left_out: Ledger) -> list[Event]:
    """Chords put together, graces hung on the note they lead to; what is not, counted."""
    events: list[Event] = []
    waiting: list[RawNote] = []
    for index, (bar_t, measure) in enumerate(zip(onsets_t, part.measures, strict=False)):
        notes, dropped = _line_of(measure)
        left_out.count(VOICES, measure.number, dropped)
        for n in _in_order(notes):
            if n.grace:
                waiting.append(n)
                continue
            onset_t = bar_t + n.offset_t
            if events and events[-1].onset_t == onset_t:
                events[-1].heads.append(n)
                events[-1].ends_t.append(onset_t + n.duration_t)
                events[-1].duration_t = max(events[-1].duration_t, n.duration_t)
                continue
            ends_t = [onset_t + n.duration_t]
            events.append(Event(index, onset_t, n.duration_t, [n], waiting, ends_t=ends_t))
            waiting = []
    for before, after in pairwise(events):
        _hold_on(before, after)
        before.duration_t = min(before.duration_t, after.onset_t - before.onset_t)
    if waiting:
        left_out.count(LAST_GRACES, part.measures[-1].number, len(waiting))
    return events


def _hold_on(before: Event, after: Event) -> None:
    """What another voice holds sounds on under the next note of the melody, in the same bow: it is
    not struck anew."""
    if max(before.ends_t) <= after.onset_t:
        return
    voices = {h.voice for h in after.heads}
    sounding = zip([*before.heads, *before.held], before.ends_t, strict=True)
    for head, end_t in sounding:
        if end_t > after.onset_t and head.voice not in voices and not after.graces:
            after.held.append(head)
            after.ends_t.append(end_t)


def _in_order(notes: list[RawNote]) -> list[RawNote]:
    """By time, graces before the note they lead to; mostly the file's own order."""
    if all(a.offset_t <= b.offset_t and not b.grace for a, b in pairwise(notes)):
        return notes
    return sorted(notes, key=lambda n: (n.offset_t, not n.grace))


_STRUCK = frozenset(
    {Articulation.STACCATO, Articulation.STACCATISSIMO, Articulation.ACCENT, Articulation.MARCATO}
)


def merge_ties(events: list[Event]) -> list[Event]:
    merged: list[Event] = []
    open_ends: set[int] = set()
    for event in events:
        last = merged[-1] if merged else None
        tied = {h.pitch.midi for h in event.heads if h.tie_stop and h.pitch} & open_ends
        joins = last is not None and bool(tied) and last.end_t == event.onset_t and not event.graces
        open_ends = {h.pitch.midi for h in event.heads if h.tie_start and h.pitch}
        if joins and last is not None and tied == event.midis():
            last.heads.extend(event.heads)
            last.duration_t += event.duration_t
            continue
        turns = any(h.mark is not None or h.articulations & _STRUCK for h in event.heads)
        event.slurred = joins or bool(event.held and not turns)
        merged.append(event)
    return merged


def mark_slurs(events: list[Event]) -> int:
    """Set `slurred` on every event a closed slur reaches; return how many never closed."""
    opened: dict[str, int] = {}
    lost = 0
    for k, event in enumerate(events):
        heads = [*event.graces, *event.heads] if event.graces else event.heads
        if not any(h.slur_starts or h.slur_stops for h in heads):
            continue
        for number in (s for h in heads for s in h.slur_stops):
            start = opened.pop(number, None)
            if start is None:
                continue
            for between in events[start + 1 : k + 1]:
                between.slurred = True
        for number in (s for h in heads for s in h.slur_starts):
            stopped_here = any(number in h.slur_stops for h in heads)
            if number in opened and not stopped_here:
                lost += 1
            inside_grace = any(number in g.slur_starts for g in event.graces) and stopped_here
            if not inside_grace:
                opened[number] = k
    return lost + len(opened)


@dataclass(slots=True)
class Signs:
    """What the heads of one event say together."""

    ids: tuple[str, ...]
    pitches: tuple[Pitch, ...]
    articulations: frozenset[Articulation]
    mark: Direction | None
    pizzicato: bool
    fingerings: tuple[str, ...]
    strings: tuple[int, ...]
    open_string: bool
    stroke_q: Fraction | None

    @classmethod
    def of(cls, heads: Sequence[RawNote], held: Sequence[RawNote] = ()) -> Signs:
        """Fingers and strings count only where the event begins, not on tied heads; of what is
        held from before, the pitch."""
        head = heads[0]
        if (
            len(heads) == 1 and not held and head.pitch is not None
        ):  # nearly always, so it is kept quick
            return cls(
                (head.id,),
                (head.pitch,),
                head.articulations,
                head.mark,
                head.pizzicato,
                head.fingerings,
                head.strings,
                head.open_string,
                head.stroke_q,
            )
        first = [h for h in heads if h.offset_t == head.offset_t]
        pitches = {h.pitch.midi: h.pitch for h in [*heads, *held] if h.pitch is not None}
        return cls(
            tuple(h.id for h in heads),
            tuple(pitches[m] for m in sorted(pitches)),
            frozenset(a for h in heads for a in h.articulations),
            next((h.mark for h in heads if h.mark is not None), None),
            any(h.pizzicato for h in heads),
            tuple(f for h in first for f in h.fingerings),
            tuple(s for h in first for s in h.strings),
            any(h.open_string for h in first),
            next((h.stroke_q for h in heads if h.stroke_q is not None), None),
        )
