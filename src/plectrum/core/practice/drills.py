"""Drills for the bow arm as lists of timed steps, computed for one player, bow and instrument.

How often, how long and where is common practice without a source, said at each drill; what a
number of the player or bow enters is computed. Every drill carries the caution to show with it.
"""

from __future__ import annotations

import random
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import groupby

from plectrum.core.advice.words import length_words
from plectrum.core.instrument.bow import Bow
from plectrum.core.instrument.specification import Instrument
from plectrum.core.player.player import Player
from plectrum.core.practice.care import CARE_CAUTION, CAUTION
from plectrum.core.score.model import Direction

TIP_MARGIN_MM = (25.0, 50.0)  # where a placement lands, from the tip
PLACEMENTS_N = 10
PLAY_BEATS, CHECK_BEATS = 2, 4
USUAL_TURNS_N = 4
HAND_REPEATS_N, LOWER_EACH_DAY_MM = 10, 13.0  # half an inch
HAND_START_MM = 65.0  # above the frog on the first day: five days' way (own default)
HOOKED = {  # figures of hooked bows; "|" is a stop with the bow left on the string
    "down | down, up | up": (1, 1, -1, -1),
    "up, down | down, up | up, down": (-1, 1, 1, -1, -1, 1),
    "down, up | up": (1, -1, -1),
    "down | down | down, up": (1, 1, 1, -1),
}
HOOK_STOP_S = 0.15
STOPPED = "stop, "
UP_BOW_SHARE = 0.85  # the up-bow is harder: this part of the down-bow's time (own default)


@dataclass(frozen=True, slots=True)
class DrillStep:
    """One thing to do. Places are fractions of the hair; `level` is the string level 1 to 7.

    `direction` is None where the bow does not sound; `word` is said or written under the note.
    """

    text: str
    seconds: float
    level: int | None = None
    direction: Direction | None = None
    start: float | None = None
    end: float | None = None
    word: str = ""


@dataclass(frozen=True, slots=True)
class Drill:
    """A named list of steps with the caution that is shown with it.

    Attributes:
        what: what is done; good: how to know that it is good.
    """

    name: str
    steps: tuple[DrillStep, ...]
    caution: str = CAUTION
    what: str = ""
    good: str = ""

    @property
    def seconds(self) -> float:
        return sum(step.seconds for step in self.steps)


ALL_STRINGS = (0, 1, 2, 3)


def _up_and_back(strings: Sequence[int]) -> tuple[int, ...]:
    """Strings from lowest to highest and back, each twice in all."""
    return (*strings, *reversed(strings))


def _level(string: int) -> int:
    return 2 * string + 1


def straight_bow(
    player: Player,
    bow: Bow,
    *,
    play: int = PLAY_BEATS,
    check: int = CHECK_BEATS,
    strings: Sequence[int] = ALL_STRINGS,
) -> Drill:
    """Seconds as beats: play two, rest and check four; every string twice, up and back.

    If a whole bow in that time is more than the player's comfortable speed, it starts with as
    much as is comfortable, to grow from there.
    """
    usable = player.usable_to - player.usable_from
    length = min(usable, player.comfortable_mm_s * play / bow.hair_mm)
    low = (player.usable_from + player.usable_to - length) / 2
    steps = []
    for k, string in enumerate(_up_and_back(strings)):
        down = k % 2 == 0
        start, end = (low, low + length) if down else (low + length, low)
        way = Direction.DOWN if down else Direction.UP
        steps += [
            DrillStep(
                f"{way}, hair parallel to the bridge", float(play), _level(string), way, start, end
            ),
            DrillStep("stop, look: is it straight?", float(check), _level(string), word="look"),
        ]
    return Drill(
        "straight bow",
        tuple(steps),
        what=f"Play {play}, stop and look {check}: the bow parallel to the bridge, halfway "
        f"between bridge and fingerboard. {length_words(length).capitalize()} each time.",
        good="at every stop the bow stands straight and in its lane, without being moved",
    )


def longest_bow(
    player: Player, bow: Bow, *, share: float = 1.0, strings: Sequence[int] = ALL_STRINGS
) -> Drill:
    """One bow as slow as still sounds clean, down and up on each string.

    The time asked for is what the player's slowest clean speed gives; the up-bow less.

    Args:
        share: of that time, to begin with less.
    """
    usable_mm = (player.usable_to - player.usable_from) * bow.hair_mm
    down_s = share * usable_mm / player.slowest_mm_s
    steps = []
    for string in strings:
        steps += [
            DrillStep(
                "down, as slow as it sounds clean", down_s, _level(string), Direction.DOWN,
                player.usable_from, player.usable_to,
            ),
            DrillStep(
                "up, as slow as it sounds clean", down_s * UP_BOW_SHARE, _level(string),
                Direction.UP, player.usable_to, player.usable_from,
            ),
        ]  # fmt: skip
    return Drill(
        "longest bow",
        tuple(steps),
        what=f"One whole bow down in {down_s:.0f} s, one up in {down_s * UP_BOW_SHARE:.0f} s, on "
        "each string. Write down how long it sounded clean.",
        good="the sound does not break before the time is over",
    )


