"""Texts of the catalogue.

A text stands in the code in English, as `tr("Open a tune")`, with values as
`say("{count} bars of {title}", count=…, title=…)`, with one or many as `several("{n} bar",
"{n} bars", n)`. Where one English word has several meanings, `about` tells which is meant.
"""

from __future__ import annotations

import string
from collections.abc import Mapping
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
    return _filled(tr(template), values)


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
    return _written(float(value), how)


def several(one: str, many: str, n: float, /, **values: Any) -> str:
    """A text for one or for many; `n` is a value of it too."""
    language = chosen()
    n = round(n, 6)  # what was reckoned from seconds is one all the same
    found = language.ngettext(one, many, 1 if n == 1 else 2 if n != int(n) else int(n))
    return _filled(in_own_words(found, "", language.own_words), {"n": n, **values})


def _filled(template: str, values: Mapping[str, Any]) -> str:
    """A template's text: its fields are names, with a format or `!r`. The bar before the first is
    nowhere called by its number."""
    text = ""
    for before, name, how, conversion in _pieces(template):
        text += before
        if name is not None:
            value = values[name]
            text += _written(repr(value) if conversion == "r" else value, how or "")
    if any(str(values.get(name)) == "0" for name in OF_A_BAR):
        for numbered, named in _pickup():
            text = text.replace(numbered, named)
    return text


OF_A_BAR = ("bar", "number", "where")  # fields that hold the number of a bar


def _pickup() -> tuple[tuple[str, str], ...]:
    """What is said of bar 0, and what is said instead."""
    return (
        (tr("Go to bar 0"), tr("Go to the pickup")),
        (tr("in bar 0"), tr("in the pickup")),
        (tr("of bar 0"), tr("of the pickup")),
        (tr("from bar 0"), tr("from the pickup")),
        (tr("Bar 0"), tr("Pickup")),
        (tr("bar 0"), tr("pickup")),
    )


@lru_cache(maxsize=8192)
def _pieces(template: str) -> tuple[tuple[str, str | None, str | None, str | None], ...]:
    return tuple(string.Formatter().parse(template))


def _written(value: Any, how: str) -> str:
    """Numbers with the language's decimal sign; words that are kept in English as people read
    them."""
    if isinstance(value, StrEnum):
        value = in_words(value)
    text = format(value, how)
    if isinstance(value, float) and chosen().decimal != ".":
        return text.replace(".", chosen().decimal).replace("%", "\N{NO-BREAK SPACE}%")
    return text
