"""An exercise as timed steps for one player, bow and instrument."""

from __future__ import annotations

import math
import random
import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from plectrum.core.advice.care import CAUTION
from plectrum.core.errors import ChoiceError
from plectrum.core.instrument.specification import Instrument
from plectrum.core.plain_text import one_line
from plectrum.core.planning.rules import CELLS_N
from plectrum.core.practice.exercises.amounts import amount_words, growth_words, how_many_words
from plectrum.core.practice.exercises.drills import (
    SECOND_BPM,
    Drill,
    DrillStep,
    Moves,
    Setting,
    level_name,
)
from plectrum.core.practice.exercises.model import MOST_STEPS, Exercise, Stroke, part_of_bow
from plectrum.core.wording import in_words, say, tr

BRISK = 0.8  # of the player's fastest bow: an exercise asks for no quicker one (own default)
ON_STRINGS = {Moves.SOUND, Moves.ROLL, Moves.CARRY, Moves.THROW}
BOUNCE = 0.6  # of its height a thrown bow comes back to each time (own default)


@dataclass(frozen=True, slots=True)
class Target:
    """A string, a pair to go to and fro between, or two strings together."""

    low: int
    high: int
    together: bool = False

    def level(self, string: int) -> int:
        """The bow's level, 1 to 7, on its first string or the other."""
        if self.together:
            return self.low + self.high + 1
        return 2 * (self.high if string else self.low) + 1


def drill_of(exercise: Exercise, setting: Setting, day: int = 1) -> Drill:
    """The steps of an exercise.

    Args:
        day: of practice; what is called at random is mixed otherwise each day.

    Raises:
        ChoiceError: its strings or its part of the bow are not there for this player, or it is
            longer than can be done in one go.
    """
    made = tuple(_Steps(exercise, setting, day).all())
    stop = say(" Stop when: {stop}.", stop=exercise.stop) if exercise.stop else ""
    return Drill(
        exercise.title,
        made,
        f"{CAUTION} {exercise.caution}".strip(),
        f"{exercise.what}{stop}",
        exercise.good,
        exercise.bpm / exercise.counts if exercise.pace == "counts" else SECOND_BPM,
        how_many_words(exercise),
        amount_words(exercise),
        growth_words(exercise),
    )


