"""From what stands in the measures to the notes a bow plays, in order."""

from __future__ import annotations

import bisect
import re
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from fractions import Fraction
from itertools import accumulate, pairwise, zip_longest

from plectrum.core.incoming.numbers import only_whole
from plectrum.core.instrument.specification import TABLE, Instrument
from plectrum.core.score.instruments import guess_instrument
from plectrum.core.score.metre import metric_weight
from plectrum.core.score.model import (
    Articulation,
    Bar,
    Direction,
    Metre,
    Note,
    Part,
    Pitch,
    Sign,
    TempoClock,
)
from plectrum.core.score.raw import RawDirection, RawMeasure, RawNote, RawPart
from plectrum.core.score.timeline import LevelCurve, build_tempo
from plectrum.core.wording import say

LOWER_STRING = 5  # semitones that a fifth string or an extension lies below the lowest

ZERO = Fraction(0)
GRACE_S = 0.12  # own default: what a grace note takes from its main note, at most
GRACE_SHARE = 0.25  # and at most this share of it
# Words that say how to play from here on; the last row ends all of them.
MANNERS = (
    ("pizz", re.compile(r"\bpizz", re.I)),
    ("spiccato", re.compile(r"\b(spicc|saltando|sautill)", re.I)),
    ("ricochet", re.compile(r"\b(ricochet|jet[ée])", re.I)),
    ("", re.compile(r"\b(arco|ord\.|ordinario|naturale|legato|détaché|on the string)", re.I)),
)


@dataclass(slots=True)
class _Event:
    """A note or chord while ties, slurs and graces are being sorted out."""

    bar_index: int
    onset_t: int
    duration_t: int
    heads: list[RawNote]
    graces: list[RawNote] = field(default_factory=list)
    slurred: bool = False

    @property
    def end_t(self) -> int:
        return self.onset_t + self.duration_t

    def midis(self) -> set[int]:
        return {h.pitch.midi for h in self.heads if h.pitch is not None}


def bar_lengths(parts: Sequence[RawPart]) -> list[int]:
    """Ticks of every measure: the longest content of any part, or the metre if all are empty."""
    count = max(len(p.measures) for p in parts)
    lengths = []
    for k in range(count):
        measures = [p.measures[k] for p in parts if k < len(p.measures)]
        content = max((m.content_t for m in measures), default=0)
        lengths.append(content or round(measures[0].metre.length_q * parts[0].ticks_a_quarter))
    return lengths


def signs_by_bar(parts: Sequence[RawPart]) -> list[frozenset[Sign]]:
    """Where the player goes on elsewhere; it may be written in one part for all."""
    rows = zip_longest(*(part.measures for part in parts))
    return [frozenset().union(*(m.signs for m in row if m is not None)) for row in rows]


def build_bars(
    measures: Sequence[RawMeasure],
    lengths_t: Sequence[int],
    ticks: int,
    signs: Sequence[frozenset[Sign]],
) -> tuple[Bar, ...]:
    """Bars with printed numbers and with the beats a short bar is missing in front."""
    bars: list[Bar] = []
    ending: tuple[int, ...] = ()
    onset_t = 0
    short_t = 0  # what the bar before lacked, if it was short and not itself a completion
    for k, (measure, length_t) in enumerate(zip(measures, lengths_t, strict=False)):
        nominal_t = round(measure.metre.length_q * ticks)
        missing_t = max(0, nominal_t - length_t)
        completes = bool(short_t) and length_t == short_t
        pad_t = missing_t if k == 0 or completes else 0
        ending = measure.endings or ending
        bars.append(
            Bar(
                k,
                _printed_number(measure, bars),
                Fraction(onset_t, ticks),
                Fraction(length_t, ticks),
                measure.metre,
                Fraction(pad_t, ticks),
                measure.repeat_start,
                measure.repeat_end,
                ending,
                measure.section_end or measure.repeat_end > 0,
                signs[k],
            )
        )
        if measure.ending_stops or measure.repeat_end:
            ending = ()
        onset_t += length_t
        short_t = 0 if pad_t else missing_t
    return tuple(bars)


