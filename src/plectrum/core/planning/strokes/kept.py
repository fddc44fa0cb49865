"""What the plans of a part leave for the next one: a pin changes few of their parts.

It stands apart from all that it holds: a part of a plan that could reach its own keeping would
stay in memory until a collection for cycles, some 25 MB for 1,000 notes.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable
from functools import lru_cache
from typing import Any, TypeVar
from weakref import WeakValueDictionary

from plectrum.core.document.choices import Choices
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

    def shared(self, kind: str, key: Hashable, make: Callable[[], Made]) -> Made:
        """One that plans hold, made if none has it; nothing but plans keeps it in memory."""
        held: WeakValueDictionary[Hashable, Made] = self.setdefault(kind, WeakValueDictionary())
        found = held.get(key)
        if found is None:
            found = held[key] = make()
        return found


class _Latest:
    """What is kept of one part: of the choices and the fingering it was planned with last. Other
    choices, as another tempo, take its place and its memory."""

    def __init__(self) -> None:
        self._kept: tuple[object, object, Kept] = (None, None, Kept())

    def of(self, choices: object, fingered: object) -> Kept:
        planned, played, kept = self._kept  # one value, so that threads never mix two plans
        if played is not fingered or planned != choices or len(kept) > KEPT_MOST:
            kept = Kept()
            self._kept = choices, fingered, kept
        return kept


def kept_of(part: Part, choices: Choices, fingered: object) -> Kept:
    """What is kept of the plans of a part with these choices, pins apart, and this fingering."""
    c = choices
    return _latest(id(part.bars)).of((part, c.instrument, c.bow, c.player, c.school), fingered)


@lru_cache(maxsize=6)
def _latest(bars: int) -> _Latest:
    """By the identity of the bars, which a part has in common with itself at another tempo. What
    is kept names its part, so an identity that comes again finds nothing that is not its own."""
    return _Latest()
