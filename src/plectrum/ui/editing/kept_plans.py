"""The last plans of a part by itself, so that to go back, and there again, takes no planning.

Parts planned as one are left out: what goes with such a plan is kept for the last state alone.
"""

from __future__ import annotations

from collections import deque
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from plectrum.core.document.document import Document
    from plectrum.core.planning.plan import Plan

KEPT_N = 4


def plans_alike(a: Document, b: Document) -> bool:
    """Whether two documents differ at most in what is set for practice."""
    same = a.part is b.part and a.score is b.score and a.choices == b.choices
    return same and a.together == b.together and a.seats == b.seats


def is_one_of_several(document: Document) -> bool:
    """Whether the part is planned as one with others."""
    return document.together and len(document.string_parts) > 1


class KeptPlans:
    """The last few plans, and what each was made from; also asked by threads."""

    def __init__(self) -> None:
        self._made: deque[tuple[Document, Plan]] = deque(maxlen=KEPT_N)

    def keep(self, document: Document, plan: Plan) -> None:
        if not is_one_of_several(document):
            self._made.append((document, plan))

    def find(self, document: Document) -> Plan | None:
        """One of them, where all that it was made from is so again."""
        made = tuple(self._made)
        return next((plan for known, plan in made if plans_alike(known, document)), None)

    def forget(self) -> None:
        self._made.clear()
