"""From what stands in the measures to the notes a bow plays, in order."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction
from itertools import accumulate

from plectrum.core.instrument.specification import TABLE, Instrument
from plectrum.core.score.bars import bar_lengths, build_bars, signs_by_bar
from plectrum.core.score.events import Event, Signs, gather, mark_slurs, merge_ties
from plectrum.core.score.instruments import guess_instrument
from plectrum.core.score.left_out import SLURS
from plectrum.core.score.manners import LANES, MANNERS, PARTS, Said
from plectrum.core.score.metre import metric_weight
from plectrum.core.score.model import Articulation, Bar, Metre, Note, Part, Pitch, TempoClock
from plectrum.core.score.playing_order import bars_before, last_before, skips_s
from plectrum.core.score.raw import RawDirection, RawNote, RawPart
from plectrum.core.score.simile import carried_on
from plectrum.core.score.timeline import LevelCurve, build_tempo

LOWER_STRING = 5  # semitones that a fifth string or an extension lies below the lowest

ZERO = Fraction(0)
TREMOLO_PART = "upper-half"  # between the middle and the tip (common practice)
GRACE_S = 0.12  # own default: what a grace note takes from its main note, at most
GRACE_SHARE = 0.25  # and at most this share of it
_TEMPO_KINDS = ("tempo", "modulation", "words", "fermata")  # what other parts say for all


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
        own = self._said = self._timed(chosen)
        others = [d for p in parts if p is not chosen for d in self._timed(p)]
        tempo_of_others = [d for d in others if d[1].kind in _TEMPO_KINDS]
        self.tempo = build_tempo(_without_repeats(own, tempo_of_others), end_q)
        self.levels = LevelCurve(own, end_q)
        self.manners, self.lanes, self.bow_parts = (
            Said(own, kinds) for kinds in (MANNERS, LANES, PARTS)
        )
        self.clock = TempoClock(self.tempo)
        self._before = bars_before(self.bars)
        self._skipped_s = skips_s(self.bars, self._before, self.clock)
        self._last_of: dict[int, int] = {}  # the last note of every bar
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
        """Directions with their times in quarters; dynamics and fermatas at notes count as such."""
        timed = []
        for bar_t, measure in zip(self.onsets_t, part.measures, strict=False):
            found = list(measure.directions)
            for n in measure.notes:
                found += [RawDirection(n.offset_t, "dynamic", value) for value in n.dynamics]
                if Articulation.FERMATA in n.articulations and not n.grace and not n.chord:
                    length_q = n.duration_t / self.ticks
                    found.append(RawDirection(n.offset_t, "fermata", number=length_q))
            timed += [((bar_t + d.offset_t) / self.ticks, d) for d in found]
        return timed

    def build(self) -> Part:
        left_out = self.raw.left_out.copy()
        events = merge_ties(gather(self.raw, self.onsets_t, left_out))
        left_out.count(SLURS, self.raw.measures[0].number, mark_slurs(events))
        for event in events:
            self._append(event)
        return Part(
            self.raw.id,
            self.name,
            self.instrument,
            self.bars,
            tuple(carried_on(self.notes, self.bars, self._said)),
            self.tempo,
            left_out.lines,
        )

    def _append(self, event: Event) -> None:
        """Add an event's notes: its graces, then itself with what time they leave it."""
        onset_s = self.clock.seconds(event.onset_t / self.ticks)
        end_s = self.clock.seconds(event.end_t / self.ticks)
        slurred = event.slurred
        beat_q = self._beats_q[self._bar_kinds[event.bar_index]]
        beat_s = (end_s - onset_s) * self.ticks / event.duration_t * beat_q
        graces = _together(event.graces)
        if graces:
            each_s = min(GRACE_S, GRACE_SHARE * (end_s - onset_s) / len(graces))
            for grace in graces:
                self._add(event, grace, onset_s, each_s, beat_s, slurred)
                onset_s += each_s
                slurred = True
        self._add(event, event.heads, onset_s, end_s - onset_s, beat_s, slurred)

    def _add(
        self,
        event: Event,
        heads: Sequence[RawNote],
        onset_s: float,
        duration_s: float,
        beat_s: float,
        slurred: bool,
    ) -> None:
        bar = self.bars[event.bar_index]
        at_q = event.onset_t / self.ticks
        signs = Signs.of(heads, event.held if heads is event.heads else ())
        grace = heads[0].grace
        duration_q = ZERO if grace else self._quarters(event.duration_t)
        beat, weight = self._place(bar, event.onset_t - self.onsets_t[bar.index])
        articulations, tremolo = signs.articulations, signs.stroke_q
        manner = self.manners.at(at_q)
        if manner in ("spiccato", "ricochet"):
            articulations |= {Articulation(manner)}
        if not grace and at_q in self.levels.accents:
            articulations |= {Articulation.SFORZANDO}
        gap_s = self._gap_s(bar, onset_s)
        ends = event.end_t in self.section_ends_t or not articulations.isdisjoint(_PHRASE_ENDS)
        self._last_of[bar.index] = len(self.notes)
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
                written_lane=int(self.lanes.at(at_q) or 0),
                written_part=self.bow_parts.at(at_q) or ("" if tremolo is None else TREMOLO_PART),
                stroke_q=tremolo,
            )
        )

    def _gap_s(self, bar: Bar, onset_s: float) -> float:
        """Seconds between a note and the end of the one that is played before it."""
        last, at = len(self.notes) - 1, bar.index
        if last < 0 or self.notes[last].bar_index != at:
            last = last_before(at, self._before, self._last_of)
        if last < 0:
            return onset_s
        came = self.notes[last]
        return onset_s - self._skipped_s[at] - came.end_s + self._skipped_s[came.bar_index]

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


def _together(graces: Sequence[RawNote]) -> list[list[RawNote]]:
    """Grace notes in order, double stops as one."""
    found: list[list[RawNote]] = []
    for grace in graces:
        if grace.chord and found:
            found[-1].append(grace)
        else:
            found.append([grace])
    return found


_PHRASE_ENDS = {Articulation.BREATH, Articulation.FERMATA}


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
