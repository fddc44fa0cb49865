"""From what stands in the measures to the notes a bow plays, in order."""

from __future__ import annotations

import itertools
import re
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from fractions import Fraction

from plectrum.core.score.instruments import guess_instrument
from plectrum.core.score.metre import metric_weight
from plectrum.core.score.model import Articulation, Bar, Direction, Note, Part, Pitch, TempoClock
from plectrum.core.score.raw import RawDirection, RawMeasure, RawNote, RawPart
from plectrum.core.score.timeline import LevelCurve, build_tempo

ZERO = Fraction(0)
GRACE_S = 0.12  # own default: what a grace note takes from its main note, at most
GRACE_SHARE = 0.25  # and at most this share of it
PIZZ = re.compile(r"\bpizz", re.I)
ARCO = re.compile(r"\barco\b", re.I)


@dataclass(slots=True)
class _Event:
    """A note or chord while ties, slurs and graces are being sorted out."""

    bar_index: int
    onset_q: Fraction
    duration_q: Fraction
    heads: list[RawNote]
    graces: list[RawNote] = field(default_factory=list)
    slurred: bool = False

    @property
    def end_q(self) -> Fraction:
        return self.onset_q + self.duration_q

    def midis(self) -> set[int]:
        return {h.pitch.midi for h in self.heads if h.pitch is not None}


def bar_lengths(parts: Sequence[RawPart]) -> list[Fraction]:
    """Length of every measure: the longest content of any part, or the metre if all are empty."""
    count = max(len(p.measures) for p in parts)
    lengths = []
    for k in range(count):
        measures = [p.measures[k] for p in parts if k < len(p.measures)]
        content = max((m.content_q for m in measures), default=ZERO)
        lengths.append(content if content > 0 else measures[0].metre.length_q)
    return lengths


def build_bars(measures: Sequence[RawMeasure], lengths: Sequence[Fraction]) -> tuple[Bar, ...]:
    """Bars with printed numbers and with the beats a short bar is missing in front."""
    bars: list[Bar] = []
    onset_q = ZERO
    for k, (measure, length_q) in enumerate(zip(measures, lengths, strict=False)):
        digits = re.search(r"\d+", measure.number)
        number = int(digits.group()) if digits else k + 1
        if measure.implicit or not measure.number.isdigit():
            number = bars[-1].number if bars else 0
        missing_q = measure.metre.length_q - length_q
        completes = bool(bars) and bars[-1].pad_q == 0 and bars[-1].duration_q == missing_q
        short_before = bool(bars) and bars[-1].duration_q < bars[-1].metre.length_q
        pad_q = missing_q if missing_q > 0 and (k == 0 or (completes and short_before)) else ZERO
        bars.append(
            Bar(
                k,
                number,
                onset_q,
                length_q,
                measure.metre,
                pad_q,
                measure.repeat_start,
                measure.repeat_end,
                measure.endings,
                measure.section_end or measure.repeat_end > 0,
            )
        )
        onset_q += length_q
    return tuple(bars)


def _line_of(measure: RawMeasure) -> tuple[list[RawNote], int]:
    """The notes one bow plays in a measure, and how many of other voices were left out.

    The voice that sounds longest leads; notes of other voices join where they start with
    it or where it rests.
    """
    sounding = [n for n in measure.notes if n.pitch is not None]
    voices = {n.voice for n in sounding}
    if len(voices) <= 1:
        return sounding, 0
    weight: Counter[tuple[int, str]] = Counter()
    for n in sounding:
        weight[n.voice] += int(n.duration_q * 960)
    lead = min(voices, key=lambda v: (-weight[v], v))
    kept = [n for n in sounding if n.voice == lead]
    left_out = 0
    for n in sounding:
        if n.voice == lead or (n.grace and n.voice != lead):
            continue
        end_q = n.offset_q + n.duration_q
        same = [m for m in kept if m.offset_q == n.offset_q and not m.grace]
        if same or all(
            m.offset_q >= end_q or m.offset_q + m.duration_q <= n.offset_q for m in kept
        ):
            kept.append(n)
        else:
            left_out += 1
    return kept, left_out