def placements(
    player: Player, bow: Bow, *, times: int = PLACEMENTS_N, strings: Sequence[int] = ALL_STRINGS
) -> Drill:
    """Set the bow silently at the frog, carry it to near the tip, set it, and back: ten times.

    It lands 25 to 50 mm from the tip, in the middle of that.
    """
    near_tip = 1.0 - sum(TIP_MARGIN_MM) / 2 / bow.hair_mm
    carry_s = player.lift_s + near_tip * bow.hair_mm / player.travel_mm_s
    there = ("carry to the tip and set down", 0.0, near_tip, "tip")
    back = ("carry to the frog and set down", near_tip, 0.0, "frog")
    steps = [
        DrillStep(text, carry_s, _level(string), None, start, end, word)
        for string in strings
        for _ in range(times)
        for text, start, end, word in (there, back)
    ]
    return Drill(
        "placements",
        tuple(steps),
        what=f"Set the bow down without a sound at the frog, carry it through the air to near "
        f"the tip, set it down, and back: {times} times a string.",
        good="eight of ten land in the same lane, without a bounce and without a sound",
    )


def silent_rolls(player: Player, own: Instrument, *, rounds: int = 1, slower: float = 2.0) -> Drill:
    """The bow stands still in the middle, only the arm changes level, over all of them and back.

    Args:
        slower: how many times the player's quickest change each roll may take.
    """
    levels = [*range(1, own.levels_n + 1), *range(own.levels_n - 1, 0, -1)] * rounds
    seconds = slower * player.level_change_s
    return Drill(
        "silent rolls",
        tuple(DrillStep(f"roll to level {n}", seconds, n, None, 0.5, 0.5, str(n)) for n in levels),
        what="The bow stands still in the middle of the hair. Only the arm rolls: one string, "
        "two together, the next string, up and back.",
        good="the bow makes no sound and stays on its mark",
    )


def slow_crossing(
    player: Player,
    bow: Bow,
    own: Instrument,
    *,
    low: float = 0.25,
    high: float = 0.75,
    slower: float = 1.0,
) -> Drill:
    """One slow bow from quarter mark to quarter mark across all strings, and back; no
    further than the player may go."""
    low, high = max(low, player.usable_from), min(high, player.usable_to)
    whole_s = slower * (high - low) * bow.hair_mm / (2 * player.slowest_mm_s)
    strings, share = range(own.strings_n), (high - low) / own.strings_n
    steps = []
    for direction, order in ((Direction.DOWN, strings), (Direction.UP, reversed(strings))):
        for k, string in enumerate(order):
            a, b = low + k * share, low + (k + 1) * share
            if direction is Direction.UP:
                a, b = high - k * share, high - (k + 1) * share
            steps.append(
                DrillStep(
                    "flat hair, roll on", whole_s / own.strings_n, _level(string), direction, a, b
                )
            )
    return Drill(
        "slow crossing",
        tuple(steps),
        what="One slow bow from mark to mark over all strings with flat hair, and back.",
        good="the bow reaches the mark just as the last string ends, and no string is missed",
    )


def arcs(player: Player, own: Instrument, *, slower: float = 4.0) -> Drill:
    """Over all strings and back in one bow; what the arm turns is said in degrees."""
    per_string = own.string_spacing_mm / own.bridge_radius_mm * 57.2958
    single = range(1, own.levels_n + 1, 2)
    levels = [*single, *reversed(single[:-1])]
    low, high = player.usable_from, player.usable_to
    share = (high - low) / len(levels)
    steps = tuple(
        DrillStep(
            f"through level {n}, {per_string:.0f}° a string",
            slower * player.level_change_s,
            n,
            Direction.DOWN,
            low + k * share,
            low + (k + 1) * share,
        )
        for k, n in enumerate(levels)
    )
    return Drill(
        "arcs",
        steps,
        what="Over all strings and back in one down-bow, as if the arm drew an arc.",
        good="every string sounds as long as the others, and the arm never jerks",
    )


def level_calls(
    player: Player, own: Instrument, *, calls: int = 20, together: bool = False, seed: int = 1
) -> Drill:
    """Levels called out in a mixed order, the bow set down on each; none comes twice running.

    Args:
        together: with the levels of two strings at once.
        seed: another number mixes otherwise; the same always in the same way.
    """
    levels = list(range(1, own.levels_n + 1, 1 if together else 2))
    mixed = random.Random(seed)
    order: list[int] = []
    while len(order) < calls:
        deck = levels[:]
        mixed.shuffle(deck)
        if order and deck[0] == order[-1]:
            deck.append(deck.pop(0))
        order += deck
    names = own.string_names
    steps = tuple(
        DrillStep(
            f"level {n}: {_level_name(n, names)}", player.lift_s + 3 * player.level_change_s, n,
            None, 0.5, 0.5, str(n),
        )
        for n in order[:calls]
    )  # fmt: skip
    return Drill(
        "level calls",
        steps,
        what=f"Someone calls a level, the bow is set down on it without a sound: {calls} calls.",
        good=f"{round(calls * 0.9)} of {calls} right at once",
    )


