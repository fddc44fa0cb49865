"""Days as files write them: none so early or late that counting on from it fails."""

from __future__ import annotations

from datetime import date

FIRST_DAY, LAST_DAY = date(1900, 1, 1), date(2199, 12, 31)  # own default


def day(text: str) -> date | None:
    """A day written as 2027-01-11; None for anything else."""
    try:
        found = date.fromisoformat(text) if text.isascii() else None
    except ValueError:
        return None
    return found if found is not None and FIRST_DAY <= found <= LAST_DAY else None