def _gather(part: RawPart, bars: Sequence[Bar]) -> tuple[list[_Event], int]:
    """Chords put together, graces hung on the note they lead to."""
    events: list[_Event] = []
    waiting: list[RawNote] = []
    left_out = 0
    for bar, measure in zip(bars, part.measures, strict=False):
        notes, dropped = _line_of(measure)
        left_out += dropped
        order = sorted(range(len(notes)), key=lambda k: (notes[k].offset_q, not notes[k].grace, k))
        for k in order:
            n = notes[k]
            if n.grace:
                waiting.append(n)
                continue
            onset_q = bar.onset_q + n.offset_q
            if events and events[-1].onset_q == onset_q:
                events[-1].heads.append(n)
                events[-1].duration_q = max(events[-1].duration_q, n.duration_q)
                continue
            events.append(_Event(bar.index, onset_q, n.duration_q, [n], waiting))
            waiting = []
    for before, after in itertools.pairwise(events):
        before.duration_q = min(before.duration_q, after.onset_q - before.onset_q)
    return events, left_out


def _merge_ties(events: list[_Event]) -> list[_Event]:
    merged: list[_Event] = []
    open_ends: set[int] = set()
    for event in events:
        last = merged[-1] if merged else None
        tied = {h.pitch.midi for h in event.heads if h.tie_stop and h.pitch is not None}
        tied &= open_ends
        joins = last is not None and bool(tied) and last.end_q == event.onset_q and not event.graces
        open_ends = {h.pitch.midi for h in event.heads if h.tie_start and h.pitch is not None}
        if joins and last is not None and tied == event.midis():
            last.heads.extend(event.heads)
            last.duration_q += event.duration_q
            continue
        event.slurred = joins
        merged.append(event)
    return merged


def _mark_slurs(events: list[_Event]) -> int:
    """Set `slurred` on every event a closed slur reaches; return how many never closed."""
    opened: dict[str, int] = {}
    lost = 0
    for k, event in enumerate(events):
        heads = [*event.graces, *event.heads]
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