def _printed_number(measure: RawMeasure, before: Sequence[Bar]) -> int:
    """Its own number; a bar that prints none goes on with the last one, a pickup is 0."""
    printed = only_whole(measure.number)
    if printed is not None and printed >= 0 and not measure.implicit:
        return printed
    return before[-1].number if before else 0


def _line_of(measure: RawMeasure) -> tuple[list[RawNote], int]:
    """The notes one bow plays in a measure, and how many of other voices were left out.

    The voice that sounds longest leads; notes of other voices join where they start with
    it or where it rests.
    """
    sounding = [n for n in measure.notes if n.pitch is not None]
    first_voice = sounding[0].voice if sounding else None
    if all(n.voice == first_voice for n in sounding):
        return sounding, 0
    voices = {n.voice for n in sounding}
    weight: Counter[tuple[int, str]] = Counter()
    for n in sounding:
        weight[n.voice] += n.duration_t
    lead = min(voices, key=lambda v: (-weight[v], v))
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


def _gather(part: RawPart, onsets_t: Sequence[int]) -> tuple[list[_Event], int]:
    """Chords put together, graces hung on the note they lead to."""
    events: list[_Event] = []
    waiting: list[RawNote] = []
    left_out = 0
    for index, (bar_t, measure) in enumerate(zip(onsets_t, part.measures, strict=False)):
        notes, dropped = _line_of(measure)
        left_out += dropped
        for n in _in_order(notes):
            if n.grace:
                waiting.append(n)
                continue
            onset_t = bar_t + n.offset_t
            if events and events[-1].onset_t == onset_t:
                events[-1].heads.append(n)
                events[-1].duration_t = max(events[-1].duration_t, n.duration_t)
                continue
            events.append(_Event(index, onset_t, n.duration_t, [n], waiting))
            waiting = []
    for before, after in pairwise(events):
        before.duration_t = min(before.duration_t, after.onset_t - before.onset_t)
    return events, left_out


def _in_order(notes: list[RawNote]) -> list[RawNote]:
    """By time, graces before the note they lead to; mostly the file's own order."""
    if all(a.offset_t <= b.offset_t and not b.grace for a, b in pairwise(notes)):
        return notes
    return sorted(notes, key=lambda n: (n.offset_t, not n.grace))


def _merge_ties(events: list[_Event]) -> list[_Event]:
    merged: list[_Event] = []
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
        event.slurred = joins
        merged.append(event)
    return merged


def _mark_slurs(events: list[_Event]) -> int:
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
class _Signs:
    """What the heads of one event say together."""

    ids: tuple[str, ...]
    pitches: tuple[Pitch, ...]
    articulations: frozenset[Articulation]
    mark: Direction | None
    pizzicato: bool
    fingerings: tuple[str, ...]
    strings: tuple[int, ...]
    open_string: bool

    @classmethod
    def of(cls, heads: Sequence[RawNote]) -> _Signs:
        """Fingers and strings count only where the event begins, not on tied heads."""
        head = heads[0]
        if len(heads) == 1 and head.pitch is not None:  # nearly always, so it is kept quick
            return cls(
                (head.id,),
                (head.pitch,),
                head.articulations,
                head.mark,
                head.pizzicato,
                head.fingerings,
                head.strings,
                head.open_string,
            )
        first = [h for h in heads if h.offset_t == head.offset_t]
        pitches = {h.pitch.midi: h.pitch for h in heads if h.pitch is not None}
        return cls(
            tuple(h.id for h in heads),
            tuple(pitches[m] for m in sorted(pitches)),
            frozenset(a for h in heads for a in h.articulations),
            next((h.mark for h in heads if h.mark is not None), None),
            any(h.pizzicato for h in heads),
            tuple(f for h in first for f in h.fingerings),
            tuple(s for h in first for s in h.strings),
            any(h.open_string for h in first),
        )


