"""Words over the staff that say how to play from there on: plucked or thrown, where on the string,
with which part of the bow. In Italian, French, German and English, as scores have them (common
knowledge); each kind lasts until another word of its kind, or one that ends it."""

from __future__ import annotations

import bisect
import re
from collections.abc import Sequence

from plectrum.core.score.raw import RawDirection

_ENDS = r"\b(ord\b|ordin|nat\b|natur|normal|gewöhnlich|modo ord|jeu ord|pos(ition)? nat)"


def _rows(*rows: tuple[str, str]) -> tuple[tuple[str, re.Pattern[str]], ...]:
    return tuple((value, re.compile(pattern, re.IGNORECASE)) for value, pattern in rows)


# Of each kind what is said, and the words that say it; "" ends it.
MANNERS = _rows(
    ("pizz", r"\bpizz"),
    ("spiccato", r"\b(spicc|saltando|sautill)"),
    ("ricochet", r"\b(ricochet|jet[ée])"),
    ("", r"\b(arco|ord\.|ordinario|naturale|legato|détaché|on the string)"),
)
_BRIDGE = "sul pont|s. ?pont|ponticello|am steg|près du chevalet|au chevalet|near the bridge"
_BOARD = (
    "sul tast|s. ?tasto|sulla tast|flautando|flautato|am griffbrett|sur la touche|"
    "over the fingerboard"
)
_HEEL = "al tall|tallone|au talon|talon|am frosch|at the frog|at the heel"
_POINT = "alla punta|punta d|[àa] la pointe|an der spitze|at the tip|at the point"
_WHOLE = "tutto l.arco|tout l.archet|ganzer bogen|ganzem bogen|whole bow|full bow"
LANES = _rows(("1", rf"\b({_BRIDGE})"), ("5", rf"\b({_BOARD})"), ("", _ENDS))
PARTS = _rows(
    ("lower-half", rf"\b({_HEEL})"), ("upper-half", rf"\b({_POINT})"), ("whole", rf"\b({_WHOLE})"),
    ("", _ENDS),
)  # fmt: skip


class Said:
    """What words of one kind say at any time."""

    def __init__(
        self,
        directions: Sequence[tuple[float, RawDirection]],
        kinds: Sequence[tuple[str, re.Pattern[str]]],
    ) -> None:
        self._rows = [
            (at_q, value)
            for at_q, d in sorted(directions, key=lambda pair: pair[0])
            if d.kind == "words"
            for value, pattern in kinds
            if pattern.search(d.value)
        ]

    def at(self, at_q: float) -> str:
        """What holds at a time; "" where nothing does."""
        if not self._rows:
            return ""
        k = bisect.bisect_right(self._rows, at_q, key=lambda row: row[0])
        return self._rows[k - 1][1] if k else ""
