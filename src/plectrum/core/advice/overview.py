"""A piece at a glance: range, fingers, dynamics, equal and tricky bars.

What a teacher reads off a page before planning anything. Weights of what makes a bar tricky are
own defaults; that crossings, hooks and quick changes do is common practice.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from plectrum.core.advice.passages import Passage, passages_of
from plectrum.core.advice.plan_warning import Severity
from plectrum.core.advice.warnings import warnings_of
from plectrum.core.document.choices import Join
from plectrum.core.instrument.hands import Hand
from plectrum.core.planning.fingering.grips import Finger
from plectrum.core.planning.plan import Plan
from plectrum.core.score.model import Note, Part, Pitch
from plectrum.core.wording import in_words, say, tr

TRICKY_SHOWN_N = 5
# How much each thing adds to a bar's difficulty (own defaults).
HOOK, LIFT, CROSSING, SKIP, SLUR_CROSSING = 3.0, 2.0, 0.7, 1.2, 1.0
FAST_NOTE, FOURTH, STRETCH, CAUTION, PROBLEM, DOUBLE = 0.5, 0.8, 1.2, 1.5, 3.0, 1.5
FAST_S = 0.3


@dataclass(frozen=True, slots=True)
class TrickyBar:
    """A bar that needs work, with what makes it hard in words. `note` is its first."""

    bar: int
    difficulty: float
    reasons: tuple[str, ...]
    note: int


@dataclass(frozen=True)
class Overview:
    """What the page says at a glance. Pitches are None in a piece without notes.

    Attributes:
        fingers: string name to the fingers used on it, from the lowest string.
        equal_bars: groups of bar indices that are the same in every note and sign.
        passages: runs of bars that come again, as they are or on other strings.
        longest_s: the longest note; longest_note its index.
    """

    lowest: Pitch | None
    highest: Pitch | None
    fingers: tuple[tuple[str, tuple[str, ...]], ...]
    softest: str
    loudest: str
    longest_s: float
    longest_note: int | None
    equal_bars: tuple[tuple[int, ...], ...]
    passages: tuple[Passage, ...]
    tricky: tuple[TrickyBar, ...]


def overview_of(plan: Plan) -> Overview:
    """The overview of a planned piece."""
    notes = plan.part.notes
    pitches = sorted((p for n in notes for p in n.pitches), key=lambda p: p.midi)
    by_level = sorted(notes, key=lambda n: n.level_db)
    longest = max(notes, key=lambda n: n.duration_s, default=None)
    equal = equal_bars(plan.part)
    return Overview(
        pitches[0] if pitches else None,
        pitches[-1] if pitches else None,
        finger_pattern(plan),
        by_level[0].dynamic if notes else "",
        by_level[-1].dynamic if notes else "",
        longest.duration_s if longest else 0.0,
        longest.index if longest else None,
        equal,
        passages_of(plan),
        tricky_bars(plan),
    )


def _notes_by_bar(part: Part) -> dict[int, list[Note]]:
    grouped: dict[int, list[Note]] = {}
    for note in part.notes:
        grouped.setdefault(note.bar_index, []).append(note)
    return grouped


def equal_bars(part: Part) -> tuple[tuple[int, ...], ...]:
    """Groups of two or more bars with the same notes, rhythm, slurs and signs."""
    grouped: dict[object, list[int]] = {}
    for bar, notes in _notes_by_bar(part).items():
        start_q = part.bars[bar].onset_q
        key = tuple(
            (n.onset_q - start_q, n.duration_q, n.pitches, n.slurred, n.articulations)
            for n in notes
        )
        grouped.setdefault((part.bars[bar].metre, key), []).append(bar)
    return tuple(tuple(bars) for bars in grouped.values() if len(bars) > 1)


def finger_words(finger: Finger, hand: Hand) -> str:
    """A finger as a teacher names it: "open", "low 2", "4 stretched", "2 in position 3"."""
    if finger.finger == 0:
        return tr("open", "string")
    if finger.position == 0:
        return say("{finger} in half position", finger=finger.finger)
    if finger.position != 1:
        return say(
            "{finger} in position {position}", finger=finger.finger, position=finger.position
        )
    if hand.words:
        return in_words(hand.words.get((finger.finger, finger.semitones), str(finger.finger)))
    return (
        say("{finger} stretched", finger=finger.finger) if finger.stretched else str(finger.finger)
    )


def finger_pattern(plan: Plan) -> tuple[tuple[str, tuple[str, ...]], ...]:
    """Which fingers come on which strings, each in order of pitch."""
    used: dict[int, dict[str, int]] = {}
    for fingered in plan.fingered:
        for finger in fingered.grip.fingers if fingered.grip is not None else ():
            words = finger_words(finger, plan.instrument.hand)
            used.setdefault(finger.string, {})[words] = finger.semitones
    names = plan.instrument.string_names
    return tuple(
        (names[string], tuple(sorted(words, key=lambda w: (words[w], w))))
        for string, words in sorted(used.items())
    )


def tricky_bars(plan: Plan) -> tuple[TrickyBar, ...]:
    """The hardest bars, hardest first; bars that are the same count once."""
    rows: dict[int, dict[str, float]] = {}
    for bar, notes in _notes_by_bar(plan.part).items():
        rows[bar] = _troubles(plan, notes)
    for warning in warnings_of(plan):
        if warning.note is None or warning.severity is Severity.NOTE:
            continue
        bar = plan.part.notes[warning.note].bar_index
        weight = PROBLEM if warning.severity is Severity.PROBLEM else CAUTION
        rows[bar][_short(warning.code)] += weight
    firsts = {bars[0]: set(bars[1:]) for bars in equal_bars(plan.part)}
    repeats = {bar for others in firsts.values() for bar in others}
    by_bar = _notes_by_bar(plan.part)
    ranked = sorted(
        ((sum(troubles.values()), bar) for bar, troubles in rows.items() if bar not in repeats),
        key=lambda row: (-row[0], row[1]),
    )
    usual = sum(total for total, _ in ranked) / max(1, len(ranked))
    return tuple(
        TrickyBar(
            plan.part.bars[bar].number,
            round(total, 2),
            tuple(sorted(rows[bar], key=lambda w: -rows[bar][w])[:3]),
            by_bar[bar][0].index,
        )
        for total, bar in ranked[:TRICKY_SHOWN_N]
        if total > 1.0 and total >= usual
    )


def _troubles(plan: Plan, notes: Sequence[Note]) -> dict[str, float]:
    """What makes a bar hard, and how much."""
    found: dict[str, float] = defaultdict(float)
    for note in notes:
        planned, fingered = plan.notes[note.index], plan.fingered[note.index]
        if planned is not None:
            if planned.join is Join.HOOK:
                found[tr("hook: stop, same way again")] += HOOK
            elif planned.join is Join.RETAKE:
                found[tr("lift and set down")] += LIFT
        if note.duration_s < FAST_S and not note.grace:
            found[tr("quick notes")] += FAST_NOTE
        if fingered.grip is not None:
            if any(f.finger == 4 for f in fingered.grip.fingers):
                found[tr("fourth finger")] += FOURTH
            if any(f.stretched for f in fingered.grip.fingers):
                found[tr("stretched finger")] += STRETCH
            if len(fingered.grip.fingers) > 1:
                found[tr("two strings at once")] += DOUBLE
    for before, after in pairwise(notes):
        _crossing(plan, before, after, found)
    return found


def _crossing(plan: Plan, before: Note, after: Note, found: dict[str, float]) -> None:
    a, b = plan.fingered[before.index].level, plan.fingered[after.index].level
    planned = plan.notes[after.index]
    if a is None or b is None or a == b:
        return
    apart = abs(a - b) / 2
    quick = min(2.0, FAST_S / max(before.duration_s, 0.05))
    if apart > 1:
        found[tr("a string is skipped")] += SKIP * quick
    elif planned is not None and planned.join is Join.SLUR:
        found[tr("string crossing in a slur")] += SLUR_CROSSING * quick
    else:
        found[tr("string crossings")] += CROSSING * quick


def _short(code: str) -> str:
    return {
        "slur_too_long": tr("a slur too long for one bow"),
        "too_slow": tr("a very slow bow"),
        "too_fast": tr("a very fast bow"),
        "too_quick": tr("many strokes a second"),
        "upside_down": tr("bars begin upside down"),
        "runs_out": tr("little bow left"),
        "pin_not_kept": tr("a pin that cannot be kept"),
        "place_not_kept": tr("a place that cannot be kept"),
        "mark_not_kept": tr("a mark that cannot be kept"),
        "not_learnt": tr("a bow stroke not learnt yet"),
        "slur_skips_string": tr("a string is skipped in a slur"),
        "not_on_instrument": tr("a note that cannot be played"),
    }.get(code, code.replace("_", " "))