class _Steps:
    """Makes the steps of one exercise."""

    def __init__(self, exercise: Exercise, setting: Setting, day: int) -> None:
        self.exercise, self.setting = exercise, setting
        self.targets = _in_order(exercise, strings_of(exercise, setting.instrument), day)
        self.beat_s = exercise.counts * 60.0 / exercise.bpm
        self.low, self.high = self._part()
        self._refuse_too_many()

    def _refuse_too_many(self) -> None:
        e = self.exercise
        strokes = sum(max(1, s.bounces) for s in e.strokes) + (e.look_beats > 0)
        steps_n = len(self.targets) * self._times * strokes
        if steps_n > MOST_STEPS:
            raise ChoiceError(
                say("{title} would have {steps_n} strokes", title=e.title, steps_n=steps_n),
                remedy=tr("Ask for fewer times or strings"),
            )

    @property
    def _times(self) -> int:
        """How often on each string; what is called at random is counted as a whole."""
        return 1 if self.exercise.order == "random" else self.exercise.times

    def _part(self) -> tuple[float, float]:
        """The part of the bow, on whole cells; less of it about its middle where its strokes would
        be quicker than this player is to draw them."""
        e, s = self.exercise, self.setting
        part = part_of_bow(e.part, s.bow, (s.player.usable_from, s.player.usable_to))
        low = math.ceil(part[0] * CELLS_N - 1e-6)
        high = math.floor(part[1] * CELLS_N + 1e-6)
        if e.pace != "counts":
            return low / CELLS_N, high / CELLS_N
        shares = [abs(k.end - k.start) / (k.beats * self.beat_s) for k in e.strokes if k.way]
        quickest = max(shares, default=0.0) * (high - low) / CELLS_N * s.bow.hair_mm
        limit = BRISK * s.player.fastest_mm_s
        if e.ease == "comfortable":
            limit = s.player.comfortable_mm_s
        if quickest > limit:
            cells = max(2, math.floor((high - low) * limit / quickest))
            low = (low + high - cells) // 2
            high = low + cells
        return low / CELLS_N, high / CELLS_N

    def all(self) -> Iterator[DrillStep]:
        """All steps in their order."""
        if self.exercise.spread and self.targets != [None]:
            yield from self._spread()
            return
        for number, target in enumerate(self.targets, start=1):
            yield from self._on(target, number)

    def _on(self, target: Target | None, number: int) -> Iterator[DrillStep]:
        """All times on one string or pair, counted."""
        e = self.exercise
        called = e.order == "random"
        for time in range(1, self._times + 1):
            for k, stroke in enumerate(e.strokes):
                counted = number if called else time
                count = str(counted) if k == 0 and e.times > 1 else ""
                done = list(self._done(stroke, target, count, called))
                if time == 1 and k == 0 and target is not None and not called:
                    done[0] = replace(done[0], new_string=True)
                yield from done
            if e.look_beats:
                level = target.level(0) if target is not None else None
                seconds = e.look_beats * self.beat_s
                yield DrillStep(e.look_word, seconds, level, word=e.look_word, moves=e.moves)

    def _done(
        self, stroke: Stroke, target: Target | None, count: str, called: bool
    ) -> Iterator[DrillStep]:
        """A stroke, or each bounce of a thrown one."""
        start, end = (self._place(share) for share in (stroke.start, stroke.end))
        seconds = self._seconds(stroke, abs(end - start))
        n = max(1, stroke.bounces)
        for k in range(n):
            a, b = (start + (end - start) * x / n for x in (k, k + 1))
            height = self.exercise.height_mm * BOUNCE**k if stroke.bounces else 0.0
            first = count if k == 0 else ""
            yield self._step(stroke, target, (a, b), seconds / n, first, height, called)

    def _place(self, share: float) -> float:
        return self.low + share * (self.high - self.low)

    def _seconds(self, stroke: Stroke, way: float) -> float:
        player, hair_mm = self.setting.player, self.setting.bow.hair_mm
        if self.exercise.pace == "slowest bow" and stroke.way is not None:
            return stroke.beats * way * hair_mm / player.slowest_mm_s
        if self.exercise.pace == "carry":
            return stroke.beats * (player.lift_s + way * hair_mm / player.travel_mm_s)
        if self.exercise.pace == "roll":
            return stroke.beats * player.level_change_s
        return stroke.beats * self.beat_s

    def _step(
        self,
        stroke: Stroke,
        target: Target | None,
        part: tuple[float, float],
        seconds: float,
        count: str,
        height_mm: float,
        called: bool,
    ) -> DrillStep:
        moves, names = self.exercise.moves, self.setting.instrument.string_names
        level = target.level(stroke.string) if target is not None else None
        lead = f"{level_name(level, names)}: " if level is not None else ""
        if target is None:
            hand = self._hand(stroke) if moves in (Moves.HAND, Moves.GLIDE) else None
            text = f"{count}: {in_words(stroke.word)}" if count else in_words(stroke.word)
            return DrillStep(text, seconds, word=stroke.word, count=count, moves=moves, hand=hand,
                             finger=stroke.finger)  # fmt: skip
        if stroke.way is None and moves in (Moves.SOUND, Moves.THROW):  # the bow waits
            text = lead + (in_words(stroke.word) if stroke.word else tr("wait"))
            return DrillStep(text, seconds, level, word=stroke.word, count=count, moves=moves,
                             height_mm=height_mm)  # fmt: skip
        says = in_words(stroke.word or stroke.way or "") or tr("set it down")
        said = stroke.word or (call_word(level, names) if called and level is not None else "")
        return DrillStep(
            f"{lead}{says}", seconds, level, stroke.way, *part, said, count, moves, height_mm,
            finger=stroke.finger, late=called,
        )  # fmt: skip

    def _hand(self, stroke: Stroke) -> float:
        """Where the hand arrives on the stick."""
        return min(1.0, self.exercise.hand_mm / self.setting.bow.hair_mm + stroke.end)

    def _spread(self) -> Iterator[DrillStep]:
        """Each stroke over all strings: the second comes back the way the first went."""
        names = self.setting.instrument.string_names
        n = len(self.targets)
        for k, stroke in enumerate(self.exercise.strokes):
            start, end = (self._place(share) for share in (stroke.start, stroke.end))
            whole = self._seconds(stroke, abs(end - start))
            seconds = whole / n if self.exercise.pace == "slowest bow" else whole
            targets = [t for t in (self.targets if k % 2 == 0 else self.targets[::-1]) if t]
            for j, target in enumerate(targets):
                a, b = (start + (end - start) * x / n for x in (j, j + 1))
                level = target.level(0)
                word = stroke.word if j == 0 else ""
                yield DrillStep(
                    f"{level_name(level, names)}: {in_words(stroke.way or 'roll')}", seconds, level,
                    stroke.way, a, b, word, moves=self.exercise.moves,
                )  # fmt: skip


