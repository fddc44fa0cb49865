"""The plan file `*.plectrum`: a zip of the score and the teacher's choices.

`mimetype` comes first and uncompressed, then `score.musicxml`, the document of record, and
`plan.json`. The version is major.minor: a newer minor version is read and its unknown keys
are kept; a newer major version is refused.
"""

from __future__ import annotations

import io
import json
import os
import zipfile
from collections.abc import Sequence
from dataclasses import fields
from datetime import date
from pathlib import Path
from typing import Annotated, Any, Literal
from urllib.parse import quote_from_bytes, unquote_to_bytes

from pydantic import AfterValidator, BaseModel, Field, ValidationError

from plectrum.core.atomic import write_atomically
from plectrum.core.document.choices import SLUR_AMOUNT_MOST, SLUR_AMOUNT_USUAL, Choices, Join, Pin
from plectrum.core.document.document import Document
from plectrum.core.document.homework import (
    LEAST_MINUTES,
    MOST_DAYS,
    MOST_MINUTES,
    USUAL_DRILLS,
    USUAL_MINUTES,
    USUAL_WEEKDAYS,
    Homework,
    Outcome,
    Result,
    renamed_drills,
)
from plectrum.core.document.places import MOST_WORD, check_word
from plectrum.core.document.seats import Seat
from plectrum.core.document.sections import MOST_NAME, MOST_SECTIONS, OwnSection
from plectrum.core.errors import PlanFileError, PlayerError, ScoreError
from plectrum.core.files.kinds import MIMETYPE
from plectrum.core.incoming.border import border
from plectrum.core.incoming.days import FIRST_DAY, LAST_DAY
from plectrum.core.incoming.files import read_file
from plectrum.core.incoming.json_text import json_value
from plectrum.core.incoming.numbers import only_whole
from plectrum.core.instrument.specification import MOST_STRINGS, instrument
from plectrum.core.plain_text import one_line, shown_name
from plectrum.core.planning.rules import CELLS_N
from plectrum.core.player.player import Player
from plectrum.core.player.player_file import player_from_json
from plectrum.core.player.records import (
    BowingRecord,
    BowRecord,
    InstrumentName,
    Open,
    SchoolRecord,
    bow_as_dict,
    bowing_as_dict,
)
from plectrum.core.score import guards
from plectrum.core.score.model import Direction, Part
from plectrum.core.score.reading.opening import open_score
from plectrum.core.score.scorefile import ScoreFile, read_part
from plectrum.core.wording import say, tr

MAJOR, MINOR = 1, 10
MOST_ROUTINE = 400_000
MOST_SET = 20_000  # letters of what is set in an exercise, a teacher's own as a whole
LEARNT_MINOR = 4  # since when the planner knows what print has taught it
PLANS_MINOR = 10  # since when its plans have not changed
_NOTE = "recovery.json"  # of an unsaved copy: what it is a copy of
_NAMED = ("pins", "variants", "results", "seats")  # keys that hold items by name


_PlaceWord = Annotated[str, Field(max_length=MOST_WORD), AfterValidator(check_word)]


class _Pin(Open):
    direction: Direction | None = None
    join: Join | None = None
    start_cell: Annotated[int, Field(ge=0, le=CELLS_N)] | None = None
    length_cells: Annotated[int, Field(ge=1, le=CELLS_N)] | None = None
    string: Annotated[int, Field(ge=0, lt=MOST_STRINGS)] | None = None
    finger: Annotated[int, Field(ge=0, le=4)] | None = None
    lane: Annotated[int, Field(ge=1, le=5)] | None = None
    place: _PlaceWord | None = None
    amount: _PlaceWord | None = None


class ChoicesRecord(Open):
    instrument: InstrumentName
    bow: BowRecord
    player: dict[str, Any]
    school: SchoolRecord = SchoolRecord()
    tempo_bpm: Annotated[float, Field(ge=10, le=480)] | None = None
    pins: dict[str, _Pin] = Field(default_factory=dict)
    slur_amount: Annotated[int, Field(ge=0, le=SLUR_AMOUNT_MOST)] = SLUR_AMOUNT_USUAL
    bowing: BowingRecord | None = None


_Day = Annotated[date, Field(ge=FIRST_DAY, le=LAST_DAY)]


class _Result(Open):
    mark: Outcome
    on: _Day


_Set = float | Annotated[str, Field(max_length=MOST_SET)]  # what is set in an exercise


