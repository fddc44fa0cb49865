"""The last plans of a part by itself, so that to go back, and there again, takes no planning; and
those that were foreseen.

Parts planned as one are left out: what goes with such a plan is kept for the last state alone. Of
plans that are not shown the large tables are given back.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from plectrum.core.document.document import Document
    from plectrum.core.planning.plan import Plan

KEPT_N = 4
FORESEEN_N = 6


def plans_alike(a: Document, b: Document) -> bool:
    """Whether two documents differ at most in what is set for practice."""
    same = a.part is b.part and a.score is b.score and a.choices == b.choices
    return same and a.together == b.together and a.seats == b.seats


def is_one_of_several(document: Document) -> bool:
    """Whether the part is planned as one with others."""
    return document.together and len(document.string_parts) > 1


class KeptPlans:
    """A few plans, and what each was made from; also asked by threads."""

    def __init__(self) -> None:
        self._made: tuple[tuple[Document, Plan], ...] = ()
        self._foreseen: tuple[tuple[Document, Plan], ...] = ()

    def keep(self, document: Document, plan: Plan) -> None:
        """Keep a plan that is shown."""
        for _, before in self._made:
            if before.solution is not plan.solution:
                before.solution.give_back()
        self._made = _with(self._made, document, plan, KEPT_N)

    def foresee(self, document: Document, plan: Plan) -> None:
        """Keep a plan that has not been asked for, longer if it is foreseen again; it never takes
        the place of one that was."""
        if any(plan is shown for _, shown in self._made):
            return
        if all(plan.solution is not shown.solution for _, shown in self._made):
            plan.solution.give_back()
        self._foreseen = _with(self._foreseen, document, plan, FORESEEN_N)

    def find(self, document: Document) -> Plan | None:
        """One of them, where all that it was made from is so again."""
        made = (*self._made, *self._foreseen)
        return next((plan for known, plan in made if plans_alike(known, document)), None)

    def forget(self) -> None:
        self._made = self._foreseen = ()


def _with(
    made: tuple[tuple[Document, Plan], ...], document: Document, plan: Plan, most_n: int
) -> tuple[tuple[Document, Plan], ...]:
    if is_one_of_several(document):
        return made
    return (*(m for m in made if m[1] is not plan), (document, plan))[-most_n:]