def call_word(level: int, names: Sequence[str]) -> str:
    """A level as it is called, in the words of the recordings: "A", "D and A"."""
    low, high = (level - 1) // 2, level // 2
    return names[low] if low == high else f"{names[low]} and {names[high]}"


def strings_of(exercise: Exercise, own: Instrument) -> list[Target]:
    """The strings, pairs or levels as they are named, before they are put in their order.

    Raises:
        ChoiceError: the instrument has no such string, or the strings named are no pair.
    """
    every = range(own.strings_n)
    pairs = [Target(k, k + 1) for k in every[:-1]]
    if exercise.strings == "none":
        if exercise.moves in ON_STRINGS:
            raise ChoiceError(
                say("{title} is done on strings", title=exercise.title),
                remedy=tr("Name some, or each"),
            )
        return []
    if exercise.strings == "each":
        return [Target(k, k) for k in every]
    if exercise.strings == "levels":
        levels = (Target((n - 1) // 2, n // 2, n % 2 == 0) for n in range(1, own.levels_n + 1))
        return list(levels)
    found = pairs
    if exercise.strings != "pairs":
        texts = re.split(r"[,;]\s*", exercise.strings.strip())
        found = [_named(text, own) for text in texts]
    two = any(stroke.string for stroke in exercise.strokes)
    if two and any(t.low == t.high or t.together for t in found):
        raise ChoiceError(
            say("{title} goes over two strings", title=exercise.title),
            remedy=tr("Name pairs such as G-D, or pairs"),
        )
    return found


def _in_order(exercise: Exercise, found: list[Target], day: int) -> list[Target | None]:
    """The strings in the order in which they come; one None where there are none."""
    if not found:
        return [None]
    order = exercise.order
    if order == "random":
        return list(_called(found, exercise.times, day))
    if order == "skipping":
        return [*found[::2], *found[1::2]]
    named = exercise.strings not in ("each", "pairs", "levels")  # as they are named
    if order == "down" and not named:
        return list(reversed(found))
    back = list(reversed(found))[1:] if order == "up and back" else []
    return [*found, *back]


def _called(found: Sequence[Target], calls_n: int, day: int) -> list[Target]:
    """Mixed like a pack of cards, again and again; none comes twice running."""
    mixed, order = random.Random(day), list[Target]()
    while len(order) < calls_n:
        pack = list(found)
        mixed.shuffle(pack)
        if order and pack[0] == order[-1]:
            pack.append(pack.pop(0))
        order += pack
    return order[:calls_n]


def _named(text: str, own: Instrument) -> Target:
    together = "+" in text
    names = [name.strip().upper() for name in re.split(r"[-+]", text)]
    places = {name.upper(): k for k, name in enumerate(own.string_names)}
    if not 1 <= len(names) <= 2 or not set(names) <= set(places):
        raise ChoiceError(
            say(
                "the {instrument} has no string {string!r}",
                instrument=in_words(own.name),
                string=one_line(text.strip(), 20),
            ),
            remedy=say(
                "Name {list}, or neighbours such as {first}-{second}",
                list=", ".join(own.string_names),
                first=own.string_names[0],
                second=own.string_names[1],
            ),
        )
    first, last = places[names[0]], places[names[-1]]
    if abs(first - last) > 1:
        raise ChoiceError(
            say("{strings} are no neighbours", strings=text.strip()),
            remedy=tr("Name neighbouring strings"),
        )
    return Target(min(first, last), max(first, last), together and first != last)
