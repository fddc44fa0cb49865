"""Places and amounts of bow in a teacher's words, kept as what they mean.

A note is told where on the bow its stroke lies (`upper-half`, `frog`, `quarter mark..middle`) and
how much bow it takes (`half`, `growing 2/4`: the second of four that grow). What that is on the bow
at hand follows from the bow's marks and from what the player can reach, whenever it is planned.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any, NamedTuple

from plectrum.core.errors import ChoiceError
from plectrum.core.instrument.bow import Bow
from plectrum.core.wording import in_words, say, tr

# Where a stroke lies, as fractions of the hair: common practice, no source.
REGIONS: Mapping[str, tuple[float, float]] = {
    "upper-half": (0.5, 1.0),
    "lower-half": (0.0, 0.5),
    "middle": (0.25, 0.75),
}
STARTS = ("frog", "tip", "balance")  # where a stroke starts
WHOLE = "whole"
# How much bow, as a fraction of the hair (own defaults where no words of the trade fix it).
AMOUNTS: Mapping[str, float] = {
    "tiny": 1 / 16, "little": 1 / 8, "quarter": 1 / 4, "half": 1 / 2, "much": 1.0,
}  # fmt: skip
STAY = "stay"  # tiny, where the stroke before ended
SERIES = ("growing", "shrinking")
OF_BOWS = (WHOLE, STAY, *SERIES)  # words that are never said of one note of a bow
# The same of the notes of one bow: how they share it, not how long it is.
INSIDE: Mapping[str, str] = {
    "growing-inside": tr("growing within the bow"),
    "shrinking-inside": tr("shrinking within the bow"),
}
HERE = " here"  # behind a word: said of one note of a bow, not of the bow
_SERIES = re.compile(r"(growing|shrinking) ([1-9][0-9]?)/([1-9][0-9]?)( in one)?")
MOST_WORD = 130
LEAST_STROKE = 1 / 16  # of the hair: what a region must leave room for

WORDS: Mapping[str, str] = {
    "whole": tr("whole bow"),
    "upper-half": tr("upper half"),
    "lower-half": tr("lower half"),
    "middle": tr("middle"),
    "frog": tr("at the frog"),
    "tip": tr("at the tip"),
    "balance": tr("at the balance point"),
    "stay": tr("stay here"),
    "tiny": tr("tiny"),
    "little": tr("a little"),
    "quarter": tr("a quarter of the bow"),
    "half": tr("half a bow"),
    "much": tr("as much as there is"),
    "growing": tr("growing"),
    "shrinking": tr("shrinking"),
}


class Span(NamedTuple):
    """What a place means on one bow, in fractions of the hair; None leaves it to the planner."""

    start: float | None = None
    end: float | None = None
    low: float | None = None
    high: float | None = None
    length: float | None = None


def is_of_note(word: str) -> bool:
    """Whether a word is said of one note of a bow."""
    return word.endswith(HERE)


def of_bow(word: str | None) -> str | None:
    """A word that is said of a whole bow; None for one that is said of one note of it."""
    return None if word is None or is_of_note(word) else word


def bare(word: str | None) -> str | None:
    """The word without what it is said of."""
    return None if word is None else word.removesuffix(HERE)


def of_note(word: str, *, first: bool) -> str:
    """The word as it is said of one note of a bow; of the `first` one only what the bow could not
    be meant by, and words of bows and series stay what they are."""
    of_bows = word in OF_BOWS or is_of_note(word)
    return word if of_bows or (first and word not in {*AMOUNTS, *REGIONS}) else word + HERE


def is_place(word: str) -> bool:
    """Whether a word says where a stroke lies, not how much bow it takes."""
    word = word.removesuffix(HERE)
    return word in REGIONS or word in STARTS or word == WHOLE or ".." in word or word[:3] == "at "


def check_word(word: str) -> str:
    """The word if it is one of a place or an amount.

    Raises:
        ValueError: it is none.
    """
    bare = word.removesuffix(HERE)
    known = bare in AMOUNTS or word == STAY or bool(_series(word)) or is_place(bare)
    known = known or word in INSIDE
    if not known or len(word) > MOST_WORD:
        raise ValueError(
            say("no such place; there are {list}, and MARK..MARK", list=", ".join(WORDS))
        )
    return word


def words_of(word: str) -> str:
    """A place or amount as a teacher says it."""
    if is_of_note(word):
        return say("{words} on this note", words=words_of(word.removesuffix(HERE)))
    if word in WORDS or word in INSIDE:
        return {**WORDS, **INSIDE}[word]
    series = _series(word)
    if series:
        return say(
            "{kind}, {number} of {count}",
            kind=in_words(series[0]),
            number=series[1],
            count=series[2],
        )
    if ".." in word:
        low, _, high = word.partition("..")
        return say("from {start} to {end}", start=in_words(low.strip()), end=in_words(high.strip()))
    return word


def series_words(kind: str, count: int, *, in_one: bool = False) -> list[str]:
    """The amounts of so many strokes that grow or shrink; `in_one` if all go the same way, so that
    together they have one bow."""
    tail = " in one" if in_one else ""
    return [f"{kind} {k}/{count}{tail}" for k in range(1, count + 1)]


def span_of(place: str | None, amount: str | None, bow: Bow, usable: tuple[float, float]) -> Span:
    """What a place and an amount mean on a bow.

    Args:
        usable: the part of the bow the player uses, as fractions of the hair.

    Raises:
        ChoiceError: there is no such mark, or the player does not come there.
    """
    low, high = usable
    place, amount = bare(place), bare(amount)
    span = Span() if place is None else _placed(place, bow, usable)
    if amount is None or amount in INSIDE:
        return span
    reach = (span.high or high) - (span.low or low)
    return span._replace(length=min(_amount(amount, reach), reach))


def _placed(place: str, bow: Bow, usable: tuple[float, float]) -> Span:
    low, high = usable
    if place == WHOLE:
        return Span(length=high - low)
    if place in REGIONS:
        first, last = REGIONS[place]
        first, last = max(first, low), min(last, high)
        if last - first < LEAST_STROKE:
            raise ChoiceError(say("this player does not use the {place}", place=words_of(place)))
        return Span(low=first, high=last)
    if ".." in place:
        start, _, end = place.partition("..")
        return Span(start=mark_on(start, bow, usable), end=mark_on(end, bow, usable))
    return Span(start=mark_on(place.removeprefix("at "), bow, usable))


def mark_on(name: str, bow: Bow, usable: tuple[float, float]) -> float:
    """A mark of the bow, or one of its ends as far as the player goes.

    Raises:
        ChoiceError: there is no such mark, or the player does not come there.
    """
    low, high = usable
    name = name.strip()
    if name in ("frog", "tip"):
        return low if name == "frog" else high
    own = {mark.name.lower(): mark.at for mark in bow.marks}
    fixed = {"balance": bow.balance, "middle": 0.5}
    at = own.get(name.lower(), fixed.get(name))
    if at is None:
        listing = ", ".join(["frog", "tip", "balance", "middle", *own])
        raise ChoiceError(
            say("this bow has no mark {name!r}", name=name),
            remedy=say("It has {marks}", marks=listing),
        )
    if not low - 1e-6 <= at <= high + 1e-6:
        raise ChoiceError(say("this player does not come to the {name}", name=name))
    return at


def _amount(word: str, reach: float) -> float:
    """How much bow a word asks for, of what there is."""
    series = _series(word)
    if series:
        kind, k, count = series
        rank = k if kind == "growing" else count + 1 - k
        if word.endswith("in one"):
            return rank / (count * (count + 1) / 2) * reach
        return max(LEAST_STROKE, rank / count * reach)
    return AMOUNTS["tiny" if word == STAY else word]


def _series(word: str) -> tuple[str, int, int] | None:
    found = _SERIES.fullmatch(word)
    if found is None:
        return None
    k, count = int(found[2]), int(found[3])
    return (found[1], k, count) if k <= count else None


def command_of(word: str) -> str:
    """The word that was said for a place or amount: "growing" for "growing 2/4"."""
    series = _series(word)
    return series[0] if series else word


def check_command(word: str) -> str:
    """The word if it can be said of a selection: also growing and shrinking.

    Raises:
        ValueError: it is none.
    """
    return word if word in SERIES else check_word(word)


def said(pin: Any, place: str | None, amount: str | None) -> Any:
    """A pin of which a place or an amount is said: what was said of the same before goes, and so
    do cells that would stand against it."""
    changes: dict[str, Any] = {}
    if place is not None:
        changes |= {"place": place, "start_cell": None}
    if amount is not None:
        changes |= {"amount": amount, "length_cells": None}
    if place == WHOLE or (place is not None and ".." in place):
        changes |= {"amount": None, "length_cells": None}
    return replace(pin, **changes)


def inside_of(word: str, strokes_n: int, notes_n: int) -> str:
    """What a word is, said of so many notes in so many bows: growing of several notes in one bow
    is how they share it."""
    return f"{word}-inside" if word in SERIES and strokes_n == 1 < notes_n else word


def for_notes(word: str, notes_n: int, *, from_first: bool) -> list[tuple[str | None, str | None]]:
    """Place and amount of so many notes that are some of one bow; `from_first` if they begin it."""
    words = [of_note(word, first=from_first and k == 0) for k in range(notes_n)]
    return [(own, None) if is_place(own) else (None, own) for own in words]


def for_strokes(
    word: str, count: int, *, in_one: bool = False
) -> Sequence[tuple[str | None, str | None]]:
    """Place and amount of each of so many selected strokes under one word; `in_one` if they go
    the same way."""
    if word in SERIES:
        return [(None, amount) for amount in series_words(word, count, in_one=in_one)]
    if word == STAY:  # the first is where it is, the others stay there
        return [(None, None if k == 0 and count > 1 else STAY) for k in range(count)]
    if word in AMOUNTS or word in INSIDE:
        return [(None, word)] * count
    if word in REGIONS or word == WHOLE:
        return [(word, None)] * count
    return [(word, None)] + [(None, None)] * (count - 1)
