"""The tunes of an ABC text: a book holds many, and none of them is taken silently."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from plectrum.core.errors import ScoreError
from plectrum.core.incoming.numbers import only_whole
from plectrum.core.plain_text import one_line
from plectrum.core.wording import say, several, tr

LISTED_N = 5  # titles in a message
MOST_TUNES = 5000
LONGEST = 80  # letters of a title
_TUNE = re.compile(r"^X:[ \t]*(\d*)", re.MULTILINE)


@dataclass(frozen=True, slots=True)
class BookTune:
    """One tune of a book.

    Attributes:
        number: as it is numbered there, or its place from 1 where it is not.
        title, key: as written; empty where it has none.
        text: the tune with what stands at the head of the book.
    """

    number: str
    title: str
    key: str
    text: str

    @property
    def words(self) -> str:
        """Such as "12. Fog Bell, Dmix"."""
        named = self.title or tr("without a title")
        return f"{self.number}. {named}{f', {self.key}' if self.key else ''}"


class SeveralTunesError(ScoreError):
    """The text holds many tunes, and none was chosen."""

    def __init__(self, tunes: Sequence[BookTune], where: str) -> None:
        first = "; ".join(tune.words for tune in tunes[:LISTED_N])
        more = (
            say("; and {count} more", count=len(tunes) - LISTED_N) if len(tunes) > LISTED_N else ""
        )
        super().__init__(
            say("it holds {count} tunes ({first}{more})", count=len(tunes), first=first, more=more),
            where=where,
            remedy=tr("Choose one: --tune N"),
        )
        self.tunes = tuple(tunes)


def tunes_of(text: str) -> list[BookTune]:
    """The tunes in their order, each from its X: line to the next; at most so many."""
    starts = list(_TUNE.finditer(text))[:MOST_TUNES]
    if not starts:
        return []
    head = text[: starts[0].start()]
    ends = [start.start() for start in starts[1:]] + [len(text)]
    return [
        _tune(head, text[start.start() : end], start[1] or str(place))
        for place, (start, end) in enumerate(zip(starts, ends, strict=True), start=1)
    ]


def _tune(head: str, own: str, number: str) -> BookTune:
    title = re.search(r"^T:(.*)$", own, re.MULTILINE)
    key = re.search(r"^K:[ \t]*([^\s%]*)", own, re.MULTILINE)
    return BookTune(
        number,
        one_line(title[1].strip(), LONGEST) if title else "",
        one_line(key[1], LONGEST) if key else "",
        head + own,
    )


def chosen_tune(text: str, wanted: str | None, where: str) -> str:
    """The one tune of a text, or the one wanted: by its number, or else by its place from 1;
    "#3" is the third, whatever its number.

    Raises:
        SeveralTunesError: there are several, and none is wanted.
        ScoreError: there is none of that number.
    """
    tunes = tunes_of(text)
    if wanted is None:
        if len(tunes) > 1:
            raise SeveralTunesError(tunes, where)
        return text
    numbered = [tune for tune in tunes if tune.number == wanted]
    if numbered:
        return numbered[0].text
    place = only_whole(wanted.removeprefix("#"))
    if place is not None and 1 <= place <= len(tunes):
        return tunes[place - 1].text
    count = several("{n} tune", "{n} tunes", len(tunes))
    raise ScoreError(
        say(
            "there is no tune {wanted!r}; it holds {count}",
            wanted=one_line(wanted, 20),
            count=count,
        ),
        where=where,
    )
