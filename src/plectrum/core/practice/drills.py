"""Drills for the bow arm as lists of timed steps, computed for one player, bow and instrument.

How often, how long and where is common practice without a source, said at each drill; what a
number of the player or bow enters is computed. Every drill carries the caution to show with it.
"""

from __future__ import annotations

from dataclasses import dataclass

from plectrum.core.instrument.bow import Bow
from plectrum.core.instrument.tables import Instrument
from plectrum.core.player.player import Player
from plectrum.core.score.model import Direction

CAUTION = (
    "Stop at pain, tingling or numbness and tell your teacher; see a doctor or therapist if it "
    "stays. Short sessions with pauses, loose hand and shoulder."
)
CARE_CAUTION = "Children tune and tighten with an adult. Eyes off a string under tension."
TIP_MARGIN_MM = (25.0, 50.0)  # where a placement lands, from the tip
PLACEMENTS_N = 10
PLAY_BEATS, CHECK_BEATS = 2, 4
USUAL_TURNS_N = 4
UP_BOW_SHARE = 0.85  # the up-bow is harder: this part of the down-bow's time (own default)


@dataclass(frozen=True, slots=True)
class DrillStep:
    """One thing to do. Places are fractions of the hair; `level` is the string level 1 to 7.

    `direction` is None where the bow does not sound.
    """

    text: str
    seconds: float
    level: int | None = None
    direction: Direction | None = None
    start: float | None = None
    end: float | None = None


@dataclass(frozen=True, slots=True)
class Drill:
    """A named list of steps with the caution that is shown with it."""

    name: str
    steps: tuple[DrillStep, ...]
    caution: str = CAUTION

    @property
    def seconds(self) -> float:
        return sum(step.seconds for step in self.steps)


def _up_and_back() -> tuple[int, ...]:
    """Strings from lowest to highest and back, each twice in all."""
    return (0, 1, 2, 3, 3, 2, 1, 0)


def _level(string: int) -> int:
    return 2 * string + 1


def straight_bow(player: Player, bow: Bow) -> Drill:
    """Seconds as beats: play two, rest and check four; every string twice, up and back.

    If a whole bow in two seconds is more than the player's comfortable speed, it starts with as
    much as is comfortable, to grow from there.
    """
    usable = player.usable_to - player.usable_from
    length = min(usable, player.comfortable_mm_s * PLAY_BEATS / bow.hair_mm)
    low = (player.usable_from + player.usable_to - length) / 2
    steps = []
    for k, string in enumerate(_up_and_back()):
        down = k % 2 == 0
        start, end = (low, low + length) if down else (low + length, low)
        steps += [
            DrillStep(
                "play, hair parallel to the bridge",
                float(PLAY_BEATS),
                _level(string),
                Direction.DOWN if down else Direction.UP,
                start,
                end,
            ),
            DrillStep("stop, look: is it straight?", float(CHECK_BEATS), _level(string)),
        ]
    return Drill("straight bow", tuple(steps))


def longest_bow(player: Player, bow: Bow) -> Drill:
    """One bow as slow as still sounds clean, down and up on each string.

    The time asked for is what the player's slowest clean speed gives; the up-bow less.
    """
    usable_mm = (player.usable_to - player.usable_from) * bow.hair_mm
    down_s = usable_mm / player.slowest_mm_s
    steps = []
    for string in range(4):
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
    return Drill("longest bow", tuple(steps))


def placements(player: Player, bow: Bow) -> Drill:
    """Set the bow silently at the frog, carry it to near the tip, set it, and back: ten times.

    It lands 25 to 50 mm from the tip, in the middle of that.
    """
    near_tip = 1.0 - sum(TIP_MARGIN_MM) / 2 / bow.hair_mm
    carry_s = player.lift_s + near_tip * bow.hair_mm / player.travel_mm_s
    there = DrillStep("carry to the tip and set down", carry_s, start=0.0, end=near_tip)
    back = DrillStep("carry to the frog and set down", carry_s, start=near_tip, end=0.0)
    steps = []
    for string in range(4):
        for _ in range(PLACEMENTS_N):
            for step in (there, back):
                steps.append(
                    DrillStep(step.text, step.seconds, _level(string), None, step.start, step.end)
                )
    return Drill("placements", tuple(steps))


def silent_rolls(player: Player) -> Drill:
    """The bow stands still in the middle, only the arm changes level, over all seven and back."""
    levels = [*range(1, 8), *range(6, 0, -1)]
    seconds = 2 * player.level_change_s
    return Drill(
        "silent rolls",
        tuple(DrillStep(f"roll to level {n}", seconds, n, None, 0.5, 0.5) for n in levels),
    )


def slow_crossing(player: Player, bow: Bow) -> Drill:
    """One slow bow from quarter mark to quarter mark across all four strings, and back."""
    low, high = 0.25, 0.75
    whole_s = (high - low) * bow.hair_mm / (2 * player.slowest_mm_s)
    steps = []
    for direction, strings in ((Direction.DOWN, range(4)), (Direction.UP, range(3, -1, -1))):
        for k, string in enumerate(strings):
            a, b = low + k * (high - low) / 4, low + (k + 1) * (high - low) / 4
            if direction is Direction.UP:
                a, b = high - k * (high - low) / 4, high - (k + 1) * (high - low) / 4
            steps.append(
                DrillStep("flat hair, roll on", whole_s / 4, _level(string), direction, a, b)
            )
    return Drill("slow crossing", tuple(steps))


def arcs(player: Player, own: Instrument) -> Drill:
    """Over all strings and back in one bow; what the arm turns is said in degrees."""
    per_string = own.string_spacing_mm / own.bridge_radius_mm * 57.2958
    levels = [1, 3, 5, 7, 5, 3, 1]
    low, high = player.usable_from, player.usable_to
    share = (high - low) / len(levels)
    steps = tuple(
        DrillStep(
            f"through level {n}, {per_string:.0f}° a string",
            4 * player.level_change_s,
            n,
            Direction.DOWN,
            low + k * share,
            low + (k + 1) * share,
        )
        for k, n in enumerate(levels)
    )
    return Drill("arcs", steps)


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
    return Drill("bow care", (*tighten, check, *loosen), CARE_CAUTION)
