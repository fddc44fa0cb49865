"""How often an exercise is done, with its counts, and how it grows, in words."""

from __future__ import annotations

from plectrum.core.practice.exercises.drills import Moves
from plectrum.core.practice.exercises.model import Exercise, Stroke

MOST_SAID = 6  # more strokes than that are only counted


def how_many_words(exercise: Exercise) -> str:
    """How often and with which counts: "10 times on each string: frog, tip, 2 counts each"."""
    often = {1: "once", 2: "twice"}.get(exercise.times, f"{exercise.times} times")
    where = {
        "each": " on each string", "pairs": " on each pair of strings", "levels": "", "none": "",
    }.get(exercise.strings, f" on {exercise.strings}")  # fmt: skip
    if exercise.order == "random" or exercise.spread:
        where = ""
    if exercise.pace != "counts":
        return f"{often}{where}"
    rows = [(_word(exercise, s), s.beats) for s in exercise.strokes]
    if exercise.look_beats:
        rows.append((exercise.look_word, exercise.look_beats))
    beats = {each for _, each in rows}
    words = ", ".join(word for word, _ in rows)
    if len(rows) > MOST_SAID:
        sounds = any(stroke.way is not None for stroke in exercise.strokes)
        words = f"{len(rows)} {'strokes' if sounds else 'steps'}"
    if len(beats) == 1:
        return f"{often}{where}: {words}, {_counts(beats.pop())} each"
    if len(rows) > MOST_SAID:
        return f"{often}{where}: {words}"
    return f"{often}{where}: " + ", ".join(f"{word} for {each:g}" for word, each in rows)


def _word(exercise: Exercise, stroke: Stroke) -> str:
    silent = {Moves.ROLL: "roll", Moves.CARRY: "set down"}.get(exercise.moves, "wait")
    word = stroke.word.replace(",", "") or str(stroke.way or silent)
    return f"“{word}”" if word.isdigit() else word


def _counts(beats: float) -> str:
    return "half a count" if beats == 0.5 else f"{beats:g} count{'s' * (beats != 1)}"


def amount_words(exercise: Exercise) -> str:
    """What grows, as it is today: "the hand 52 mm above the frog", "11 times"."""
    field = exercise.grows.field if exercise.grows is not None else ""
    if field == "hand_mm":
        at = f"{exercise.hand_mm:.0f} mm above the frog" if exercise.hand_mm else "at the frog"
        return f"the hand {at}"
    if field == "height_mm":
        return f"from {exercise.height_mm:.0f} mm"
    if field == "times":
        return f"{exercise.times} times"
    return f"{exercise.bpm / exercise.counts:.0f} beats a minute" if field else ""


def growth_words(exercise: Exercise) -> str:
    """How it grows from day to day: "1 more every day it went well, up to 15"."""
    grows = exercise.grows
    if grows is None:
        return ""
    day = "every day it went well"
    by, most = abs(grows.by), grows.most
    if grows.field == "hand_mm":
        return f"{by:.0f} mm lower {day}, down to the frog"
    if grows.field == "height_mm":
        return f"{by:.0f} mm higher {day}, up to {most:.0f} mm"
    if grows.field == "times":
        return f"{by:g} more {day}, up to {most:g}"
    if grows.field == "bpm":
        return f"{by:g} beats a minute quicker {day}, up to {most:g}"
    return f"slower {day}, down to {exercise.bpm / most:.0f} beats a minute"
