"""Texts of the catalogue.

A text stands in the code in English, as `tr("Open a tune")`, with values as
`say("{count} bars of {title}", count=…, title=…)`, with one or many as `several("{n} bar",
"{n} bars", n)`. Where one English word has several meanings, `about` tells which is meant.
"""

from __future__ import annotations

import string
from enum import StrEnum
from functools import lru_cache
from typing import Any

from plectrum.core.wording.language import chosen
from plectrum.core.wording.own_words import in_own_words


@lru_cache(maxsize=8192)
def tr(text: str, about: str = "") -> str:
    """A text in the user's language and words.

    Args:
        about: tells meanings of one English word apart: tr("open", "string").
    """
    language = chosen()
    if not text:
        return text
    found = language.pgettext(about, text) if about else language.gettext(text)
    return in_own_words(found, about, language.own_words)


def say(template: str, /, **values: Any) -> str:
    """A text with values; numbers are written as the language writes them."""
    return _FORMATTER.vformat(tr(template), (), values)


def in_words(kept: str) -> str:
    """A word that files and records keep in English (a technique, a stage, a measure), as people
    read it. scripts/texts.py knows where such words are listed."""
    return tr(str(kept))


def sentence_like(text: str) -> str:
    """With a capital at its start; the rest as it is."""
    return text[:1].upper() + text[1:]


def in_figures(value: float, how: str = "g") -> str:
    """A number as the language writes it.

    Args:
        how: as Python formats it: ".1f".
    """
    return _FORMATTER.format_field(float(value), how)


def several(one: str, many: str, n: float, /, **values: Any) -> str:
    """A text for one or for many; `n` is a value of it too."""
    language = chosen()
    found = language.ngettext(one, many, 1 if n == 1 else 2 if n != int(n) else int(n))
    return _FORMATTER.vformat(in_own_words(found, "", language.own_words), (), {"n": n, **values})


class _Formatter(string.Formatter):
    """Numbers with the language's decimal sign; words that are kept in English as people read
    them."""

    def format_field(self, value: Any, format_spec: str) -> str:
        if isinstance(value, StrEnum):
            value = in_words(value)
        text: str = super().format_field(value, format_spec)
        if isinstance(value, float) and chosen().decimal != ".":
            return text.replace(".", chosen().decimal).replace("%", "\N{NO-BREAK SPACE}%")
        return text


_FORMATTER = _Formatter()