class PartBuilder:
    """Turns one raw part into a `Part`."""

    def __init__(
        self, parts: Sequence[RawPart], chosen: RawPart, instrument: str | None, name: str
    ) -> None:
        self.raw = chosen
        self.name = name
        self.ticks = chosen.ticks_a_quarter
        lengths_t = bar_lengths(parts)
        self.onsets_t = list(accumulate(lengths_t, initial=0))
        self.bars = build_bars(chosen.measures, lengths_t, self.ticks, signs_by_bar(parts))
        end_q = self.onsets_t[len(self.bars)] / self.ticks
        self.instrument = instrument or guess_for(chosen)
        own = self._timed(chosen)
        others = [d for p in parts if p is not chosen for d in self._timed(p)]
        tempo_of_others = [d for d in others if d[1].kind in ("tempo", "words")]
        self.tempo = build_tempo(_without_repeats(own, tempo_of_others), end_q)
        self.levels = LevelCurve(own, end_q)
        self.manners = _manners(own)
        self.clock = TempoClock(self.tempo)
        self.section_ends_t = {
            self.onsets_t[b.index + 1] for b in self.bars if b.section_end and b.repeat_end == 0
        }
        # Without a transposition a bass part is written an octave above its sound (standard).
        sounds_as_written = not chosen.transposed and chosen.clef_octaves == 0
        spec = TABLE.get(self.instrument or "")
        above = spec.written_above_semitones if spec and sounds_as_written else 0
        self.shift = -above if spec is None or _is_written_above(chosen, spec, above) else 0
        self.notes: list[Note] = []
        self._durations: dict[int, Fraction] = {}
        self._places: dict[tuple[int, int], tuple[Fraction, float]] = {}
        kinds: dict[tuple[Metre, Fraction], int] = {}
        self._bar_kinds = [kinds.setdefault((b.metre, b.pad_q), len(kinds)) for b in self.bars]
        self._beats_q = [float(metre.beat_q) for metre, _ in kinds]

    def _timed(self, part: RawPart) -> list[tuple[float, RawDirection]]:
        """Directions with their times in quarters; dynamics at notes count as directions."""
        timed = []
        for bar_t, measure in zip(self.onsets_t, part.measures, strict=False):
            found = list(measure.directions)
            for n in measure.notes:
                found += [RawDirection(n.offset_t, "dynamic", value) for value in n.dynamics]
            timed += [((bar_t + d.offset_t) / self.ticks, d) for d in found]
        return timed

    def build(self) -> Part:
        events, left_out = _gather(self.raw, self.onsets_t)
        events = _merge_ties(events)
        lost_slurs = _mark_slurs(events)
        for event in events:
            self._append(event)
        notices = []
        if left_out:
            notices.append(
                say("{left_out} notes of a second voice are not planned", left_out=left_out)
            )
        if lost_slurs:
            notices.append(
                say("{lost_slurs} slurs have no end and were left out", lost_slurs=lost_slurs)
            )
        return Part(
            self.raw.id,
            self.name,
            self.instrument,
            self.bars,
            tuple(self.notes),
            self.tempo,
            tuple(notices),
        )

    def _append(self, event: _Event) -> None:
        """Add an event's notes: its graces, then itself with what time they leave it."""
        onset_s = self.clock.seconds(event.onset_t / self.ticks)
        end_s = self.clock.seconds(event.end_t / self.ticks)
        slurred = event.slurred
        beat_q = self._beats_q[self._bar_kinds[event.bar_index]]
        beat_s = (end_s - onset_s) * self.ticks / event.duration_t * beat_q
        if event.graces:
            each_s = min(GRACE_S, GRACE_SHARE * (end_s - onset_s) / len(event.graces))
            for grace in event.graces:
                self._add(event, [grace], onset_s, each_s, beat_s, slurred)
                onset_s += each_s
                slurred = True
        self._add(event, event.heads, onset_s, end_s - onset_s, beat_s, slurred)

    def _add(
        self,
        event: _Event,
        heads: Sequence[RawNote],
        onset_s: float,
        duration_s: float,
        beat_s: float,
        slurred: bool,
    ) -> None:
        bar = self.bars[event.bar_index]
        at_q = event.onset_t / self.ticks
        signs = _Signs.of(heads)
        grace = heads[0].grace
        duration_q = ZERO if grace else self._quarters(event.duration_t)
        beat, weight = self._place(bar, event.onset_t - self.onsets_t[bar.index])
        articulations = signs.articulations
        manner = self._manner(at_q) if self.manners else ""
        if manner in ("spiccato", "ricochet"):
            articulations |= {Articulation(manner)}
        if not grace and at_q in self.levels.accents:
            articulations |= {Articulation.SFORZANDO}
        gap_s = onset_s - (self.notes[-1].end_s if self.notes else 0.0)
        ends = event.end_t in self.section_ends_t or not articulations.isdisjoint(_PHRASE_ENDS)
        self.notes.append(
            Note(
                index=len(self.notes),
                id=heads[0].id,
                ids=signs.ids,
                bar_index=bar.index,
                bar=bar.number,
                beat=beat,
                metric_weight=weight,
                onset_q=Fraction(event.onset_t, self.ticks),
                duration_q=duration_q,
                onset_s=onset_s,
                duration_s=duration_s,
                pitches=self._sounding(signs.pitches),
                level_db=self.levels.level(at_q + event.duration_t / self.ticks / 2),
                dynamic=self.levels.dynamic(at_q),
                gap_before_s=gap_s if gap_s > 1e-6 else 0.0,
                beat_s=beat_s,
                in_hairpin=self.levels.hairpin_at(at_q),
                level_change_db=self.levels.change(at_q, at_q + event.duration_t / self.ticks)
                if self.levels.hairpins
                else 0.0,
                articulations=articulations,
                mark=signs.mark,
                slurred=slurred,
                pizzicato=signs.pizzicato or manner == "pizz",
                grace=grace,
                phrase_end=ends,
                fingerings=signs.fingerings,
                strings=signs.strings,
                open_string=signs.open_string,
            )
        )

    def _quarters(self, ticks: int) -> Fraction:
        """A duration in quarters; the same few come again and again."""
        known = self._durations.get(ticks)
        if known is None:
            known = self._durations[ticks] = Fraction(ticks, self.ticks)
        return known

    def _place(self, bar: Bar, in_bar_t: int) -> tuple[Fraction, float]:
        """Beat and metric weight of a moment in a bar."""
        key = self._bar_kinds[bar.index], in_bar_t
        known = self._places.get(key)
        if known is None:
            in_bar_q = Fraction(in_bar_t, self.ticks) + bar.pad_q
            weight = metric_weight(bar.metre, in_bar_q)
            known = self._places[key] = 1 + in_bar_q / bar.metre.unit_q, weight
        return known

    def _sounding(self, pitches: tuple[Pitch, ...]) -> tuple[Pitch, ...]:
        if not self.shift:
            return pitches
        return tuple(
            replace(p, transpose_semitones=p.transpose_semitones + self.shift) for p in pitches
        )

    def _manner(self, at_q: float) -> str:
        """How to play at a time, by the words before it: "pizz", "spiccato", "ricochet" or ""."""
        k = bisect.bisect_right(self.manners, at_q, key=lambda row: row[0])
        return self.manners[k - 1][1] if k else ""


