"""What plan and practice files hold, as their JSON is checked and written."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping
from dataclasses import fields
from datetime import date
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, Field

from plectrum.core.document.choices import (
    SLUR_AMOUNT_MOST,
    SLUR_AMOUNT_USUAL,
    Choices,
    Join,
    Kept,
    Pin,
)
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
from plectrum.core.errors import PlanFileError, PlayerError
from plectrum.core.incoming.days import FIRST_DAY, LAST_DAY
from plectrum.core.instrument.specification import MOST_STRINGS, instrument
from plectrum.core.planning.kept_plan import PLANNER
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
from plectrum.core.score.model import Direction
from plectrum.core.wording import say

MOST_ROUTINE = 400_000


MOST_SET = 20_000  # letters of what is set in an exercise, a teacher's own as a whole


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
    planner: Annotated[int, Field(ge=1)] | None = None
    kept: dict[str, _Pin] = Field(default_factory=dict)


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


class SectionRecord(Open):
    key: Annotated[str, Field(min_length=1, max_length=MOST_NAME)]
    first: Annotated[str, Field(max_length=200)]
    last: Annotated[str, Field(max_length=200)]
    name: Annotated[str, Field(max_length=MOST_NAME)] = ""
    figure: bool = False


class SeatRecord(Open):
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
    sections: Annotated[list[SectionRecord], Field(max_length=MOST_SECTIONS)] = Field(
        default_factory=list
    )
    together: bool = False
    seats: dict[Annotated[str, Field(max_length=MOST_NAME)], SeatRecord] = Field(
        default_factory=dict
    )


def section_json(section: OwnSection) -> dict[str, Any]:
    return {
        "key": section.key,
        "first": section.first_id,
        "last": section.last_id,
        "name": section.name,
        "figure": section.figure,
    }


def seat_json(seat: Seat) -> dict[str, Any]:
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


def kept_json(kept: Kept | None) -> dict[str, Any]:
    """The bows that are kept, and which planner decided them."""
    if kept is None:
        return {}
    bows = {note_id: _pin_json(pin) for note_id, pin in sorted(kept.bows.items())}
    return {"planner": kept.planner, "kept": bows}


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
        player_of(model.player, name),
        model.school.school(),
        model.tempo_bpm,
        _pins(model.pins),
        model.slur_amount,
        None if model.bowing is None else model.bowing.bowing(),
    )


def _pins(records: Mapping[str, _Pin]) -> dict[str, Pin]:
    return {
        note_id: Pin(**{f.name: getattr(p, f.name) for f in fields(Pin)})
        for note_id, p in records.items()
    }


def kept_of(model: ChoicesRecord, choices: Choices, settings: Iterable[Choices]) -> Kept | None:
    """What a file has kept, where the planner of today would decide otherwise.

    Args:
        settings: the choices of each part it was planned for, pins apart.
    """
    if not model.kept or model.planner is None or model.planner >= PLANNER:
        return None
    return Kept(model.planner, _pins(model.kept), choices.pins, tuple(settings))


def player_of(fields: dict[str, Any], name: str) -> Player:
    known = {key: fields[key] for key in Player.__dataclass_fields__ if key in fields}
    try:
        return player_from_json(json.dumps(known), say("{name}, player", name=name))
    except PlayerError as error:
        raise PlanFileError(error.what, where=error.where) from error