def _level_name(level: int, names: Sequence[str]) -> str:
    low, high = (level - 1) // 2, level // 2
    return f"{names[low]} string" if low == high else f"{names[low]} and {names[high]} together"


def hooked_pattern(
    player: Player, bow: Bow, *, figure: str = "down | down, up | up", times: int = 4,
    seconds: float = 1.0, string: int = 2,
) -> Drill:  # fmt: skip
    """A figure of hooked bows on one open string; the stops leave the bow on the string.

    Raises:
        ValueError: no such figure.
    """
    if figure not in HOOKED:
        raise ValueError(f"figure must be one of {', '.join(HOOKED)} (got {figure!r})")
    ways = HOOKED[figure]
    runs = [len(list(run)) for _, run in groupby(ways)]
    most = min(
        player.usable_to - player.usable_from,
        player.comfortable_mm_s * seconds * max(runs) / bow.hair_mm,
        player.fastest_mm_s * seconds * min(runs) / bow.hair_mm,
    )
    low = player.usable_from
    place = low if ways[0] > 0 else low + most
    steps = []
    before = 0
    notes_of_runs = [n for n in runs for _ in range(n)]
    for way, run_n in zip(ways * times, notes_of_runs * times, strict=True):
        end = place + way * most / run_n
        stop = STOPPED if way == before else ""
        direction = Direction.DOWN if way > 0 else Direction.UP
        steps.append(
            DrillStep(
                f"{stop}{direction}", seconds, _level(string), direction, place, end,
                f"{stop}{direction}".replace(",", ""),
            )
        )  # fmt: skip
        place, before = end, way
    return Drill(
        "hooked bows",
        tuple(steps),
        what=f"“{figure}” on one open string, {times} times. At a stop the bow stays on the "
        f"string for {HOOK_STOP_S:.2f} s or more.",
        good="every stop is silent and every note begins with a clear edge",
    )


def bow_amounts(
    player: Player, bow: Bow, *, seconds: float = 2.0, amounts: int = 4, string: int = 2
) -> Drill:
    """More and more bow in the same time, then less and less: louder without pressing."""
    usable = player.usable_to - player.usable_from
    most = min(usable, player.fastest_mm_s * seconds / bow.hair_mm)
    rising = [most * (k + 1) / amounts for k in range(amounts)]
    low = player.usable_from
    steps = []
    for length in (*rising, *reversed(rising[:-1])):
        for direction in (Direction.DOWN, Direction.UP):
            a, b = low, low + length
            if direction is Direction.UP:
                a, b = b, a
            words = f"{direction}: {length_words(length)}"
            steps.append(DrillStep(words, seconds, _level(string), direction, a, b))
    return Drill(
        "bow amounts",
        tuple(steps),
        what=f"From the frog, each bow lasts {seconds:g} s. Every time a little more of it, then a "
        "little less.",
        good="the time stays the same, the sound grows and shrinks with the amount of bow",
    )


def hand_exercise(*, day: int = 1, times: int = HAND_REPEATS_N) -> Drill:
    """Lift and lower the little finger with the hand higher up the stick; every day the hand
    stands 13 mm lower, until it is at the frog.

    Raises:
        ValueError: days count from 1.
    """
    if day < 1:
        raise ValueError(f"day must be at least 1 (got {day})")
    height_mm = max(0.0, HAND_START_MM - LOWER_EACH_DAY_MM * (day - 1))
    where = f"{height_mm:.0f} mm above the frog" if height_mm else "at the frog"
    steps = []
    for k in range(1, times + 1):
        steps += [
            DrillStep(f"{k}: lean on the little finger", 2.0, word="lean"),
            DrillStep(f"{k}: let go, hand soft", 2.0, word="soft"),
        ]
    return Drill(
        "hand exercise",
        tuple(steps),
        caution=f"{CAUTION} Never with a stretched, locked little finger or thumb: that strains "
        "the tendons of the forearm. Only as many as stay easy.",
        what=f"Day {day}: hold the bow with the hand {where}, tip to the ceiling, and tip it "
        f"slowly over the little finger and back, {times} times.",
        good="the little finger stays bent, the thumb stays bent, nothing hurts",
    )


def bow_care(turns_n: int = USUAL_TURNS_N) -> Drill:
    """Tighten by counted turns until a little finger fits between hair and stick; after
    playing loosen by as many.

    Raises:
        ValueError: fewer than one turn.
    """
    if turns_n < 1:
        raise ValueError(f"turns_n must be at least 1 (got {turns_n})")
    tighten = [DrillStep(f"tighten, turn {k}", 1.0) for k in range(1, turns_n + 1)]
    check = DrillStep(
        "a little finger fits between hair and stick in the middle, the stick still curves "
        "inwards; do not touch the hair",
        5.0,
    )
    loosen = [DrillStep(f"loosen, turn {k}", 1.0) for k in range(1, turns_n + 1)]
    return Drill(
        "bow care",
        (*tighten, check, *loosen),
        CARE_CAUTION,
        what=f"Tighten by {turns_n} turns, look, and loosen by as many after playing.",
        good="the stick still curves inwards, and the hair is loose when the bow is put away",
    )