_PHRASE_ENDS = {Articulation.BREATH, Articulation.FERMATA}


def _manners(directions: Sequence[tuple[float, RawDirection]]) -> list[tuple[float, str]]:
    found = []
    for at_q, d in sorted(directions, key=lambda pair: pair[0]):
        if d.kind == "words":
            found += [(at_q, name) for name, pattern in MANNERS if pattern.search(d.value)]
    return found


def _without_repeats(
    own: list[tuple[float, RawDirection]], others: list[tuple[float, RawDirection]]
) -> list[tuple[float, RawDirection]]:
    """Own directions, and those of other parts at times where this part says nothing."""
    taken = {(at_q, d.kind) for at_q, d in own}
    return own + [pair for pair in others if (pair[0], pair[1].kind) not in taken]


def _is_written_above(part: RawPart, own: Instrument, above: int) -> bool:
    """Whether a part can be written above its sound: not where it goes lower than such a part
    does, down to the low string or extension that some basses have below their lowest."""
    midis = [n.pitch.midi for m in part.measures for n in m.notes if n.pitch is not None]
    return min(midis, default=200) >= own.open_midis[0] + above - LOWER_STRING


def guess_for(part: RawPart) -> str | None:
    """The string instrument a raw part is for, or None."""
    midis = [n.pitch.midi for m in part.measures for n in m.notes if n.pitch is not None]
    if not midis:
        return None
    return guess_instrument(
        [part.name, *part.other_names],
        clef=part.clef,
        clef_octaves=part.clef_octaves,
        percussion=part.percussion,
        midi_program=part.midi_program,
        lowest_midi=min(midis),
    )
