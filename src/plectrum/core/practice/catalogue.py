"""All drills with what can be set in them, for a player, a bow and an instrument."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

from plectrum.core.document.choices import Choices
from plectrum.core.instrument.bow import Bow
from plectrum.core.instrument.specification import Instrument
from plectrum.core.player.player import Player
from plectrum.core.practice import drills
from plectrum.core.practice.drills import Drill


@dataclass(frozen=True, slots=True)
class Parameter:
    """One number that can be set in a drill, or one of some words.

    Attributes:
        low, high, step: of a number. words: the words to choose from, else none.
    """

    name: str
    title: str
    usual: float
    low: float = 0
    high: float = 1
    step: float = 1
    unit: str = ""
    words: tuple[str, ...] = ()

    def of(self, values: Mapping[str, float]) -> float:
        """Its value among those set, kept within its bounds."""
        high = len(self.words) - 1 if self.words else self.high
        return min(high, max(self.low, values.get(self.name, self.usual)))


@dataclass(frozen=True, slots=True)
class Setting:
    """Whom a drill is for."""

    player: Player
    bow: Bow
    instrument: Instrument

    @classmethod
    def of(cls, choices: Choices) -> Setting:
        player = choices.player.on(choices.own)
        return cls(player, choices.bow, choices.own)


@dataclass(frozen=True)
class DrillKind:
    """A drill that can be set up."""

    key: str
    title: str
    make_with: Callable[[Setting, dict[str, float]], Drill] = field(repr=False)
    parameters: tuple[Parameter, ...] = ()

    def make(self, setting: Setting, values: Mapping[str, float] | None = None) -> Drill:
        """The drill with these values; what is not set is as usual."""
        chosen = {p.name: p.of(values or {}) for p in self.parameters}
        return self.make_with(setting, chosen)


_STRINGS = Parameter("strings", "Strings", 0, words=("all", "the two highest", "the two lowest"))
_STRING = Parameter(
    "string", "String", 2, words=("lowest", "second lowest", "second highest", "highest")
)
_TIMES = Parameter("times", "Times", 10, 1, 20)
_SLOWER = Parameter("slower", "Times the quickest", 2, 1, 8, 0.5, "×")


def _strings(setting: Setting, values: Mapping[str, float]) -> tuple[int, ...]:
    every = tuple(range(setting.instrument.strings_n))
    return (every, every[-2:], every[:2])[int(values["strings"])]


def _string(setting: Setting, values: Mapping[str, float]) -> int:
    """Lowest, second lowest, second highest, highest, of however many there are."""
    highest = setting.instrument.strings_n - 1
    return (0, 1, highest - 1, highest)[int(values["string"])]


def _hooked(s: Setting, v: dict[str, float]) -> Drill:
    figure = list(drills.HOOKED)[int(v["figure"])]
    return drills.hooked_pattern(
        s.player, s.bow, figure=figure, times=int(v["times"]), seconds=v["seconds"],
        string=_string(s, v),
    )  # fmt: skip


def _whole(v: Mapping[str, float], name: str) -> int:
    return int(v[name])


DRILLS = {
    kind.key: kind
    for kind in (
        DrillKind(
            "straight-bow", "Straight bow with checking rests",
            lambda s, v: drills.straight_bow(
                s.player, s.bow, play=_whole(v, "play"), check=_whole(v, "check"),
                strings=_strings(s, v),
            ),
            (
                Parameter("play", "Play", drills.PLAY_BEATS, 1, 8, 1, "s"),
                Parameter("check", "Stop and look", drills.CHECK_BEATS, 1, 8, 1, "s"),
                _STRINGS,
            ),
        ),
        DrillKind(
            "longest-bow", "Longest bow",
            lambda s, v: drills.longest_bow(
                s.player, s.bow, share=v["share"] / 100, strings=_strings(s, v)
            ),
            (Parameter("share", "Of the slowest", 100, 25, 150, 5, "%"), _STRINGS),
        ),
        DrillKind(
            "placements", "Placements at frog and tip",
            lambda s, v: drills.placements(
                s.player, s.bow, times=_whole(v, "times"), strings=_strings(s, v)
            ),
            (_TIMES, _STRINGS),
        ),
        DrillKind(
            "silent-rolls", "Silent rolls",
            lambda s, v: drills.silent_rolls(
                s.player, s.instrument, rounds=_whole(v, "rounds"), slower=v["slower"]
            ),
            (Parameter("rounds", "Rounds", 1, 1, 6), _SLOWER),
        ),
        DrillKind(
            "arcs", "Arcs over all strings",
            lambda s, v: drills.arcs(s.player, s.instrument, slower=v["slower"]),
            (Parameter("slower", "Times the quickest", 4, 1, 10, 0.5, "×"),),
        ),
        DrillKind(
            "slow-crossing", "Slow crossing from mark to mark",
            lambda s, v: drills.slow_crossing(
                s.player, s.bow, s.instrument, low=v["low"] / 100,
                high=max(v["low"] + 10, v["high"]) / 100,
            ),
            (
                Parameter("low", "From", 25, 0, 60, 5, "% of the hair"),
                Parameter("high", "To", 75, 40, 100, 5, "% of the hair"),
            ),
        ),
        DrillKind(
            "level-calls", "Level calls",
            lambda s, v: drills.level_calls(
                s.player, s.instrument, calls=_whole(v, "calls"), together=bool(v["together"]),
                seed=_whole(v, "seed"),
            ),
            (
                Parameter("calls", "Calls", 20, 4, 60),
                Parameter("together", "Levels", 0, words=("single strings", "double stops too")),
                Parameter("seed", "Mix", 1, 1, 99),
            ),
        ),
        DrillKind(
            "hooked-bows", "Hooked bows", _hooked,
            (
                Parameter("figure", "Figure", 0, words=tuple(drills.HOOKED)),
                Parameter("times", "Times", 4, 1, 12),
                Parameter("seconds", "A note", 1.0, 0.5, 3, 0.5, "s"),
                _STRING,
            ),
        ),
        DrillKind(
            "bow-amounts", "More bow, less bow",
            lambda s, v: drills.bow_amounts(
                s.player, s.bow, seconds=v["seconds"], amounts=_whole(v, "amounts"),
                string=_string(s, v),
            ),
            (
                Parameter("seconds", "A bow", 2.0, 1, 6, 0.5, "s"),
                Parameter("amounts", "Amounts", 4, 2, 8),
                _STRING,
            ),
        ),
        DrillKind(
            "hand-exercise", "Hand exercise",
            lambda s, v: drills.hand_exercise(day=_whole(v, "day"), times=_whole(v, "times")),
            (
                Parameter("day", "Day", 1, 1, 6),
                Parameter("times", "Times", drills.HAND_REPEATS_N, 1, 10),
            ),
        ),
        DrillKind(
            "bow-care", "Tighten and loosen the bow",
            lambda s, v: drills.bow_care(_whole(v, "turns")),
            (Parameter("turns", "Turns", drills.USUAL_TURNS_N, 1, 10),),
        ),
    )
}  # fmt: skip