class HomeworkRecord(Open):
    letter: Annotated[str, Field(max_length=4000)] = ""
    start: _Day | None = None
    minutes_a_day: Annotated[int, Field(ge=LEAST_MINUTES, le=MOST_MINUTES)] = USUAL_MINUTES
    weekdays: Annotated[list[Annotated[int, Field(ge=0, le=6)]], Field(min_length=1)] = Field(
        default_factory=lambda: sorted(USUAL_WEEKDAYS)
    )
    holidays: list[_Day] = Field(default_factory=list)
    drills: dict[str, dict[str, _Set]] = Field(
        default_factory=lambda: dict[str, dict[str, _Set]]((key, {}) for key in USUAL_DRILLS)
    )
    results: dict[str, _Result] = Field(default_factory=dict)
    stays: dict[str, Annotated[int, Field(ge=1, le=MOST_DAYS)]] = Field(default_factory=dict)
    routine: Annotated[str, Field(max_length=MOST_ROUTINE)] = ""

    def homework(self) -> Homework:
        return Homework(
            self.letter,
            self.start,
            self.minutes_a_day,
            frozenset(self.weekdays),
            frozenset(self.holidays),
            renamed_drills(self.drills),
            {key: Result(r.mark, r.on) for key, r in self.results.items()},
            self.stays,
            self.routine,
        )


class _Section(Open):
    key: Annotated[str, Field(min_length=1, max_length=MOST_NAME)]
    first: Annotated[str, Field(max_length=200)]
    last: Annotated[str, Field(max_length=200)]
    name: Annotated[str, Field(max_length=MOST_NAME)] = ""
    figure: bool = False


class _Seat(Open):
    instrument: InstrumentName
    bow: BowRecord
    player: dict[str, Any]


class PlanFile(ChoicesRecord):
    """The shape of `plan.json`; its JSON Schema ships beside this module."""

    format: Literal["plectrum-document"]
    version: Annotated[str, Field(pattern=r"^\d+\.\d+$")]
    part: str
    variants: dict[Annotated[str, Field(min_length=1, max_length=80)], ChoicesRecord] = Field(
        default_factory=dict
    )
    source_name: str = ""
    homework: HomeworkRecord = Field(default_factory=HomeworkRecord)
    sections: Annotated[list[_Section], Field(max_length=MOST_SECTIONS)] = Field(
        default_factory=list
    )
    together: bool = False
    seats: dict[Annotated[str, Field(max_length=MOST_NAME)], _Seat] = Field(default_factory=dict)


def _plan_json(document: Document) -> dict[str, Any]:
    known = {
        "format": "plectrum-document",
        "version": f"{MAJOR}.{MINOR}",
        "part": document.part_id,
        **choices_json(document.choices),
        "variants": {name: choices_json(c) for name, c in document.variants.items()},
        "source_name": document.score.name,
        "homework": homework_json(document.homework),
        "sections": [_section_json(section) for section in document.sections],
        "together": document.together,
        "seats": {key: _seat_json(seat) for key, seat in sorted(document.seats.items())},
    }
    return _merged(known, document.unknown)


def _section_json(section: OwnSection) -> dict[str, Any]:
    return {
        "key": section.key,
        "first": section.first_id,
        "last": section.last_id,
        "name": section.name,
        "figure": section.figure,
    }


def _seat_json(seat: Seat) -> dict[str, Any]:
    return {
        "instrument": seat.bow.instrument,
        "bow": bow_as_dict(seat.bow),
        "player": seat.player.as_dict(),
    }


def homework_json(homework: Homework) -> dict[str, Any]:
    return {
        "letter": homework.letter,
        "start": homework.start.isoformat() if homework.start is not None else None,
        "minutes_a_day": homework.minutes_a_day,
        "weekdays": sorted(homework.weekdays),
        "holidays": [day.isoformat() for day in sorted(homework.holidays)],
        "drills": {key: dict(values) for key, values in homework.drills.items()},
        "results": {
            key: {"mark": str(r.mark), "on": r.on.isoformat()}
            for key, r in sorted(homework.results.items())
        },
        "stays": dict(sorted(homework.stays.items())),
        "routine": homework.routine,
    }


def choices_json(choices: Choices) -> dict[str, Any]:
    return {
        "instrument": choices.instrument,
        "bow": bow_as_dict(choices.bow),
        "player": choices.player.as_dict(),
        "school": choices.school.as_dict(),
        "tempo_bpm": choices.tempo_bpm,
        "pins": {note_id: _pin_json(pin) for note_id, pin in sorted(choices.pins.items())},
        "slur_amount": choices.slur_amount,
        "bowing": None if choices.bowing is None else bowing_as_dict(choices.bowing),
    }


