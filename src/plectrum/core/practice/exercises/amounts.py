"""How often an exercise is done, with its counts, and how it grows, in words."""

from __future__ import annotations

from plectrum.core.practice.exercises.drills import Moves
from plectrum.core.practice.exercises.model import Exercise, Stroke
from plectrum.core.wording import in_words, say, several, tr

MOST_SAID = 6  # more strokes than that are only counted


def how_many_words(exercise: Exercise) -> str:
    """How often and with which counts: "10 times on each string: frog, tip, 2 counts each"."""
    often = {1: tr("once"), 2: tr("twice")}.get(exercise.times) or _times(exercise)
    where = {
        "each": tr("on each string"), "pairs": tr("on each pair of strings"), "levels": "",
        "none": "",
    }.get(exercise.strings, say("on {strings}", strings=exercise.strings))  # fmt: skip
    if where and exercise.order != "random" and not exercise.spread:
        often = say("{often} {where}", often=often, where=where)
    if exercise.pace != "counts":
        return often
    rows = [(_word(exercise, s), s.beats) for s in exercise.strokes]
    if exercise.look_beats:
        rows.append((in_words(exercise.look_word), exercise.look_beats))
    beats = {each for _, each in rows}
    words = ", ".join(word for word, _ in rows)
    if len(rows) > MOST_SAID:
        sounds = any(stroke.way is not None for stroke in exercise.strokes)
        n = len(rows)
        words = (
            several("{n} stroke", "{n} strokes", n)
            if sounds
            else several("{n} step", "{n} steps", n)
        )
    if len(beats) == 1:
        return say(
            "{often}: {words}, {counts} each",
            often=often,
            words=words,
            counts=_counts(beats.pop()),
        )
    if len(rows) > MOST_SAID:
        return f"{often}: {words}"
    return f"{often}: " + ", ".join(
        say("{word} for {each:g}", word=word, each=each) for word, each in rows
    )


def _word(exercise: Exercise, stroke: Stroke) -> str:
    silent = {Moves.ROLL: tr("roll"), Moves.CARRY: tr("set down")}.get(exercise.moves, tr("wait"))
    word = in_words(stroke.word).replace(",", "") or (
        in_words(stroke.way) if stroke.way else silent
    )
    return f"“{word}”" if word.isdigit() else word


def _times(exercise: Exercise) -> str:
    return several("{n} time", "{n} times", exercise.times)


def _counts(beats: float) -> str:
    return tr("half a count") if beats == 0.5 else several("{n:g} count", "{n:g} counts", beats)


def amount_words(exercise: Exercise) -> str:
    """What grows, as it is today: "the hand 52 mm above the frog", "11 times"."""
    field = exercise.grows.field if exercise.grows is not None else ""
    if field == "hand_mm":
        at = (
            say("{hand_mm:.0f} mm above the frog", hand_mm=exercise.hand_mm)
            if exercise.hand_mm
            else tr("at the frog")
        )
        return say("the hand {at}", at=at)
    if field == "height_mm":
        return say("from {height_mm:.0f} mm", height_mm=exercise.height_mm)
    if field == "times":
        return _times(exercise)
    return say("{bpm:.0f} beats a minute", bpm=exercise.bpm / exercise.counts) if field else ""


def growth_words(exercise: Exercise) -> str:
    """How it grows from day to day: "1 more every day it went well, up to 15"."""
    grows = exercise.grows
    if grows is None:
        return ""
    day = tr("every day it went well")
    by, most = abs(grows.by), grows.most
    if grows.field == "hand_mm":
        return say("{by:.0f} mm lower {day}, down to the frog", by=by, day=day)
    if grows.field == "height_mm":
        return say("{by:.0f} mm higher {day}, up to {most:.0f} mm", by=by, day=day, most=most)
    if grows.field == "times":
        return say("{by:g} more {day}, up to {most:g}", by=by, day=day, most=most)
    if grows.field == "bpm":
        return say("{by:g} beats a minute quicker {day}, up to {most:g}", by=by, day=day, most=most)
    return say("slower {day}, down to {bpm:.0f} beats a minute", day=day, bpm=exercise.bpm / most)
