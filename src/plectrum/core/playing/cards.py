"""The strokes of a performance as cards to be announced: which way, from where to where, where
the arm goes, and when."""

from __future__ import annotations

import bisect
import itertools
from dataclasses import dataclass

from plectrum.core.advice.rests import rest_short
from plectrum.core.advice.words import length_words, place_words
from plectrum.core.document.choices import NO_PIN, Join
from plectrum.core.document.places import command_of, words_of
from plectrum.core.planning.plan import Plan
from plectrum.core.playing.performance import Kind, Performance, PlayedNote
from plectrum.core.score.model import Direction
from plectrum.core.wording import in_words, say, tr


@dataclass(frozen=True, slots=True)
class StrokeCard:
    """One stroke: all that is played in one direction without a stop, turn or lift.

    Attributes:
        join: how it follows the one before it; HOOK after a stop.
        levels: the string levels it goes through, in order.
        notes_n: how many notes are in it.
        beats: its length in beats.
        strings, amount, goal, action: in words: where the arm goes, how much bow, where to, and
            what the hand does.
        rest: what the bow does in the rest before it, in words; empty without one.
        lands: where a bow is set down in silence, a fraction of the hair; None where it is not.
    """

    onset_s: float
    until_s: float
    turn: int
    direction: Direction | None
    join: Join | None
    start: float
    end: float
    levels: tuple[int, ...]
    notes_n: int
    beats: float
    strings: str
    amount: str
    goal: str
    action: str
    rest: str = ""
    lands: float | None = None


def stroke_cards(performance: Performance) -> tuple[StrokeCard, ...]:
    """The cards of a whole performance in the order of time."""
    groups: list[list[PlayedNote]] = []
    for played in performance.notes:
        slurred = played.join is Join.SLUR and groups and groups[-1][-1].turn == played.turn
        if slurred:
            groups[-1].append(played)
        else:
            groups.append([played])
    return tuple(_card(performance, group) for group in groups)


def _card(performance: Performance, group: list[PlayedNote]) -> StrokeCard:
    first, last = group[0], group[-1]
    levels = [level for level, _ in itertools.groupby(p.level for p in group)]
    names = performance.plan.instrument.string_names
    return StrokeCard(
        first.onset_s,
        last.end_s,
        first.turn,
        first.direction,
        first.join,
        first.start,
        last.end,
        tuple(levels),
        len(group),
        (last.end_s - first.onset_s) / performance.beat_s(first.note),
        "–".join(_level_name(level, names) for level in levels),
        length_words(abs(last.end - first.start)) if first.planned is not None else "",
        _goal(performance.plan, first, last),
        _action(first, performance.rehearsal.kind),
        rest_short(performance.plan, first.note.index) if first.planned is not None else "",
    )


def _level_name(level: int, names: tuple[str, ...]) -> str:
    """The string of a level, or the two of a double stop."""
    if level % 2:
        return names[level // 2]
    return f"{names[level // 2 - 1]}+{names[level // 2]}"


def _goal(plan: Plan, first: PlayedNote, last: PlayedNote) -> str:
    """Where the stroke goes, after the place the teacher has said."""
    if first.planned is None:
        return ""
    bow = plan.choices.bow
    start, end = place_words(first.start, bow), place_words(last.end, bow)
    goes = say("to {end}", end=end) if start != end else say("stay at {end}", end=end)
    said = plan.choices.pins.get(first.note.id, NO_PIN).said_where
    return " · ".join([*map(words_of, dict.fromkeys(map(command_of, said))), goes])


def _action(first: PlayedNote, kind: Kind) -> str:
    """The one word for what the hand does."""
    if first.direction is None:
        return tr("roll") if kind is Kind.SILENT else tr("pluck")
    if first.join is Join.HOOK:
        return say("stop, {direction}", direction=first.direction)
    if first.join is Join.RETAKE:
        return say("lift, {direction}", direction=first.direction)
    return in_words(first.direction)


class CardStream:
    """Which card is played at a moment, and which come next."""

    def __init__(self, performance: Performance) -> None:
        self.cards = stroke_cards(performance)
        self._performance = performance
        self._onsets = [c.onset_s for c in self.cards]

    def at(self, at_s: float) -> int:
        """Index of the card being played; −1 before the first."""
        return bisect.bisect_right(self._onsets, self._performance.fold(at_s)) - 1

    def upcoming(self, at_s: float, count_n: int) -> list[tuple[StrokeCard, float]]:
        """The present card and those after it, each with the seconds until it begins; a loop
        goes on with its first."""
        folded = self._performance.fold(at_s)
        k = max(0, self.at(at_s))
        found: list[tuple[StrokeCard, float]] = []
        wrap_s = 0.0
        while len(found) < count_n:
            if k == len(self.cards):
                if not self._performance.rehearsal.loop:
                    break
                k, wrap_s = 0, wrap_s + self._performance.length_s - self._performance.music_s
            card = self.cards[k]
            found.append((card, card.onset_s + wrap_s - folded))
            k += 1
        return found
