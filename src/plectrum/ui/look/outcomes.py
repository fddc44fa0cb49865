"""How something went, as signs and words."""

from __future__ import annotations

from plectrum.core.document.homework import Outcome
from plectrum.core.wording import tr

OUTCOME_SIGNS = {Outcome.GOOD: "✓", Outcome.AGAIN: "↻"}
OUTCOME_WORDS = {Outcome.GOOD: tr("went well"), Outcome.AGAIN: tr("again")}


def with_outcome(text: str, outcome: Outcome | None) -> str:
    """A task's name with the sign of how it went."""
    return f"{OUTCOME_SIGNS[outcome]} {text}" if outcome is not None else f"    {text}"
