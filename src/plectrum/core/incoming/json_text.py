"""JSON from outside: size, depth and numbers are looked at before anything reads a key."""

from __future__ import annotations

import json
import math
from typing import Any, NoReturn

from plectrum.core.plain_text import plain
from plectrum.core.wording import say

MOST_DEEP = 40
_MOST_DIGITS = 18


def json_value(data: bytes | str) -> Any:
    """What a JSON text says, its strings plain.

    Raises:
        ValueError: not JSON, nested too deeply, or with a number nobody can mean.
    """
    text = data.decode("utf-8-sig") if isinstance(data, bytes) else data
    try:
        value = json.loads(
            text, parse_int=_whole, parse_float=_decimal, parse_constant=_no_constant
        )
    except RecursionError:
        raise ValueError("it is nested without end") from None
    return _plain(value, 0)


def _whole(text: str) -> int:
    if len(text) > _MOST_DIGITS:
        raise ValueError("a number has too many digits")
    return int(text)


def _decimal(text: str) -> float:
    value = float(text)
    if not math.isfinite(value):
        raise ValueError("a number is too large")
    return value


def _no_constant(text: str) -> NoReturn:
    raise ValueError(say("{text} is no number", text=text))


def _plain(value: Any, depth: int) -> Any:
    if depth > MOST_DEEP:
        raise ValueError("it is nested too deeply")
    if isinstance(value, str):
        return plain(value)
    if isinstance(value, list):
        return [_plain(item, depth + 1) for item in value]
    if isinstance(value, dict):
        return {plain(key): _plain(item, depth + 1) for key, item in value.items()}
    return value
