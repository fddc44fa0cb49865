"""An exercise as timed steps for one player, bow and instrument."""

from __future__ import annotations

import math
import re
from collections.abc import Iterator, Sequence

from plectrum.core.errors import ChoiceError
from plectrum.core.instrument.specification import Instrument
from plectrum.core.plain_text import one_line
from plectrum.core.planning.rules import CELLS_N
from plectrum.core.practice.care import CAUTION
from plectrum.core.practice.catalogue import Setting
from plectrum.core.practice.drills import Drill, DrillStep
from plectrum.core.practice.exercises.model import (
    MOST_STEPS,
    Exercise,
    Moves,
    Stroke,
    part_of_bow,
)

Pair = tuple[int, int]  # the lower and the higher string; twice the same where it is one
BRISK = 0.8  # of the player's fastest bow: an exercise asks for no quicker one (own default)


def drill_of(exercise: Exercise, setting: Setting) -> Drill:
    """The steps of an exercise.

    Raises:
        ChoiceError: its strings or its part of the bow are not there for this player, or it is
            longer than can be done in one go.
    """
    pairs = strings_of(exercise, setting.instrument)
    usable = setting.player.usable_from, setting.player.usable_to
    low, high = _in_time(exercise, setting, part_of_bow(exercise.part, setting.bow, usable))
    each_n = exercise.times * (len(exercise.strokes) + (exercise.look_beats > 0))
    if len(pairs) * each_n > MOST_STEPS:
        raise ChoiceError(
            f"{exercise.title} would have {len(pairs) * each_n} strokes",
            remedy="Ask for fewer times or strings",
        )
    steps = [s for pair in pairs for s in _on_strings(exercise, setting, pair, low, high)]
    stop = f" Stop when: {exercise.stop}." if exercise.stop else ""
    return Drill(exercise.title, tuple(steps), CAUTION, f"{exercise.what}{stop}", exercise.good)


def _in_time(
    exercise: Exercise, setting: Setting, part: tuple[float, float]
) -> tuple[float, float]:
    """The part of the bow, on whole cells; less of it about its middle where its strokes would be
    quicker than this player draws them well."""
    low, high = (math.ceil(part[0] * CELLS_N - 1e-6), math.floor(part[1] * CELLS_N + 1e-6))
    beat_s = exercise.counts * 60.0 / exercise.bpm
    shares = [abs(s.end - s.start) / (s.beats * beat_s) for s in exercise.strokes if s.way]
    quickest = max(shares, default=0.0) * (high - low) / CELLS_N * setting.bow.hair_mm
    limit = BRISK * setting.player.fastest_mm_s
    if quickest > limit:
        cells = max(2, math.floor((high - low) * limit / quickest))
        low = (low + high - cells) // 2
        high = low + cells
    return low / CELLS_N, high / CELLS_N


def _on_strings(
    exercise: Exercise, setting: Setting, pair: Pair, low: float, high: float
) -> Iterator[DrillStep]:
    """All times on one string or pair, counted."""
    beat_s = 60.0 / exercise.bpm
    for time in range(1, exercise.times + 1):
        for k, stroke in enumerate(exercise.strokes):
            count = str(time) if k == 0 and exercise.times > 1 else ""
            yield _step(exercise, setting, stroke, pair, (low, high), count)
        if exercise.look_beats:
            seconds = exercise.look_beats * beat_s
            level = 2 * pair[0] + 1
            yield DrillStep(exercise.look_word, seconds, level, word=exercise.look_word)


def _step(
    exercise: Exercise,
    setting: Setting,
    stroke: Stroke,
    pair: Pair,
    part: tuple[float, float],
    count: str,
) -> DrillStep:
    low, high = part
    string = pair[stroke.string]
    start, end = (low + share * (high - low) for share in (stroke.start, stroke.end))
    seconds = stroke.beats * exercise.counts * 60.0 / exercise.bpm
    words = [w for w in (count, stroke.word) if w]
    name = setting.instrument.string_names[string]
    if stroke.way is None and exercise.moves is Moves.SOUND:  # the bow waits where it is
        text = f"{name} string: {stroke.word or 'wait'}"
        return DrillStep(text, seconds, 2 * string + 1, word=" ".join(words))
    says = stroke.word or (str(stroke.way) if stroke.way is not None else "wait")
    return DrillStep(
        f"{name} string: {says}", seconds, 2 * string + 1, stroke.way, start, end, " ".join(words)
    )


def strings_of(exercise: Exercise, own: Instrument) -> list[Pair]:
    """The strings or pairs in the order in which they come.

    Raises:
        ChoiceError: the instrument has no such string, or the strings named are no pair.
    """
    every = range(own.strings_n)
    if exercise.strings == "each":
        found: list[Pair] = [(k, k) for k in every]
    elif exercise.strings == "pairs":
        found = [(k, k + 1) for k in every[:-1]]
    else:
        found = [_named(text, own) for text in re.split(r"[,;]\s*", exercise.strings.strip())]
    two = any(stroke.string for stroke in exercise.strokes)
    if two and any(a == b for a, b in found):
        raise ChoiceError(
            f"{exercise.title} goes over two strings", remedy="Name pairs such as G-D, or pairs"
        )
    named = exercise.strings not in ("each", "pairs")  # in the order in which they are named
    return _ordered(found, "up" if named and exercise.order == "down" else exercise.order)


def _ordered(pairs: Sequence[Pair], order: str) -> list[Pair]:
    if order == "down":
        return list(reversed(pairs))
    back = list(reversed(pairs))[1:] if order == "up and back" else []
    return [*pairs, *back]


def _named(text: str, own: Instrument) -> Pair:
    names = [name.strip().upper() for name in text.split("-")]
    places = {name.upper(): k for k, name in enumerate(own.string_names)}
    if not 1 <= len(names) <= 2 or not set(names) <= set(places):
        raise ChoiceError(
            f"the {own.name} has no string {one_line(text.strip(), 20)!r}",
            remedy=f"Name {', '.join(own.string_names)}, or neighbours such as "
            f"{own.string_names[0]}-{own.string_names[1]}",
        )
    first, last = places[names[0]], places[names[-1]]
    if abs(first - last) > 1:
        raise ChoiceError(f"{text.strip()} are no neighbours", remedy="Name neighbouring strings")
    return min(first, last), max(first, last)
