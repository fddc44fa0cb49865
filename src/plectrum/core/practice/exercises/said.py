"""What is said while an exercise is done: the string, the time, the word, and the counts.

A step says its string where it is a new one, else which time it is, then its own word; the beats
inside it are counted from two. Words for which there is no recording are shown only.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence

from plectrum.core.instrument.specification import string_words
from plectrum.core.playing.cues import Cue
from plectrum.core.practice.exercises.drill_music import Written
from plectrum.core.practice.exercises.drills import DrillStep

MOST_COUNTED = 20
HALF_BEAT_S = 0.45  # two words fit into a beat whose halves are as long as this (own default)
_TOGETHER = (  # recorded as one
    "little finger", "ring finger", "middle finger", "index finger", "balance point", "let go",
    "now you", "eyes closed",
)  # fmt: skip


def said_in_steps(
    rows: Sequence[Written], music_s: float, beat_s: float, string_names: Sequence[str]
) -> Iterator[Cue]:
    """The cues of all steps in the order of time."""
    for row in rows:
        at_s = music_s + float(row.at_q) * beat_s
        beats = float(row.length_q)
        words = [*_lead(row.step, string_names), *_words(row.step, string_names)]
        counted = beats if not row.step.late else 0.0  # what is called stays to be read
        yield from _laid(words, at_s, beats, beat_s, counted)


def _lead(step: DrillStep, names: Sequence[str]) -> list[tuple[str, str]]:
    """The string where it is new, else which time it is; a call says its string itself."""
    if step.late:
        return []
    if step.new_string and step.level is not None and step.level % 2:
        name = names[step.level // 2]
        return [(f"{name.lower()}-string", string_words(name))]
    if step.count and int(step.count) <= MOST_COUNTED:
        return [(step.count, step.count)]
    return []


def _words(step: DrillStep, names: Sequence[str]) -> list[tuple[str, str]]:
    """The recordings of its word with the texts to show; a called string is said as one."""
    text = step.word
    if step.late:
        parts = text.split(" and ")
        return [(f"{part.lower()}-string", f"{part}{' string' * (len(parts) == 1)}"
                 if k == 0 else f"and {part}") for k, part in enumerate(parts)]  # fmt: skip
    if not text:
        return []
    for phrase in _TOGETHER:
        text = text.replace(phrase, phrase.replace(" ", "-"))
    return [(word.lower(), word.replace("-", " ")) for word in re.findall(r"[\w-]+", text)]


def _laid(
    words: Sequence[tuple[str, str]], at_s: float, beats: float, beat_s: float, counted: float
) -> Iterator[Cue]:
    """Words on the beats, or half beats where a beat is long enough; then the counts."""
    step = 0.5 if beat_s / 2 >= HALF_BEAT_S and beats < len(words) else 1.0
    taken, at = 0.0, 0.0
    for word, text in words:
        if at >= beats and at:
            break
        yield Cue(at_s + at * beat_s, word, text)
        taken, at = at, at + step
    count = int(taken) + 1 if words else 1
    while count < counted - 1e-9 and count < MOST_COUNTED:
        yield Cue(at_s + count * beat_s, str(count + 1))
        count += 1
