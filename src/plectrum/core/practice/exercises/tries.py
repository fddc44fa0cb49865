"""What is counted and measured while an exercise is done."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from plectrum.core.practice.exercises.play import ExercisePlay
from plectrum.core.wording import say, tr

COUNTED = {
    "placements": (tr("placements hit of ten"), 10),
    "level-calls": (tr("level calls right of twenty"), 20),
    "level-calls-double": (tr("level calls right of twenty"), 20),
}


@dataclass
class Tries:
    """Hits and misses in their order, and bows measured by string and way.

    Attributes:
        bows_s: seconds, by the string, 0 lowest, and the way.
        checks: what was looked at, and whether it was right.
    """

    hits: list[bool] = field(default_factory=list)
    bows_s: dict[tuple[int, str], list[float]] = field(default_factory=dict)
    checks: dict[str, bool] = field(default_factory=dict)
    _order: list[tuple[int, str] | None] = field(default_factory=list)

    def count(self, *, hit: bool) -> None:
        """One more try."""
        self.hits.append(hit)
        self._order.append(None)

    def bow_ended(self, play: ExercisePlay, at_s: float) -> float | None:
        """The sounding bow has ended now, before or with its step; how long it was.

        Returns:
            Seconds; None where no bow sounds at this moment.
        """
        moment = play.at(at_s)
        step = moment.step
        if moment.index < 0 or step.direction is None or step.level is None:
            return None
        seconds = play.fold(at_s) - play.start_of(moment.index)
        key = step.level // 2, str(step.direction)
        self.bows_s.setdefault(key, []).append(seconds)
        self._order.append(key)
        return seconds

    def take_back(self) -> None:
        """The last one is as if it had not been."""
        if not self._order:
            return
        key = self._order.pop()
        if key is None:
            self.hits.pop()
            return
        self.bows_s[key].pop()
        if not self.bows_s[key]:
            del self.bows_s[key]

    @property
    def none(self) -> bool:
        return not self._order and not any(self.checks.values())

    @property
    def words(self) -> str:
        """As they are shown: "✓ ✓ ✗  2 of 3  ·  longest bow 8.4 s"."""
        parts = []
        if self.hits:
            signs = " ".join("✓" if hit else "✗" for hit in self.hits[-12:])
            parts.append(
                say(
                    "{signs}  {sum} of {hits}", signs=signs, sum=sum(self.hits), hits=len(self.hits)
                )
            )
        if self.bows_s:
            best_s = max(max(seconds) for seconds in self.bows_s.values())
            parts.append(say("longest bow {best_s:.1f} s", best_s=best_s))
        return "  ·  ".join(parts)


def counted_of(name: str, hits: Sequence[bool]) -> tuple[str, int] | None:
    """What counted tries of an exercise measure besides: how many of ten, or of twenty.

    Args:
        name: of the exercise.

    Returns:
        The measure's name and its value; None where it is none, or not done so often.
    """
    measure, of = COUNTED.get(name, ("", 0))
    return (measure, sum(hits[:of])) if of and len(hits) >= of else None


def measures_bows(play: ExercisePlay) -> bool:
    """Whether an exercise is one whose bows are measured: whole ones, as slow as can be."""
    exercise = play.made.exercise
    return exercise is not None and exercise.pace == "slowest bow" and not exercise.spread