def _pin_json(pin: Pin) -> dict[str, Any]:
    fields = {
        "direction": None if pin.direction is None else str(pin.direction),
        "join": None if pin.join is None else str(pin.join),
        "start_cell": pin.start_cell,
        "length_cells": pin.length_cells,
        "string": pin.string,
        "finger": pin.finger,
        "lane": pin.lane,
        "place": pin.place,
        "amount": pin.amount,
    }
    return {name: value for name, value in fields.items() if value is not None}


def _merged(known: dict[str, Any], unknown: Any, inside: str = "") -> dict[str, Any]:
    """Known keys with the unknown ones of a newer version put back where they were; those of
    a pin or variant that is gone go with it."""
    merged = dict(known)
    for key, value in unknown.items():
        if key not in merged:
            if inside not in _NAMED:
                merged[key] = value
        elif isinstance(merged[key], dict) and isinstance(value, dict):
            merged[key] = _merged(merged[key], value, key)
    return merged


def _unknown(model: BaseModel) -> dict[str, Any]:
    """Keys the model does not know, at any depth of nested objects."""
    found = dict(model.__pydantic_extra__ or {})
    for name in type(model).model_fields:
        value = getattr(model, name)
        if name in _NAMED:
            inner = {k: u for k, v in value.items() if (u := _unknown(v))}
        else:
            inner = _unknown(value) if isinstance(value, BaseModel) else {}
        if inner:
            found[name] = inner
    return found


def document_bytes(document: Document) -> bytes:
    """The plan file of a document; the same document always gives the same bytes."""
    return _bytes_of(document)


def recovery_bytes(document: Document, original: Path | None) -> bytes:
    """A plan file that also says where the plan it is a copy of lies."""
    path = "" if original is None else quote_from_bytes(os.fsencode(original))
    note = {"title": document.title, "original": path}
    return _bytes_of(document, (_NOTE, json.dumps(note).encode(), zipfile.ZIP_DEFLATED))


def recovery_note(copy: Path) -> tuple[str, str]:
    """Title and original path of an unsaved copy; the path is empty where there is none.

    Raises:
        PlectrumError: it cannot be read.
    """
    name = shown_name(copy)
    with border(name, PlanFileError):
        archive = guards.open_zip(read_file(copy), name)
        if _NOTE not in archive.namelist():
            return copy.stem, ""
        note = json_value(guards.read_member(archive, _NOTE, name))
        original = os.fsdecode(unquote_to_bytes(str(note["original"])))
        return one_line(str(note["title"])), original


def _bytes_of(document: Document, *more: tuple[str, bytes, int]) -> bytes:
    text = json.dumps(_plan_json(document), indent=1, ensure_ascii=False, sort_keys=True)
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as archive:
        for name, data, method in (
            ("mimetype", MIMETYPE.encode(), zipfile.ZIP_STORED),
            ("score.musicxml", document.score.xml, zipfile.ZIP_DEFLATED),
            ("plan.json", text.encode("utf-8", "replace"), zipfile.ZIP_DEFLATED),
            *more,
        ):
            info = zipfile.ZipInfo(name, (1980, 1, 1, 0, 0, 0))
            info.compress_type = method
            archive.writestr(info, data)
    return buffer.getvalue()


def save_document(document: Document, path: Path) -> None:
    """Write the plan file atomically; the plan saved there before stays beside it as NAME~.

    Raises:
        PlectrumError: it cannot be written there.
    """
    write_atomically(path, document_bytes(document), keep=True)


def document_from_bytes(data: bytes, name: str) -> Document:
    """Read a plan file.

    Raises:
        PlanFileError: damaged, or of a newer major version.
        ScoreError: the score inside cannot be read.
    """
    with border(name, PlanFileError):
        return _read(data, name)


def _read(data: bytes, name: str) -> Document:
    archive = guards.open_zip(data, name)
    text = guards.read_member(archive, "plan.json", name)
    xml = guards.read_member(archive, "score.musicxml", name)
    model = _validated(text, name)
    score = open_score(xml, one_line(model.source_name) or name)
    try:
        part = read_part(score, model.part, model.instrument, empty=True)
    except ScoreError as error:
        raise error.at(name) from error
    choices = choices_of(model, name)
    variants = {key: choices_of(variant, name) for key, variant in model.variants.items()}
    return Document(
        score,
        model.part,
        choices,
        part,
        _unknown(model),
        variants,
        model.homework.homework(),
        kept_before=_is_before(model.version, PLANS_MINOR),
        sections=_sections(model.sections, part),
        together=model.together,
        seats=_seats(model, score, name),
    )


