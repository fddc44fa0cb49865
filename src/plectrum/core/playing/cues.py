"""What is said aloud while a tune is played: counts, lifts, the same way again, whose turn.

A cue is a word and its time. The words are the names of the recordings that are shipped.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

from plectrum.core.document.choices import Join
from plectrum.core.playing.performance import Performance, PlayedNote
from plectrum.core.wording import say

NAMED_S = 0.9  # what saying a section takes (own default)
ORDINALS = {2: "second-time", 3: "third-time"}


@dataclass(frozen=True, slots=True)
class Cue:
    """A word, and when its first sample is heard, in seconds from the first click.

    Attributes:
        text: as it is shown, where that is not the word itself.
    """

    at_s: float
    word: str
    text: str = ""


def tune_cues(performance: Performance) -> tuple[Cue, ...]:
    """The cues of a performance in the order of time: the count-in, sections, lifts, stops with the
    same way again, second times, and whose turn it is."""
    cues = [*_count_in(performance), *_turns(performance), *_joins(performance),
            *_sections(performance)]  # fmt: skip
    return tuple(sorted(cues, key=lambda cue: cue.at_s))


def _count_in(performance: Performance) -> Iterator[Cue]:
    """Each bar of the count-in is counted from one."""
    number = 0
    for beat in performance.beats:
        if beat.count_in:
            number = 1 if beat.strong else number + 1
            yield Cue(beat.at_s, str(number))


def _turns(performance: Performance) -> Iterator[Cue]:
    begins = {from_q for from_q, _ in performance.rehearsal.echoes}
    for played in performance.notes:
        if played.note.onset_q in begins:
            yield Cue(played.onset_s, "now-you")
    for turn in performance.turns:
        if turn.answering:
            yield Cue(turn.start_s, "now-you")
        elif turn.time in ORDINALS:
            yield Cue(turn.start_s, ORDINALS[turn.time])


def _sections(performance: Performance) -> Iterator[Cue]:
    """A section is called so many beats before it begins that its name can be said; the one that
    is begun with is not."""
    asked = performance.rehearsal
    names = dict(zip(asked.sections, asked.names, strict=False))
    for k, played in enumerate(performance.notes):
        name = names.get(played.note.onset_q, "")
        if not k or len(name) != 1:
            continue
        beat_s = performance.beat_s(played.note)
        ahead_s = math.ceil(NAMED_S / beat_s) * beat_s
        if played.onset_s - ahead_s >= performance.music_s:
            yield Cue(
                played.onset_s - ahead_s,
                f"section-{name.lower()}",
                say("section {name}", name=name),
            )


def _joins(performance: Performance) -> Iterator[Cue]:
    """A lift is said as the note before it ends; the same way again where its note begins."""
    before: PlayedNote | None = None
    for played in performance.notes:
        if before is not None and before.planned is not None and played.planned is not None:
            if played.join is Join.RETAKE and before.turn == played.turn:
                yield Cue(before.moved_s, "lift")
            elif played.join is Join.HOOK:
                yield Cue(played.onset_s, "same")
        before = played
