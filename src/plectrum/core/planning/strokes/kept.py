"""What the plans of a part leave for the next one: a pin changes few of their parts.

It stands apart from all that it holds: a part of a plan that could reach its own keeping would
stay in memory until a collection for cycles, some 25 MB for 1,000 notes.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable
from functools import lru_cache
from typing import Any, TypeVar

from plectrum.core.document.choices import Choices
from plectrum.core.instrument.bow import Bow
from plectrum.core.player.player import Player
from plectrum.core.player.school import School
from plectrum.core.score.model import Part

KEPT_MOST = 100_000  # parts of plans kept for the next one
KEPT_FEW = 2  # of those that may take megabytes
Made = TypeVar("Made")


class Kept(dict[Hashable, Any]):
    """Parts of plans made before, by what they depend on."""

    def few(
        self,
        kind: str,
        key: Hashable,
        make: Callable[[], Made],
        let_go: Callable[[Made], object] = lambda _: None,
    ) -> Made:
        """One of the large parts, made if it is not among the last few.

        Args:
            let_go: called with one that is not kept any more; plans may still hold it.
        """
        few: dict[Hashable, Made] = self.setdefault(kind, {})
        found = few.get(key)
        if found is None:
            found = few[key] = make()
            for old in list(few)[:-KEPT_FEW]:
                let_go(few.pop(old))
        return found


class _Keeping:
    """What is kept for one fingering at a time."""

    def __init__(self) -> None:
        self._kept: tuple[object, Kept] = (None, Kept())

    def of(self, fingered: object) -> Kept:
        kept = self._kept  # one value, so that threads never mix two fingerings
        if kept[0] is not fingered or len(kept[1]) > KEPT_MOST:
            self._kept = kept = (fingered, Kept())
        return kept[1]


def kept_of(part: Part, choices: Choices, fingered: object) -> Kept:
    """What is kept of the plans of a part with these choices, pins apart, and this fingering."""
    c = choices
    return _keeping(part, c.instrument, c.bow, c.player, c.school).of(fingered)


@lru_cache(maxsize=4)
def _keeping(part: Part, name: str, bow: Bow, player: Player, school: School) -> _Keeping:
    return _Keeping()
