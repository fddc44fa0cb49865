"""The demo's log: invented weeks, moved so that they end yesterday, and the players in them."""

from __future__ import annotations

from dataclasses import fields, replace
from datetime import date, timedelta
from pathlib import Path
from typing import Any

from plectrum.core.files.planfile import document_from_bytes
from plectrum.core.log.exchange import records_from_json
from plectrum.core.log.records import BowOwned, Lesson, PlanGiven, Record, StepDone
from plectrum.core.log.store import LogStore
from plectrum.core.player.records import NamedPlayer
from plectrum.core.player.shelf import PlayerShelf
from plectrum.core.wording import NOTE_VALUE, in_words, say, tr
from plectrum.core.wording.language import chosen


def demo_records(data: bytes, today: date) -> list[Record]:
    """The records of an exported log, in the user's language, the last of their days being
    yesterday.

    Raises:
        LogError: it is not such a log.
    """
    records: list[Any] = list(records_from_json(data, "demo"))
    days = [r.on for r in records if hasattr(r, "on")]
    shift = today - timedelta(days=1) - max(days)
    moved = []
    for record in records:
        dated = {f.name for f in fields(record)} & {"on"}
        moved.append(_in_words(replace(record, on=record.on + shift) if dated else record))
    return moved


def _in_words(record: Any) -> Any:
    """A record whose sentences are in the user's language."""
    if isinstance(record, Lesson):
        return replace(record, note=in_words(record.note), next_note=in_words(record.next_note))
    if isinstance(record, BowOwned):
        return replace(record, name=say("{name}'s bow", name=record.name.removesuffix("'s bow")))
    if isinstance(record, StepDone):
        letter, _, step = record.title.partition(": ")
        word, equals, bpm = step.removeprefix("tempo ").partition(" = ")
        tempo = say("tempo {tempo}", tempo=f"{tr(word, NOTE_VALUE)} = {bpm}") if equals else ""
        return replace(record, title=f"{letter}: {tempo or in_words(step)}")
    return record


def fill_demo(store: LogStore, shelf: PlayerShelf, data: bytes, today: date) -> None:
    """Put the demo's weeks into an empty log, and its players on the shelf.

    Raises:
        PlectrumError: they cannot be written.
    """
    records = demo_records(data, today)
    store.put_all(records)
    for record in records:
        if isinstance(record, PlanGiven):
            choices = document_from_bytes(record.document, "demo").choices
            shelf.save(NamedPlayer(choices.player, choices.bow, choices.school))


def demo_folder(data_folder: Path) -> Path:
    """Where the demo's own log and players are, in each language its own."""
    return data_folder / ("demo" if chosen().key == "en" else f"demo-{chosen().key}")


def open_demo(folder: Path, data: bytes, today: date) -> tuple[LogStore, PlayerShelf]:
    """The demo's log and players, made when first asked for.

    Raises:
        PlectrumError: the folder cannot be written.
    """
    path, shelf = folder / "log.sqlite", PlayerShelf(folder / "players")
    fresh = not path.exists()
    store = LogStore(path)
    if fresh:
        fill_demo(store, shelf, data, today)
    return store, shelf