def _seats(model: PlanFile, score: ScoreFile, name: str) -> dict[str, Seat]:
    """Who plays the other parts; seats of parts that the score does not have are left out."""
    known = {info.id for info in score.parts} - {model.part}
    return {
        key: Seat(_player(seat.player, name), seat.bow.bow(seat.instrument))
        for key, seat in model.seats.items()
        if key in known
    }


def _sections(rows: Sequence[_Section], part: Part) -> tuple[OwnSection, ...]:
    """The sections as they are kept; of those that cannot be, each is left out: one that ends
    before it begins, lies over another, or has another's key."""
    places = {note.id: note.index for note in part.notes}
    kept: list[OwnSection] = []
    free = 0
    rows = sorted(rows, key=lambda row: places.get(row.first, -1))
    for row in rows:
        section = OwnSection(row.key, row.first, row.last, one_line(row.name), row.figure)
        if row.first in places and row.last in places:
            first, last = places[row.first], places[row.last]
            over = not row.figure and first < free
            if last < first or over or any(s.key == row.key for s in kept):
                continue
            free = free if row.figure else last + 1
        kept.append(section)
    return tuple(sorted(kept, key=lambda s: (s.figure, places.get(s.first_id, -1))))


def choices_of(model: ChoicesRecord, name: str) -> Choices:
    highest = instrument(model.instrument).strings_n - 1
    for note_id, pin in model.pins.items():
        if pin.string is not None and pin.string > highest:
            raise PlanFileError(
                say(
                    "the plan inside the file cannot be used (pins.{note_id}.string: a "
                    "{instrument} has strings 0 to {highest})",
                    note_id=note_id,
                    instrument=model.instrument,
                    highest=highest,
                ),
                where=name,
            )
    return Choices(
        model.instrument,
        model.bow.bow(model.instrument),
        _player(model.player, name),
        model.school.school(),
        model.tempo_bpm,
        {
            note_id: Pin(**{f.name: getattr(p, f.name) for f in fields(Pin)})
            for note_id, p in model.pins.items()
        },
        model.slur_amount,
        None if model.bowing is None else model.bowing.bowing(),
    )


def _player(fields: dict[str, Any], name: str) -> Player:
    known = {key: fields[key] for key in Player.__dataclass_fields__ if key in fields}
    try:
        return player_from_json(json.dumps(known), say("{name}, player", name=name))
    except PlayerError as error:
        raise PlanFileError(error.what, where=error.where) from error


def _is_before(version: str, minor: int) -> bool:
    """Whether a file was written before a version."""
    major, _, own = version.partition(".")
    before = only_whole(own)
    return major == "1" and before is not None and before < minor


def _learnt_since(raw: Any, version: str) -> None:
    """Up to version 1.3 the school "hook" left it to the planner whether a dotted pair is hooked;
    that is now "usual"."""
    if not isinstance(raw, dict) or not _is_before(version, LEARNT_MINOR):
        return
    variants = raw.get("variants")
    for choices in [raw, *(variants.values() if isinstance(variants, dict) else ())]:
        school = choices.get("school") if isinstance(choices, dict) else None
        if isinstance(school, dict) and school.get("dotted") == "hook":
            school["dotted"] = "usual"


def _validated(text: bytes, name: str) -> PlanFile:
    try:
        raw = json_value(text)
    except ValueError as error:
        raise PlanFileError(
            tr("the plan inside the file is damaged"), where=name, remedy=tr("Open a backup copy")
        ) from error
    version = str(raw.get("version", "")) if isinstance(raw, dict) else ""
    major = version.split(".")[0]
    if (only_whole(major) or 0) > MAJOR:
        shown = one_line(version, 20)
        raise PlanFileError(
            say(
                "the file was made by a newer version of Plectrum (plan version {version})",
                version=shown,
            ),
            where=name,
            remedy=tr("Update Plectrum to open it; nothing was changed"),
        )
    _learnt_since(raw, version)
    try:
        return PlanFile.model_validate(raw)
    except ValidationError as error:
        faults = "; ".join(
            f"{'.'.join(map(str, e['loc'])) or 'plan.json'}: {e['msg']}" for e in error.errors()[:5]
        )
        raise PlanFileError(
            say("the plan inside the file cannot be used ({faults})", faults=one_line(faults, 600)),
            where=name,
        ) from error
