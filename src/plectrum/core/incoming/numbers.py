"""Numbers as files write them. One place, so that every reader refuses the same nonsense:
digits of other alphabets, thousands of digits, exponents, nan, infinities."""

from __future__ import annotations

import re
from fractions import Fraction

_WHOLE = re.compile(r"[+-]?[0-9]{1,9}")
_DECIMAL = re.compile(r"[+-]?(?:[0-9]{1,9}(?:\.[0-9]{0,20})?|\.[0-9]{1,20})")
_MOST_LONG = 40  # characters; a number that is written longer is none


def whole(text: str | None) -> int | None:
    """A whole number of at most nine digits; a decimal one is cut off. None for anything else."""
    found = fraction(text)
    return None if found is None else int(found)


def only_whole(text: str | None) -> int | None:
    """A whole number of at most nine digits, with nothing behind it; None for anything else."""
    written = (text or "").strip()
    return int(written) if _WHOLE.fullmatch(written) else None


def decimal(text: str | None) -> float | None:
    """A decimal number below a thousand million, without exponent; None for anything else."""
    found = fraction(text)
    return None if found is None else float(found)


def fraction(text: str | None) -> Fraction | None:
    """The same, exactly."""
    written = (text or "").strip()
    if len(written) > _MOST_LONG or not _DECIMAL.fullmatch(written):
        return None
    return Fraction(written)
