"""Many tunes at once: the files of a folder and the tunes of its books, each seen at a glance."""

from __future__ import annotations

import os
from collections.abc import Iterator, Sequence
from dataclasses import asdict, dataclass
from itertools import count
from pathlib import Path
from typing import Any

from plectrum.core.advice.plan_warning import Severity
from plectrum.core.advice.things import things_of
from plectrum.core.advice.warnings import warnings_of
from plectrum.core.document.document import Document
from plectrum.core.errors import ChoiceError, PlectrumError
from plectrum.core.incoming.files import read_file
from plectrum.core.plain_text import file_name, shown_name
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.score.keys import key_of_part
from plectrum.core.score.metre import beat_unit
from plectrum.core.score.reading.abc_book import tunes_of
from plectrum.core.score.reading.abc_text import decoded
from plectrum.core.wording import NOTE_VALUE, say, tr
from plectrum.core.wording.system import reason_of

READ = (".musicxml", ".xml", ".mxl", ".abc", ".mid", ".midi", ".plectrum")
ALL_TUNES = "all"


@dataclass(frozen=True, slots=True)
class ShelfTune:
    """A tune that can be opened: a file, or one of a book.

    Attributes:
        place: in its book from 1; None for a whole file.
        stem: a name of its own among all, for the file that is written for it.
        title: of a tune in a book; empty for a file, which is not read yet.
        text: the tune of a book; None for a file.
    """

    path: Path
    place: int | None
    stem: str
    title: str = ""
    text: str | None = None

    @property
    def words(self) -> str:
        """What messages call it."""
        name = shown_name(self.path)
        return (
            name if self.place is None else say("{name}, tune {place}", name=name, place=self.place)
        )

    def read(self) -> tuple[bytes, str, str | None]:
        """Its bytes, what to call them, and their format where it is known.

        Raises:
            ScoreError: the file cannot be read.
        """
        if self.text is not None:
            return self.text.encode(), self.words, "abc"
        return read_file(self.path), self.words, None


def tunes_on(paths: Sequence[Path], tune: str | None = None) -> list[ShelfTune]:
    """The tunes of files, of books and of folders (not of folders in them), in their order.

    Args:
        tune: of every book only this one: by number or place; None and "all" for all of them.

    Raises:
        ChoiceError: a folder holds nothing that can be read.
    """
    found: list[ShelfTune] = []
    taken: set[str] = set()
    for path in paths:
        for file in _files_in(path) if os.path.isdir(path) else [path]:
            found += _tunes_of_file(file, tune, taken)
    return found


def _files_in(folder: Path) -> list[Path]:
    try:
        files = sorted(
            p
            for p in folder.iterdir()
            if p.suffix.lower() in READ and not p.name.startswith(".") and p.is_file()
        )
    except OSError as error:
        reason = reason_of(error)
        raise ChoiceError(
            say("the folder cannot be read ({reason})", reason=reason), remedy=tr("Name another")
        ) from error
    if not files:
        raise ChoiceError(
            say("{folder}: there are no scores in this folder", folder=shown_name(folder)),
            remedy=say("It reads {list}", list=", ".join(READ)),
        )
    return files


def _tunes_of_file(path: Path, tune: str | None, taken: set[str]) -> Iterator[ShelfTune]:
    book = _book(path) if path.suffix.lower() == ".abc" else []
    if len(book) < 2:
        yield ShelfTune(path, None, _own_stem(path.stem, taken))
        return
    width = max(len(number) for number, _, _ in book)
    for place, (number, title, text) in enumerate(book, start=1):
        if tune in (None, ALL_TUNES, number, f"#{place}"):
            stem = _own_stem(f"{path.stem} {number:0>{width}} {title}", taken)
            yield ShelfTune(path, place, stem, title, text)


def _book(path: Path) -> list[tuple[str, str, str]]:
    """Number, title and text of the tunes of an ABC file; none where it cannot be read, which is
    said when it is opened."""
    try:
        text = decoded(read_file(path))
    except PlectrumError:
        return []
    return [(t.number, t.title, t.text) for t in tunes_of(text)]


def _own_stem(name: str, taken: set[str]) -> str:
    """The name of a file that none has yet: the same one twice gets a number."""
    stem = kept = file_name(name, "tune")
    for number in count(2):
        if stem.casefold() not in taken:
            break
        stem = f"{kept} ({number})"
    taken.add(stem.casefold())
    return stem


@dataclass(frozen=True, slots=True)
class Glance:
    """One tune of a shelf, planned.

    Attributes:
        tempo: the beat and how fast it goes: "quarter = 96".
        floor_bpm, ceiling_bpm: within which the plan plays; None where it does at no tempo.
        things: what is to be looked at, the gravest first.
        grave_n: how many of them are a problem or call for caution.
        error: why it cannot be planned; then all else is empty.
    """

    title: str
    part: str = ""
    instrument: str = ""
    key: str = ""
    metre: str = ""
    bars_n: int = 0
    tempo: str = ""
    floor_bpm: float | None = None
    ceiling_bpm: float | None = None
    things: tuple[str, ...] = ()
    grave_n: int = 0
    error: str = ""

    def as_dict(self) -> dict[str, Any]:
        return {k: v for k, v in asdict(self).items() if v not in ("", None)}

    @property
    def window(self) -> str:
        """The tempo window in words: "60 to 132"."""
        if self.floor_bpm is None or self.ceiling_bpm is None:
            return ""
        return say(
            "{floor_bpm:.0f} to {ceiling_bpm:.0f}",
            floor_bpm=self.floor_bpm,
            ceiling_bpm=self.ceiling_bpm,
        )


def glance_at(document: Document) -> Glance:
    """A document planned and said in a line."""
    plan = plan_of(document)
    tempo, window = plan.part.tempo, plan.tempo_window
    things = things_of(warnings_of(plan))
    low, high = (None, None) if window is None else (round(window[0], 3), round(window[1], 3))
    metres = {str(bar.metre): None for bar in plan.part.bars}
    return Glance(
        title=document.title,
        part=plan.part.name,
        instrument=document.choices.instrument,
        key=key_of_part(document.score, document.part_id),
        metre=", ".join(metres),
        bars_n=plan.part.bars_n,
        tempo=f"{tr(beat_unit(tempo.beat_q), NOTE_VALUE)} = {tempo.bpm:.0f}",
        floor_bpm=low,
        ceiling_bpm=high,
        things=tuple(thing.text for thing in things),
        grave_n=sum(thing.severity is not Severity.NOTE for thing in things),
    )