class PartBuilder:
    """Turns one raw part into a `Part`."""

    def __init__(
        self, parts: Sequence[RawPart], chosen: RawPart, instrument: str | None, name: str
    ) -> None:
        self.raw = chosen
        self.name = name
        self.bars = build_bars(chosen.measures, bar_lengths(parts))
        end_q = self.bars[-1].onset_q + self.bars[-1].duration_q if self.bars else ZERO
        self.instrument = instrument or guess_for(chosen)
        own = self._timed(chosen)
        others = [d for p in parts if p is not chosen for d in self._timed(p)]
        tempo_of_others = [d for d in others if d[1].kind in ("tempo", "words")]
        self.tempo = build_tempo(_without_repeats(own, tempo_of_others), end_q)
        self.levels = LevelCurve(own, end_q)
        self.plucks = _plucks(own)
        self.clock = TempoClock(self.tempo)
        # A bass part without transposition is written an octave above its sound (standard).
        self.shift = -12 if self.instrument == "bass" and self._sounds_as_written() else 0

    def _sounds_as_written(self) -> bool:
        return not self.raw.transposed and self.raw.clef_octaves == 0

    def _timed(self, part: RawPart) -> list[tuple[Fraction, RawDirection]]:
        timed = [
            (bar.onset_q + d.offset_q, d)
            for bar, measure in zip(self.bars, part.measures, strict=False)
            for d in measure.directions
        ]
        timed += [
            (bar.onset_q + n.offset_q, RawDirection(n.offset_q, "dynamic", value))
            for bar, measure in zip(self.bars, part.measures, strict=False)
            for n in measure.notes
            for value in n.dynamics
        ]
        return timed

    def build(self) -> Part:
        events, left_out = _gather(self.raw, self.bars)
        events = _merge_ties(events)
        lost_slurs = _mark_slurs(events)
        notes: list[Note] = []
        for event in events:
            self._append(notes, event)
        notices = []
        if left_out:
            notices.append(f"{left_out} notes of a second voice are not planned")
        if lost_slurs:
            notices.append(f"{lost_slurs} slurs have no end and were left out")
        return Part(
            self.raw.id,
            self.name,
            self.instrument,
            self.bars,
            self._with_gaps(notes),
            self.tempo,
            tuple(notices),
        )

    def _append(self, notes: list[Note], event: _Event) -> None:
        bar = self.bars[event.bar_index]
        onset_s = self.clock.seconds(event.onset_q)
        end_s = self.clock.seconds(event.end_q)
        beat_q = bar.metre.beat_q
        beat_s = (end_s - onset_s) / float(event.duration_q) * float(beat_q)
        base = Note(
            index=len(notes),
            id=event.heads[0].id,
            ids=tuple(h.id for h in event.heads),
            bar_index=bar.index,
            bar=bar.number,
            beat=bar.beat_of(event.onset_q),
            metric_weight=metric_weight(bar.metre, event.onset_q - bar.onset_q + bar.pad_q),
            onset_q=event.onset_q,
            duration_q=event.duration_q,
            onset_s=onset_s,
            duration_s=end_s - onset_s,
            beat_s=beat_s,
            pitches=(),
            level_db=self.levels.level(event.onset_q + event.duration_q / 2),
            dynamic=self.levels.dynamic(event.onset_q),
            in_hairpin=self.levels.hairpin_at(event.onset_q),
            slurred=event.slurred,
            pizzicato=self._plucked(event.onset_q),
        )
        graces_s = 0.0
        if event.graces:
            each_s = min(GRACE_S, GRACE_SHARE * base.duration_s / len(event.graces))
            for k, grace in enumerate(event.graces):
                note = self._with_heads(
                    replace(
                        base,
                        index=len(notes),
                        id=grace.id,
                        ids=(grace.id,),
                        duration_q=ZERO,
                        onset_s=onset_s + k * each_s,
                        duration_s=each_s,
                        grace=True,
                        slurred=event.slurred if k == 0 else True,
                    ),
                    [grace],
                )
                notes.append(note)
                graces_s += each_s
            base = replace(
                base,
                index=len(notes),
                onset_s=onset_s + graces_s,
                duration_s=base.duration_s - graces_s,
                slurred=True,
            )
        notes.append(self._with_heads(base, event.heads))

    def _with_heads(self, note: Note, heads: Sequence[RawNote]) -> Note:
        first = [h for h in heads if h.offset_q == heads[0].offset_q]
        pitches: dict[int, Pitch] = {}
        for head in heads:
            if head.pitch is not None:
                pitch = replace(
                    head.pitch, transpose_semitones=head.pitch.transpose_semitones + self.shift
                )
                pitches[pitch.midi] = pitch
        articulations = {a for h in heads for a in h.articulations}
        if note.onset_q in self.levels.accents and not note.grace:
            articulations.add(Articulation.ACCENT)
        ends = {Articulation.BREATH, Articulation.FERMATA}
        return replace(
            note,
            pitches=tuple(pitches[m] for m in sorted(pitches)),
            articulations=frozenset(articulations),
            mark=_mark(heads),
            pizzicato=note.pizzicato or any(h.pizzicato for h in heads),
            phrase_end=bool(ends & articulations),
            fingerings=tuple(f for h in first for f in h.fingerings),
            strings=tuple(s for h in first for s in h.strings),
            open_string=any(h.open_string for h in first),
        )

    def _plucked(self, at_q: Fraction) -> bool:
        plucked = False
        for from_q, state in self.plucks:
            if from_q > at_q:
                break
            plucked = state
        return plucked

    def _with_gaps(self, notes: list[Note]) -> tuple[Note, ...]:
        section_ends = {
            b.onset_q + b.duration_q for b in self.bars if b.section_end and b.repeat_end == 0
        }
        out: list[Note] = []
        for note in notes:
            gap_s = note.onset_s - out[-1].end_s if out else note.onset_s
            ends = note.phrase_end or note.end_q in section_ends
            out.append(replace(note, gap_before_s=gap_s if gap_s > 1e-6 else 0.0, phrase_end=ends))
        return tuple(out)


def _mark(heads: Sequence[RawNote]) -> Direction | None:
    return next((h.mark for h in heads if h.mark is not None), None)


def _plucks(directions: Sequence[tuple[Fraction, RawDirection]]) -> list[tuple[Fraction, bool]]:
    found = []
    for at_q, d in sorted(directions, key=lambda pair: pair[0]):
        if d.kind == "words" and PIZZ.search(d.value):
            found.append((at_q, True))
        elif d.kind == "words" and ARCO.search(d.value):
            found.append((at_q, False))
    return found


def _without_repeats(
    own: list[tuple[Fraction, RawDirection]], others: list[tuple[Fraction, RawDirection]]
) -> list[tuple[Fraction, RawDirection]]:
    """Own directions, and those of other parts at times where this part says nothing."""
    taken = {(at_q, d.kind) for at_q, d in own}
    return own + [pair for pair in others if (pair[0], pair[1].kind) not in taken]


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
